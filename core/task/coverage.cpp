// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/task/coverage.h"

#include <algorithm>
#include <queue>

namespace badger::task
{

namespace
{

constexpr double square_m = 0.05;
constexpr double largest_m = 20.0; ///< a larger plan is looked at in larger squares

class Grid
{
public:
    explicit Grid(const world::Plan &plan) : m_plan(plan)
    {
        const auto size = plan.arena.size;
        m_step = square_m * std::max(1.0, std::max(size.x, size.y) / largest_m);
        m_wide = std::max(1, static_cast<int>(size.x / m_step));
        m_deep = std::max(1, static_cast<int>(size.y / m_step));
        m_stands.assign(static_cast<size_t>(m_wide * m_deep), false);
        m_been = m_reached = m_stands;
        for (const auto c : plan.on->model().outline.corners)
            m_half = std::max(m_half, c.y);
    }

    double share(const world::Trace &trace)
    {
        reach();
        // What a round car covers from where it can stand.
        const int far = static_cast<int>(m_half / m_step) + 1;
        for (int y = 0; y < m_deep; ++y)
            for (int x = 0; x < m_wide; ++x)
                if (m_stands[at(x, y)])
                    for (int dy = -far; dy <= far; ++dy)
                        for (int dx = -far; dx <= far; ++dx)
                            if (inside(x + dx, y + dy) &&
                                std::sqrt(double(dx * dx + dy * dy)) * m_step <= m_half)
                                m_reached[at(x + dx, y + dy)] = true;
        drive(trace);
        int all = 0;
        int been = 0;
        for (size_t i = 0; i < m_reached.size(); ++i)
            if (m_reached[i]) {
                ++all;
                been += m_been[i];
            }
        return all == 0 ? 0.0 : double(been) / all;
    }

private:
    size_t at(int x, int y) const { return static_cast<size_t>(y * m_wide + x); }
    bool inside(int x, int y) const { return x >= 0 && y >= 0 && x < m_wide && y < m_deep; }
    arena::Vec middle(int x, int y) const { return {(x + 0.5) * m_step, (y + 0.5) * m_step}; }

    bool isFree(arena::Vec p) const
    {
        const auto &a = m_plan.arena;
        if (!arena::isOnTable(a, p))
            return false;
        for (const auto &s : a.segments) {
            const double along = std::clamp(arena::dot(p - s.a, s.along), 0.0, s.length);
            if (arena::length(p - s.a - along * s.along) < m_half)
                return false;
        }
        return std::none_of(a.rounds.begin(), a.rounds.end(), [&](const arena::Round &r) {
            return arena::length(p - r.at) < m_half + r.radius;
        });
    }

    void reach()
    {
        const auto start = m_plan.start.at;
        const int sx = std::clamp(static_cast<int>(start.x / m_step), 0, m_wide - 1);
        const int sy = std::clamp(static_cast<int>(start.y / m_step), 0, m_deep - 1);
        std::queue<std::pair<int, int>> next;
        next.emplace(sx, sy);
        m_stands[at(sx, sy)] = true;
        while (!next.empty()) {
            const auto [x, y] = next.front();
            next.pop();
            for (const auto &[dx, dy] : {std::pair(1, 0), {-1, 0}, {0, 1}, {0, -1}}) {
                const int nx = x + dx;
                const int ny = y + dy;
                if (!inside(nx, ny) || m_stands[at(nx, ny)] || !isFree(middle(nx, ny)))
                    continue;
                m_stands[at(nx, ny)] = true;
                next.emplace(nx, ny);
            }
        }
    }

    void drive(const world::Trace &trace)
    {
        const auto &o = m_plan.on->model().outline;
        arena::Pose last{{1e9, 1e9}, {1.0, 0.0}};
        for (const auto &m : trace.path) {
            if (arena::length(m.pose.at - last.at) < 0.01 &&
                arena::dot(m.pose.looks, last.looks) > 0.995)
                continue;
            last = m.pose;
            const auto c = m.pose.at + arena::turned(o.middle, m.pose.looks);
            const int far = static_cast<int>(o.radius / m_step) + 1;
            const int cx = static_cast<int>(c.x / m_step);
            const int cy = static_cast<int>(c.y / m_step);
            for (int y = cy - far; y <= cy + far; ++y)
                for (int x = cx - far; x <= cx + far; ++x) {
                    if (!inside(x, y) || m_been[at(x, y)])
                        continue;
                    const auto p =
                        arena::turned(middle(x, y) - m.pose.at, {m.pose.looks.x, -m.pose.looks.y});
                    bool in = true;
                    for (size_t i = 0; i < o.corners.size(); ++i)
                        in &= arena::cross(o.corners[(i + 1) % o.corners.size()] - o.corners[i],
                                           p - o.corners[i]) >= 0.0;
                    m_been[at(x, y)] = in;
                }
        }
    }

    const world::Plan &m_plan;
    double m_step = square_m;
    int m_wide = 1, m_deep = 1;
    double m_half = 0.0;
    std::vector<bool> m_stands, m_reached, m_been;
};

} // namespace

double coverage(const world::Plan &plan, const world::Trace &trace)
{
    return Grid(plan).share(trace);
}

} // namespace badger::task
