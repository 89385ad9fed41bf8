// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/workshop/workshop.h"

#include "core/base/named.h"

#include <algorithm>

namespace badger::workshop
{

namespace
{

template <class Taken> std::string freeName(const std::string &wish, Taken taken)
{
    auto name = wish;
    for (int i = 2; taken(name); ++i)
        name = wish + " " + std::to_string(i);
    return name;
}

} // namespace

const kit::Car *Workshop::car(const Id<kit::Car> &id) const
{
    return withId(cars, id);
}
const rules::Program *Workshop::program(const Id<rules::Program> &id) const
{
    return withId(programs, id);
}
const floor::Floor *Workshop::floor(const Id<floor::Floor> &id) const
{
    return withId(floors, id);
}

const kit::Car *Workshop::car(std::string_view wanted) const
{
    return named(cars, wanted);
}
const rules::Program *Workshop::program(std::string_view wanted) const
{
    return named(programs, wanted);
}
const floor::Floor *Workshop::floor(std::string_view wanted) const
{
    return named(floors, wanted);
}

const std::string &floorName(const Workshop &workshop, const logbook::MeasuredTrial &trial)
{
    const auto *floor = workshop.floor(trial.floor);
    return floor ? floor->name : trial.floorName;
}

const std::string &programName(const Workshop &workshop, const logbook::MeasuredTrial &trial)
{
    const auto *program = workshop.program(trial.program);
    return program ? program->name : trial.programName;
}

std::string missionFloorName(const Workshop &workshop, const kit::Car &car)
{
    const auto *floor = car.mission ? workshop.floor(car.mission->floor) : nullptr;
    return floor ? floor->name : std::string{};
}

const floor::Floor *floorOf(const Workshop &workshop, const kit::Car &car)
{
    const auto *floor = car.mission ? workshop.floor(car.mission->floor) : nullptr;
    return floor ? floor : workshop.floors.empty() ? nullptr : &workshop.floors.front();
}

std::string freeCarName(const Workshop &workshop, const std::string &wish)
{
    return freeName(wish, [&](const std::string &n) { return workshop.car(n) != nullptr; });
}

std::string freeProgramName(const Workshop &workshop, const std::string &wish)
{
    return freeName(wish, [&](const std::string &n) { return workshop.program(n) != nullptr; });
}

} // namespace badger::workshop
