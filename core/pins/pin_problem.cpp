// SPDX-License-Identifier: GPL-3.0-or-later
// From a car to the planner's question, and from its answer back to the car.
#include "core/nets/drive_map.h"
#include "core/pins/planner.h"

#include <algorithm>
#include <fmt/format.h>
#include <map>

namespace badger::pins
{

using parts::Kind;
using parts::Role;

namespace
{

bool isServo(const parts::Part &part)
{
    return part.kind == Kind::Servo || part.kind == Kind::DriveServo;
}

PinNeed needOf(const nets::Nets &nets, const std::string &terminal)
{
    const auto &m = *nets.member(terminal);
    PinNeed need;
    need.terminal = terminal;
    need.role = m.terminal->role;
    need.servo = isServo(*m.part);
    need.light = m.part->kind == Kind::Led;
    need.pwm = need.role == Role::Enable || (need.role == Role::Direction && m.terminal->pwm);
    if (need.pwm)
        need.group = m.fitted->id + "." + m.terminal->channel;
    need.analogue = need.role == Role::AnalogueOut;
    if (const auto pins = nets::programPins(nets, terminal); !pins.empty())
        need.on = pins.front();
    return need;
}

/// Trigger and echo of one ranger on one pin: one line, used in turn.
bool onOneLine(const PinNeed &a, const PinNeed &b)
{
    return !a.on.empty() && a.on == b.on &&
           kit::splitTerminal(a.terminal).instance == kit::splitTerminal(b.terminal).instance &&
           ((a.role == Role::Trigger && b.role == Role::Echo) ||
            (a.role == Role::Echo && b.role == Role::Trigger));
}

void takeNeed(PinProblem &problem, PinNeed need)
{
    for (auto &known : problem.needs)
        if (onOneLine(known, need)) {
            known.sharing.push_back(need.terminal);
            return;
        }
    problem.needs.push_back(std::move(need));
}

} // namespace

namespace
{

/// A pin sounds it, or it is not wired yet.
bool soundsByPin(const nets::Nets &nets, const kit::Instance &buzzer, const parts::Part &part)
{
    bool wired = false;
    for (const auto &t : part.terminals) {
        const auto *m = nets.member(buzzer.id + "." + t.name);
        if (m == nullptr || t.role != Role::Signal)
            continue;
        wired |= m->wires > 0;
        if (!nets.onLine(m->name, Role::Pin).empty())
            return true;
    }
    return !wired;
}

} // namespace

std::set<std::string> librariesOf(const nets::Nets &nets)
{
    std::set<std::string> libraries;
    for (const auto &f : nets.car().fitted()) {
        if (isServo(*f.part))
            libraries.insert("servo");
        if (f.part->kind == Kind::Buzzer && !f.instance->plain &&
            soundsByPin(nets, *f.instance, *f.part))
            libraries.insert("tone");
    }
    return libraries;
}

PinProblem pinProblem(const kit::Assembly &car)
{
    return pinProblem(nets::Nets(car));
}

PinProblem pinProblem(const nets::Nets &nets)
{
    PinProblem problem;
    const auto *board = nets.car().first(Kind::Board);
    if (board == nullptr)
        return problem;
    problem.board = nets.car().part(*board);
    problem.boardId = board->id;
    problem.libraries = librariesOf(nets);
    for (const auto &terminal : nets::boardSignals(nets))
        takeNeed(problem, needOf(nets, terminal));
    for (const auto &m : nets.all()) {
        if (m.fitted != board || m.terminal->role != Role::Pin || m.wires == 0)
            continue;
        const bool serves = std::any_of(problem.needs.begin(), problem.needs.end(),
                                        [&](const PinNeed &n) { return n.on == m.terminal->name; });
        if (!serves)
            problem.blocked.insert(m.terminal->name);
    }
    return problem;
}

std::string freeColour(const kit::Car &car)
{
    static const std::vector<std::string> colours = {"yellow", "white",  "green", "blue",
                                                     "orange", "violet", "grey",  "brown"};
    std::map<std::string, int> used;
    for (const auto &w : car.wires)
        ++used[w.colour];
    return *std::min_element(colours.begin(), colours.end(),
                             [&](const auto &a, const auto &b) { return used[a] < used[b]; });
}

std::string colourFor(const kit::Assembly &car, const std::string &from, const std::string &to)
{
    const nets::Nets nets(car);
    for (const auto *end : {&from, &to}) {
        const auto *m = nets.member(*end);
        if (m == nullptr)
            continue;
        if (m->terminal->role == Role::Lead)
            return m->terminal == &m->part->terminals.front() ? "red" : "black";
        if (nets.isGround(m->net))
            return "black";
        if (nets.isSupply(m->net) || m->terminal->role == Role::SupplyIn)
            return "red";
    }
    return freeColour(car);
}

Say movesInWords(const PinPlan &plan)
{
    std::vector<Say> words;
    for (const auto &c : plan.choices)
        if (c.moved())
            words.push_back(say("{} from {} to {}", c.terminal, c.from, c.to));
    return joined(words, ", and ");
}

namespace
{

/// Which wires at a pin lead to a terminal, once that pin no longer joins them.
std::vector<size_t> wiresTo(const kit::Assembly &car, const std::string &pin,
                            const std::string &terminal)
{
    kit::Car without = car;
    std::erase_if(without.wires, [&](const kit::Wire &w) { return w.from == pin || w.to == pin; });
    const nets::Nets nets({without, car.catalogue()});
    const auto line = nets.line(nets.of(terminal));
    std::vector<size_t> found;
    for (size_t i = 0; i < car->wires.size(); ++i) {
        const auto &w = car->wires[i];
        if (w.from != pin && w.to != pin)
            continue;
        const int net = nets.of(w.from == pin ? w.to : w.from);
        if (std::find(line.begin(), line.end(), net) != line.end())
            found.push_back(i);
    }
    return found;
}

} // namespace

kit::Car withPlan(kit::Car car, const parts::Catalogue &catalogue, const PinPlan &plan)
{
    const auto *board = kit::Assembly(car, catalogue).first(Kind::Board);
    if (board == nullptr)
        return car;
    const auto prefix = board->id + ".";
    const auto before = car;
    for (const auto &choice : plan.choices) {
        std::vector<std::string> terminals = {choice.terminal};
        terminals.insert(terminals.end(), choice.sharing.begin(), choice.sharing.end());
        for (const auto &terminal : terminals) {
            car.programPins[terminal] = choice.to;
            if (choice.added())
                car.wires.push_back({terminal, prefix + choice.to, freeColour(car), {}});
            if (!choice.moved())
                continue;
            const auto pin = prefix + choice.from;
            for (const size_t i : wiresTo({before, catalogue}, pin, terminal)) {
                auto &w = car.wires[i];
                (before.wires[i].from == pin ? w.from : w.to) = prefix + choice.to;
            }
        }
    }
    return car;
}

} // namespace badger::pins
