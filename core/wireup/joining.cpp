// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/wireup/joining.h"

#include <algorithm>
#include <map>
#include <memory>
#include <optional>
#include <set>
#include <tuple>

namespace badger::wireup
{

using parts::Kind;
using parts::Role;

int holesOf(const parts::Part &part, const parts::Terminal &terminal)
{
    constexpr int ofRow = 10;
    if (terminal.holes > 0)
        return terminal.holes;
    if (part.shape == "chip" && terminal.role == Role::Ground)
        return 1;
    switch (part.kind) {
    case Kind::Rail:
        return ofRow;
    case Kind::Driver:
    case Kind::Cell:
    case Kind::Supply:
    case Kind::Link:
        return 2;
    default:
        return 1;
    }
}

namespace
{

/// Terminals by the wires that are there: which are one piece of copper.
class Copper
{
public:
    explicit Copper(const kit::Assembly &car)
    {
        for (const auto &f : car.fitted()) {
            std::optional<size_t> ground;
            for (const auto &t : f.part->terminals) {
                const auto at = m_terminals.size();
                m_index.emplace(f.instance->id + "." + t.name, at);
                m_terminals.push_back({f.instance->id + "." + t.name, f.part->kind,
                                       holesOf(*f.part, t), false,
                                       t.role == Role::Ground && f.part->shape == "chip"});
                m_root.push_back(at);
                if (t.role != Role::Ground)
                    continue; // the grounds of a part are one
                if (ground)
                    m_root[at] = *ground;
                else
                    ground = at;
            }
        }
        for (const auto &w : car->wires) {
            const auto a = m_index.find(w.from);
            const auto b = m_index.find(w.to);
            if (a == m_index.end() || b == m_index.end())
                continue;
            for (const size_t end : {a->second, b->second}) {
                --m_terminals[end].free;
                m_terminals[end].wired = true;
            }
            m_root[find(b->second)] = find(a->second);
        }
    }

    struct Terminal {
        std::string name;
        Kind kind;
        int free;
        bool wired = false;
        bool ofChip = false; ///< a ground that is also a way out for heat: it wants a wire
    };
    const std::vector<Terminal> &terminals() const { return m_terminals; }
    /// Empty where the car has no such terminal.
    std::optional<size_t> pieceOf(const std::string &terminal) const
    {
        const auto it = m_index.find(terminal);
        return it == m_index.end() ? std::nullopt : std::optional(find(it->second));
    }
    std::vector<Terminal> holes(size_t piece) const
    {
        std::vector<Terminal> all;
        for (size_t i = 0; i < m_terminals.size(); ++i)
            if (find(i) == piece)
                all.push_back(m_terminals[i]);
        return all;
    }

private:
    size_t find(size_t i) const
    {
        while (m_root[i] != i)
            i = m_root[i];
        return i;
    }

    std::map<std::string, size_t> m_index;
    std::vector<Terminal> m_terminals;
    std::vector<size_t> m_root;
};

/// One piece of a conductor that is to become one.
struct Piece {
    std::vector<Copper::Terminal> holes;
    const End *end = nullptr; ///< the first that hangs there
    bool strong = false;
    int wire = -1; ///< by which it hangs

    bool isRail() const { return holes.front().kind == Kind::Rail; }
    /// A chip's grounds that have no wire yet.
    int wanting() const
    {
        return static_cast<int>(std::count_if(
            holes.begin(), holes.end(), [](const auto &h) { return h.ofChip && h.free > 0; }));
    }
    int free() const
    {
        int all = 0;
        for (const auto &h : holes)
            all += std::max(0, h.free);
        return all;
    }
    /// Its own end where that has a hole, else the first with one; its end all the same where none
    /// has: `crowded` then takes its name.
    std::string take(std::vector<std::string> &crowded)
    {
        const auto named = std::find_if(holes.begin(), holes.end(),
                                        [&](const auto &h) { return h.name == end->terminal; });
        const auto any =
            std::find_if(holes.begin(), holes.end(), [](const auto &h) { return h.free > 0; });
        auto &hole = named->free > 0 || any == holes.end() ? *named : *any;
        if (hole.free <= 0)
            crowded.push_back(hole.name);
        --hole.free;
        return hole.name;
    }
};

class Joiner
{
public:
    Joiner(const kit::Assembly &car, const std::vector<Conductor> &conductors)
        : m_conductors(conductors), m_copper(car)
    {
        for (const auto &i : car->parts)
            if (!i.feeds.empty())
                m_feeder[i.id] = kit::splitTerminal(i.feeds.back().from).instance;
        settle();
    }

