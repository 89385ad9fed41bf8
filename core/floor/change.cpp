// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/floor/change.h"

#include "core/base/angle.h"
#include "core/floor/change_points.h"

#include <algorithm>
#include <cmath>

namespace badger::floor
{

namespace
{

constexpr double joint_m = 1e-4; ///< ends so near are one joint

double distance(const Point &a, const Point &b)
{
    return std::hypot(a.x_m - b.x_m, a.y_m - b.y_m);
}

double toSegment(const Point &p, const Point &a, const Point &b)
{
    const double dx = b.x_m - a.x_m, dy = b.y_m - a.y_m;
    const double square = dx * dx + dy * dy;
    const double t =
        square > 0 ? std::clamp(((p.x_m - a.x_m) * dx + (p.y_m - a.y_m) * dy) / square, 0.0, 1.0)
                   : 0.0;
    return std::hypot(p.x_m - a.x_m - t * dx, p.y_m - a.y_m - t * dy);
}

double toWay(const Point &p, const std::vector<Point> &points, bool closed)
{
    double least = points.size() == 1 ? distance(p, points[0]) : 1e9;
    for (size_t i = 0; i + 1 < points.size(); ++i)
        least = std::min(least, toSegment(p, points[i], points[i + 1]));
    if (closed && points.size() > 2)
        least = std::min(least, toSegment(p, points.back(), points.front()));
    return least;
}

bool meet(const Point &a, const Point &b)
{
    return distance(a, b) < joint_m;
}

bool touch(const Wall &a, const Wall &b)
{
    return meet(a.from, b.from) || meet(a.from, b.to) || meet(a.to, b.from) || meet(a.to, b.to);
}

void put(Point &p, double x_m, double y_m)
{
    p.x_m = x_m;
    p.y_m = y_m;
}

Point turnPlace(const Start &s)
{
    return {s.nose.x_m + turnGrip_m * std::cos(s.heading_rad),
            s.nose.y_m + turnGrip_m * std::sin(s.heading_rad)};
}

template <class T> bool hasName(const std::vector<T> &things, const std::string &name)
{
    return std::any_of(things.begin(), things.end(), [&](const T &t) { return t.name == name; });
}

std::string freeName(const Floor &f, const std::string &first)
{
    for (int i = 1;; ++i) {
        auto name = i == 1 ? first : first + " " + std::to_string(i);
        if (!hasName(f.walls, name) && !hasName(f.posts, name) && !hasName(f.lines, name) &&
            !hasName(f.movers, name))
            return name;
    }
}

} // namespace

std::vector<Point *> pointsOf(Floor &f, const Handle &h)
{
    std::vector<Point *> all;
    const auto add = [&](auto &...points) { (all.push_back(&points), ...); };
    switch (h.kind) {
    case Kind::Start:
        add(f.start.nose);
        break;
    case Kind::Wall: {
        const auto mine = wallsOf(f, h.index);
        for (auto &wall : f.walls)
            for (auto *end : {&wall.from, &wall.to})
                if (std::any_of(mine.begin(), mine.end(), [&](size_t i) {
                        return meet(f.walls[i].from, *end) || meet(f.walls[i].to, *end);
                    }))
                    add(*end); // ends of others that hang on it, too
        break;
    }
    case Kind::Post:
        add(f.posts[h.index].at);
        break;
    case Kind::Line:
        for (auto &p : f.lines[h.index].points)
            add(p);
        break;
    case Kind::Mover:
        add(f.movers[h.index].from, f.movers[h.index].to);
        break;
    case Kind::Patch:
        add(f.patches[h.index].from, f.patches[h.index].to);
        break;
    case Kind::Edge:
        for (auto &p : f.edge)
            add(p);
        break;
    }
    return all;
}

std::vector<Point *> pointsOfGrip(Floor &f, const Handle &h)
{
    const size_t n = *h.point;
    switch (h.kind) {
    case Kind::Start:
        return {&f.start.nose};
    case Kind::Wall: {
        auto &wall = f.walls[h.index];
        const Point at = n == 0 ? wall.from : wall.to;
        std::vector<Point *> all;
        for (auto &other : f.walls)
            for (auto *p : {&other.from, &other.to})
                if (meet(*p, at))
                    all.push_back(p);
        return all;
    }
    case Kind::Post:
        return {&f.posts[h.index].at};
    case Kind::Line:
        return {&f.lines[h.index].points[n]};
    case Kind::Mover:
        return {n == 0 ? &f.movers[h.index].from : &f.movers[h.index].to};
    case Kind::Patch:
        return {n == 0 ? &f.patches[h.index].from : &f.patches[h.index].to};
    case Kind::Edge:
        return {&f.edge[n]};
    }
    return {};
}

std::vector<std::size_t> wallsOf(const Floor &f, std::size_t wall)
{
    std::vector<std::size_t> all = {wall};
    for (size_t n = 0; n < all.size(); ++n)
        for (size_t i = 0; i < f.walls.size(); ++i)
            if (f.walls[i].name == f.walls[wall].name && touch(f.walls[i], f.walls[all[n]]) &&
                std::find(all.begin(), all.end(), i) == all.end())
                all.push_back(i);
    return all;
}

std::vector<Grip> gripsOf(const Floor &f, const Handle &h)
{
    std::vector<Grip> all;
    const auto add = [&](size_t index, size_t point, const Point &at) {
        for (const auto &g : all)
            if (h.kind == Kind::Wall && meet(g.at, at))
                return; // a joint is one point
        all.push_back({{h.kind, index, point}, {at.x_m, at.y_m}});
    };
    switch (h.kind) {
    case Kind::Start:
        add(0, 0, f.start.nose);
        add(0, 1, turnPlace(f.start));
        break;
    case Kind::Wall:
        for (const size_t i : wallsOf(f, h.index)) {
            add(i, 0, f.walls[i].from);
            add(i, 1, f.walls[i].to);
        }
        break;
    case Kind::Post:
        add(h.index, 0, f.posts[h.index].at);
        break;
    case Kind::Line:
        for (size_t i = 0; i < f.lines[h.index].points.size(); ++i)
            add(h.index, i, f.lines[h.index].points[i]);
        break;
    case Kind::Mover:
        add(h.index, 0, f.movers[h.index].from);
        add(h.index, 1, f.movers[h.index].to);
        break;
    case Kind::Patch:
        add(h.index, 0, f.patches[h.index].from);
        add(h.index, 1, f.patches[h.index].to);
        break;
    case Kind::Edge:
        for (size_t i = 0; i < f.edge.size(); ++i)
            add(0, i, f.edge[i]);
        break;
    }
    return all;
}

std::optional<Handle> handleAt(const Floor &f, const Point &place, double within_m,
                               const std::optional<Handle> &picked)
{
    std::optional<Handle> found;
    double least = within_m;
    const auto take = [&](double away, Handle h) {
        if (away <= least) {
            least = away;
            found = h;
        }
    };
    if (picked)
        for (const auto &g : gripsOf(f, *picked))
            take(distance(place, g.at), g.handle);
    if (found)
        return found;
    take(std::max(0.0, distance(place, f.start.nose) - 0.02), {Kind::Start, 0, {}});
    if (found)
        return found;
    for (size_t i = 0; i < f.posts.size(); ++i)
        take(std::max(0.0, distance(place, f.posts[i].at) - f.posts[i].radius_m),
             {Kind::Post, i, {}});
    for (size_t i = 0; i < f.walls.size(); ++i)
        take(toSegment(place, f.walls[i].from, f.walls[i].to), {Kind::Wall, i, {}});
    for (size_t i = 0; i < f.movers.size(); ++i)
        take(toSegment(place, f.movers[i].from, f.movers[i].to), {Kind::Mover, i, {}});
    if (found)
        return found;
    for (size_t i = 0; i < f.lines.size(); ++i)
        take(std::max(0.0, toWay(place, f.lines[i].points, f.lines[i].closed) -
                               f.lines[i].width_m / 2.0),
             {Kind::Line, i, {}});
    if (!f.edge.empty())
        take(toWay(place, f.edge, true), {Kind::Edge, 0, {}});
    if (found)
        return found;
    for (size_t i = 0; i < f.patches.size(); ++i) {
        const auto &p = f.patches[i];
        const auto [x0, x1] = std::minmax(p.from.x_m, p.to.x_m);
        const auto [y0, y1] = std::minmax(p.from.y_m, p.to.y_m);
        if (place.x_m >= x0 && place.x_m <= x1 && place.y_m >= y0 && place.y_m <= y1)
            return Handle{Kind::Patch, i, {}};
    }
    return found;
}

Point snapped(const Point &place)
{
    return {std::round(place.x_m * 100.0) / 100.0, std::round(place.y_m * 100.0) / 100.0};
}

Floor moved(const Floor &floor, const Handle &handle, double right_m, double up_m)
{
    auto f = floor;
    const auto points = pointsOf(f, handle);
    // As far as the plan reaches: the whole thing by one way.
    for (const auto *p : points) {
        right_m = std::clamp(right_m, std::min(0.0, -p->x_m), std::max(0.0, f.width_m - p->x_m));
        up_m = std::clamp(up_m, std::min(0.0, -p->y_m), std::max(0.0, f.depth_m - p->y_m));
    }
    const auto rounded = [](double m) { return std::round(m * 1e6) / 1e6; };
    for (auto *p : points)
        put(*p, rounded(p->x_m + right_m), rounded(p->y_m + up_m));
    return f;
}

Floor pointPut(const Floor &floor, const Handle &handle, const Point &place)
{
    auto f = floor;
    if (handle.kind == Kind::Start && handle.point == 1U) {
        const double a = std::atan2(place.y_m - f.start.nose.y_m, place.x_m - f.start.nose.x_m);
        f.start.heading_rad = std::round(a / degree) * degree;
        return f;
    }
    const double x = std::clamp(place.x_m, 0.0, f.width_m);
    const double y = std::clamp(place.y_m, 0.0, f.depth_m);
    for (auto *p : pointsOfGrip(f, handle))
        put(*p, x, y);
    return f;
}

Floor without(const Floor &floor, const Handle &h)
{
    auto f = floor;
    const auto erase = [](auto &list, size_t i) { list.erase(list.begin() + std::ptrdiff_t(i)); };
    switch (h.kind) {
    case Kind::Start:
        break; // a floor has one
    case Kind::Wall: {
        auto all = wallsOf(f, h.index);
        std::sort(all.rbegin(), all.rend());
        for (const size_t i : all)
            erase(f.walls, i);
        break;
    }
    case Kind::Post:
        erase(f.posts, h.index);
        break;
    case Kind::Line:
        erase(f.lines, h.index);
        break;
    case Kind::Mover:
        erase(f.movers, h.index);
        break;
    case Kind::Patch:
        erase(f.patches, h.index);
        break;
    case Kind::Edge:
        f.edge.clear();
        break;
    }
    return f;
}

Floor with(const Floor &floor, NewThing what, const Point &place, Handle &made)
{
    auto f = floor;
    const double x = std::clamp(place.x_m, 0.0, f.width_m);
    const double y = std::clamp(place.y_m, 0.0, f.depth_m);
    const auto onPlan = [&](double px, double py) {
        return Point{std::clamp(px, 0.0, f.width_m), std::clamp(py, 0.0, f.depth_m)};
    };
    switch (what) {
    case NewThing::Wall:
        f.walls.push_back({freeName(f, "wall"), onPlan(x, y - 0.3), onPlan(x, y + 0.3)});
        made = {Kind::Wall, f.walls.size() - 1, {}};
        break;
    case NewThing::Box: {
        const auto name = freeName(f, "box");
        const double h = 0.1;
        const Point a = onPlan(x - h, y - h), c = onPlan(x + h, y + h);
        const Point b{c.x_m, a.y_m}, d{a.x_m, c.y_m};
        made = {Kind::Wall, f.walls.size(), {}};
        for (const auto &[from, to] : {std::pair(a, b), {b, c}, {c, d}, {d, a}})
            f.walls.push_back({name, from, to});
        break;
    }
    case NewThing::Post:
        f.posts.push_back({freeName(f, "post"), onPlan(x, y), 0.025});
        made = {Kind::Post, f.posts.size() - 1, {}};
        break;
    case NewThing::Line: {
        Line line;
        line.name = freeName(f, "line");
        line.points = {onPlan(x - 0.3, y), onPlan(x + 0.3, y)};
        f.lines.push_back(std::move(line));
        made = {Kind::Line, f.lines.size() - 1, {}};
        break;
    }
    case NewThing::Mover: {
        Mover mover;
        mover.name = freeName(f, "moving board");
        mover.from = onPlan(x, y - 0.1);
        mover.to = onPlan(x, y + 0.1);
        mover.east_mps = 0.1;
        mover.begins_s = 1.0;
        mover.ends_s = 3.0;
        f.movers.push_back(std::move(mover));
        made = {Kind::Mover, f.movers.size() - 1, {}};
        break;
    }
    }
    return f;
}

std::string nameOf(const Floor &f, const Handle &h)
{
    switch (h.kind) {
    case Kind::Wall:
        return f.walls[h.index].name;
    case Kind::Post:
        return f.posts[h.index].name;
    case Kind::Line:
        return f.lines[h.index].name;
    case Kind::Mover:
        return f.movers[h.index].name;
    case Kind::Patch:
        return f.patches[h.index].name;
    case Kind::Start:
    case Kind::Edge:
        break;
    }
    return {};
}

Floor renamed(const Floor &floor, const Handle &h, const std::string &name)
{
    auto f = floor;
    switch (h.kind) {
    case Kind::Wall:
        for (const size_t i : wallsOf(floor, h.index))
            f.walls[i].name = name;
        break;
    case Kind::Post:
        f.posts[h.index].name = name;
        break;
    case Kind::Line:
        f.lines[h.index].name = name;
        break;
    case Kind::Mover:
        f.movers[h.index].name = name;
        break;
    case Kind::Patch:
        f.patches[h.index].name = name;
        break;
    case Kind::Start:
    case Kind::Edge:
        break;
    }
    return f;
}

} // namespace badger::floor
