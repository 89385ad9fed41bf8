// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/arena/echo.h"

#include <algorithm>

namespace badger::arena
{

namespace
{

constexpr double least_m = 1e-4;
constexpr double cosMirror = 0.64; ///< farther off the axis no second face is asked for
constexpr double sinMirror = 0.7683749084919419;
constexpr double square = 0.07; ///< cosine within which two faces are a square corner's

Vec mirrored(Vec p, const Segment &s)
{
    const double away = cross(s.along, p - s.a);
    return p - (2.0 * away) * Vec{-s.along.y, s.along.x};
}

/// Where the way from p to q meets a segment, as a share of the way; below 0: it does not.
double meets(Vec p, Vec q, const Segment &s)
{
    const Vec d = q - p;
    const double across = cross(d, s.along);
    if (across == 0.0)
        return -1.0;
    const double way = cross(s.a - p, s.along) / across;
    const double along = cross(s.a - p, d) / across;
    return along >= 0.0 && along <= s.length ? way : -1.0;
}

class Hearer
{
public:
    Hearer(const Arena &arena, const Ear &ear, const sense::Hearing &hearing, double time_s,
           double loudness)
        : m_arena(arena), m_ear(ear), m_hearing(hearing), m_loudness(loudness)
    {
        for (const auto &m : arena.movers)
            if (Segment face; at(m, time_s, face))
                m_moved[m_movers < most ? m_movers++ : most - 1] = face;
    }

    std::optional<Echo> first(int near)
    {
        if (near >= 0)
            face(wall(near), near);
        faces();
        for (const auto &r : m_arena.rounds)
            post(r.at, r.radius, r.thing, By::Post);
        ends();
        for (size_t i = 0; i < m_movers; ++i)
            for (const Vec p : {m_moved[i].a, m_moved[i].b})
                post(p, sense::edgeRadius_m, m_moved[i].thing, By::Edge);
        floor();
        byWayOf();
        return m_best;
    }

private:
    const Segment &wall(int i) const { return m_arena.segments[static_cast<size_t>(i)]; }

    void faces()
    {
        const auto &walls = m_arena.walls;
        Keys keys;
        const auto within = [&](double most_m) {
            nearBlocks(
                walls.boxes, m_ear.at, [&] { return std::min(most_m, best_m()); },
                [&](size_t b) {
                    if (!feet(walls, b, m_ear.at, best_m(), keys))
                        return;
                    for (size_t i = 0; i < block; ++i)
                        if (keys[i] < best_m() && keys[i] > least_m)
                            face(wall(walls.order[b * block + i]), walls.order[b * block + i]);
                });
        };
        if (walls.blocks() > block && !m_best) // what is near first: most often it answers
            within(1.0);
        within(farAway);
        for (const int i : m_arena.roughFaces)
            rough(wall(i));
        for (size_t i = 0; i < m_movers; ++i)
            face(m_moved[i], -1);
    }

    void ends()
    {
        Keys keys;
        const auto visit = [&](const PointLanes &points, auto &&limit) {
            nearBlocks(points.boxes, m_ear.at, limit, [&](size_t b) {
                if (!distances2(points, b, m_ear.at, limit() * limit(), keys))
                    return;
                for (size_t i = 0; i < block; ++i)
                    if (const int e = points.order[b * block + i];
                        e >= 0 && keys[i] < limit() * limit())
                        end(m_arena.ends[static_cast<size_t>(e)]);
            });
        };
        // The margin falls at least as fast as 1 / r: louder by so much, heard no farther.
        const double edge_m = m_hearing.edgeReach_m() * std::max(1.0, m_loudness);
        visit(m_arena.edges, [&] { return std::min(edge_m, best_m()); });
        visit(m_arena.corners, [&] { return best_m(); });
    }

    double best_m() const { return m_best ? m_best->distance_m : m_hearing.reach_m() * 1.5; }

    /// Its margin is kept for take().
    bool isLoud(double r_m, Vec out, Vec in, double echo)
    {
        return isLoud(m_hearing.margin(r_m, dot(out, m_ear.axis), dot(in, m_ear.axis), echo));
    }
    bool isLoud(double margin)
    {
        m_margin = margin;
        return m_loudness * margin >= 1.0;
    }

