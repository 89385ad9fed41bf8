// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/power/check_rails.h"

#include "core/kit/chemistry.h"

#include "core/power/amounts.h"
#include "core/units/quantity.h"

#include <algorithm>
#include <cmath>
#include <map>

namespace badger::power
{

using kit::Charge;
using parts::Kind;
using units::quantity;
using units::Unit;

std::vector<Finding> sags(const Look &look, const char *code)
{
    // Shares of the pack's volts: choices of ours. Past a quarter, a third of what the motors could
    // have stays in the cells.
    constexpr double much = 1.0 / 5.0;
    constexpr double tooMuch = 0.25;
    std::vector<Finding> found;
    const auto &tree = look.report.tree;
    for (size_t i = 0; i < tree.nodes.size(); ++i) {
        const auto &n = tree.nodes[i];
        const auto &v =
            tree.at(static_cast<int>(i), {Charge::Nominal, Load::Stalled, Case::Typical});
        if (n.kind != NodeKind::Source || !v.voltsKnown || v.own_V <= 0.0 ||
            v.ohm_V < much * v.own_V)
            continue;
        const bool error = v.ohm_V > tooMuch * v.own_V;
        found.push_back(
            {.code = code,
             .severity = error ? Severity::Error : Severity::Warning,
             .where = n.name,
             .what =
                 say("When the motors start, {} × {} of its own resistance take {} of the {} of "
                     "{}: {} are left.",
                     amps(v.amps_A), quantity(v.ohm, Unit::Ohm, 2), volts(v.ohm_V), volts(v.own_V),
                     n.name, volts(std::max(0.0, v.own_V - v.ohm_V))),
             .why = error ? say("This source cannot drive motors: they hum, and the board resets.")
                          : say("The car starts sluggishly and the board may reset."),
             .mend = say("Look at its cells: NiMH cells of usual size have about 0.03 ohm each."),
             .places = {at::part(n.instance), at::node(n.id)},
             .evidence =
                 Evidence{v.ohm_V, much * v.own_V, Evidence::In::Stalled, Evidence::Of::Volts}});
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
                   : say("Look at what feeds it, and at what else starts on that pack.");
        const auto target = at::node(n.id);
        const Say resets = say("The board resets at every start, and the program begins anew.");
        if (const auto v = stalled(Charge::Nominal, Case::Typical); v.volts_V < least)
            found.push_back(
                {.code = code,
                 .severity = Severity::Error,
                 .where = n.id,
                 .what = say("When the motors start, {} dips to {}; it needs {}.", n.id,
                             voltsText(v), volts(least)),
                 .why = resets,
                 .mend = need + say(" Look at how many cells feed it, and at what else they feed."),
                 .places = target,
                 .evidence =
                     Evidence{v.volts_V, least, Evidence::In::Stalled, Evidence::Of::Volts}});
        else if (const auto w = stalled(Charge::Nominal, Case::Worst);
                 w.volts_V < least && stalled(Charge::NearEmpty, Case::Typical).volts_V >=
                                          least) // else: recharge-before
            found.push_back(
                {.code = code,
                 .severity = Severity::Advice,
                 .where = n.id,
                 .what = say("With the worst figures of its kind, {} dips to {} when the motors "
                             "start.",
                             n.id, voltsText(w)),
                 .why = resets,
                 .mend = say("Measure the rail while a wheel is held for a moment."),
                 .places = target,
                 .evidence =
                     Evidence{w.volts_V, least, Evidence::In::Stalled, Evidence::Of::Volts}});
    }
    return found;
}

namespace
{

/// Where a rail is not held near empty, that is said at the rail.
bool hangsOnWeakRail(const Tree &tree, const Node &n)
{
    return n.parent >= 0 && tree.nodes[static_cast<size_t>(n.parent)].kind == NodeKind::Output &&
           !tree.at(n.parent, {Charge::NearEmpty, Load::Running, Case::Typical}).held;
}

int sourceOf(const Tree &tree, int index)
{
    while (tree.nodes[static_cast<size_t>(index)].kind != NodeKind::Source &&
           tree.nodes[static_cast<size_t>(index)].parent >= 0)
        index = tree.nodes[static_cast<size_t>(index)].parent;
    return index;
}

/// What goes short while a source runs empty, and the volts without load at which it begins.
struct FlatPack {
    double from_V = 0.0;
    std::vector<Say> lines;
};

/// The source's volts at which a node has `least_V`: between nominal and near empty both fall in a
/// straight line as long as nothing holds the node.
double sourceWhere_V(const Tree &tree, int source, int index, Load load, double least_V)
{
    const auto at = [&](int node, Charge c) { return tree.at(node, {c, load, Case::Typical}); };
    const double high_V = at(source, Charge::Nominal).feed_V;
    const double low_V = at(source, Charge::NearEmpty).feed_V;
    const double there = at(index, Charge::Nominal).volts_V;
    const double below = at(index, Charge::NearEmpty).volts_V;
    return there > below ? low_V + (least_V - below) / (there - below) * (high_V - low_V) : low_V;
}

void shortInput(const Look &look, int index, FlatPack &flat)
{
    const auto &tree = look.report.tree;
    const auto &n = tree.nodes[static_cast<size_t>(index)];
    // A few hundredths of a volt of sag are less than what cells and meters differ by.
    constexpr double slack = 0.98;
    const auto running = [&](Charge c) {
        return tree.at(index, {c, Load::Running, Case::Typical});
    };
    if (n.kind == NodeKind::Output || livesOtherwise(look, n) || hangsOnWeakRail(tree, n) ||
        running(Charge::Nominal).volts_V < slack * n.window->low_V ||
        running(Charge::NearEmpty).volts_V >= slack * n.window->low_V)
        return;
    flat.lines.push_back(say("Near empty, {} gets {}; its window is {} to {}.", n.id,
                             voltsText(running(Charge::NearEmpty)), volts(n.window->low_V),
                             volts(n.window->high_V)));
    flat.from_V = std::max(flat.from_V, sourceWhere_V(tree, sourceOf(tree, index), index,
                                                      Load::Running, n.window->low_V));
}

void shortRail(const Look &look, int index, FlatPack &flat)
{
    const auto &tree = look.report.tree;
    const auto &n = tree.nodes[static_cast<size_t>(index)];
    const auto stalled = [&](Charge c) {
        return tree.at(index, {c, Load::Stalled, Case::Typical});
    };
    if (n.kind != NodeKind::Output || stalled(Charge::Nominal).volts_V < n.window->low_V ||
        stalled(Charge::NearEmpty).volts_V >= n.window->low_V)
        return;
    flat.lines.push_back(say("Near empty, {} dips to {} when the motors start: the board resets.",
                             n.id, voltsText(stalled(Charge::NearEmpty))));
    // The source that just holds the rail, less what the rail may fall.
    const auto held_V = leastSource_V(look.report, look.car, index,
                                      {Charge::Nominal, Load::Stalled, Case::Typical});
    if (held_V)
        flat.from_V =
            std::max(flat.from_V, *held_V - (stalled(Charge::Fresh).ceiling_V - n.window->low_V));
}

} // namespace

bool livesOtherwise(const Look &look, const Node &n)
{
    const auto *own = ownSupply(look.part(n));
    const auto *rail = own ? look.report.tree.node(n.instance + "." + own->name) : nullptr;
    return rail != nullptr && rail != &n && rail->kind == NodeKind::Input;
}

std::vector<Finding> rechargeBefore(const Look &look, const char *code)
{
    const auto &tree = look.report.tree;
    std::map<int, FlatPack> packs; // by source
    for (size_t i = 0; i < tree.nodes.size(); ++i) {
        const int index = static_cast<int>(i);
        if (!tree.nodes[i].window || !tree.at(index, nominalRunning).voltsKnown)
            continue;
        auto &flat = packs[sourceOf(tree, index)];
        shortInput(look, index, flat);
        shortRail(look, index, flat);
    }
    std::vector<Finding> found;
    for (auto &[source, flat] : packs) {
        if (flat.lines.empty())
            continue;
        const auto &n = tree.nodes[static_cast<size_t>(source)];
        const double empty_V =
            tree.at(source, {Charge::NearEmpty, Load::Idle, Case::Typical}).feed_V;
        const auto at =
            quantity(std::ceil(std::max(flat.from_V, empty_V) * 10.0 - 1e-6) / 10.0, Unit::Volt, 1);
        const auto charged = kit::chargeable(look.part(n));
        Finding f{
            code,
            Severity::Advice,
            n.name,
            charged == kit::Chargeable::Yes ? say("Recharge {} at {} (resting).", n.name, at)
            : charged == kit::Chargeable::No
                ? say("Put fresh cells into {} at {} (resting).", n.name, at)
                : say("Recharge or change {} at {} (resting), as its maker says.", n.name, at),
            say("Below that not everything on it gets the volts it needs, long before the "
                "cells are empty."),
            charged == kit::Chargeable::No
                ? say("Measure it at rest before each run. Cells of this kind must not be "
                      "charged: they leak or burst.")
                : say("Measure it at rest before each run, and note it."),
            at::part(n.instance)};
        if (flat.lines.size() == 1)
            f.why = flat.lines.front();
        else
            f.then = std::move(flat.lines);
        found.push_back(std::move(f));
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
            {.code = code,
             .severity = error ? Severity::Error : Severity::Warning,
             .where = n.id,
             .what = say("The regulator of {} turns {} into heat: {} over {} at {}.", n.id,
                         quantity(*v.heat_W, Unit::Watt, 2), volts(*v.heat_W / v.amps_A),
                         volts(v.volts_V), ampsText(v)),
             .why = error ? say("Without a heat sink it cuts out, and starts again by itself.")
                          : say("It gets too hot to touch."),
             .mend = say("Look at its supply, at what hangs on this rail, and at the regulator's "
                         "sheet."),
             .places = at::node(n.id),
             .evidence =
                 Evidence{*v.heat_W, warmRegulator_W, Evidence::In::Running, Evidence::Of::Watts}});
    }
    return found;
}

