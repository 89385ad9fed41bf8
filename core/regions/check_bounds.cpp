// SPDX-License-Identifier: GPL-3.0-or-later
// Checks of what a program sets apart: too near to be measured, too far to be meant.
#include "core/regions/check_look.h"
#include "core/units/quantity.h"

#include <algorithm>

namespace badger::regions
{

namespace
{

using rules::Act;
using units::quantity;
using units::Unit;

/// The cell that differs from this one in one atom alone.
const Cell *beside(const Regions &regions, const Cell &cell, size_t axis, int atom)
{
    const auto it =
        std::find_if(regions.cells.begin(), regions.cells.end(), [&](const Cell &other) {
            for (size_t k = 0; k < cell.atoms.size(); ++k)
                if (other.atoms[k] != (k == axis ? atom : cell.atoms[k]))
                    return false;
            return true;
        });
    return it == regions.cells.end() ? nullptr : &*it;
}

/// Where it goes on although it is too near, and does not with the least number there is.
const Cell *goesOn(const Look &look, const Regions &regions, size_t axis)
{
    const auto &atoms = regions.axes[axis].atoms;
    const auto near = std::find_if(atoms.begin(), atoms.end(),
                                   [](const Atom &a) { return a.kind == Atom::Kind::Near; });
    if (near == atoms.end() || atoms.front().kind != Atom::Kind::Numbers)
        return nullptr;
    for (const auto &cell : regions.cells) {
        // Where the last reading is held, or the pass skipped, it stands already as a rule: what
        // comes near has passed the least number first.
        if (cell.atoms[axis] != near - atoms.begin() || look.act(cell.to) != Act::Go ||
            cell.outcome != Outcome::Rule)
            continue;
        const auto *least = beside(regions, cell, axis, 0);
        if (least && look.act(least->to) != Act::Go)
            return &cell;
    }
    return nullptr;
}

} // namespace

Found tooNearGoes(const Look &look, const char *code)
{
    Found found;
    for (const auto &m : look.modes)
        for (size_t k = 0; k < m.regions.axes.size(); ++k) {
            const auto &axis = m.regions.axes[k];
            if (axis.of != Axis::Of::Sensor || !goesOn(look, m.regions, k))
                continue;
            const auto &r = look.program.readings[static_cast<size_t>(axis.sensor)];
            const bool said = std::any_of(found.begin(), found.end(), [&](const Finding &f) {
                return f.places.front() == at::policy(r.name);
            });
            if (said)
                continue;
            const auto bound = quantity(*r.nearest_m, Unit::Centimetre, 2);
            Finding f{
                code,
                Severity::Error,
                look.place("reading " + r.name),
                say("At {} it does not go ahead; nearer than that '{}' counts as clear, and it "
                    "goes.",
                    bound, r.name),
                say("What stands right before the ranger is run into."),
                say("Let what is too near count as blocked, or stop."),
                at::policy(r.name)};
            f.readings = {r.name + " too near"};
            found.push_back(std::move(f));
        }
    return found;
}

Found blindBelowBound(const Look &look, const char *code)
{
    Found found;
    for (const auto &r : look.program.readings) {
        const auto it = look.around.rangers.find(r.name);
        if (!r.nearest_m || it == look.around.rangers.end() ||
            *r.nearest_m >= it->second.deadZone_m)
            continue;
        found.push_back({code, Severity::Warning, look.place("reading " + r.name),
                         say("'{}' takes numbers from {} on; its ranger is blind up to {}.", r.name,
                             quantity(*r.nearest_m, Unit::Centimetre, 2),
                             quantity(it->second.deadZone_m, Unit::Centimetre, 2)),
                         say("Between the two a number is read that is not the distance."),
                         say("Set apart what is nearer than {}.",
                             quantity(it->second.deadZone_m, Unit::Centimetre, 2)),
                         at::policy(r.name)});
    }
    return found;
}

} // namespace badger::regions
