// SPDX-License-Identifier: GPL-3.0-or-later
// Rules about servos, signals, LEDs and figures that are not known.
#include "core/power/amounts.h"
#include "core/power/check.h"
#include "core/power/feeds.h"
#include "core/units/quantity.h"

#include <algorithm>
#include <cmath>
#include <fmt/format.h>

namespace badger::power
{

using kit::Charge;
using parts::Kind;
using parts::Role;
using units::quantity;
using units::Unit;

namespace
{

std::vector<Finding> servoOnRegulator(const Look &look, const char *code)
{
    std::vector<Finding> found;
    const auto &tree = look.report.tree;
    for (const auto &n : tree.nodes) {
        const auto kind = look.part(n).kind;
        if ((kind != Kind::Servo && kind != Kind::DriveServo) || n.parent < 0)
            continue;
        // Behind a rail or a switch it hangs on the regulator all the same.
        int from = n.parent;
        while (tree.nodes[static_cast<size_t>(from)].kind == NodeKind::Link &&
               tree.nodes[static_cast<size_t>(from)].parent >= 0)
            from = tree.nodes[static_cast<size_t>(from)].parent;
        const auto &rail = tree.nodes[static_cast<size_t>(from)];
        if (rail.kind != NodeKind::Output)
            continue;
        const auto &moving = tree.at(from, {Charge::Fresh, Load::Running, Case::Typical});
        const auto &stalled = tree.at(from, {Charge::Nominal, Load::Stalled, Case::Typical});
        const double heat_W = moving.heat_W.value_or(0.0);
        const bool tooMuch = rail.limit_A && moving.amps_A > rail.limit_A->typical;
        const bool error = heat_W > hotRegulator_W || tooMuch;
        found.push_back(
            {code, error ? Severity::Error : Severity::Warning, n.id,
             say("{} hangs on {}: {} and {} of heat while it moves, {} when it stalls.", n.name,
                 rail.id, ampsText(moving), quantity(heat_W, Unit::Watt, 2), ampsText(stalled)),
             say("Its starts dip the rail that the board and the sensors live on."),
             say("It is meant for a supply of its own, 4.8 V to 6 V, with the grounds joined: look "
                 "at "
                 "its sheet."),
             at::node(n.id)});
    }
    return found;
}

const DividerLook *dividerBehind(const Look &look, const std::string &output)
{
    for (const auto &d : look.report.dividers)
        if (d.signal == output)
            return &d;
    return nullptr;
}

/// Does a wire end at this terminal, or at any of this part?
bool isWired(const kit::Assembly &car, const std::string &what)
{
    const auto is = [&](const std::string &end) {
        return end == what || kit::splitTerminal(end).instance == what;
    };
    return std::any_of(car->wires.begin(), car->wires.end(),
                       [&](const kit::Wire &w) { return is(w.from) || is(w.to); });
}

/// A board that makes no rail of its own bears half a volt over what it is fed with.
double railLimit_V(const Look &look, const kit::Instance &board)
{
    constexpr double above_V = 0.5;
    const auto &terminals = look.car.part(board)->terminals;
    const bool makes = std::any_of(terminals.begin(), terminals.end(),
                                   [](const auto &t) { return t.role == parts::Role::SupplyOut; });
    const auto fed_V = signal_V(look.report.tree, look.car, board.id);
    return makes || !fed_V ? 1e9 : *fed_V + above_V;
}

std::vector<Finding> signalOverVolts(const Look &look, const char *code)
{
    std::vector<Finding> found;
    const auto *board = look.car.first(Kind::Board);
    const auto *high = board ? look.car.part(*board)->figure("pin_high_V") : nullptr;
    if (high == nullptr)
        return found;
    const double most_V = std::min(high->high, railLimit_V(look, *board));
    for (const auto &fitted : look.car->parts) {
        const auto *part = look.car.part(fitted);
        if (part == nullptr || part->kind == Kind::Divider)
            continue;
        const auto out_V = signal_V(look.report.tree, look.car, fitted.id);
        for (const auto &t : part->terminals) {
            if ((t.role != Role::Echo && t.role != Role::DigitalOut &&
                 t.role != Role::AnalogueOut) ||
                !out_V || *out_V <= most_V)
                continue;
            const auto name = fitted.id + "." + t.name;
            if (isWired(look.car, name))
                continue; // what its volts reach is said of the wires
            const auto *divider = dividerBehind(look, name);
            if (divider != nullptr && divider->out_V <= most_V)
                continue;
            found.push_back(
                {.code = code,
                 .severity = Severity::Error,
                 .where = name,
                 .what = say("{} gives {}; a pin of the {} takes {} at most.", name, volts(*out_V),
                             look.car.part(*board)->name, volts(most_V)),
                 .why = say("The pin is damaged, at once or slowly."),
                 .mend = say("A divider belongs between: 1 kohm over 2 kohm makes {} of it.",
                             volts(*dividerOut_V(*out_V, 1000.0, 2000.0))),
                 .places = {at::node(name), at::part(fitted.id)},
                 .evidence = Evidence{*out_V, most_V, Evidence::In::Rest, Evidence::Of::Volts}});
        }
    }
    return found;
}

std::vector<Finding> ledResistors(const Look &look, const char *code)
{
    std::vector<Finding> found;
    const auto *board = look.car.first(Kind::Board);
    const auto *partOfBoard = board ? look.car.part(*board) : nullptr;
    for (const auto &led : look.report.leds) {
        const auto &fitted = *look.car->instance(led.instance);
        // What is wired is judged by what flows through it.
        if (isWired(look.car, led.instance))
            continue;
        const auto fits = say("{} is exact, {} the next standard value: {} flow.",
                              quantity(led.answer.exact_ohm, Unit::Ohm, 1),
                              quantity(led.answer.standard_ohm, Unit::Ohm, 1),
                              quantity(led.answer.real_A, Unit::Milliampere, 1));
        if (!fitted.resistor_ohm) {
            found.push_back({code, Severity::Warning, led.instance,
                             say("No resistor is noted for {}.", kit::labelOf(fitted)),
                             say("Without one the LED and the pin burn."), fits,
                             at::part(led.instance)});
            continue;
        }
        const auto *advised = partOfBoard ? partOfBoard->figure("pin_advised_A") : nullptr;
        const auto *absolute = partOfBoard ? partOfBoard->figure("pin_absolute_A") : nullptr;
        const double left_V = led.supply_V - led.forward_V;
        const double flows_A = *fitted.resistor_ohm > 0.0 ? left_V / *fitted.resistor_ohm : 1.0;
        if (!advised || flows_A <= advised->typical)
            continue;
        const bool error = *fitted.resistor_ohm <= 0.0 || (absolute && flows_A > absolute->typical);
        found.push_back({code, error ? Severity::Error : Severity::Warning, led.instance,
                         say("{} with {} draws {} from its pin; {} are advised.",
                             kit::labelOf(fitted), quantity(*fitted.resistor_ohm, Unit::Ohm, 1),
                             *fitted.resistor_ohm > 0.0 ? quantity(flows_A, Unit::Milliampere, 1)
                                                        : say("all it can"),
                             quantity(advised->typical, Unit::Milliampere, 0)),
                         say("The pin is damaged."), fits, at::part(led.instance)});
    }
    return found;
}

std::vector<Finding> unknownFigures(const Look &look, const char *code)
{
    std::vector<Finding> found;
    for (const auto &node : look.report.tree.nodes)
        for (const auto &m : node.missing) {
            if (std::any_of(found.begin(), found.end(),
                            [&](const Finding &f) { return f.where == Say(m); }))
                continue;
            found.push_back({code, Severity::Warning, m, say("Not known: {}.", m),
                             say("Sums with it are 'at least' or 'at most', and what rests on "
                                 "them is not judged."),
                             say("Add it to the part from the maker's sheet, or measure it."),
                             at::part(node.instance)});
        }
    return found;
}

/// No-load, running and stall current rise in this order on every motor there is.
std::vector<Finding> currentsOutOfOrder(const Look &look, const char *code)
{
    std::vector<Finding> found;
    for (const auto &fitted : look.car->parts) {
        const auto *part = look.car.part(fitted);
        if (part == nullptr || part->kind != Kind::Motor)
            continue;
        const parts::Figure *below = nullptr;
        for (const auto *key : {"no_load_A", "running_A", "stall_A"}) {
            const auto *figure = part->figure(key);
            if (figure == nullptr)
                continue;
            const bool wrong = below != nullptr && below->typical > figure->typical;
            if (wrong && (found.empty() || found.back().where != Say(part->name)))
                found.push_back(
                    {code, Severity::Warning, part->name,
                     say("The {} of the {} is {}, less than a current that stands below it.",
                         parts::figureName(key), part->name,
                         quantity(figure->typical, Unit::Milliampere, 0)),
                     say("No-load, running and stall current rise in this order; its speed cannot "
                         "be reckoned."),
                     say("Look it up again, or measure it."), at::part(fitted.id)});
            below = figure;
        }
    }
    return found;
}

/// One finding a car, at the place where the tree is farthest off.
std::vector<Finding> treeHasLoop(const Look &look, const char *code)
{
    const auto &tree = look.report.tree;
    const Node *worst = nullptr;
    double most_V = 0.0;
    for (size_t i = 0; i < tree.nodes.size(); ++i) {
        const auto &v = tree.at(static_cast<int>(i), nominalRunning);
        if (v.offBranch && std::abs(v.volts_V - v.branch_V) > most_V) {
            worst = &tree.nodes[i];
            most_V = std::abs(v.volts_V - v.branch_V);
        }
    }
    if (worst == nullptr)
        return {};
    const auto disputes = disputedFeeds(look.car);
    if (std::any_of(disputes.begin(), disputes.end(),
                    [](const FeedDispute &d) { return !d.wired.empty(); }))
        return {}; // the tree is of another car
    const auto &v = tree.at(tree.indexOf(worst->id), nominalRunning);
    return {
        {code, Severity::Advice, worst->id,
         say("The wires make {} at {} while the car runs; the branch that feeds it brings {}.",
             quantity(v.volts_V, Unit::Volt, 2), worst->id, quantity(v.branch_V, Unit::Volt, 2)),
         say("Something feeds or loads it on a second way: a loop, which a tree cannot show."),
         say("What the tree shows there are the volts of the wires; the meter of Wire shows "
             "every terminal."),
         at::node(worst->id)}};
}

} // namespace

const std::vector<CheckRule> &partRules()
{
    static const std::vector<CheckRule> rules = {
        {"servo-on-regulator", source("no servo hangs on a regulated rail"), servoOnRegulator,
         "warning; error past heat or limit", "a servo hangs on a linear rail"},
        {"signal-over-volts", source("every signal suits its pin"), signalOverVolts, "error",
         "a sensor's output is higher than the pin takes"},
        {"led-resistor", source("every LED has its resistor"), ledResistors,
         "warning; error past what a pin survives", "an LED's resistor is missing or too small"},
        {"figure-missing", source("every figure that is needed is known"), unknownFigures,
         "warning", "a figure is not known, and what rests on it is not judged"},
        {"tree-has-loop", source("the wires make a tree of supplies"), treeHasLoop, "advice",
         "the wires give a place other volts than the sum along its branch"},
        {"currents-out-of-order", source("the motors' currents are in order"), currentsOutOfOrder,
         "warning", "no-load, running and stall current do not rise"},
    };
    return rules;
}

} // namespace badger::power
