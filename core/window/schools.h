// SPDX-License-Identifier: GPL-3.0-or-later
// What does another school do on the same runs?
//
// A school is the same program with one habit changed: it coasts in place of braking, takes the
// median of several readings or one, lets no echo count as clear or stop. Both drive the same rows
// with the same seeds (common random numbers), so a difference is the habit's.
#pragma once

#include "core/window/search.h"

namespace badger::window
{

struct School {
    Say what; ///< "coasting in place of braking"
    rules::Program program;
};
/// Those that differ from the program.
std::vector<School> schoolsOf(const rules::Program &program);

/// How often each of two fails on the same runs, and how long they take.
struct Paired {
    int runs = 0;
    int both = 0;      ///< runs in which both fail
    int onlyFirst = 0; ///< the program as it is
    int onlySecond = 0;
    /// Of the second's rate less the first's: 95 %, by Newcombe's tenth method (Statistics in
    /// Medicine 17, 1998, 2635), which joins the two Wilson intervals by the pairs' correlation.
    double low = 0.0, high = 0.0;
    /// Mean of the second's end less the first's, of runs in which neither fails, in seconds, with
    /// its 95 % interval by the pairs' spread (normal); empty below ten such runs.
    std::optional<double> later_s, laterLow_s, laterHigh_s;

    double difference() const { return runs ? double(onlySecond - onlyFirst) / runs : 0.0; }
    /// The interval leaves nought out, and some pair differs.
    bool isShown() const { return onlyFirst + onlySecond > 0 && (low > 0.0 || high < 0.0); }
};
/// Fills in the intervals from the counts.
Paired paired(int both, int onlyFirst, int onlySecond, int neither);

struct Compared {
    Say what;
    Paired pairs;
    std::optional<Error> refused; ///< the car cannot run it so
};
/// Each school on every row of the window that is not switched out, `runsEach` of each, at the
/// program's own value. `go` is asked between runs; what it stops is left out.
std::vector<Compared> compareSchools(const Window &window, int runsEach,
                                     const std::function<bool()> &go = {});

/// "coasting in place of braking: 14 of 400 fail, 2 as it is (1.4 to 4.9 % more). It ends 0.3 s
/// later." Or: "no difference shown".
Say wordsOf(const Compared &compared);

} // namespace badger::window
