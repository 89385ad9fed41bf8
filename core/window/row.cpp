// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/window/row.h"

#include "core/base/angle.h"
#include "core/base/named.h"
#include "core/base/noise.h"
#include "core/units/quantity.h"

#include <fmt/format.h>

namespace badger::window
{

using task::Kind;
using units::Unit;

namespace
{

using floor::Key;

/// What is no floor: of the car or the day.
const Key *other(const std::string &kind)
{
    return named(varied(), kind);
}

bool isPlace(const std::string &kind)
{
    return kind == "here" || kind == "reversed";
}

/// As it would be typed.
std::string typed(double si, Unit unit)
{
    if (unit == Unit::Radian)
        return fmt::format("{:.12g}deg", si / degree);
    if (unit == Unit::Metre)
        return fmt::format("{:.12g}cm", si * 100.0);
    return fmt::format("{:.12g}{}", si,
                       unit == Unit::Celsius  ? "C"
                       : unit == Unit::Second ? "s"
                                              : "");
}

Error unknownKind(const std::string &kind)
{
    std::vector<Say> names;
    for (const auto &g : floor::generators())
        names.emplace_back(g.name);
    for (const auto *place : {"here", "reversed"})
        names.emplace_back(place);
    for (const auto &o : varied())
        names.emplace_back(o.name);
    return {Error::Kind::Missing, "--row", say("there is no condition of kind '{}'", kind),
            say("use one of: {}", joined(names, ", "))};
}

Result<double> number(const std::string &text, Unit unit, const std::string &where)
{
    if (unit != Unit::Count)
        return units::parse(text, units::info(unit).dimension, where);
    char *end = nullptr;
    const double value = std::strtod(text.c_str(), &end);
    if (text.empty() || end != text.c_str() + text.size())
        return fail(Error::Kind::Malformed, where, say("'{}' is no number", text),
                    say("give a number without a unit"));
    return value;
}

Result<Range> rangeOf(const std::string &text, Unit unit, double low, double high,
                      const std::string &where)
{
    const auto dots = text.find("..");
    const auto from = number(text.substr(0, dots), unit, where);
    if (!from)
        return tl::unexpected(from.error());
    const auto to = dots == std::string::npos ? from : number(text.substr(dots + 2), unit, where);
    if (!to)
        return tl::unexpected(to.error());
    constexpr double rounding = 1e-9;
    if (!(*from >= low - rounding && *to <= high + rounding && *from <= *to)) {
        const auto shown = unit == Unit::Radian ? Unit::Degree : unit;
        return fail(Error::Kind::OutOfRange, where,
                    *from > *to ? say("the range '{}' falls", text)
                                : say("'{}' is outside {} to {}", text, units::quantity(low, shown),
                                      units::quantity(high, shown)),
                    say("write the lower end first, both inside that range"));
    }
    return Range{*from, *to};
}

} // namespace

const std::vector<Key> &varied()
{
    static const std::vector<Key> all = {
        {"charge",
         "of the cells that is used: 0 fresh, 1 nearly empty",
         "0",
         Unit::Count,
         0.0,
         1.0,
         {},
         false},
        {"speed", "factor of both wheels", "1", Unit::Count, 0.3, 3.0, {}, false},
        {"wheels", "factor of the right wheel alone", "1", Unit::Count, 0.3, 3.0, {}, false},
        {"air", "today", "20C", Unit::Celsius, -40.0, 60.0, {}, false}};
    return all;
}

Result<Row> rowOf(const std::string &text)
{
    Row row;
    const auto colon = text.find(':');
    row.kind = text.substr(0, colon);
    auto rest = colon == std::string::npos ? std::string() : text.substr(colon + 1);
    const auto *generator = floor::generator(row.kind);
    const auto *car = other(row.kind);
    if (generator == nullptr && car == nullptr && !isPlace(row.kind))
        return tl::unexpected(unknownKind(row.kind));
    const auto where = "--row " + row.kind;
    if (car != nullptr) {
        const auto range = rangeOf(rest, car->unit, car->low, car->high, where);
        if (!range)
            return tl::unexpected(range.error());
        row.drawn[row.kind] = *range;
    }
    if (isPlace(row.kind) && !rest.empty())
        return fail(Error::Kind::Malformed, where, say("it takes no range"),
                    say("write the word alone"));
    while (generator != nullptr && !rest.empty()) {
        const auto comma = rest.find(',');
        const auto one = rest.substr(0, comma);
        rest = comma == std::string::npos ? std::string() : rest.substr(comma + 1);
        const auto equals = one.find('=');
        const auto key = one.substr(0, equals);
        const auto *known = named(generator->keys, key);
        const auto *ofCar = known == nullptr ? other(key) : nullptr;
        if (ofCar != nullptr && equals != std::string::npos) {
            const auto range =
                rangeOf(one.substr(equals + 1), ofCar->unit, ofCar->low, ofCar->high, where);
            if (!range)
                return tl::unexpected(range.error());
            row.drawn[key] = *range;
            continue;
        }
        if (known == nullptr || equals == std::string::npos) {
            std::vector<Say> keys;
            for (const auto &k : generator->keys)
                keys.emplace_back(k.name);
            for (const auto *varied : {"charge", "speed", "wheels"})
                keys.emplace_back(varied);
            return fail(Error::Kind::Missing, where, say("a {} has no '{}'", row.kind, key),
                        say("write key=value or key=from..to with one of: {}", joined(keys, ", ")));
        }
        const auto value = one.substr(equals + 1);
        if (value.find("..") == std::string::npos) {
            row.set[key] = value;
            continue;
        }
        if (!known->words.empty() || known->count)
            return fail(Error::Kind::Malformed, where, say("'{}' has no range", key),
                        say("give one value"));
        const auto range = rangeOf(value, known->unit, known->low, known->high, where);
        if (!range)
            return tl::unexpected(range.error());
        row.drawn[key] = *range;
    }
    if (generator != nullptr) { // what is fixed has to be right before anything is driven
        auto set = row.set;
        for (const auto &[key, range] : row.drawn)
            if (const auto *known = named(generator->keys, key))
                set[key] = typed(range.low, known->unit);
        if (const auto made = floor::generate(row.kind, set, row.kind); !made)
            return tl::unexpected(made.error());
    }
    row.label = labelOf(row);
    row.reason = say("asked for");
    row.asked = true;
    return row;
}

std::string typedOf(const Row &row, const std::string &key)
{
    if (const auto set = row.set.find(key); set != row.set.end())
        return set->second;
    const auto range = row.drawn.find(key);
    if (range == row.drawn.end())
        return {};
    const auto *generator = floor::generator(row.kind);
    const auto *known = generator ? named(generator->keys, key) : nullptr;
    const auto unit = known ? known->unit : other(key) ? other(key)->unit : Unit::Count;
    const auto low = typed(range->second.low, unit);
    return range->second.low == range->second.high ? low
                                                   : low + ".." + typed(range->second.high, unit);
}

bool sameRuns(const Row &a, const Row &b)
{
    return a.kind == b.kind && a.set == b.set && a.drawn == b.drawn;
}

Say labelOf(const Row &row)
{
    std::vector<Say> parts;
    for (const auto &[key, value] : row.set)
        parts.push_back(say("{} {}", key, value));
    const auto *generator = floor::generator(row.kind);
    for (const auto &[key, range] : row.drawn) {
        const auto *known = generator ? named(generator->keys, key) : nullptr;
        const auto *car = other(key);
        auto unit = known ? known->unit : car ? car->unit : Unit::Count;
        unit = unit == Unit::Radian ? Unit::Degree : unit == Unit::Metre ? Unit::Centimetre : unit;
        const auto shown = [&](double value) {
            return unit == Unit::Count    ? say("{}", units::number(value, 3))
                   : unit == Unit::Degree ? say("{}°", units::number(value / degree, 3))
                                          : say("{}", units::quantity(value, unit));
        };
        const auto low = shown(range.low);
        const auto high = shown(range.high);
        const auto what =
            range == Range{range.low, range.low} ? say("{}", low) : say("{} to {}", low, high);
        parts.push_back(generator ? say("{} {}", car ? say("{} ×", key) : Say(key), what) : what);
    }
    if (row.kind == "here")
        return say("this floor");
    if (row.kind == "reversed")
        return say("the other way round");
    return parts.empty() ? Say(row.kind) : say("{}: {}", row.kind, joined(parts, ", "));
}

namespace
{

std::string mm(double m)
{
    return fmt::format("{:.0f}mm", m * 1000.0);
}

Row made(std::string kind, std::map<std::string, std::string> set, Say label, Say reason)
{
    return {std::move(kind), std::move(set), {}, std::move(label), std::move(reason)};
}
Row drawn(const char *kind, Range range, Say label, Say reason)
{
    return {kind, {}, {{kind, range}}, std::move(label), std::move(reason)};
}

void addAhead(const Proposing &car, std::vector<Row> &rows)
{
    constexpr double post_m = 0.05;
    rows.push_back(made("straight", {{"distance", "1.2m"}}, say("square board"),
                        say("The kindest case: what it needs here it needs everywhere.")));
    rows.push_back(made("straight", {{"distance", "1.2m"}, {"angle", "10deg"}}, say("board at 10°"),
                        say("Its corner meets a slanted board first.")));
    rows.push_back(made("straight", {{"distance", "1.2m"}, {"angle", "18deg"}}, say("board at 18°"),
                        say("A face that leans away is heard late, and the corner comes first.")));
    rows.push_back(
        made("post", {{"ahead", "1.2m"}, {"diameter", mm(post_m)}, {"left", mm(car.halfWidth_m)}},
             say("post at the corner"),
             say("Beside a narrow beam the car is wider than what it hears.")));
    rows.push_back(made("post", {{"ahead", "1.2m"}, {"diameter", "25mm"}}, say("bench leg"),
                        say("A thin round leg answers faintly.")));
    rows.push_back(made("straight", {{"distance", "1.2m"}, {"soft", "cloth"}}, say("folded cloth"),
                        say("Soft things swallow most of a ping.")));
    // A way that is free, with a post nearer on one side than on the other.
    constexpr double beside_m = 0.06;
    constexpr double farther_m = 0.24;
    rows.push_back(made("doorway",
                        {{"ahead", "1m"},
                         {"gap", mm(2.0 * car.halfWidth_m + beside_m + farther_m)},
                         {"left", mm((beside_m - farther_m) / 2.0)},
                         {"diameter", mm(post_m)}},
                        say("doorway"),
                        say("The way is free, but who stops too early for a post beside it stays "
                            "outside.")));
}

/// For a car that holds a distance to what stands ahead.
void addTargets(const Proposing &car, std::vector<Row> &rows)
{
    if (!car.ahead)
        return;
    rows.push_back(made("target", {{"distance", "60cm"}, {"away", "60cm"}, {"takes", "6s"}},
                        say("target goes away"),
                        say("It has to be followed before it is out of reach.")));
    rows.push_back(made("target", {{"distance", "80cm"}, {"away", "-30cm"}, {"takes", "6s"}},
                        say("target comes nearer"),
                        say("Both ways are driven at once, and the car has to give way.")));
}

void addCar(const Proposing &car, std::vector<Row> &rows)
{
    if (car.cells) {
        rows.push_back(
            drawn("charge", {0.0, 0.0}, say("fresh cells"), say("Fresh cells drive fastest.")));
        rows.push_back(drawn("charge", {0.9, 1.0}, say("near empty"),
                             say("Slow wheels may stall, and turn less in a time.")));
    }
    auto unequal = drawn("wheels", {0.97, 1.03}, say("unequal wheels"),
                         say("One wheel is faster, and the car comes at an angle."));
    if (car.task == Kind::Stops) { // to a board that it can't miss
        unequal.kind = "straight";
        unequal.set = {{"distance", "1.2m"}};
    }
    rows.push_back(std::move(unequal));
}

} // namespace

std::vector<Row> proposedRows(const Proposing &car)
{
    std::vector<Row> rows;
    rows.push_back(made("here", {}, say("this floor"), say("The floor that was chosen.")));
    rows.back().asked = true;
    switch (car.task) {
    case Kind::Stops:
        addAhead(car, rows);
        break;
    case Kind::KeepsMoving:
        if (car.rangers) {
            rows.push_back(made("room", {}, say("room with boxes"),
                                say("Walls from all sides, boxes in between.")));
            rows.push_back(made("corner", {}, say("corner of a room"),
                                say("Two walls answer at once, and a turn ends before the next.")));
            rows.push_back(made("pocket", {}, say("dead end"),
                                say("Both sides are shut: it has to come out again.")));
        }
        break;
    case Kind::FollowsLine:
        rows.push_back(made("reversed", {}, say("the other way round"),
                            say("A bend that it takes to the left it meets to the right.")));
        break;
    case Kind::StaysOnTable:
        for (const int angle : {0, 20, 40})
            rows.push_back(made("table", {{"angle", fmt::format("{}deg", angle)}},
                                say("edge at {}°", static_cast<long>(angle)),
                                say("A slanted edge comes under one wheel first.")));
        break;
    case Kind::Holds:
        addTargets(car, rows);
        break;
    }
    addCar(car, rows);
    return rows;
}

namespace
{

Result<floor::Floor> floorOf(const Row &row, const floor::Floor &here,
                             const std::map<std::string, double> &numbers)
{
    auto floor = here;
    if (const auto *generator = floor::generator(row.kind)) {
        auto set = row.set;
        if (set.count("air") == 0)
            set["air"] = typed(here.air_degC, Unit::Celsius);
        for (const auto &[key, value] : numbers)
            if (const auto *known = named(generator->keys, key))
                set[key] = typed(value, known->unit);
        auto made = floor::generate(row.kind, set, row.kind);
        if (!made)
            return made;
        floor = std::move(*made);
    }
    if (const auto air = numbers.find("air"); row.kind == "air" && air != numbers.end())
        floor.air_degC = air->second;
    return floor;
}

} // namespace

Result<floor::Floor> floorAt(const Row &row, const floor::Floor &here, double share)
{
    std::map<std::string, double> numbers;
    for (const auto &[key, range] : row.drawn)
        numbers[key] = range.low + (range.high - range.low) * share;
    return floorOf(row, here, numbers);
}

Result<Scene> sceneOf(const Row &row, const floor::Floor &here, const world::Conditions &conditions,
                      std::uint64_t seed)
{
    Noise noise(seed ^ 0x77696E646F77ULL);
    std::map<std::string, double> numbers;
    for (const auto &[key, range] : row.drawn)
        numbers[key] = range.low + (range.high - range.low) * noise.uniform();
    auto floor = floorOf(row, here, numbers);
    if (!floor)
        return tl::unexpected(floor.error());
    Scene scene{std::move(*floor), conditions};
    if (row.kind == "reversed")
        scene.conditions.reversed = true;
    return scene;
}

} // namespace badger::window
