// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/wireup/direct.h"

#include "core/nets/nets.h"
#include "core/power/feeds.h"

#include <algorithm>

namespace badger::wireup
{

using parts::Kind;
using parts::Role;

namespace
{

kit::Side sideOf(const kit::Instance &fitted)
{
    if (fitted.side != kit::Side::None || !fitted.mount || fitted.mount->offset_m == 0.0)
        return fitted.side;
    return fitted.mount->offset_m > 0.0 ? kit::Side::Left : kit::Side::Right;
}

const kit::Fitted *sensorOf(const kit::Assembly &car, kit::Side side)
{
    for (const auto &f : car.fitted())
        if (f.part->kind == Kind::Infrared && sideOf(*f.instance) == side)
            return &f;
    return nullptr;
}

std::string outputOf(const kit::Fitted &sensor)
{
    for (const auto &t : sensor.part->terminals)
        if (t.role == Role::DigitalOut)
            return sensor.instance->id + "." + t.name;
    return {};
}

/// The two inputs of the wheel on a side.
struct Inputs {
    std::string driver;
    std::string ahead;
    std::string back;
    std::string enable;
    bool jumper = false; ///< the enable takes one
};
Inputs inputsOf(const kit::Assembly &car, kit::Side side)
{
    Inputs found;
    const auto *motor = car.motorOn(side);
    if (motor == nullptr)
        return found;
    std::string higher; // of its two outputs while it drives ahead
    for (const auto &lead : leadsOf(car))
        if (lead.lead == motor->id + (side == kit::Side::Left ? ".A" : ".B"))
            higher = kit::splitTerminal(lead.output).terminal;
    const auto channel = kit::splitTerminal(motor->drivenBy);
    const auto *driver = car.find(channel.instance);
    if (driver == nullptr || driver->part->kind != Kind::Driver || higher.empty())
        return found;
    found.driver = channel.instance;
    for (const auto &t : driver->part->terminals) {
        const auto name = channel.instance + "." + t.name;
        if (t.channel != channel.terminal)
            continue;
        if (t.role == Role::Direction)
            (t.output == higher ? found.ahead : found.back) = name;
        if (t.role == Role::Enable && !nets::isJumpered(*driver->instance, t.name)) {
            found.enable = name;
            found.jumper = t.jumper;
        }
    }
    return found;
}

/// What feeds the logic of the driver, as the kit says; empty where it says nothing.
std::string logicSupply(const kit::Assembly &car, const std::string &driver)
{
    const auto *f = car.find(driver);
    for (const auto &feed : f->instance->feeds)
        if (const auto *t = f->part->terminal(feed.to); t && !t->motors)
            return feed.from;
    for (const auto &t : f->part->terminals) // a module that makes its own
        if (t.role == Role::SupplyOut)
            return driver + "." + t.name;
    return {};
}

std::string someGround(const kit::Assembly &car, const std::string &driver)
{
    for (const auto &t : car.find(driver)->part->terminals)
        if (t.role == Role::Ground)
            return driver + "." + t.name;
    return {};
}

} // namespace

std::vector<Conductor> direct(const kit::Assembly &car)
{
    std::vector<Conductor> all;
    const nets::Nets nets(car);
    const auto tie = [&](const std::string &to, const std::string &what, const Say &why,
                         Conductor::Kind kind) {
        if (!to.empty() && !what.empty() && !nets.wired(what))
            all.push_back({kind,
                           {{to, kit::splitTerminal(to).instance, {}, false},
                            {what, kit::splitTerminal(what).instance, why, false}}});
    };
    for (const auto side : {kit::Side::Left, kit::Side::Right}) {
        const auto inputs = inputsOf(car, side);
        const auto *sensor = sensorOf(car, side);
        if (inputs.driver.empty() || sensor == nullptr)
            continue;
        const bool high = sensor->part->sense != "light-low";
        const auto &driven = high ? inputs.ahead : inputs.back;
        const auto &held = high ? inputs.back : inputs.ahead;
        const auto logic = logicSupply(car, inputs.driver);
        const auto output = outputOf(*sensor);
        if (!nets.wired(output) && nets.onLine(driven, Role::DigitalOut).empty())
            all.push_back({Conductor::Kind::Signal,
                           {{driven, inputs.driver, {}, false},
                            {output, sensor->instance->id,
                             say("over light this side drives, over dark it stands"), false}}});
        if (high)
            tie(someGround(car, inputs.driver), held, say("the wheel never turns back"),
                Conductor::Kind::Ground);
        else
            tie(logic, held, say("the wheel turns ahead while its sensor is low"),
                Conductor::Kind::Supply);
        tie(logic, inputs.enable, say("its side is always on"), Conductor::Kind::Supply);
    }
    return all;
}

std::vector<std::string> plugged(const kit::Assembly &car)
{
    std::vector<std::string> all;
    if (car.first(Kind::Board) != nullptr)
        return all;
    for (const auto side : {kit::Side::Left, kit::Side::Right}) {
        const auto inputs = inputsOf(car, side);
        const auto *sensor = sensorOf(car, side);
        if (!inputs.driver.empty() && sensor != nullptr)
            all.push_back(sensor->part->sense != "light-low" ? inputs.ahead : inputs.back);
    }
    return all;
}

Say whyNotDirect(const kit::Assembly &car)
{
    for (const auto side : {kit::Side::Left, kit::Side::Right}) {
        const auto word = side == kit::Side::Left ? say("left") : say("right");
        if (sensorOf(car, side) == nullptr)
            return say("without a board a digital module has to drive the {} wheel, and none sits "
                       "on that side",
                       word);
        const auto inputs = inputsOf(car, side);
        if (inputs.ahead.empty() || inputs.back.empty())
            return say("without a board the {} wheel needs a driver with inputs for its motor",
                       word);
    }
    return {};
}

} // namespace badger::wireup
