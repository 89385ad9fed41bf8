// SPDX-License-Identifier: GPL-3.0-or-later
// Rules about sources, rails and windows.
#include "core/base/limit.h"
#include "core/power/amounts.h"
#include "core/power/check.h"
#include "core/power/check_feeds.h"
#include "core/power/check_rails.h"
#include "core/units/quantity.h"

#include <algorithm>
#include <fmt/format.h>
#include <fmt/ranges.h>
#include <map>

namespace badger::power
{

using kit::Charge;
using parts::Kind;
using units::quantity;
using units::Unit;

namespace
{

std::vector<Finding> noSource(const Look &look, const char *code)
{
    const auto &nodes = look.report.tree.nodes;
    if (std::any_of(nodes.begin(), nodes.end(),
                    [](const Node &n) { return n.kind == NodeKind::Source; }))
        return {};
    return {{code, Severity::Error, say("power tree"), say("There is no pack and no other source."),
             say("Nothing can be reckoned: no volts, no amps, no speed, and no part is fed."),
             say("It lives on cells, a bank or a supply."), at::part({})}};
}

std::vector<Finding> mixedCells(const Look &look, const char *code)
{
    std::vector<Finding> found;
    for (const auto &fitted : look.car->parts) {
        const auto *cell = look.car.part(fitted);
        if (cell == nullptr || cell->kind != Kind::Cell)
            continue;
        for (const auto &group : fitted.otherCells) {
            const auto *other = look.car.catalogue().find(group.partId);
            if (other == nullptr || other == cell)
                continue;
            const bool chemistry = other->shape != cell->shape;
            found.push_back(
                {code, chemistry ? Severity::Error : Severity::Warning, kit::labelOf(fitted),
                 say("{} has {} × {} and {} × {} in one holder.", kit::labelOf(fitted),
                     fitted.cellsInSeries, cell->name, group.cells, other->name),
                 say("The weaker cell is emptied past its end and driven backwards: it leaks, "
                     "vents or burns."),
                 say("Cells in one holder are of one kind, one age and one charge."),
                 at::part(fitted.id)});
        }
    }
    return found;
}

Say mendOver(const parts::Part &part, const parts::Window &window)
{
    if (part.kind == Kind::Servo || part.kind == Kind::DriveServo)
        return say(
            "It is meant for four NiMH cells, 5.6 V fresh, or a regulator of 5 V or 6 V that "
            "gives its stall current: look at what feeds it.");
    return say("It takes {} to {}: look at what feeds it.", volts(window.low_V),
               volts(window.high_V));
}

std::vector<Finding> outsideWindow(const Look &look, const char *code)
{
    std::vector<Finding> found;
    const auto &tree = look.report.tree;
    for (size_t i = 0; i < tree.nodes.size(); ++i) {
        const auto &n = tree.nodes[i];
        const auto at = [&](Charge c, Load l, Case k = Case::Typical) {
            return tree.at(static_cast<int>(i), {c, l, k});
        };
        if (!n.window || n.kind == NodeKind::Output || livesOtherwise(look, n) ||
            !at(Charge::Nominal, Load::Idle).voltsKnown)
            continue;
        // A few hundredths of a volt of sag are less than what cells and meters differ by.
        constexpr double slack = 0.98;
        const auto &w = *n.window;
        const double least = slack * w.low_V;
        const auto window = say("{} to {}", volts(w.low_V), volts(w.high_V));
        const double fresh = at(Charge::Fresh, Load::Idle).ceiling_V;
        const double nominal = at(Charge::Nominal, Load::Idle).ceiling_V;
        const double most = at(Charge::Fresh, Load::Idle, Case::Worst).ceiling_V;
        const double running = at(Charge::Nominal, Load::Running).volts_V;
        if (at(Charge::Nominal, Load::Running).offBranch || at(Charge::Fresh, Load::Idle).offBranch)
            continue; // the wires give it other volts, and judge them
        const auto target = at::node(n.id);
        const Say burns = say("Over-voltage burns the part, often at once.");
        if (isPast(fresh, w.high_V))
            found.push_back(
                {.code = code,
                 .severity = Severity::Error,
                 .where = n.id,
                 .what = say("{} gets {} with fresh cells{}; it takes {}.", n.id, volts(fresh),
                             isPast(nominal, w.high_V)
                                 ? say(" and {} with nominal ones", volts(nominal))
                                 : std::string{},
                             window),
                 .why = burns,
                 .mend = mendOver(look.part(n), w),
                 .places = target,
                 .evidence = Evidence{fresh, w.high_V, Evidence::In::Rest, Evidence::Of::Volts}});
        else if (running < least)
            found.push_back(
                {.code = code,
                 .severity = Severity::Error,
                 .where = n.id,
                 .what = say("{} gets {} while the car runs; it takes {}.", n.id,
                             voltsText(at(Charge::Nominal, Load::Running)), window),
                 .why = say("The part does not start, or resets as soon as the motors do."),
                 .mend = say("Look at how many cells feed it."),
                 .places = target,
                 .evidence =
                     Evidence{running, w.low_V, Evidence::In::Running, Evidence::Of::Volts}});
        else if (isPast(most, w.high_V))
            found.push_back(
                {.code = code,
                 .severity = Severity::Warning,
                 .where = n.id,
                 .what = say("{} can get {} where the source is at the top of its range; it takes "
                             "{}.",
                             n.id, volts(most), window),
                 .why = burns,
                 .mend = say("Measure the source without load before it is joined."),
                 .places = target,
                 .evidence = Evidence{most, w.high_V, Evidence::In::Rest, Evidence::Of::Volts}});
    }
    return found;
}

std::vector<Finding> overLimit(const Look &look, const char *code)
{
    std::vector<Finding> found;
    const auto &tree = look.report.tree;
    for (size_t i = 0; i < tree.nodes.size(); ++i) {
        const auto &n = tree.nodes[i];
        // What a link carries is said of the wires where there are any.
        if (!n.limit_A || (n.kind == NodeKind::Link && !look.car->wires.empty()))
            continue;
        const auto &running = tree.at(static_cast<int>(i), nominalRunning);
        const auto &stalled =
            tree.at(static_cast<int>(i), {Charge::Nominal, Load::Stalled, Case::Typical});
        const double limit = n.limit_A->typical;
        const bool cells = n.kind == NodeKind::Source && look.part(n).kind == Kind::Cell;
        const Spots places{at::part(n.instance), at::node(n.id)};
        if (isPast(running.amps_A, limit))
            found.push_back(
                {.code = code,
                 .severity = cells ? Severity::Warning : Severity::Error,
                 .where = n.name,
                 .what = say("{} gives {} while the car runs; it should give {} at most.", n.name,
                             ampsText(running), amps(limit)),
                 .why = cells ? say("The cells heat up and sag, and die early.")
                              : say("It overheats, drops its volts or cuts out."),
                 .mend = say("Look at what it feeds, and at its sheet."),
                 .places = places,
                 .evidence =
                     Evidence{running.amps_A, limit, Evidence::In::Running, Evidence::Of::Amps}});
        else if (isPast(stalled.amps_A, limit) && n.kind != NodeKind::Source)
            found.push_back(
                {.code = code,
                 .severity = Severity::Warning,
                 .where = n.name,
                 .what = say("{} gives {} while everything stalls; it should give {} at most.",
                             n.name, ampsText(stalled), amps(limit)),
                 .why = say("Its volts dip for that moment, and what hangs on it may reset."),
                 .mend = say("Look whether stalls last a moment only, and at its sheet."),
                 .places = places,
                 .evidence =
                     Evidence{stalled.amps_A, limit, Evidence::In::Stalled, Evidence::Of::Amps}});
    }
    return found;
}

const Node *linkOfSort(const Look &look, const char *sort)
{
    for (const auto &n : look.report.tree.nodes)
        if (n.kind == NodeKind::Link && look.part(n).shape == sort)
            return &n;
    return nullptr;
}

/// It lies on the car and nothing feeds it: that is said.
bool isUnfed(const Look &look, const char *sort)
{
    const auto &unfed = look.report.tree.unfed;
    return std::any_of(unfed.begin(), unfed.end(), [&](const Unfed &u) {
        const auto *link = look.car.find(u.terminal);
        return link != nullptr && link->part->kind == Kind::Link && link->part->shape == sort;
    });
}

std::vector<Finding> noSwitch(const Look &look, const char *code)
{
    for (const auto &n : look.report.tree.nodes)
        if (n.kind == NodeKind::Source && look.part(n).kind == Kind::Cell &&
            linkOfSort(look, "switch") == nullptr && !isUnfed(look, "switch"))
            return {{code, Severity::Advice, n.name,
                     say("There is no switch in the positive lead."),
                     say("The car can be stopped only by pulling a wire."),
                     say("A switch belongs right after the pack, within reach of a hand."),
                     at::part(n.instance)}};
    return {};
}

std::vector<Finding> noFuse(const Look &look, const char *code)
{
    for (const auto &n : look.report.tree.nodes) {
        if (n.kind != NodeKind::Source || look.part(n).kind != Kind::Cell ||
            linkOfSort(look, "fuse") != nullptr || isUnfed(look, "fuse"))
            continue;
        const bool lithium = look.part(n).shape == "lithium";
        return {{code, lithium ? Severity::Warning : Severity::Advice, n.name,
                 say("There is no fuse in the positive lead."),
                 lithium ? say("A short on lithium cells glows and burns within a second.")
                         : say("A short heats wires and cells until something gives."),
                 say("A fuse belongs right after the pack, a little above the stall current."),
                 at::part(n.instance)}};
    }
    return {};
}

std::vector<Finding> tethered(const Look &look, const char *code)
{
    std::vector<Finding> found;
    for (const auto &n : look.report.tree.nodes) {
        const auto &p = look.part(n);
        if (n.kind != NodeKind::Source || p.kind != Kind::Supply || p.figure("mass_kg"))
            continue;
        found.push_back(
            {code, Severity::Warning, n.name, say("{} feeds the car through a cable.", n.name),
             say("A moving car pulls it, tips, or tears a wire; adapters belong on the bench."),
             say("Cells or a bank ride along."), at::part(n.instance)});
    }
    return found;
}

} // namespace

const std::vector<CheckRule> &sourceRules()
{
    static const std::vector<CheckRule> rules = {
        {"source-missing", source("there is a source"), noSource, "error",
         "no pack and no other source"},
        {"pack-mixed", source("one kind of cell in a pack"), mixedCells,
         "error for chemistries, warning for kinds", "different cells in one holder"},
        {"feed-broken", source("every feed leads to a supply"), brokenFeed, "error",
         "a part is said to be fed by something that is not there or gives nothing"},
        {"feed-missing", source("every part is fed"), unfed, "error",
         "nothing is said to feed or drive a part"},
        {"feed-not-as-wired", source("what feeds each part is wired as it is said"), feedNotAsWired,
         "advice", "the kit names another supply of an input than the wires lead to it"},
        {"two-sources-one-net", source("one live source on each node"), twoSources, "error",
         "an input has two live sources"},
        {"supply-outside-window", source("every supply is in its window"), outsideWindow,
         "error; warning at the top of the range; advice near empty",
         "an input gets more or less than it takes"},
        {"pack-sags", source("the pack holds its volts when motors start"), sags,
         "warning above a fifth, error above a quarter",
         "the pack's resistance takes its volts when the motors start"},
        {"source-over-limit", source("no source gives more than it can"), overLimit,
         "error running (warning for cells), warning stalled",
         "a source, link or rail gives more than it can"},
        {"logic-browns-out", source("the logic rail holds when motors start"), brownOut,
         "error; advice in the worst case", "the logic rail dips when the motors start"},
        {"regulator-over-volts", source("every regulator takes its input"), regulatorOverVolts,
         "error", "a module's own regulator gets more volts than it takes"},
        {"recharge-before", source("nothing goes short before the cells are empty"), rechargeBefore,
         "advice", "what goes short while the pack runs empty, and at which volts that begins"},
        {"rail-not-held", source("every rail is held"), notHeld, "error",
         "a regulator's input is too low while the car runs"},
        {"regulator-hot", source("no regulator gets hot"), hotRegulator,
         "warning above 0.5 W, error above 1 W", "a linear regulator's heat"},
        {"switch-missing", source("a switch is in the positive lead"), noSwitch,
         "advice; warning for a fuse on lithium cells", "what belongs in the positive lead"},
        {"fuse-missing", source("a fuse is in the positive lead"), noFuse,
         "advice; warning for a fuse on lithium cells", "what belongs in the positive lead"},
        {"cable-on-moving-car", source("no cable is on the moving car"), tethered, "warning",
         "an adapter or a port feeds a car that drives"},
    };
    return rules;
}

} // namespace badger::power
