// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/wiring/check.h"

#include "core/wiring/consequences.h"
#include "core/wiring/faults.h"

#include <algorithm>

namespace badger::wiring
{

using parts::Role;

std::vector<std::string> pinsAt(const Look &look, const std::string &terminal)
{
    return look.nets.onLine(terminal, Role::Pin);
}

Findings check(const kit::Assembly &car)
{
    return judged(nets::Nets(car)).findings;
}

Judged judged(const nets::Nets &nets)
{
    Judged result;
    const auto &car = nets.car();
    if (car->parts.empty())
        return result;
    const circuit::CarNetwork network(nets);
    const auto looked = circuit::look(network);
    const auto found = faults(network, looked);
    const auto levels = circuit::inputLevels(network);
    result.motion = motion::motion(nets, network, levels);
    const Look look{car, nets, network, looked, found, levels, result.motion};
    for (const auto *rules :
         {&supplyRules(), &pinRules(), &signalRules(), &motionRules(), &wireRules()})
        run<Look>(*rules, look, result.findings);
    auto &all = result.findings.findings;
    std::set<int> over;
    for (const auto &s : looked.strains)
        if (s.harm == circuit::Harm::OverVolts)
            over.insert(nets.all()[s.member].net);
    all = withRoots(std::move(all), nets, starvedParts(network, looked), over);
    return result;
}

std::vector<CheckLine> checkLines()
{
    std::vector<CheckLine> lines;
    for (const auto *checks :
         {&supplyRules(), &pinRules(), &signalRules(), &motionRules(), &wireRules()})
        addLines<Look>(*checks, lines);
    return lines;
}

} // namespace badger::wiring
