// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/nets/nets.h"
#include "support/fixture.h"

#include <random>

using namespace badger;
using kit::Charge;
using nets::Nets;
using test::Bench;

class TestNets final : public QObject
{
    Q_OBJECT
private slots:
    void wiresJoin()
    {
        Bench b;
        const Nets nets({b.car, b.catalogue});
        QCOMPARE(nets.of("ranger.TRIG"), nets.of("board.D8"));
        QVERIFY(nets.of("ranger.TRIG") != nets.of("ranger.ECHO"));
        QCOMPARE(nets.of("board.D99"), -1);
        QVERIFY(nets.members(-1).empty());
        QVERIFY(nets.wired("board.D8"));
        QVERIFY(!nets.wired("board.D9"));
    }

    void aSwitchJoinsItsEnds()
    {
        Bench b;
        const Nets nets({b.car, b.catalogue});
        QCOMPARE(nets.of("pack.PLUS"), nets.of("driver.VS"));
        QCOMPARE(nets.of("pack.PLUS"), nets.of("board.VIN"));
    }

    void groundsOfOnePartAreOnePiece()
    {
        Bench b;
        const Nets nets({b.car, b.catalogue});
        QCOMPARE(nets.of("board.GND1"), nets.of("board.GND3"));
        QCOMPARE(nets.of("ranger.GND"), nets.of("pack.MINUS"));
    }

    void railsDoNotJoinEachOther()
    {
        Bench b;
        kit::Instance rail;
        rail.id = "rail";
        rail.partId = "rail-pair";
        b.car.parts.push_back(rail);
        const Nets nets({b.car, b.catalogue});
        QVERIFY(nets.of("rail.PLUS") != nets.of("rail.MINUS"));
    }

    void sourcesByCharge()
    {
        Bench b;
        const Nets nets({b.car, b.catalogue});
        const auto vin = nets.of("board.VIN");
        QCOMPARE(nets.sources(vin, Charge::Fresh).size(), size_t(1));
        COMPARE_NEAR(nets.sources(vin, Charge::Fresh).front().volts_V, 8.4, 1e-9);
        // The board's own 5 V output needs 6.5 V at its jack: alive at 7.2 V, dead at 6.0 V.
        const auto five = nets.of("ranger.VCC");
        COMPARE_NEAR(nets.sources(five, Charge::Nominal).front().volts_V, 5.0, 0.0);
        QVERIFY(nets.sources(five, Charge::NearEmpty).empty());
    }

    void aRingOfOutputsFeedsNobody()
    {
        // The driver's 5 V into the board's jack, the board's 5 V into the driver's supply, no
        // pack.
        Bench b;
        b.car.wires = {{"driver.5V", "board.VIN", "red"}, {"board.5V", "driver.VS", "red"}};
        const Nets nets({b.car, b.catalogue});
        QVERIFY(nets.sources(nets.of("board.VIN"), Charge::Fresh).empty());
        QVERIFY(nets.sources(nets.of("driver.VS"), Charge::Fresh).empty());
    }

    void wiresToNowhereAreLeftOut()
    {
        Bench b;
        b.car.wires.push_back({"board.D9", "moon.BASE", "pink"});
        const Nets nets({b.car, b.catalogue});
        QVERIFY(!nets.wired("board.D9"));
    }

    void orderOfWiresDoesNotMatter()
    {
        const unsigned seed = 3;
        qInfo("seed %u", seed);
        std::mt19937 engine(seed);
        Bench b;
        const Nets reference({b.car, b.catalogue});
        std::vector<std::string> names;
        for (const auto &i : b.car.parts)
            for (const auto &t : b.catalogue.find(i.partId)->terminals)
                names.push_back(i.id + "." + t.name);
        for (int round = 0; round < 40; ++round) {
            std::shuffle(b.car.wires.begin(), b.car.wires.end(), engine);
            for (auto &w : b.car.wires)
                if (engine() % 2)
                    std::swap(w.from, w.to);
            const Nets nets({b.car, b.catalogue});
            for (const auto &a : names)
                for (const auto &c : names)
                    QCOMPARE(nets.of(a) == nets.of(c), reference.of(a) == reference.of(c));
        }
    }

    /// Outputs hang on each other up to four deep; a ring of them that no pack feeds is dead.
    void chainsAndRingsOfSupplies()
    {
        Bench b;
        const auto fit = [&](int count) {
            b.car.wires.clear();
            std::erase_if(b.car.parts,
                          [](const kit::Instance &i) { return i.id.starts_with("reg"); });
            for (int i = 0; i < count; ++i) {
                kit::Instance fitted;
                fitted.id = "reg" + std::to_string(i);
                fitted.partId = "regulator-3v3";
                b.car.parts.push_back(fitted);
                if (i > 0)
                    b.car.wires.push_back(
                        {"reg" + std::to_string(i - 1) + ".OUT", fitted.id + ".IN", "red", {}});
            }
        };
        fit(1);
        const auto needs_V = b.catalogue.find("regulator-3v3")->terminal("OUT")->needs_V;
        QVERIFY(needs_V > 3.3); // so a chain of them cannot feed itself: lower it
        auto own = *b.catalogue.find("regulator-3v3");
        for (auto &t : own.terminals)
            t.needs_V = std::min(t.needs_V, 3.0);
        b.workshop.parts = {own};
        b.catalogue = io::catalogueOf(b.workshop);
        for (const int count : {1, 4, 6}) {
            fit(count);
            b.car.wires.push_back({"pack.PLUS", "reg0.IN", "red", {}});
            const nets::Nets nets({b.car, b.catalogue});
            for (int i = 0; i < count; ++i)
                QCOMPARE(nets.isSupply(nets.of("reg" + std::to_string(i) + ".OUT")), i < 4);
        }
        fit(3);
        b.car.wires.push_back({"reg2.OUT", "reg0.IN", "red", {}});
        const nets::Nets ring({b.car, b.catalogue});
        for (int i = 0; i < 3; ++i)
            QVERIFY(!ring.isSupply(ring.of("reg" + std::to_string(i) + ".OUT")));
    }
};

BADGER_TEST(TestNets)
#include "test_nets.moc"
