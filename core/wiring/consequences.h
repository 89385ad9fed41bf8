// SPDX-License-Identifier: GPL-3.0-or-later
// Which findings of the wires follow from another one?
#pragma once

#include "core/base/finding.h"
#include "core/nets/nets.h"

#include <set>
#include <string>
#include <vector>

namespace badger::wiring
{

/// The findings with those that follow from another as its lines; the root is then as severe as the
/// worst of them. What pins give into a part without ground follows from that ground; what a wheel
/// cannot be told, from what is wrong at an input of its driver; what a pin gives into a light
/// without its resistor, from the light. Nothing is left out.
/// `starved` are the parts that no supply reaches: what they cannot do follows from that. `over`
/// are the nets with too many volts: no light takes those.
std::vector<Finding> withRoots(std::vector<Finding> findings, const nets::Nets &nets,
                               const std::set<std::string> &starved, const std::set<int> &over);

} // namespace badger::wiring
