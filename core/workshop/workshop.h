// SPDX-License-Identifier: GPL-3.0-or-later
// What is saved? One workshop: its cars, programs, floors and trials.
#pragma once

#include "core/base/pieces.h"
#include "core/floor/floor.h"
#include "core/kit/car.h"
#include "core/logbook/measured.h"
#include "core/rules/program.h"

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
    Extra extra{};

    const kit::Car *car(std::string_view name) const;
    const rules::Program *program(std::string_view name) const;
    const floor::Floor *floor(std::string_view name) const;
    bool operator==(const Workshop &) const = default;
};

/// A name that no car of the workshop has: the wish itself, or the wish with a number.
std::string freeCarName(const Workshop &workshop, const std::string &wish);
std::string freeProgramName(const Workshop &workshop, const std::string &wish);

} // namespace badger::workshop
