// SPDX-License-Identifier: GPL-3.0-or-later
// Every car that one slip of a hand makes of a right one.
#pragma once

#include "core/kit/assembly.h"

#include <functional>
#include <set>
#include <string>

namespace badger::campaign
{

struct Mutation {
    std::string kind;  ///< "wire removed"
    std::string words; ///< "driver.ENA to board.D5"
    kit::Car car;
    std::set<std::string> touched; ///< terminals and instances
};

/// Wires removed, ends moved to every other terminal, far ends of two wires of one part exchanged,
/// extra wires between any two terminals, two-lead parts and plugs turned round, a second pack and
/// a second board joined to every pair of supply nets.
void eachMutation(const kit::Assembly &car, const std::function<void(const Mutation &)> &visit);

} // namespace badger::campaign
