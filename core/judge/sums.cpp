// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/judge/sums.h"

#include "core/judge/amounts.h"
#include "core/nets/drive_map.h"
#include "core/sense/beam.h"

#include <cmath>

namespace badger::judge
{

using units::fixed;
using units::quantity;
using units::Unit;

namespace
{

} // namespace

Derivation whyGap(const CarBudget &b, std::optional<double> wantedGap_m)
{
    Derivation d{
        say("the gap at worst"),
        say("{}", cmInSum(b.budget.worstGap_m)),
        {},
        say("typically {}: half a loop instead of a whole one", cmInSum(b.budget.typicalGap_m))};
    d.steps.push_back({say("threshold"),
                       say("{}", cmInSum(b.setup.threshold_m)),
                       {},
                       say("a choice: the value '{}' of the program", b.valueName)});
    for (const auto &t : b.terms)
        d.steps.push_back({say("− {}", t.name), say("{}", cmInSum(t.worst_m)), t.how, t.from});
    d.steps.push_back({say("= gap at worst"), d.result, {}, d.aside});
    if (b.edge_m && *b.edge_m > b.setup.threshold_m)
        d.steps.push_back(
            {say("not counted"),
             say("+ {}", cmInSum(*b.edge_m - b.setup.threshold_m)),
             {},
             say("whole numbers act from just under {} on: a reserve", cmInSum(*b.edge_m))});
    if (b.leastThreshold_m && wantedGap_m)
        d.steps.push_back({say("least threshold"), say("{}", cmInSum(*b.leastThreshold_m)),
                           say("wanted gap + all terms"),
                           say("for a gap of {} at worst", cmInSum(*wantedGap_m))});
    if (b.greatestSpeed_mps && std::isfinite(*b.greatestSpeed_mps))
        d.steps.push_back(
            {say("greatest speed"), say("{}", fixed(*b.greatestSpeed_mps, Unit::MetrePerSecond, 3)),
             b.roll.curve.law == kit::RollLaw::Friction ? say("v·t + s₀·(v/v₀)² = room")
                                                        : say("v·t + s₀·v/v₀ = room"),
             say("with this threshold and gap; the roll-out law was measured at {}",
                 quantity(b.roll.curve.speed_mps, Unit::MetrePerSecond))});
    return d;
}

Derivation whyNext(const logbook::Proposal &n)
{
    Derivation d{say("the next threshold"),
                 say("{}", quantity(n.next_m, Unit::Centimetre, 2)),
                 {},
                 say("rounded up to a whole centimetre")};
    d.steps = {{say("overshoot"), say("{}", cmInSum(n.overshoot_m)),
                say("{} − {}", cmInSum(n.threshold_m, 1), cmInSum(n.meanGap_m)),
                say("threshold less the mean gap of {0} {0|run|runs}", n.runs)},
               {say("+ wanted gap"),
                say("{}", cmInSum(n.wantedGap_m)),
                {},
                say("a choice, at the Rule station")}};
    if (n.margin_m)
        d.steps.push_back(
            {say("+ spread"), say("{}", cmInSum(*n.margin_m)), say("t · s · √(1 + 1/n)"),
             say("one-sided 95 % bound for one more run, from {0} {0|run|runs}", n.runs)});
    d.steps.push_back({say("= next threshold"),
                       say("{}", cmInSum(n.exact_m)),
                       {},
                       say("rounded up: {}", cmInSum(n.next_m, 0))});
    return d;
}

namespace
{

/// Where the speed of a wheel comes from: its enable, or its two inputs themselves.
Say speedWords(const nets::WheelDrive &drive, const kit::Assembly &car)
{
    const auto at = [&](const std::string &terminal) {
        const auto pin = nets::wiredPin(car, terminal);
        return pin.empty() ? say("{}, which no pin drives", terminal)
                           : say("{} at pin {}", terminal, pin);
    };
    if (!drive.port.empty())
        return say("speed at the port {}", drive.port);
    if (drive.held)
        return say("one speed: {} is held high", drive.enable);
    if (drive.enable.empty())
        return say("speed by PWM on its two inputs: {} and {}", at(drive.forward),
                   at(drive.backward));
    return say("speed on {}", at(drive.enable));
}

} // namespace

Derivation whyWheels(const kit::Assembly &car)
{
    Derivation d{say("what turns the wheels"), {}, {}, {}};
    for (const auto side : {kit::Side::Left, kit::Side::Right}) {
        const auto name = side == kit::Side::Left ? say("left wheel") : say("right wheel");
        const auto drive = nets::wheelDrive(car, side);
        if (drive)
            d.steps.push_back({name, say("forward"),
                               say("{} high, {} low", drive->forward, drive->backward),
                               speedWords(*drive, car)});
        else
            d.steps.push_back({name, say("undriven"), {}, drive.error().text()});
    }
    return d;
}

std::vector<Derivation> sumsOf(const Judgement &j, const kit::Assembly &car)
{
    std::vector<Derivation> all = {kit::whyBalance(car)};
    for (const auto &c : j.kit.covers)
        if (c.ahead)
            all.push_back(sense::whyFullCover(c.swept));
    if (!car->wires.empty())
        all.push_back(whyWheels(car));
    if (j.budget)
        all.push_back(whyGap(*j.budget, car->wantedGap_m));
    for (const auto &run : j.runs)
        all.push_back(run.why);
    if (car->wantedGap_m)
        if (const auto next = logbook::propose(j.measured, *car->wantedGap_m))
            all.push_back(whyNext(*next));
    std::erase_if(all, [](const Derivation &d) { return d.steps.empty(); });
    return all;
}

} // namespace badger::judge
