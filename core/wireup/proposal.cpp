// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/wireup/proposal.h"

#include "core/edit/kit_edits.h"
#include "core/edit/wire_ways.h"
#include "core/nets/drive_map.h"
#include "core/power/check.h"
#include "core/revisions/history.h"
#include "core/wireup/direct.h"
#include "core/wireup/said.h"
#include "core/wiring/check.h"

#include <algorithm>
#include <map>
#include <set>

namespace badger::wireup
{

using parts::Kind;
using parts::Role;

namespace
{

/// The pins that the signals get: wired ones stay, and of the others the program's own go before
/// those that the planner picks.
pins::PinPlan planned(const kit::Assembly &car, bool wiredStay = true)
{
    const nets::Nets nets(car);
    auto problem = pins::pinProblem(nets);
    if (problem.board == nullptr)
        return {};
    for (auto &need : problem.needs) {
        const bool wired = !need.on.empty();
        need.fixed = wired && wiredStay;
        const auto known = car->programPins.find(need.terminal);
        if (wired || known == car->programPins.end())
            continue;
        const auto *pin = problem.board->terminal(known->second);
        if (pin != nullptr && pin->role == Role::Pin)
            need.on = pin->name;
    }
    // Behind a divider the pin may be wired before the sensor is.
    for (auto &need : problem.needs)
        for (const auto &f : car.fitted())
            for (const auto &feed : f.instance->feeds)
                if (f.part->kind == Kind::Divider && feed.from == need.terminal)
                    if (const auto pin = nets::wiredPin(nets, f.instance->id + ".OUT");
                        !pin.empty()) {
                        need.on = pin;
                        need.fixed = true;
                        problem.blocked.erase(pin);
                    }
    // Trigger and echo that the program has on one pin are one line.
    for (size_t i = 0; i < problem.needs.size(); ++i)
        for (size_t k = problem.needs.size() - 1; k > i; --k) {
            auto &a = problem.needs[i];
            auto &b = problem.needs[k];
            const auto is = [](const pins::PinNeed &n) {
                return n.role == Role::Trigger || n.role == Role::Echo;
            };
            if (a.on.empty() || a.on != b.on || a.fixed != b.fixed || !is(a) || !is(b) ||
                kit::splitTerminal(a.terminal).instance != kit::splitTerminal(b.terminal).instance)
                continue;
            a.sharing.push_back(b.terminal);
            problem.needs.erase(problem.needs.begin() + static_cast<std::ptrdiff_t>(k));
        }
    return pins::planPins(problem);
}

/// One more part beside another, where there is room; its id.
std::string bring(kit::Car &car, const parts::Catalogue &catalogue, const std::string &partId,
                  const std::string &beside)
{
    const auto before = car;
    const auto *other = before.instance(beside);
    const auto id = edit::addPart(car, catalogue, partId);
    if (id.empty() || other == nullptr)
        return id;
    const auto place = edit::placeBeside({before, catalogue}, id, partId, *other);
    for (auto &i : car.parts)
        if (i.id == id && place) {
            i.mount.emplace();
            i.mount->setBack_m = place->back_m;
            i.mount->offset_m = place->left_m;
        }
    return id;
}

std::string partIdOf(const parts::Catalogue &catalogue, Kind kind, auto fits)
{
    for (const auto &p : catalogue.parts())
        if (p.kind == kind && fits(p) && catalogue.find(p.id) == &p)
            return p.id;
    return {};
}

/// The wires with a colour each: red, black, and for each signal one of its own while there are
/// enough.
void paint(std::vector<NewWire> &wires, const kit::Assembly &car)
{
    auto painted = car.car();
    std::map<std::string, std::string> colourOf;
    for (auto &w : wires) {
        switch (w.kind) {
        case Conductor::Kind::Supply:
            w.wire.colour = "red";
            break;
        case Conductor::Kind::Ground:
            w.wire.colour = "black";
            break;
        case Conductor::Kind::Motor: {
            const auto *t = car.terminal(w.wire.to);
            const auto *f = car.find(kit::splitTerminal(w.wire.to).instance);
            w.wire.colour = t == &f->part->terminals.front() ? "red" : "black";
            break;
        }
        case Conductor::Kind::Signal: {
            auto &colour = colourOf[w.line];
            if (colour.empty())
                colour = pins::freeColour(painted);
            w.wire.colour = colour;
            break;
        }
        }
        painted.wires.push_back(w.wire);
    }
}

/// The car with these wires, and the pins that its program then uses.
kit::Car wiredWith(const kit::Car &ready, const parts::Catalogue &catalogue,
                   const std::vector<NewWire> &wires)
{
    auto car = ready;
    for (const auto &w : wires)
        car.wires.push_back(w.wire);
    if (!wires.empty())
        revisions::edited(car);
    // A pin that a kept wire has otherwise than the program stays to be told.
    std::set<std::string> before;
    {
        const nets::Nets was({ready, catalogue});
        for (const auto &terminal : nets::boardSignals(was))
            if (!nets::wiredPin(was, terminal).empty() && ready.programPins.count(terminal) != 0)
                before.insert(terminal);
    }
    auto withPins = nets::withPinsFromWires(car, catalogue);
    for (const auto &terminal : before)
        withPins.programPins[terminal] = ready.programPins.at(terminal);
    return withPins;
}

class Proposer
{
public:
    Proposer(const kit::Car &car, const parts::Catalogue &catalogue)
        : m_before(car), m_catalogue(catalogue)
    {
        m_p.car = m_p.ready = car;
        m_p.kept = car.wires;
    }

