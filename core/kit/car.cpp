// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/kit/car.h"

#include <algorithm>

namespace badger::kit
{

const Instance *Car::instance(std::string_view wanted) const
{
    const auto it =
        std::find_if(parts.begin(), parts.end(), [&](const Instance &i) { return i.id == wanted; });
    return it == parts.end() ? nullptr : &*it;
}

bool sameBuild(const Car &a, const Car &b)
{
    return a.name == b.name && a.mission == b.mission && a.geometry == b.geometry &&
           a.parts == b.parts && a.wires == b.wires && a.programPins == b.programPins;
}

bool sameDrive(const Car &a, const Car &b)
{
    return a.program == b.program && a.wantedGap_m == b.wantedGap_m &&
           a.calibrations == b.calibrations && sameBuild(a, b);
}

TerminalName splitTerminal(std::string_view name)
{
    const auto dot = name.find('.');
    if (dot == std::string_view::npos)
        return {};
    return {std::string(name.substr(0, dot)), std::string(name.substr(dot + 1))};
}

const std::string &labelOf(const Instance &instance)
{
    return instance.label.empty() ? instance.id : instance.label;
}

double at(const parts::Figure &figure, Bound bound)
{
    return bound == Bound::Low ? figure.low : bound == Bound::High ? figure.high : figure.typical;
}

std::optional<double> sourceVolts_V(const Instance &source, const parts::Catalogue &catalogue,
                                    Charge charge, Bound of)
{
    const auto *part = catalogue.find(source.partId);
    if (part == nullptr)
        return std::nullopt;
    if (part->kind == parts::Kind::Supply)
        return at(*part->figure("volts_V"), of);
    if (part->kind != parts::Kind::Cell)
        return std::nullopt;
    const char *key = charge == Charge::Fresh     ? "fresh_V"
                      : charge == Charge::Nominal ? "nominal_V"
                                                  : "empty_V";
    double volts = at(*part->figure(key), of) * source.cellsInSeries;
    for (const auto &group : source.otherCells)
        if (const auto *cell = catalogue.find(group.partId); cell && cell->figure(key))
            volts += at(*cell->figure(key), of) * group.cells;
    return volts;
}

const Mount *mountOf(const Car &car, const Instance &fitted)
{
    constexpr int deepest = 8; // carriers that carry each other are refused elsewhere
    const auto *at = &fitted;
    for (int depth = 0; at && depth < deepest; ++depth) {
        if (at->mount)
            return &*at->mount;
        at = at->carriedBy.empty() ? nullptr : car.instance(at->carriedBy);
    }
    return nullptr;
}

} // namespace badger::kit
