// SPDX-License-Identifier: GPL-3.0-or-later
// Of a program with one ranger: what does it do at every number, and at every distance?
//
// The exact cells of its modes, laid side by side on the line of that ranger's numbers.
#pragma once

#include "core/regions/regions.h"

namespace badger::regions
{

/// What a stretch does to a program that is in one mode.
struct Does {
    int from = 0; ///< the mode before
    int to = 0;   ///< the mode after
    Outcome outcome = Outcome::Hole;
    std::vector<int> fired; ///< branches, in order
    bool overlap = false;   ///< other limits of the same reading would lead elsewhere
    bool operator==(const Does &) const = default;
};

/// The same from every mode that asks its rules, in order.
struct LineRow {
    std::vector<Does> does;
    bool operator==(const LineRow &) const = default;

    /// The mode that all lead to; -1 where they differ.
    int to() const;
    bool hasHole() const;    ///< no rule is met, from at least one mode
    bool hasOverlap() const; ///< rules with different ends are met, from at least one mode
};

/// Numbers between which nothing changes.
struct Stretch {
    Atom numbers; ///< of Kind::Numbers
    LineRow row;
};

struct NumberLine {
    units::Unit unit = units::Unit::Centimetre;
    bool whole = true;
    double limit = 0.0;             ///< the greatest number
    std::vector<Stretch> stretches; ///< from the least number that is one to the limit, no gap
    LineRow none;

    /// The row of a number; of 0, which the board takes for no echo, and of one beyond the limit
    /// that of none.
    const LineRow &at(double number) const;
};

/// Has a program such a line: it reads one ranger in every pass, and nothing else tells it apart
/// what to do?
bool hasNumberLine(const rules::Program &program);

/// Fails with Conflict where it has none.
Result<NumberLine> numberLine(const rules::Program &program, const Machine &machine);

/// A stretch of true distance in which the car does one thing, as far as the program knows. A
/// whole number n stands for n up to just under n + 1 units, so that a threshold "<= 32 cm" has
/// its edge just under 33 cm.
struct Band {
    double from_m = 0.0;
    double to_m = 0.0;
    bool countsAsNone = false; ///< whole numbers are cut to 0 there
    LineRow row;
};

/// From 0 to the limit without a gap, at the air temperature that the program assumes.
std::vector<Band> bands(const NumberLine &line);

/// A row in words, for a number or for none: "stands, braked: ahead ≤ 32 cm, rule 'near'".
Say words(const rules::Program &program, const Machine &machine, const LineRow &row,
          std::optional<double> number);

} // namespace badger::regions
