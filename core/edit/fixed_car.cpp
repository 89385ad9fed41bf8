// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/edit/fixed_car.h"

#include "core/edit/kit_edits.h"
#include "core/repair/repair.h"
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

bool movesOf(const Fix &fix, const std::string &instance)
{
    return std::any_of(fix.moves.begin(), fix.moves.end(),
                       [&](const Fix::Move &m) { return m.instance == instance; });
}

} // namespace

kit::Car applied(const kit::Assembly &assembly, const Fix &fix)
{
    auto car = repair::applied(assembly.car(), fix);
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
    for (const auto &m : fix.moves)
        for (auto &i : car.parts)
            if (i.id == m.instance && i.mount) {
                // Whole tenths of a millimetre, as they are measured.
                const auto at = [](double m_) { return std::round(m_ * 1e4) / 1e4; };
                i.mount->setBack_m = at(i.mount->setBack_m + m.back_m);
                i.mount->offset_m = at(i.mount->offset_m + m.left_m);
            }
    // Wires that parts take along are counted there.
    if (!fix.out.empty() || !fix.in.empty())
        revisions::edited(car);
    return car;
}

Say words(const kit::Assembly &car, const Fix &fix)
{
    if (!fix.parts.empty() && !fix.in.empty())
        return say("{} between {} and what hangs on it", words(car, fix.parts),
                   fix.in.front().from);
    if (!fix.parts.empty() && !fix.moves.empty())
        return say("{}, {} behind the foremost point", words(car, fix.parts),
                   units::quantity(fix.moves.front().back_m, units::Unit::Millimetre, 0));
    if (!fix.parts.empty())
        return words(car, fix.parts);
    return fix.moves.empty() ? repair::words(fix) : words(car, fix.moves.front());
}

} // namespace badger::edit
