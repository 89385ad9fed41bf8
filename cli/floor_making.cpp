// SPDX-License-Identifier: GPL-3.0-or-later
// Floors of a workshop: listed, made, read from a drawing, written as one.
#include "cli/floor_commands.h"

#include "cli/workshop_pick.h"
#include "core/arena/arena.h"
#include "core/floor/as_svg.h"
#include "core/floor/from_drawing.h"
#include "core/floor/generate.h"
#include "core/io/floor_file.h"
#include "core/io/storage.h"
#include "core/io/workshop_file.h"
#include "core/units/quantity.h"

#include <charconv>
#include <fmt/format.h>

namespace badger::cli
{

Result<Answer> floors(const std::string &file)
{
    const auto o = open(file);
    if (!o)
        return tl::unexpected(o.error());
    Answer a;
    a.json = {{"floors", Json::array()}};
    std::vector<std::vector<Say>> rows;
    for (const auto &f : o->workshop.floors) {
        a.json["floors"].push_back({{"name", f.name},
                                    {"surface", f.surface},
                                    {"width_cm", f.width_m * 100.0},
                                    {"depth_cm", f.depth_m * 100.0},
                                    {"air_C", f.air_degC},
                                    {"walls", f.walls.size()},
                                    {"posts", f.posts.size()},
                                    {"lines", f.lines.size()},
                                    {"movers", f.movers.size()},
                                    {"edge", !f.edge.empty()}});
        rows.push_back({f.name,
                        say("{} × {}", units::quantity(f.width_m, units::Unit::Metre, 2),
                            units::quantity(f.depth_m, units::Unit::Metre, 2)),
                        say("{0} {0|wall|walls}, {1} {1|post|posts}, {2} {2|line|lines}",
                            static_cast<long>(f.walls.size()), static_cast<long>(f.posts.size()),
                            static_cast<long>(f.lines.size())),
                        f.edge.empty() ? Say{} : say("an edge")});
    }
    a.text = aligned(rows);
    return a;
}

namespace
{

using Set = std::map<std::string, std::string>;

Result<Set> setOf(const std::vector<std::string> &texts)
{
    Set set;
    for (const auto &text : texts) {
        const auto at = text.find('=');
        if (at == std::string::npos)
            return fail(Error::Kind::Malformed, "--set", fmt::format("'{}' has no '='", text),
                        "write it as distance=1.8m or wall=#1e2629");
        auto &value = set[text.substr(0, at)];
        value += (value.empty() ? "" : " ") + text.substr(at + 1); // a colour may be said twice
    }
    return set;
}

/// What is said by --set over what the drawing says of itself.
Result<floor::Taking> takingOf(const drawing::Drawing &drawing, const Set &set)
{
    auto taking = floor::takingOf(drawing);
    bool own = true; // the drawing's own colours, until one is said
    for (const auto &[key, value] : set) {
        const auto where = "--set " + key;
        if (key == "units-per-cm") {
            double scale = 0.0;
            const auto *end = value.data() + value.size();
            const auto read = std::from_chars(value.data(), end, scale);
            if (read.ec != std::errc{} || read.ptr != end)
                return fail(Error::Kind::Malformed, where, say("'{}' is no number", value),
                            say("write 10 where ten units are a centimetre"));
            taking.unitsPerCm = scale;
        } else if (key == "air") {
            const auto air = units::parse(value, units::Dimension::Temperature, where);
            if (!air)
                return tl::unexpected(air.error());
            if (!(*air >= -40.0 && *air <= 60.0))
                return fail(Error::Kind::OutOfRange, where, say("it is outside -40 to 60 °C"),
                            say("give the air's temperature, 20C for example"));
            taking.air_degC = *air;
        } else if (key == "surface") {
            taking.surface = value;
        } else {
            if (own)
                taking.colours.clear();
            own = false;
            taking.colours[key] = value;
        }
    }
    return taking;
}

Result<floor::FromDrawing> readFloor(const MakingFloor &making, const Set &set)
{
    const auto text = io::readFile(making.read);
    if (!text)
        return tl::unexpected(text.error());
    const auto first = text->find_first_not_of(" \t\r\n");
    if (first != std::string::npos && (*text)[first] == '{') {
        if (!set.empty())
            return fail(Error::Kind::Conflict, "--set", say("a floor's JSON says all of it"),
                        say("leave --set away"));
        auto read = io::readFloor(*text);
        if (!read)
            return tl::unexpected(read.error());
        read->name = making.name;
        return floor::FromDrawing{std::move(*read), {}};
    }
    const auto drawing = drawing::readSvg(*text, making.read);
    if (!drawing)
        return tl::unexpected(drawing.error());
    const auto taking = takingOf(*drawing, set);
    if (!taking)
        return tl::unexpected(taking.error());
    auto taken = floor::fromDrawing(*drawing, *taking, making.name);
    if (!taken && taken.error().kind == Error::Kind::Missing)
        taken.error().mend +=
            say("; say it by --set, as wall=#1e2629, line=#000000 or units-per-cm=10");
    return taken;
}

Result<Answer> addFloor(Opened o, const std::string &file, const MakingFloor &making)
{
    const auto set = setOf(making.set);
    if (!set)
        return tl::unexpected(set.error());
    if (making.out.path.empty())
        return fail(Error::Kind::Missing, "--out", say("it is not said where the new floor goes"),
                    say("name a workshop file to write"));
    if (o.workshop.floor(making.name) != nullptr)
        return fail(Error::Kind::Conflict, "--name",
                    fmt::format("there is a floor '{}' already", making.name),
                    "choose another name");
    Result<floor::FromDrawing> made;
    if (!making.read.empty()) {
        made = readFloor(making, *set);
    } else {
        auto generated = floor::generate(making.from, *set, making.name);
        if (generated)
            made = floor::FromDrawing{std::move(*generated), {}};
        else
            made = tl::unexpected(generated.error());
    }
    if (!made)
        return tl::unexpected(made.error());
    auto &f = made->floor;
    f.id = newId<floor::Floor>(randomBits);
    if (const auto drives = arena::compile(f); !drives)
        return tl::unexpected(drives.error());
    Answer a;
    a.json = {
        {"name", f.name},          {"width_cm", f.width_m * 100.0}, {"depth_cm", f.depth_m * 100.0},
        {"walls", f.walls.size()}, {"posts", f.posts.size()},       {"lines", f.lines.size()},
        {"said", Json::array()}};
    if (!making.from.empty())
        a.json["kind"] = making.from;
    a.text = fmt::format("{}: {} by {} m\n", f.name, f.width_m, f.depth_m);
    for (const auto &say : made->said) {
        a.json["said"].push_back(say);
        a.text += "  " + words(say) + "\n";
    }
    auto after = o.workshop;
    after.floors.push_back(std::move(f));
    if (const auto ok = io::takesBack(after, o.workshop, o.catalogue); !ok)
        return tl::unexpected(ok.error());
    if (const auto saved =
            io::saveOutput(making.out.path, io::writeWorkshop(after), making.out.replace, file);
        !saved)
        return tl::unexpected(saved.error());
    return a;
}

Result<Answer> exportFloor(const Opened &o, const std::string &file, const MakingFloor &making)
{
    if (!making.out.path.empty() || !making.set.empty())
        return fail(Error::Kind::Conflict, making.set.empty() ? "--out" : "--set",
                    say("a floor that is there is drawn as it is"), say("leave it away"));
    const auto *f = o.workshop.floor(making.name);
    if (f == nullptr)
        return fail(Error::Kind::Missing, "--name",
                    fmt::format("there is no floor '{}'", making.name),
                    "use one of: " + names(o.workshop.floors));
    const bool svg = !making.svg.path.empty();
    const auto &to = svg ? making.svg : making.write;
    if (const auto saved =
            io::saveOutput(to.path, svg ? floor::asSvg(*f) : io::writeFloor(*f), to.replace, file);
        !saved)
        return tl::unexpected(saved.error());
    Answer a;
    a.json = {{"name", f->name}, {"file", to.path}, {"left_out", Json::array()}};
    a.text = fmt::format("{}: {}\n", f->name, to.path);
    if (svg)
        for (const auto &left : floor::notInSvg(*f)) {
            a.json["left_out"].push_back(left);
            a.text += "  not in it: " + words(left) + "; --write has all\n";
        }
    return a;
}

} // namespace

Result<Answer> floor(const std::string &file, const MakingFloor &making)
{
    auto o = open(file);
    if (!o)
        return tl::unexpected(o.error());
    const bool makes = !making.from.empty();
    const bool reads = !making.read.empty();
    const bool draws = !making.svg.path.empty();
    const bool writes = !making.write.path.empty();
    if (makes + reads + draws + writes != 1)
        return fail(Error::Kind::Conflict, "floor",
                    say("it is not said what to do, or two things at once"),
                    say("give one of --from, --read, --svg and --write"));
    return draws || writes ? exportFloor(*o, file, making) : addFloor(std::move(*o), file, making);
}

} // namespace badger::cli
