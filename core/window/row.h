// SPDX-License-Identifier: GPL-3.0-or-later
// Under which conditions has a number of a program to hold?
//
// A row names what is varied and by how much. It is data: its kind, what is fixed, and ranges from
// which each run draws anew. A floor's kind (floor/generate.h) puts the car on such a floor; `here`
// is the floor that was chosen, `reversed` the same the other way round; `charge`, `speed`,
// `wheels` and `air` vary the car or the day.
#pragma once

#include "core/base/say.h"
#include "core/floor/generate.h"
#include "core/task/score.h"
#include "core/world/plan.h"

#include <map>
#include <string>
#include <vector>

namespace badger::window
{

struct Range {
    double low = 0.0;
    double high = 0.0;
    bool operator==(const Range &) const = default;
};

struct Row {
    std::string kind;                         ///< "straight", "here", "charge"
    std::map<std::string, std::string> set{}; ///< of a floor's kind, as they are typed
    std::map<std::string, Range> drawn{};     ///< SI; of another kind its one range under its name
    Say label;                                ///< "board at 18°"
    Say reason{};
    /// It closes the window also where no place holds; else it stands apart then.
    bool asked = false;
    bool off = false; ///< a person has switched it out
    bool operator==(const Row &) const = default;
};

/// What varies the car or the day, as kinds of their own or besides a floor's keys: "charge",
/// "speed", "wheels", "air"; `first` is how each is without a row.
const std::vector<floor::Key> &varied();

/// "straight:angle=0deg..18deg,soft=cloth", "charge:0.9..1", "here". A range whose ends are alike
/// is fixed. Charge is the used share, 0 fresh to 1 nearly empty; speed and wheels are factors (of
/// both, of the right one), 0.3 to 3; air -40 to 60 C. Fails with Missing for a kind or key that is
/// not there (naming those that are), with Malformed or OutOfRange for a value.
Result<Row> rowOf(const std::string &text);

/// What a row says of a key, as it would be typed: "10deg", "0deg..18deg"; empty: nothing.
std::string typedOf(const Row &row, const std::string &key);

/// Do two rows vary the same, whatever they are called?
bool sameRuns(const Row &a, const Row &b);

/// A row in words where it has none of its own: "straight: angle 0° to 18°".
Say labelOf(const Row &row);

/// The rows that suit a program's task on a floor, each with its reason.
struct Proposing {
    task::Kind task = task::Kind::Stops;
    double halfWidth_m = 0.08; ///< of the car
    bool rangers = true;
    bool ahead = true; ///< a sensor looks that way
    bool cells = true; ///< it runs down
};
std::vector<Row> proposedRows(const Proposing &car);

/// Its floor with every range at the same share of its way, 0 to 1; `here` where it has none of its
/// own. Fails as floor::generate() does.
Result<floor::Floor> floorAt(const Row &row, const floor::Floor &here, double share);

/// What of a row one run meets.
struct Scene {
    floor::Floor floor;
    world::Conditions conditions; ///< without what varies the car: charge, speed, wheels
};
/// Of the run with this number, the same for every place of the handle. `here` is the floor that
/// was chosen; `conditions` what all rows share. Fails as floor::generate() does.
Result<Scene> sceneOf(const Row &row, const floor::Floor &here, const world::Conditions &conditions,
                      std::uint64_t seed);

} // namespace badger::window
