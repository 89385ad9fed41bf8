// SPDX-License-Identifier: GPL-3.0-or-later
// A program text while it is made: its names, and which of them it turned out to need.
#pragma once

#include "core/boardcode/names.h"
#include "core/boardcode/writer.h"

#include <cmath>
#include <map>
#include <set>

namespace badger::boardcode
{

/// The greatest number that a 16-bit whole number of the board keeps.
inline constexpr double mostWhole = 32767.0;

inline bool isWhole(double x)
{
    return x == std::trunc(x);
}

/// What all parts of one text share. Constants and lists are collected as they are asked for.
class Scope
{
public:
    explicit Scope(const Source &from);

    const rules::Program &program;
    const machine::Machine &machine;
    const Wires &wires;
    std::string banner;

    const rules::Reading &reading(int sensor) const
    {
        return program.readings[static_cast<size_t>(sensor)];
    }
    const machine::Sensor &sensor(int index) const
    {
        return machine.sensors[static_cast<size_t>(index)];
    }
    int sensorOf(const std::string &reading) const;
    /// Is one reading the other, or made from it, by way of others or at once?
    bool restsOn(int made, int sensor) const;

    /// "ahead", "ahead_lost": a name made from a thing's, and no other thing's.
    std::string small(const std::string &kind, const std::string &from,
                      const std::string &before = {}, const std::string &after = {});
    std::string capital(const std::string &kind, const std::string &from,
                        const std::string &after = {});
    std::string state(int mode);
    std::string word(int word); ///< what is remembered
    std::string memo(const std::string &memo) { return small("memo", memo, "last_"); }

    // Readings as expressions.
    std::string variable(int sensor); ///< "ahead"
    Expr value(int sensor);
    Type type(int sensor) const; ///< Whole, Long or Real
    /// What the variable holds where there is no number: NO_ECHO, of a count NO_READING, and
    /// NOT_HEARD where what is too near or too far has a policy of its own.
    Expr none(int sensor) const;
    bool isBounded(int sensor) const;
    /// Whether the newest look without a number stops the car, once it is known that it has none;
    /// true or false where that does not depend on what was heard.
    Expr stops(int sensor);
    std::string stopsName(int sensor) { return small("stops", reading(sensor).name, {}, "_stops"); }
    /// Whether there is a number to compare; true where there always is one.
    Expr has(int sensor);
    /// `sensor` has no number of its own kind for "none": a truth beside it says so.
    bool needsFound(int sensor) const;
    std::string found(int sensor) { return small("found", reading(sensor).name, {}, "_found"); }
    std::string angle(int sensor) { return small("angle", reading(sensor).name, {}, "_angle"); }
    std::string which(int sensor) { return small("which", reading(sensor).name, {}, "_which"); }
    std::string lost(int sensor) { return small("lost", reading(sensor).name, {}, "_lost"); }
    bool anglesAreWhole(int sensor) const;

    // Constants, in the text once they were asked for.
    /// A value as it is compared with a reading; with none as a bare number.
    Expr compared(const std::string &value, int sensor);
    Expr micro(const std::string &value); ///< of a Duration or PerDegree
    Expr number(const std::string &value);
    std::string speed(const std::string &value);
    /// A number of the program's own, with a comment: named once.
    Expr constant(Type type, const std::string &name, double value, const std::string &comment,
                  const std::vector<std::string> &tags = {});
    void list(Item list) { lists.push_back(std::move(list)); }

    /// By readings: Lost conditions that count to so many at most.
    std::map<int, int> lostMost;
    bool asksSince = false;

    std::vector<Item> lists;
    /// The constants that were asked for, in the program's order.
    std::vector<Item> constants() const;

    Names names;

private:
    void count(const std::vector<rules::Rule> &all);
    void countLost(int sensor, int most);
    void findUnknown();
    bool alwaysLooked(int sensor) const;
    bool steersFirst(int sensor) const; ///< before the first pass
    bool hasAlways(int sensor) const;   ///< a number, whenever a rule may ask

    std::map<std::string, Item> m_constants; ///< by name
    std::vector<std::string> m_order;
    std::set<int> m_unlooked; ///< a rule may ask for it before its first look
};

/// The text of one sensor's look, and the expressions and statements that others need of it.
std::vector<Item> lookItems(Scope &scope);
Body lookAt(Scope &scope, int sensor); ///< the call, and what follows from it
/// decide() and what it calls; not there where no rule can be met.
std::vector<Item> ruleItems(Scope &scope);
/// The wheels, the states and their actions.
std::vector<Item> wheelItems(Scope &scope);
std::vector<Item> stateItems(Scope &scope);
/// Waits, start and pass.
std::vector<Item> passItems(Scope &scope);
/// Actions, in order.
Body actions(Scope &scope, const std::vector<rules::Action> &all, const machine::Range &range);
bool hasRules(const Scope &scope);
/// Does what a state does on its way in take time, in a text that never blocks?
bool isSlow(const Scope &scope, size_t state);
bool hasSlow(const Scope &scope);
/// A reading's look may come back without having looked: its servo is on the way.
bool mayWait(const Scope &scope, int sensor);
bool asksStop(Scope &scope); ///< a look of an action may stop the car
Item function(Type type, std::string name, Body body, std::string comment = {});
Item variableItem(Type type, std::string name, Expr first, std::string comment = {});
Item gap();

} // namespace badger::boardcode
