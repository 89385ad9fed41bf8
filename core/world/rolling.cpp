// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/world/rolling.h"

#include "core/base/exact_math.h"

#include <algorithm>
#include <cmath>
#include <iterator>
#include <limits>

namespace badger::world
{

namespace
{

constexpr double forGood = std::numeric_limits<double>::infinity();
constexpr double steady_mps = 1e-7;  ///< nearer to its end a rise counts as steady
constexpr double mostTurn_rad = 0.5; ///< of one stretch between quadrature's four places

struct Place {
    double share, weight;
};
/// Gauss and Legendre's two and four places in 0 to 1 (tables of quadrature). Two are enough where
/// neither heading nor speed changes by much: their error is the fourth power of the change, over
/// 4320.
constexpr double little = 0.03;
constexpr Place two[] = {{0.21132486540518713, 0.5}, {0.78867513459481287, 0.5}};
constexpr Place four[] = {{0.06943184420297371, 0.17392742256872693},
                          {0.33000947820757187, 0.32607257743127307},
                          {0.66999052179242813, 0.32607257743127307},
                          {0.93056815579702629, 0.17392742256872693}};

} // namespace

Law Law::still()
{
    return {Kind::Still, 0.0, 0.0, 0.0, 0.0, forGood};
}

Law Law::rise(double from, double to, double tau)
{
    const double gap = std::abs(to - from);
    if (gap <= steady_mps || tau <= 0.0)
        return to == 0.0 ? still() : Law{Kind::Steady, to, to, 0.0, 0.0, forGood};
    // Through a stand it is two laws, so that neither changes its sense.
    if (from != 0.0 && to != 0.0 && (from > 0.0) != (to > 0.0))
        return {Kind::Rise, from, to, tau, 0.0, tau * exact::log(gap / std::abs(to))};
    // Towards a stand it is still at the same speed as one that is let go.
    const double end = to == 0.0 ? still_mps : steady_mps;
    if (gap <= end)
        return still();
    return {Kind::Rise, from, to, tau, 0.0, tau * exact::log(gap / end)};
}

Law Law::decay(double from, double tau)
{
    if (std::abs(from) <= still_mps || tau <= 0.0)
        return still();
    return {Kind::Decay, from, 0.0, tau, 0.0, tau * exact::log(std::abs(from) / still_mps)};
}

Law Law::friction(double from, double brakes)
{
    if (from == 0.0)
        return still();
    return {Kind::Friction, from, 0.0, 0.0, brakes, std::abs(from) / brakes};
}

Law Law::next() const
{
    if (kind == Kind::Rise && to_mps != 0.0 && std::abs(to_mps - from_mps) > 2.0 * steady_mps)
        return rise(0.0, to_mps, tau_s);
    if (kind == Kind::Rise && to_mps != 0.0)
        return {Kind::Steady, to_mps, to_mps, 0.0, 0.0, forGood};
    return still();
}

double Law::fade(double s) const
{
    return kind == Kind::Rise || kind == Kind::Decay ? exact::exp(-s / tau_s) : 1.0;
}

Law Law::after(double s, double fade) const
{
    Law rest = *this;
    if (isSteady())
        return rest;
    rest.from_mps = speed_mps(s, fade);
    rest.lasts_s = lasts_s - s;
    return rest;
}

double Law::speed_mps(double s, double fade) const
{
    switch (kind) {
    case Kind::Still:
        return 0.0;
    case Kind::Steady:
        return from_mps;
    case Kind::Rise:
        return to_mps + (from_mps - to_mps) * fade;
    case Kind::Decay:
        return from_mps * fade;
    case Kind::Friction:
        return from_mps > 0.0 ? std::max(0.0, from_mps - brakes_mps2 * s)
                              : std::min(0.0, from_mps + brakes_mps2 * s);
    }
    return 0.0;
}

double Law::way_m(double s, double fade) const
{
    switch (kind) {
    case Kind::Still:
        return 0.0;
    case Kind::Steady:
        return from_mps * s;
    case Kind::Rise:
        return to_mps * s + (from_mps - to_mps) * tau_s * (1.0 - fade);
    case Kind::Decay:
        return from_mps * tau_s * (1.0 - fade);
    case Kind::Friction:
        return (from_mps + speed_mps(s, fade)) / 2.0 * s;
    }
    return 0.0;
}

Fades fades(const Law &left, const Law &right, double s)
{
    const double l = left.fade(s);
    const bool alike = left.kind == right.kind && left.tau_s == right.tau_s;
    return {l, alike ? l : right.fade(s)};
}

void roll(arena::Pose &pose, const Law &left, const Law &right, double track, double s,
          const Fades &after)
{
    using Kind = Law::Kind;
    const double l = left.way_m(s, after.left);
    const double r = right.way_m(s, after.right);
    const double turn = (r - l) / track;
    const double way = (l + r) / 2.0;
    if (turn == 0.0) {
        pose.at = pose.at + way * pose.looks;
        return;
    }
    const auto end = exact::sineCosine(turn);
    arena::Vec moved;
    if (left.isSteady() && right.isSteady() && std::abs(turn) > 1e-6) {
        moved = {way / turn * end.sine, way / turn * (1.0 - end.cosine)};
    } else {
        const auto fading = [&](const Law &law) {
            return law.kind == Kind::Rise || law.kind == Kind::Decay ? s / law.tau_s : 0.0;
        };
        const bool few = std::abs(turn) < little && fading(left) < 0.1 && fading(right) < 0.1;
        for (const Place *place = few ? std::begin(two) : std::begin(four),
                         *last = few ? std::end(two) : std::end(four);
             place != last; ++place) {
            const auto &p = *place;
            const double t = p.share * s;
            const auto f = fades(left, right, t);
            const double v = (left.speed_mps(t, f.left) + right.speed_mps(t, f.right)) / 2.0;
            const auto at =
                exact::sineCosine((right.way_m(t, f.right) - left.way_m(t, f.left)) / track);
            moved = moved + (p.weight * s * v) * arena::Vec{at.cosine, at.sine};
        }
    }
    pose.at = pose.at + arena::turned(moved, pose.looks);
    pose.looks = arena::turned(pose.looks, {end.cosine, end.sine});
    // One Newton step keeps it a unit.
    const double off = 1.5 - 0.5 * arena::dot(pose.looks, pose.looks);
    pose.looks = off * pose.looks;
}

double stride_s(const Law &left, const Law &right, double track)
{
    double most = std::min(left.lasts_s, right.lasts_s);
    bool changes = false;
    for (const auto *l : {&left, &right})
        if (l->kind == Law::Kind::Rise || l->kind == Law::Kind::Decay) {
            most = std::min(most, l->tau_s);
            changes = true;
        } else if (l->kind == Law::Kind::Friction) {
            changes = true;
        }
    if (changes)
        if (const double turns = 2.0 * fastest_mps(left, right, 2.0, 1.0) / track; turns > 0.0)
            most = std::min(most, mostTurn_rad / turns);
    return most;
}

double fastest_mps(const Law &left, const Law &right, double track, double reach)
{
    const auto ends = [](const Law &l) {
        return std::pair(std::min(l.from_mps, l.to_mps), std::max(l.from_mps, l.to_mps));
    };
    const auto [leftLow, leftHigh] = ends(left);
    const auto [rightLow, rightHigh] = ends(right);
    const double way = std::max(std::abs(leftLow + rightLow), std::abs(leftHigh + rightHigh)) / 2.0;
    const double turn =
        std::max(std::abs(rightHigh - leftLow), std::abs(leftHigh - rightLow)) / track;
    return way + turn * reach;
}

} // namespace badger::world