    /// Nothing stands between two places; what touches either end does not count.
    bool isFree(Vec p, Vec q) const
    {
        const auto &walls = m_arena.walls;
        Keys keys;
        for (size_t first = 0; first < walls.blocks(); first += block) {
            if (!boxesOnTheWay(walls.boxes, first, p, q, keys))
                continue;
            for (size_t i = 0; i < block && first + i < walls.blocks(); ++i)
                if (keys[i] == 0.0 && crossed(walls, first + i, p, q))
                    return false;
        }
        constexpr double end = 1e-6;
        for (size_t i = 0; i < m_movers; ++i)
            if (const double way = meets(p, q, m_moved[i]); way > end && way < 1.0 - end)
                return false;
        const Vec d = q - p;
        const double l = length(d);
        return std::all_of(m_arena.rounds.begin(), m_arena.rounds.end(), [&](const Round &r) {
            const double along = std::clamp(dot(r.at - p, d) / (l * l), 0.0, 1.0);
            return length(p + along * d - r.at) >= r.radius - 1e-6;
        });
    }

    void take(Echo e, int number = -1)
    {
        m_best = e;
        m_best->margin = m_margin;
        m_best->wall = number;
    }

    void face(const Segment &s, int number)
    {
        const Vec to = m_ear.at - s.a;
        const double along = dot(to, s.along);
        const double away = std::abs(cross(s.along, to));
        if (along >= 0.0 && along <= s.length && away < best_m() && away > least_m) {
            const Vec foot = s.a + along * s.along;
            const Vec out = (1.0 / away) * (foot - m_ear.at);
            if (isLoud(away, out, out, s.echo) && isFree(m_ear.at, foot))
                take({away, By::Face, s.thing, -1, foot, {}}, number);
        }
    }

    /// From the side as well, where the axis meets it.
    void rough(const Segment &s)
    {
        const double way = meets(m_ear.at, m_ear.at + m_ear.axis, s);
        if (way > least_m && way < best_m() &&
            isLoud(way, m_ear.axis, m_ear.axis, s.echo * sense::diffuseEcho)) {
            const Vec p = m_ear.at + way * m_ear.axis;
            if (isFree(m_ear.at, p))
                take({way, By::Rough, s.thing, -1, p, {}});
        }
    }

    void post(Vec at, double radius, int thing, By by, double echo = 1.0)
    {
        const Vec d = at - m_ear.at;
        const double l = length(d);
        const double r = l - radius;
        if (r < least_m || r >= best_m())
            return;
        const Vec out = (1.0 / l) * d;
        const Vec place = m_ear.at + r * out;
        if (isLoud(r, out, out, echo * sense::postEcho(radius, r)) && isFree(m_ear.at, place))
            take({r, by, thing, -1, place, {}});
    }

    void end(const End &e)
    {
        if (e.joined) {
            // In the angle between the two faces it is an inner corner.
            const Vec to = m_ear.at - e.at;
            const double area = cross(e.first, e.second);
            const bool within =
                area != 0.0 && cross(to, e.second) / area > 0.0 && cross(e.first, to) / area > 0.0;
            if (within) {
                if (!e.square)
                    return; // by way of the two faces
                const double r = length(to);
                const Vec out = (-1.0 / r) * to;
                if (r > least_m && r < best_m() && isLoud(r, out, out, e.echo) &&
                    isFree(m_ear.at, e.at))
                    take({r, By::Corner, e.thing, -1, e.at, {}});
                return;
            }
        }
        post(e.at, sense::edgeRadius_m, e.thing, By::Edge, e.echo);
    }

    /// Joints and sills answer where the lower edge of the beam meets a floor that is not smooth.
    void floor()
    {
        if (!m_arena.rough || m_ear.height_m <= 0.0 || m_ear.below_rad <= 0.01)
            return;
        const double r = m_ear.height_m / std::sin(m_ear.below_rad);
        if (r >= best_m())
            return;
        const double c = m_ear.cosHalfAngle;
        if (!isLoud(m_hearing.margin(r, c, c, sense::postEcho(sense::edgeRadius_m, r))))
            return;
        const Vec place = m_ear.at + (m_ear.height_m / std::tan(m_ear.below_rad)) * m_ear.axis;
        if (isFree(m_ear.at, place))
            take({r, By::Floor, -1, -1, place, {}});
    }

    /// Two faces, by way of one another; and a face that is seen in the mirror of another.
    void byWayOf()
    {
        const auto &walls = m_arena.walls;
        Keys keys;
        const Vec left = turned(m_ear.axis, {cosMirror, sinMirror});
        const Vec right = turned(m_ear.axis, {cosMirror, -sinMirror});
        nearBlocks(
            walls.boxes, m_ear.at, [&] { return best_m(); },
            [&](size_t b) {
                if (!between(walls, b, m_ear.at, left, right, best_m() * best_m(), keys))
                    return;
                for (size_t i = 0; i < block; ++i)
                    if (const int a = walls.order[b * block + i];
                        a >= 0 && keys[i] < best_m() * best_m() &&
                        mayMirror(wall(a), std::sqrt(keys[i])))
                        byWayOf(wall(a));
            });
        for (size_t i = 0; i < m_movers; ++i)
            if (mayMirror(m_moved[i], 0.0))
                byWayOf(m_moved[i]);
    }

