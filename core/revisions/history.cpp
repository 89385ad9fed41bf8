// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/revisions/history.h"

#include <algorithm>
#include <fmt/format.h>
#include <set>

namespace badger::revisions
{

Build buildOf(const kit::Car &car)
{
    Build b;
    b.wires = car.wires;
    for (const auto &i : car.parts)
        for (const auto &j : i.jumpers)
            b.jumpers.push_back(i.id + "." + j);
    std::sort(b.jumpers.begin(), b.jumpers.end());
    b.programPins = car.programPins;
    return b;
}

Build buildOf(const kit::WiringRevision &revision)
{
    Build b{revision.wires, revision.jumpers, revision.programPins};
    std::sort(b.jumpers.begin(), b.jumpers.end());
    return b;
}

const kit::WiringRevision *finished(const kit::Car &car, int number)
{
    for (const auto &r : car.history)
        if (r.number == number)
            return &r;
    return nullptr;
}

const kit::WiringRevision *latest(const kit::Car &car)
{
    const auto it =
        std::max_element(car.history.begin(), car.history.end(),
                         [](const auto &a, const auto &b) { return a.number < b.number; });
    return it == car.history.end() ? nullptr : &*it;
}

std::optional<kit::Car> asOf(const kit::Car &car, int number)
{
    if (number == car.wiringRevision)
        return car;
    const auto *r = finished(car, number);
    if (r == nullptr)
        return std::nullopt;
    auto then = car;
    then.wires = r->wires;
    then.programPins = r->programPins;
    for (auto &i : then.parts) {
        i.jumpers.clear();
        for (const auto &j : r->jumpers)
            if (const auto split = kit::splitTerminal(j); split.instance == i.id)
                i.jumpers.push_back(split.terminal);
    }
    return then;
}

bool isOpen(const kit::Car &car)
{
    const auto *last = latest(car);
    return last == nullptr || !between(buildOf(*last), buildOf(car)).empty();
}

void edited(kit::Car &car)
{
    const auto *now = finished(car, car.wiringRevision);
    if (now != nullptr && !between(buildOf(*now), buildOf(car)).empty())
        ++car.wiringRevision;
    else if (const auto *last = latest(car);
             last != nullptr && between(buildOf(*last), buildOf(car)).empty())
        car.wiringRevision = last->number; // everything is back as it was
}

Result<void> finish(kit::Car &car, const std::string &date, const std::string &reason)
{
    const auto where = say("car '{}', wiring", car.name);
    if (reason.find_first_not_of(" \t\n") == std::string::npos)
        return fail(Error::Kind::Missing, where, say("a revision without a reason"),
                    say("say in a few words why the wires were changed"));
    if (!isOpen(car))
        return fail(Error::Kind::Conflict, where,
                    say("nothing has changed since revision {}", latest(car)->number),
                    say("change a wire first"));
    if (const auto *last = latest(car); last != nullptr && last->number >= car.wiringRevision)
        car.wiringRevision = last->number + 1;
    auto b = buildOf(car);
    car.history.push_back({car.wiringRevision,
                           date,
                           reason,
                           std::move(b.wires),
                           std::move(b.jumpers),
                           std::move(b.programPins),
                           {}});
    return {};
}

namespace
{

using Ends = std::pair<std::string, std::string>;

Ends endsOf(const kit::Wire &w)
{
    return std::minmax(w.from, w.to);
}

/// The end that two wires share; empty where they share none.
std::string shared(const kit::Wire &a, const kit::Wire &b)
{
    for (const auto &end : {a.from, a.to})
        if (end == b.from || end == b.to)
            return end;
    return {};
}

const std::string &otherEnd(const kit::Wire &w, const std::string &end)
{
    return w.from == end ? w.to : w.from;
}

/// Pairs wires that go with wires that come: a largest matching, found by augmenting paths.
class Pairing
{
public:
    Pairing(const std::vector<kit::Wire> &gone, const std::vector<kit::Wire> &come,
            const std::string &board)
        : m_gone(gone), m_come(come), m_board(board), m_of(come.size(), nobody)
    {
        // Best first: the same colour, and the end that moves is the board's.
        for (const bool atBoard : {true, false})
            for (const bool sameColour : {true, false})
                for (size_t i = 0; i < gone.size(); ++i)
                    if (!paired(i)) {
                        std::vector<bool> seen(come.size(), false);
                        add(i, sameColour, atBoard, seen);
                    }
    }
    size_t goneOf(size_t come) const { return m_of[come]; }
    static constexpr size_t nobody = static_cast<size_t>(-1);

private:
    bool paired(size_t gone) const
    {
        return std::find(m_of.begin(), m_of.end(), gone) != m_of.end();
    }
    bool add(size_t gone, bool sameColour, bool atBoard, std::vector<bool> &seen)
    {
        for (size_t c = 0; c < m_come.size(); ++c) {
            const auto stays = shared(m_gone[gone], m_come[c]);
            if (seen[c] || stays.empty() ||
                (sameColour && m_gone[gone].colour != m_come[c].colour) ||
                (atBoard && kit::splitTerminal(stays).instance == m_board))
                continue;
            seen[c] = true;
            if (m_of[c] == nobody || add(m_of[c], sameColour, atBoard, seen)) {
                m_of[c] = gone;
                return true;
            }
        }
        return false;
    }

    const std::vector<kit::Wire> &m_gone;
    const std::vector<kit::Wire> &m_come;
    const std::string &m_board;
    std::vector<size_t> m_of; ///< by wire that comes: the one that goes
};

std::vector<std::string> without(const std::vector<std::string> &a,
                                 const std::vector<std::string> &b)
{
    std::vector<std::string> left;
    std::set_difference(a.begin(), a.end(), b.begin(), b.end(), std::back_inserter(left));
    return left;
}

} // namespace

std::string boardOf(const kit::Assembly &car)
{
    const auto *board = car.first(parts::Kind::Board);
    return board ? board->id : std::string{};
}

Changes between(const Build &before, const Build &after, const std::string &board)
{
    Changes c;
    std::map<Ends, const kit::Wire *> had;
    for (const auto &w : before.wires)
        had[endsOf(w)] = &w;
    std::vector<kit::Wire> come;
    std::set<Ends> kept;
    for (const auto &w : after.wires) {
        const auto it = had.find(endsOf(w));
        if (it == had.end()) {
            come.push_back(w);
            continue;
        }
        kept.insert(it->first);
        if (it->second->colour != w.colour)
            c.recoloured.push_back(w);
    }
    std::vector<kit::Wire> gone;
    for (const auto &w : before.wires)
        if (!kept.count(endsOf(w)))
            gone.push_back(w);
    const Pairing pairs(gone, come, board);
    std::set<size_t> used;
    for (size_t i = 0; i < come.size(); ++i) {
        const size_t k = pairs.goneOf(i);
        if (k == Pairing::nobody) {
            c.added.push_back(come[i]);
            continue;
        }
        used.insert(k);
        const auto stays = shared(gone[k], come[i]);
        c.moved.push_back(
            {gone[k], come[i], stays, otherEnd(gone[k], stays), otherEnd(come[i], stays)});
    }
    for (size_t i = 0; i < gone.size(); ++i)
        if (!used.count(i))
            c.removed.push_back(gone[i]);
    c.jumpersOff = without(before.jumpers, after.jumpers);
    c.jumpersOn = without(after.jumpers, before.jumpers);
    return c;
}

} // namespace badger::revisions
