// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/circuit/full_duty.h"

#include "core/circuit/car_network.h"
#include "core/circuit/stated.h"

#include <algorithm>
#include <cmath>

namespace badger::circuit
{

std::optional<FullDuty> fullDuty(const kit::Assembly &car, kit::Charge charge)
{
    const auto *motor = car.motorOn(kit::Side::Left);
    if (motor == nullptr)
        motor = car.motorOn(kit::Side::Right);
    if (motor == nullptr)
        motor = car.first(parts::Kind::Motor);
    const auto *servo = motor ? nullptr : car.first(parts::Kind::DriveServo);
    if (motor == nullptr && servo == nullptr)
        return std::nullopt;
    const auto wired = withStatedWires(car);
    const kit::Assembly assembly(wired, car.catalogue());
    const nets::Nets nets(assembly);
    const CarNetwork network(nets);
    const Conditions running{charge, Moving::Running, Figures::Typical, true, true};
    const auto answer = network.solveWith(
        running, std::vector<Level>(network.outputs().size(), Level::Low), network.allDriven());
    if (!answer.solved)
        return std::nullopt;
    constexpr double nothing_V = 0.05;
    if (servo != nullptr) {
        for (const auto &e : network.elements())
            if (e.what == What::Own && e.fitted->id == servo->id)
                if (const auto v = network.ownVolts_V(answer, e.from); v && *v > nothing_V)
                    return FullDuty{*v, *v};
        return std::nullopt;
    }
    std::optional<FullDuty> found;
    int supply = -1; // node
    for (const auto &e : network.elements()) {
        if (e.what != What::Motor || e.fitted->id != motor->id)
            continue;
        const auto a = network.volts_V(answer, e.from);
        const auto b = network.volts_V(answer, e.to);
        if (!a || !b)
            return std::nullopt;
        found = FullDuty{0.0, std::abs(*a - *b)};
        for (const auto &half : network.elements())
            if (half.what == What::Upper && (network.nodeOf(half.to) == network.nodeOf(e.from) ||
                                             network.nodeOf(half.to) == network.nodeOf(e.to)))
                if (const auto v = network.ownVolts_V(answer, half.from)) {
                    found->supply_V = std::max(found->supply_V, *v);
                    supply = network.nodeOf(half.from);
                }
    }
    if (!found || supply < 0 || found->motor_V < nothing_V)
        return std::nullopt;
    return found;
}

} // namespace badger::circuit
