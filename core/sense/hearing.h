// SPDX-License-Identifier: GPL-3.0-or-later
// How far off its axis does a ranger hear something, and from how far away?
//
// The sonar equation with the directivity of a circular piston. With r half of the sound's way, R
// the reach on a flat board that stands square, and a = 1.3 dB/m in air at 40 kHz, the margin in dB
// is
//
//     m = 20 lg(R/r) + 2 a (R - r) + 20 lg D(out) + 20 lg D(in) - L,   D = |2 J1(x)/x|, x = k
//     sin(angle)
//
// and something is heard where m >= 0. L is what kind of thing answers. All of it is kept as a
// product of amplitudes, 10^(m/20), so that a run needs no logarithm. Source: the sonar equation
// and the far field of a piston (textbook laws); k is set so that a post of 50 mm at 1 m is just
// heard at the half-angle that the maker's sheet states.
#pragma once

#include <array>
#include <optional>

namespace badger::sense
{

/// What the answer of a thing lacks beside that of a flat board, as an amplitude of 0 to 1.
inline constexpr double boardEcho = 1.0;
inline constexpr double clothEcho = 0.1778279410038923;   ///< 15 dB
inline constexpr double foamEcho = 0.1;                   ///< 20 dB
inline constexpr double diffuseEcho = 0.0316227766016838; ///< 30 dB: a rough face, from any side
inline constexpr double edgeRadius_m = 0.001;             ///< an outer edge answers as such a post

/// A round post: 10 lg((radius + r) / radius) less than a board. Both above 0.
double postEcho(double radius_m, double r_m);

class Hearing
{
public:
    /// `reach_m` 0.1 to 20, `halfAngle_rad` 0.02 to 0.6, within which k is found.
    Hearing(double reach_m, double halfAngle_rad);

    double reach_m() const { return m_reach_m; }
    double k() const { return m_k; }
    /// D at a sine of 0 to 1.
    double directivity(double sine) const;
    /// The amplitude over what is just heard, 10^(m/20): heard where it is 1 or more. `r_m` above
    /// 0, cosines of the angles off the axis at which the sound leaves and comes back; behind the
    /// ranger (below 0) nothing is heard.
    double margin(double r_m, double cosOut, double cosIn, double echo) const;
    /// Farther than this nothing is heard, where neither the way out nor the way back is nearer to
    /// the axis than that; times the loudness of a ping that is louder.
    double mostReach_m(double cosOut) const;
    /// The widest angle off the axis at which a thing is heard without a gap, from the axis
    /// outward; empty where it is not heard on the axis.
    std::optional<double> widest_rad(double r_m, double echo) const;
    /// The farthest at which a free edge is heard on the axis.
    double edgeReach_m() const { return m_edgeReach_m; }
    /// The farthest at which a thing of an echo is heard on the axis.
    double farthest_m(double echo) const;

private:
    static constexpr int steps = 2048;
    double m_reach_m;
    double m_k = 0.0;
    double m_edgeReach_m = 0.0;
    std::array<double, steps + 1> m_directivity{}; ///< by sine
    std::array<double, steps + 1> m_mostReach_m{}; ///< by sine
};

} // namespace badger::sense
