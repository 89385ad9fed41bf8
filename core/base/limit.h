// SPDX-License-Identifier: GPL-3.0-or-later
// Is a limit passed?
#pragma once

namespace badger
{

/// A figure that was solved for differs in its last digits from one that was written down: what is
/// past its limit is so by more than a thousandth.
constexpr bool isPast(double value, double limit)
{
    constexpr double share = 1.001;
    return value > (limit < 0.0 ? limit / share : limit * share);
}

} // namespace badger
