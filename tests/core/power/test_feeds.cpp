// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/power/feeds.h"
#include "support/kits.h"

using namespace badger;
using test::Kit;

class TestFeeds final : public QObject
{
    Q_OBJECT
private slots:
    void nodesOfTerminals()
    {
        const Kit k;
        const auto c = k.catalogue();
        QCOMPARE(power::nodeOf({k.car, c}, "pack.PLUS"), std::string("pack"));
        QCOMPARE(power::nodeOf({k.car, c}, "switch.OUT"), std::string("switch"));
        QCOMPARE(power::nodeOf({k.car, c}, "board.5V"), std::string("board.5V"));
        QCOMPARE(power::nodeOf({k.car, c}, "nobody.X"), std::string());
    }

    void whatGivesASupply()
    {
        const Kit k;
        const auto all = power::supplies({k.car, k.catalogue()});
        QVERIFY((all == std::vector<std::string>{"pack.PLUS", "fuse.OUT", "switch.OUT", "driver.5V",
                                                 "board.5V"}));
    }

    void ownSupply()
    {
        const auto &c = io::shippedCatalogue();
        const auto own = [&](const char *id) { return power::ownSupply(*c.find(id))->name; };
        QCOMPARE(own("board-5v-8bit"), std::string("5V")); // its rail
        QCOMPARE(own("computer-3v3"), std::string("5V"));
        QCOMPARE(own("half-bridge-chip"), std::string("VL16")); // not the motors'
        QCOMPARE(own("dual-bridge-module"), std::string("VS"));
        QVERIFY(!power::ownSupply(*c.find("skid")));
    }

    void brokenOnes()
    {
        Kit k;
        auto &ranger = k.part("ranger");
        const auto broken = [&] {
            return power::brokenFeeds({k.car, k.catalogue()}, ranger).size();
        };
        QCOMPARE(broken(), size_t(0));
        for (const auto *from : {"nobody.PLUS", "board.D5", "board", "", "ranger.VCC"}) {
            ranger.feeds = {{"VCC", from, {}}};
            QVERIFY2(broken() == 1, from);
        }
        ranger.feeds = {{"TRIG", "board.5V", {}}};
        QCOMPARE(broken(), size_t(1));
    }

    void proposals()
    {
        Kit k;
        const auto c = k.catalogue();
        const auto proposed = [&](const char *part) {
            kit::Instance i;
            i.id = "new";
            i.partId = part;
            return power::proposedFeeds({k.car, c}, i);
        };
        // A ranger takes 5 V: the board's rail, or the driver's, but not the pack.
        const auto ranger = proposed("ranger-4-pin");
        QCOMPARE(ranger.size(), size_t(1));
        QVERIFY(kit::Assembly(k.car, c).terminal(ranger.front().from)->role ==
                parts::Role::SupplyOut);
        // Motors run on the pack, by way of the switch; the chip's logic does not.
        const auto chip = proposed("half-bridge-chip");
        QCOMPARE(chip.size(), size_t(2));
        QVERIFY(chip[0].to == "VS8" && chip[0].from == "fuse.OUT");
        QVERIFY(chip[1].to == "VL16" && chip[1].from != "fuse.OUT");
        // Nothing here suits a servo but a rail; a servo is proposed one, and the check warns.
        QCOMPARE(proposed("skid").size(), size_t(0));
        // A second switch goes behind the pack.
        QVERIFY(proposed("switch").front().from == "pack.PLUS");
    }

    void channels()
    {
        test::Bench b;
        QVERIFY((power::channels({b.car, b.catalogue}) ==
                 std::vector<std::string>{"driver.A", "driver.B"}));
        auto left = *b.car.instance("left");
        left.drivenBy.clear();
        QCOMPARE(power::channelOf({b.car, b.catalogue}, left), std::string("driver.A"));
        b.unwire("left.A");
        b.unwire("left.B");
        QCOMPARE(power::channelOf({b.car, b.catalogue}, left), std::string());
    }

