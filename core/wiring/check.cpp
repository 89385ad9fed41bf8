// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/wiring/check.h"

#include "core/nets/drive_map.h"
#include "core/wiring/grouped.h"
#include "core/wiring/observe.h"
#include "core/wiring/unfinished.h"

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

namespace
{

/// Every complaint about a car as it is wired.
void complain(const nets::Nets &nets, Judged &into)
{
    const auto &car = nets.car();
    const circuit::CarNetwork network(nets);
    const auto looked = circuit::look(network);
    const auto found = observed(network, looked);
    const auto levels = circuit::inputLevels(network);
    into.motion = motion::motion(nets, network, levels);
    const auto served = nets::boardSignals(nets);
    const auto problem = pins::pinProblem(nets);
    const Look look{car, nets, network, looked, found, levels, into.motion, served, problem};
    for (const auto *rules :
         {&supplyRules(), &pinRules(), &signalRules(), &motionRules(), &wireRules()})
        run<Look>(*rules, look, into.findings);
    into.complaints = into.findings.findings;
}

/// One finding for what is merely not there yet: the complaints that go once it is are its lines.
void leaveUnfinished(const nets::Nets &nets, Judged &j)
{
    const auto &car = nets.car();
    const auto whole = finished(car, j.missing);
    Judged then;
    const kit::Assembly assembly(whole, car.catalogue());
    complain(nets::Nets(assembly), then);
    const auto &next = j.missing.front();
    Finding open{"harness-unfinished",
                 Severity::Warning,
                 next.from + " to " + next.to,
                 say("{0} {0|wire is|wires are} not there yet.", j.missing.size()),
                 say("Until then it cannot be said what works."),
                 say("Next: {} to {}.", next.from, next.to),
                 Spots{at::terminal(next.from), at::terminal(next.to)}};
    std::erase_if(j.complaints, [&](const Finding &f) {
        // What has no wire at all is not there yet, whatever it will do then.
        const auto *m = f.places.empty() ? nullptr : nets.member(f.places.front().name);
        const bool stays =
            (m == nullptr || m->wires > 0) &&
            std::any_of(then.complaints.begin(), then.complaints.end(), [&](const Finding &g) {
                return g.code == f.code && !g.places.empty() &&
                       g.places.front() == f.places.front();
            });
        if (!stays)
            open.then.push_back(f.what);
        return !stays;
    });
    j.complaints.insert(j.complaints.begin(), std::move(open));
}

} // namespace

Judged complained(const nets::Nets &nets)
{
    Judged result;
    if (!nets.car()->parts.empty())
        complain(nets, result);
    return result;
}

bool isOfPins(const Finding &finding)
{
    return std::any_of(pinRules().begin(), pinRules().end(),
                       [&](const CheckRule &rule) { return rule.code == finding.code; });
}

Judged judged(const nets::Nets &nets)
{
    Judged result;
    if (nets.car()->parts.empty())
        return result;
    complain(nets, result);
    // A few may as well have come off, or sit where they do not belong.
    constexpr size_t cameOff = 3;
    if (auto missing = missingWires(nets); missing.size() > cameOff) {
        result.missing = std::move(missing);
        leaveUnfinished(nets, result);
    }
    result.findings.findings = grouped(result.complaints, nets);
    return result;
}

std::vector<CheckLine> checkLines()
{
    // What no rule sees by itself: the first here, the others once it was tried (diagnose/).
    std::vector<CheckLine> lines = {
        {"harness-unfinished", "warning", "wires are not there yet; the next one"},
        {"pack-backwards", "error", "a pack, adapter or bank is the wrong way round"},
        {"diode-backwards", "error", "a diode in a supply lead is the wrong way round"}};
    for (const auto *checks :
         {&supplyRules(), &pinRules(), &signalRules(), &motionRules(), &wireRules()})
        addLines<Look>(*checks, lines);
    return lines;
}

} // namespace badger::wiring
