// SPDX-License-Identifier: GPL-3.0-or-later
// What does a machine decide at every reading there is?
//
// The axis of a sensor falls into atoms: each constant that it is compared with, the open stretches
// between them, and none. A comparison of two sensors, or the nearest of several, is an axis of its
// own: their difference, cut at its tolerances. The cells of a mode are the products over the axes
// that its rules name; a cell that no readings reach is left out (a system of difference
// constraints, solved by shortest paths, which also gives readings that lie in the cell). What
// happens in a cell is asked of step() itself at these readings, so there is no second account of
// the rules. Nothing is sampled: within a cell no comparison changes.
#pragma once

#include "core/machine/step.h"

#include <functional>

namespace badger::regions
{

using namespace machine; // its modes, sensors and branches are spoken of throughout

/// A piece of an axis.
struct Atom {
    enum class Kind {
        Numbers, ///< from `from` to `to`; whole numbers where the sensor keeps whole numbers
        None,    ///< no echo
        Near,    ///< an echo from nearer than can be meant
        Wild,    ///< a number farther than can be meant
        Lost,    ///< no echo, so many times in succession
        Yes,
        No,
        Key,   ///< `word` is a rules::Command
        Word,  ///< of a memo; -1: any other
        Angle, ///< the best angle of a scan, from `from` to `to`
        Since, ///< `word` 1: so long since the state was entered
        Any    ///< any number: the axis only matters by whether there is one
    } kind = Kind::Any;
    double from = 0.0;
    double to = 0.0;
    bool openFrom = false; ///< the end itself does not belong to it
    bool openTo = false;
    int word = -1;
    bool operator==(const Atom &) const = default;
};

/// Has a reading there no number of its own?
inline bool lacksNumber(Atom::Kind kind)
{
    return kind == Atom::Kind::None || kind == Atom::Kind::Lost || kind == Atom::Kind::Near ||
           kind == Atom::Kind::Wild;
}

/// The policy by which a sensor counts there; `kind` lacks a number.
inline rules::NoEcho policyFor(const Sensor &sensor, Atom::Kind kind)
{
    return kind == Atom::Kind::Near   ? sensor.tooNear
           : kind == Atom::Kind::Wild ? sensor.wild
                                      : sensor.policy;
}

struct Axis {
    enum class Of { Sensor, Pair, Angle, Memo, Since } of = Of::Sensor;
    int sensor = -1; ///< or the memo; of a pair the first
    int other = -1;  ///< of a pair the second: the axis is first less second
    bool whole = true;
    std::vector<Atom> atoms;
};

enum class Outcome {
    Rule, ///< a rule leads to a mode
    Hole, ///< no rule is met: the car silently goes on with what it did
    Kept, ///< a declared policy keeps the mode, or it has no rules and only follows its reading
    Stop  ///< a declared policy stops
};

/// What happens in one cell.
struct Cell {
    std::vector<int> atoms; ///< one an axis
    Outcome outcome = Outcome::Hole;
    int to = 0;             ///< the mode after the pass
    std::vector<int> fired; ///< branches, in order; more than one acts twice
    bool overlap = false;   ///< other limits of the same sensors would lead elsewhere
    std::vector<std::optional<double>> at; ///< readings in the cell, by sensor; empty: none
};

struct Regions {
    int mode = 0;
    std::vector<Axis> axes;
    std::vector<Cell> cells;
};

/// The cells of one mode, from the first atom of each axis to the last, the last axis quickest. A
/// mode that waits has none. Fails with OutOfRange where the axes have more than a million
/// products, naming the sensors.
Result<Regions> of(const rules::Program &program, const Machine &machine, int mode);

/// The same cut also at the limits of another program's mode, by the names of the readings. What
/// that one reads and this one does not is in `missing`, and not cut.
struct Second {
    const rules::Program &program;
    const Machine &machine;
    int mode = 0;
};
Result<Regions> jointRegions(const rules::Program &program, const Machine &machine, int mode,
                             const Second &second, std::vector<std::string> &missing);

/// What a machine does in a cell that was made for another: its mode at readings of the same names.
/// Empty: a policy keeps or stops it.
struct Asked {
    Outcome outcome = Outcome::Hole;
    int to = 0;
};
Asked askedIn(const Regions &regions, const Cell &cell, const rules::Program &cellsOf,
              const Second &second);

/// Cells that lie side by side and lead to the same, taken together for people to read.
struct Row {
    int mode = 0;
    std::vector<Atom> atoms;    ///< one an axis
    const Cell *cell = nullptr; ///< the first of them
};
/// The rows of a mode; each cell is in one. `regions` has to outlive them.
std::vector<Row> rows(const Machine &machine, const Regions &regions);
/// The same with another sense of "the same".
std::vector<Row> rows(const Regions &regions,
                      const std::function<bool(const Cell &, const Cell &)> &same);

/// Which modes can be got into from the first, by rules, waits and the stop policy.
std::vector<bool> reachable(const Machine &machine);

} // namespace badger::regions
