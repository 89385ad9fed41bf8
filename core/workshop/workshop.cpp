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

kit::Car startingKit(const std::string &name, const std::string &program)
{
    kit::Car car;
    car.name = name;
    car.program = program;
    const auto fit = [&](const char *id, const char *part) -> kit::Instance & {
        kit::Instance fitted;
        fitted.id = id;
        fitted.partId = part;
        car.parts.push_back(fitted);
        return car.parts.back();
    };
    fit("board", "board-5v-8bit");
    fit("ranger", "ranger-4-pin").mount = kit::Mount{};
    fit("driver", "dual-bridge-module");
    fit("left", "gear-motor-plastic").side = kit::Side::Left;
    fit("right", "gear-motor-plastic").side = kit::Side::Right;
    fit("wheel", "wheel-65mm");
    fit("support", "skid");
    auto &pack = fit("pack", "cell-nimh");
    pack.cellsInSeries = 6;
    pack.cellsInParallel = 1;
    fit("switch", "switch");
    car.geometry = {0.21, 0.15, 0.13, 0.15};
    return car;
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
