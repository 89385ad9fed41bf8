// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/diagnose/slips.h"

#include "core/edit/noted_ways.h"
#include "core/nets/drive_map.h"
#include "core/pins/planner.h"
#include "core/wiring/unfinished.h"

#include <algorithm>
#include <set>

namespace badger::diagnose
{

using parts::Kind;
using parts::Role;

namespace
{

constexpr size_t mostSlips = 900;

template <class T> bool isOneOf(T value, std::initializer_list<T> all)
{
    return std::find(all.begin(), all.end(), value) != all.end();
}

class Maker
{
public:
    Maker(const kit::Assembly &car, const std::vector<const Finding *> &complaints,
          const std::vector<kit::Wire> &drawn)
        : m_car(car), m_nets(car), m_drawn(drawn)
    {
        Spots places;
        for (const auto *f : complaints)
            places.insert(places.end(), f->places.begin(), f->places.end());
        for (const auto &place : places) {
            if (const auto *m = m_nets.member(place.name))
                addHere(m->name);
            else if (const auto *f = m_car.find(place.name))
                for (const auto &t : f->part->terminals)
                    addHere(f->instance->id + "." + t.name);
        }
        for (const auto &t : m_here)
            m_conductors.insert(m_nets.of(t));
        for (const auto &w : m_car->wires) {
            if (isHere(w.from))
                m_near.insert(w.to);
            if (isHere(w.to))
                m_near.insert(w.from);
        }
        m_near.insert(m_here.begin(), m_here.end());
        findLacking();
    }

    std::vector<Slip> make()
    {
        if (m_car->wires.empty()) // one wire alone mends nothing
            return {};
        turned();
        exchanged();
        shifted();
        pins();
        jumpers();
        resistors();
        wires();
        lacking();
        std::stable_sort(m_all.begin(), m_all.end(),
                         [](const Slip &a, const Slip &b) { return a.cost < b.cost; });
        if (m_all.size() > mostSlips)
            m_all.resize(mostSlips);
        return std::move(m_all);
    }

private:
    using Member = nets::Member;

    void addHere(const std::string &terminal)
    {
        if (std::find(m_here.begin(), m_here.end(), terminal) == m_here.end())
            m_here.push_back(terminal);
    }

    /// Terminals that should have a wire and have none.
    void findLacking()
    {
        const auto served = nets::boardSignals(m_nets);
        m_lacking.insert(served.begin(), served.end());
        for (const auto &m : m_nets.all()) {
            const auto role = m.terminal->role;
            if (isOneOf(role, {Role::SupplyIn, Role::Ground, Role::Lead, Role::Minus, Role::Plus,
                               Role::Through, Role::MotorOut, Role::Direction, Role::Enable}))
                m_lacking.insert(m.name);
            if (role == Role::Pin && isProgrammed(m))
                m_lacking.insert(m.name);
        }
        std::erase_if(m_lacking, [&](const std::string &t) {
            const auto *m = m_nets.member(t);
            return m == nullptr || (m->wires > 0 && !isUnheard(*m)) ||
                   nets::isJumpered(*m->fitted, m->terminal->name);
        });
    }

    /// An input whose conductor nothing gives a level: wired to a resistor or to other inputs.
    bool isUnheard(const Member &m) const
    {
        const auto gives = {Role::Pin,  Role::DigitalOut, Role::AnalogueOut, Role::SupplyOut,
                            Role::Plus, Role::Minus,      Role::Ground,      Role::Echo};
        return isOneOf(m.terminal->role, {Role::Direction, Role::Enable}) &&
               std::none_of(gives.begin(), gives.end(),
                            [&](Role role) { return m_nets.has(m.net, role); });
    }

    bool isProgrammed(const Member &pin) const
    {
        return pin.fitted == m_car.first(Kind::Board) &&
               std::any_of(m_car->programPins.begin(), m_car->programPins.end(),
                           [&](const auto &p) { return p.second == pin.terminal->name; });
    }

