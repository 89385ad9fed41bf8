// SPDX-License-Identifier: GPL-3.0-or-later
// What no schema can see: names that are there twice, and references that lead nowhere.
#include "core/io/shipped.h"
#include "core/io/workshop_file.h"
#include "core/kit/assembly.h"
#include "core/sense/ultrasonic.h"
#include "core/units/quantity.h"
#include "core/window/row.h"

#include <fmt/format.h>
#include <set>
#include <tuple>

namespace badger::io
{

namespace
{

using Kind = Error::Kind;

template <class List, class Name>
Result<void> unique(const List &all, const std::string &pointer, Name nameOf)
{
    std::set<std::string> seen;
    for (size_t i = 0; i < all.size(); ++i) {
        const std::string name = nameOf(all[i]);
        const auto place = fmt::format("{}/{}", pointer, i);
        if (name.empty())
            return fail(Kind::Missing, place, "has an empty name", "give it a name");
        if (!seen.insert(name).second)
            return fail(Kind::Conflict, place, fmt::format("a second '{}'", name),
                        "give each its own name");
    }
    return {};
}

Result<void> verifyPart(const parts::Part &part, const std::string &pointer)
{
    for (const auto &key : parts::requiredFigures(part.kind))
        if (part.figure(key) == nullptr)
            return fail(
                Kind::Missing, pointer + "/figures",
                fmt::format("the {} '{}' has no figure '{}'", parts::name(part.kind), part.id, key),
                "add it from the maker's sheet");
    for (const auto &key : parts::requiredFigures(part.kind))
        if (key != "lost_echo_share" && key != "noise_m" && key != "error_m" &&
            !(part.figure(key)->low > 0.0))
            return fail(
                Kind::OutOfRange, fmt::format("{}/figures/{}", pointer, key),
                fmt::format("the {} of '{}' is not above 0", parts::figureName(key), part.id),
                "take it from the maker's sheet");
    for (const auto &t : part.terminals) {
        const auto place = fmt::format("{}/terminals/{}", pointer, t.name);
        if (t.role == parts::Role::SupplyIn && !t.window)
            return fail(Kind::Missing, place, "a supply input without a window",
                        "say which volts it takes, as low_V and high_V");
        if (t.window && !(t.window->low_V < t.window->high_V))
            return fail(Kind::OutOfRange, place, "its window is empty", "put low_V under high_V");
        if (t.role == parts::Role::SupplyOut &&
            (t.source_V <= 0.0 || part.terminal(t.fedBy) == nullptr))
            return fail(Kind::Missing, place, "a supply output without its volts or its feed",
                        "say source_V, and fed_by with a terminal of the part");
    }
    for (const auto &[key, f] : part.figures)
        if (f.low < 0.0)
            return fail(Kind::OutOfRange, pointer + "/figures/" + key,
                        fmt::format("{} is below 0", f.low), "give 0 or more");
    for (const auto &[key, f] : part.figures)
        if (!(f.low <= f.typical && f.typical <= f.high))
            return fail(Kind::OutOfRange, pointer + "/figures/" + key,
                        fmt::format("{} is not between {} and {}", f.typical, f.low, f.high),
                        "put low, typical and high in order");
    return unique(part.terminals, pointer + "/terminals",
                  [](const parts::Terminal &t) { return t.name; });
}

Result<void> verifyInstance(const kit::Instance &fitted, const parts::Catalogue &catalogue,
                            const std::string &pointer)
{
    const auto *part = catalogue.find(fitted.partId);
    if (part == nullptr)
        return fail(Kind::Missing, pointer + "/part",
                    fmt::format("there is no part '{}'", fitted.partId),
                    "use a part of the catalogue, or add it to the workshop's parts");
    if (fitted.id.find('.') != std::string::npos)
        return fail(Kind::Malformed, pointer + "/id", fmt::format("'{}' has a dot", fitted.id),
                    "a dot parts instance and terminal: use another character");
    if (part->kind == parts::Kind::Cell && (fitted.cellsInSeries < 1 || fitted.cellsInParallel < 1))
        return fail(
            Kind::OutOfRange, pointer,
            fmt::format("a pack of {} × {} cells", fitted.cellsInSeries, fitted.cellsInParallel),
            "a pack has at least one cell in series and one in parallel");
    for (size_t i = 0; i < fitted.otherCells.size(); ++i) {
        const auto *cell = catalogue.find(fitted.otherCells[i].partId);
        if (cell == nullptr || cell->kind != parts::Kind::Cell)
            return fail(Kind::Missing, fmt::format("{}/other_cells/{}/part", pointer, i),
                        fmt::format("there is no cell '{}'", fitted.otherCells[i].partId),
                        "name a cell of the catalogue");
    }
    for (size_t i = 0; i < fitted.jumpers.size(); ++i) {
        const auto *t = part->terminal(fitted.jumpers[i]);
        if (t == nullptr || !t->jumper)
            return fail(Kind::Missing, fmt::format("{}/jumpers/{}", pointer, i),
                        fmt::format("'{}' has no jumper '{}'", part->id, fitted.jumpers[i]),
                        "name a terminal that takes a jumper");
    }
    return {};
}

Result<void> verifyEnd(const kit::Assembly &car, const std::string &end, const std::string &pointer)
{
    if (car.terminal(end) != nullptr)
        return {};
    const auto split = kit::splitTerminal(end);
    const auto *fitted = car->instance(split.instance);
    return fail(Kind::Missing, pointer,
                fitted ? fmt::format("the {} '{}' has no terminal '{}'",
                                     parts::name(car.part(*fitted)->kind), split.instance,
                                     split.terminal)
                       : fmt::format("'{}' names no part of '{}'", end, car->name),
                "write it as part.terminal, as board.D5");
}

Result<void> verifyWires(const kit::Assembly &car, const std::string &pointer)
{
    std::set<std::pair<std::string, std::string>> seen;
    for (size_t i = 0; i < car->wires.size(); ++i) {
        const auto &w = car->wires[i];
        const auto place = fmt::format("{}/wires/{}", pointer, i);
        if (auto ok = verifyEnd(car, w.from, place + "/from"); !ok)
            return ok;
        if (auto ok = verifyEnd(car, w.to, place + "/to"); !ok)
            return ok;
        if (w.from == w.to)
            return fail(Kind::Malformed, place, "a wire from a terminal to itself",
                        "give it another end");
        if (!seen.insert(std::minmax(w.from, w.to)).second)
            return fail(Kind::Conflict, place,
                        fmt::format("a second wire from {} to {}", w.from, w.to),
                        "keep one of them");
    }
    for (const auto &[terminal, pin] : car->programPins) {
        const auto place = pointer + "/program_pins/" + terminal;
        if (auto ok = verifyEnd(car, terminal, place); !ok)
            return ok;
        const auto *board = car.first(parts::Kind::Board);
        const auto *part = board ? car.part(*board) : nullptr;
        const auto *t = part ? part->terminal(pin) : nullptr;
        if (t == nullptr || t->role != parts::Role::Pin)
            return fail(Kind::Missing, place, fmt::format("the board has no pin '{}'", pin),
                        "name a pin of the board, as D5");
    }
    return {};
}

Result<void> verifyGeometry(const kit::Geometry &g, const std::string &pointer)
{
    if ((g.deck != kit::DeckShape::Rectangle && g.discRadius_m <= 0.0) ||
        (g.deck == kit::DeckShape::TwoDiscs && g.discsApart_m <= 0.0))
        return fail(Kind::OutOfRange, pointer + "/geometry",
                    "a round deck without its radius, or two without their distance",
                    "give disc_radius_m, and discs_apart_m for two");
    if (g.track_m > g.width_m * 2.0 || g.axleToNose_m > g.length_m)
        return fail(Kind::OutOfRange, pointer + "/geometry",
                    "the wheels or the axle lie outside the car",
                    "the axle lies within the length, the track near the width");
    return {};
}

/// A program's checks ask every rule in every state at every edge of every reading.
Result<void> boundProgram(const rules::Program &program, const std::string &pointer)
{
    size_t rules = 0;
    size_t conditions = 0;
    const auto count = [&](const std::vector<rules::Rule> &all) {
        rules += all.size();
        for (const auto &r : all)
            conditions += r.when.size();
    };
    count(program.everywhere);
    for (const auto &s : program.states)
        count(s.rules);
    for (const auto &[n, most, what] : {std::tuple{program.states.size(), size_t{64}, "states"},
                                        {rules, size_t{200}, "rules"},
                                        {conditions, size_t{400}, "conditions"}})
        if (n > most)
            return fail(Kind::OutOfRange, pointer,
                        fmt::format("the program has {} {}; {} are the most", n, what, most),
                        "split it into several programs");
    return {};
}

/// A car's checks look at every terminal for every other.
Result<void> boundCar(const kit::Assembly &car, const std::string &pointer)
{
    constexpr size_t mostTerminals = 800; // the demo's largest car has some 120
    size_t terminals = 0;
    for (const auto &fitted : car->parts)
        if (const auto *part = car.part(fitted))
            terminals += part->terminals.size();
    if (terminals > mostTerminals)
        return fail(Kind::OutOfRange, pointer + "/parts",
                    fmt::format("the parts of '{}' have {} terminals; {} are the most", car->name,
                                terminals, mostTerminals),
                    "take parts off that are not on this car");
    return {};
}

Result<void> verifyCar(const workshop::Workshop &w, const kit::Assembly &car,
                       const std::string &pointer)
{
    if (auto ok =
            unique(car->parts, pointer + "/parts", [](const kit::Instance &i) { return i.id; });
        !ok)
        return ok;
    if (auto ok = unique(car->history, pointer + "/wiring_history",
                         [](const kit::WiringRevision &r) { return std::to_string(r.number); });
        !ok)
        return ok;
    if (auto ok = unique(car->walk, pointer + "/first_power",
                         [](const kit::WalkEntry &e) { return e.key; });
        !ok)
        return ok;
    if (auto ok = unique(car->windows, pointer + "/windows",
                         [](const kit::FoundWindow &f) { return f.value; });
        !ok)
        return ok;
    for (size_t i = 0; i < car->conditions.size(); ++i)
        if (const auto row = window::rowOf(car->conditions[i]); !row)
            return fail(row.error().kind, fmt::format("{}/conditions/{}", pointer, i),
                        row.error().what, row.error().mend);
    if (auto ok = boundCar(car, pointer); !ok)
        return ok;
    for (size_t i = 0; i < car->parts.size(); ++i)
        if (auto ok = verifyInstance(car->parts[i], car.catalogue(),
                                     fmt::format("{}/parts/{}", pointer, i));
            !ok)
            return ok;
    for (size_t i = 0; i < car->parts.size(); ++i) {
        const auto &carrier = car->parts[i].carriedBy;
        if (!carrier.empty() && (carrier == car->parts[i].id || car->instance(carrier) == nullptr))
            return fail(Kind::Missing, fmt::format("{}/parts/{}/carried_by", pointer, i),
                        fmt::format("'{}' rides on '{}', which is not on '{}'", car->parts[i].id,
                                    carrier, car->name),
                        "name another part of this car");
    }
    if (car->mission && !car->mission->floor.empty() && w.floor(car->mission->floor) == nullptr)
        return fail(Kind::Missing, pointer + "/mission/floor",
                    fmt::format("there is no floor with the id '{}'", car->mission->floor.text),
                    "give the id of a floor of the workshop");
    if (!car->program.empty() && w.program(car->program) == nullptr)
        return fail(Kind::Missing, pointer + "/program",
                    fmt::format("there is no program with the id '{}'", car->program.text),
                    "give the id of a program of the workshop");
    if (auto ok = verifyGeometry(car->geometry, pointer); !ok)
        return ok;
    return verifyWires(car, pointer);
}

Result<void> verifyProgram(const rules::Program &program, const std::string &pointer)
{
    if (auto ok = boundProgram(program, pointer); !ok)
        return ok;
    if (const auto sentences = rules::broken(program); !sentences.empty())
        return fail(Kind::Malformed, pointer, sentences.front(), "mend the reference");
    for (size_t i = 0; i < program.readings.size(); ++i) {
        const auto &r = program.readings[i];
        const auto place = fmt::format("{}/readings/{}", pointer, i);
        if (r.medianOf % 2 == 0)
            return fail(Kind::OutOfRange, place + "/median_of",
                        fmt::format("a median of {} has no middle", r.medianOf),
                        "use an odd number");
        if (r.timeBits != 16 && r.timeBits != 32)
            return fail(Kind::OutOfRange, place + "/time_bits",
                        fmt::format("no board keeps a time in {} bits", r.timeBits),
                        "use 16 or 32");
    }
    for (size_t i = 0; i < program.values.size(); ++i) {
        const auto &v = program.values[i];
        const auto place = fmt::format("{}/values/{}", pointer, i);
        if (!v.si)
            continue;
        const bool speed = v.kind == rules::ValueKind::Speed;
        if (speed && (*v.si < 0.0 || *v.si > 255.0 || *v.si != static_cast<int>(*v.si)))
            return fail(Kind::OutOfRange, place, fmt::format("{} is not a PWM count", *v.si),
                        "use a whole number from 0 to 255");
        const bool signedKind =
            v.kind == rules::ValueKind::Angle || v.kind == rules::ValueKind::Share;
        if (!speed && !signedKind && *v.si < 0.0)
            return fail(Kind::OutOfRange, place, fmt::format("{} is negative", *v.si),
                        "use 0 or more");
    }
    return {};
}

} // namespace

namespace
{

/// Is this the piece that stood there before? A null `before` says no.
template <class T> bool asBefore(const Pieces<T> &now, const Pieces<T> *before, size_t i)
{
    return before && i < before->size() && now.piece(i) == before->piece(i);
}

template <class T> bool sameIds(const Pieces<T> &now, const Pieces<T> &before)
{
    return now.shares(before) || std::equal(now.begin(), now.end(), before.begin(), before.end(),
                                            [](const T &a, const T &b) { return a.id == b.id; });
}

/// What belongs to a car: each with an id of its own, and a car that is there.
template <class T>
Result<void> ofCars(const Pieces<T> &all, const Pieces<T> *before,
                    const std::set<Id<kit::Car>> &cars, const std::string &at)
{
    if (before && all.shares(*before))
        return {};
    if (auto ok = unique(all, at, [](const T &t) { return t.id.text; }); !ok)
        return ok;
    for (size_t i = 0; i < all.size(); ++i)
        if (!cars.contains(all[i].car))
            return fail(Kind::Missing, fmt::format("{}/{}/car", at, i),
                        fmt::format("there is no car with the id '{}'", all[i].car.text),
                        "give the id of a car of the workshop");
    return {};
}

/// What was looked at before and rests on nothing that changed is not looked at again.
Result<void> verifyAgainst(const workshop::Workshop &w, const parts::Catalogue &catalogue,
                           const workshop::Workshop *before)
{
    const auto byName = [](const auto &t) { return t.name; };
    const auto byId = [](const auto &t) { return t.id.text; };
    for (auto ok : {unique(w.parts, "/parts", [](const parts::Part &p) { return p.id; }),
                    unique(w.cars, "/cars", byName), unique(w.programs, "/programs", byName),
                    unique(w.floors, "/floors", byName), unique(w.cars, "/cars", byId),
                    unique(w.programs, "/programs", byId), unique(w.floors, "/floors", byId)})
        if (!ok)
            return ok;
    for (size_t i = 0; i < w.parts.size(); ++i)
        if (!asBefore(w.parts, before ? &before->parts : nullptr, i))
            if (auto ok = verifyPart(w.parts[i], fmt::format("/parts/{}", i)); !ok)
                return ok;
    for (size_t i = 0; i < w.programs.size(); ++i)
        if (!asBefore(w.programs, before ? &before->programs : nullptr, i))
            if (auto ok = verifyProgram(w.programs[i], fmt::format("/programs/{}", i)); !ok)
                return ok;
    const bool aroundCars = before && w.parts.shares(before->parts) &&
                            sameIds(w.programs, before->programs) &&
                            sameIds(w.floors, before->floors);
    for (size_t i = 0; i < w.cars.size(); ++i)
        if (!aroundCars || !asBefore(w.cars, &before->cars, i))
            if (auto ok = verifyCar(w, {w.cars[i], catalogue}, fmt::format("/cars/{}", i)); !ok)
                return ok;
    const auto *known = before && sameIds(w.cars, before->cars) ? before : nullptr;
    std::set<Id<kit::Car>> cars;
    for (const auto &c : w.cars)
        cars.insert(c.id);
    if (auto ok = ofCars(w.trials, known ? &known->trials : nullptr, cars, "/trials"); !ok)
        return ok;
    return ofCars(w.records, known ? &known->records : nullptr, cars, "/records");
}

} // namespace

Result<void> verify(const workshop::Workshop &w)
{
    return verifyAgainst(w, catalogueOf(w), nullptr);
}

Result<void> verifyEdit(const workshop::Workshop &after, const workshop::Workshop &before,
                        const parts::Catalogue &catalogue)
{
    return verifyAgainst(after, catalogue, &before);
}

} // namespace badger::io
