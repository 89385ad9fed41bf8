// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/sense/hearing.h"

#include "core/base/exact_math.h"

#include <algorithm>
#include <cassert>
#include <cmath>

namespace badger::sense
{

namespace
{

/// Amplitude a metre, there and back: 2 * 1.3 dB, as a natural exponent.
constexpr double air_perM = 2.0 * 1.3 / 20.0 * 2.30258509299404568402;

/// |2 J1(x) / x| by its power series: sum of (-x²/4)^n / (n! (n+1)!). x up to 30.
double piston(double x)
{
    const double q = -x * x / 4.0;
    double term = 1.0;
    double sum = 1.0;
    for (int n = 1; n < 60; ++n) {
        term *= q / (n * (n + 1.0));
        sum += term;
    }
    return std::fabs(sum);
}

} // namespace

double postEcho(double radius_m, double r_m)
{
    return std::sqrt(radius_m / (radius_m + r_m));
}

Hearing::Hearing(double reach_m, double halfAngle_rad) : m_reach_m(reach_m)
{
    assert(reach_m > 0.0 && halfAngle_rad > 0.0);
    // D that a post of 50 mm at 1 m needs at the half-angle; x rises and D falls up to its first
    // zero.
    const double onAxis = reach_m * exact::exp(air_perM * (reach_m - 1.0)) * postEcho(0.025, 1.0);
    const double needed = std::clamp(std::sqrt(1.0 / std::max(onAxis, 1.0)), 0.05, 0.999);
    double low = 0.0;
    double high = 3.8; // just short of the first zero, 3.8317
    for (int i = 0; i < 80; ++i) {
        const double x = (low + high) / 2.0;
        (piston(x) > needed ? low : high) = x;
    }
    m_k = low / exact::sineCosine(halfAngle_rad).sine;
    for (int i = 0; i <= steps; ++i)
        m_directivity[static_cast<size_t>(i)] = piston(std::min(30.0, m_k * i / steps));
    double beyond = 0.0; // the greatest D at that sine or farther out
    for (size_t i = steps + 1; i-- > 0;) {
        beyond = std::max(beyond, m_directivity[i]);
        double heard = 0.0;
        double silent = reach_m;
        for (int n = 0; n < 12; ++n) { // to a millimetre
            const double r = (heard + silent) / 2.0;
            const double most =
                reach_m / r * exact::exp(air_perM * (reach_m - r)) * beyond * beyond;
            (most >= 1.0 ? heard : silent) = r;
        }
        m_mostReach_m[i] = silent;
    }
    double near = 0.001;
    double far = reach_m;
    for (int i = 0; i < 50; ++i) {
        const double r = (near + far) / 2.0;
        (margin(r, 1.0, 1.0, postEcho(edgeRadius_m, r)) >= 1.0 ? near : far) = r;
    }
    m_edgeReach_m = far;
}

double Hearing::directivity(double sine) const
{
    const double at = sine * steps;
    const int i = std::min(static_cast<int>(at), steps - 1);
    const double share = at - i;
    const auto n = static_cast<size_t>(i);
    return m_directivity[n] + share * (m_directivity[n + 1] - m_directivity[n]);
}

double Hearing::margin(double r_m, double cosOut, double cosIn, double echo) const
{
    if (cosOut <= 0.0 || cosIn <= 0.0)
        return 0.0;
    const double out = directivity(std::sqrt(std::max(0.0, 1.0 - cosOut * cosOut)));
    const double in =
        cosIn == cosOut ? out : directivity(std::sqrt(std::max(0.0, 1.0 - cosIn * cosIn)));
    return m_reach_m / r_m * exact::exp(air_perM * (m_reach_m - r_m)) * out * in * echo;
}

double Hearing::mostReach_m(double cosOut) const
{
    const double sine = cosOut >= 1.0 ? 0.0 : std::sqrt(1.0 - cosOut * cosOut);
    return m_mostReach_m[static_cast<size_t>(sine * steps)];
}

std::optional<double> Hearing::widest_rad(double r_m, double echo) const
{
    if (margin(r_m, 1.0, 1.0, echo) < 1.0)
        return std::nullopt;
    constexpr double step_rad = 0.001;
    double angle = 0.0;
    while (angle < 1.5) {
        const double c = exact::sineCosine(angle + step_rad).cosine;
        if (margin(r_m, c, c, echo) < 1.0)
            break;
        angle += step_rad;
    }
    return angle;
}

double Hearing::farthest_m(double echo) const
{
    double low = 0.001;
    double high = m_reach_m;
    for (int i = 0; i < 50; ++i) {
        const double r = (low + high) / 2.0;
        (margin(r, 1.0, 1.0, echo) >= 1.0 ? low : high) = r;
    }
    return high;
}

} // namespace badger::sense
