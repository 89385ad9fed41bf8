// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/power/check_rails.h"

#include "core/units/quantity.h"

namespace badger::power
{

using kit::Charge;
using parts::Kind;
using units::quantity;
using units::Unit;

namespace
{

units::Quantity volts(double v)
{
    return quantity(v, Unit::Volt, 2);
}
units::Quantity amps(double a)
{
    return quantity(a, Unit::Ampere, 2);
}

} // namespace

std::vector<Finding> sags(const Look &look, const char *code)
{
    // Shares of the pack's volts: choices of ours. Past three tenths, nearly half of
    // the power stays in the cells.
    constexpr double much = 1.0 / 5.0;
    constexpr double tooMuch = 0.3;
    std::vector<Finding> found;
    const auto &tree = look.report.tree;
    for (size_t i = 0; i < tree.nodes.size(); ++i) {
        const auto &n = tree.nodes[i];
        const auto &v =
            tree.at(static_cast<int>(i), {Charge::Nominal, Load::Stalled, Case::Typical});
        if (n.kind != NodeKind::Source || !v.voltsKnown || v.feed_V <= 0.0 ||
            v.ohm_V < much * v.feed_V)
            continue;
        const bool error = v.ohm_V > tooMuch * v.feed_V;
        found.push_back(
            {code, error ? Severity::Error : Severity::Warning, n.name,
             say("When the motors start, {} × {} of its own resistance take {} of the {} of {}: {} "
                 "are left.",
                 amps(v.amps_A), quantity(v.ohm, Unit::Ohm, 2), volts(v.ohm_V), volts(v.feed_V),
                 n.name, volts(v.volts_V)),
             error ? say("This source cannot drive motors: they hum, and the board resets.")
                   : say("The car starts sluggishly and the board may reset."),
             say("Take cells with less resistance: NiMH cells of usual size have about 0.03 ohm "
                 "each."),
             "kit:" + n.instance});
    }
    return found;
}

std::vector<Finding> brownOut(const Look &look, const char *code)
{
    std::vector<Finding> found;
    const auto &tree = look.report.tree;
    for (size_t i = 0; i < tree.nodes.size(); ++i) {
        const auto &n = tree.nodes[i];
        const int index = static_cast<int>(i);
        if (n.kind != NodeKind::Output || !n.window || !tree.at(index, nominalRunning).voltsKnown)
            continue;
        const double least = n.window->low_V;
        const auto stalled = [&](Charge c, Case k) {
            return tree.at(index, {c, Load::Stalled, k});
        };
        const auto source = leastSource_V(look.report, look.car, index,
                                          {Charge::Nominal, Load::Stalled, Case::Typical});
        const auto need =
            source ? say("The rail is held while the pack has {} without load.", volts(*source))
                   : say("Feed it from a higher supply.");
        const auto target = "node:" + n.id;
        const Say resets = say("The board resets at every start, and the program begins anew.");
        if (const auto v = stalled(Charge::Nominal, Case::Typical); v.volts_V < least)
            found.push_back({code, Severity::Error, n.id,
                             say("When the motors start, {} dips to {}; it needs {}.", n.id,
                                 voltsText(v), volts(least)),
                             resets,
                             need + say(" Give the board its own cells, or take more of them."),
                             target});
        else if (const auto e = stalled(Charge::NearEmpty, Case::Typical); e.volts_V < least)
            found.push_back(
                {code, Severity::Advice, n.id,
                 say("Near empty, {} dips to {} when the motors start.", n.id, voltsText(e)),
                 resets, need + say(" Recharge before it is lower."), target});
        else if (const auto w = stalled(Charge::Nominal, Case::Worst); w.volts_V < least)
            found.push_back(
                {code, Severity::Advice, n.id,
                 say("With the worst figures of its kind, {} dips to {} when the motors start.",
                     n.id, voltsText(w)),
                 resets, say("Measure the rail while a wheel is held for a moment."), target});
    }
    return found;
}

std::vector<Finding> hotRegulator(const Look &look, const char *code)
{
    std::vector<Finding> found;
    const auto &tree = look.report.tree;
    for (size_t i = 0; i < tree.nodes.size(); ++i) {
        const auto &n = tree.nodes[i];
        if (n.kind != NodeKind::Output)
            continue;
        // The fresh pack makes it hottest; running is what lasts.
        const auto &v = tree.at(static_cast<int>(i), {Charge::Fresh, Load::Running, Case::Typical});
        if (!v.heat_W || *v.heat_W <= warmRegulator_W)
            continue;
        const bool error = *v.heat_W > hotRegulator_W;
        found.push_back(
            {code, error ? Severity::Error : Severity::Warning, n.id,
             say("The regulator of {} turns {} into heat: {} over {} at {}.", n.id,
                 quantity(*v.heat_W, Unit::Watt, 2), volts(*v.heat_W / v.amps_A), volts(v.volts_V),
                 ampsText(v)),
             error ? say("Without a heat sink it cuts out, and starts again by itself.")
                   : say("It gets too hot to touch."),
             say("Take a lower supply, move a load off this rail, or use a regulator made for it."),
             "node:" + n.id});
    }
    return found;
}

std::vector<Finding> notHeld(const Look &look, const char *code)
{
    std::vector<Finding> found;
    const auto &tree = look.report.tree;
    for (size_t i = 0; i < tree.nodes.size(); ++i) {
        const auto &n = tree.nodes[i];
        const auto &v = tree.at(static_cast<int>(i), nominalRunning);
        if (n.kind != NodeKind::Output || v.held || !v.voltsKnown)
            continue;
        found.push_back({code, Severity::Error, n.id,
                         say("{} is not held while the car runs: {} come out.", n.id, voltsText(v)),
                         say("Sensors read wrong and the board resets."),
                         say("Feed its regulator from a higher supply."), "node:" + n.id});
    }
    return found;
}

} // namespace badger::power