    Proposal make()
    {
        sayTheRest(m_p.ready, m_catalogue, m_p);
        m_p.wrong = wrongWires({m_p.ready, m_catalogue});
        // What does not belong is out of the way until the rest is found.
        std::erase_if(m_p.ready.wires, [&](const kit::Wire &w) { return isWrong(w); });
        pullDowns();
        // Each round brings what the one before lacked.
        constexpr int mostRounds = 24;
        int round = 0;
        while (!m_p.impossible && attempt())
            if (++round == mostRounds)
                m_p.impossible = {say("after {0} rails and dividers more are still wanted", round),
                                  {{say("a breadboard with more columns, or fewer parts"),
                                    say("another part in their place")}}};
        if (m_p.impossible)
            return asItWas();
        holdBack();
        m_p.ready.wires = m_before.wires;
        m_p.car = wiredWith(m_p.ready, m_catalogue, m_p.wires);
        whatIsLeft();
        return std::move(m_p);
    }

private:
    Proposal asItWas()
    {
        Proposal p;
        p.car = p.ready = m_before;
        p.kept = m_before.wires;
        p.wrong = std::move(m_p.wrong);
        p.impossible = std::move(m_p.impossible);
        return p;
    }

    void brought(const std::string &id, const std::string &partId, Say why)
    {
        m_p.parts.push_back({id, partId, std::move(why)});
    }

    /// Inputs that a plugged sensor drives have a resistor to ground, each on that very input.
    void pullDowns()
    {
        for (const auto &input : plugged({m_p.ready, m_catalogue})) {
            const kit::Assembly car(m_p.ready, m_catalogue);
            if (nets::Nets(car).pulledDown(input))
                continue;
            auto [id, toInput, toGround] = idleResistor(input);
            if (id.empty()) {
                double most_ohm = 0.0;
                for (const auto &p : m_catalogue.parts())
                    if (const auto *r = p.figure("resistance_ohm");
                        p.kind == Kind::Resistor && r != nullptr)
                        most_ohm = std::max(most_ohm, r->typical);
                const auto partId = partIdOf(m_catalogue, Kind::Resistor, [&](const auto &p) {
                    return p.terminals.size() == 2 && p.figure("resistance_ohm") &&
                           p.figure("resistance_ohm")->typical >= most_ohm;
                });
                id = bring(m_p.ready, m_catalogue, partId, kit::splitTerminal(input).instance);
                if (id.empty())
                    return;
                toInput = id + ".A";
                toGround = id + ".B";
                brought(id, partId, say("it holds {} low when the sensor's plug is loose", input));
            }
            m_used.insert(id);
            const auto ground = groundBeside(input);
            const auto why = say("{} must not float", input);
            m_besides.push_back(
                {Conductor::Kind::Signal, {{input, id, {}, false}, {toInput, id, why, false}}, {}});
            m_besides.push_back({Conductor::Kind::Ground,
                                 {{ground, id, {}, false}, {toGround, id, why, false}},
                                 {}});
        }
    }
    std::string groundBeside(const std::string &input) const
    {
        const auto instance = kit::splitTerminal(input).instance;
        const auto *part = m_catalogue.find(m_p.ready.instance(instance)->partId);
        for (const auto &t : part->terminals)
            if (t.role == Role::Ground)
                return instance + "." + t.name;
        return {};
    }

