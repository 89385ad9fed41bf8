// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/kit/car.h"

#include <algorithm>

namespace badger::kit
{

const Instance *Car::instance(std::string_view id) const
{
    const auto it =
        std::find_if(parts.begin(), parts.end(), [&](const Instance &i) { return i.id == id; });
    return it == parts.end() ? nullptr : &*it;
}

const Instance *firstOf(const Car &car, const parts::Catalogue &catalogue, parts::Kind kind)
{
    for (const auto &i : car.parts)
        if (const auto *part = catalogue.find(i.partId); part && part->kind == kind)
            return &i;
    return nullptr;
}

const Instance *motorOn(const Car &car, const parts::Catalogue &catalogue, Side side)
{
    for (const auto &i : car.parts) {
        const auto *part = catalogue.find(i.partId);
        if (part && part->kind == parts::Kind::Motor && i.side == side)
            return &i;
    }
    return nullptr;
}

TerminalName splitTerminal(std::string_view name)
{
    const auto dot = name.find('.');
    if (dot == std::string_view::npos)
        return {};
    return {std::string(name.substr(0, dot)), std::string(name.substr(dot + 1))};
}

const parts::Terminal *terminal(const Car &car, const parts::Catalogue &catalogue,
                                std::string_view name)
{
    const auto split = splitTerminal(name);
    const auto *fitted = car.instance(split.instance);
    const auto *part = fitted ? catalogue.find(fitted->partId) : nullptr;
    return part ? part->terminal(split.terminal) : nullptr;
}

std::optional<double> packVolts_V(const Car &car, const parts::Catalogue &catalogue, Charge charge)
{
    const auto *pack = firstOf(car, catalogue, parts::Kind::Cell);
    if (pack == nullptr)
        return std::nullopt;
    const char *key = charge == Charge::Fresh     ? "fresh_V"
                      : charge == Charge::Nominal ? "nominal_V"
                                                  : "empty_V";
    const auto *cell = catalogue.find(pack->partId)->figure(key);
    if (cell == nullptr)
        return std::nullopt;
    return cell->typical * pack->cellsInSeries;
}

} // namespace badger::kit