    void add(Slip::Kind kind, Fix fix, int cost)
    {
        const bool single = kind == Slip::Kind::TooMany || kind == Slip::Kind::Misplaced;
        if (single && isMeant(fix.out.front()))
            return;
        const bool may = std::all_of(fix.out.begin(), fix.out.end(), [&](const Fix::Wire &w) {
            return std::any_of(m_drawn.begin(), m_drawn.end(), [&](const kit::Wire &d) {
                return d.from == w.from && d.to == w.to && d.colour == w.colour;
            });
        });
        if (may && fix != Fix{} && m_seen.insert(keyOf(fix)).second)
            m_all.push_back({kind, std::move(fix), cost});
    }

    /// The kit or the program says that this very wire belongs there, or it joins two grounds.
    bool isMeant(const Fix::Wire &w) const
    {
        const auto *board = m_car.first(Kind::Board);
        for (const auto &[a, b] : {std::pair(w.from, w.to), {w.to, w.from}}) {
            const auto &m = *m_nets.member(a);
            const auto &other = *m_nets.member(b);
            for (const auto &feed : m.fitted->feeds)
                if (feed.to == m.terminal->name && feed.from == b)
                    return true;
            const auto pin = m_car->programPins.find(a);
            if (board != nullptr && pin != m_car->programPins.end() &&
                b == board->id + "." + pin->second)
                return true;
            if (m.terminal->role == Role::Lead && other.terminal->role == Role::MotorOut &&
                m.fitted->drivenBy == other.fitted->id + "." + other.terminal->channel)
                return true;
        }
        const auto isGround = [&](const std::string &t) {
            return isOneOf(m_nets.member(t)->terminal->role, {Role::Ground, Role::Minus});
        };
        return isGround(w.from) && isGround(w.to);
    }

    static std::string keyOf(const Fix &fix)
    {
        std::string key;
        for (const auto *wires : {&fix.out, &fix.in}) {
            for (const auto &w : *wires)
                key += w.from + ">" + w.to + ";";
            key += "|";
        }
        for (const auto *all : {&fix.jumpers, &fix.pulled}) {
            for (const auto &j : *all)
                key += j + ";";
            key += "|";
        }
        for (const auto &[terminal, pin] : fix.pins)
            key += terminal + "=" + pin + ";";
        for (const auto &r : fix.resistors)
            key += r.light;
        return key;
    }

    static Fix::Wire wire(const kit::Wire &w) { return {w.from, w.to, w.colour}; }

    /// What is wired to each of these goes to the other one of its pair.
    void exchange(const std::vector<std::pair<std::string, std::string>> &pairs, Slip::Kind kind,
                  int cost)
    {
        Fix fix;
        const auto other = [&](const std::string &end) {
            for (const auto &[a, b] : pairs)
                if (end == a || end == b)
                    return end == a ? b : a;
            return end;
        };
        for (const auto &w : m_car->wires) {
            const Fix::Wire after{other(w.from), other(w.to), w.colour};
            if (after == wire(w) || (after.from == w.to && after.to == w.from))
                continue;
            fix.out.push_back(wire(w));
            fix.in.push_back(after);
        }
        if (pairs.size() == 1)
            fix.exchanged = {pairs.front().first, pairs.front().second};
        add(kind, std::move(fix), cost);
    }

    std::set<std::string> partsHere() const
    {
        std::set<std::string> parts;
        for (const auto &t : m_near)
            parts.insert(kit::splitTerminal(t).instance);
        // A motor's outputs may be another motor's.
        for (const auto &m : m_nets.all())
            for (const auto &lead : m_nets.all())
                if (m.terminal->role == Role::MotorOut && m.net == lead.net &&
                    parts.count(lead.fitted->id) != 0 && lead.part->kind == Kind::Motor)
                    parts.insert(m.fitted->id);
        return parts;
    }