    /// A resistor that is there and not used: which end goes to the input and which to ground. One
    /// that is half wired so already comes before one without a wire.
    struct Pulling {
        std::string id;
        std::string toInput;
        std::string toGround;
    };
    Pulling idleResistor(const std::string &input) const
    {
        const kit::Assembly car(m_p.ready, m_catalogue);
        const nets::Nets nets(car);
        Pulling best;
        int most = -1;
        for (const auto &f : car.fitted()) {
            constexpr double least_ohm = 4700.0; // less loads what drives the input
            const auto *r = f.part->figure("resistance_ohm");
            if (f.part->kind != Kind::Resistor || f.part->terminals.size() != 2 || r == nullptr ||
                r->typical < least_ohm || m_used.count(f.instance->id) != 0)
                continue;
            for (const size_t first : {0U, 1U}) {
                const auto end = [&](size_t i) {
                    return f.instance->id + "." + f.part->terminals[i].name;
                };
                const auto a = end(first);
                const auto b = end(1 - first);
                const bool aIs = nets.wired(a) && nets.of(a) == nets.of(input);
                const bool bIs = nets.wired(b) && nets.isGround(nets.of(b));
                const int wired = aIs + bIs;
                if ((nets.wired(a) && !aIs) || (nets.wired(b) && !bIs) || wired <= most)
                    continue;
                most = wired;
                best = {f.instance->id, a, b};
            }
        }
        return best;
    }

    /// A part of the kind that has no wire and was not used here.
    std::string idle(Kind kind) const
    {
        const kit::Assembly car(m_p.ready, m_catalogue);
        const nets::Nets nets(car);
        for (const auto &f : car.fitted()) {
            const bool wired =
                std::any_of(f.part->terminals.begin(), f.part->terminals.end(), [&](const auto &t) {
                    return nets.wired(f.instance->id + "." + t.name);
                });
            if (f.part->kind == kind && !wired && f.instance->feeds.empty() &&
                m_used.count(f.instance->id) == 0)
                return f.instance->id;
        }
        return {};
    }

    /// False: there is nothing more to bring.
    bool attempt()
    {
        const kit::Assembly car(m_p.ready, m_catalogue);
        const auto plan = planned(car);
        if (!plan.possible()) {
            m_p.impossible = {plan.proof, plan.waysOut};
            moveInstead();
            if (m_p.impossible->frees.empty())
                m_p.impossible->frees.push_back(
                    {say("a board with more pins"), say("another board, and its pins anew")});
            return false;
        }
        const auto all = conductors(car, plan, m_besides);
        auto joined = joining(car, all);
        if (!joined.wantRail.empty())
            return bringRail(joined.wantRail.front());
        m_p.wires = std::move(joined.wires);
        paint(m_p.wires, car);
        m_p.car = wiredWith(m_p.ready, m_catalogue, m_p.wires);
        notePins(plan);
        return bringDividers();
    }

    /// Where a map exists once some wires change their pin, those that are right by themselves
    /// among
    /// them, that is the first way out. A wire that is wrong where it is has to move, too.
    void moveInstead()
    {
        const kit::Assembly car(m_before, m_catalogue);
        const auto free = planned(car, false);
        if (!free.possible() || free.choices.empty())
            return;
        const nets::Nets nets(car);
        std::vector<Say> moves;
        for (const auto &c : free.choices)
            if (c.moved() && nets.wired(c.terminal))
                moves.push_back(say("{} from {} to {}", c.terminal, c.from, c.to));
        if (moves.empty())
            return;
        m_p.impossible->frees.insert(m_p.impossible->frees.begin(),
                                     {say("move {}", joined(moves, ", and ")),
                                      say("{0} {0|wire that is there changes its pin|wires that "
                                          "are there change their pins}",
                                          moves.size())});
    }

