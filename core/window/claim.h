// SPDX-License-Identifier: GPL-3.0-or-later
// How sure is it that a rate is small enough, after so many runs?
//
// A claim is that a rate lies below a limit, shown where so few events would be improbable (at most
// 1 - confidence) if it did not. Singly, 299 runs without an event show 1 % at 95 %, and 473 with
// one. Whoever goes on to 473 after an event in the first 299 errs oftener than one time in twenty:
// 7.6 % of cases, and 10.7 % on through 773. So the looks are planned: a share of the error is
// spent at each, and the whole is what the confidence leaves.
#pragma once

#include <vector>

namespace badger::window
{

/// When to look, and with how few events the claim counts as shown.
struct Looks {
    double limit = 0.01;
    double confidence = 0.95;
    /// after[k]: runs after which k events are few enough. Rising.
    std::vector<int> after;
    int most() const { return after.back(); }
};

/// The looks for a limit of 0 to 1 and a confidence of 0.5 to 0.999 (bounds excluded; else empty).
/// Shares of the error at each look: 0.6, 0.2, 0.12, 0.08, so that a row without events is done
/// early. At 1 % and 95 %: 349 runs with none, and so on.
Looks looks(double limit, double confidence);

/// The probability that such looks call a claim shown where each run has an event at this rate; at
/// the limit itself this is the whole error. By the exact distribution of the events, run by run.
double shownAt(const Looks &looks, double rate);

enum class Shown {
    Open, ///< go on
    Yes,
    Never, ///< more events than the last look allows
};
/// After `runs` of which `events` had one; the caller asks after each run, or at least at each
/// look.
Shown shown(const Looks &looks, int runs, int events);

/// The most runs without success with which a share of successes of at least `share` is shown after
/// so many runs; below 0: not even with none. Exact, one-sided.
int mostMisses(int runs, double share, double confidence);

/// The exact one-sided lower bound of a rate after `events` in `runs` (runs above 0).
double lowerBound(int events, int runs, double confidence);

} // namespace badger::window
