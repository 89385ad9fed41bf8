// SPDX-License-Identifier: GPL-3.0-or-later
// In which order does a hand make the changes, and what do they make stale?
#include "core/revisions/history.h"

#include "core/nets/drive_map.h"

#include <algorithm>
#include <fmt/format.h>
#include <set>

namespace badger::revisions
{

using parts::Kind;
using parts::Role;
using Act = HandStep::Act;

namespace
{

HandStep removal(const kit::Wire &w)
{
    return {Act::Remove, w,    w.from,
            {},          w.to, say("Remove the {} wire from {} to {}", w.colour, w.from, w.to)};
}

HandStep lift(const WireMove &m)
{
    return {Act::Lift,
            m.before,
            m.from,
            {},
            m.stays,
            say("Lift the {} wire of {} out of {} and hold it aside", m.before.colour, m.stays,
                m.from)};
}

HandStep move(const WireMove &m, bool lifted)
{
    const Say colour = m.before.colour == m.after.colour
                           ? m.after.colour
                           : say("{} (now noted {})", m.before.colour, m.after.colour);
    return {Act::Move,
            m.after,
            m.to,
            m.from,
            m.stays,
            lifted ? say("Put the {} wire of {} into {}", colour, m.stays, m.to)
                   : say("Move the {} wire of {} from {} to {}", colour, m.stays, m.from, m.to)};
}

/// Moves in an order in which each hole is free when its wire comes.
void orderMoves(const std::vector<WireMove> &moves, std::vector<HandStep> &steps)
{
    std::vector<bool> done(moves.size(), false);
    std::vector<bool> lifted(moves.size(), false);
    // The move whose wire still sits in the hole that this one wants; its own number if none does.
    const auto blocker = [&](size_t i) {
        for (size_t k = 0; k < moves.size(); ++k)
            if (k != i && !done[k] && !lifted[k] && moves[k].from == moves[i].to)
                return k;
        return i;
    };
    for (size_t left = moves.size(); left > 0;) {
        bool moved = false;
        for (size_t i = 0; i < moves.size(); ++i) {
            if (done[i] || blocker(i) != i)
                continue;
            steps.push_back(move(moves[i], lifted[i]));
            done[i] = true;
            moved = true;
            --left;
        }
        if (moved)
            continue;
        // Everything waits: follow who waits for whom as often as there are moves, and it ends
        // inside a ring.
        size_t ring =
            static_cast<size_t>(std::find(done.begin(), done.end(), false) - done.begin());
        for (size_t n = 0; n < moves.size(); ++n)
            ring = blocker(ring);
        steps.push_back(lift(moves[ring]));
        lifted[ring] = true;
    }
}

/// Signals first, supplies after them, what a source feeds directly near the end, grounds last.
int rank(const kit::Wire &w, const nets::Nets &nets)
{
    const int net = nets.of(w.from);
    const auto direct = [&](const std::string &end) {
        const auto *m = nets.member(end);
        return m && (m->terminal->role == Role::Plus || m->terminal->role == Role::Minus);
    };
    if (nets.isGround(net))
        return direct(w.from) || direct(w.to) ? 5 : 4;
    if (direct(w.from) || direct(w.to))
        return 3;
    if (nets.isSupply(net))
        return 2;
    return nets.has(net, Role::MotorOut) ? 1 : 0;
}

} // namespace

std::vector<HandStep> handOrder(const Changes &changes, const nets::Nets &after)
{
    std::vector<HandStep> steps;
    for (const auto &j : changes.jumpersOff)
        steps.push_back({Act::JumperOff, {}, j, {}, {}, say("Remove the jumper at ") + j});
    for (const auto &w : changes.removed)
        steps.push_back(removal(w));
    orderMoves(changes.moved, steps);
    for (const auto &w : changes.recoloured)
        steps.push_back(
            {Act::Recolour,
             w,
             w.to,
             {},
             w.from,
             say("The wire from {} to {} is {} now: exchange it, or look whether it was "
                 "noted wrong",
                 w.from, w.to, w.colour)});
    auto added = changes.added;
    std::stable_sort(added.begin(), added.end(), [&](const kit::Wire &a, const kit::Wire &b) {
        return rank(a, after) < rank(b, after);
    });
    for (const auto &j : changes.jumpersOn)
        steps.push_back({Act::JumperOn, {}, j, {}, {}, say("Put the jumper on ") + j});
    for (const auto &w : added)
        steps.push_back({Act::Add,
                         w,
                         w.to,
                         {},
                         w.from,
                         say("Put a {} wire from {} to {}", w.colour, w.from, w.to)});
    return steps;
}

std::string HandStep::key() const
{
    if (act == Act::JumperOn || act == Act::JumperOff)
        return "jumper:" + at;
    return "wire:" + wire.from + ">" + wire.to;
}

BenchProgress benchProgress(const nets::Nets &nets)
{
    BenchProgress p;
    const auto &ticks = nets.car()->ticks;
    for (const auto &step : handOrder(between({}, buildOf(nets.car())), nets)) {
        ++p.wires;
        p.done += std::find(ticks.begin(), ticks.end(), step.key()) != ticks.end();
    }
    return p;
}

namespace
{

bool drives(Kind kind)
{
    return kind == Kind::Motor || kind == Kind::Driver || kind == Kind::DriveServo;
}

} // namespace

/// The parts whose wires or jumpers change.
std::set<std::string> touchedBy(const Changes &c)
{
    std::set<std::string> touched;
    const auto touch = [&](const std::string &end) {
        touched.insert(kit::splitTerminal(end).instance);
    };
    for (const auto *wires : {&c.removed, &c.added})
        for (const auto &w : *wires) {
            touch(w.from);
            touch(w.to);
        }
    for (const auto &m : c.moved)
        touch(m.stays), touch(m.from), touch(m.to);
    for (const auto *jumpers : {&c.jumpersOff, &c.jumpersOn})
        for (const auto &j : *jumpers)
            touch(j);
    return touched;
}

Stale stale(const Build &before, const Build &after, const kit::Assembly &car)
{
    Stale s;
    auto pins = before.programPins;
    for (const auto &[terminal, pin] : after.programPins) {
        const auto it = pins.find(terminal);
        const auto was = it == pins.end() ? std::string{} : it->second;
        if (was != pin)
            s.constants.push_back({terminal, was, pin, false});
        pins.erase(terminal);
    }
    for (const auto &[terminal, pin] : pins)
        s.constants.push_back({terminal, pin, {}, false});
    const nets::Nets nets(car);
    for (const auto &[terminal, pin] : after.programPins) {
        const auto wired = nets::wiredPin(nets, terminal);
        const bool said = std::any_of(s.constants.begin(), s.constants.end(),
                                      [&](const auto &c) { return c.terminal == terminal; });
        if (!wired.empty() && wired != pin && !said)
            s.constants.push_back({terminal, pin, wired, true});
    }

    const auto touched = touchedBy(between(before, after, boardOf(car)));
    bool drive = false;
    bool supply = false;
    bool sensing = false;
    for (const auto &fitted : car->parts) {
        const auto *part = car.part(fitted);
        if (part == nullptr || !touched.count(fitted.id))
            continue;
        drive |= drives(part->kind);
        supply |= part->kind == Kind::Cell || part->kind == Kind::Link ||
                  part->kind == Kind::Supply || part->kind == Kind::Regulator;
        const bool passive = part->kind == Kind::Board || part->kind == Kind::Rail ||
                             part->kind == Kind::Cell || part->kind == Kind::Link ||
                             part->kind == Kind::Supply;
        sensing |= part->kind == Kind::Ranger || part->kind == Kind::Infrared ||
                   part->kind == Kind::Reflectance || part->kind == Kind::Strip;
        if (!passive)
            s.partTests.push_back(fitted.id);
    }
    if ((drive || supply) && !car->calibrations.speeds.empty())
        s.calibrations.push_back(say("the measured speeds: what the motors get may have changed"));
    if (drive && !car->calibrations.rollOuts.empty())
        s.calibrations.push_back(
            say("the roll-out: a driver that brakes on other pins may coast now"));
    if (drive || sensing || supply)
        s.trials.push_back(say("one run at a known distance before the old trials count again"));
    return s;
}

Rebuild rebuild(const kit::Car &before, const kit::Assembly &after)
{
    const auto from = buildOf(before);
    const auto to = buildOf(after);
    Rebuild r;
    r.changes = between(from, to, boardOf(after));
    r.steps = handOrder(r.changes, nets::Nets(after));
    r.stale = stale(from, to, after);
    return r;
}

} // namespace badger::revisions
