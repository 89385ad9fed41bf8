// SPDX-License-Identifier: GPL-3.0-or-later
#include "cli/program_commands.h"
#include "cli/workshop_pick.h"
#include "core/machine/words.h"
#include "core/regions/atom_words.h"

#include <algorithm>

namespace badger::cli
{

namespace
{

using regions::Atom;
using regions::Axis;

const char *word(regions::Outcome outcome)
{
    switch (outcome) {
    case regions::Outcome::Rule:
        return "rule";
    case regions::Outcome::Hole:
        return "hole";
    case regions::Outcome::Kept:
        return "kept";
    case regions::Outcome::Stop:
        break;
    }
    return "stop-policy";
}

/// What the wheels get at the two ends of the row's stretch, where its mode follows a reading.
void steering(const machine::Machine &machine, const regions::Regions &r,
              const regions::Row &merged, Json &row)
{
    const auto &mode = machine.modes[static_cast<size_t>(merged.cell->to)];
    if (mode.follows != rules::Follows::Steer && mode.follows != rules::Follows::Slow)
        return;
    for (size_t k = 0; k < r.axes.size(); ++k) {
        const auto &a = merged.atoms[k];
        if (r.axes[k].of != Axis::Of::Sensor || r.axes[k].sensor != mode.sensor ||
            a.kind != Atom::Kind::Numbers)
            continue;
        Json ends = Json::array();
        for (const double number : {a.from, a.to}) {
            auto mind = machine::freshMind(machine);
            auto &h = mind.held[static_cast<size_t>(mode.sensor)];
            h.has = true;
            h.number = number;
            const auto o = machine::orders(machine, mind, mode);
            const double error =
                std::clamp((number - double(mode.middle)) / double(mode.half), -1.0, 1.0);
            ends.push_back({{"reading", number},
                            {"error", error},
                            {"left", o.left.counts},
                            {"right", o.right.counts},
                            {"clamped", o.clamped}});
        }
        row["steering"] = ends;
    }
}

Json rowOf(const rules::Program &program, const machine::Machine &machine,
           const regions::Regions &r, const regions::Row &merged)
{
    const auto &cell = *merged.cell;
    Json readings = Json::object();
    for (size_t k = 0; k < r.axes.size(); ++k)
        readings[axisName(program, r.axes[k])] = atomWords(machine, r.axes[k], merged.atoms[k]);
    const auto &to = program.states[static_cast<size_t>(cell.to)];
    Json fired = Json::array();
    for (const int b : cell.fired)
        fired.push_back(machine::ruleAt(program, machine, b).rule->name);
    Json row = {{"state", program.states[static_cast<size_t>(r.mode)].name},
                {"readings", readings},
                {"action", cell.outcome == regions::Outcome::Hole
                               ? "no rule"
                               : rules::word(rules::actOf(to.motion))},
                {"to", to.name},
                {"does", rules::words(to.motion)},
                {"rules", fired},
                {"kind", word(cell.outcome)},
                {"overlap", cell.overlap}};
    steering(machine, r, merged, row);
    return row;
}

std::string steeringWords(const Json &row)
{
    if (!row.contains("steering"))
        return {};
    std::vector<std::string> ends;
    for (const auto &end : row["steering"])
        ends.push_back(fmt::format("{:+.2f}: {} {}{}", end["error"].get<double>(),
                                   end["left"].get<int>(), end["right"].get<int>(),
                                   end["clamped"].get<bool>() ? " (clamped)" : ""));
    return fmt::format("{}", fmt::join(ends, " .. "));
}

} // namespace

Result<Answer> cellTable(const rules::Program &program, const machine::CarFacts &facts,
                         const std::string &reading)
{
    const auto machine = machine::lower(program, facts);
    if (!machine)
        return tl::unexpected(machine.error());
    if (!reading.empty() && program.reading(reading) == nullptr)
        return fail(Error::Kind::Missing, "--sensor",
                    say("the program has no reading '{}'", reading),
                    say("use one of: {}", names(program.readings)));
    Answer a;
    a.json = {{"reading", reading.empty() ? Json(nullptr) : Json(reading)},
              {"rows", Json::array()},
              {"holes", Json::array()},
              {"overlaps", Json::array()}};
    std::vector<std::vector<Say>> lines;
    const auto can = regions::reachable(*machine);
    for (size_t m = 0; m < machine->modes.size(); ++m) {
        if (!can[m])
            continue;
        const auto r = regions::of(program, *machine, static_cast<int>(m));
        if (!r)
            return tl::unexpected(r.error());
        const bool names = std::any_of(r->axes.begin(), r->axes.end(), [&](const Axis &axis) {
            return axis.of == Axis::Of::Sensor &&
                   program.readings[static_cast<size_t>(axis.sensor)].name == reading;
        });
        if (r->cells.empty() || (!reading.empty() && !names))
            continue;
        for (const auto &merged : regions::rows(*machine, *r)) {
            auto row = rowOf(program, *machine, *r, merged);
            const auto &cell = *merged.cell;
            std::vector<std::string> where;
            for (const auto &[name, what] : row["readings"].items())
                where.push_back(name + " " + what.get<std::string>());
            lines.push_back({row["state"].get<std::string>(),
                             fmt::format("{}", fmt::join(where, ", ")),
                             row["action"].get<std::string>(), row["to"].get<std::string>(),
                             steeringWords(row)});
            if (cell.outcome == regions::Outcome::Hole)
                a.json["holes"].push_back(row);
            if (cell.overlap)
                a.json["overlaps"].push_back(row);
            a.json["rows"].push_back(std::move(row));
        }
    }
    a.text = aligned(lines);
    a.hasError = !a.json["holes"].empty();
    return a;
}

} // namespace badger::cli