    /// Two terminals of a part: leads, plug, inputs, trigger and echo; every ground of a chip for
    /// its supply.
    void turned()
    {
        for (const auto &id : partsHere()) {
            const auto *f = m_car.find(id);
            if (f == nullptr || f->part->kind == Kind::Rail)
                continue;
            const auto &ts = f->part->terminals;
            for (size_t i = 0; i < ts.size(); ++i)
                for (size_t k = i + 1; k < ts.size(); ++k) {
                    const auto a = id + "." + ts[i].name;
                    const auto b = id + "." + ts[k].name;
                    if (!m_nets.wired(a) && !m_nets.wired(b))
                        continue;
                    // Of a board, two ends of which one is near.
                    if (f->part->kind == Kind::Board &&
                        ((m_near.count(a) == 0 && m_near.count(b) == 0) || !m_nets.wired(a) ||
                         !m_nets.wired(b)))
                        continue;
                    const bool board = f->part->kind == Kind::Board;
                    const bool plug = !board &&
                                      (ts.size() == 2 || isPlug(ts[i].role, ts[k].role)) &&
                                      m_nets.wired(a) && m_nets.wired(b);
                    const bool near = m_near.count(a) != 0 && m_near.count(b) != 0;
                    exchange({{a, b}}, board ? Slip::Kind::Exchanged : Slip::Kind::Turned,
                             plug                 ? 1
                             : near || k - i == 1 ? 2
                                                  : 3);
                }
        }
    }
    static bool isPlug(Role a, Role b)
    {
        const auto is = [&](Role x, Role y) { return (a == x && b == y) || (a == y && b == x); };
        return is(Role::Plus, Role::Minus) || is(Role::SupplyIn, Role::Ground) ||
               is(Role::Through, Role::Through) || is(Role::SupplyIn, Role::SupplyOut) ||
               is(Role::Lead, Role::Lead) || is(Role::Trigger, Role::Echo) ||
               is(Role::SupplyOut, Role::Ground);
    }
    bool isHere(const std::string &t) const
    {
        return std::find(m_here.begin(), m_here.end(), t) != m_here.end();
    }

    /// No hand takes a motor's wire for another one across two parts.
    bool isMotors(const std::string &terminal) const
    {
        return isOneOf(m_nets.member(terminal)->terminal->role, {Role::Lead, Role::MotorOut});
    }

    /// Two terminals that are named, of two parts; a rail's two rows; a part's two pairs of leads.
    void exchanged()
    {
        for (size_t i = 0; i < m_here.size(); ++i)
            for (size_t k = i + 1; k < m_here.size(); ++k)
                if (kit::splitTerminal(m_here[i]).instance !=
                        kit::splitTerminal(m_here[k]).instance &&
                    isMotors(m_here[i]) == isMotors(m_here[k]) && m_nets.wired(m_here[i]) &&
                    m_nets.wired(m_here[k]))
                    exchange({{m_here[i], m_here[k]}}, Slip::Kind::Exchanged, 2);
        // What feeds a rail that is the wrong way round.
        for (const auto &a : m_nets.all())
            for (const auto &b : m_nets.all())
                if (a.fitted == b.fitted && a.net != b.net && m_conductors.count(a.net) != 0 &&
                    m_conductors.count(b.net) != 0 && a.part->kind != Kind::Rail && a.wires > 0 &&
                    b.wires > 0 && isOneOf(a.terminal->role, {Role::Ground, Role::Minus}) &&
                    isOneOf(b.terminal->role, {Role::SupplyOut, Role::Plus}))
                    exchange({{a.name, b.name}}, Slip::Kind::Turned, 1);
    }

    /// All wires of a plug, one hole on: at the part, or where they end on a board.
    void shifted()
    {
        for (const auto &id : partsHere()) {
            const auto *f = m_car.find(id);
            if (f == nullptr ||
                isOneOf(f->part->kind, {Kind::Board, Kind::Rail, Kind::Cell, Kind::Link}))
                continue;
            std::vector<std::pair<std::string, std::string>> ends; // here and on the board
            for (const auto &w : m_car->wires)
                for (const auto &[own, far] : {std::pair(w.from, w.to), {w.to, w.from}})
                    if (kit::splitTerminal(own).instance == id)
                        ends.emplace_back(own, far);
            if (ends.size() < 2)
                continue;
            for (const int by : {1, -1}) {
                shift(ends, by, true);
                shift(ends, by, false);
            }
        }
    }

