// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/floor/generate.h"

#include "core/base/exact_math.h"
#include "core/base/named.h"
#include "core/floor/draw_kinds.h"

#include <algorithm>
#include <charconv>
#include <cmath>
#include <functional>

namespace badger::floor
{

namespace
{

using units::Unit;

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
            {{"doorway",
              "a free way between two posts or walls",
              {length("gap", "between their faces", "50cm", 0.1, 5),
               length("left", "of its middle; negative: to the right", "0cm", -2, 2),
               length("ahead", "from the nose to its plane", "1.5m", 0.1, 20),
               choice("sides", "what stands beside the way", {"posts", "walls"}),
               length("diameter", "of the posts", "5cm", 0.003, 1)}},
             doorway},
            {{"target",
              "a board that moves along the way",
              {length("distance", "from the nose as it begins", "40cm", 0.05, 10),
               length("away", "how far it goes; negative: nearer", "60cm", -9, 9),
               Key{"takes", "for that, after one second", "6s", Unit::Second, 0.2, 60, {}, false},
               length("width", "of the board", "30cm", 0.02, 5)}},
             target},
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
    constexpr double least_m = 0.02;
    if (kind == "target" && v["distance"] + v["away"] < least_m)
        return refuse(say("the target would drive into the car"));
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
