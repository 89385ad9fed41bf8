// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/floor/bends.h"

#include <algorithm>
#include <cmath>
#include <numbers>

namespace badger::floor
{

namespace
{

/// The way of a line in straight pieces; of a closed one back to its beginning.
class Way
{
public:
    explicit Way(const Line &line) : m_points(line.points), m_closed(line.closed)
    {
        if (m_closed)
            m_points.push_back(m_points.front());
        m_at.push_back(0.0);
        for (size_t i = 1; i < m_points.size(); ++i)
            m_at.push_back(m_at.back() + std::hypot(m_points[i].x_m - m_points[i - 1].x_m,
                                                    m_points[i].y_m - m_points[i - 1].y_m));
    }

    double length_m() const { return m_at.back(); }

    Point at(double along_m) const
    {
        const size_t i = piece(along_m);
        const double length = m_at[i + 1] - m_at[i];
        const double share = length > 0.0 ? (inside(along_m) - m_at[i]) / length : 0.0;
        return {m_points[i].x_m + share * (m_points[i + 1].x_m - m_points[i].x_m),
                m_points[i].y_m + share * (m_points[i + 1].y_m - m_points[i].y_m)};
    }

    bool isClosed() const { return m_closed; }

    /// Does it turn sharply at a joint that is as near as that?
    bool isCorner(double along_m, double near_m) const
    {
        constexpr double sharp_rad = std::numbers::pi / 6.0;
        const double here = inside(along_m);
        const size_t pieces = m_points.size() - 1;
        for (size_t i = m_closed ? 0 : 1; i < pieces; ++i) {
            double away = std::abs(m_at[i] - here);
            if (m_closed)
                away = std::min(away, length_m() - away);
            const size_t before = i > 0 ? i - 1 : pieces - 1;
            if (away <= near_m && std::abs(std::remainder(heading_rad(i) - heading_rad(before),
                                                          2.0 * std::numbers::pi)) > sharp_rad)
                return true;
        }
        return false;
    }

private:
    double heading_rad(size_t i) const
    {
        return std::atan2(m_points[i + 1].y_m - m_points[i].y_m,
                          m_points[i + 1].x_m - m_points[i].x_m);
    }
    double inside(double along_m) const
    {
        if (!m_closed)
            return std::clamp(along_m, 0.0, length_m());
        const double rest = std::fmod(along_m, length_m());
        return rest < 0.0 ? rest + length_m() : rest;
    }
    size_t piece(double along_m) const
    {
        const auto it = std::upper_bound(m_at.begin(), m_at.end(), inside(along_m));
        const auto i = size_t(std::max<std::ptrdiff_t>(1, it - m_at.begin())) - 1;
        return std::min(i, m_points.size() - 2);
    }

    std::vector<Point> m_points;
    bool m_closed;
    std::vector<double> m_at;
};

Bend bendOf(const Way &way, size_t line, double along_m)
{
    constexpr double straight_rad = 1e-3;
    constexpr double atCorner_m = 0.02;
    if (way.isCorner(along_m, atCorner_m))
        return {line, along_m, way.at(along_m), 0.0};
    double middle = along_m;
    if (!way.isClosed())
        middle = way.length_m() < 2.0 * bendOver_m
                     ? way.length_m() / 2.0
                     : std::clamp(along_m, bendOver_m, way.length_m() - bendOver_m);
    const auto before = way.at(middle - bendOver_m);
    const auto at = way.at(middle);
    const auto behind = way.at(middle + bendOver_m);
    const auto heading = [](const Point &from, const Point &to) {
        return std::atan2(to.y_m - from.y_m, to.x_m - from.x_m);
    };
    const double turn =
        std::remainder(heading(at, behind) - heading(before, at), 2.0 * std::numbers::pi);
    return {line, along_m, way.at(along_m), bendOver_m / std::max(std::abs(turn), straight_rad)};
}

} // namespace

double lengthOf_m(const Line &line)
{
    return Way(line).length_m();
}

Bend bendAt(const Floor &floor, size_t line, double along_m)
{
    return bendOf(Way(floor.lines[line]), line, along_m);
}

std::optional<Bend> tightestBend(const Floor &floor)
{
    constexpr double every_m = 0.01;
    std::optional<Bend> tightest;
    for (size_t i = 0; i < floor.lines.size(); ++i) {
        const Way way(floor.lines[i]);
        for (double along = 0.0; along < way.length_m(); along += every_m) {
            const auto bend = bendOf(way, i, along);
            if (!tightest || bend.radius_m < tightest->radius_m)
                tightest = bend;
        }
    }
    return tightest;
}

} // namespace badger::floor
