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

namespace
{

/// The piece of a line that is nearest, of those nearer than a limit; -1: none is.
int nearestPiece(const Track &track, Vec p, double &limit_m)
{
    int piece = -1;
    double limit2 = limit_m * limit_m;
    Keys keys;
    nearBlocks(
        track.lanes.boxes, p, [&] { return limit_m; },
        [&](size_t b) {
            if (!distances2(track.lanes, b, p, limit2, keys))
                return;
            for (size_t i = 0; i < block; ++i)
                if (const int n = track.lanes.order[b * block + i]; n >= 0 && keys[i] < limit2) {
                    limit2 = keys[i];
                    piece = n;
                }
            limit_m = std::sqrt(limit2);
        });
    return piece;
}

void onTrack(const Arena &arena, size_t t, Vec p, double &least, OnTrack &best)
{
    const auto &track = arena.tracks[t];
    const int piece = nearestPiece(track, p, least);
    if (piece < 0)
        return;
    const auto i = static_cast<size_t>(piece);
    const Vec d = track.points[i + 1] - track.points[i];
    const double l = length(d);
    const double along = std::clamp(dot(p - track.points[i], d) / l, 0.0, l);
    const double away = length(p - track.points[i] - (along / l) * d);
    best = {static_cast<int>(t), cross(d, p - track.points[i]) < 0.0 ? -away : away,
            track.before[i] + along};
}

} // namespace

OnTrack onTrack(const Arena &arena, Vec p)
{
    OnTrack best;
    double least = 1e9;
    for (size_t t = 0; t < arena.tracks.size(); ++t)
        onTrack(arena, t, p, least, best);
    return best;
}

OnTrack onTrack(const Arena &arena, int track, Vec p)
{
    OnTrack best;
    double least = 1e9;
    onTrack(arena, static_cast<size_t>(track), p, least, best);
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
        double away = far;
        const int piece = nearestPiece(t, p, away);
        if (piece < 0)
            continue;
        bool over = false; // past the end of a line that is not closed
        if (!t.closed && (piece == 0 || piece + 2 == static_cast<int>(t.points.size()))) {
            const auto i = static_cast<size_t>(piece);
            const Vec d = t.points[i + 1] - t.points[i];
            const double raw = dot(p - t.points[i], d) / dot(d, d);
            over = (piece == 0 && raw < 0.0) ||
                   (piece + 2 == static_cast<int>(t.points.size()) && raw > 1.0);
        }
        // Past its end a line is cut square: the end is one more edge.
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
