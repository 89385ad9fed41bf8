// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

namespace badger::test
{

/// By how much a solved network may differ from a sum by hand: it leaks a nanosiemens at each node.
inline constexpr double leaks = 1e-5;

} // namespace badger::test
