// SPDX-License-Identifier: GPL-3.0-or-later
// The numbers of what stands on a floor, as they are shown and typed.
#include "core/base/angle.h"
#include "core/floor/change_points.h"

#include <algorithm>

namespace badger::floor
{

using units::Unit;

namespace
{

/// The two coordinates of a grip.
void addPlace(std::vector<Number> &all, const Floor &f, const Grip &g, const char *right,
              const char *up)
{
    const auto h = g.handle;
    all.push_back({right, Unit::Centimetre, g.at.x_m, 0.0, f.width_m, [h](Floor &to, double v) {
                       for (auto *p : pointsOfGrip(to, h))
                           p->x_m = v;
                   }});
    all.push_back({up, Unit::Centimetre, g.at.y_m, 0.0, f.depth_m, [h](Floor &to, double v) {
                       for (auto *p : pointsOfGrip(to, h))
                           p->y_m = v;
                   }});
}

/// A box, upright on the plan: its low corner and its size.
struct Upright {
    double x0, y0, x1, y1;
};
std::optional<Upright> uprightOf(const Floor &f, size_t wall)
{
    const auto walls = wallsOf(f, wall);
    if (walls.size() < 2)
        return std::nullopt;
    Upright box{1e9, 1e9, -1e9, -1e9};
    for (const size_t i : walls)
        for (const auto &p : {f.walls[i].from, f.walls[i].to}) {
            box.x0 = std::min(box.x0, p.x_m);
            box.y0 = std::min(box.y0, p.y_m);
            box.x1 = std::max(box.x1, p.x_m);
            box.y1 = std::max(box.y1, p.y_m);
        }
    return box;
}

/// Moves and stretches all walls of a thing from one upright box to another.
void fitInto(Floor &f, size_t wall, Upright from, Upright to)
{
    const auto map = [](double v, double a0, double a1, double b0, double b1) {
        return a1 > a0 ? b0 + (v - a0) * (b1 - b0) / (a1 - a0) : b0;
    };
    for (const size_t i : wallsOf(f, wall))
        for (auto *p : {&f.walls[i].from, &f.walls[i].to}) {
            p->x_m = map(p->x_m, from.x0, from.x1, to.x0, to.x1);
            p->y_m = map(p->y_m, from.y0, from.y1, to.y0, to.y1);
        }
}

void addBox(std::vector<Number> &all, const Floor &f, size_t wall, Upright box)
{
    const double w = box.x1 - box.x0, d = box.y1 - box.y0;
    all.push_back({"right", Unit::Centimetre, box.x0, 0.0, f.width_m - w, [=](Floor &to, double v) {
                       fitInto(to, wall, box, {v, box.y0, v + w, box.y1});
                   }});
    all.push_back({"up", Unit::Centimetre, box.y0, 0.0, f.depth_m - d, [=](Floor &to, double v) {
                       fitInto(to, wall, box, {box.x0, v, box.x1, v + d});
                   }});
    if (w > 0.0)
        all.push_back(
            {"wide", Unit::Centimetre, w, 0.01, f.width_m - box.x0, [=](Floor &to, double v) {
                 fitInto(to, wall, box, {box.x0, box.y0, box.x0 + v, box.y1});
             }});
    if (d > 0.0)
        all.push_back(
            {"deep", Unit::Centimetre, d, 0.01, f.depth_m - box.y0, [=](Floor &to, double v) {
                 fitInto(to, wall, box, {box.x0, box.y0, box.x1, box.y0 + v});
             }});
}

} // namespace

std::vector<Number> numbersOf(const Floor &f, const Handle &h)
{
    std::vector<Number> all;
    const size_t n = h.index;
    const auto grips = gripsOf(f, h);
    switch (h.kind) {
    case Kind::Start:
        addPlace(all, f, grips[0], "nose, right", "nose, up");
        all.push_back({"looks", Unit::Degree, f.start.heading_rad, -180.0 * degree, 180.0 * degree,
                       [](Floor &to, double v) { to.start.heading_rad = v; }});
        break;
    case Kind::Wall:
        if (const auto box = uprightOf(f, n)) {
            addBox(all, f, n, *box);
            break;
        }
        addPlace(all, f, {{h.kind, n, 0}, f.walls[n].from}, "from, right", "from, up");
        addPlace(all, f, {{h.kind, n, 1}, f.walls[n].to}, "to, right", "to, up");
        break;
    case Kind::Post:
        addPlace(all, f, grips[0], "middle, right", "middle, up");
        all.push_back({"across", Unit::Centimetre, 2.0 * f.posts[n].radius_m, 0.002, 4.0,
                       [n](Floor &to, double v) { to.posts[n].radius_m = v / 2.0; }});
        break;
    case Kind::Line:
        if (h.point)
            addPlace(all, f, grips[*h.point], "point, right", "point, up");
        all.push_back({"wide", Unit::Millimetre, f.lines[n].width_m, 0.001, 0.5,
                       [n](Floor &to, double v) { to.lines[n].width_m = v; }});
        break;
    case Kind::Mover: {
        addPlace(all, f, grips[0], "from, right", "from, up");
        addPlace(all, f, grips[1], "to, right", "to, up");
        const auto &m = f.movers[n];
        all.push_back({"goes right", Unit::MetrePerSecond, m.east_mps, -3.0, 3.0,
                       [n](Floor &to, double v) { to.movers[n].east_mps = v; }});
        all.push_back({"goes up", Unit::MetrePerSecond, m.north_mps, -3.0, 3.0,
                       [n](Floor &to, double v) { to.movers[n].north_mps = v; }});
        all.push_back({"begins at", Unit::Second, m.begins_s, 0.0, 600.0,
                       [n](Floor &to, double v) { to.movers[n].begins_s = v; }});
        all.push_back({"ends at", Unit::Second, m.ends_s, 0.0, 600.0,
                       [n](Floor &to, double v) { to.movers[n].ends_s = v; }});
        break;
    }
    case Kind::Patch: {
        addPlace(all, f, grips[0], "from, right", "from, up");
        addPlace(all, f, grips[1], "to, right", "to, up");
        const auto &p = f.patches[n];
        all.push_back({"gives back", Unit::Count, p.albedo.value_or(f.albedo), 0.0, 1.0,
                       [n](Floor &to, double v) { to.patches[n].albedo = v; }});
        all.push_back({"infrared light", Unit::Count, p.ambient.value_or(f.ambient), 0.0, 1.0,
                       [n](Floor &to, double v) { to.patches[n].ambient = v; }});
        break;
    }
    case Kind::Edge:
        if (h.point)
            addPlace(all, f, grips[*h.point], "point, right", "point, up");
        break;
    }
    return all;
}

std::vector<Number> numbersOf(const Floor &f)
{
    // The plan never leaves out what stands on it.
    double right = 0.1, up = 0.1;
    Floor copy = f;
    const auto hold = [&](Kind kind, size_t count) {
        for (size_t i = 0; i < count; ++i)
            for (const auto *p : pointsOf(copy, {kind, i, {}})) {
                right = std::max(right, p->x_m);
                up = std::max(up, p->y_m);
            }
    };
    hold(Kind::Start, 1);
    hold(Kind::Wall, f.walls.size());
    hold(Kind::Post, f.posts.size());
    hold(Kind::Line, f.lines.size());
    hold(Kind::Mover, f.movers.size());
    hold(Kind::Patch, f.patches.size());
    hold(Kind::Edge, 1);
    return {{"plan, wide", Unit::Centimetre, f.width_m, right, 100.0,
             [](Floor &to, double v) { to.width_m = v; }},
            {"plan, deep", Unit::Centimetre, f.depth_m, up, 100.0,
             [](Floor &to, double v) { to.depth_m = v; }},
            {"air", Unit::Celsius, f.air_degC, -40.0, 60.0,
             [](Floor &to, double v) { to.air_degC = v; }},
            {"floor gives back", Unit::Count, f.albedo, 0.0, 1.0,
             [](Floor &to, double v) { to.albedo = v; }},
            {"infrared light", Unit::Count, f.ambient, 0.0, 1.0,
             [](Floor &to, double v) { to.ambient = v; }}};
}

} // namespace badger::floor
