// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/edit/fixed_car.h"

#include "core/edit/kit_edits.h"
#include "core/revisions/history.h"
#include "core/units/quantity.h"

#include <algorithm>
#include <cmath>

namespace badger::edit
{

namespace
{

Say labelOf(const kit::Assembly &car, const std::string &instance)
{
    const auto *fitted = car->instance(instance);
    return fitted ? kit::labelOf(*fitted) : Say(instance);
}

Say words(const kit::Assembly &car, const Fix::Move &move)
{
    const auto part = labelOf(car, move.instance);
    const auto mm = [](double m) {
        return units::quantity(std::abs(m), units::Unit::Millimetre, 0);
    };
    if (move.up_m != 0.0)
        return move.up_m > 0.0 ? say("{} {} higher", part, mm(move.up_m))
                               : say("{} {} lower", part, mm(move.up_m));
    if (move.tilt_rad != 0.0)
        return say("{} tilted up by {} more", part,
                   units::quantity(move.tilt_rad, units::Unit::Degree, 0));
    if (move.back_m > 0.0)
        return say("{} {} further back", part, mm(move.back_m));
    if (move.back_m < 0.0)
        return say("{} {} further ahead", part, mm(move.back_m));
    return move.left_m > 0.0 ? say("{} {} further left", part, mm(move.left_m))
                             : say("{} {} further right", part, mm(move.left_m));
}

/// The same other part in one place or several.
Say words(const kit::Assembly &car, const std::vector<Fix::Part> &all)
{
    std::vector<Say> labels;
    for (const auto &p : all)
        if (!p.instance.empty())
            labels.push_back(labelOf(car, p.instance));
    const auto places = joined(labels, " and ");
    const auto *part = car.catalogue().find(all.front().after);
    if (part == nullptr)
        return say("without {}", places);
    if (!labels.empty())
        return say("{} as {}", part->name, places);
    return say("one more part: {}", part->name);
}

Say words(const kit::Assembly &car, const Fix::Cells &cells)
{
    const auto *cell = car.catalogue().find(cells.kind);
    return say("{} × {} in {}, and no others", cells.after, cell ? cell->name : cells.kind,
               labelOf(car, cells.pack));
}

Say words(const kit::Assembly &car, const Fix::Resistor &resistor)
{
    return say("{} in series with {}", units::quantity(resistor.after_ohm, units::Unit::Ohm, 0),
               labelOf(car, resistor.light));
}

/// What feeds each input; motors each by its channel.
Say words(const kit::Assembly &car, const std::vector<Fix::Feed> &feeds)
{
    std::vector<Say> all;
    for (const auto &f : feeds)
        all.push_back(car->instance(f.input) != nullptr
                          ? say("{} on {}", labelOf(car, f.input), f.source)
                          : say("{} from {}", f.input, f.source));
    return joined(all, ", ");
}

/// Wires that only get another colour.
bool isRecoloured(const Fix &fix)
{
    return !fix.in.empty() && fix.in.size() == fix.out.size() &&
           std::equal(fix.in.begin(), fix.in.end(), fix.out.begin(),
                      [](const Fix::Wire &a, const Fix::Wire &b) {
                          return a.from == b.from && a.to == b.to;
                      });
}

Say colours(const Fix &fix)
{
    std::vector<Say> all;
    for (const auto &w : fix.in)
        all.push_back(say("{} from {} to {}", w.colour, w.from, w.to));
    return joined(all, ", ");
}

bool movesOf(const Fix &fix, const std::string &instance)
{
    return std::any_of(fix.moves.begin(), fix.moves.end(),
                       [&](const Fix::Move &m) { return m.instance == instance; });
}

void feed(kit::Instance &fitted, const Fix::Feed &to)
{
    if (to.input == fitted.id)
        fitted.drivenBy = to.source;
    const auto input = kit::splitTerminal(to.input);
    if (input.instance != fitted.id)
        return;
    std::erase_if(fitted.feeds, [&](const kit::Feed &f) { return f.to == input.terminal; });
    fitted.feeds.push_back({input.terminal, to.source, {}});
}

/// Wires, cells, pins and jumpers; a wire that moves keeps its place in the list.
kit::Car rewired(kit::Car car, const Fix &fix)
{
    for (size_t i = 0; i < std::max(fix.out.size(), fix.in.size()); ++i) {
        const auto in =
            i < fix.in.size()
                ? std::optional(kit::Wire{fix.in[i].from, fix.in[i].to, fix.in[i].colour, {}})
                : std::nullopt;
        auto it = car.wires.end();
        if (i < fix.out.size())
            it = std::find_if(car.wires.begin(), car.wires.end(), [&](const kit::Wire &x) {
                return x.from == fix.out[i].from && x.to == fix.out[i].to &&
                       x.colour == fix.out[i].colour;
            });
        if (it != car.wires.end() && in)
            *it = *in;
        else if (it != car.wires.end())
            car.wires.erase(it);
        else if (in)
            car.wires.push_back(*in);
    }
    for (const auto &c : fix.cells)
        for (auto &i : car.parts)
            if (i.id == c.pack) {
                i.cellsInSeries = c.after;
                if (!c.kind.empty()) {
                    i.partId = c.kind;
                    i.otherCells.clear();
                }
            }
    for (const auto &[terminal, pin] : fix.pins)
        car.programPins[terminal] = pin;
    const auto jumpersOf = [&](const std::string &terminal) -> std::vector<std::string> & {
        const auto split = kit::splitTerminal(terminal);
        return std::find_if(car.parts.begin(), car.parts.end(),
                            [&](const kit::Instance &i) { return i.id == split.instance; })
            ->jumpers;
    };
    for (const auto &j : fix.jumpers)
        jumpersOf(j).push_back(kit::splitTerminal(j).terminal);
    for (const auto &j : fix.pulled)
        std::erase(jumpersOf(j), kit::splitTerminal(j).terminal);
    return car;
}

/// A sentence or several: what a hand does with wires, cells, pins and jumpers.
Say wireWords(const Fix &fix)
{
    if (fix.exchanged.size() == 2)
        return say("Change over what is wired to {} and to {}.", fix.exchanged[0],
                   fix.exchanged[1]);
    std::vector<Say> all;
    for (const auto &c : fix.cells)
        all.push_back(say("Put {0} {0|cell|cells} into {1}, not {2}.", c.after, c.pack, c.before));
    auto in = fix.in;
    for (const auto &w : fix.out) {
        const auto moved = std::find_if(in.begin(), in.end(), [&](const Fix::Wire &x) {
            return (x.from == w.from) != (x.to == w.to);
        });
        if (moved == in.end()) {
            all.push_back(say("Take off the wire from {} to {}.", w.from, w.to));
            continue;
        }
        const bool stays = moved->from == w.from;
        const auto &signal = stays ? w.from : w.to;
        if (fix.pins.count(signal) != 0) {
            all.push_back(say("Move {} from {} to {}.", signal, stays ? w.to : w.from,
                              stays ? moved->to : moved->from));
            in.erase(moved);
            continue;
        }
        all.push_back(say("Move the wire's end from {} to {}; its other end stays on {}.",
                          stays ? w.to : w.from, stays ? moved->to : moved->from,
                          stays ? w.from : w.to));
        in.erase(moved);
    }
    for (const auto &w : in)
        all.push_back(say("Join {} to {} with a {} wire.", w.from, w.to, w.colour));
    for (const auto &j : fix.jumpers)
        all.push_back(say("Put the jumper on {}.", j));
    for (const auto &j : fix.pulled)
        all.push_back(say("Take the jumper off {}.", j));
    if (!fix.pins.empty() && !fix.out.empty())
        all.push_back(say("The program's pins follow."));
    else
        for (const auto &[terminal, pin] : fix.pins)
            all.push_back(say("Let the program use {} for {}.", pin, terminal));
    return joined(all, " ");
}

} // namespace

kit::Car applied(const kit::Assembly &assembly, const Fix &fix)
{
    auto car = rewired(assembly.car(), fix);
    for (const auto &p : fix.parts)
        if (p.instance.empty()) {
            const auto id = addPart(car, assembly.catalogue(), p.after);
            for (auto &i : car.parts) // its place is counted from the foremost point
                if (i.id == id && movesOf(fix, id))
                    i.mount.emplace();
        } else if (p.after.empty())
            removePart(car, assembly.catalogue(), p.instance);
        else
            exchangePart(car, assembly.catalogue(), p.instance, p.after);
    for (auto &i : car.parts) {
        for (const auto &r : fix.resistors)
            if (i.id == r.light)
                i.resistor_ohm = r.after_ohm;
        for (const auto &f : fix.feeds)
            feed(i, f);
    }
    for (const auto &m : fix.moves)
        for (auto &i : car.parts)
            if (i.id == m.instance && i.mount) {
                // Whole tenths of a millimetre, as they are measured.
                const auto at = [](double m_) { return std::round(m_ * 1e4) / 1e4; };
                i.mount->setBack_m = at(i.mount->setBack_m + m.back_m);
                i.mount->offset_m = at(i.mount->offset_m + m.left_m);
                i.mount->height_m = at(i.mount->height_m + m.up_m);
                i.mount->tilt_rad += m.tilt_rad;
            }
    // Wires that parts take along are counted there.
    if (!fix.out.empty() || !fix.in.empty())
        revisions::edited(car);
    return car;
}

Say words(const kit::Assembly &car, const Fix &fix)
{
    if (!fix.resistors.empty())
        return words(car, fix.resistors.front());
    if (!fix.cells.empty() && !fix.cells.front().kind.empty())
        return words(car, fix.cells.front());
    if (isRecoloured(fix))
        return colours(fix);
    if (!fix.parts.empty() && !fix.in.empty() && fix.out.empty())
        return say("{} from {} to {}", words(car, fix.parts), fix.in.front().from,
                   fix.in.back().from);
    if (!fix.parts.empty() && !fix.in.empty())
        return say("{} between {} and what hangs on it", words(car, fix.parts),
                   fix.in.front().from);
    if (!fix.parts.empty() && !fix.moves.empty())
        return say("{}, {} behind the foremost point", words(car, fix.parts),
                   units::quantity(fix.moves.front().back_m, units::Unit::Millimetre, 0));
    if (!fix.parts.empty())
        return words(car, fix.parts);
    if (!fix.feeds.empty())
        return words(car, fix.feeds);
    return fix.moves.empty() ? wireWords(fix) : words(car, fix.moves.front());
}

} // namespace badger::edit
