// SPDX-License-Identifier: GPL-3.0-or-later
#include "support/kits.h"

#include <random>

using namespace badger;
using test::Kit;

class TestKitEdits final : public QObject
{
    Q_OBJECT
private slots:
    void addedPartsFindTheirPlace()
    {
        // A car built part by part: sides, channels and feeds are proposed as it grows.
        const auto &c = io::shippedCatalogue();
        kit::Car car;
        car.name = "Knot";
        car.geometry = {0.21, 0.15, 0.13, 0.15, {}, 0.0, 0.0, {}};
        QCOMPARE(edit::addPart(car, c, "cell-nimh"), std::string("pack"));
        for (auto &i : car.parts)
            i.cellsInSeries = 6;
        edit::addPart(car, c, "switch");
        QCOMPARE(edit::addPart(car, c, "gear-motor-plastic"), std::string("left"));
        QCOMPARE(edit::addPart(car, c, "gear-motor-plastic"), std::string("right"));
        QVERIFY(car.instance("left")->drivenBy.empty()); // no driver yet
        edit::addPart(car, c, "dual-bridge-module");
        QCOMPARE(car.instance("left")->drivenBy, std::string("driver.A"));
        QCOMPARE(car.instance("right")->drivenBy, std::string("driver.B"));
        QVERIFY(!car.instance("driver")->feeds.empty());
        QCOMPARE(car.instance("driver")->feeds.front().from, std::string("switch.OUT"));
        edit::addPart(car, c, "board-5v-8bit");
        edit::addPart(car, c, "ranger-4-pin");
        edit::addPart(car, c, "wheel-65mm");
        const auto tree = power::solve({car, c});
        QVERIFY(tree.unfed.empty());
        COMPARE_NEAR(tree.at(0, power::nominalRunning).amps_A, 0.601, 1e-5);
        // A third and fourth motor share the channels of their sides.
        QCOMPARE(edit::addPart(car, c, "gear-motor-plastic"), std::string("left-2"));
        QCOMPARE(car.instance("left-2")->drivenBy, std::string("driver.A"));
        QCOMPARE(edit::addPart(car, c, "no-such-part"), std::string());
    }

    void removingLeavesNothingDangling()
    {
        test::Bench b;
        const auto taken = edit::removePart(b.car, b.catalogue, "board");
        QVERIFY(taken.wires > 5 && taken.feeds == 1); // the ranger hung on its rail
        QCOMPARE(taken.pins, 8);                      // a program has no pins without a board
        VERIFY_OK(io::verify(b.workshop));
        for (const auto &w : b.car.wires)
            QVERIFY(!w.from.starts_with("board.") && !w.to.starts_with("board."));
        QVERIFY(english(edit::words(taken)).find("came off with it") != std::string::npos);
        Kit k("Look both ways");
        edit::removePart(k.car, k.catalogue(), "servo");
        QVERIFY(k.part("ranger").carriedBy.empty());
        edit::removePart(k.car, k.catalogue(), "driver");
        QVERIFY(k.part("left").drivenBy.empty());
        QVERIFY(edit::words({}).empty());
    }

    void exchangeKeepsWhatFits()
    {
        test::Bench b;
        const auto before = b.car;
        const auto none = edit::exchangePart(b.car, b.catalogue, "board", "board-5v-8bit-narrow");
        QCOMPARE(none.wires, 0); // the same pins
        QVERIFY(b.car.wires == before.wires);
        const auto taken = edit::exchangePart(b.car, b.catalogue, "driver", "mosfet-dual-bridge");
        // It names its inputs otherwise: those of the same job, and none for the speed lines.
        QVERIFY2(taken.wires > 0 && taken.wires < 6, std::to_string(taken.wires).c_str());
        QCOMPARE(taken.pins, 2);
        QCOMPARE(b.car.programPins.at("driver.AIN1"), before.programPins.at("driver.IN1"));
        QVERIFY(b.car.instance("driver")->mount == before.instance("driver")->mount);
        QCOMPARE(b.car.instance("driver")->feeds.front().to, std::string("VM"));
        QCOMPARE(b.car.instance("left")->drivenBy, std::string("driver.A")); // also has a channel A
        QCOMPARE(b.car.wiringRevision, before.wiringRevision + 1);
        VERIFY_OK(io::verify(b.workshop));
    }

    void boardWithFewerPins()
    {
        test::Bench b;
        edit::exchangePart(b.car, b.catalogue, "board", "chip-14-pin");
        QVERIFY(b.car.programPins.empty());
        VERIFY_OK(io::verify(b.workshop)); // no wire to a pin that is gone
    }

    /// Whatever is put on, taken off and exchanged, the file can be written and read again, the
    /// judgement does not fall over, and the tree's ids stay unique.
    void anyEditsCanBeSaved()
    {
        const auto &c = io::shippedCatalogue();
        std::mt19937 random(20);
        const auto pick = [&](size_t n) {
            return std::uniform_int_distribution<size_t>(0, n - 1)(random);
        };
        auto w = test::demo();
        for (int i = 0; i < 1500; ++i) {
            if (i % 100 == 0)
                w = test::demo(); // edited cars end up bare: begin again
            auto &car = w.cars[pick(w.cars.size())];
            const auto what = pick(3);
            if (what == 0)
                edit::addPart(car, c, c.parts()[pick(c.parts().size())].id);
            else if (!car.parts.empty() && what == 1)
                edit::removePart(car, c, std::string(car.parts[pick(car.parts.size())].id));
            else if (!car.parts.empty())
                edit::exchangePart(car, c, std::string(car.parts[pick(car.parts.size())].id),
                                   c.parts()[pick(c.parts().size())].id);
            const auto j = judge::judgeKit({car, c}, 0.3);
            for (size_t n = 0; n < j.power.tree.nodes.size(); ++n)
                QCOMPARE(j.power.tree.indexOf(j.power.tree.nodes[n].id), int(n));
            if (i % 10 == 0) {
                const auto again = io::readWorkshop(io::writeWorkshop(w));
                QVERIFY2(again, again ? "" : english(again.error().text()).c_str());
                QVERIFY(*again == w);
            }
        }
    }
};

BADGER_TEST(TestKitEdits)
#include "test_kit_edits.moc"
