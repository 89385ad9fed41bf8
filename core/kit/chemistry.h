// SPDX-License-Identifier: GPL-3.0-or-later
// Which cautions do a car's cells call for?
#pragma once

#include "core/kit/assembly.h"

#include <algorithm>

namespace badger::kit
{

inline bool hasLithium(const Assembly &car)
{
    return std::any_of(car->parts.begin(), car->parts.end(), [&](const Instance &i) {
        const auto *p = car.part(i);
        return p && p->kind == parts::Kind::Cell && p->shape == "lithium";
    });
}

/// May cells of a kind be charged? Of a person's own kind nobody says it; a bank may.
enum class Chargeable { No, Yes, Unknown };
inline Chargeable chargeable(const parts::Part &cell)
{
    if (cell.kind != parts::Kind::Cell || cell.shape == "lithium" || cell.shape == "NiMH")
        return Chargeable::Yes;
    return cell.shape.starts_with("alkaline") ? Chargeable::No : Chargeable::Unknown;
}

} // namespace badger::kit
