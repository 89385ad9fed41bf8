// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/wireup/wrong.h"

#include "core/nets/drive_map.h"

#include <algorithm>
#include <map>
#include <optional>
#include <tuple>

namespace badger::wireup
{

using parts::Kind;
using parts::Role;

namespace
{

/// To what a terminal belongs; none: to whatever is wired to it.
struct Label {
    std::string key;
    Say what; ///< "the ground"
    Conductor::Kind kind = Conductor::Kind::Signal;
    double volts_V = 0.0; ///< of a supply that a part regulates; else more than any pin takes
};

class Labels
{
public:
    explicit Labels(const kit::Assembly &car) : m_car(car), m_nets(car)
    {
        const auto all = conductors(car, {});
        for (const auto &c : all)
            for (const auto &e : c.ends)
                m_of[e.terminal] = labelOf(c);
        // What gives and feeds nothing yet is a supply of its own, an idle output its own
        // conductor.
        for (const auto &f : car.fitted())
            for (const auto &t : f.part->terminals) {
                const auto name = f.instance->id + "." + t.name;
                const auto kind =
                    t.role == Role::MotorOut ? Conductor::Kind::Motor : Conductor::Kind::Supply;
                if (t.role == Role::Plus || t.role == Role::SupplyOut || t.role == Role::MotorOut)
                    m_of.emplace(name, labelOf({kind, {{name, {}, {}, false}}, {}}));
            }
        for (const auto &name : nets::signalTerminals(car)) {
            if (mayBeTied(name))
                continue;
            const auto split = kit::splitTerminal(name);
            const auto *t = car.terminal(name);
            const bool ranger = t->role == Role::Trigger || t->role == Role::Echo;
            m_of[name] = {ranger ? split.instance : name, name, Conductor::Kind::Signal, 0.0};
        }
        const auto ground = std::find_if(all.begin(), all.end(), [](const Conductor &c) {
            return c.kind == Conductor::Kind::Ground;
        });
        for (const auto &f : car.fitted()) {
            // Any ground of a part is ground, and so is the minus row of a rail; what follows a
            // signal through a divider is that signal.
            const bool lamp = f.part->kind == Kind::Led || f.part->kind == Kind::Buzzer;
            for (const auto &t : f.part->terminals)
                if (ground != all.end() &&
                    (isRow(f.part->kind, t, "MINUS") || (t.role == Role::Ground && !lamp)))
                    m_of[f.instance->id + "." + t.name] = labelOf(*ground);
            if (f.part->kind == Kind::Divider)
                for (const auto &feed : f.instance->feeds)
                    if (const auto it = m_of.find(feed.from); it != m_of.end())
                        m_of[f.instance->id + "." + feed.to] = it->second;
        }
    }

    static bool isRow(Kind kind, const parts::Terminal &t, std::string_view name)
    {
        return kind == Kind::Rail && t.name.starts_with(name);
    }
    /// The plus row of a rail, which takes a supply and nothing else.
    bool isPlusRow(const std::string &terminal) const
    {
        const auto *f = m_car.find(kit::splitTerminal(terminal).instance);
        return f && isRow(f->part->kind, *m_car.terminal(terminal), "PLUS");
    }

    const Label *find(const std::string &terminal) const
    {
        const auto it = m_of.find(terminal);
        return it == m_of.end() ? nullptr : &it->second;
    }

    /// A pin that a signal is wired to serves signals.
    void nameServingPins()
    {
        std::map<std::string, Label> serving;
        for (const auto &w : m_car->wires)
            for (const auto &[pin, other] : {std::pair(w.from, w.to), std::pair(w.to, w.from)})
                if (const auto *label = find(other);
                    isPin(pin) && label && label->kind == Conductor::Kind::Signal)
                    serving[pin] = {pin, pin, Conductor::Kind::Signal, 0.0};
        m_of.merge(serving);
    }

