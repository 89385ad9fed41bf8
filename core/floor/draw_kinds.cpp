// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/floor/draw_kinds.h"

#include "core/base/exact_math.h"
#include "core/base/noise.h"

#include <algorithm>
#include <cmath>

namespace badger::floor
{

namespace
{

/// Behind the car's nose there is so much of the plan.
constexpr double behind_m = 1.0;
constexpr double beside_m = 1.0;

void box(Floor &f, const std::string &name, double x, double y, double w, double d)
{
    const Point a{x, y}, b{x + w, y}, c{x + w, y + d}, e{x, y + d};
    for (const auto &[from, to] : {std::pair(a, b), {b, c}, {c, e}, {e, a}})
        f.walls.push_back({name, from, to, {}, Face::Board});
}

void room(Floor &f, double w, double d)
{
    f.width_m = w;
    f.depth_m = d;
    f.walls.push_back({"west wall", {0, 0}, {0, d}, {}, Face::Board});
    f.walls.push_back({"north wall", {0, d}, {w, d}, {}, Face::Board});
    f.walls.push_back({"east wall", {w, d}, {w, 0}, {}, Face::Board});
    f.walls.push_back({"south wall", {w, 0}, {0, 0}, {}, Face::Board});
}

/// A board of a width about a middle; at 0 it stands across the way, a positive angle has its left
/// end nearer.
Wall across(const std::string &name, Point middle, double width, double angle_rad, Face face)
{
    const auto a = exact::sineCosine(angle_rad);
    const double h = width / 2.0;
    return {name,
            {middle.x_m - h * a.sine, middle.y_m + h * a.cosine},
            {middle.x_m + h * a.sine, middle.y_m - h * a.cosine},
            {},
            face};
}

/// The plan is large enough for a way ahead of the nose, and half as much to each side.
void straightPlan(Floor &f, double ahead, double wide)
{
    f.width_m = behind_m + ahead + beside_m;
    f.depth_m = std::max(2.0 * beside_m, wide + 0.4);
    f.start.nose = {behind_m, f.depth_m / 2.0};
}

std::vector<Point> roundedRing(double w, double d, double r, double cx, double cy, double out)
{
    // The middle line of a rectangle with round corners, moved outwards.
    std::vector<Point> points;
    const double hw = w / 2.0 - r;
    const double hd = d / 2.0 - r;
    const double radius = r + out;
    constexpr int pieces = 18; // a corner
    // From the middle of the lower side, counter-clockwise.
    points.push_back({cx, cy - d / 2.0 - out});
    for (int corner = 0; corner < 4; ++corner) {
        const double x = cx + (corner == 0 || corner == 1 ? hw : -hw);
        const double y = cy + (corner == 1 || corner == 2 ? hd : -hd);
        for (int i = 0; i <= pieces; ++i) {
            const auto a = exact::sineCosine((corner - 1 + double(i) / pieces) * exact::pi / 2.0);
            points.push_back({x + radius * a.cosine, y + radius * a.sine});
        }
    }
    return points;
}

void mat(Floor &f, double w, double d)
{
    constexpr double rim = 0.35;
    f.width_m = w + 2.0 * rim;
    f.depth_m = d + 2.0 * rim;
    // On the lower straight, looking along it, with its sensors over the line.
    f.start.nose = {f.width_m / 2.0 - w / 8.0, rim};
}

} // namespace

void straight(Floor &f, const Values &v)
{
    straightPlan(f, v["distance"] + v["width"], v["width"]);
    const auto face = v.is("soft", "no")      ? Face::Board
                      : v.is("soft", "cloth") ? Face::Cloth
                                              : Face::Foam;
    f.walls.push_back(
        across("board", {behind_m + v["distance"], f.depth_m / 2.0}, v["width"], v["angle"], face));
}

void boxes(Floor &f, const Values &v)
{
    room(f, v["width"], v["depth"]);
    f.start.nose = {std::min(0.5, f.width_m / 3.0), f.depth_m / 2.0};
    Noise noise(static_cast<std::uint64_t>(v["seed"]));
    const int wanted = static_cast<int>(v["boxes"]);
    int made = 0;
    for (int tries = 0; made < wanted && tries < 2000; ++tries) {
        const double w = 0.15 + 0.25 * noise.uniform();
        const double d = 0.15 + 0.25 * noise.uniform();
        const double x = noise.uniform() * (f.width_m - w);
        const double y = noise.uniform() * (f.depth_m - d);
        const auto apart = [&](double ax, double ay, double aw, double ad, double gap) {
            return x > ax + aw + gap || ax > x + w + gap || y > ay + ad + gap || ay > y + d + gap;
        };
        // Clear of the start, and a way of 35 cm between boxes.
        bool free = apart(f.start.nose.x_m - 0.45, f.start.nose.y_m - 0.3, 0.8, 0.6, 0.0);
        for (size_t i = 4; i < f.walls.size(); i += 4) {
            const auto &a = f.walls[i].from;
            const auto &c = f.walls[i + 1].to;
            free &= apart(a.x_m, a.y_m, c.x_m - a.x_m, c.y_m - a.y_m, 0.35);
        }
        if (free)
            box(f, "box " + std::to_string(++made), x, y, w, d);
    }
}

void corridor(Floor &f, const Values &v)
{
    room(f, v["length"], v["width"]);
    f.start.nose = {std::min(0.5, f.width_m / 3.0), f.depth_m / 2.0};
    const double x = v["at"];
    const double side = (v["width"] - v["doorway"]) / 2.0;
    if (side <= 0.001)
        return;
    f.walls.push_back(
        {"doorway, left post", {x, f.depth_m}, {x, f.depth_m - side}, {}, Face::Board});
    f.walls.push_back({"doorway, right post", {x, side}, {x, 0}, {}, Face::Board});
}

void corner(Floor &f, const Values &v)
{
    // Two walls that meet ahead on the middle line, opening towards the car.
    straightPlan(f, v["distance"], 3.0);
    const Point at{behind_m + v["distance"], f.depth_m / 2.0};
    const auto half = exact::sineCosine(v["angle"] / 2.0);
    constexpr double long_m = 1.5;
    f.walls.push_back({"left wall",
                       at,
                       {at.x_m - long_m * half.cosine, at.y_m + long_m * half.sine},
                       {},
                       Face::Board});
    f.walls.push_back({"right wall",
                       at,
                       {at.x_m - long_m * half.cosine, at.y_m - long_m * half.sine},
                       {},
                       Face::Board});
}

void pocket(Floor &f, const Values &v)
{
    constexpr double before_m = 0.8;
    straightPlan(f, before_m + v["depth"], 2.0);
    const double x = behind_m + before_m;
    const double far = x + v["depth"];
    const double y = f.depth_m / 2.0;
    const double h = v["width"] / 2.0;
    f.walls = {{"left lip", {x, f.depth_m}, {x, y + h}, {}, Face::Board},
               {"left wall", {x, y + h}, {far, y + h}, {}, Face::Board},
               {"back wall", {far, y + h}, {far, y - h}, {}, Face::Board},
               {"right wall", {far, y - h}, {x, y - h}, {}, Face::Board},
               {"right lip", {x, y - h}, {x, 0}, {}, Face::Board}};
}

void ring(Floor &f, const Values &v)
{
    constexpr int pieces = 36;
    const double r = v["diameter"] / 2.0;
    f.width_m = f.depth_m = 2.0 * r + 0.2;
    const double m = r + 0.1;
    const auto at = [&](int i) {
        const auto a = exact::sineCosine(2.0 * exact::pi * (i % pieces) / pieces);
        return Point{m + r * a.cosine, m + r * a.sine};
    };
    for (int i = 0; i < pieces; ++i)
        f.walls.push_back({"ring", at(i), at(i + 1), {}, Face::Board});
    f.start.nose = {m, m};
}

void sideWall(Floor &f, const Values &v)
{
    straightPlan(f, v["length"], 2.0);
    // To the car's left; `distance` is to its side, which is not known here: from its middle line.
    const double y = f.depth_m / 2.0 + v["distance"];
    f.walls.push_back({"wall", {0.2, y}, {behind_m + v["length"], y}, {}, Face::Board});
}

void post(Floor &f, const Values &v)
{
    straightPlan(f, v["ahead"], 2.0 * std::abs(v["left"]) + 1.0);
    f.posts.push_back(
        {"post", {behind_m + v["ahead"], f.depth_m / 2.0 + v["left"]}, v["diameter"] / 2.0, {}});
}

void doorway(Floor &f, const Values &v)
{
    straightPlan(f, v["ahead"], 2.0 * (std::abs(v["left"]) + v["gap"] / 2.0 + v["diameter"]) + 1.0);
    const double x = behind_m + v["ahead"];
    const double middle = f.depth_m / 2.0 + v["left"];
    const double left = middle + v["gap"] / 2.0;
    const double right = middle - v["gap"] / 2.0;
    if (v.is("sides", "posts")) {
        const double r = v["diameter"] / 2.0;
        f.posts = {{"left post", {x, left + r}, r, {}}, {"right post", {x, right - r}, r, {}}};
        return;
    }
    f.walls = {{"left wall", {x, f.depth_m}, {x, left}, {}, Face::Board},
               {"right wall", {x, right}, {x, 0}, {}, Face::Board}};
}

void target(Floor &f, const Values &v)
{
    constexpr double begins_s = 1.0;
    straightPlan(f, v["distance"] + std::max(0.0, v["away"]), v["width"]);
    const auto face =
        across("target", {behind_m + v["distance"], f.depth_m / 2.0}, v["width"], 0.0, Face::Board);
    Mover board;
    board.name = face.name;
    board.from = face.from;
    board.to = face.to;
    board.east_mps = v["away"] / v["takes"];
    board.begins_s = begins_s;
    board.ends_s = begins_s + v["takes"];
    f.movers.push_back(std::move(board));
}

void table(Floor &f, const Values &v)
{
    // The edge ahead crosses the way at an angle; a positive one is nearer at the left.
    const double w = v["width"];
    const double d = v["depth"];
    constexpr double rim = 0.3; // of the plan beyond the table
    f.width_m = w + 2.0 * rim + 0.5 * d;
    f.depth_m = d + 2.0 * rim;
    const double y = f.depth_m / 2.0;
    const double slope = std::tan(v["angle"]);
    const double far = rim + w;
    f.edge = {
        {rim, rim}, {far + slope * d / 2.0, rim}, {far - slope * d / 2.0, rim + d}, {rim, rim + d}};
    f.start.nose = {far - v["ahead"], y};
}

void loop(Floor &f, const Values &v)
{
    mat(f, v["length"], v["width"]);
    const bool light = v.is("colour", "light");
    if (light)
        f.albedo = darkAlbedo;
    f.lines.push_back(
        {"line",
         roundedRing(v["length"], v["width"], v["radius"], f.width_m / 2.0, f.depth_m / 2.0, 0.0),
         v["line"],
         true,
         light,
         {}});
}

void lane(Floor &f, const Values &v)
{
    mat(f, v["length"], v["width"]);
    const double away = (v["inner"] + v["line"]) / 2.0;
    for (const auto &[name, out] : {std::pair("outer line", away), {"inner line", -away}})
        f.lines.push_back({name,
                           roundedRing(v["length"], v["width"], v["radius"], f.width_m / 2.0,
                                       f.depth_m / 2.0, out),
                           v["line"],
                           true,
                           false,
                           {}});
}

void crossing(Floor &f, const Values &v)
{
    constexpr double w = 1.6, d = 0.8;
    mat(f, w, d);
    Line l{"line", {}, v["line"], true, false, {}};
    constexpr int pieces = 240;
    for (int i = 0; i < pieces; ++i) {
        const double t = 2.0 * exact::pi * i / pieces;
        l.points.push_back({f.width_m / 2.0 + w / 2.0 * exact::sineCosine(t).sine,
                            f.depth_m / 2.0 + d / 2.0 * exact::sineCosine(2.0 * t).sine});
    }
    // At a low turn, where the line runs level.
    const auto low = std::min_element(l.points.begin(), l.points.end(),
                                      [](const Point &a, const Point &b) { return a.y_m < b.y_m; });
    f.start.nose = *low;
    const auto &next = l.points[static_cast<size_t>(low - l.points.begin() + 1) % l.points.size()];
    f.start.heading_rad = next.x_m > low->x_m ? 0.0 : exact::pi;
    f.lines.push_back(std::move(l));
}

} // namespace badger::floor
