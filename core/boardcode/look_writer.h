// SPDX-License-Identifier: GPL-3.0-or-later
// The functions that look, one for each reading, while they are written.
#pragma once

#include "core/boardcode/scope.h"

namespace badger::boardcode
{

using RuleSource = rules::Source;

/// variables.cpp has what the car knows, pings.cpp the looks of rangers, looks.cpp all others.
class Looks
{
public:
    explicit Looks(Scope &scope) : m(scope) {}
    std::vector<Item> items();

private:
    int count() const { return static_cast<int>(m.program.readings.size()); }
    void variables();
    Type servoType(const std::string &servo) const;
    void add(Item item) { m_items.push_back(std::move(item)); }
    std::string unit(int i) const;
    void variablesOf(int i);
    /// Can its look come back without a number?
    bool hears(int i) const;
    bool holdsLast(int i) const; ///< a policy of its asks for the last that was heard
    std::string next(int i) { return m.small("next", m.reading(i).name, {}, "_next"); }
    std::string last(int i) { return m.small("last", m.reading(i).name, "last_"); }
    std::string recent(int i) { return m.small("recent", m.reading(i).name, {}, "_recent"); }
    std::string kept(int i) { return m.small("kept", m.reading(i).name, {}, "_kept"); }
    std::string keyTime(int i) { return m.small("keytime", m.reading(i).name, {}, "_us"); }
    bool printsRaw(int i) const;
    bool usesWhich(int i) const;
    bool timed() const { return m.machine.timedDoings; }
    /// Turns a servo, and waits until it stands; in a text that never blocks it says whether it
    /// does.
    void point(const std::string &servo);
    /// Turns a reading's servo to an angle before a ping.
    Stmt pointed(int i, Expr angle);
    /// A name of a reading's own, or the bare one where all that ping have the same number.
    template <class Number>
    std::string shared(int i, const std::string &kind, const std::string &what, Number number)
    {
        bool same = true;
        for (int k = 0; k < count(); ++k) {
            const auto source = m.reading(k).source;
            if (source == RuleSource::Ranger || source == RuleSource::Scan)
                same &= number(k) == number(i);
        }
        return kind + ":" + (same ? what : m.reading(i).name + " " + what);
    }
    Expr dwell(int i);
    std::string angles(int i);
    /// "const uint32_t echo = echo_us(...)", then the number it becomes.
    Body ping(int i, const std::string &into);
    void look(int i);
    std::string lookName(int i);
    void countLost(int i, Expr heardNothing, Body &body);
    Expr limit(int i);
    /// What lies beyond its bounds; false where it has none.
    Expr isTooNear(int i, const std::string &number);
    Expr isWild(int i, const std::string &number);
    /// What a policy makes of a number.
    Body counting(int i, rules::NoEcho policy, const std::string &number, const char *what);
    void policies(int i, const Expr &nothing, Body &body);
    Expr isNothing(int i, const std::string &number);
    Expr bound(int i, double number, const char *word);
    Body ranger(int i);
    /// Median, what is lost, and what a missing echo counts as.
    void afterHearing(int i, Body &body);
    /// Of the newest few; no echo counts as the farthest. Sorted by putting each in its place.
    void median(int i, Body &body);
    Body scan(int i);
    Body counted(int i, const std::string &list, const std::string &index);
    std::string heardName(int i) { return m.small("heard", m.reading(i).name, {}, "_heard"); }
    Body digital(int i);
    Body analogue(int i);
    std::string distances(int i);
    Body key(int i);
    Body pick(int i);

    Scope &m;
    std::vector<Item> m_items;
};

} // namespace badger::boardcode