    /// What is wired to a terminal without a label says what it belongs to: what most of its wires
    /// lead to. A rail's plus row takes supplies alone.
    void spread()
    {
        for (size_t round = 0; round < m_car->wires.size(); ++round) {
            std::map<std::string, std::map<std::string, int>> votes;
            std::map<std::string, Label> known;
            const auto vote = [&](const std::string &from, const std::string &to) {
                const auto *label = find(from);
                if (label == nullptr || find(to) != nullptr || isPinWire(from, to))
                    return;
                if (isPlusRow(to) && label->kind != Conductor::Kind::Supply)
                    return;
                ++votes[to][label->key];
                known[label->key] = *label;
            };
            for (const auto &w : m_car->wires) {
                vote(w.from, w.to);
                vote(w.to, w.from);
            }
            if (votes.empty())
                return;
            for (const auto &[terminal, by] : votes)
                m_of[terminal] =
                    known.at(std::max_element(by.begin(), by.end(), [](auto &a, auto &b) {
                                 return a.second < b.second;
                             })->first);
        }
    }

    bool isPin(const std::string &terminal) const
    {
        const auto *t = m_car.terminal(terminal);
        return t != nullptr && t->role == Role::Pin;
    }
    /// Two pins of one board.
    bool isPinWire(const std::string &a, const std::string &b) const
    {
        return isPin(a) && isPin(b) &&
               kit::splitTerminal(a).instance == kit::splitTerminal(b).instance;
    }

private:
    Label labelOf(const Conductor &c) const
    {
        const auto &giver = c.ends.front().terminal;
        switch (c.kind) {
        case Conductor::Kind::Ground:
            return {giver, say("the ground"), c.kind, 0.0};
        case Conductor::Kind::Supply: {
            const auto *t = m_car.terminal(giver);
            const auto *f = m_car->instance(kit::splitTerminal(giver).instance);
            constexpr double any_V = 1e9; // behind a fuse or a switch nobody knows yet
            const auto source = t && t->role == Role::Plus
                                    ? kit::sourceVolts_V(*f, m_car.catalogue(), kit::Charge::Fresh)
                                    : std::nullopt;
            return {giver, say("what {} feeds", giver), c.kind,
                    t && t->role == Role::SupplyOut ? t->source_V : source.value_or(any_V)};
        }
        default:
            return {giver, giver, c.kind, 0.0};
        }
    }

    /// An enable on a supply, a light or a buzzer on a supply or on ground, which no program asks
    /// for and no pin drives.
    bool mayBeTied(const std::string &name) const
    {
        const auto &m = *m_nets.member(name);
        const bool lamp = m.part->kind == Kind::Led || m.part->kind == Kind::Buzzer;
        constexpr double logic_V = 5.6; // more no enable takes: a choice of ours
        const auto &all = m_nets.members(m.net);
        const bool onSupply = std::any_of(all.begin(), all.end(), [&](const std::string &other) {
            const auto *label = find(other);
            return label && label->kind == Conductor::Kind::Supply && label->volts_V <= logic_V;
        });
        const bool tied = (m.terminal->role == Role::Enable && onSupply) ||
                          (lamp && (onSupply || m_nets.isGround(m.net)));
        return m_car.first(Kind::Board) == nullptr ||
               (tied && m_car->programPins.count(name) == 0 && !m_nets.has(m.net, Role::Pin));
    }

