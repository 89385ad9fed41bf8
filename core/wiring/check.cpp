// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/wiring/check.h"

#include <algorithm>

namespace badger::wiring
{

using parts::Role;

std::vector<std::string> pinsAt(const Look &look, const std::string &terminal)
{
    return look.nets.onLine(terminal, Role::Pin);
}

std::vector<std::string> motorsOf(const Look &look, const std::string &driver,
                                  const std::string &channel)
{
    std::vector<std::string> motors;
    for (const auto &m : look.nets.all()) {
        if (m.terminal->role != Role::Lead)
            continue;
        for (const auto &out : look.nets.membersWith(m.net, Role::MotorOut)) {
            const auto *o = look.nets.member(out);
            const auto &label = kit::labelOf(*m.fitted);
            if (o->fitted->id == driver && o->terminal->channel == channel &&
                std::find(motors.begin(), motors.end(), label) == motors.end())
                motors.push_back(label);
        }
    }
    return motors;
}

Findings check(const kit::Assembly &car)
{
    Findings result;
    if (car->parts.empty())
        return result;
    const nets::Nets nets(car);
    const Look look{car, nets};
    for (const auto *rules : {&supplyRules(), &pinRules(), &signalRules(), &wireRules()})
        run<Look>(*rules, look, result);
    return result;
}

std::vector<CheckLine> checkLines()
{
    std::vector<CheckLine> lines;
    for (const auto *checks : {&supplyRules(), &pinRules(), &signalRules(), &wireRules()})
        addLines<Look>(*checks, lines);
    return lines;
}

} // namespace badger::wiring