    void notePins(const pins::PinPlan &plan)
    {
        std::erase_if(m_p.noted, [&](const Say &s) { return m_pinNotes.count(english(s)) != 0; });
        for (const auto &c : plan.choices)
            if (const auto was = m_before.programPins.find(c.terminal);
                was != m_before.programPins.end() && was->second != c.to && c.moved()) {
                m_p.noted.push_back(
                    say("the program uses {} for {}, no longer {}", c.to, c.terminal, was->second));
                m_pinNotes.insert(english(m_p.noted.back()));
            }
    }

    bool bringRail(const Conductor &wants)
    {
        const bool row =
            wants.kind == Conductor::Kind::Supply || wants.kind == Conductor::Kind::Ground;
        const auto partId = partIdOf(m_catalogue, Kind::Rail, [&](const parts::Part &p) {
            const auto &first = p.terminals.front();
            return row ? first.holes == 0 && first.name.starts_with("PLUS") : first.holes > 0;
        });
        const auto beside = kit::splitTerminal(wants.ends.front().terminal).instance;
        const auto id =
            partId.empty() ? std::string() : bring(m_p.ready, m_catalogue, partId, beside);
        if (id.empty()) {
            m_p.impossible = {say("there are more wires than holes at {}, and the catalogue has no "
                                  "rail for them",
                                  wants.ends.front().terminal),
                              {}};
            return false;
        }
        brought(id, partId, say("more wires than holes want to {}", wants.ends.front().terminal));
        return true;
    }

    /// A sensor's output that is too high for its pin gets a divider.
    bool bringDividers()
    {
        const auto judged = wiring::complained(nets::Nets({m_p.car, m_catalogue}));
        bool more = false;
        for (const auto &f : judged.complaints)
            for (const auto &place : f.places)
                if (f.code == "signal-over-volts")
                    more |= divide(place.name);
        return more;
    }
    bool divide(const std::string &output)
    {
        const kit::Assembly car(m_p.ready, m_catalogue);
        const auto *t = car.terminal(output);
        const auto *f = car.find(kit::splitTerminal(output).instance);
        const bool is = t && isOutput(*t);
        // A wire that is there would have to be opened: it is named as wrong.
        const bool isWired =
            std::any_of(m_before.wires.begin(), m_before.wires.end(),
                        [&](const kit::Wire &w) { return w.from == output || w.to == output; });
        if (!is || f->part->kind == Kind::Divider || isWired || !m_divided.insert(output).second)
            return false;
        auto id = idle(Kind::Divider);
        if (id.empty()) {
            const auto partId =
                partIdOf(m_catalogue, Kind::Divider, [](const auto &) { return true; });
            const auto *board = car.first(Kind::Board);
            id = partId.empty() ? std::string() : bring(m_p.ready, m_catalogue, partId, board->id);
            if (id.empty())
                return false;
            brought(id, partId, say("{} gives more volts than a pin takes", output));
        }
        m_used.insert(id);
        for (auto &i : m_p.ready.parts)
            if (i.id == id)
                i.feeds = {{"IN", output, {}}};
        return true;
    }

    /// What is new beside a wrong wire waits, and what would hang behind it.
    void holdBack()
    {
        const kit::Assembly car(m_p.car, m_catalogue);
        std::set<std::string> touched;
        for (const auto &w : m_p.wrong)
            touched.insert({w.wire.from, w.wire.to});
        const auto hangs = [&](const std::string &end) {
            return touched.count(end) != 0 && !isHub(car, end);
        };
        std::vector<NewWire> now;
        std::vector<int> at(m_p.wires.size(), -1);
        for (size_t i = 0; i < m_p.wires.size(); ++i) {
            auto w = m_p.wires[i];
            const bool behind = w.behind >= 0 && at[static_cast<size_t>(w.behind)] < 0;
            if (hangs(w.wire.from) || hangs(w.wire.to) || behind) {
                m_p.waiting.push_back(w.wire);
                continue;
            }
            at[i] = static_cast<int>(now.size());
            if (w.behind >= 0)
                w.behind = at[static_cast<size_t>(w.behind)];
            now.push_back(std::move(w));
        }
        m_p.wires = std::move(now);
    }
    /// Many wires end there as a matter of course.
    static bool isHub(const kit::Assembly &car, const std::string &terminal)
    {
        const auto *t = car.terminal(terminal);
        const auto *f = car.find(kit::splitTerminal(terminal).instance);
        return f->part->kind == Kind::Rail || t->role == Role::Plus || t->role == Role::Minus ||
               t->role == Role::Ground || t->role == Role::SupplyOut;
    }

