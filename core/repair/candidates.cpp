// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/repair/candidates.h"

#include "core/nets/drive_map.h"
#include "core/pins/planner.h"
#include "core/repair/codes.h"

#include <algorithm>
#include <set>

namespace badger::repair
{

using parts::Kind;
using parts::Role;

namespace
{

constexpr size_t mostCandidates = 400;

class Maker
{
public:
    Maker(const kit::Assembly &car, const Finding &finding, const std::vector<Finding> &all)
        : m_car(car), m_nets(car), m_finding(finding)
    {
        for (const auto &m : m_nets.all())
            if (named(finding, m.name))
                m_here.push_back(m.name);
        m_joinedWrongly = std::any_of(all.begin(), all.end(),
                                      [](const Finding &f) { return isOfJoinedSupplies(f.code); });
        for (const auto &f : all)
            for (const auto &m : m_nets.all())
                if (lacks(f.code) && english(f.where).find(m.name) != std::string::npos)
                    m_lacking.insert(m.name);
        // A terminal that the program serves and no wire reaches lacks one, too.
        for (const auto &[terminal, pin] : m_car->programPins)
            if (m_nets.member(terminal) && !m_nets.wired(terminal))
                m_lacking.insert(terminal);
    }

    std::vector<Fix> make()
    {
        if (m_car->wires.empty()) { // one wire alone mends nothing
            cells();
            return std::move(m_all);
        }
        plan();
        pinsFromWires();
        exchanges();
        jumpers();
        toTheirPins();
        taken();
        moved();
        back();
        toOtherSupplies();
        joins();
        cells();
        if (m_all.size() > mostCandidates)
            m_all.resize(mostCandidates);
        return std::move(m_all);
    }

private:
    static bool named(const Finding &f, const std::string &terminal)
    {
        const auto text = english(f.where) + " " + f.target + " ";
        for (size_t at = text.find(terminal); at != std::string::npos;
             at = text.find(terminal, at + 1)) {
            const auto next = text[at + terminal.size()];
            if (std::isalnum(static_cast<unsigned char>(next)) == 0)
                return true;
        }
        return false;
    }

    static Fix::Wire wire(const kit::Wire &w) { return {w.from, w.to, w.colour}; }

    void exchange(const std::string &a, const std::string &b)
    {
        Fix fix;
        const auto other = [&](const std::string &end) {
            return end == a ? b : end == b ? a : end;
        };
        for (const auto &w : m_car->wires) {
            const kit::Wire after{other(w.from), other(w.to), w.colour, {}};
            if (after == kit::Wire{w.from, w.to, w.colour, {}})
                continue;
            fix.out.push_back(wire(w));
            fix.in.push_back(wire(after));
        }
        fix.exchanged = {a, b};
        if (!fix.out.empty())
            m_all.push_back(std::move(fix));
    }

    /// Two terminals of a part that is named: leads, plug, inputs, trigger and echo.
    void exchanges()
    {
        std::set<std::string> parts;
        for (const auto &t : m_here)
            parts.insert(kit::splitTerminal(t).instance);
        if (m_here.empty() && m_car->instance(english(m_finding.where)))
            parts.insert(english(m_finding.where));
        const auto at = m_finding.target.find(':');
        if (at != std::string::npos)
            parts.insert(kit::splitTerminal(m_finding.target.substr(at + 1)).instance);
        if (m_finding.code == "motor-undriven") // its outputs may be another motor's
            for (const auto &m : m_nets.all())
                for (const auto &lead : m_nets.all())
                    if (m.terminal->role == Role::MotorOut && m.net == lead.net &&
                        parts.count(lead.fitted->id) != 0)
                        parts.insert(m.fitted->id);
        for (const auto &id : parts) {
            const auto *f = m_car.find(id);
            if (f == nullptr || f->part->kind == Kind::Board || f->part->kind == Kind::Rail)
                continue;
            const auto &ts = f->part->terminals;
            for (size_t i = 0; i < ts.size(); ++i)
                for (size_t k = i + 1; k < ts.size(); ++k)
                    if (m_nets.wired(id + "." + ts[i].name) || m_nets.wired(id + "." + ts[k].name))
                        exchange(id + "." + ts[i].name, id + "." + ts[k].name);
        }
        for (size_t i = 0; i < m_here.size(); ++i)
            for (size_t k = i + 1; k < m_here.size(); ++k)
                exchange(m_here[i], m_here[k]);
        // What feeds a rail that is the wrong way round.
        if (m_finding.code == "plug-backwards" && m_here.size() == 2)
            for (const auto &a : m_nets.all())
                for (const auto &b : m_nets.all())
                    if (a.fitted == b.fitted && a.net == m_nets.of(m_here[0]) &&
                        b.net == m_nets.of(m_here[1]) && a.part->kind != Kind::Rail &&
                        (a.terminal->role == Role::Ground || a.terminal->role == Role::Minus) &&
                        (b.terminal->role == Role::SupplyOut || b.terminal->role == Role::Plus))
                        exchange(a.name, b.name);
    }