    void byWayOf(const Segment &a)
    {
        const auto &walls = m_arena.walls;
        const Vec image = mirrored(m_ear.at, a);
        Keys keys;
        const auto other = [&](size_t b, size_t i) -> const Segment * {
            const int n = walls.order[b * block + i];
            return n < 0 || &wall(n) == &a ? nullptr : &wall(n);
        };
        nearBlocks(
            walls.boxes, image, [&] { return best_m(); },
            [&](size_t b) {
                if (!feet(walls, b, image, best_m(), keys))
                    return;
                for (size_t i = 0; i < block; ++i)
                    if (keys[i] < best_m())
                        if (const auto *s = other(b, i))
                            inMirror(a, *s, image);
            });
        nearBlocks(
            walls.boxes, m_ear.at, [&] { return best_m(); },
            [&](size_t b) {
                if (!folds(walls, b, m_ear.at, image, best_m() * best_m(), keys))
                    return;
                for (size_t i = 0; i < block; ++i)
                    if (keys[i] < best_m() * best_m())
                        if (const auto *s = other(b, i))
                            round(a, *s, image);
            });
        for (size_t i = 0; i < m_movers; ++i)
            if (&m_moved[i] != &a) {
                inMirror(a, m_moved[i], image);
                round(a, m_moved[i], image);
            }
    }

    /// Some of it lies within 50 degrees of the axis, where a ping still has strength for a second
    /// face; and it is loud enough where the other way is no nearer to the axis. Where it is, it is
    /// found the other way round: there and back are alike.
    bool mayMirror(const Segment &s, double away_m) const
    {
        const auto cosine = [&](Vec p) {
            const Vec d = p - m_ear.at;
            return dot(d, m_ear.axis) / length(d);
        };
        double widest = std::max(cosine(s.a), cosine(s.b));
        if (widest < 1.0 - 1e-9 && meets(m_ear.at, m_ear.at + m_ear.axis, s) > 0.0)
            widest = 1.0;
        return widest > cosMirror &&
               away_m <= m_hearing.mostReach_m(widest) * std::max(1.0, m_loudness);
    }

    void inMirror(const Segment &a, const Segment &b, Vec image)
    {
        const double along = dot(image - b.a, b.along);
        const double r = std::abs(cross(b.along, image - b.a));
        if (along < 0.0 || along > b.length || r >= best_m() || r <= least_m)
            return;
        const Vec foot = b.a + along * b.along;
        const double way = meets(image, foot, a);
        if (!(way > 1e-6 && way < 1.0 - 1e-6) || !sameSide(a, foot))
            return;
        const Vec turn = image + way * (foot - image);
        const Vec out = unit(turn - m_ear.at);
        if (isLoud(r, out, out, a.echo * a.echo * b.echo) && isFree(m_ear.at, turn) &&
            isFree(turn, foot))
            take({r, By::Mirror, b.thing, a.thing, foot, turn});
    }

    void round(const Segment &a, const Segment &b, Vec image)
    {
        if (std::abs(dot(a.along, b.along)) <= square)
            return;
        const Vec back = mirrored(m_ear.at, b);
        const double r = length(back - image) / 2.0;
        if (r >= best_m() || r <= least_m)
            return;
        const double onA = meets(image, back, a);
        const double onB = meets(image, back, b);
        if (!(onA > 1e-6 && onB > onA + 1e-6 && onB < 1.0 - 1e-6))
            return;
        const Vec first = image + onA * (back - image);
        const Vec second = image + onB * (back - image);
        const Vec out = unit(first - m_ear.at);
        const Vec in = unit(second - m_ear.at);
        if (isLoud(r, out, in, a.echo * b.echo) && isFree(m_ear.at, first) &&
            isFree(first, second) && isFree(second, m_ear.at))
            take({r, By::TwoFaces, b.thing, a.thing, second, first});
    }

    bool sameSide(const Segment &s, Vec p) const
    {
        return cross(s.along, p - s.a) * cross(s.along, m_ear.at - s.a) > 0.0;
    }
    static Vec unit(Vec v) { return (1.0 / length(v)) * v; }