    void shift(const std::vector<std::pair<std::string, std::string>> &ends, int by, bool own)
    {
        Fix fix;
        for (const auto &[here, far] : ends) {
            const auto &end = own ? here : far;
            const auto to = neighbour(end, by);
            const auto *m = m_nets.member(end);
            if (!own && m->part->kind != Kind::Board)
                continue;
            if (to.empty())
                return;
            for (const auto &w : m_car->wires) {
                const bool from = w.from == end && w.to == (own ? far : here);
                if (!from && !(w.to == end && w.from == (own ? far : here)))
                    continue;
                fix.out.push_back(wire(w));
                fix.in.push_back(from ? Fix::Wire{to, w.to, w.colour}
                                      : Fix::Wire{w.from, to, w.colour});
                break;
            }
        }
        if (fix.out.size() < 2)
            return;
        // Nothing is at the end of the row then: its wire hung beside it.
        std::set<std::string> filled;
        for (const auto &[here, far] : ends)
            filled.insert(neighbour(here, by));
        for (const auto &[here, far] : ends) {
            const auto &m = *m_nets.member(here);
            if (!own || filled.count(here) != 0)
                continue;
            if (m.terminal->role == Role::Ground && !supplies(true).empty())
                fix.in.push_back({here, supplies(true).front(), "black"});
            for (const auto &feed : m.fitted->feeds)
                if (feed.to == m.terminal->name && m_nets.member(feed.from))
                    fix.in.push_back({here, feed.from, "red"});
        }
        add(Slip::Kind::Shifted, std::move(fix), 1);
    }

    /// The terminal beside it on its part; empty past the end.
    std::string neighbour(const std::string &terminal, int by) const
    {
        const auto *m = m_nets.member(terminal);
        const auto &ts = m->part->terminals;
        const auto at = (m->terminal - ts.data()) + by;
        return at < 0 || at >= std::ssize(ts)
                   ? std::string()
                   : m->fitted->id + "." + ts[static_cast<size_t>(at)].name;
    }

    void jumpers()
    {
        for (const auto &t : m_here) {
            const auto &m = *m_nets.member(t);
            if (!m.terminal->jumper)
                continue;
            Fix fix;
            (nets::isJumpered(*m.fitted, m.terminal->name) ? fix.pulled : fix.jumpers).push_back(t);
            if (!fix.jumpers.empty()) // a jumper joins what is wired there to the rail
                for (const auto &w : m_car->wires)
                    if (w.from == t || w.to == t)
                        fix.out.push_back(wire(w));
            add(Slip::Kind::Jumper, std::move(fix), 3);
        }
    }

    /// A light's own resistor, noted too small or not at all.
    void resistors()
    {
        for (const auto &id : partsHere()) {
            const auto *f = m_car.find(id);
            if (f->part->kind != Kind::Led)
                continue;
            const double least_ohm = edit::leastResistor_ohm(m_car, id);
            Fix fix;
            fix.resistors.push_back({id, f->instance->resistor_ohm, least_ohm});
            if (f->instance->resistor_ohm.value_or(0.0) < least_ohm)
                add(Slip::Kind::Noted, std::move(fix), 1);
        }
    }

    /// The map of pins: as planned, as the wires say, or as the program says.
    void pins()
    {
        const auto *board = m_car.first(Kind::Board);
        const bool signal = std::any_of(m_here.begin(), m_here.end(), [&](const std::string &t) {
            return isOneOf(m_nets.member(t)->terminal->role,
                           {Role::Pin, Role::Trigger, Role::Echo, Role::Direction, Role::Enable,
                            Role::Signal, Role::DigitalOut, Role::AnalogueOut});
        });
        if (board == nullptr || !signal)
            return;
        if (const auto p = pins::planPins(pins::pinProblem(m_nets));
            p.possible() && p.additions == 0)
            difference(pins::withPlan(m_car.car(), m_car.catalogue(), p), 2);
        difference(nets::withPinsFromWires(m_car.car(), m_car.catalogue()), 2);
        for (const auto &[terminal, pin] : m_car->programPins) {
            const auto full = board->id + "." + pin;
            const bool about =
                isHere(terminal) || isHere(full) || m_conductors.count(m_nets.of(terminal)) != 0;
            if (m_nets.member(terminal) == nullptr || m_nets.member(full) == nullptr || !about ||
                m_nets.of(terminal) == m_nets.of(full))
                continue;
            for (const auto &w : m_car->wires) {
                if (w.from == terminal || w.to == terminal)
                    move(w, terminal, full, 1);
                if (w.from == full || w.to == full)
                    move(w, full, terminal, 1);
            }
            put(terminal, full, 1);
        }
    }

