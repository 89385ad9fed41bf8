// SPDX-License-Identifier: GPL-3.0-or-later
// What is saved? One workshop: its cars, programs, floors and trials.
#pragma once

#include "core/floor/floor.h"
#include "core/kit/car.h"
#include "core/logbook/measured.h"
#include "core/rules/program.h"

#include <string>
#include <string_view>
#include <vector>

namespace badger::workshop
{

struct Workshop {
    std::string name;
    std::string bench;              ///< "Thursday bench"
    std::vector<parts::Part> parts; ///< the workshop's own, besides the shipped catalogue
    std::vector<kit::Car> cars;
    std::vector<rules::Program> programs;
    std::vector<floor::Floor> floors;
    std::vector<logbook::MeasuredTrial> trials;
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