    static constexpr size_t most = 20;
    const Arena &m_arena;
    const Ear &m_ear;
    const sense::Hearing &m_hearing;
    double m_loudness;
    double m_margin = 0.0; ///< of what was last found loud enough
    Segment m_moved[most];
    size_t m_movers = 0;
    std::optional<Echo> m_best;
};

} // namespace

std::optional<Echo> hear(const Arena &arena, const Ear &ear, const sense::Hearing &hearing,
                         double time_s, double loudness, int near)
{
    return Hearer(arena, ear, hearing, time_s, loudness).first(near);
}

const std::optional<Echo> &Listening::hear(const Arena &arena, const Ear &ear,
                                           const sense::Hearing &hearing, double time_s,
                                           double loudness)
{
    if (!(ear == m_ear) || !arena.movers.empty()) {
        m_ear = ear;
        m_count = 0;
    }
    for (size_t i = 0; i < m_count; ++i)
        if (const auto &k = m_known[i];
            loudness <= k.loudness && (!k.echo || loudness * k.echo->margin >= 1.0))
            return k.echo;
    const int near = m_last ? m_last->wall : -1;
    m_last = arena::hear(arena, ear, hearing, time_s, loudness, near);
    if (m_count == m_known.size())
        m_count = 0;
    m_known[m_count] = {m_last, loudness};
    return m_known[m_count++].echo;
}

std::optional<Echo> overhear(const Arena &arena, const Ear &sender, const Ear &listener,
                             const sense::Hearing &hearing, double time_s)
{
    std::optional<Echo> best;
    const auto by = [&](const Segment &s) {
        const Vec image = mirrored(sender.at, s);
        const double way = meets(image, listener.at, s);
        if (!(way > 1e-6 && way < 1.0 - 1e-6))
            return;
        const double r = length(listener.at - image) / 2.0;
        const Vec turn = image + way * (listener.at - image);
        const Vec out = (1.0 / length(turn - sender.at)) * (turn - sender.at);
        const Vec in = (1.0 / length(turn - listener.at)) * (turn - listener.at);
        if ((!best || r < best->distance_m) &&
            hearing.margin(r, dot(out, sender.axis), dot(in, listener.axis), s.echo) >= 1.0)
            best = Echo{r, By::Face, s.thing, -1, turn, {}};
    };
    for (const auto &s : arena.segments)
        by(s);
    for (const auto &m : arena.movers)
        if (Segment face; at(m, time_s, face))
            by(face);
    return best;
}

std::optional<Ahead> nearestInBeam(const Arena &arena, const Ear &ear, double time_s)
{
    std::optional<Ahead> best;
    double cosSlant = 1.0; // of the best
    const double c = ear.cosHalfAngle;
    const double s = std::sqrt(std::max(0.0, 1.0 - c * c));
    const Vec left = turned(ear.axis, {c, s});
    const Vec right = turned(ear.axis, {c, -s});
    const auto inBeam = [&](Vec p) {
        const Vec d = p - ear.at;
        return dot(d, ear.axis) >= c * length(d);
    };
    const auto face = [&](const Segment &f) {
        double least = 1e9;
        const auto point = [&](Vec p) {
            if (inBeam(p))
                least = std::min(least, length(p - ear.at));
        };
        const double along = std::clamp(dot(ear.at - f.a, f.along), 0.0, f.length);
        point(f.a + along * f.along);
        point(f.a);
        point(f.b);
        for (const Vec ray : {left, right, ear.axis})
            if (const double way = meets(ear.at, ear.at + ray, f); way > 0.0)
                least = std::min(least, way);
        if (least >= (best ? best->distance_m : 1e8))
            return;
        cosSlant = std::abs(cross(f.along, ear.axis));
        best = Ahead{least, f.thing, false, 0.0, f.echo};
    };
    Keys keys;
    const auto within = [&](double most_m) {
        const auto limit = [&] { return std::min(most_m, best ? best->distance_m : 1e8); };
        nearBlocks(arena.walls.boxes, ear.at, limit, [&](size_t b) {
            if (!between(arena.walls, b, ear.at, left, right, limit() * limit(), keys))
                return;
            for (size_t n = 0; n < block; ++n)
                if (const int wall = arena.walls.order[b * block + n];
                    wall >= 0 && keys[n] < limit() * limit())
                    face(arena.segments[static_cast<size_t>(wall)]);
        });
    };
    if (arena.walls.blocks() > block)
        within(1.0);
    within(1e8);
    for (const auto &m : arena.movers)
        if (Segment f; at(m, time_s, f))
            face(f);
    for (const auto &r : arena.rounds) {
        const Vec d = r.at - ear.at;
        const double away = length(d) - r.radius;
        const double side = std::abs(cross(ear.axis, d));
        const bool touches =
            dot(d, ear.axis) > 0.0 && (inBeam(r.at) || side * c - dot(d, ear.axis) * s < r.radius);
        if (touches && away > 0.0 && away < (best ? best->distance_m : 1e8))
            best = Ahead{away, r.thing, true, 0.0, sense::postEcho(r.radius, away)};
    }
    if (best && !best->round)
        best->slant_rad = std::acos(std::clamp(cosSlant, 0.0, 1.0));
    return best;
}

} // namespace badger::arena