    /// What turns the car into one with the same parts.
    void difference(const kit::Car &after, int cost)
    {
        Fix fix;
        const auto lacks = [](const std::vector<kit::Wire> &all, const kit::Wire &w) {
            return std::find(all.begin(), all.end(), w) == all.end();
        };
        for (const auto &w : m_car->wires)
            if (lacks(after.wires, w))
                fix.out.push_back(wire(w));
        for (const auto &w : after.wires)
            if (lacks(m_car->wires, w))
                fix.in.push_back(wire(w));
        for (const auto &[terminal, pin] : after.programPins)
            if (const auto it = m_car->programPins.find(terminal);
                it == m_car->programPins.end() || it->second != pin)
                fix.pins[terminal] = pin;
        add(Slip::Kind::Noted, std::move(fix), cost);
    }

    /// Wires on the conductors of the places: each off, and each end elsewhere.
    void wires()
    {
        for (const auto &w : m_car->wires) {
            const bool at = isHere(w.from) || isHere(w.to);
            if (!at && m_conductors.count(m_nets.of(w.from)) == 0)
                continue;
            Fix fix;
            fix.out = {wire(w)};
            add(Slip::Kind::TooMany, std::move(fix), 2);
            for (const auto &[stays, moves] : {std::pair(w.from, w.to), {w.to, w.from}})
                elsewhere(w, stays, moves, at);
        }
    }

    void elsewhere(const kit::Wire &w, const std::string &stays, const std::string &moves, bool at)
    {
        std::set<std::string> done = {moves, stays};
        const auto to = [&](const std::string &end, int cost) {
            if (!end.empty() && done.insert(end).second)
                move(w, stays, end, cost);
        };
        const auto &s = *m_nets.member(stays);
        const auto role = s.terminal->role;
        const bool ground = isOneOf(role, {Role::Ground, Role::Minus});
        for (const int by : {1, -1})
            if (const auto end = neighbour(moves, by); m_lacking.count(end) != 0)
                to(end, 1);
        for (const auto &end : m_lacking)
            if (fits(s, *m_nets.member(end)))
                to(end, 2);
        for (const auto &end : m_here) // what lacks something, though wires end there
            if (fits(s, *m_nets.member(end)))
                to(end, 2);
        for (const int by : {1, -1})
            if (const auto end = neighbour(moves, by); !end.empty() && fits(s, *m_nets.member(end)))
                to(end, 3);
        if (role == Role::SupplyIn)
            for (const auto &feed : s.fitted->feeds)
                if (feed.to == s.terminal->name && m_nets.member(feed.from))
                    to(feed.from, 1);
        if (!at)
            return;
        const bool tied = isOneOf(role, {Role::Direction, Role::Enable});
        if (tied || isOneOf(role, {Role::SupplyIn, Role::Through}))
            for (const auto &end : supplies(false))
                to(end, 3);
        if (ground || tied)
            for (const auto &end : supplies(true))
                to(end, 2);
        if (isOneOf(role, {Role::Lead}))
            for (const auto &m : m_nets.all())
                if (m.terminal->role == Role::MotorOut && mayPair(stays, m))
                    to(m.name, 2);
    }

    /// May a wire from one terminal lead to another, by their roles? Ground goes to ground, a lead
    /// to an output, a signal to a pin; what gives to what takes.
    static bool fits(const Member &a, const Member &b)
    {
        const auto kindOf = [](const Member &m) {
            switch (m.terminal->role) {
            case Role::Ground:
            case Role::Minus:
                return 1;
            case Role::SupplyIn:
            case Role::SupplyOut:
            case Role::Plus:
                return 2;
            case Role::Lead:
            case Role::MotorOut:
                return 3;
            case Role::Through:
                return 4;
            default:
                return 5;
            }
        };
        const int x = kindOf(a);
        const int y = kindOf(b);
        const auto takes = [](const Member &m) {
            return isOneOf(m.terminal->role,
                           {Role::Direction, Role::Enable, Role::Trigger, Role::Signal});
        };
        if (takes(a) && takes(b))
            return false; // two inputs have nothing to say to each other
        return x == y || (x == 4 && y != 3 && y != 5) || (y == 4 && x != 3 && x != 5);
    }

