// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/arena/arena.h"

#include "core/sense/hearing.h"

#include <algorithm>
#include <limits>

namespace badger::arena
{

namespace
{

constexpr double joins_m = 0.001;   ///< ends that are nearer than this meet
constexpr double straight = -0.985; ///< cosine of 170 degrees: no corner to speak of
constexpr double rightAngle = 0.05; ///< cosine within which a corner is square
constexpr double gap_m = 0.06;      ///< of a line that still leads round
constexpr size_t mostPieces = 20000;

Vec vec(const floor::Point &p)
{
    return {p.x_m, p.y_m};
}

double echoOf(floor::Face face)
{
    return face == floor::Face::Cloth  ? sense::clothEcho
           : face == floor::Face::Foam ? sense::foamEcho
                                       : sense::boardEcho;
}

bool isNumber(Vec v)
{
    return std::abs(v.x) <= 1000.0 && std::abs(v.y) <= 1000.0;
}

tl::unexpected<Error> bad(const floor::Floor &floor, const std::string &name, Say what)
{
    return fail(Error::Kind::OutOfRange, say("floor '{}', {}", floor.name, name), std::move(what),
                say("mend it or take it out"));
}

class Compiler
{
public:
    explicit Compiler(const floor::Floor &floor) : m_floor(floor) {}

    Result<Arena> arena()
    {
        const auto &f = m_floor;
        if (!(f.width_m >= 0.1 && f.width_m <= 100.0 && f.depth_m >= 0.1 && f.depth_m <= 100.0))
            return bad(f, "plan", say("its sides are outside 0.1 m to 100 m"));
        m_to.size = {f.width_m, f.depth_m};
        m_to.albedo = f.albedo;
        m_to.ambient = f.ambient;
        m_to.rough = f.rough;
        m_to.air_degC = f.air_degC;
        for (const auto &w : f.walls)
            if (auto ok = wall(w); !ok)
                return tl::unexpected(ok.error());
        for (const auto &p : f.posts) {
            if (!isNumber(vec(p.at)) || !(p.radius_m >= 0.001 && p.radius_m <= 2.0))
                return bad(f, p.name, say("a post's radius is 1 mm to 2 m"));
            m_to.rounds.push_back({vec(p.at), p.radius_m, thing(p.name)});
        }
        for (const auto &m : f.movers)
            if (auto ok = mover(m); !ok)
                return tl::unexpected(ok.error());
        for (const auto &l : f.lines)
            if (auto ok = line(l); !ok)
                return tl::unexpected(ok.error());
        for (const auto &p : f.patches)
            m_to.patches.push_back(
                {{std::min(p.from.x_m, p.to.x_m), std::min(p.from.y_m, p.to.y_m)},
                 {std::max(p.from.x_m, p.to.x_m), std::max(p.from.y_m, p.to.y_m)},
                 p.albedo.value_or(-1.0),
                 p.ambient.value_or(-1.0)});
        if (auto ok = edge(); !ok)
            return tl::unexpected(ok.error());
        if (m_to.segments.size() + m_to.rounds.size() > mostPieces)
            return bad(f, "walls", say("there are more than {} pieces", mostPieces));
        findEnds();
        layLanes();
        return std::move(m_to);
    }

private:
    int thing(const std::string &name)
    {
        m_to.names.push_back(name);
        return static_cast<int>(m_to.names.size()) - 1;
    }

    Result<Segment> segment(const std::string &name, Vec a, Vec b)
    {
        const double l = length(b - a);
        if (!isNumber(a) || !isNumber(b) || !(l >= 1e-4))
            return bad(m_floor, name, say("it has no length"));
        return Segment{a, b, (1.0 / l) * (b - a), l, 0, 1.0, false};
    }

    Result<void> wall(const floor::Wall &w)
    {
        auto s = segment(w.name, vec(w.from), vec(w.to));
        if (!s)
            return tl::unexpected(s.error());
        s->thing = thing(w.name);
        s->echo = echoOf(w.face);
        s->rough = w.face == floor::Face::Rough;
        m_to.segments.push_back(*s);
        return {};
    }

