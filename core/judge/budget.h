// SPDX-License-Identifier: GPL-3.0-or-later
// What is the stopping budget of this car, from its own parts, calibrations and program?
//
// Of any program that a distance ahead stops: see judge/approach.h.
#pragma once

#include "core/base/say.h"
#include "core/drive/speed.h"
#include "core/drive/stopping.h"
#include "core/kit/assembly.h"
#include "core/pins/speed_reach.h"
#include "core/regions/exact.h"
#include "core/rules/pass_time.h"
#include "core/workshop/workshop.h"

namespace badger::judge
{

/// One term of the sum as it is said at a whiteboard.
struct SumTerm {
    std::string key; ///< "latency"
    Say name;        ///< "age, loop, actuation"
    Say how;         ///< "0.24 m/s x 65 ms"
    Say from;        ///< where the values come from, "loop: 58 ms pause + 7 ms longest ping"
    double worst_m = 0.0;
    double typical_m = 0.0;
};

struct CarBudget {
    std::string valueName;              ///< the program's stop threshold, "halt"
    std::string reading;                ///< that is compared with it, "ahead"
    bool inclusive = true;              ///< the car stops at the threshold itself, too
    std::string state{};                ///< that drives ahead
    std::vector<std::string> into{};    ///< states that it may give way to, "stands"
    rules::Act act = rules::Act::Stand; ///< what the first of them does
    int looks = 1;      ///< passes until the ranger looks ahead again: the angles of a sweep
    bool slows = false; ///< it drives slower there than it does on a free way
    /// Readings whose silence skips the rules: meanwhile nothing stops the car.
    std::vector<std::string> unlessSilent{};
    /// The farthest stretch that stops it, where the car drives over it between two looks.
    struct Narrow {
        double from_m = 0.0;
        double to_m = 0.0;
        double step_m = 0.0;
    };
    std::optional<Narrow> narrow{};
    int pwm_counts = 0;  ///< that the program asks for
    int acts_counts = 0; ///< that come out at the faster wheel: pins::actingCounts
    bool brakes = true;
    drive::StopSetup setup;
    drive::StopBudget budget;
    drive::Sourced speed;
    drive::SourcedRoll roll;
    rules::PassTime pass;
    std::vector<SumTerm> terms;
    std::optional<double> edge_m; ///< where the board really starts to act, whole numbers included
    /// Answers to the two inverse questions, for the car's wanted gap; empty where none is wanted.
    std::optional<double> leastThreshold_m;
    std::optional<double> greatestSpeed_mps; ///< empty also where no speed leaves so much
};

/// What stops a car on its way ahead. All null where nothing does.
struct StopRule {
    const rules::Value *value = nullptr;     ///< the threshold
    const rules::State *state = nullptr;     ///< that the rule leads to
    const rules::Reading *reading = nullptr; ///< that is compared
    bool inclusive = true;                   ///< the threshold itself stops it, too
};

/// Of the distances that a rule compares on its way to a state that does not go ahead, the
/// farthest. Readings whose ranger looks to a side on this car count only where no other stops it.
StopRule stopRule(const rules::Program &program, const kit::Car &car);
/// The state that goes ahead. Null where there is none.
const rules::State *goState(const rules::Program &program);

/// The ranger behind a reading of the program, wherever it looks, or an error that names what is
/// missing.
Result<const parts::Part *> rangerOf(const kit::Assembly &car, const rules::Reading &reading);

/// The budget. Fails with Missing where a part, a value or a policy is not there. `reach`: what the
/// wires make of the program's speed.
Result<CarBudget> budgetOf(const kit::Assembly &car, const regions::Exact &exact,
                           const pins::Reach &reach);
Result<CarBudget> budgetOf(const kit::Assembly &car, const rules::Program &program,
                           const pins::Reach &reach);
Result<CarBudget> budgetOf(const kit::Assembly &car, const rules::Program &program);

/// How far a car goes on until it stands, at worst.
struct StopWay {
    double latency_m = 0.0; ///< a whole pass at the speed of the state that drives
    double rollOut_m = 0.0;
    bool measured = false; ///< both speed and roll-out were
};
/// From a state that drives ahead into another, whatever tells it to. Empty where speed or roll-out
/// are not known. `program` is complete.
std::optional<StopWay> stopOf(const kit::Assembly &car, const rules::Program &program,
                              const pins::Reach &reach, const rules::State &goes,
                              const rules::State &into);

/// The same car done another way: what would be left at worst.
struct OtherWay {
    Say name; ///< "coast"
    double worstGap_m = 0.0;
    bool isCurrent = false;
    bool measured = true; ///< false where the roll-out is from the parts' data
    bool operator==(const OtherWay &) const = default;
};
std::vector<OtherWay> otherWays(const kit::Assembly &car, const regions::Exact &exact,
                                const pins::Reach &reach);

} // namespace badger::judge
