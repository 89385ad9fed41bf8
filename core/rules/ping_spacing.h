// SPDX-License-Identifier: GPL-3.0-or-later
// Which pings of a program follow another too soon?
//
// The pings of a pass leave in the order of its readings, each as soon as the one before was
// answered; then come the pause and the next pass. A ping that leaves before the last echo of an
// older one has died away may take it for its own.
#pragma once

#include "core/rules/check.h"

#include <optional>
#include <vector>

namespace badger::rules
{

/// Two pings that can follow each other in less than the least spacing of the first.
struct PingGap {
    std::string first;  ///< a reading
    std::string second; ///< the reading of the next ping
    double gap_s = 0.0; ///< shortest possible, start to start
    double least_s = 0.0;
    bool sameRanger = true;
    /// A flat wall sends a ping back only along the beam it came in, so a second ranger hears it
    /// only where their beams share a direction: the angle between them is at most the sum of
    /// their half-angles.
    bool beamsMeet = true;
};

struct PingSpacing {
    std::vector<PingGap> inPass;     ///< both in one pass: no pause can part them
    std::optional<PingGap> nextPass; ///< across the pause: the one that lacks most;
                                     ///< beamsMeet where those of any such pair do
    /// The least pause, in whole milliseconds rounded up, with which `nextPass` would be empty.
    /// Set where `nextPass` is.
    std::optional<double> pause_s;
};

/// The pings of a complete program (nothing unset, nothing broken) that come too soon.
///
/// For each reading the next ping of each ranger, its own included, is looked at.
/// The least spacing is sense::leastPingSpacing_s of the first ranger; a line that
/// it still holds is waited for (see passTime). The shortest gap assumes the nearest echo between
/// the two pings, and for a pause that counts from the start of the pass (Timed) time-outs before
/// the first of them. Readings without facts are neither first nor second, but take their time.
PingSpacing pingSpacing(const Program &program, const std::map<std::string, RangerFacts> &rangers);

} // namespace badger::rules
