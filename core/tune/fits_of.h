// SPDX-License-Identifier: GPL-3.0-or-later
// What follows from a record: its readings, put before the fit of its kind.
#pragma once

#include "core/sense/ultrasonic.h"
#include "core/tune/moves.h"
#include "core/tune/record.h"
#include "core/tune/reflectance_fit.h"
#include "core/tune/ruler_fit.h"
#include "core/tune/surfaces.h"

#include <string_view>

namespace badger::tune
{

/// All readings under a label, those that came.
std::vector<double> numbersOf(const Record &record, std::string_view label);

/// Each stretch at a true distance is one pair, its burst's median turned into a distance with the
/// record's air (20 degrees where that was not said). A burst that is more nothing than readings is
/// no echo.
Result<RulerFit> rulerFitOf(const Record &record);
Result<Surfaces> surfacesOf(const Record &record);
Result<ReflectanceFit> reflectanceOf(const Record &record);
Result<NoEchoLook> noEchoOf(const Record &record);

/// What a digital module gives over both surfaces: its sense, measured.
struct TrimmerLook {
    bool lightLevel = false;
    bool darkLevel = false;
    bool steady = true; ///< all readings of a surface alike
};
Result<TrimmerLook> trimmerOf(const Record &record);

Result<TurnFit> turnOf(const Record &record, std::string_view side);
/// Of the first run under that label: "" as the pack was, "low" with one that is nearly empty.
Result<Straightness> straightnessOf(const Record &record, double track_m,
                                    std::string_view label = "");

/// What the car drove at one PWM count.
struct SpeedLook {
    int counts = 0;
    double mean_mps = 0.0;
    double deviation_mps = 0.0; ///< from run to run; 0 with one run
    int runs = 0;
};
/// Each count that was timed, in rising order. Times that are not above 0 are left out; a stretch
/// without a count or a length counts for nothing.
std::vector<SpeedLook> speedsOf(const Record &record);

} // namespace badger::tune
