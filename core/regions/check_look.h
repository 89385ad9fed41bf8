// SPDX-License-Identifier: GPL-3.0-or-later
// What the checks of a program look at. Private to them.
#pragma once

#include "core/regions/check.h"

namespace badger::regions
{

/// The cells of a mode that can be got into.
struct ModeCells {
    const Regions &regions;
    std::vector<Row> rows;
};

struct Look {
    const rules::Program &program;
    const Around &around;
    const Machine &machine;
    std::vector<bool> can;        ///< modes that can be got into
    std::vector<ModeCells> modes; ///< empty while something is unset
    bool complete = false;

    const rules::State &state(int mode) const { return program.states[static_cast<size_t>(mode)]; }
    rules::Act act(int mode) const { return rules::actOf(state(mode).motion); }
    Say place(const Say &thing) const { return say("program '{}', {}", program.name, thing); }
};

using Found = std::vector<Finding>;

inline bool isComplete(const Look &look)
{
    return look.complete;
}

/// Which way a mode turns: 1 left, -1 right, 0 neither, or to where a scan was best.
int turnOf(const Mode &mode);

/// "ahead 18", "right 30, left none".
std::string readingsOf(const Look &look, const Regions &regions, const Row &row);

// In check_cells.cpp: what is decided.
bool reachableRule(const Look &look, int branch);
Found holes(const Look &look, const char *code);
Found overlaps(const Look &look, const char *code);
Found neverMet(const Look &look, const char *code);
Found limitFallsThrough(const Look &look, const char *code);
Found lostTargetChased(const Look &look, const char *code);

// In check_sides.cpp: what is compared with what.
Found noneTurnsToWall(const Look &look, const char *code);
Found noTolerance(const Look &look, const char *code);
Found passesBetterSide(const Look &look, const char *code);

// In check_bounds.cpp: what cannot be measured, or meant.
Found tooNearGoes(const Look &look, const char *code);
Found blindBelowBound(const Look &look, const char *code);

// In check_motion.cpp: what is done then.
Found turnsUnequal(const Look &look, const char *code);
Found alwaysSameSide(const Look &look, const char *code);
Found tiesPreferASide(const Look &look, const char *code);
Found dwellTooShort(const Look &look, const char *code);
Found neverLookedAt(const Look &look, const char *code);
Found blindStretch(const Look &look, const char *code);
Found noWayOut(const Look &look, const char *code);
Found senseOpposite(const Look &look, const char *code);
Found timeOverflows(const Look &look, const char *code);

// In check_measured.cpp: what was measured at the bench.
Found countsNotAsMeasured(const Look &look, const char *code);
Found limitTellsNothing(const Look &look, const char *code);

// In check_loops.cpp: what goes round.
Found endlessLoop(const Look &look, const char *code);

} // namespace badger::regions
