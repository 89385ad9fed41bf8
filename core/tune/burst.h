// SPDX-License-Identifier: GPL-3.0-or-later
// A burst of readings at one place: how steady is it, and what would a median make of it?
#pragma once

#include "core/base/result.h"
#include "core/tune/stats.h"

#include <optional>
#include <vector>

namespace badger::tune
{

/// One channel's readings as they arrived; empty: nothing came back.
using Burst = std::vector<std::optional<double>>;

struct BurstLook {
    int readings = 0;
    int none = 0; ///< nothing came back
    int wild = 0; ///< farther than six robust deviations and a fiftieth from the median
    std::optional<Spread> spread;    ///< of the numbers, wild ones included
    double jitter = 0.0;             ///< robust deviation of the numbers
    std::vector<std::size_t> wildAt; ///< which readings, from 0
};
BurstLook lookAt(const Burst &burst);

/// A running median of n over the burst, as a board makes it: of the last n readings, from the n-th
/// on; a reading that is none counts as farther than any number, and a median that is none stays
/// none. n odd, 1 to 15.
Burst runningMedian(const Burst &burst, int n);

/// What a ranger gives for no echo, measured facing open space.
enum class NoEcho {
    Zero,    ///< it gives 0
    Huge,    ///< a long time: how long it holds its line
    Nothing, ///< no pulse within the time-out
    Mixed    ///< no two alike: something stands there after all
};
struct NoEchoLook {
    NoEcho kind = NoEcho::Mixed;
    double hold_s = 0.0; ///< of Huge: the median
    double share = 0.0;  ///< of the readings that are of that kind
    Say policy;          ///< what a program has to do about it
};
/// Echo times in seconds. Huge: longer than an echo from 5.5 m (32 ms). A kind is one where nine in
/// ten readings agree. Refused: fewer than five readings (Missing).
Result<NoEchoLook> noEchoLook(const Burst &echo_s);

/// A whole-number distance is cut, so that "below 20" already holds at 20.99: what a threshold that
/// is compared with whole centimetres really is.
struct WholeThreshold {
    double lessThan_m = 0.0; ///< "< n" holds below this true reading
    double atMost_m = 0.0;   ///< "<= n" holds below this
};
/// `step_m`: one whole number, 0.01 for centimetres. Threshold and step above 0.
WholeThreshold wholeThreshold(double threshold_m, double step_m);

} // namespace badger::tune
