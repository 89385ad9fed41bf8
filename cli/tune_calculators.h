// SPDX-License-Identifier: GPL-3.0-or-later
// Calculators of the tune station that need no workshop file.
#pragma once

#include "cli/answer.h"

#include <string>

namespace badger::cli
{

/// Options as they were typed; empty where an optional one was not.
struct RulerFitOptions {
    std::string csv, air;
};
Result<Answer> rulerFit(const RulerFitOptions &options);

struct SurfacesOptions {
    std::string csv;
};
Result<Answer> surfaces(const SurfacesOptions &options);

struct ReflectanceFitOptions {
    std::string csv;
    double dark = 0.0;
};
Result<Answer> reflectanceFit(const ReflectanceFitOptions &options);

struct TrimmerOptions {
    std::string onLight, onDark;
};
Result<Answer> trimmer(const TrimmerOptions &options);

struct DwellOptions {
    std::string angle, speed, settle;
};
Result<Answer> dwell(const DwellOptions &options);

struct StraightnessOptions {
    std::string drift, driftHalf, length, track;
};
Result<Answer> straightness(const StraightnessOptions &options);

struct TurnOptions {
    std::string time, angle, time2, angle2;
};
Result<Answer> turn(const TurnOptions &options);

struct LaneOptions {
    std::string inner, outer, line, laneWidth;
    bool single = false;
};
Result<Answer> lane(const LaneOptions &options);

struct StraddleOptions {
    std::string line, gap;
};
Result<Answer> straddle(const StraddleOptions &options);

struct EdgeOptions {
    std::string ahead, spot, track, speed, lag, delay;
    double share = 0.0;
};
Result<Answer> edge(const EdgeOptions &options);

struct RunsOptions {
    int contacts = 0;
    int of = 0;
    double confidence = 95.0;
};
Result<Answer> runs(const RunsOptions &options);

} // namespace badger::cli
