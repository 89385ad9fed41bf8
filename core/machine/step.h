// SPDX-License-Identifier: GPL-3.0-or-later
// Which rule is met next?
//
// A Mind is what a board keeps between its passes. It is made once for a machine; deciding neither
// allocates nor makes text.
#pragma once

#include "core/machine/machine.h"

namespace badger::machine
{

/// A reading as it is kept until its next look.
struct Held {
    double number = 0.0;    ///< after the median and the policy
    bool has = false;       ///< there is a number to compare
    bool heard = false;     ///< the last look had an echo of its own
    double angle_deg = 0.0; ///< of a Scan: the best
    int which = -1;         ///< of a Pick: a sensor
    int lost = 0;           ///< looks in succession without an echo
    /// What the last look that gave no number of its own counts as.
    rules::NoEcho policy = rules::NoEcho::Unset;
    double last = 0.0; ///< the last number that had an echo
    bool hasLast = false;
    int next = 0;                    ///< of a sweep: the angle to be taken
    int kept = 0;                    ///< of the ring below
    std::array<double, 15> recent{}; ///< raw numbers, newest last; infinite for none
};

struct Mind {
    int mode = 0;
    std::vector<Held> held;     ///< by sensor
    std::vector<int> counters;  ///< passes in succession in which a condition held
    std::vector<int> memos;     ///< words
    std::vector<double> servos; ///< where each was sent last, degrees
    std::uint64_t entered_us = 0;
    std::uint16_t random = 1;
};

/// A mind that has looked at nothing yet: the first mode, servos ahead.
Mind freshMind(const Machine &machine);

/// What a look makes of what was heard: the median, the policy and the counts of lost looks are
/// brought up to date. `number` is that of numberOf(); empty: no echo.
void hear(const Machine &machine, Mind &mind, int sensor, std::optional<double> number);

/// The same for one look of a scan, in the order of its angles.
struct ScanLook {
    std::optional<double> number; ///< empty: no echo
    double angle_deg = 0.0;
};
/// The greatest (or least) number of a scan, with its angle; looks that the policy or `beyond`
/// leaves out do not count. A tie is the first's or the last's, as the choice says. Where nothing
/// is left the reading has no number, and counts as lost.
void hearScan(const Machine &machine, Mind &mind, int sensor, const ScanLook *looks, int count);

/// Brings the readings that are made from others up to date.
void derive(const Machine &machine, Mind &mind);

enum class Settled {
    Rules, ///< the rules are to be asked
    Stop,  ///< a reading without echo stops the car
    Skip   ///< a reading without a number skips the pass
};
/// What the policies of the readings that are taken in every pass say.
Settled settle(const Machine &machine, const Mind &mind);

/// One walk through the rules of a pass.
struct Walk {
    int mode = 0; ///< at the beginning of the pass: its rules are walked
    int next = 0; ///< how many were tested
    std::uint64_t now_us = 0;
};

/// Counts, for conditions that have to hold several times, in how many passes in succession they
/// did. Called once a pass, before the walk.
void count(const Machine &machine, Mind &mind, const Walk &walk);

/// The next branch that is met, as its index; -1 at the end. The caller carries it out and, where
/// it does not end the pass, asks again.
int next(const Machine &machine, const Mind &mind, Walk &walk);

/// The wheels of a mode with the readings as they are: proportions applied, held to -255 .. 255.
struct Orders {
    WheelOrder left, right;
    bool clamped = false; ///< the error was beyond the ends of the proportion
    bool operator==(const Orders &) const = default;
};
Orders orders(const Machine &machine, const Mind &mind, const Mode &mode);

/// A draw from 0 to 65535 of a 16-bit shift register (shifts 7, 9, 8: all numbers but 0, once
/// each).
std::uint16_t draw(Mind &mind);

/// How long a wait is, now. A random one draws whole milliseconds between its ends, both included.
std::uint64_t length_us(const Machine &machine, Mind &mind, const Hold &hold);

} // namespace badger::machine