    Joining join()
    {
        for (size_t i = 0; i < m_conductors.size(); ++i)
            one(i);
        return std::move(m_joining);
    }

private:
    /// A piece that ends of several conductors hang on belongs to the one that gives there, else to
    /// the one with the most ends there.
    void settle()
    {
        std::map<size_t, std::map<size_t, int>> weight; // of a piece by conductor
        constexpr int giver = 1000;
        for (size_t i = 0; i < m_conductors.size(); ++i)
            for (const auto &e : m_conductors[i].ends)
                if (const auto piece = m_copper.pieceOf(e.terminal))
                    weight[*piece][i] += &e == &m_conductors[i].ends.front() ? giver : 1;
        for (const auto &[piece, by] : weight)
            m_home[piece] =
                std::max_element(by.begin(), by.end(), [](const auto &a, const auto &b) {
                    return a.second < b.second;
                })->first;
    }

    std::vector<Piece> piecesOf(size_t conductor)
    {
        std::vector<Piece> pieces;
        std::map<size_t, size_t> at;
        for (const auto &e : m_conductors[conductor].ends) {
            const auto copper = m_copper.pieceOf(e.terminal);
            if (!copper)
                continue;
            if (m_home.at(*copper) != conductor) {
                m_joining.elsewhere.push_back(e.terminal);
                continue;
            }
            const auto [it, isNew] = at.emplace(*copper, pieces.size());
            if (isNew)
                pieces.push_back({m_copper.holes(*copper), &e, e.strong, -1});
            pieces[it->second].strong |= e.strong;
        }
        return pieces;
    }

    /// Are there fewer holes than a tree of these pieces has ends, and the wires more that a chip's
    /// grounds want? One that is full takes one wire more than it should.
    static bool isShort(const std::vector<Piece> &pieces)
    {
        const auto tree = static_cast<int>(pieces.size()) - 1;
        int free = 0;
        int more = 0;
        for (const auto &p : pieces) {
            free += std::max(1, p.free());
            more += std::max(0, p.wanting() - tree);
        }
        return free < 2 * (tree + more);
    }

    void one(size_t conductor)
    {
        const auto &c = m_conductors[conductor];
        auto pieces = piecesOf(conductor);
        while (isShort(pieces)) {
            const auto *rail = takeRail(c.kind);
            if (rail == nullptr) {
                m_joining.wantRail.push_back(c);
                return;
            }
            pieces.push_back({m_copper.holes(*m_copper.pieceOf(rail->terminal)), rail, false, -1});
        }
        if (pieces.size() < 2)
            return;
        // Rails first, for others hang on them; what carries the motors' current as near to the
        // source as it can; then what has holes for others.
        std::stable_sort(pieces.begin() + 1, pieces.end(), [](const Piece &a, const Piece &b) {
            return std::tuple(!a.isRail(), !a.strong, -a.free()) <
                   std::tuple(!b.isRail(), !b.strong, -b.free());
        });
        const bool overRail = pieces[1].isRail();
        for (size_t i = 1; i < pieces.size(); ++i) {
            leaveHole(pieces, i);
            // What is not strong leaves the source's other holes alone where there is a rail.
            const size_t first = overRail && i > 1 && !pieces[i].strong ? 1 : 0;
            hang(c, pieces[i], pieces[nearest(pieces, i, first)]);
        }
        for (auto &chip : pieces)
            while (chip.wanting() > 0)
                cool(c, pieces, chip);
    }

