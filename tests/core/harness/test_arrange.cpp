// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/harness/arrange.h"
#include "support/fixture.h"

#include <numeric>
#include <random>
#include <set>

using namespace badger;
using namespace badger::harness;
using test::Bench;

namespace
{

std::vector<std::string> column(const std::vector<Placed> &parts,
                                std::vector<std::string> Placed::*side)
{
    std::vector<std::string> all;
    for (const auto &p : parts)
        all.insert(all.end(), (p.*side).begin(), (p.*side).end());
    return all;
}

int between(const Arrangement &a, const kit::Car &car)
{
    return crossings(column(a.hub, &Placed::right), column(a.modules, &Placed::left), car.wires);
}

} // namespace

class TestArrange final : public QObject
{
    Q_OBJECT
private slots:
    void countsByHand()
    {
        const std::vector<kit::Wire> wires = {
            {"b.1", "m.1", "", {}}, {"m.2", "b.2", "", {}}, {"b.3", "m.3", "", {}}};
        const std::vector<std::string> board = {"b.1", "b.2", "b.3"};
        QCOMPARE(crossings(board, {"m.1", "m.2", "m.3"}, wires), 0);
        QCOMPARE(crossings(board, {"m.2", "m.1", "m.3"}, wires), 1);
        QCOMPARE(crossings(board, {"m.3", "m.2", "m.1"}, wires), 3);
        QCOMPARE(crossings(board, {}, wires), 0);
    }

    void everyTerminalStandsOnce()
    {
        for (const auto &car : test::demo().cars) {
            const Bench b(car.name);
            const auto a = arrange({b.car, b.catalogue});
            std::multiset<std::string> placed;
            for (const auto *parts : {&a.hub, &a.modules, &a.far})
                for (const auto &p : *parts)
                    for (const auto *side : {&p.left, &p.right})
                        placed.insert(side->begin(), side->end());
            for (const auto &w : b.car.wires)
                for (const auto *end : {&w.from, &w.to})
                    QCOMPARE(placed.count(*end), size_t(1));
            QCOMPARE(placed.size(), std::set<std::string>(placed.begin(), placed.end()).size());
        }
    }

    /// No other order of the modules has fewer crossings: all of them are tried.
    void noOrderIsBetter()
    {
        for (const auto &car : test::demo().cars) {
            const Bench b(car.name);
            auto a = arrange({b.car, b.catalogue});
            const int best = between(a, b.car);
            std::vector<size_t> order(a.modules.size());
            std::iota(order.begin(), order.end(), size_t(0));
            const auto modules = a.modules;
            if (order.size() > 8)
                order.resize(8); // enough orders
            do {
                for (size_t i = 0; i < order.size(); ++i)
                    a.modules[i] = modules[order[i]];
                QVERIFY2(between(a, b.car) >= best, car.name.c_str());
            } while (std::next_permutation(order.begin(), order.end()));
        }
    }

    void noOrderOfTerminalsIsBetter()
    {
        std::mt19937 engine(3);
        for (const auto &car : test::demo().cars) {
            const Bench b(car.name);
            auto a = arrange({b.car, b.catalogue});
            const int best = between(a, b.car);
            for (int i = 0; i < 200; ++i) {
                auto &m = a.modules[engine() % a.modules.size()];
                const auto kept = m.left;
                std::shuffle(m.left.begin(), m.left.end(), engine);
                QVERIFY(between(a, b.car) >= best);
                m.left = kept;
            }
        }
    }

    void theOrderOfThePartsDoesNotMatter()
    {
        Bench b("Redshank");
        const auto before = arrange({b.car, b.catalogue}).crossings;
        std::reverse(b.car.parts.begin(), b.car.parts.end());
        std::reverse(b.car.wires.begin(), b.car.wires.end());
        QCOMPARE(arrange({b.car, b.catalogue}).crossings, before);
    }

    void manyPartsAndNone()
    {
        Bench b;
        for (int i = 0; i < 30; ++i) {
            auto more = *b.car.instance("ranger");
            more.id = "ranger" + std::to_string(i);
            b.car.parts.push_back(more);
            b.car.wires.push_back(
                {more.id + ".ECHO", "board.D" + std::to_string(2 + i % 11), "pink", {}});
        }
        const auto a = arrange({b.car, b.catalogue});
        QCOMPARE(a.modules.size(), size_t(34));
        const auto none = arrange({{}, b.catalogue});
        QVERIFY(none.hub.empty() && none.modules.empty() && none.crossings == 0);
    }

    void withoutABoardTheSensorsFaceTheModules()
    {
        const Bench b("Turnstone");
        const auto a = arrange({b.car, b.catalogue});
        QCOMPARE(a.hub.size(), size_t(2));
        QCOMPARE(a.hub[0].id, std::string("left-eye"));
    }

    void breadboardsShowTheRowsInUse()
    {
        Bench b;
        b.car.parts.push_back(b.car.parts.front());
        b.car.parts.back().id = "rows";
        b.car.parts.back().partId = "breadboard-mini";
        b.car.parts.back().feeds.clear();
        b.car.wires.push_back({"rows.U3", "board.D9", "pink", {}});
        for (const auto &p : arrange({b.car, b.catalogue}).modules)
            if (p.id == "rows")
                QCOMPARE(p.left, std::vector<std::string>{"rows.U3"});
    }
};

BADGER_TEST(TestArrange)
#include "test_arrange.moc"
