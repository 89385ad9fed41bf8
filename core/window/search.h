// SPDX-License-Identifier: GPL-3.0-or-later
// From where to where does a number of a program hold, under every condition, and how sure is that?
//
// Each row is searched by itself. A few runs at wide places say roughly where it holds; then, with
// seeds that those runs did not use, the claim is tested place by place: **from the highest place
// down, stopping at the first that fails**, so that the whole chance of a wrong lower end is what
// the confidence leaves (a fixed sequence of tests). At each place the looks of claim.h decide.
// Where touches end a row above, too, the sequence begins in the middle and has two ways, each with
// half of the error (row_search.h). The job is a claim too: done in at least `share` of the runs,
// tested from the middle of what holds down and up, each way with half of the error, again stopping
// at the first that fails. Places between two that
// were tested and hold count as holding; they carry no runs. The window is where all rows that
// count hold; it inherits the confidence, since a wrong lower end needs the row whose true end is
// the highest to be wrong.
//
// Run n of a row meets the same chance at every place (its seed does not depend on the place). The
// answer does not depend on the number of threads.
#pragma once

#include "core/floor/bends.h"
#include "core/judge/drive.h"
#include "core/window/claim.h"
#include "core/window/handle.h"
#include "core/window/row.h"

#include <functional>
#include <optional>

namespace badger::window
{

struct Question {
    judge::Course course;
    std::string value{};     ///< empty: firstValue()
    std::vector<Row> rows{}; ///< empty: proposedRows()
    std::vector<Row> more{}; ///< besides those
    double limit = 0.01;     ///< of the share of runs that touch, fall or lose the line
    double confidence = 0.95;
    double share = 0.9;  ///< of runs that do the job
    double want_m = 0.0; ///< nearer than this counts as touching
    bool noise = true;
    std::optional<double> step{}; ///< between places, SI; empty: as handleOf() has them
    /// As if it had been measured on the car, at what the parts' data say is typical.
    bool speedKnown = false;
    bool rollKnown = false;
    std::uint64_t seed = 1;
    int threads = 1;
};

/// What a place of a row's ruler is.
enum class State {
    Open,    ///< neither is shown
    Touches, ///< shown to touch, fall or leave the line oftener than the limit
    Holds,
    Idle ///< it does not do its job often enough: stays outside, stands off, never moves
};

struct Cell {
    State state = State::Open;
    bool tested = false;     ///< by runs of the claim; else between such, or roughly
    int runs = 0;            ///< of the claim where tested, else the rough ones
    int events = 0;          ///< runs that touched, fell or lost the line
    int misses = 0;          ///< runs that did not do the job
    std::uint64_t worst = 0; ///< a seed with an event, else of the smallest clearance
};

/// What ends a row on one side.
struct Limit {
    size_t at = 0; ///< the place beyond the end, where it first does not hold
    /// What the first run with an event there met; without one the job is what fails.
    std::optional<world::Touch> touch;
    bool lost = false; ///< of a line
    bool fell = false;
    std::optional<floor::Bend> lostAt{}; ///< where on it, and how tightly it bends there
    bool drivesOn = false; ///< it had stopped, so near that its readings mean nothing
    Say what;              ///< "the front right corner touches the board"
    Derivation why{};      ///< its sum, where geometry gives one
};

struct RowAnswer {
    Row row;
    std::vector<Cell> cells;           ///< one a place of the handle
    std::optional<size_t> low, high;   ///< first and last place that hold
    std::optional<Limit> below, above; ///< empty: the ruler's end
    int runs = 0;
    bool done = false;
    /// Where no place holds: what does, of the changes that were tried (helps.h).
    struct Help {
        Say what; ///< "At 'speed' 78 instead of 130"
        size_t place = 0;
        int runs = 0; ///< none of them failed
    };
    std::vector<Help> helps{};
    bool gated = false;           ///< its job is to come past what stands beside a free way
    std::optional<Error> refused; ///< it cannot occur on this floor or with this car
    /// It counts for the window: it holds somewhere, or it was asked for.
    bool counts() const { return !row.off && !refused && (low || row.asked); }
};

struct Window {
    Handle handle;
    task::Kind task = task::Kind::Stops;
    Looks looks;
    Question asked; ///< rows and value filled in
    std::vector<RowAnswer> rows;
    std::optional<size_t> low, high;
    /// Of `rows`: which ends the window below and above; where it is closed, the two that close it.
    std::optional<size_t> lowRow, highRow;
    int runs = 0;
    bool done = false;
    std::vector<Say> unmeasured; ///< figures of the car that were drawn from the catalogue's ranges
    /// Where the lower end would be if one of them were known: of the row that ends it below,
    /// driven anew with each fixed in turn.
    struct Narrower {
        Say figure;
        std::optional<size_t> low;
    };
    std::vector<Narrower> narrower;

    double si(size_t place) const { return handle.at[place]; }
};

/// Why no place of a row holds.
enum class Without {
    Nothing,  ///< it does hold somewhere, or is not done
    NotShown, ///< so few fail at some place that neither is shown
    Fails,    ///< too many fail at every place that was asked
    Idle      ///< where few enough fail its job is not done
};
Without without(const RowAnswer &answer, const Looks &looks);
/// Where the runs leave the least rate of failures open, among the places where the job is mostly
/// done.
std::optional<size_t> bestOf(const RowAnswer &answer);

/// Fails where the car cannot be driven (judge::Drive::make()), the value has no scale, or a limit,
/// confidence or share is outside its range; no run is driven then. `tell` is called, never twice
/// at once, after each stage of a row with what is known by then; when it returns false the search
/// ends early, and what was not shown stays open. Rows that `before` has answered are taken over
/// where it asked the same of the same ground (ground.h: the caller sees to that) over the same
/// places; the answer is as if they had been driven anew.
Result<Window> search(Question question, const std::function<bool(const Window &)> &tell = {},
                      const Window *before = nullptr);

/// Which rows end the window, and where: anew, after one was switched.
void combine(Window &window);

/// One run of a row at a place, to be looked at: the course and conditions it had.
struct Replay {
    judge::Course course;
    world::Conditions conditions;
    std::uint64_t seed = 0;
};
Result<Replay> replay(const Window &window, size_t row, size_t place);

/// What no run knows of, whatever it says.
std::vector<Say> notSimulated(const Window &window);

} // namespace badger::window
