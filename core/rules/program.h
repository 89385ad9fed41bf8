// SPDX-License-Identifier: GPL-3.0-or-later
// What is a behaviour program?
//
// One model from which the interpreter, the table, the checks, the drawing and the board code are
// all made. A program is in one state at a time; the state says what the wheels do. Once a pass it
// takes its readings, turns a missing echo into what the declared policy says, and walks through
// the ordered rules: first those that hold in every state, then those of the state it is in.
#pragma once

#include "core/base/extra.h"
#include "core/base/id.h"
#include "core/units/quantity.h"

#include <optional>
#include <string>
#include <string_view>
#include <vector>

namespace badger::rules
{

/// How the board keeps a reading.
enum class NumberType {
    Whole,   ///< cut to a whole number towards zero
    Fraction ///< 32-bit floating point
};

/// What a missing echo counts as.
enum class NoEcho {
    Unset,    ///< not chosen: an error, and no board program is written
    Clear,    ///< farther than everything
    Blocked,  ///< nearer than everything
    HoldLast, ///< the last reading that had an echo
    Stop,     ///< go to the stop state whatever the rules say
    Ignore    ///< skip the rules in this pass, stay in the state
};

/// One distance reading by a ranger.
struct Reading {
    std::string name;                           ///< "ahead", used in rules and in the board program
    std::string instance;                       ///< the ranger on the car, "ranger"
    units::Unit unit = units::Unit::Centimetre; ///< of the number that the rules compare
    NumberType number = NumberType::Whole;
    std::optional<double> air_degC; ///< assumed by the program
    std::optional<double> limit_m;  ///< farther counts as no echo; sets the time-out
    int medianOf = 1;
    NoEcho noEcho = NoEcho::Unset;
    Extra extra{};
    bool operator==(const Reading &) const = default;
};

enum class ValueKind { Distance, Duration, Speed };

/// A named value of the program. Unset means that no board program can be written yet.
struct Value {
    std::string name;    ///< "halt"
    std::string meaning; ///< "stop at this distance"
    ValueKind kind = ValueKind::Distance;
    std::optional<double> si; ///< metres, seconds, or PWM counts
    Extra extra{};
    bool operator==(const Value &) const = default;
};

enum class Compare { Less, LessOrEqual, Greater, GreaterOrEqual };

/// "ahead <= halt".
struct Condition {
    std::string reading;
    Compare compare = Compare::LessOrEqual;
    std::string value;
    Extra extra{};
    bool operator==(const Condition &) const = default;
};

/// "When all conditions hold, go to a state." No condition: always.
struct Rule {
    std::string name; ///< "near"
    std::vector<Condition> when;
    std::string go;       ///< a state
    bool endsPass = true; ///< else-if; false: the next rule is tested as well
    Extra extra{};
    bool operator==(const Rule &) const = default;
};

enum class Wheels { Drive, Brake, Coast };

/// What one wheel does while driving.
struct Wheel {
    int sense = 0;     ///< -1 back, 0 still, +1 forward
    std::string speed; ///< a Speed value where it turns
    Extra extra{};
    bool operator==(const Wheel &) const = default;
};

/// What a pair of wheels does. The wheels count only while driving.
struct Motion {
    Wheels wheels = Wheels::Coast;
    Wheel left;
    Wheel right;
    Extra extra{};
    bool operator==(const Motion &) const = default;
};

enum class WaitKind {
    Blocking, ///< the board does nothing else
    Timed     ///< readings and rules go on; the end is looked at once a pass
};

/// "Stay for this long, then go there."
struct Wait {
    std::string duration; ///< a Duration value
    WaitKind kind = WaitKind::Timed;
    std::string then; ///< a state
    Extra extra{};
    bool operator==(const Wait &) const = default;
};

struct State {
    std::string name; ///< "drives"
    Motion motion;
    std::optional<Wait> wait;
    std::vector<Rule> rules; ///< tested after the program's own; not while a wait runs
    Extra extra{};
    bool operator==(const State &) const = default;
};

struct Prints {
    bool on = false;
    int baud = 9600;
    Extra extra{};
    bool operator==(const Prints &) const = default;
};

struct Program {
    Id<Program> id;
    std::string name;       ///< a label; each program of a workshop has its own
    int version = 1;        ///< of the text below; grows with the first edit after it was written
    int writtenVersion = 0; ///< last version that was written as a board program
    std::vector<Value> values;
    std::vector<Reading> readings;
    std::vector<Rule> everywhere; ///< rules that hold in every state that has no wait
    std::vector<State> states;    ///< the first is where the program starts
    std::string stopState;        ///< where the Stop policy goes
    std::string passWait;         ///< a Duration value: pause at the end of each pass
    WaitKind passWaitKind = WaitKind::Blocking;
    Prints prints;
    Extra extra{};

    const Value *value(std::string_view name) const;
    const Reading *reading(std::string_view name) const;
    const State *state(std::string_view name) const;
    bool operator==(const Program &) const = default;
};

/// Values, policies and units that are not chosen yet, in words: "the value 'halt'". While there
/// is one, nothing can be run or written.
std::vector<Say> unset(const Program &program);

/// References that lead nowhere or cannot be meant: a rule to a missing state, a comparison with a
/// duration, no state at all. The reader refuses such a program; each as a sentence.
std::vector<Say> broken(const Program &program);

/// A program of this shape with nothing chosen: drive, and stand still inside a threshold.
Program haltProgram(const Id<Program> &id, const std::string &name);

/// The motion in words: "drives", "stands (brake)", "turns left".
Say words(const Motion &motion);
const char *symbol(Compare compare); ///< as in program text, "<="
const char *sign(Compare compare);   ///< as people write it, "≤"
const char *word(NoEcho policy);     ///< "clear"

/// What the car does in a state, as a colour and a word on screen.
enum class Act { Go, Stand, Back, Turn };
Act actOf(const Motion &motion);
const char *word(Act act); ///< "go", "stand", "back", "turn"

} // namespace badger::rules