    const kit::Assembly &m_car;
    const nets::Nets m_nets;
    std::map<std::string, Label> m_of;
};

double pinTakes_V(const kit::Assembly &car)
{
    const auto *board = car.first(Kind::Board);
    const auto *high = board ? car.part(*board)->figure("pin_high_V") : nullptr;
    return high ? high->high : 0.0;
}

std::optional<Say> whyWrong(const kit::Assembly &car, const Labels &labels, const kit::Wire &w)
{
    if (labels.isPinWire(w.from, w.to))
        return say("{} and {} are two pins of one board.", w.from, w.to);
    const auto *a = labels.find(w.from);
    const auto *b = labels.find(w.to);
    for (const auto &[row, label, other] :
         {std::tuple(w.from, b, w.to), std::tuple(w.to, a, w.from)})
        if (labels.isPlusRow(row) && label && label->kind != Conductor::Kind::Supply)
            return say("{} is no supply, and {} is the plus row.", other, row);
    if (a == nullptr || b == nullptr)
        return std::nullopt;
    for (const auto &[pin, label] : {std::pair(w.from, b), std::pair(w.to, a)})
        if (labels.isPin(pin) &&
            (label->kind == Conductor::Kind::Motor ||
             (label->kind == Conductor::Kind::Supply && label->volts_V > pinTakes_V(car))))
            return say("{} is joined to {}, which no pin survives.", pin, label->what);
    for (const auto &[pin, label] : {std::pair(w.from, b), std::pair(w.to, a)})
        if (labels.isPin(pin) && label->kind != Conductor::Kind::Signal)
            return say("{} is joined to {}, and nothing reads it there.", pin, label->what);
    const bool serves = (labels.isPin(w.from) && b->kind == Conductor::Kind::Signal) ||
                        (labels.isPin(w.to) && a->kind == Conductor::Kind::Signal);
    if (a->key == b->key || serves)
        return std::nullopt;
    // The one that takes is said to be joined to the one that gives.
    const bool fromGives = a->key == w.from || a->kind == Conductor::Kind::Ground;
    return fromGives ? say("{} is joined to {}.", w.to, a->what)
                     : say("{} is joined to {}.", w.from, b->what);
}

/// Signals on pins that cannot serve them, or that serve another already, and a signal's second
/// pin.
void addWrongPins(const kit::Assembly &car, std::vector<WrongWire> &all)
{
    const nets::Nets nets(car);
    const auto problem = pins::pinProblem(nets);
    if (problem.board == nullptr)
        return;
    std::map<std::string, std::string> serves;
    for (const auto &need : problem.needs) {
        const auto add = [&](const std::string &pin, const Say &what) {
            const auto end = problem.boardId + "." + pin;
            for (const auto &w : car->wires)
                if ((w.from == need.terminal && w.to == end) ||
                    (w.to == need.terminal && w.from == end))
                    all.push_back({w, what});
        };
        if (need.on.empty())
            continue;
        auto on = nets::programPins(nets, need.terminal);
        const auto known = car->programPins.find(need.terminal);
        // Of two pins the program's stays, else the first that can serve.
        const auto rank = [&](const std::string &pin) {
            const bool isKnown = known != car->programPins.end() && known->second == pin;
            return isKnown                                                         ? 0
                   : !pins::canServe(problem, need, *problem.board->terminal(pin)) ? 2
                                                                                   : 1;
        };
        std::stable_sort(on.begin(), on.end(),
                         [&](const auto &a, const auto &b) { return rank(a) < rank(b); });
        for (size_t i = 1; i < on.size(); ++i)
            add(on[i], say("{} is joined to two pins.", need.terminal));
        if (!pins::canServe(problem, need, *problem.board->terminal(on.front())))
            add(on.front(), say("{} cannot serve {}.", on.front(), need.terminal));
        else if (const auto [it, isFirst] = serves.emplace(on.front(), need.terminal); !isFirst)
            add(on.front(), say("{} serves {} and {}.", on.front(), it->second, need.terminal));
    }
    // An input that a sensor at the same pin drives is no function of the board's any more.
    for (const auto &w : car->wires)
        for (const auto &[input, end] : {std::pair(w.from, w.to), std::pair(w.to, w.from)}) {
            const auto *t = car.terminal(input);
            const auto pin = kit::splitTerminal(end);
            const bool drives = t && (t->role == Role::Direction || t->role == Role::Enable);
            if (const auto it = serves.find(pin.terminal);
                drives && pin.instance == problem.boardId && it != serves.end() &&
                std::none_of(problem.needs.begin(), problem.needs.end(),
                             [&](const auto &n) { return n.terminal == input; }))
                all.push_back({w, say("{} serves {} and {}.", it->first, it->second, input)});
        }
}

} // namespace

std::vector<WrongWire> wrongWires(const kit::Assembly &car)
{
    std::vector<WrongWire> all;
    if (car->wires.empty())
        return all;
    Labels labels(car);
    labels.nameServingPins();
    labels.spread();
    auto without = car.car();
    without.wires.clear();
    for (const auto &w : car->wires)
        if (auto why = whyWrong(car, labels, w))
            all.push_back({w, std::move(*why)});
        else
            without.wires.push_back(w);
    addWrongPins({without, car.catalogue()}, all);
    return all;
}

} // namespace badger::wireup