    /// More or fewer cells of the same kind, the nearest numbers first: where the finding is about
    /// volts, amps or heat in the supply.
    void cells()
    {
        constexpr int farthest = 6;
        if (!isAboutVolts(m_finding.code) || m_joinedWrongly)
            return;
        for (const auto &f : m_car.fitted()) {
            const int now = f.instance->cellsInSeries;
            if (f.part->kind != parts::Kind::Cell || now < 1 || !f.instance->otherCells.empty())
                continue;
            for (int step = 1; step <= farthest; ++step)
                for (const int then : {now + step, now - step})
                    if (then >= 1) {
                        Fix fix;
                        fix.cells.push_back({f.instance->id, now, then});
                        m_all.push_back(std::move(fix));
                    }
        }
    }

    void jumpers()
    {
        for (const auto &t : m_here) {
            const auto &m = *m_nets.member(t);
            if (!m.terminal->jumper || english(m_finding.where).find(t) == std::string::npos)
                continue; // a jumper mends what is wrong at its own enable
            Fix fix;
            (nets::isJumpered(*m.fitted, m.terminal->name) ? fix.pulled : fix.jumpers).push_back(t);
            if (!fix.jumpers.empty()) // a jumper joins what is wired there to the rail
                for (const auto &w : m_car->wires)
                    if (w.from == t || w.to == t)
                        fix.out.push_back({w.from, w.to, w.colour});
            m_all.push_back(std::move(fix));
        }
    }

    /// Wires on the conductors of the terminals that are named.
    std::vector<const kit::Wire *> wiresHere() const
    {
        std::set<int> nets;
        for (const auto &t : m_here)
            nets.insert(m_nets.of(t));
        std::vector<const kit::Wire *> all;
        for (const auto named : {true, false}) // those that end at a named terminal come first
            for (const auto &w : m_car->wires) {
                const bool at = std::find(m_here.begin(), m_here.end(), w.from) != m_here.end() ||
                                std::find(m_here.begin(), m_here.end(), w.to) != m_here.end();
                if (nets.count(m_nets.of(w.from)) != 0 && at == named)
                    all.push_back(&w);
            }
        return all;
    }

    void taken()
    {
        if (lacks(m_finding.code))
            return; // what hears nothing hears no more without its wire
        for (const auto *w : wiresHere()) {
            Fix fix;
            fix.out = {wire(*w)};
            m_all.push_back(std::move(fix));
        }
    }

    void move(const kit::Wire &w, bool from, const std::string &to)
    {
        if (to == w.from || to == w.to)
            return;
        Fix fix;
        fix.out = {wire(w)};
        fix.in = {from ? Fix::Wire{to, w.to, w.colour} : Fix::Wire{w.from, to, w.colour}};
        m_all.push_back(std::move(fix));
    }

    /// What turns one car into the other; their parts are the same.
    void difference(const kit::Car &after)
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
        if (!fix.out.empty() || !fix.in.empty() || !fix.pins.empty())
            m_all.push_back(std::move(fix));
    }

    /// The least moves that give every function its pin.
    void plan()
    {
        if (!isAboutPins(m_finding.code) || m_car.first(Kind::Board) == nullptr)
            return;
        const auto problem = pins::pinProblem(m_nets);
        if (const auto p = pins::planPins(problem); p.possible() && p.additions == 0)
            difference(pins::withPlan(m_car.car(), m_car.catalogue(), p));
    }

    /// The program takes the pins that the wires lead to.
    void pinsFromWires()
    {
        if (m_finding.code == "program-pin-not-wired" || m_finding.code == "trig-echo-crossed")
            difference(nets::withPinsFromWires(m_car.car(), m_car.catalogue()));
    }

