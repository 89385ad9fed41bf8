// SPDX-License-Identifier: GPL-3.0-or-later
// Where has a car rolled after some time, with each wheel on a law of its own?
//
// A wheel that is told to turn nears its steady speed by a first-order rise; one that is let go or
// braked slows down by its roll-out's law; one that has come to rest stands. Speeds, ways and the
// heading are closed forms of the time. So is the place while both wheels are steady (a straight,
// an arc); in between it is the integral of speed times direction, by Gauss and Legendre's four
// places, over stretches so short that its error stays below a micrometre in ten seconds.
#pragma once

#include "core/arena/arena.h"

namespace badger::world
{

/// Slower than this a wheel that is let go or braked counts as still.
inline constexpr double still_mps = 0.001;

/// The law of one wheel since a moment at which its speed was `from_mps`.
struct Law {
    enum class Kind { Still, Steady, Rise, Decay, Friction } kind = Kind::Still;
    double from_mps = 0.0;
    double to_mps = 0.0;      ///< of Rise
    double tau_s = 0.0;       ///< of Rise and Decay
    double brakes_mps2 = 0.0; ///< of Friction, above 0
    /// How long it holds: then it is steady, or still. Infinite where it holds for good.
    double lasts_s = 0.0;

    static Law still();
    /// Towards `to_mps`, which is reached, to 0.1 um/s, after so long; of the other sense: until it
    /// stands, and next() goes on from there.
    static Law rise(double from_mps, double to_mps, double tau_s);
    static Law decay(double from_mps, double tau_s);
    static Law friction(double from_mps, double brakes_mps2);
    /// Does its speed not change?
    bool isSteady() const { return kind == Kind::Still || kind == Kind::Steady; }
    /// What follows when it has lasted.
    Law next() const;
    /// What of a speed that fades is left after `s` seconds, e^(-s/tau); 1 of one that does not.
    double fade(double s) const;
    double speed_mps(double s, double fade) const;
    double way_m(double s, double fade) const;
    double speed_mps(double s) const { return speed_mps(s, fade(s)); }
    double way_m(double s) const { return way_m(s, fade(s)); }
    /// The rest of it after `s` seconds, which are not more than it lasts.
    Law after(double s, double fade) const;
    Law after(double s) const { return after(s, fade(s)); }
};

/// What is left of both wheels' speeds; computed once where they fade alike.
struct Fades {
    double left = 1.0, right = 1.0;
};
Fades fades(const Law &left, const Law &right, double s);

/// Both wheels roll for `s` seconds, not more than either law lasts nor stride_s() gives.
/// `track_m` above 0.
void roll(arena::Pose &pose, const Law &left, const Law &right, double track_m, double s,
          const Fades &end);
inline void roll(arena::Pose &pose, const Law &left, const Law &right, double track_m, double s)
{
    roll(pose, left, right, track_m, s, fades(left, right, s));
}

/// For how long one stretch of roll() may be.
double stride_s(const Law &left, const Law &right, double track_m);

/// The greatest speed of any point within `reach_m` of the axle's middle while both laws hold.
double fastest_mps(const Law &left, const Law &right, double track_m, double reach_m);

} // namespace badger::world