    Result<void> mover(const floor::Mover &m)
    {
        auto s = segment(m.name, vec(m.from), vec(m.to));
        if (!s)
            return tl::unexpected(s.error());
        if (!(m.ends_s >= m.begins_s))
            return bad(m_floor, m.name, say("it stops moving before it begins"));
        s->thing = thing(m.name);
        m_to.movers.push_back({*s,
                               {m.east_mps, m.north_mps},
                               m.begins_s,
                               m.ends_s,
                               m.vanishes_s.value_or(std::numeric_limits<double>::infinity())});
        return {};
    }

    Result<void> line(const floor::Line &l)
    {
        Track t;
        for (const auto &p : l.points)
            if (t.points.empty() || length(vec(p) - t.points.back()) > 1e-6)
                t.points.push_back(vec(p));
        if (l.closed && t.points.size() > 2 && length(t.points.front() - t.points.back()) > 1e-6)
            t.points.push_back(t.points.front());
        if (t.points.size() < 2 || !(l.width_m > 0.0) ||
            !std::all_of(t.points.begin(), t.points.end(), isNumber))
            return bad(m_floor, l.name, say("a line has two points or more and a width"));
        t.width = l.width_m;
        t.closed = l.closed;
        t.albedo = l.light ? floor::lightAlbedo : floor::darkAlbedo;
        t.thing = thing(l.name);
        t.low = t.high = t.points.front();
        for (size_t i = 0; i < t.points.size(); ++i) {
            const auto p = t.points[i];
            t.low = {std::min(t.low.x, p.x), std::min(t.low.y, p.y)};
            t.high = {std::max(t.high.x, p.x), std::max(t.high.y, p.y)};
            if (i > 0)
                t.length += length(p - t.points[i - 1]);
        }
        std::vector<Vec> from(t.points.begin(), t.points.end() - 1);
        std::vector<Vec> to(t.points.begin() + 1, t.points.end());
        t.lanes = wallLanes(from, to);
        double before = 0.0;
        for (size_t i = 0; i < from.size(); ++i) {
            t.before.push_back(before);
            before += arena::length(to[i] - from[i]);
        }
        t.round = t.closed || length(t.points.front() - t.points.back()) < gap_m;
        m_to.tracks.push_back(std::move(t));
        return {};
    }

    Result<void> edge()
    {
        const auto &e = m_floor.edge;
        if (e.empty())
            return {};
        if (e.size() < 3)
            return bad(m_floor, "edge", say("a table has three corners or more"));
        const int t = thing("edge");
        for (size_t i = 0; i < e.size(); ++i) {
            auto s = segment("edge", vec(e[i]), vec(e[(i + 1) % e.size()]));
            if (!s)
                return tl::unexpected(s.error());
            s->thing = t;
            m_to.edge.push_back(*s);
        }
        return {};
    }

    void findEnds()
    {
        const auto &all = m_to.segments;
        const auto awayFrom = [&](size_t i, Vec p) {
            return length(all[i].a - p) < joins_m ? all[i].along : -1.0 * all[i].along;
        };
        for (size_t i = 0; i < all.size(); ++i)
            for (const Vec p : {all[i].a, all[i].b}) {
                size_t others = 0;
                size_t other = i;
                bool before = false;
                bool onAnother = false;
                for (size_t k = 0; k < all.size(); ++k) {
                    if (k == i)
                        continue;
                    if (length(all[k].a - p) < joins_m || length(all[k].b - p) < joins_m) {
                        ++others;
                        other = k;
                        before |= k < i;
                    } else if (const double s = dot(p - all[k].a, all[k].along);
                               s > 0.0 && s < all[k].length &&
                               std::abs(cross(p - all[k].a, all[k].along)) < joins_m) {
                        onAnother = true;
                    }
                }
                if (onAnother)
                    continue; // it leans on a wall: no edge stands out
                End e;
                e.at = p;
                e.thing = all[i].thing;
                e.first = awayFrom(i, p);
                e.echo = all[i].echo;
                if (others == 1) {
                    if (before)
                        continue; // seen from the other wall
                    e.second = awayFrom(other, p);
                    const double c = dot(e.first, e.second);
                    if (c < straight)
                        continue;
                    e.joined = true;
                    e.square = std::abs(c) < rightAngle;
                    e.echo *= all[other].echo;
                }
                m_to.ends.push_back(e);
            }
    }