    /// The wire of a signal to the pin that the program uses for it, and a pin to its signal.
    void toTheirPins()
    {
        const auto *board = m_car.first(Kind::Board);
        if (board == nullptr)
            return;
        for (const auto &[terminal, pin] : m_car->programPins) {
            const auto full = board->id + "." + pin;
            if (m_nets.member(terminal) == nullptr || m_nets.member(full) == nullptr ||
                m_nets.of(terminal) == m_nets.of(full))
                continue;
            for (const auto &w : m_car->wires) {
                if (w.from == terminal || w.to == terminal)
                    move(w, w.to == terminal, full);
                if (w.from == full || w.to == full)
                    move(w, w.to == full, terminal);
            }
            if (named(m_finding, terminal) || named(m_finding, full))
                put(terminal, full, "");
        }
    }

    void moved()
    {
        for (const auto *w : wiresHere())
            for (const auto &to : m_lacking)
                for (const bool from : {true, false})
                    move(*w, from, to);
    }

    /// May an output drive a motor's lead whose other lead is where it is: another one of the same
    /// channel?
    bool mayPair(const std::string &lead, const nets::Member &output) const
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

    /// An end that slipped: of a ground's wire to a ground without one, of a motor lead's wire to a
    /// driver's output, of an output's wire to a lead without one.
    void back()
    {
        const auto is = [&](const std::string &end, std::initializer_list<Role> roles) {
            const auto *m = m_nets.member(end);
            return m && std::find(roles.begin(), roles.end(), m->terminal->role) != roles.end();
        };
        for (const auto *w : wiresHere())
            for (const bool from : {true, false}) {
                const auto &stays = from ? w->to : w->from;
                const auto &moves = from ? w->from : w->to;
                const bool ground = is(stays, {Role::Ground, Role::Minus});
                const bool lead = is(stays, {Role::Lead});
                const bool output = is(stays, {Role::MotorOut});
                if (is(moves, {Role::Ground, Role::Minus}) || (lead && is(moves, {Role::MotorOut})))
                    continue;
                if (ground)
                    for (const auto &to : supplies(true))
                        if (m_nets.of(to) != m_nets.of(stays))
                            move(*w, from, to);
                for (const auto &m : m_nets.all()) {
                    const auto role = m.terminal->role;
                    if ((ground && m.wires == 0 && (role == Role::Ground || role == Role::Minus)) ||
                        (lead && role == Role::MotorOut && mayPair(stays, m)) ||
                        (output && m.wires == 0 && role == Role::Lead))
                        move(*w, from, m.name);
                }
            }
    }

    /// A supply input that hangs on the wrong supply.
    void toOtherSupplies()
    {
        for (const auto &t : m_here)
            if (m_nets.member(t)->terminal->role == Role::SupplyIn)
                for (const auto &w : m_car->wires)
                    if (w.from == t || w.to == t)
                        for (const auto &s : supplies(false))
                            move(w, w.to == t, s);
    }

    void put(const std::string &a, const std::string &b, const std::string &colour)
    {
        Fix fix;
        fix.in = {{a, b, colour.empty() ? pins::colourFor(m_car, a, b) : colour}};
        m_all.push_back(std::move(fix));
    }

    /// One terminal of each net that carries a supply or ground, its source first.
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
        // Behind a switch or fuse is another place of the same net: the far end serves, too.
        for (const auto &m : m_nets.all())
            if (!ground && m.part->kind == Kind::Link && m_nets.isSupply(m.net))
                all.push_back(m.name);
        return all;
    }

    void joins()
    {
        for (const auto &t : m_here) {
            const auto role = m_nets.member(t)->terminal->role;
            const bool ground = role == Role::Ground || role == Role::Minus;
            if (role != Role::SupplyIn && role != Role::Enable && role != Role::Through && !ground)
                continue;
            for (const auto &s : supplies(ground))
                if (s != t)
                    put(t, s, ground ? "black" : "red");
        }
    }

    const kit::Assembly &m_car;
    nets::Nets m_nets;
    const Finding &m_finding;
    std::vector<std::string> m_here;
    std::set<std::string> m_lacking;
    bool m_joinedWrongly = false;
    std::vector<Fix> m_all;
};

} // namespace

std::vector<Fix> candidates(const kit::Assembly &car, const Finding &finding,
                            const std::vector<Finding> &all)
{
    if (isNotOfWires(finding.code))
        return {};
    return Maker(car, finding, all).make();
}

} // namespace badger::repair