    /// What Kit names and the wires lead to another supply is disputed; with one wire moved back,
    /// or the note made as it is wired, it is not. The tree is then not blamed for a loop.
    void whatIsWiredOtherwiseIsDisputed()
    {
        test::Bench b;
        const auto disputes = [&] { return power::disputedFeeds({b.car, b.catalogue}); };
        QVERIFY(disputes().empty());
        for (auto &w : b.car.wires)
            if (w.to == "ranger.VCC")
                w.from = "driver.VS";
        QCOMPARE(disputes().size(), size_t(1));
        QCOMPARE(disputes().front().input, std::string("ranger.VCC"));
        QCOMPARE(disputes().front().stated.from, std::string("board.5V"));
        const kit::Assembly car(b.car, b.catalogue);
        const auto found = power::check(car, power::report(car)).findings;
        QVERIFY(test::find(found, "feed-not-as-wired"));
        QVERIFY(!test::find(found, "tree-has-loop"));
        for (auto &feed : b.instance("ranger").feeds)
            feed.from = disputes().front().wired;
        QVERIFY(disputes().empty());
        b.unwire("ranger.VCC"); // a wire that is off leads to no other supply
        QVERIFY(disputes().empty());
    }

    /// A fuse that was wired in between: the kit has it beside, and carries nothing through it.
    void aLinkBetweenIsDisputed()
    {
        test::Bench b;
        edit::addPart(b.car, b.catalogue, "fuse");
        b.car.wires.push_back({"pack.PLUS", "fuse.IN", "red", {}});
        for (auto &w : b.car.wires)
            if (w.to == "switch.IN")
                w.from = "fuse.OUT";
        const auto disputes = power::disputedFeeds({b.car, b.catalogue});
        QCOMPARE(disputes.size(), size_t(1));
        QCOMPARE(disputes.front().input, std::string("switch.IN"));
        QCOMPARE(disputes.front().wired, std::string("fuse.OUT"));
        for (const auto &car : test::demo().cars) // and none of the demo's cars has one
            QVERIFY2(power::disputedFeeds({car, b.catalogue}).empty(), car.name.c_str());
    }

    /// On every demo car without wires: with one feed taken away one thing is said, at its part,
    /// and the rest is below it.
    void whatFollowsIsNotSaidByItself()
    {
        const auto w = test::demo();
        const auto catalogue = io::catalogueOf(w);
        int tried = 0;
        for (auto car : w.cars) {
            car.wires.clear();
            for (size_t i = 0; i < car.parts.size(); ++i) {
                auto copy = car;
                if (copy.parts[i].feeds.size() != 1)
                    continue;
                copy.parts[i].feeds.clear();
                const kit::Assembly without(copy, catalogue);
                const auto report = power::report(without);
                const auto found = power::check(without, report).findings;
                size_t said = 0;
                size_t lines = 0;
                for (const auto &f : found)
                    if (f.code == "feed-missing") {
                        QCOMPARE(f.target(), "kit:" + copy.parts[i].id);
                        ++said;
                        lines += f.then.size();
                    }
                QCOMPARE(said, size_t(1));
                QVERIFY(said + lines == report.tree.unfed.size());
                ++tried;
            }
        }
        QVERIFY(tried >= 30);
    }

    /// Motors on the board's 5 V, a sensor on the pack, a feed from a part that is not there: one
    /// finding each.
    void whatFollowsFromAFeedIsALine()
    {
        const auto errors = [](const char *id, const char *input, const char *source) {
            Kit k;
            for (auto &feed : k.part(id).feeds)
                if (feed.to == input)
                    feed.from = source;
            auto found = k.power();
            std::erase_if(found, [](const Finding &f) { return f.severity != Severity::Error; });
            return test::codes(found);
        };
        QCOMPARE(errors("driver", "VS", "board.5V"),
                 std::vector<std::string>{"motors-on-regulator"});
        QCOMPARE(errors("ranger", "VCC", "pack.PLUS"),
                 std::vector<std::string>{"supply-outside-window"});
        QCOMPARE(errors("ranger", "VCC", "rail.PLUS"), std::vector<std::string>{"feed-broken"});
    }

    /// Two that are said to feed each other: the ring is said once.
    void aRingIsSaid()
    {
        Kit k;
        k.part("fuse").feeds = {{"IN", "switch.OUT", {}}};
        k.part("switch").feeds = {{"IN", "fuse.OUT", {}}};
        const auto found = k.power();
        const auto *ring = test::find(found, "feed-missing");
        QVERIFY(ring && !ring->then.empty());
    }
};

BADGER_TEST(TestFeeds)
#include "test_feeds.moc"
