// SPDX-License-Identifier: GPL-3.0-or-later
// What does a program do at every reading, and where on the ruler does that change?
#pragma once

#include "core/rules/evaluate.h"

#include <vector>

namespace badger::rules
{

enum class CellKind {
    Action, ///< the rules lead to a state
    Hole,   ///< no rule matches: the car silently goes on with what it did
    Kept,   ///< a declared policy keeps the state (ignore; hold-last without its number)
    Forced  ///< the stop policy
};

/// What one reading does when the program is in one state.
struct Cell {
    std::string from; ///< the state before
    std::string to;   ///< the state after
    CellKind kind = CellKind::Action;
    std::optional<Fired> first; ///< of the matching rules; it decides unless it goes on
    bool overlap = false;       ///< matching rules lead to different states
    bool operator==(const Cell &) const = default;
};

/// What one reading does, from every state.
struct Row {
    bool countsAsNone = false; ///< the number 0
    std::vector<Cell> cells;   ///< one for each state without a wait, in order
    bool operator==(const Row &) const = default;

    /// The state all cells lead to; empty where they differ.
    std::string to() const;
    bool hasHole() const;    ///< no rule matches, from at least one state
    bool hasOverlap() const; ///< rules with different actions match, from at least one state
    bool sameAction(const Row &other) const { return cells == other.cells; }
};

/// A stretch of whole numbers in which nothing changes.
struct Run {
    long first = 0;
    long last = 0;
    Row row;
};

/// Every whole-number reading from 0 to the limit, as stretches without a gap, and none.
struct Table {
    std::string reading;
    units::Unit unit = units::Unit::Centimetre;
    std::vector<Run> runs;
    Row none;

    long last() const { return runs.back().last; } ///< the greatest number
    const Row &at(long number) const;              ///< `number` from 0 to last()
};

/// Can the program be run as it stands? Fails with Malformed where a reference leads nowhere, with
/// Missing while something is unset (naming it all).
Result<void> complete(const Program &program);

/// Does it read rangers alone, in every pass? Fails with Conflict where it does more: its table is
/// machine::regions(), and it has no simulated run.
Result<void> forRangersAlone(const Program &program);

/// The whole table of one reading; other readings are taken as "no echo". Fails as complete() does,
/// with Malformed for an unknown reading, with OutOfRange when it would have more than 20000 rows.
///
/// Rules are asked at the edges of their own limits only: between two edges no comparison with a
/// whole number changes.
Result<Table> table(const Program &program, const std::string &reading);

/// A stretch of true distance in which the car does one thing, as far as the program knows.
struct Band {
    double from_m = 0.0;
    double to_m = 0.0;
    Row row; ///< what happens there
};

/// Bands from 0 to the limit, at the air temperature the program assumes. A whole number n stands
/// for n up to just under n + 1 units, so a threshold "<= 32 cm" has its edge just under 33 cm.
Result<std::vector<Band>> bands(const Program &program, const std::string &reading);

/// The row for any number, whole or not, or for none: what "try a reading" shows.
Row rowAt(const Program &program, const std::string &reading, std::optional<double> number);

/// The row in words: "stands: 29 ≤ 32, rule 'near'".
Say explainRow(const Program &program, const std::string &reading, const Row &row,
               std::optional<double> number);

/// The true distance at which the car that comes nearer first stops driving: the upper end of the
/// farthest band whose state does not go ahead. Empty when there is none.
std::optional<double> effectiveEdge_m(const Program &program, const std::vector<Band> &bands);

} // namespace badger::rules
