// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/machine/words.h"
#include "core/regions/atom_words.h"
#include "core/regions/check_look.h"

#include <algorithm>
#include <cmath>
#include <fmt/format.h>
#include <fmt/ranges.h>
#include <set>

namespace badger::regions
{

using rules::Act;
using rules::Source;
using rules::Test;

std::string readingsOf(const Look &look, const Regions &regions, const Row &row)
{
    const auto parts = rowWords(look.program, look.machine, regions, row, true);
    return parts.empty() ? "always" : fmt::format("{}", fmt::join(parts, ", "));
}

namespace
{

/// Rows for which `wrong` holds, each text once, with the modes they happen in.
struct Places {
    std::vector<std::string> readings;
    std::set<int> modes;
};

template <class Wrong> Places placesOf(const Look &look, Wrong wrong)
{
    Places places;
    for (const auto &m : look.modes)
        for (const auto &row : m.rows)
            if (wrong(m.regions, row)) {
                const auto text = readingsOf(look, m.regions, row);
                if (std::find(places.readings.begin(), places.readings.end(), text) ==
                    places.readings.end())
                    places.readings.push_back(text);
                places.modes.insert(m.regions.mode);
            }
    return places;
}

Say modesWords(const Look &look, const std::set<int> &modes)
{
    std::vector<Say> names;
    for (const int m : modes)
        names.push_back(Say("'" + look.state(m).name + "'"));
    return joined(names, ", ");
}

/// What a click shows: the one reading that decides there, or the state.
Spot targetOf(const Look &look, int mode)
{
    std::set<int> sensors;
    for (const auto &m : look.modes)
        if (m.regions.mode == mode)
            for (const auto &axis : m.regions.axes)
                if (axis.of == Axis::Of::Sensor)
                    sensors.insert(axis.sensor);
    if (sensors.size() == 1)
        return at::reading(look.program.readings[static_cast<size_t>(*sensors.begin())].name);
    return at::state(look.state(mode).name);
}

Say someOf(const std::vector<std::string> &readings)
{
    constexpr size_t most = 3;
    std::vector<Say> first(readings.begin(),
                           readings.begin() + static_cast<long>(std::min(most, readings.size())));
    if (readings.size() > most)
        return say("{} and {} more", joined(first, "; "), readings.size() - most);
    return joined(first, "; ");
}
} // namespace

bool reachableRule(const Look &look, int branch)
{
    const int mode = ruleAt(look.program, look.machine, branch).mode;
    return mode < 0 || look.can[static_cast<size_t>(mode)];
}

Found holes(const Look &look, const char *code)
{
    const auto places = placesOf(
        look, [](const Regions &, const Row &row) { return row.cell->outcome == Outcome::Hole; });
    if (places.readings.empty())
        return {};
    const bool goes = std::any_of(places.modes.begin(), places.modes.end(),
                                  [&](int m) { return look.act(m) == Act::Go; });
    Finding f{code,
              Severity::Error,
              look.place(modesWords(look, places.modes)),
              say("At {} no rule says what to do.", someOf(places.readings)),
              goes ? say("The car goes on with whatever it did before, forward included.")
                   : say("The car goes on with whatever it did before."),
              say("Let one rule cover it, or say what it does otherwise."),
              targetOf(look, *places.modes.begin())};
    f.readings = places.readings;
    return {f};
}

Found overlaps(const Look &look, const char *code)
{
    const auto places =
        placesOf(look, [](const Regions &, const Row &row) { return row.cell->overlap; });
    if (places.readings.empty())
        return {};
    const auto twice =
        placesOf(look, [](const Regions &, const Row &row) { return row.cell->fired.size() > 1; });
    Finding f{code,
              Severity::Warning,
              look.place(modesWords(look, places.modes)),
              twice.readings.empty()
                  ? say("At {} two rules with different actions hold.", someOf(places.readings))
                  : say("At {} it acts twice in one pass.", someOf(twice.readings)),
              twice.readings.empty()
                  ? say("Only their order decides.")
                  : say("The first rule does not end the pass: its action is carried out, and the "
                        "next rule acts on the same reading."),
              say("State each limit once, in one rule that ends the pass."),
              targetOf(look, *places.modes.begin())};
    f.readings = twice.readings.empty() ? places.readings : twice.readings;
    return {f};
}

/// A rule that no reading gets to: its limits exclude each other, or rules before it take them all.
Found neverMet(const Look &look, const char *code)
{
    std::set<int> met;
    std::set<int> looked; // modes whose cells are known
    for (const auto &m : look.modes) {
        looked.insert(m.regions.mode);
        for (const auto &cell : m.regions.cells)
            met.insert(cell.fired.begin(), cell.fired.end());
    }
    Found found;
    for (size_t b = 0; b < look.machine.branches.size(); ++b) {
        const int branch = static_cast<int>(b);
        const auto place = ruleAt(look.program, look.machine, branch);
        // What happens otherwise is a net: it may well catch nothing.
        if (look.machine.branches[b].asks.count == 0 || met.contains(branch) ||
            (place.mode >= 0 && !looked.contains(place.mode)))
            continue;
        Finding f{
            code,
            Severity::Warning,
            place.mode < 0 ? look.place(say("always"))
                           : look.place(Say("'" + look.state(place.mode).name + "'")),
            say("Rule '{}' is never met: {}.", place.rule->name, words(look.program, *place.rule)),
            say("Its limits exclude each other, or the rules before it take every reading of "
                "it; two limits may be exchanged."),
            say("Look at its limits and at the order of the rules."),
            at::rule((place.mode < 0 ? std::string() : look.state(place.mode).name) + "/" +
                     place.rule->name)};
        found.push_back(std::move(f));
    }
    return found;
}

/// A limit that belongs to neither side of it, and is caught by the rule for everything else.
Found limitFallsThrough(const Look &look, const char *code)
{
    Found found;
    std::set<std::string> said;
    for (const auto &m : look.modes) {
        if (m.regions.axes.size() != 1)
            continue;
        const auto other = [&](const Cell &cell) {
            return !cell.fired.empty() &&
                   look.machine.branches[static_cast<size_t>(cell.fired.front())].asks.count == 0;
        };
        const auto &cells = m.regions.cells;
        for (size_t i = 1; i + 1 < cells.size(); ++i) {
            const auto &atoms = m.regions.axes[0].atoms;
            const auto &a = atoms[static_cast<size_t>(cells[i].atoms[0])];
            const auto &after = atoms[static_cast<size_t>(cells[i + 1].atoms[0])];
            if (a.kind != Atom::Kind::Numbers || a.from != a.to ||
                after.kind != Atom::Kind::Numbers || !other(cells[i]) || other(cells[i - 1]) ||
                other(cells[i + 1]))
                continue;
            const auto act = look.act(cells[i].to);
            const auto nearer = look.act(cells[i - 1].to);
            const auto farther = look.act(cells[i + 1].to);
            const bool harmless = act == nearer || act == farther;
            const auto reading = axisName(look.program, m.regions.axes[0]) + " " +
                                 units::plain(a.from, 2) +
                                 axisUnit(look.program, m.regions.axes[0]);
            if (!said.insert(reading).second)
                continue;
            Finding f{
                code,
                harmless ? Severity::Advice : Severity::Error,
                look.place(Say(look.state(m.regions.mode).name)),
                harmless
                    ? say("Exactly {} belongs to neither limit; as otherwise it does what "
                          "it does beside it: {}.",
                          reading, rules::word(act))
                    : say("Exactly {} belongs to neither limit; as otherwise it does: {}. "
                          "Nearer it does: {}; farther: {}.",
                          reading, rules::word(act), rules::word(nearer), rules::word(farther)),
                harmless ? say("A hole that happens to be closed by the right action.")
                         : say("On that one reading the car does what neither side asks for."),
                say("Let one of the two limits include it."),
                targetOf(look, m.regions.mode)};
            f.readings = {reading};
            found.push_back(f);
        }
    }
    return found;
}

/// A follower: it stands between two limits of one reading, and goes on beyond the far one. A car
/// that goes when it hears nothing is off after a target that has gone.
Found lostTargetChased(const Look &look, const char *code)
{
    Found found;
    for (const auto &m : look.modes) {
        if (m.regions.axes.size() != 1 || !found.empty())
            continue;
        const auto &axis = m.regions.axes[0];
        bool stoodBetween = false;
        bool backs = false;
        bool goesFar = false;
        const Cell *none = nullptr;
        for (const auto &cell : m.regions.cells) {
            const auto &a = axis.atoms[static_cast<size_t>(cell.atoms[0])];
            const auto act = look.act(cell.to);
            const bool lost = a.kind == Atom::Kind::None || a.kind == Atom::Kind::Wild;
            if (lost && (!none || act == Act::Go))
                none = &cell;
            if (a.kind != Atom::Kind::Numbers)
                continue;
            backs |= act == Act::Back;
            stoodBetween |= backs && act == Act::Stand;
            goesFar |= stoodBetween && act == Act::Go;
        }
        const auto lost =
            std::any_of(look.machine.asks.begin(), look.machine.asks.end(), [&](const Ask &a) {
                return a.test == Test::Lost && a.sensor == axis.sensor;
            });
        if (!goesFar || !none || look.act(none->to) != Act::Go || lost ||
            none->outcome != Outcome::Rule)
            continue;
        const auto &name = look.program.readings[static_cast<size_t>(axis.sensor)].name;
        Finding f{code,
                  Severity::Error,
                  look.place("reading " + name),
                  say("No echo of '{}' means: advance.", name),
                  say("It charges when its target is taken away, or stands slanted, or is soft."),
                  say("Stop after some readings without an echo, 3 say; or let no echo mean stop."),
                  at::policy(name)};
        f.readings = {name + " none"};
        found.push_back(f);
    }
    return found;
}

} // namespace badger::regions
