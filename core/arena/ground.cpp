// SPDX-License-Identifier: GPL-3.0-or-later
// What lies under a spot: lines, patches, a table's edge.
#include "core/arena/arena.h"
#include "core/sense/spot.h"

#include <algorithm>

namespace badger::arena
{

bool isOnTable(const Arena &arena, Vec p)
{
    if (arena.edge.empty())
        return true;
    bool inside = false; // a ray to the right meets the edge an odd number of times
    for (const auto &s : arena.edge)
        if ((s.a.y > p.y) != (s.b.y > p.y) &&
            p.x < s.a.x + (p.y - s.a.y) / (s.b.y - s.a.y) * (s.b.x - s.a.x))
            inside = !inside;
    return inside;
}

double toEdge_m(const Arena &arena, Vec p)
{
    double least = 1e9;
    for (const auto &s : arena.edge) {
        const double along = std::clamp(dot(p - s.a, s.along), 0.0, s.length);
        least = std::min(least, length(p - s.a - along * s.along));
    }
    return least;
}

OnTrack onTrack(const Arena &arena, Vec p)
{
    OnTrack best;
    double least = 1e9;
    for (size_t t = 0; t < arena.tracks.size(); ++t) {
        const auto &points = arena.tracks[t].points;
        double before_m = 0.0;
        for (size_t i = 0; i + 1 < points.size(); ++i) {
            const Vec d = points[i + 1] - points[i];
            const double l = length(d);
            const double along = std::clamp(dot(p - points[i], d) / l, 0.0, l);
            const double away = length(p - points[i] - (along / l) * d);
            if (away < least) {
                least = away;
                best = {static_cast<int>(t), cross(d, p - points[i]) < 0.0 ? -away : away,
                        before_m + along};
            }
            before_m += l;
        }
    }
    return best;
}

Ground groundAt(const Arena &arena, Vec p, double diameter_m)
{
    Ground g{arena.albedo, arena.ambient, 0.0, true};
    for (const auto &patch : arena.patches)
        if (p.x >= patch.low.x && p.x <= patch.high.x && p.y >= patch.low.y &&
            p.y <= patch.high.y) {
            g.albedo = patch.albedo >= 0.0 ? patch.albedo : g.albedo;
            g.ambient = patch.ambient >= 0.0 ? patch.ambient : g.ambient;
        }
    const double r = diameter_m / 2.0;
    for (const auto &t : arena.tracks) {
        const double far = t.width / 2.0 + r;
        if (p.x < t.low.x - far || p.x > t.high.x + far || p.y < t.low.y - far ||
            p.y > t.high.y + far)
            continue;
        double least2 = far * far;
        bool over = false; // past the end of a line that is not closed
        for (size_t i = 0; i + 1 < t.points.size(); ++i) {
            const Vec d = t.points[i + 1] - t.points[i];
            const double raw = dot(p - t.points[i], d) / dot(d, d);
            const double share = std::clamp(raw, 0.0, 1.0);
            const Vec off = p - t.points[i] - share * d;
            if (const double d2 = dot(off, off); d2 < least2) {
                least2 = d2;
                over =
                    !t.closed && ((i == 0 && raw < 0.0) || (i + 2 == t.points.size() && raw > 1.0));
            }
        }
        if (least2 >= far * far)
            continue;
        // Past its end a line is cut square: the end is one more edge.
        const double away = std::sqrt(least2);
        const double share = over ? 0.5 - std::min(0.5, away / diameter_m)
                                  : sense::coveredByLine(away, t.width, diameter_m);
        if (share > g.line) {
            g.line = share;
            g.albedo += share * (t.albedo - g.albedo);
        }
    }
    if (!arena.edge.empty()) {
        const double away = toEdge_m(arena, p);
        g.table = isOnTable(arena, p);
        const double off = sense::coveredByEdge((g.table ? -away : away) / r);
        g.albedo *= 1.0 - off;
    }
    return g;
}

} // namespace badger::arena