    /// May an output drive a motor's lead whose other lead is where it is: another one of the same
    /// channel?
    bool mayPair(const std::string &lead, const Member &output) const
    {
        for (const auto &m : m_nets.all()) {
            if (m.fitted != m_nets.member(lead)->fitted || m.name == lead ||
                m.terminal->role != Role::Lead)
                continue;
            for (const auto &x : m_nets.all())
                if (x.net == m.net && x.terminal->role == Role::MotorOut)
                    return x.fitted == output.fitted && x.net != output.net &&
                           x.terminal->channel == output.terminal->channel;
        }
        return true;
    }

    void move(const kit::Wire &w, const std::string &stays, const std::string &to, int cost)
    {
        if (to == w.from || to == w.to)
            return;
        Fix fix;
        fix.out = {wire(w)};
        fix.in = {w.from == stays ? Fix::Wire{w.from, to, w.colour}
                                  : Fix::Wire{to, w.to, w.colour}};
        add(Slip::Kind::Misplaced, std::move(fix), cost);
    }

    void put(const std::string &a, const std::string &b, int cost)
    {
        Fix fix;
        fix.in = {{a, b, pins::colourFor(m_car, a, b)}};
        add(Slip::Kind::Lacking, std::move(fix), cost);
    }

    /// One terminal of each net that carries a supply or ground, its source first; behind a switch
    /// or fuse is another place of the same net.
    std::vector<std::string> supplies(bool ground) const
    {
        std::vector<std::string> all;
        std::set<int> seen;
        for (const auto role : {Role::Plus, Role::SupplyOut, Role::Minus, Role::Ground,
                                Role::Through, Role::SupplyIn})
            for (const auto &m : m_nets.all()) {
                const bool fits = ground ? m_nets.isGround(m.net)
                                         : m_nets.isSupply(m.net) && !m_nets.isGround(m.net);
                const bool there = m.wires > 0 || role == Role::SupplyOut || role == Role::Plus;
                if (m.terminal->role == role && there && fits && seen.insert(m.net).second)
                    all.push_back(m.name);
            }
        for (const auto &m : m_nets.all())
            if (!ground && m.part->kind == Kind::Link && m_nets.isSupply(m.net))
                all.push_back(m.name);
        return all;
    }

    /// A wire where one is missing; of a part all that the kit and the program say it lacks.
    void lacking()
    {
        const auto missing = wiring::missingWires(m_nets);
        for (const auto &id : partsHere()) {
            Fix fix;
            for (const auto &w : missing)
                if (kit::splitTerminal(w.from).instance == id ||
                    kit::splitTerminal(w.to).instance == id)
                    fix.in.push_back({w.from, w.to, pins::colourFor(m_car, w.from, w.to)});
            add(Slip::Kind::Lacking, std::move(fix), 1);
        }
        for (const auto &t : m_here) {
            const auto &m = *m_nets.member(t);
            const auto role = m.terminal->role;
            const bool ground = isOneOf(role, {Role::Ground, Role::Minus});
            if (role == Role::Lead && m.wires == 0)
                for (const auto &out : m_nets.all())
                    if (out.terminal->role == Role::MotorOut && mayPair(t, out))
                        put(t, out.name, out.wires == 0 ? 1 : 2);
            if (!ground &&
                !isOneOf(role, {Role::SupplyIn, Role::Enable, Role::Through, Role::Plus}))
                continue;
            for (const auto &feed : m.fitted->feeds)
                if (feed.to == m.terminal->name && m_nets.member(feed.from))
                    put(t, feed.from, 1);
            // Where nothing says it, behind a switch or fuse rather than before it.
            for (const auto &s : supplies(ground))
                if (s != t)
                    put(t, s, ground && m.wires == 0 ? 1 : 2);
        }
    }

    const kit::Assembly &m_car;
    nets::Nets m_nets;
    const std::vector<kit::Wire> &m_drawn;
    std::vector<std::string> m_here;
    std::set<std::string> m_near; ///< and the far ends of the wires there
    std::set<int> m_conductors;
    std::set<std::string> m_lacking;
    std::set<std::string> m_seen;
    std::vector<Slip> m_all;
};

} // namespace

std::vector<Slip> slips(const kit::Assembly &car, const std::vector<const Finding *> &complaints,
                        const std::vector<kit::Wire> &drawn)
{
    return Maker(car, complaints, drawn).make();
}

} // namespace badger::diagnose
