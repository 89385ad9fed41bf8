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

} // namespace badger::kit
