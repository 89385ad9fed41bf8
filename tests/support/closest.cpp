// SPDX-License-Identifier: GPL-3.0-or-later
#include "support/closest.h"

#include <algorithm>
#include <cmath>

namespace badger::test
{

using arena::Vec;

namespace
{

/// Of a place to a stretch from a to b, and the nearest place of that.
double toStretch(Vec p, Vec a, Vec b, Vec *foot)
{
    const Vec d = b - a;
    const double s = std::clamp(arena::dot(p - a, d) / arena::dot(d, d), 0.0, 1.0);
    *foot = a + s * d;
    return std::hypot(p.x - foot->x, p.y - foot->y);
}
bool cross(Vec a, Vec b, Vec c, Vec d)
{
    const auto side = [](Vec p, Vec q, Vec r) { return arena::cross(q - p, r - p); };
    return side(a, b, c) * side(a, b, d) < 0.0 && side(c, d, a) * side(c, d, b) < 0.0;
}
bool holds(const std::vector<Vec> &corners, Vec p)
{
    bool inside = true;
    for (size_t i = 0; i < corners.size(); ++i)
        inside = inside && arena::cross(corners[(i + 1) % corners.size()] - corners[i],
                                        p - corners[i]) >= 0.0;
    return inside;
}
} // namespace

Close closest(const world::Plan &plan, Vec at, double heading, double time_s)
{
    const double cosine = std::cos(heading), sine = std::sin(heading);
    std::vector<Vec> corners;
    for (const auto &c : plan.on->model().outline.corners)
        corners.push_back(at + Vec{c.x * cosine - c.y * sine, c.x * sine + c.y * cosine});
    Close best;
    const auto take = [&](double away_m, int thing, Vec place) {
        if (away_m >= best.away_m)
            return;
        const Vec d = place - at;
        best = {away_m, thing, {d.x * cosine + d.y * sine, d.y * cosine - d.x * sine}, place};
    };
    const auto stretch = [&](Vec a, Vec b, int thing) {
        for (size_t i = 0; i < corners.size(); ++i) {
            const Vec p = corners[i], q = corners[(i + 1) % corners.size()];
            Vec foot;
            const double toWall = toStretch(p, a, b, &foot);
            if (cross(p, q, a, b))
                take(0.0, thing, foot);
            take(toWall, thing, p);
            for (const Vec e : {a, b}) {
                const double toSide = toStretch(e, p, q, &foot);
                take(toSide, thing, foot);
            }
        }
        if (holds(corners, a) || holds(corners, b))
            take(0.0, thing, a);
    };
    for (const auto &s : plan.arena.segments)
        stretch(s.a, s.b, s.thing);
    for (const auto &m : plan.arena.movers)
        if (arena::Segment face; arena::at(m, time_s, face))
            stretch(face.a, face.b, face.thing);
    for (const auto &r : plan.arena.rounds) {
        for (size_t i = 0; i < corners.size(); ++i) {
            Vec foot;
            const double d = toStretch(r.at, corners[i], corners[(i + 1) % corners.size()], &foot);
            take(std::max(0.0, d - r.radius), r.thing, foot);
        }
        if (holds(corners, r.at))
            take(0.0, r.thing, r.at);
    }
    return best;
}

} // namespace badger::test