    /// One more wire for a ground of a chip that has none.
    void cool(const Conductor &c, std::vector<Piece> &pieces, Piece &chip)
    {
        const auto other =
            std::max_element(pieces.begin(), pieces.end(), [&](const Piece &a, const Piece &b) {
                return std::pair(&a != &chip, a.free()) < std::pair(&b != &chip, b.free());
            });
        const auto from = other->take(m_joining.crowded);
        const auto hole = std::find_if(chip.holes.begin(), chip.holes.end(),
                                       [](const auto &h) { return h.ofChip && h.free > 0; });
        --hole->free;
        m_joining.wires.push_back({{from, hole->name, {}, {}},
                                   c.kind,
                                   c.line,
                                   kit::splitTerminal(hole->name).instance,
                                   say("the chip sheds its heat through every ground"),
                                   other->wire});
    }

    /// Where the piece at `next` would take the last free hole of what hangs already, and others
    /// come after it, the first of those that leaves one goes before it.
    static void leaveHole(std::vector<Piece> &pieces, size_t next)
    {
        int free = 0;
        for (size_t k = 0; k < next; ++k)
            free += pieces[k].free();
        const auto at = pieces.begin() + static_cast<std::ptrdiff_t>(next);
        const auto leaves = std::find_if(
            at, pieces.end(), [&](const Piece &p) { return free - 2 + std::max(1, p.free()) > 0; });
        if (std::next(at) != pieces.end() && leaves != pieces.end())
            std::rotate(at, leaves, std::next(leaves));
    }

    /// Among the pieces before this one, from `first` on, one with a free hole: a chip whose
    /// grounds want wires, what is on its own part, on the part that feeds it, else the first.
    /// `first` where none has a hole.
    size_t nearest(const std::vector<Piece> &pieces, size_t piece, size_t first) const
    {
        const auto own = kit::splitTerminal(pieces[piece].end->terminal).instance;
        const auto feeder = m_feeder.find(own);
        size_t best = first;
        int least = 3;
        for (size_t k = first; k < piece; ++k) {
            const auto on = kit::splitTerminal(pieces[k].end->terminal).instance;
            const int far = pieces[k].free() <= 0                              ? 3
                            : pieces[k].wanting() > 0                          ? -1
                            : on == own                                        ? 0
                            : feeder != m_feeder.end() && on == feeder->second ? 1
                                                                               : 2;
            if (far < least) {
                least = far;
                best = k;
            }
        }
        return best;
    }

    void hang(const Conductor &c, Piece &piece, Piece &on)
    {
        const auto from = on.take(m_joining.crowded);
        const auto to = piece.take(m_joining.crowded);
        piece.wire = static_cast<int>(m_joining.wires.size());
        const bool isSignal = c.kind == Conductor::Kind::Signal; // it is led to its pin
        m_joining.wires.push_back({{isSignal ? to : from, isSignal ? from : to, {}, {}},
                                   c.kind,
                                   c.line,
                                   piece.end->module,
                                   piece.end->why,
                                   on.wire});
    }

    /// A row or a column of a rail that nothing hangs on yet; null where there is none.
    const End *takeRail(Conductor::Kind kind)
    {
        for (const auto &t : m_copper.terminals()) {
            const bool plus = t.name.find(".PLUS") != std::string::npos;
            const bool minus = t.name.find(".MINUS") != std::string::npos;
            const bool fits = kind == Conductor::Kind::Ground   ? minus
                              : kind == Conductor::Kind::Supply ? plus
                                                                : !plus && !minus;
            if (t.kind != Kind::Rail || !fits || t.wired ||
                m_home.count(*m_copper.pieceOf(t.name)) != 0 || !m_rails.insert(t.name).second)
                continue;
            const auto module = kit::splitTerminal(t.name).instance;
            m_ends.push_back(std::make_unique<End>(
                End{t.name, module, say("there are more wires than holes"), false}));
            return m_ends.back().get();
        }
        return nullptr;
    }

    const std::vector<Conductor> &m_conductors;
    Copper m_copper;
    std::map<std::string, std::string> m_feeder; ///< of an instance
    std::map<size_t, size_t> m_home;             ///< conductor of a piece
    std::set<std::string> m_rails;               ///< taken here
    std::vector<std::unique_ptr<End>> m_ends;
    Joining m_joining;
};

} // namespace

Joining joining(const kit::Assembly &car, const std::vector<Conductor> &conductors)
{
    return Joiner(car, conductors).join();
}

} // namespace badger::wireup
