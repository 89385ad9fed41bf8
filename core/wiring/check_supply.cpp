// SPDX-License-Identifier: GPL-3.0-or-later
// Rules about supplies and grounds.
#include "core/units/quantity.h"
#include "core/wiring/check.h"

#include <algorithm>
#include <fmt/format.h>
#include <fmt/ranges.h>
#include <set>

namespace badger::wiring
{

namespace
{

using kit::Charge;
using parts::Kind;
using parts::Role;

units::Quantity volts(double v)
{
    return units::quantity(v, units::Unit::Volt, 2);
}

bool takesPower(const parts::Part &part)
{
    return std::any_of(part.terminals.begin(), part.terminals.end(),
                       [](const parts::Terminal &t) { return t.role == Role::SupplyIn; });
}

/// Fed through a supply input, or backwards into an output whose own feed is dead.
bool isPowered(const Look &look, const kit::Fitted &f)
{
    return std::any_of(
        f.part->terminals.begin(), f.part->terminals.end(), [&](const parts::Terminal &t) {
            return (t.role == Role::SupplyIn || t.role == Role::SupplyOut) &&
                   !look.nets.sources(look.nets.of(f.instance->id + "." + t.name), Charge::Fresh)
                        .empty();
        });
}

std::vector<Finding> unpowered(const Look &look, const char *code)
{
    std::vector<Finding> found;
    for (const auto &f : look.car.fitted()) {
        if (!takesPower(*f.part) || isPowered(look, f))
            continue;
        const auto input =
            std::find_if(f.part->terminals.begin(), f.part->terminals.end(),
                         [](const parts::Terminal &t) { return t.role == Role::SupplyIn; });
        const auto name = f.instance->id + "." + input->name;
        found.push_back({code, Severity::Error, name, say("The {} has no supply.", f.part->name),
                         say("Nothing it should do will happen, and its lights stay dark."),
                         say("Wire {} to a supply of {} to {}.", name, volts(input->window->low_V),
                             volts(input->window->high_V)),
                         "terminal:" + name});
    }
    return found;
}

bool hasGround(const parts::Part &part)
{
    return std::any_of(part.terminals.begin(), part.terminals.end(),
                       [](const parts::Terminal &t) { return t.role == Role::Ground; });
}

std::string groundOf(const kit::Fitted &f)
{
    for (const auto &t : f.part->terminals)
        if (t.role == Role::Ground || t.role == Role::Minus)
            return f.instance->id + "." + t.name;
    return {};
}

bool groundWired(const Look &look, const kit::Fitted &f)
{
    return look.nets.members(look.nets.of(groundOf(f))).size() >
           static_cast<size_t>(
               std::count_if(f.part->terminals.begin(), f.part->terminals.end(),
                             [](const parts::Terminal &t) { return t.role == Role::Ground; }));
}

std::vector<Finding> ungrounded(const Look &look, const char *code)
{
    std::vector<Finding> found;
    for (const auto &f : look.car.fitted()) {
        if (!hasGround(*f.part) || groundWired(look, f))
            continue;
        const auto name = groundOf(f);
        found.push_back(
            {code, Severity::Error, name, say("The {} has no ground.", f.part->name),
             say("Its supply has no way back and its signals have nothing to be measured against."),
             say("Wire {} to the common ground, last of all.", name), "terminal:" + name});
    }
    return found;
}

std::vector<Finding> apart(const Look &look, const char *code)
{
    // The ground of the pack is the one that others must share; without a pack, the board's.
    std::vector<kit::Fitted> grounded;
    for (const auto &f : look.car.fitted())
        if (f.part->kind == Kind::Cell || (hasGround(*f.part) && groundWired(look, f)))
            grounded.push_back(f);
    const auto reference = std::find_if(grounded.begin(), grounded.end(), [](const kit::Fitted &f) {
        return f.part->kind == Kind::Cell;
    });
    if (grounded.empty())
        return {};
    const auto common = groundOf(reference == grounded.end() ? grounded.front() : *reference);
    std::vector<Finding> found;
    for (const auto &f : grounded) {
        const auto name = groundOf(f);
        if (look.nets.of(name) == look.nets.of(common))
            continue;
        found.push_back({code, Severity::Error, name + " and " + common,
                         say("The ground of the {} is not joined to {}.", f.part->name, common),
                         say("Every light is on and every wire looks right, but no signal has a "
                             "way back, so nothing works or it works at random."),
                         say("Join {} to {} with a black wire.", name, common),
                         "terminal:" + name});
    }
    return found;
}

/// A driver whose logic hangs on the motors' supply and its motors on the logic's.
struct Swapped {
    std::string logic; ///< "driver.VL16"
    std::string motors;
    double logic_V = 0.0;
    double motors_V = 0.0;
};

std::vector<Swapped> swappedSupplies(const Look &look)
{
    std::vector<Swapped> all;
    for (const auto &f : look.car.fitted()) {
        if (f.part->kind != Kind::Driver)
            continue;
        Swapped s;
        for (const auto &t : f.part->terminals)
            if (t.role == Role::SupplyIn) {
                const auto name = f.instance->id + "." + t.name;
                const auto sources = look.nets.sources(look.nets.of(name), Charge::Nominal);
                if (sources.empty())
                    continue;
                (t.motors ? s.motors : s.logic) = name;
                (t.motors ? s.motors_V : s.logic_V) = sources.front().volts_V;
            }
        const auto *logic = look.nets.member(s.logic);
        if (logic && look.nets.member(s.motors) && s.logic_V > s.motors_V &&
            s.logic_V > logic->terminal->window->high_V)
            all.push_back(s);
    }
    return all;
}

std::vector<Finding> suppliesSwapped(const Look &look, const char *code)
{
    std::vector<Finding> found;
    for (const auto &s : swappedSupplies(look))
        found.push_back(
            {code, Severity::Error, s.logic + " and " + s.motors,
             say("Logic and motor supply are swapped: {} gets {}, {} gets {}.", s.logic,
                 volts(s.logic_V), s.motors, volts(s.motors_V)),
             say("The logic of the chip burns, and the motors run on the board's regulator."),
             say("Change the two wires over before any power: the pack on {}, the logic rail on "
                 "{}.",
                 s.motors, s.logic),
             "terminal:" + s.logic});
    return found;
}

std::vector<Finding> chipGrounds(const Look &look, const char *code)
{
    std::vector<Finding> found;
    for (const auto &f : look.car.fitted()) {
        if (f.part->shape != "chip")
            continue;
        std::vector<std::string> open;
        size_t grounds = 0;
        for (const auto &t : f.part->terminals) {
            const auto name = f.instance->id + "." + t.name;
            grounds += t.role == Role::Ground;
            if (t.role == Role::Ground && !look.nets.wired(name))
                open.push_back(name);
        }
        if (open.empty() || open.size() == grounds) // without any, that is said elsewhere
            continue;
        found.push_back(
            {code, Severity::Warning, open.front(),
             say("{} of the {} grounds of the {} are wired; {} {} open.", grounds - open.size(),
                 grounds, f.part->name, joined(open, ", "), open.size() == 1 ? "is" : "are"),
             say("Its ground pins are its way out for heat: with some of them open it gets hot "
                 "sooner and cuts out."),
             say("Join all of them, on broad copper or short thick wires."),
             "terminal:" + open.front()});
    }
    return found;
}

std::vector<Finding> outsideWindow(const Look &look, const char *code)
{
    std::vector<Finding> found;
    const auto swapped = swappedSupplies(look);
    const auto isSwapped = [&](const std::string &name) {
        return std::any_of(swapped.begin(), swapped.end(),
                           [&](const Swapped &s) { return s.logic == name || s.motors == name; });
    };
    for (const auto &f : look.car.fitted()) {
        for (const auto &t : f.part->terminals) {
            if (t.role != Role::SupplyIn || !t.window)
                continue;
            const auto name = f.instance->id + "." + t.name;
            if (isSwapped(name))
                continue;
            const int net = look.nets.of(name);
            const auto at = [&](Charge charge) {
                const auto s = look.nets.sources(net, charge);
                return s.empty() ? std::optional<double>{} : std::optional(s.front().volts_V);
            };
            const auto fresh = at(Charge::Fresh);
            const auto nominal = at(Charge::Nominal);
            const auto empty = at(Charge::NearEmpty);
            const auto window = say("{} to {}", volts(t.window->low_V), volts(t.window->high_V));
            if (fresh && *fresh > t.window->high_V) {
                found.push_back(
                    {code, Severity::Error, name,
                     say("{} gets {} with fresh cells; it takes {}.", name, volts(*fresh), window),
                     say("Over-voltage burns the part, often at once."),
                     say("Use a lower supply or a regulator before it; do not join it now."),
                     "terminal:" + name});
            } else if (nominal && *nominal < t.window->low_V) {
                found.push_back(
                    {code, Severity::Error, name,
                     say("{} gets {}; it takes {}.", name, volts(*nominal), window),
                     say("The part does not start, or resets as soon as the motors do."),
                     say("Feed it from a higher supply."), "terminal:" + name});
            } else if (nominal && empty && *empty < t.window->low_V) {
                // Where the feed itself dies first, that is said at the feed.
                found.push_back(
                    {code, Severity::Advice, name,
                     say("Near empty, {} falls below its window of {}.", name, window),
                     say("A car whose pack runs low resets or reads wrong before it stops."),
                     say("Recharge when the pack shows {} at this input.", volts(t.window->low_V)),
                     "terminal:" + name});
            }
        }
    }
    return found;
}

std::vector<Finding> twoSources(const Look &look, const char *code)
{
    std::vector<Finding> found;
    std::set<int> seen;
    for (const auto &f : look.car.fitted())
        for (const auto &t : f.part->terminals) {
            const int net = look.nets.of(f.instance->id + "." + t.name);
            const auto sources = look.nets.sources(net, Charge::Fresh);
            if (sources.size() < 2 || !seen.insert(net).second)
                continue;
            const auto &a = sources[0].terminal;
            const auto &b = sources[1].terminal;
            found.push_back(
                {code, Severity::Error, a + " and " + b, say("{} and {} both feed one net.", a, b),
                 say("One drives current backwards into the other and one of them heats up."),
                 say("Take one of the two supplies off this net."), "terminal:" + b});
        }
    return found;
}

std::vector<Finding> shorted(const Look &look, const char *code)
{
    std::vector<Finding> found;
    std::set<int> seen;
    // The source is named rather than what hangs on it.
    for (const auto role : {Role::Plus, Role::SupplyOut, Role::SupplyIn})
        for (const auto &f : look.car.fitted())
            for (const auto &t : f.part->terminals) {
                if (t.role != role)
                    continue;
                const auto name = f.instance->id + "." + t.name;
                const int net = look.nets.of(name);
                auto grounds = look.nets.membersWith(net, Role::Ground);
                const auto minus = look.nets.membersWith(net, Role::Minus);
                grounds.insert(grounds.end(), minus.begin(), minus.end());
                if (grounds.empty() || !seen.insert(net).second)
                    continue;
                found.push_back(
                    {code, Severity::Error, name + " and " + grounds.front(),
                     say("{} is joined to ground at {}.", name, grounds.front()),
                     say("A short: wires glow, cells vent, a fuse blows if there is one."),
                     say("Keep the cells out and take one of the wires between them off."),
                     "terminal:" + name});
            }
    return found;
}

} // namespace

const std::vector<CheckRule> &supplyRules()
{
    static const std::vector<CheckRule> rules = {
        {"supply-to-ground", source("no supply is joined to ground"), shorted, "error",
         "a supply is joined to ground"},
        {"module-unpowered", source("every module has a supply"), unpowered, "error",
         "a module has no live supply"},
        {"module-ungrounded", source("every module has a ground"), ungrounded, "error",
         "a module has no ground"},
        {"grounds-not-joined", source("the grounds are one net"), apart, "error",
         "grounds are not one net: everything looks right and nothing works"},
        {"supplies-swapped", source("logic and motor supply are not swapped"), suppliesSwapped,
         "error", "a driver's logic hangs on the motors' supply, above what it takes"},
        {"chip-ground-open", source("every ground of a chip is wired"), chipGrounds, "warning",
         "a bare chip has open grounds: they are its way out for heat"},
        {"supply-outside-window", source("every supply is in its window"), outsideWindow,
         "error; advice near empty", "an input gets more or less than it takes"},
        {"two-sources-one-net", source("one source on each net"), twoSources, "error",
         "two live sources feed one net"},
    };
    return rules;
}

} // namespace badger::wiring
