// SPDX-License-Identifier: GPL-3.0-or-later
// What does an ultrasonic ranger answer, faults included?
//
// A model is its figures and a state; it knows neither car nor floor. Whoever asks says how far
// away the wall is that would answer, and waits as long as the answer says.
#pragma once

#include "core/base/noise.h"

#include <cstdint>
#include <optional>

namespace badger::sense
{

/// The figures of one ranger. Lengths 0 or more, shares 0 to 1.
struct RangerFigures {
    double cosHalfAngle = 1.0;  ///< of its beam; what lies in the beam is for the caller to say
    double deadZone_m = 0.0;    ///< nearer a reading is wrong, not zero
    double range_m = 0.0;       ///< farther nothing comes back
    double noEchoHold_s = 0.0;  ///< how long the line is held where nothing comes back
    double error_m = 0.0;       ///< greatest steady error; one run's own lies evenly within it
    double noise_m = 0.0;       ///< deviation of one reading
    double lostEchoShare = 0.0; ///< of pings at a wall that should answer
    /// Of all pings: a noise ends the pulse, anywhere from the dead zone to what would have
    /// answered.
    double wildShare = 0.0;
    /// How far a reading inside the dead zone is drawn about one and a half dead zones, of half a
    /// dead zone to each side: 0 where all chance is taken away.
    double deadZoneSpread = 1.0;

    /// The same with all that is drawn taken away.
    RangerFigures withoutChance() const
    {
        auto f = *this;
        f.error_m = f.noise_m = f.lostEchoShare = f.wildShare = f.deadZoneSpread = 0.0;
        return f;
    }
};

/// What one ranger keeps from ping to ping.
struct RangerState {
    double error_m = 0.0;               ///< steady in this run
    std::uint64_t lineBusyUntil_us = 0; ///< it takes no new trigger before
};

/// A state for one run, its steady error drawn from the noise.
RangerState rangerAtStart(const RangerFigures &figures, Noise &noise);

/// What the program on the board measures.
struct RangerAnswer {
    std::uint32_t echo_us = 0; ///< length of the pulse, in steps of 4; 0: none within the time-out
    std::uint64_t waited_us = 0; ///< for as long as the board did nothing else
    bool wild = false;           ///< a noise ended the pulse
    bool triggered = true; ///< false: the line was still held, what is left of it was measured
};

/// One trigger at `now_us`, with `wall_m` the true distance of the wall that would answer (empty:
/// none does) and `sound_mps` above 0.
///
/// Inside the dead zone the reading lies evenly between one and two dead zones (deadZoneSpread 1). Otherwise it is
/// the true distance with the run's error and noise of this ping. A lost echo and one beyond the
/// range hold the line for the figure's hold, and a time-out that is longer measures that: a huge
/// reading. A time-out that ends before the echo hears none.
/// While the line is held no new ping leaves, and no noise is drawn.
RangerAnswer ping(const RangerFigures &figures, RangerState &state, std::uint64_t now_us,
                  std::optional<double> wall_m, std::uint32_t timeOut_us, double sound_mps,
                  Noise &noise);

/// Would ping() send one now, or measure what is left of an older hold?
inline bool isHeld(const RangerState &state, std::uint64_t now_us)
{
    return now_us < state.lineBusyUntil_us;
}

} // namespace badger::sense
