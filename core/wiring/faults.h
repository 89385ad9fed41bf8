// SPDX-License-Identifier: GPL-3.0-or-later
// What is wrong with the supplies and levels of a wired car, by its cause?
//
// Read off the solved network. One fault is one finding: what follows from a pack the wrong way
// round, a plug turned round, a short or an open lead stands under it in lines.
#pragma once

#include "core/base/finding.h"
#include "core/circuit/strain.h"

#include <set>
#include <string>
#include <vector>

namespace badger::wiring
{

/// The parts that no supply reaches.
std::set<std::string> starvedParts(const circuit::CarNetwork &net, const circuit::Looked &looked);

/// Codes: supply-to-ground, pack-backwards, plug-backwards, diode-backwards, two-sources-one-net,
/// current-into-pack, supply-outside-window, module-unpowered, module-ungrounded,
/// grounds-not-joined, signal-over-volts, output-against-output, motor-output-held,
/// light-too-bright, link-over-limit, resistor-hot.
std::vector<Finding> faults(const circuit::CarNetwork &net, const circuit::Looked &looked);

} // namespace badger::wiring
