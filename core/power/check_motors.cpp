// SPDX-License-Identifier: GPL-3.0-or-later
// Rules about motors and drivers.
#include "core/base/limit.h"
#include "core/drive/bridge.h"
#include "core/power/amounts.h"
#include "core/power/check.h"
#include "core/units/quantity.h"

#include <algorithm>
#include <fmt/format.h>
#include <fmt/ranges.h>

namespace badger::power
{

using kit::Charge;
using parts::Kind;
using units::quantity;
using units::Unit;

namespace
{

std::vector<int> channelsOf(const Look &look)
{
    std::vector<int> all;
    for (size_t i = 0; i < look.report.tree.nodes.size(); ++i)
        if (look.report.tree.nodes[i].kind == NodeKind::Channel)
            all.push_back(static_cast<int>(i));
    return all;
}

std::vector<Finding> onRegulator(const Look &look, const char *code)
{
    std::vector<Finding> found;
    const auto &nodes = look.report.tree.nodes;
    for (const int channel : channelsOf(look)) {
        const auto &input = nodes[static_cast<size_t>(nodes[static_cast<size_t>(channel)].parent)];
        if (input.parent < 0 || nodes[static_cast<size_t>(input.parent)].kind != NodeKind::Output)
            continue;
        if (!found.empty() && found.back().places.front() == at::node(input.id))
            continue;
        found.push_back(
            {code, Severity::Error, input.id,
             say("The motors run on {}, a regulated output.",
                 nodes[static_cast<size_t>(input.parent)].id),
             say("Their starts pull the logic down, and the regulator burns."),
             say("Look at what feeds the driver's motor supply: it is meant to be the pack."),
             at::node(input.id)});
    }
    return found;
}

std::vector<Finding> underDrop(const Look &look, const char *code)
{
    std::vector<Finding> found;
    const auto &tree = look.report.tree;
    for (const int channel : channelsOf(look)) {
        const auto &n = tree.nodes[static_cast<size_t>(channel)];
        const auto left = [&](Charge c) {
            const auto &v = tree.at(channel, {c, Load::Running, Case::Typical});
            return v.feed_V - v.fixed_V;
        };
        const auto &v = tree.at(channel, nominalRunning);
        if (!v.voltsKnown || tree.childrenOf(channel).empty() || left(Charge::NearEmpty) > 0.0)
            continue;
        const bool error = left(Charge::Nominal) <= 0.0;
        found.push_back(
            {.code = code,
             .severity = error ? Severity::Error : Severity::Warning,
             .where = n.name,
             .what = say(
                 "The driver drops {} of {}{}: nothing is left for the motor.", volts(v.fixed_V),
                 volts(error ? v.feed_V
                             : tree.at(channel, {Charge::NearEmpty, Load::Running, Case::Typical})
                                   .feed_V),
                 error ? "" : say(" near empty")),
             .why = say("The wheels do not turn, and the driver turns it all into heat."),
             .mend = say("Look at the driver's drop, and at how many cells feed it."),
             .places = {at::node(n.instance), at::node(n.id)},
             .evidence = Evidence{left(Charge::NearEmpty), 0.0, Evidence::In::Running,
                                  Evidence::Of::Volts}});
    }
    return found;
}

/// Channels that draw alike are said together: both sides of a car usually do.
struct Drawing {
    std::vector<int> channels;
    size_t motors = 0;
    double typical_A = 0.0;
    double worst_A = 0.0;
    const parts::Figure *limit = nullptr;
};

std::vector<Drawing> drawings(const Look &look, Load load, const char *key)
{
    constexpr double alike_A = 0.001;
    std::vector<Drawing> all;
    const auto &tree = look.report.tree;
    for (const int channel : channelsOf(look)) {
        const auto &n = tree.nodes[static_cast<size_t>(channel)];
        Drawing d{{channel},
                  tree.childrenOf(channel).size(),
                  tree.at(channel, {Charge::Nominal, load, Case::Typical}).amps_A,
                  tree.at(channel, {Charge::Nominal, load, Case::Worst}).amps_A,
                  look.part(n).figure(key)};
        if (d.motors == 0 || d.limit == nullptr)
            continue;
        const auto same = std::find_if(all.begin(), all.end(), [&](const Drawing &o) {
            return tree.nodes[static_cast<size_t>(o.channels.front())].instance == n.instance &&
                   o.motors == d.motors && std::abs(o.typical_A - d.typical_A) < alike_A &&
                   std::abs(o.worst_A - d.worst_A) < alike_A;
        });
        if (same == all.end())
            all.push_back(d);
        else
            same->channels.push_back(channel);
    }
    return all;
}

std::vector<Finding> overCurrent(const Look &look, const char *code, Load load, const char *key,
                                 const Say &figureWord, const Say &leadsTo)
{
    std::vector<Finding> found;
    const auto &tree = look.report.tree;
    for (const auto &d : drawings(look, load, key)) {
        const auto &n = tree.nodes[static_cast<size_t>(d.channels.front())];
        std::vector<std::string> letters;
        for (const int c : d.channels)
            letters.push_back(kit::splitTerminal(tree.nodes[static_cast<size_t>(c)].id).terminal);
        const auto where = letters.size() == 1 ? n.name
                                               : say("{}, each of channels {}",
                                                     kit::labelOf(*look.car->instance(n.instance)),
                                                     joined(letters, " and "));
        const double each_A = d.typical_A / static_cast<double>(d.motors);
        const bool stall = load == Load::Stalled;
        const auto in = stall ? Evidence::In::Stalled : Evidence::In::Running;
        if (isPast(d.typical_A, d.limit->typical))
            found.push_back(
                {.code = code,
                 .severity = Severity::Error,
                 .where = where,
                 .what = d.motors == 1
                             ? say("{}: the motor {} {}, the driver gives {} {}.", where,
                                   stall ? say("stalls at") : "draws", amps(d.typical_A),
                                   amps(d.limit->typical), figureWord)
                             : say("{}: {} motors of {} each {} {}, the driver gives {} {}.", where,
                                   d.motors, amps(each_A), stall ? say("stall at") : "draw",
                                   amps(d.typical_A), amps(d.limit->typical), figureWord),
                 .why = leadsTo,
                 .mend =
                     d.motors == 1
                         ? say("Look at the motor's stall current and at the driver's sheet.")
                         : say("Look how many motors share a channel, and at the driver's sheet."),
                 .places = {at::part(n.instance), at::node(n.id)},
                 .evidence = Evidence{d.typical_A, d.limit->typical, in, Evidence::Of::Amps}});
        else if (isPast(d.worst_A, d.limit->low))
            found.push_back(
                {.code = code,
                 .severity = Severity::Advice,
                 .where = where,
                 .what = say(
                     "{}: with the greatest figures of its kind {} {} {}, the driver gives {} {}.",
                     where, d.motors == 1 ? say("the motor") : say("the motors"),
                     stall ? say("can stall at") : say("can draw"), amps(d.worst_A),
                     amps(d.limit->low), figureWord),
                 .why = leadsTo,
                 .mend = say("Measure the current of your own motor, or read its sheet."),
                 .places = {at::part(n.instance), at::node(n.id)},
                 .evidence = Evidence{d.worst_A, d.limit->low, in, Evidence::Of::Amps}});
    }
    return found;
}

std::vector<Finding> overPeak(const Look &look, const char *code)
{
    return overCurrent(look, code, Load::Stalled, "peak_A", say("at its peak"),
                       say("The chip cuts out or burns the first time a wheel is held."));
}

std::vector<Finding> overSteady(const Look &look, const char *code)
{
    return overCurrent(look, code, Load::Running, "continuous_A", say("for long"),
                       say("The driver overheats within minutes and cuts out."));
}

std::vector<Finding> hotBridge(const Look &look, const char *code)
{
    std::vector<Finding> found;
    const auto &tree = look.report.tree;
    for (const auto &fitted : look.car->parts) {
        const auto *part = look.car.part(fitted);
        const auto *limit = part ? part->figure("heat_limit_W") : nullptr;
        if (part == nullptr || part->kind != Kind::Driver || limit == nullptr)
            continue;
        double heat_W = 0.0;
        for (const int channel : channelsOf(look))
            if (tree.nodes[static_cast<size_t>(channel)].instance == fitted.id)
                heat_W += tree.at(channel, nominalRunning).heat_W.value_or(0.0);
        if (heat_W <= limit->typical)
            continue;
        found.push_back(
            {.code = code,
             .severity = Severity::Warning,
             .where = kit::labelOf(fitted),
             .what = say("The {} turns {} into heat while the car runs; it sheds {}.", part->name,
                         quantity(heat_W, Unit::Watt, 2), quantity(limit->typical, Unit::Watt, 1)),
             .why = say("It burns fingers, and may cut out and start again by itself."),
             .mend = say("Look at its drop and its heat sink, and whether every ground pin is "
                         "joined: they carry the heat away."),
             .places = at::part(fitted.id),
             .evidence =
                 Evidence{heat_W, limit->typical, Evidence::In::Running, Evidence::Of::Watts}});
    }
    return found;
}

std::vector<Finding> overRated(const Look &look, const char *code)
{
    std::vector<Finding> found;
    for (const auto &m : look.report.at(Charge::Fresh)) {
        const auto &part = *look.car.catalogue().find(look.car->instance(m.motor)->partId);
        if (m.servo || m.cap.fullDutyMean_V <= part.figure("rated_V")->high)
            continue;
        const auto nominal = std::find_if(look.report.at(Charge::Nominal).begin(),
                                          look.report.at(Charge::Nominal).end(),
                                          [&](const MotorAnswer &a) { return a.motor == m.motor; });
        if (!found.empty()) // both sides alike: said once
            continue;
        found.push_back(
            {code, Severity::Advice, m.name,
             say("At full duty a motor made for {} gets {} from fresh cells.", volts(m.rated_V),
                 volts(m.cap.fullDutyMean_V)),
             say("It heats up and wears out; a stalled one draws more than its sheet says."),
             nominal == look.report.at(Charge::Nominal).end()
                 ? say("Keep the count at {} or under.", m.cap.count)
                 : say("Keep the count at {} or under; {} with nominal cells.", m.cap.count,
                       nominal->cap.count),
             at::part(m.motor)});
    }
    return found;
}

std::vector<Finding> weak(const Look &look, const char *code)
{
    std::vector<Finding> found;
    for (const auto &m : look.report.at(Charge::Nominal)) {
        if (m.servo || !m.speedFull_mps || *m.speedFull_mps > 0.0)
            continue;
        found.push_back(
            {code, Severity::Error, m.name,
             say("{} gets {} at full duty: its load holds it.", m.name,
                 volts(m.cap.fullDutyMean_V)),
             say("It hums and does not turn."),
             say("Look at how many cells feed it, at the bridge's drop and at the wheel's load."),
             at::part(m.motor)});
    }
    return found;
}

} // namespace

const std::vector<CheckRule> &motorRules()
{
    static const std::vector<CheckRule> rules = {
        {"motors-on-regulator", source("motors run on the pack"), onRegulator, "error",
         "the motors hang on a regulated output"},
        {"supply-below-drop", source("the driver leaves volts for the motors"), underDrop,
         "error; warning near empty", "the driver keeps everything"},
        {"channel-over-peak", source("stalled motors stay within the driver's peak"), overPeak,
         "error; advice with the greatest figures",
         "stalled or running motors ask more than the driver gives; the ways out with their "
         "numbers"},
        {"channel-over-steady", source("running motors stay within the driver's steady current"),
         overSteady, "error; advice with the greatest figures",
         "stalled or running motors ask more than the driver gives; the ways out with their "
         "numbers"},
        {"bridge-hot", source("the driver sheds its heat"), hotBridge, "warning",
         "the driver makes more heat than it sheds"},
        {"motor-over-rated", source("full duty stays near the motors' rated volts"), overRated,
         "advice", "full duty gives the motors more than they are made for; the greatest count"},
        {"motor-too-weak", source("the motors turn at full duty"), weak, "error",
         "its load holds the motor at full duty"},
    };
    return rules;
}

} // namespace badger::power
