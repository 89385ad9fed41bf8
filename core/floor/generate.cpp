// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/floor/generate.h"

#include "core/base/exact_math.h"
#include "core/base/named.h"
#include "core/base/noise.h"

#include <algorithm>
#include <charconv>
#include <cmath>
#include <functional>

namespace badger::floor
{

namespace
{

using units::Unit;

/// Behind the car's nose there is so much of the plan.
constexpr double behind_m = 1.0;
constexpr double beside_m = 1.0;

/// The values of one floor, by key: SI numbers, counts and words.
struct Values {
    std::map<std::string, double> numbers;
    std::map<std::string, std::string> words;
    double operator[](const char *key) const { return numbers.at(key); }
    bool is(const char *key, const char *word) const { return words.at(key) == word; }
};

using Draw = std::function<void(Floor &, const Values &)>;

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

struct Made {
    Generator generator;
    Draw draw;
};

Key length(const char *name, const char *what, const char *first, double low, double high)
{
    return {name, what, first, Unit::Metre, low, high, {}, false};
}
Key angle(const char *name, const char *what, const char *first, double low_deg, double high_deg)
{
    return {
        name, what, first, Unit::Radian, low_deg * exact::pi / 180.0, high_deg * exact::pi / 180.0,
        {},   false};
}
Key count(const char *name, const char *what, const char *first, double low, double high)
{
    return {name, what, first, Unit::Count, low, high, {}, true};
}
Key choice(const char *name, const char *what, std::vector<std::string> words)
{
    const auto first = words.front();
    return {name, what, first, Unit::Count, 0.0, 0.0, std::move(words), false};
}

const std::vector<Made> &made()
{
    static const std::vector<Made> list = [] {
        const auto line = length("line", "width of the line", "19mm", 0.003, 0.1);
        const auto radius = length("radius", "of the bends", "30cm", 0.05, 5.0);
        std::vector<Made> all = {
            {{"straight",
              "a flat board across the way",
              {length("distance", "from the nose to the board", "1.8m", 0.05, 20),
               angle("angle", "the board's turn; positive: its left end is nearer", "0deg", -60,
                     60),
               length("width", "of the board", "60cm", 0.02, 10),
               choice("soft", "what the board is", {"no", "cloth", "foam"})}},
             straight},
            {{"room",
              "four walls with boxes in between",
              {length("width", "along the way", "3.6m", 0.8, 50),
               length("depth", "across", "2.8m", 0.8, 50),
               count("boxes", "as many as find room", "3", 0, 40),
               count("seed", "where they stand", "1", 1, 999999)}},
             boxes},
            {{"corridor",
              "two long walls with a doorway",
              {length("width", "between the walls", "95cm", 0.2, 10),
               length("length", "of the corridor", "5m", 1, 50),
               length("doorway", "its width", "42cm", 0.05, 10),
               length("at", "from the left end", "2.5m", 0.8, 49)}},
             corridor},
            {{"corner",
              "two walls that meet ahead",
              {angle("angle", "between them", "90deg", 20, 170),
               length("distance", "from the nose to the corner", "1.5m", 0.3, 20)}},
             corner},
            {{"pocket",
              "a dead end with a mouth",
              {length("width", "of the mouth", "50cm", 0.15, 5),
               length("depth", "of the pocket", "80cm", 0.1, 10)}},
             pocket},
            {{"ring", "a round wall all about", {length("diameter", "inside", "2m", 0.6, 20)}},
             ring},
            {{"side-wall",
              "a wall along the way, to the left",
              {length("length", "ahead of the nose", "3m", 0.5, 40),
               length("distance", "from the car's middle line", "25cm", 0.05, 3)}},
             sideWall},
            {{"post",
              "one round post",
              {length("diameter", "of the post", "5cm", 0.003, 2),
               length("ahead", "from the nose to its middle", "1m", 0.1, 20),
               length("left", "of the middle line", "0cm", -3, 3)}},
             post},
            {{"table",
              "a table with an edge all round",
              {length("width", "along the way", "1.6m", 0.4, 10),
               length("depth", "across", "80cm", 0.3, 10),
               length("ahead", "from the nose to the edge", "80cm", 0.1, 9),
               angle("angle", "the edge's turn; positive: nearer at the left", "0deg", -50, 50)}},
             table},
            {{"loop",
              "one line, closed, with round bends",
              {length("length", "along the way", "1.8m", 0.4, 20),
               length("width", "across", "1.1m", 0.3, 20), radius, line,
               choice("colour", "of the line", {"dark", "light"})}},
             loop},
            {{"lane",
              "two lines beside each other, closed",
              {length("length", "along the way", "1.8m", 0.4, 20),
               length("width", "across", "1.1m", 0.3, 20), radius, line,
               length("inner", "between the lines", "42mm", 0.01, 0.5)}},
             lane},
            {{"crossing", "a figure of one line that crosses itself", {line}}, crossing}};
        for (auto &m : all) {
            m.generator.keys.push_back({"air", "today", "20C", Unit::Celsius, -40, 60, {}, false});
            m.generator.keys.push_back(choice("surface", "of the floor", {"smooth", "rough"}));
        }
        return all;
    }();
    return list;
}

Say namesOf(const std::vector<Key> &keys)
{
    std::vector<Say> names;
    for (const auto &k : keys)
        names.emplace_back(k.name);
    return joined(names, ", ");
}

Result<void> take(Values &to, const Key &key, const std::string &text)
{
    const auto where = say("--set {}", key.name);
    if (!key.words.empty()) {
        if (std::find(key.words.begin(), key.words.end(), text) == key.words.end()) {
            std::vector<Say> words;
            for (const auto &w : key.words)
                words.emplace_back(w);
            return fail(Error::Kind::Malformed, where, say("'{}' is none of its words", text),
                        say("use one of: {}", joined(words, ", ")));
        }
        to.words[key.name] = text;
        return {};
    }
    double value = 0.0;
    if (key.count) {
        const auto [end, error] = std::from_chars(text.data(), text.data() + text.size(), value);
        if (error != std::errc{} || end != text.data() + text.size() || value != std::floor(value))
            return fail(Error::Kind::Malformed, where, say("'{}' is no whole number", text),
                        say("give a whole number without a unit"));
    } else {
        const auto dimension = units::info(key.unit).dimension;
        const auto read = units::parse(text, dimension, key.name);
        if (!read)
            return tl::unexpected(read.error());
        value = *read;
    }
    constexpr double rounding = 1e-9;
    if (!(value >= key.low - rounding && value <= key.high + rounding)) {
        const auto unit = key.unit == Unit::Radian  ? Unit::Degree
                          : key.unit == Unit::Metre ? Unit::Centimetre
                                                    : key.unit;
        return fail(Error::Kind::OutOfRange, where,
                    key.count
                        ? say("{} is outside {} to {}", static_cast<long>(value),
                              static_cast<long>(key.low), static_cast<long>(key.high))
                        : say("{} is outside {} to {}", units::quantity(value, unit),
                              units::quantity(key.low, unit), units::quantity(key.high, unit)),
                    say("choose a value between them"));
    }
    to.numbers[key.name] = value;
    return {};
}

/// What single ranges can't say.
Result<void> together(std::string_view kind, const Values &v)
{
    const auto refuse = [&](Say what) {
        return fail(Error::Kind::Conflict, say("floor of kind {}", std::string(kind)),
                    std::move(what), say("change one of the two"));
    };
    if (kind == "corridor" && v["doorway"] > v["width"])
        return refuse(say("the doorway is wider than the corridor"));
    if (kind == "corridor" && v["at"] > v["length"] - 0.1)
        return refuse(say("the doorway would stand beyond the corridor's end"));
    if (kind == "table" && v["ahead"] > v["width"] - 0.25)
        return refuse(say("the car would not stand on the table"));
    if (kind == "table" && std::abs(std::tan(v["angle"])) * v["depth"] / 2.0 > v["width"] - 0.3)
        return refuse(say("the edge is too slanted for so short a table"));
    if ((kind == "loop" || kind == "lane") &&
        v["radius"] > std::min(v["length"], v["width"]) / 2.0 + 1e-9)
        return refuse(say("the bends are wider than the figure"));
    if (kind == "lane" && v["radius"] < v["inner"] / 2.0 + v["line"])
        return refuse(say("the inner line's bends would turn inside out"));
    return {};
}

} // namespace

const std::vector<Generator> &generators()
{
    static const std::vector<Generator> list = [] {
        std::vector<Generator> all;
        for (const auto &m : made())
            all.push_back(m.generator);
        return all;
    }();
    return list;
}

const Generator *generator(std::string_view name)
{
    return named(generators(), name);
}

Result<Floor> generate(std::string_view kind, const std::map<std::string, std::string> &set,
                       const std::string &name)
{
    const auto it = std::find_if(made().begin(), made().end(),
                                 [&](const Made &m) { return m.generator.name == kind; });
    if (it == made().end()) {
        std::vector<Say> kinds;
        for (const auto &m : made())
            kinds.emplace_back(m.generator.name);
        return fail(Error::Kind::Missing, "--from",
                    say("there is no kind of floor '{}'", std::string(kind)),
                    say("use one of: {}", joined(kinds, ", ")));
    }
    const auto &keys = it->generator.keys;
    for (const auto &[key, value] : set)
        if (named(keys, key) == nullptr)
            return fail(Error::Kind::Missing, say("--set {}", key),
                        say("a floor of kind {} has no '{}'", std::string(kind), key),
                        say("use one of: {}", namesOf(keys)));
    Values values;
    for (const auto &k : keys) {
        const auto given = set.find(k.name);
        if (auto ok = take(values, k, given == set.end() ? k.first : given->second); !ok)
            return tl::unexpected(ok.error());
    }
    if (auto ok = together(kind, values); !ok)
        return tl::unexpected(ok.error());
    Floor f;
    f.name = name;
    f.air_degC = values["air"];
    f.rough = values.is("surface", "rough");
    f.surface = f.rough ? "rough boards" : "smooth boards";
    it->draw(f, values);
    return f;
}

std::vector<Floor> firstFloors()
{
    std::vector<Floor> all;
    for (const auto &[kind, name] : {std::pair("straight", "Straight board"),
                                     {"room", "Room with boxes"},
                                     {"loop", "Loop mat"}})
        all.push_back(*generate(kind, {}, name));
    return all;
}

} // namespace badger::floor
