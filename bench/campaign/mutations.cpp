// SPDX-License-Identifier: GPL-3.0-or-later
#include "bench/campaign/mutations.h"

#include "core/nets/nets.h"

#include <utility>

namespace badger::campaign
{

using parts::Kind;
using parts::Role;

namespace
{

class Mutator
{
public:
    Mutator(const kit::Assembly &car, const std::function<void(const Mutation &)> &visit)
        : m_car(car), m_nets(car), m_visit(visit)
    {
        for (const auto &m : m_nets.all())
            m_terminals.push_back(m.name);
    }

    void all()
    {
        removed();
        moved();
        exchanged();
        added();
        turned();
        joined("cell-nimh", 4);
        joinedBoard();
    }

private:
    template <class Change>
    void mutate(const std::string &kind, const std::string &words, std::set<std::string> touched,
                Change change)
    {
        Mutation m{kind, words, m_car.car(), std::move(touched)};
        change(m.car);
        m_visit(m);
    }

    void removed()
    {
        for (size_t i = 0; i < m_car->wires.size(); ++i) {
            const auto &w = m_car->wires[i];
            mutate("wire removed", w.from + " to " + w.to, {w.from, w.to}, [&](kit::Car &car) {
                car.wires.erase(car.wires.begin() + static_cast<std::ptrdiff_t>(i));
            });
        }
    }

    void moved()
    {
        for (size_t i = 0; i < m_car->wires.size(); ++i)
            for (const auto end : {&kit::Wire::from, &kit::Wire::to})
                for (const auto &t : m_terminals) {
                    const auto &w = m_car->wires[i];
                    if (t == w.from || t == w.to)
                        continue;
                    mutate("end moved", w.*end + " of " + w.from + "–" + w.to + " to " + t,
                           {w.from, w.to, t}, [&](kit::Car &car) { car.wires[i].*end = t; });
                }
    }

    /// Two wires of one part have their other ends exchanged.
    void exchanged()
    {
        const auto instance = [](const std::string &end) {
            return kit::splitTerminal(end).instance;
        };
        for (size_t i = 0; i < m_car->wires.size(); ++i)
            for (size_t k = i + 1; k < m_car->wires.size(); ++k)
                for (const auto a : {&kit::Wire::from, &kit::Wire::to})
                    for (const auto b : {&kit::Wire::from, &kit::Wire::to}) {
                        const auto &x = m_car->wires[i];
                        const auto &y = m_car->wires[k];
                        if (instance(x.*a) != instance(y.*b))
                            continue;
                        mutate("ends exchanged", x.*a + " and " + y.*b,
                               {x.from, x.to, y.from, y.to},
                               [&](kit::Car &car) { std::swap(car.wires[i].*a, car.wires[k].*b); });
                    }
    }

    void added()
    {
        for (size_t i = 0; i < m_terminals.size(); ++i)
            for (size_t k = i + 1; k < m_terminals.size(); ++k)
                mutate("wire added", m_terminals[i] + " to " + m_terminals[k],
                       {m_terminals[i], m_terminals[k]}, [&](kit::Car &car) {
                           car.wires.push_back({m_terminals[i], m_terminals[k], "green", {}});
                       });
    }

    /// A part with two leads, or the supply and ground of a plug, the other way round.
    void turned()
    {
        for (const auto &f : m_car.fitted()) {
            std::vector<std::string> ends;
            for (const auto &t : f.part->terminals) {
                const bool lead = f.part->terminals.size() == 2;
                const bool plug = f.part->kind != Kind::Board && f.part->kind != Kind::Driver &&
                                  (t.role == Role::SupplyIn || t.role == Role::Ground);
                if ((lead || plug) && f.part->kind != Kind::Rail)
                    ends.push_back(f.instance->id + "." + t.name);
            }
            if (ends.size() != 2)
                continue;
            mutate("turned round", f.instance->id, {ends[0], ends[1]}, [&](kit::Car &car) {
                for (auto &w : car.wires)
                    for (auto *end : {&w.from, &w.to})
                        if (*end == ends[0])
                            *end = ends[1];
                        else if (*end == ends[1])
                            *end = ends[0];
            });
        }
    }

    /// One terminal of each net that carries a supply or ground.
    std::vector<std::string> supplyTerminals() const
    {
        std::vector<std::string> all;
        std::set<int> seen;
        for (const auto &m : m_nets.all())
            if (m.wires > 0 && (m_nets.isSupply(m.net) || m_nets.isGround(m.net)) &&
                seen.insert(m.net).second)
                all.push_back(m.name);
        return all;
    }

    void joined(const std::string &partId, int cells)
    {
        const auto ends = supplyTerminals();
        for (const auto &plus : ends)
            for (const auto &minus : ends) {
                if (plus == minus)
                    continue;
                mutate("second pack", plus + " and " + minus,
                       {plus, minus, "second.PLUS", "second.MINUS"}, [&](kit::Car &car) {
                           kit::Instance pack;
                           pack.id = "second";
                           pack.partId = partId;
                           pack.cellsInSeries = cells;
                           pack.cellsInParallel = 1;
                           car.parts.push_back(pack);
                           car.wires.push_back({"second.PLUS", plus, "red", {}});
                           car.wires.push_back({"second.MINUS", minus, "black", {}});
                       });
            }
    }

    void joinedBoard()
    {
        const auto ends = supplyTerminals();
        for (const auto *input : {"VIN", "5V"})
            for (const auto &plus : ends)
                for (const auto &minus : ends) {
                    if (plus == minus)
                        continue;
                    mutate(
                        "second board", std::string(input) + " " + plus + " and " + minus,
                        {plus, minus, std::string("second.") + input, "second.GND1"},
                        [&](kit::Car &car) {
                            kit::Instance board;
                            board.id = "second";
                            board.partId = "board-5v-8bit";
                            car.parts.push_back(board);
                            car.wires.push_back({std::string("second.") + input, plus, "red", {}});
                            car.wires.push_back({"second.GND1", minus, "black", {}});
                        });
                }
    }

    const kit::Assembly &m_car;
    nets::Nets m_nets;
    const std::function<void(const Mutation &)> &m_visit;
    std::vector<std::string> m_terminals;
};

} // namespace

void eachMutation(const kit::Assembly &car, const std::function<void(const Mutation &)> &visit)
{
    Mutator(car, visit).all();
}

} // namespace badger::campaign
