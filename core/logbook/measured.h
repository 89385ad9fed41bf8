// SPDX-License-Identifier: GPL-3.0-or-later
// What did the ruler say, and what threshold follows from it?
#pragma once

#include "core/base/extra.h"
#include "core/base/id.h"
#include "core/base/pieces.h"
#include "core/base/result.h"

#include <optional>
#include <string>
#include <vector>

// A trial says what it was made with; how it is made up, it does not know.
namespace badger::kit
{
struct Car;
}
namespace badger::rules
{
struct Program;
}
namespace badger::floor
{
struct Floor;
}

namespace badger::logbook
{

/// One run on the real floor.
struct MeasuredTrial {
    Id<MeasuredTrial> id;
    Id<kit::Car> car; ///< of the workshop
    std::string date; ///< 2026-11-19
    /// Floor and program may be gone since: their names then are kept as they were at the run.
    Id<floor::Floor> floor;
    std::string floorName;
    Id<rules::Program> program;
    std::string programName;
    int programVersion = 0;
    double threshold_m = 0.0;
    int pwm_counts = 0;
    double battery_V = 0.0;
    bool contact = false;
    std::optional<double> gap_m;            ///< by ruler; none after a contact
    std::optional<double> predictedWorst_m; ///< the budget's gap when the trial was entered
    std::optional<double> predictedTypical_m;
    std::string note;
    bool sample = false; ///< made-up figures
    Extra extra{};
    bool operator==(const MeasuredTrial &) const = default;
};

/// Mean and spread of a handful of gaps; a contact counts as a gap of 0.
struct GapStatistics {
    int runs = 0;
    int contacts = 0;
    double mean_m = 0.0;
    std::optional<double> spread_m; ///< sample deviation, from two runs on
    double least_m = 0.0;
    double most_m = 0.0;
};
std::optional<GapStatistics> statistics(const Pieces<MeasuredTrial> &trials);

/// What differs between trials that are to be taken together: "threshold", "speed", "floor",
/// "program version", "battery by more than 0.3 V". Empty: they belong together. More than one
/// thing changed means that a comparison of them is mixed.
std::vector<Say> differences(const Pieces<MeasuredTrial> &trials);

/// The next threshold, from trials that belong together.
///
/// Overshoot = threshold - gap: what latency, roll-out, error and set-back really took. The next
/// threshold leaves the wanted gap at the mean overshoot plus a margin: from two runs on, the
/// one-sided 95 % bound for one more run, t(0.95, n-1) * s * sqrt(1 + 1/n); with one run there is
/// no spread and the margin is 0 and marked so. Rounded up to a whole centimetre.
struct Proposal {
    double threshold_m = 0.0; ///< of the trials
    double meanGap_m = 0.0;
    double overshoot_m = 0.0; ///< mean
    double wantedGap_m = 0.0;
    std::optional<double> margin_m;
    double exact_m = 0.0; ///< before rounding up
    double next_m = 0.0;
    int runs = 0;
};
/// Fails with Missing without trials, with Conflict when they do not belong together or end in a
/// contact (a contact says only that the overshoot was larger than the threshold).
Result<Proposal> propose(const Pieces<MeasuredTrial> &trials, double wantedGap_m);

/// Exact one-sided upper bound on a contact rate after `contacts` in `runs` (binomial): the rate at
/// which so few contacts have probability 1 - confidence. confidence 0.5 to 0.999.
/// Refuses contacts outside 0 to runs and runs below 1.
Result<double> contactRateBound(int contacts, int runs, double confidence);

/// Two-sided 95 % interval of a rate as it is shown (Wilson): (p + z²/2n ± z √(p(1−p)/n + z²/4n²))
/// / (1 + z²/n) with z = 1.959964. 0 of 299: 0 to 1.27 %. Refuses what contactRateBound refuses.
struct Interval {
    double low = 0.0;
    double high = 0.0;
};
Result<Interval> wilson(int contacts, int runs);

/// How many runs in all are needed to claim a rate of at most `rate` (0 to 1, both excluded) when
/// `contacts` have been seen and no more follow: 299 for 0 at 1 % and 95 %, 473 for 1.
Result<int> runsToClaim(int contacts, double rate, double confidence);

} // namespace badger::logbook