    void layLanes()
    {
        std::vector<Vec> a, b;
        for (size_t i = 0; i < m_to.segments.size(); ++i) {
            a.push_back(m_to.segments[i].a);
            b.push_back(m_to.segments[i].b);
            if (m_to.segments[i].rough)
                m_to.roughFaces.push_back(static_cast<int>(i));
        }
        m_to.walls = wallLanes(a, b);
        std::vector<Vec> edges, corners;
        std::vector<int> ofCorner;
        for (size_t i = 0; i < m_to.ends.size(); ++i) {
            edges.push_back(m_to.ends[i].at);
            if (!m_to.ends[i].joined || !m_to.ends[i].square)
                continue;
            corners.push_back(m_to.ends[i].at);
            ofCorner.push_back(static_cast<int>(i));
        }
        m_to.edges = pointLanes(edges);
        m_to.corners = pointLanes(corners);
        for (auto &i : m_to.corners.order)
            i = i < 0 ? i : ofCorner[static_cast<size_t>(i)];
    }

    const floor::Floor &m_floor;
    Arena m_to;
};

double toSegment_m(Vec p, const Segment &s, Vec *foot = nullptr)
{
    const double along = std::clamp(dot(p - s.a, s.along), 0.0, s.length);
    const Vec f = s.a + along * s.along;
    if (foot)
        *foot = f;
    return length(p - f);
}

bool isInside(const std::vector<Vec> &corners, Vec p)
{
    for (size_t i = 0; i < corners.size(); ++i)
        if (cross(corners[(i + 1) % corners.size()] - corners[i], p - corners[i]) < 0.0)
            return false;
    return true;
}

bool crosses(Vec a, Vec b, Vec c, Vec d)
{
    return cross(b - a, c - a) * cross(b - a, d - a) < 0.0 &&
           cross(d - c, a - c) * cross(d - c, b - c) < 0.0;
}

/// Of a convex outline to a segment, both in the car's frame.
void nearSegment(const Outline &o, Vec a, Vec b, int thing, Near &best)
{
    const double l = length(b - a);
    const Segment s{a, b, (1.0 / l) * (b - a), l, thing, 1.0, false};
    if (toSegment_m(o.middle, s) - o.radius >= best.distance_m)
        return;
    const auto take = [&](double d, Vec onCar) {
        if (d < best.distance_m)
            best = {d, thing, onCar, {}};
    };
    if (isInside(o.corners, a))
        return take(0.0, a);
    if (isInside(o.corners, b))
        return take(0.0, b);
    for (size_t i = 0; i < o.corners.size(); ++i) {
        const Vec p = o.corners[i];
        const Vec q = o.corners[(i + 1) % o.corners.size()];
        if (crosses(p, q, a, b)) {
            const double u = cross(a - p, b - a) / cross(q - p, b - a);
            take(0.0, p + u * (q - p));
        }
        take(toSegment_m(p, s), p);
        const double side_m = length(q - p);
        const Segment side{p, q, (1.0 / side_m) * (q - p), side_m, thing, 1.0, false};
        for (const Vec e : {a, b}) {
            Vec foot;
            const double d = toSegment_m(e, side, &foot);
            take(d, foot);
        }
    }
}

void nearRound(const Outline &o, Vec at, double radius, int thing, Near &best)
{
    if (length(o.middle - at) - o.radius - radius >= best.distance_m)
        return;
    if (isInside(o.corners, at)) {
        best = {0.0, thing, at, {}};
        return;
    }
    for (size_t i = 0; i < o.corners.size(); ++i) {
        const Vec p = o.corners[i];
        const Vec q = o.corners[(i + 1) % o.corners.size()];
        const double side_m = length(q - p);
        const Segment side{p, q, (1.0 / side_m) * (q - p), side_m, thing, 1.0, false};
        Vec foot;
        const double d = std::max(0.0, toSegment_m(at, side, &foot) - radius);
        if (d < best.distance_m)
            best = {d, thing, foot, {}};
    }
}

} // namespace

Result<Arena> compile(const floor::Floor &floor)
{
    return Compiler(floor).arena();
}

bool at(const Moving &m, double time_s, Segment &face)
{
    if (time_s >= m.vanishes_s)
        return false;
    const double moved_s = std::clamp(time_s, m.begins_s, m.ends_s) - m.begins_s;
    face = m.rest;
    face.a = face.a + moved_s * m.v;
    face.b = face.b + moved_s * m.v;
    return true;
}

Near nearest(const Arena &arena, const Outline &outline, const Pose &pose, double time_s)
{
    Near best;
    const Vec back{pose.looks.x, -pose.looks.y};
    const auto own = [&](Vec p) { return turned(p - pose.at, back); };
    // The one whose line runs nearest to the outline's middle first; then those that may be nearer.
    const auto middle = pose.at + turned(outline.middle, pose.looks);
    const auto &walls = arena.walls;
    Keys keys;
    double least2 = farAway;
    int first = -1;
    nearBlocks(
        walls.boxes, middle, [&] { return first < 0 ? 1e9 : std::sqrt(least2); },
        [&](size_t b) {
            if (!distances2(walls, b, middle, least2, keys))
                return;
            for (size_t i = 0; i < block; ++i)
                if (keys[i] < least2 && walls.order[b * block + i] >= 0) {
                    least2 = keys[i];
                    first = walls.order[b * block + i];
                }
        });
    const auto look = [&](int wall) {
        const auto &s = arena.segments[static_cast<size_t>(wall)];
        nearSegment(outline, own(s.a), own(s.b), s.thing, best);
    };
    if (first >= 0) {
        look(first);
        const auto may = [&] { return best.distance_m + outline.radius; };
        nearBlocks(walls.boxes, middle, may, [&](size_t b) {
            if (!distances2(walls, b, middle, may() * may(), keys))
                return;
            for (size_t i = 0; i < block; ++i)
                if (const int wall = walls.order[b * block + i];
                    wall >= 0 && wall != first && keys[i] < may() * may())
                    look(wall);
        });
    }
    for (const auto &r : arena.rounds)
        nearRound(outline, own(r.at), r.radius, r.thing, best);
    for (const auto &m : arena.movers)
        if (Segment face; at(m, time_s, face))
            nearSegment(outline, own(face.a), own(face.b), face.thing, best);
    best.onFloor = pose.at + turned(best.onCar, pose.looks);
    return best;
}

double clearance_m(const Arena &arena, const Outline &outline, const Pose &pose, double time_s)
{
    const auto middle = pose.at + turned(outline.middle, pose.looks);
    double least = 1e9;
    nearBlocks(
        arena.walls.boxes, middle, [&] { return least; },
        [&](size_t b) { least = std::min(least, std::sqrt(least2(arena.walls, b, middle))); });
    for (const auto &r : arena.rounds)
        least = std::min(least, length(middle - r.at) - r.radius);
    for (const auto &m : arena.movers)
        if (Segment face; at(m, time_s, face))
            least = std::min(least, toSegment_m(middle, face));
    return least - outline.radius;
}

Vec velocity(const Arena &arena, int thing, double time_s)
{
    for (const auto &m : arena.movers)
        if (m.rest.thing == thing && time_s >= m.begins_s && time_s < m.ends_s)
            return m.v;
    return {};
}

double toThing_m(const Arena &arena, int thing, Vec p, double time_s)
{
    double least = 1e9;
    for (const auto &s : arena.segments)
        if (s.thing == thing)
            least = std::min(least, toSegment_m(p, s));
    for (const auto &r : arena.rounds)
        if (r.thing == thing)
            least = std::min(least, std::max(0.0, length(p - r.at) - r.radius));
    for (const auto &m : arena.movers)
        if (Segment face; m.rest.thing == thing && at(m, time_s, face))
            least = std::min(least, toSegment_m(p, face));
    return least;
}

} // namespace badger::arena
