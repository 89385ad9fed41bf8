// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/wiring/unfinished.h"

#include "core/circuit/stated.h"
#include "core/nets/drive_map.h"
#include "core/pins/planner.h"

#include <set>

namespace badger::wiring
{

namespace
{

/// What is wired already, but not yet as far as its source: one wire a conductor.
void joinHalfWay(const kit::Assembly &car, kit::Car &whole)
{
    const nets::Nets nets({whole, car.catalogue()});
    const auto *reference = nets.reference();
    std::set<int> done;
    std::vector<kit::Wire> more;
    for (const auto &m : nets.all()) {
        if (m.wires == 0 || done.count(m.net) != 0)
            continue;
        for (const auto &feed : m.fitted->feeds) {
            const auto *from = nets.member(feed.from);
            if (feed.to == m.terminal->name && from != nullptr && from->net != m.net &&
                !nets.isSupply(m.net) && !nets.isGround(m.net) && done.insert(m.net).second)
                more.push_back({m.name, feed.from, {}, {}});
        }
        const auto role = m.terminal->role;
        const bool ground = (role == parts::Role::Ground && m.part->kind != parts::Kind::Led) ||
                            (role == parts::Role::Minus && nets.standsOn(m) == nullptr);
        if (ground && reference != nullptr && m.net != reference->net && !nets.isSupply(m.net) &&
            done.insert(m.net).second)
            more.push_back({m.name, reference->name, {}, {}});
    }
    whole.wires.insert(whole.wires.end(), more.begin(), more.end());
}

} // namespace

std::vector<kit::Wire> missingWires(const nets::Nets &nets)
{
    const auto &car = nets.car();
    if (car->wires.empty())
        return {};
    auto whole = circuit::withStatedWires(car);
    joinHalfWay(car, whole);
    const auto *board = car.first(parts::Kind::Board);
    if (board != nullptr) {
        std::set<std::string> taken;
        for (const auto &w : whole.wires)
            taken.insert({w.from, w.to});
        const auto join = [&](const std::string &terminal, const std::string &pin) {
            const auto to = board->id + "." + pin;
            if (nets.member(terminal) && nets.member(to) && !nets.wired(terminal) &&
                taken.insert(to).second)
                whole.wires.push_back({terminal, to, {}, {}});
        };
        for (const auto &terminal : nets::boardSignals(nets))
            if (const auto pin = car->programPins.find(terminal); pin != car->programPins.end())
                join(terminal, pin->second);
        for (const auto &choice : pins::planPins(pins::pinProblem(nets)).choices)
            if (choice.added() && car->programPins.count(choice.terminal) == 0)
                join(choice.terminal, choice.to);
    }
    return {whole.wires.begin() + static_cast<std::ptrdiff_t>(car->wires.size()),
            whole.wires.end()};
}

kit::Car finished(const kit::Assembly &car, const std::vector<kit::Wire> &missing)
{
    auto whole = car.car();
    for (auto w : missing) {
        if (w.colour.empty())
            w.colour = pins::colourFor(car, w.from, w.to);
        whole.wires.push_back(std::move(w));
    }
    return whole;
}

} // namespace badger::wiring
