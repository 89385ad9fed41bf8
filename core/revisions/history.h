// SPDX-License-Identifier: GPL-3.0-or-later
// The history of a car's wiring: finished revisions with their reasons, and what changes between
// two of them.
//
// While wires are edited, the car's revision is open. Finishing it writes the wires down with a
// date and a reason; the next edit opens the next number.
#pragma once

#include "core/kit/assembly.h"
#include "core/nets/nets.h"

namespace badger::revisions
{

/// The wires of one moment.
struct Build {
    std::vector<kit::Wire> wires;
    std::vector<std::string> jumpers; ///< "driver.ENA"
    std::map<std::string, std::string> programPins;
    bool operator==(const Build &) const = default;
};
Build buildOf(const kit::Car &car);
Build buildOf(const kit::WiringRevision &revision);

/// The finished revision of a number, or null.
const kit::WiringRevision *finished(const kit::Car &car, int number);
/// The latest finished revision, or null.
const kit::WiringRevision *latest(const kit::Car &car);
/// The car with the wires, jumpers and program pins of a revision; as it stands for its present
/// number. Empty where there is no such revision.
std::optional<kit::Car> asOf(const kit::Car &car, int number);
/// The wires differ from the latest finished revision, or there is none.
bool isOpen(const kit::Car &car);

/// To be called after an edit of wires or jumpers: opens the next number where the present one is
/// finished and no longer true.
void edited(kit::Car &car);

/// Writes the present wires down. Fails for an empty reason, and where nothing has changed.
Result<void> finish(kit::Car &car, const std::string &date, const std::string &reason);

/// One wire whose one end stays and whose other end goes elsewhere.
struct WireMove {
    kit::Wire before;
    kit::Wire after;
    std::string stays; ///< the end that stays
    std::string from;
    std::string to;
};

struct Changes {
    std::vector<kit::Wire> removed;
    std::vector<WireMove> moved;
    std::vector<kit::Wire> added;
    std::vector<kit::Wire> recoloured; ///< the same ends, another colour
    std::vector<std::string> jumpersOff;
    std::vector<std::string> jumpersOn;

    bool empty() const
    {
        return removed.empty() && moved.empty() && added.empty() && recoloured.empty() &&
               jumpersOff.empty() && jumpersOn.empty();
    }
};
/// Wires are told by their ends. A wire that goes and one that comes make a move where they share
/// an end; as many moves as possible are found, those first whose end at the board moves, and of
/// them those that keep their colour. `board` is its instance, where there is one.
Changes between(const Build &before, const Build &after, const std::string &board = {});
/// The car's board by its instance; empty where it has none.
std::string boardOf(const kit::Assembly &car);

/// What a hand does, in an order that never puts two wires into one hole.
struct HandStep {
    enum class Act { Remove, Lift, Move, Recolour, Add, JumperOff, JumperOn };
    Act act = Act::Move;
    kit::Wire wire;    ///< as it is after the step; of a Remove: as it was
    std::string at;    ///< the end the hand is at: taken out, or put in
    std::string from;  ///< of a Move: where the end was
    std::string stays; ///< the other end
    Say text;          ///< "Move the yellow wire of driver.BIN2 from board.D10 to board.D11"

    /// What the car's ticks hold when it is done at the bench: "wire:ranger.TRIG>board.D8".
    std::string key() const;
};
/// Wires off first, then moves, each into a hole that is free by then; a ring of moves begins with
/// one end lifted out and held. Then wires that only change their colour, and what is added:
/// signals, then supplies, grounds last.
std::vector<HandStep> handOrder(const Changes &changes, const nets::Nets &after);

/// How far the present wires are wired at the bench.
struct BenchProgress {
    int done = 0;
    int wires = 0; ///< and jumpers
};
BenchProgress benchProgress(const nets::Nets &nets);

/// What a change of wires makes stale.
struct Stale {
    /// A constant of the program: "driver.BIN2", from "D10" to "D11"; empty where there was none.
    struct Constant {
        std::string terminal;
        std::string before;
        std::string after;
        bool behind = false; ///< the program still has `before`, though the wire is on `after`
    };
    std::vector<Constant> constants;
    std::vector<std::string> partTests; ///< instances whose own test is to be repeated
    std::vector<Say> calibrations;      ///< "speed at each PWM count"
    std::vector<Say> trials;            ///< what to drive again, and why
};
Stale stale(const Build &before, const Build &after, const kit::Assembly &car);

/// How one state of a car becomes another: what changes, the steps, what goes stale.
struct Rebuild {
    Changes changes;
    std::vector<HandStep> steps;
    Stale stale;
};
Rebuild rebuild(const kit::Car &before, const kit::Assembly &after);

} // namespace badger::revisions
