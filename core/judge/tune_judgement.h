// SPDX-License-Identifier: GPL-3.0-or-later
// Which sensors of a car have been measured, what came of it, and does it still hold?
#pragma once

#include "core/base/check.h"
#include "core/base/pieces.h"
#include "core/floor/floor.h"
#include "core/tune/record.h"

#include <memory>
#include <string>
#include <vector>

namespace badger::judge
{

/// One thing to measure on this car.
struct BenchItem {
    tune::What what = tune::What::Ruler;
    std::string instance; ///< empty: the whole car
    bool needed = false;  ///< the gate waits for it; otherwise it is worth knowing
    std::shared_ptr<const tune::Record> record; ///< the newest; null: not measured yet
    tune::Verdict verdict;
    std::vector<Say> stale; ///< what has changed since
    /// Older ones of the same, newest first: other rooms, other light.
    std::vector<std::shared_ptr<const tune::Record>> earlier{};

    bool isDone() const { return record && verdict.good && stale.empty(); }
};

struct TuneJudgement {
    /// In the order in which they are taken: at the bench first, then over surfaces, then driving.
    std::vector<BenchItem> items;
    Findings findings; ///< what no longer holds, what cannot be used, and what is fine
};

/// "ranger: ranger against ruler"; of the whole car "turn rate".
Say placeOf(const BenchItem &item);
/// Where the window shows it, "bench:ruler:ranger".
Spot targetOf(const BenchItem &item);

/// What each of these checks is called and says, for the list of findings.
std::vector<CheckLine> tuneLines();

/// What was measured while driving is stale, too, where the pack had another charge (by more than
/// 0.3 V) than before the car's last run, `charge_V`. `before` is the judgement that is brought up
/// to date: a verdict whose record is the same piece is taken from it.
TuneJudgement judgeTune(const kit::Assembly &car, const Pieces<tune::Record> &records,
                        const std::string &floorName, std::optional<double> charge_V = {},
                        const TuneJudgement &before = {});

} // namespace badger::judge
