// SPDX-License-Identifier: GPL-3.0-or-later
// Rules about supplies and grounds.
#include "core/wiring/check.h"

#include "core/units/quantity.h"
#include <algorithm>
#include <fmt/format.h>
#include <fmt/ranges.h>

namespace badger::wiring
{

namespace
{

using parts::Role;

/// Those of the faults that have this code.
std::vector<Finding> ofCode(const Look &look, const char *code)
{
    std::vector<Finding> found;
    for (const auto &f : look.observed)
        if (f.code == code)
            found.push_back(f);
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
             at::terminal(open.front())});
    }
    return found;
}

/// A bipolar bridge's inputs are made for a motor supply that is not under its logic supply.
std::vector<Finding> motorSupplyLow(const Look &look, const char *code)
{
    constexpr double level_V = 0.2; // nearer they count as the same
    std::vector<Finding> found;
    for (const auto &f : look.car.fitted()) {
        if (f.part->kind != parts::Kind::Driver || !f.part->figure("drop_V"))
            continue;
        std::optional<double> motors;
        std::optional<double> logic;
        std::string at;
        bool tooHigh = false; // the two are swapped, which is said
        for (const auto &t : f.part->terminals) {
            const auto *m = look.nets.member(f.instance->id + "." + t.name);
            if (m == nullptr || t.role != Role::SupplyIn || m->wires == 0)
                continue;
            const auto v = look.network.ownVolts_V(look.looked.running,
                                                   static_cast<size_t>(m - look.nets.all().data()));
            (t.motors ? motors : logic) = v;
            tooHigh |= !t.motors && v && t.window && *v > t.window->high_V;
            if (t.motors)
                at = m->name;
        }
        if (tooHigh || !motors || !logic || *motors < 1.0 || *motors >= *logic - level_V)
            continue;
        found.push_back(
            {code, Severity::Error, at,
             say("{} gets {}, less than the {} of the chip's logic supply.", at,
                 units::quantity(*motors, units::Unit::Volt, 1),
                 units::quantity(*logic, units::Unit::Volt, 1)),
             say("Its outputs do not switch as they should, and current creeps from the "
                 "logic into the motor side."),
             say("The motor supply has to be the higher one: more cells, or a bridge "
                 "made for low volts."),
             at::terminal(at)});
    }
    return found;
}

} // namespace

const std::vector<CheckRule> &supplyRules()
{
    static const std::vector<CheckRule> rules = {
        {"plug-backwards", source("no plug is the wrong way round"), ofCode, "error",
         "supply and ground of a part are exchanged"},
        {"supply-to-ground", source("no supply is joined to ground"), ofCode, "error",
         "a supply is shorted; the wire that does it"},
        {"supplies-swapped", source("logic and motor supply are not swapped"), ofCode, "error",
         "a driver's logic hangs on the motors' supply, above what it takes"},
        {"motor-supply-low", source("the motor supply is not under the logic supply"),
         motorSupplyLow, "error", "a bipolar bridge's motor supply is lower than its logic supply"},
        {"two-sources-one-net", source("one source on each net"), ofCode, "error",
         "two live sources feed one net"},
        {"current-into-pack", source("no current flows back into a pack"), ofCode, "error",
         "current is driven back into cells or into a supply"},
        // What is asked for too much sags: its volts follow.
        {"source-over-limit", source("no source is asked for more than it gives"), ofCode,
         "error running, warning stalled", "a pack, block, bank, port or adapter gives too much"},
        {"rail-over-current", source("no rail gives more than it can"), ofCode, "error",
         "a regulated rail feeds more than it gives"},
        {"supply-outside-window", source("every supply is in its window"), ofCode, "error",
         "an input gets more or less than it takes"},
        {"module-unpowered", source("every module has a supply"), ofCode, "error",
         "no live supply reaches a module, or its motors"},
        {"module-ungrounded", source("every module has a ground"), ofCode, "error",
         "a module has no ground"},
        {"grounds-not-joined", source("the grounds are one net"), ofCode, "error",
         "grounds are not one net: everything looks right and nothing works"},
        {"chip-ground-open", source("every ground of a chip is wired"), chipGrounds, "warning",
         "a bare chip has open grounds: they are its way out for heat"},
        {"motors-on-regulator", source("motors run on the pack"), ofCode, "error",
         "a driver's motor supply hangs on a regulated output"},
        {"signal-over-volts", source("every signal suits its pin"), ofCode, "error",
         "more volts reach a pin than it takes, from a sensor, a supply or the pack"},
        {"output-against-output", source("no output works against another"), ofCode, "error",
         "a pin or a sensor's output is joined to a rail, to ground or to another output"},
        {"motor-output-held", source("no motor output is held"), ofCode, "error",
         "a driver's output is joined to ground, to a supply or to another output"},
        {"light-too-bright", source("every light has its current"), ofCode, "warning",
         "a light gets several times its current"},
        {"link-over-limit", source("no switch, fuse or diode carries too much"), ofCode,
         "error running, warning stalled", "a switch, fuse or diode carries more than it should"},
        {"link-bypassed", source("no switch, fuse or diode is bypassed"), ofCode, "warning",
         "both ends of a switch, fuse or diode are on one conductor"},
        {"fed-past-fuse", source("every supply goes through its fuse"), ofCode, "warning",
         "a source that has a fuse feeds something past it"},
        {"live-past-switch", source("every switch takes its supply off everything"), ofCode,
         "warning", "something stays live when the switch of its source is off"},
        {"fuse-idle", source("every fuse protects something"), ofCode, "warning",
         "nothing flows through a fuse beside a pack that gives"},
        {"resistor-hot", source("no resistor gets hot"), ofCode, "error",
         "a resistor turns more into heat than it bears"},
    };
    return rules;
}

} // namespace badger::wiring
