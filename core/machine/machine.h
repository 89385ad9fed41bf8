// SPDX-License-Identifier: GPL-3.0-or-later
// What is a program once it is lowered for one car?
//
// Names, units and text end here: sensors, modes and rules are indices, times are microseconds, and
// what is compared is a constant as the board keeps it (32-bit floating point, whole numbers cut
// towards zero, 16-bit times that overflow; 64-bit floating point and whole numbers of any size on
// a computer). Whoever wants words asks words.h with these indices.
#pragma once

#include "core/rules/program.h"

#include <array>
#include <cstdint>
#include <map>
#include <vector>

namespace badger::machine
{

/// Entries [first, first + count) of one of a machine's lists.
struct Range {
    int first = 0;
    int count = 0;
    int end() const { return first + count; }
};

/// What the car knows that a program does not say.
struct CarFacts {
    /// Of an analogue sensor, by reading: the distance in metres of each count, as its calibration
    /// gives it; empty where it gives none. 1024 entries.
    std::map<std::string, std::vector<std::optional<double>>> distances;
    /// Of a continuous servo, by instance: the pulse at which it was seen to stand, microseconds.
    std::map<std::string, double> neutral_us;
    /// The board reckons in 64-bit fractions, and its whole numbers do not overflow.
    bool wide = false;
};

/// A reading.
struct Sensor {
    rules::Source source = rules::Source::Ranger;
    bool everyPass = true;
    // Of an echo.
    double unitsPer_us = 0.0;     ///< c / 2 in the reading's unit
    std::uint32_t timeOut_us = 0; ///< after which the board stops waiting
    double limit = 0.0;           ///< the greatest number, as the board compares it
    bool whole = true;
    bool shortTime = false; ///< the time is kept in 16 bits with a sign
    rules::NoEcho policy = rules::NoEcho::Unset;
    /// Numbers beyond these cannot be meant, and have policies of their own.
    std::optional<double> nearest{};
    rules::NoEcho tooNear = rules::NoEcho::Unset;
    std::optional<double> farthest{};
    rules::NoEcho wild = rules::NoEcho::Unset;
    int medianOf = 1;
    // Of a servo.
    int servo = -1; ///< of Machine::servos
    Range angles;   ///< of Machine::angles_deg
    std::uint64_t dwell_us = 0;
    rules::Choice choice;
    Range of; ///< of Machine::members
    // Of a digital sensor: the level at which it counts as seen.
    int seenLevel = 0;
    // Of an analogue one.
    rules::Scale scale = rules::Scale::Raw;
    double light = 0.0;
    double dark = 0.0;
    std::vector<std::optional<double>> byCount; ///< for Scale::Distance, in the reading's unit
    std::uint64_t keyTimeOut_us = 0;            ///< 0: none
};

inline bool isEcho(const Sensor &s)
{
    return s.source == rules::Source::Ranger || s.source == rules::Source::Scan;
}

/// One condition.
struct Ask {
    rules::Test test = rules::Test::Number;
    int sensor = -1; ///< or the memo
    int other = -1;  ///< another sensor, a command, or a word
    rules::Compare compare = rules::Compare::LessOrEqual;
    double constant = 0.0; ///< of Than the tolerance, of Lost the count, of Since microseconds
    int times = 1;         ///< passes in succession
    int counter = -1;      ///< of Mind::counters, where times > 1
};

/// One rule.
struct Branch {
    Range asks;
    bool any = false;
    int go = 0;
    bool endsPass = true;
    bool again = false;
};

struct WheelOrder {
    enum class Kind { Coast, Brake, Turn } kind = Kind::Coast;
    int counts = 0; ///< -255 to 255, negative backwards
    bool operator==(const WheelOrder &) const = default;
};

struct Doing {
    rules::Does does = rules::Does::Look;
    int what = -1; ///< a sensor, a servo, or a memo
    int from = -1; ///< the scan that gives the angle
    int word = -1; ///< of Machine::words
    double angle_deg = 0.0;
    std::uint64_t time_us = 0;
};

struct Hold {
    bool is = false;
    rules::WaitKind kind = rules::WaitKind::Timed;
    rules::Length length = rules::Length::Fixed;
    std::uint64_t time_us = 0; ///< of PerDegree: a degree
    std::uint64_t most_us = 0;
    double angle_deg = 0.0;
    int scan = -1; ///< gives the angle
    int then = 0;
};

/// A state.
struct Mode {
    WheelOrder left, right;
    rules::Follows follows = rules::Follows::Nothing;
    int sensor = -1;
    double middle = 0.0, half = 1.0, gain = 0.0;
    bool highTurnsLeft = false;
    Range doings;
    Hold hold;
    Range branches;
};

/// Of a mode that asks one reading alone: which rule is met up to a number. See Quick.
struct Cut {
    double last = 0.0; ///< the greatest number; infinite: every one beyond the cut before
    int branch = -1;   ///< that is met first; -1: none is
    int next = 0;      ///< where the walk goes on after it
};

/// A mode whose rules all compare numbers of one reading with constants: which one is met first is
/// read off a short list instead of asking each rule. It says the same as the rules do.
struct Quick {
    int sensor = -1; ///< -1: the mode asks more than that
    Range cuts;      ///< of Machine::cuts, rising; the last is infinite
    int unheard = 0; ///< of Machine::cuts: what is met with no number
};

struct Machine {
    std::vector<Sensor> sensors;  ///< as the program's readings
    std::vector<Mode> modes;      ///< as its states
    std::vector<Branch> branches; ///< those that hold everywhere first, then state by state
    Range everywhere;
    std::vector<Ask> asks;
    std::vector<Doing> doings;
    Range start;
    std::vector<double> angles_deg;
    std::vector<int> members;
    std::vector<std::string> servos; ///< instances
    std::vector<std::string> words;  ///< that are remembered or printed
    std::vector<int> memos;          ///< the word each holds at the start
    std::vector<Quick> quick;        ///< by mode
    std::vector<Cut> cuts;
    int counters = 0;
    int stopMode = -1;
    std::uint64_t pause_us = 0;
    rules::WaitKind pauseKind = rules::WaitKind::Blocking;
    bool prints = false;
    int baud = 9600;
    std::uint16_t seed = 1;
    bool small = true; ///< fractions have 32 bits, else 64
    /// What takes time on the way into a mode is worked off from pass to pass.
    bool timedDoings = false;
};

/// A number as the machine's board keeps it.
inline double kept(const Machine &machine, double number)
{
    return machine.small ? double(static_cast<float>(number)) : number;
}

/// The angle at which a servo looks ahead.
inline constexpr double ahead_deg = 90.0;

/// May a program be lowered to run on a car? Fails as lower() does.
Result<void> canRun(const rules::Program &program, const CarFacts &facts);

/// A program for a board. Fails with Malformed or Missing as rules::complete() does, and with
/// Missing where an analogue reading wants a distance that the car's calibration does not give.
Result<Machine> lower(const rules::Program &program, const CarFacts &facts = {});

/// The same as far as it goes, for a program of which something is unset: what lacks a value counts
/// as nought, and a rule that compares with it is left out. `program` is not broken.
Machine lowerAnyway(const rules::Program &program, const CarFacts &facts = {});

/// The reading whose unit a reading's number has, where it is a length: itself, or the first of
/// those it is made from. Null where it is none.
const rules::Reading *lengthOf(const rules::Program &program, const rules::Reading &reading);

/// A value as the board compares it: in the unit of `length` where it is a distance, rounded to
/// four decimals. `value` is set.
double constantOf(const rules::Value &value, const rules::Reading *length, bool wide);

/// What a sensor's echo becomes on the board. Empty: it counts as no echo: none came within the
/// time-out, or the number is 0.
std::optional<double> numberOf(const Machine &machine, const Sensor &sensor, std::uint32_t echo_us);

/// What a count of the converter becomes, 0 to 1023.
std::optional<double> numberOfCount(const Machine &machine, const Sensor &sensor, int count);

} // namespace badger::machine