std::vector<Finding> regulatorOverVolts(const Look &look, const char *code)
{
    std::vector<Finding> found;
    const auto &tree = look.report.tree;
    for (size_t i = 0; i < tree.nodes.size(); ++i) {
        const auto &n = tree.nodes[i];
        const auto *most =
            n.kind == NodeKind::Input ? look.part(n).figure("regulator_most_V") : nullptr;
        const auto &terminals = look.part(n).terminals;
        const auto own = std::find_if(terminals.begin(), terminals.end(), [&](const auto &t) {
            return !t.fedBy.empty() && n.instance + "." + t.fedBy == n.id;
        });
        if (most == nullptr || own == terminals.end())
            continue;
        const auto &in = tree.at(static_cast<int>(i), {Charge::Fresh, Load::Idle, Case::Typical});
        if (!in.voltsKnown || in.ceiling_V <= most->typical)
            continue;
        found.push_back(
            {.code = code,
             .severity = Severity::Error,
             .where = n.id,
             .what = say("The regulator of {} gets {} with fresh cells; it takes {}.",
                         n.instance + "." + own->name, volts(in.ceiling_V), volts(most->typical)),
             .why = say("It overheats and fails, and then passes the volts on."),
             .mend = say("Look at how many cells feed it, and on its sheet from which volts the "
                         "jumper has to come out."),
             .places = at::node(n.id),
             .evidence =
                 Evidence{in.ceiling_V, most->typical, Evidence::In::Rest, Evidence::Of::Volts}});
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
        const auto *t = look.part(n).terminal(kit::splitTerminal(n.id).terminal);
        found.push_back(
            {.code = code,
             .severity = Severity::Error,
             .where = n.id,
             .what = say("{} is not held while the car runs: {} come out.", n.id, voltsText(v)),
             .why = say("Sensors read wrong and the board resets."),
             .mend = say("Look at what feeds its regulator."),
             .places = at::node(n.id),
             .evidence =
                 Evidence{v.volts_V, t->source_V, Evidence::In::Running, Evidence::Of::Volts}});
    }
    return found;
}

} // namespace badger::power