    static bool isOutput(const parts::Terminal &t)
    {
        return t.role == Role::Echo || t.role == Role::DigitalOut || t.role == Role::AnalogueOut;
    }
    /// The finding names an end of the wire that gives a signal.
    bool isAt(const Finding &f, const kit::Wire &w) const
    {
        const kit::Assembly car(m_p.car, m_catalogue);
        return std::any_of(f.places.begin(), f.places.end(), [&](const Spot &place) {
            const auto *t = car.terminal(place.name);
            return t && isOutput(*t) && (place.name == w.from || place.name == w.to);
        });
    }
    bool isWrong(const kit::Wire &w) const
    {
        return std::any_of(m_p.wrong.begin(), m_p.wrong.end(),
                           [&](const WrongWire &x) { return x.wire == w; });
    }

    void whatIsLeft()
    {
        if (m_p.car.wires.empty())
            return;
        const kit::Assembly car(m_p.car, m_catalogue);
        auto findings = wiring::check(car).findings;
        for (auto &f : power::check(car, power::report(car)).findings)
            findings.push_back(std::move(f));
        // A sensor that is too high for the pin it is on: its wire has to be opened for a divider.
        for (const auto &f : findings)
            for (const auto &w : m_p.kept)
                if (f.code == "signal-over-volts" && isAt(f, w) && !isWrong(w))
                    m_p.wrong.push_back({w, f.what});
        for (auto &f : findings)
            if (f.severity != Severity::Advice &&
                std::none_of(m_p.left.begin(), m_p.left.end(), [&](const Finding &x) {
                    return x.code == f.code && x.where == f.where;
                }))
                m_p.left.push_back(std::move(f));
    }

    const kit::Car &m_before;
    const parts::Catalogue &m_catalogue;
    Proposal m_p;
    std::vector<Conductor> m_besides;
    std::set<std::string> m_used;     ///< small parts that were there
    std::set<std::string> m_divided;  ///< outputs
    std::set<std::string> m_pinNotes; ///< in words
};

/// A proposal of some of the wires: `chosen` by index.
Proposal some(const Proposal &whole, const parts::Catalogue &catalogue,
              const std::vector<bool> &chosen)
{
    auto p = whole;
    p.wires.clear();
    std::set<std::string> touched;
    std::vector<int> at(whole.wires.size(), -1);
    for (size_t i = 0; i < whole.wires.size(); ++i) {
        if (!chosen[i])
            continue;
        auto w = whole.wires[i];
        at[i] = static_cast<int>(p.wires.size());
        if (w.behind >= 0)
            w.behind = at[static_cast<size_t>(w.behind)];
        for (const auto &end : {w.wire.from, w.wire.to})
            touched.insert(kit::splitTerminal(end).instance);
        p.wires.push_back(std::move(w));
    }
    std::erase_if(p.parts, [&](const Brought &b) {
        if (touched.count(b.id) != 0)
            return false;
        edit::removePart(p.ready, catalogue, b.id);
        return true;
    });
    p.car = wiredWith(p.ready, catalogue, p.wires);
    return p;
}

} // namespace

Proposal proposal(const kit::Car &car, const parts::Catalogue &catalogue)
{
    return Proposer(car, catalogue).make();
}

Proposal moduleOf(const Proposal &whole, const parts::Catalogue &catalogue,
                  const std::string &module)
{
    std::vector<bool> chosen(whole.wires.size(), false);
    for (size_t i = whole.wires.size(); i-- > 0;) {
        const auto &w = whole.wires[i];
        if (!chosen[i] && w.module != module)
            continue;
        chosen[i] = true;
        if (w.behind >= 0)
            chosen[static_cast<size_t>(w.behind)] = true;
    }
    return some(whole, catalogue, chosen);
}

Proposal firstOf(const Proposal &whole, const parts::Catalogue &catalogue, size_t count)
{
    std::vector<bool> chosen(whole.wires.size(), false);
    std::fill_n(chosen.begin(), std::min(count, chosen.size()), true);
    return some(whole, catalogue, chosen);
}

} // namespace badger::wireup
