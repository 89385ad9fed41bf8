// SPDX-License-Identifier: GPL-3.0-or-later
// What is saved? One workshop: its cars, programs, floors and trials.
#pragma once

#include "core/base/id.h"
#include "core/base/pieces.h"
#include "core/floor/floor.h"
#include "core/kit/car.h"
#include "core/logbook/measured.h"
#include "core/rules/program.h"
#include "core/tune/record.h"

#include <string>
#include <string_view>

namespace badger::workshop
{

struct Workshop {
    std::string name;
    std::string bench;         ///< "Thursday bench"
    Pieces<parts::Part> parts; ///< the workshop's own, besides the shipped catalogue
    Pieces<kit::Car> cars;
    Pieces<rules::Program> programs;
    Pieces<floor::Floor> floors;
    Pieces<logbook::MeasuredTrial> trials;
    Pieces<tune::Record> records; ///< what was measured at the bench, oldest first
    Extra extra{};

    /// Null where there is none with that id; an empty id has none.
    const kit::Car *car(const Id<kit::Car> &id) const;
    const rules::Program *program(const Id<rules::Program> &id) const;
    const floor::Floor *floor(const Id<floor::Floor> &id) const;
    /// By the name that somebody typed or reads.
    const kit::Car *car(std::string_view name) const;
    const rules::Program *program(std::string_view name) const;
    const floor::Floor *floor(std::string_view name) const;
    bool operator==(const Workshop &) const = default;
};

/// What the floor or program of a trial is called today, or was when it is gone.
const std::string &floorName(const Workshop &workshop, const logbook::MeasuredTrial &trial);
const std::string &programName(const Workshop &workshop, const logbook::MeasuredTrial &trial);

/// The floor that a car is meant for; empty where none is chosen.
std::string missionFloorName(const Workshop &workshop, const kit::Car &car);

/// The floor that a car is driven on unless another is chosen: its mission's, else the first; null
/// where there is none.
const floor::Floor *floorOf(const Workshop &workshop, const kit::Car &car);

/// A name that no car of the workshop has: the wish itself, or the wish with a number.
std::string freeCarName(const Workshop &workshop, const std::string &wish);
std::string freeProgramName(const Workshop &workshop, const std::string &wish);

} // namespace badger::workshop
