// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/power/check.h"
#include "core/wiring/check.h"
#include "support/kits.h"

#include <map>

using namespace badger;
using kit::Charge;
using test::codes;
using test::Kit;
using Codes = std::vector<std::string>;

class TestPowerCheck final : public QObject
{
    Q_OBJECT
private slots:
    void startingKitsAreFine_data()
    {
        QTest::addColumn<QString>("name");
        for (const auto &k : io::startingKits())
            QTest::newRow(k.name.c_str()) << QString::fromStdString(k.name);
    }
    void startingKitsAreFine()
    {
        QFETCH(QString, name);
        const Kit k(name.toStdString());
        const auto j = judge::judgeKit({k.car, k.catalogue()}, std::nullopt);
        for (const auto &f : j.findings.findings)
            QVERIFY2(f.severity == Severity::Advice, english(f.what).c_str());
        QVERIFY(j.findings.fine.size() > 15);
    }

    void everyFindingIsWhole()
    {
        // Place, cause and mend of everything the demo has to say.
        for (const auto &car : test::demo().cars)
            for (const auto &f :
                 judge::judgeKit({car, io::shippedCatalogue()}, 0.3).findings.findings) {
                QVERIFY(!f.code.empty() && !f.places.empty());
                for (const auto *text : {&f.where, &f.what, &f.why, &f.mend})
                    QVERIFY2(!text->empty(), f.code.c_str());
                QVERIFY2(english(f.what).back() == '.' && english(f.mend).back() == '.',
                         english(f.what).c_str());
            }
    }

    void channelOverPeak()
    {
        // Four motors in pairs on the half-bridge chip, 5 ohm each, with a drop of 2 V and 1 ohm
        // and 0.23 ohm before it: (7.2 - 2 - 0.02) V / (5 + 2 x 1 + 4 x 0.23) ohm = 0.65 A each.
        const auto w = test::demo();
        const auto *redshank = w.car("Redshank");
        const auto report = power::report({*redshank, io::shippedCatalogue()});
        const auto found = power::check({*redshank, io::shippedCatalogue()}, report).findings;
        const auto *f = test::find(found, "channel-over-peak");
        QVERIFY(f && f->severity == Severity::Error);
        QCOMPARE(english(f->what),
                 std::string("driver, each of channels A and B: 2 motors of 0.65 A each "
                             "stall at 1.31 A, the driver gives 1.2 A at its peak."));
        // With one motor a channel it is fine.
        auto two = *redshank;
        for (const auto *id : {"left-front", "right-front"})
            edit::removePart(two, io::shippedCatalogue(), id);
        const auto fine = power::check({two, io::shippedCatalogue()},
                                       power::report({two, io::shippedCatalogue()}));
        const auto *left = test::find(fine.findings, "channel-over-peak");
        QVERIFY(!left || left->severity == Severity::Advice); // only with the greatest figures
    }

    void lithiumOnAServo()
    {
        Kit k("Look both ways");
        auto &pack = k.part("servo-pack");
        pack.partId = "cell-lithium";
        pack.cellsInSeries = 2;
        auto found = k.power();
        std::erase_if(found, [](const Finding &x) { return english(x.where) != "servo.VCC"; });
        const auto *f = test::find(found, "supply-outside-window");
        QVERIFY(f && f->severity == Severity::Error);
        QCOMPARE(english(f->what),
                 std::string("servo.VCC gets 8.4 V with fresh cells and 7.4 V with "
                             "nominal ones; it takes 4.8 V to 6 V."));
        QVERIFY(english(f->mend).find("four NiMH cells") != std::string::npos);
    }

    /// What the bridge keeps of one cell is a line of the volts that reach the driver.
    void oneCellLeavesNothing()
    {
        Kit k;
        apply(k, "one cell");
        const auto found = k.power();
        QVERIFY(!test::find(found, "supply-below-drop"));
        const auto at = std::find_if(found.begin(), found.end(), [](const Finding &f) {
            return f.target() == "node:driver.VS" && f.severity == Severity::Error;
        });
        QVERIFY(at != found.end());
        QVERIFY(std::any_of(at->then.begin(), at->then.end(), [](const Say &line) {
            return english(line).find("nothing is left for the motor") != std::string::npos;
        }));
    }

    /// Two NiMH cells are 2.4 V: the bridge keeps 2 V of them, and the logic needs 5 V.
    void twoCellsAreTooFew()
    {
        Kit k;
        QVERIFY(!test::find(k.power(), "motor-too-weak"));
        QVERIFY(!test::find(k.power(), "rail-not-held"));
        k.part("pack").cellsInSeries = 2;
        const auto found = k.power();
        const auto *weak = test::find(found, "motor-too-weak");
        QVERIFY(weak && weak->severity == Severity::Error);
        QVERIFY(english(weak->what).find("its load holds it") != std::string::npos);
        // What the board makes of it follows from what it gets.
        QVERIFY(!test::find(found, "rail-not-held") && !test::find(found, "logic-browns-out"));
        const auto jack = std::find_if(found.begin(), found.end(), [](const Finding &f) {
            return f.code == "supply-outside-window" && f.target() == "node:board.VIN";
        });
        QVERIFY(jack != found.end() && jack->severity == Severity::Error);
        QVERIFY(std::any_of(jack->then.begin(), jack->then.end(), [](const Say &line) {
            return english(line).starts_with("board.5V is not held");
        }));
    }

    void blockOnMotors()
    {
        Kit k;
        auto &pack = k.part("pack");
        pack.partId = "block-9v";
        pack.cellsInSeries = 1;
        const auto found = k.power();
        const auto *f = test::find(found, "pack-sags");
        QVERIFY(f && f->severity == Severity::Error);
        // Two motors of 5 ohm get 9 V less 1.8 V and what they lose in 1.4 ohm each and, with 0.101
        // A, in 1.8 ohm: 1.51 A in all, through 1.75 ohm.
        QVERIFY2(english(f->what).find("take 2.63 V of the 9 V") != std::string::npos,
                 english(f->what).c_str());
        // What follows stands below: the rail that dips, and what the block should give.
        for (const auto *code : {"logic-browns-out", "source-over-limit"})
            QVERIFY2(!test::find(found, code), code);
        for (const auto *words : {"board.5V dips", "it should give 0.1 A at most"})
            QVERIFY2(std::any_of(f->then.begin(), f->then.end(),
                                 [&](const Say &line) {
                                     return english(line).find(words) != std::string::npos;
                                 }),
                     words);
    }

    void brownOutAtStart()
    {
        Kit k;
        k.part("pack").partId = "cell-alkaline";
        k.part("pack").cellsInSeries = 5; // 7.5 V, 1 ohm: 5.6 V at the start
        const auto found = k.power();
        QVERIFY(test::find(found, "logic-browns-out")->severity == Severity::Error);
    }

    void regulatorHeat_data()
    {
        QTest::addColumn<double>("boardAmps");
        QTest::addColumn<QString>("severity");
        // Fresh: 8.4 V less a little sag, 2.6 V over: 0.5 W at 0.19 A, 1 W at 0.38 A.
        QTest::newRow("120 mA") << 0.12 << "";
        QTest::newRow("300 mA") << 0.30 << "warning";
        QTest::newRow("450 mA") << 0.45 << "error";
    }
    void regulatorHeat()
    {
        QFETCH(double, boardAmps);
        QFETCH(QString, severity);
        Kit k;
        k.set("board-5v-8bit", "running_A", boardAmps);
        const auto found = k.power();
        const auto *f = test::find(found, "regulator-hot");
        QCOMPARE(f ? QString(name(f->severity)) : QString(), severity);
    }

    void oneRuleEach_data()
    {
        QTest::addColumn<QString>("kit");
        QTest::addColumn<QString>("bend");
        QTest::addColumn<QString>("code");
        const auto row = [](const char *kit, const char *bend, const char *code) {
            QTest::newRow(bend) << kit << bend << code;
        };
        row("Stop ahead", "no pack", "source-missing");
        row("Stop ahead", "other chemistry", "pack-mixed");
        row("Stop ahead", "feed to nobody", "feed-broken");
        row("Stop ahead", "ranger unfed", "feed-missing");
        row("Stop ahead", "motor undriven", "feed-missing");
        row("Stop ahead", "bank on the rail", "two-sources-one-net");
        row("Stop ahead", "block beside the cells", "two-sources-one-net");
        row("Stop ahead", "eight lithium cells", "supply-outside-window");
        row("Stop ahead", "three cells", "supply-outside-window");
        row("Stop ahead", "weak fuse", "source-over-limit");
        row("Stop ahead", "motors on the rail", "motors-on-regulator");
        row("Stop ahead", "hungry motors", "channel-over-steady");
        row("No board", "hungry motors", "bridge-hot");
        row("Look both ways", "servo on the rail", "servo-on-regulator");
        row("Stop ahead", "bare LED", "led-resistor");
        row("Stop ahead", "LED at 22 ohm", "led-resistor");
        row("Stop ahead", "no stall current", "figure-missing");
        row("Stop ahead", "stall under running", "currents-out-of-order");
        row("Stop ahead", "wall adapter", "cable-on-moving-car");
        row("Stop ahead", "lithium without fuse", "fuse-missing");
        row("Stop ahead", "3.3 V board", "signal-over-volts");
    }
    void oneRuleEach()
    {
        QFETCH(QString, kit);
        QFETCH(QString, bend);
        QFETCH(QString, code);
        Kit k(kit.toStdString());
        apply(k, bend);
        const auto trouble = k.trouble();
        QVERIFY2(std::count(trouble.begin(), trouble.end(), code.toStdString()) > 0,
                 qPrintable(QStringLiteral("found: ") + [&] {
                     QString all;
                     for (const auto &c : trouble)
                         all += QString::fromStdString(c) + " ";
                     return all;
                 }()));
        // And it was not there before.
        const auto before = Kit(kit.toStdString()).trouble();
        QVERIFY(std::count(before.begin(), before.end(), code.toStdString()) == 0);
    }

    void switchAndFuseAreAdvice()
    {
        Kit k;
        k.take("fuse");
        k.take("switch");
        k.part("board").feeds = {{"VIN", "pack.PLUS", {}}};
        k.part("driver").feeds = {{"VS", "pack.PLUS", {}}};
        const auto found = k.power();
        QVERIFY(test::find(found, "switch-missing")->severity == Severity::Advice);
        QVERIFY(test::find(found, "fuse-missing")->severity == Severity::Advice);
        QVERIFY(k.trouble().empty());
    }

    void dividerMendsTheEcho()
    {
        auto w = test::demo();
        auto &whimbrel = w.cars.back();
        QCOMPARE(whimbrel.name, std::string("Whimbrel"));
        const auto &catalogue = io::shippedCatalogue();
        const auto check = [&] {
            return power::check({whimbrel, catalogue}, power::report({whimbrel, catalogue}))
                .findings;
        };
        // What is wired is said of the wires, divider or not.
        QVERIFY(!test::find(check(), "signal-over-volts"));
        QVERIFY(test::find(wiring::check({whimbrel, catalogue}).findings, "signal-over-volts"));
        whimbrel.wires.clear();
        const auto before = check();
        const auto *f = test::find(before, "signal-over-volts");
        QVERIFY(f && f->severity == Severity::Error);
        QVERIFY(english(f->mend).find("3.33 V") != std::string::npos);
        const auto id = edit::addPart(whimbrel, catalogue, "divider-1k-2k");
        for (auto &i : whimbrel.parts)
            if (i.id == id)
                i.feeds = {{"IN", "ranger.ECHO", {}}};
        QVERIFY(!test::find(check(), "signal-over-volts"));
    }

    /// A bare chip bears half a volt over what it is fed with: 5 V of a module are too much at 3.3
    /// V.
    void aLowerSupplyLowersWhatAPinTakes()
    {
        const auto isOver = [](double chip_V) {
            Kit k("Stop ahead");
            k.part("board").partId = "chip-14-pin";
            const auto low = k.fit("usb-port").id;
            const auto high = k.fit("wall-adapter-5v").id;
            k.set("usb-port", "volts_V", chip_V);
            k.part("board").feeds = {{"VCC", low + ".PLUS", {}}};
            k.part("ranger").feeds = {{"VCC", high + ".PLUS", {}}};
            return test::find(k.power(), "signal-over-volts") != nullptr;
        };
        QVERIFY(isOver(3.3));
        QVERIFY(!isOver(4.6));
        QVERIFY(!isOver(5.0));
    }

    /// One advice a pack, however much goes short: when it is to be recharged, and what would.
    void aFlatPackIsSaidOnce()
    {
        for (const auto &car : test::demo().cars) {
            const kit::Assembly a(car, io::shippedCatalogue());
            const auto found = power::check(a, power::report(a)).findings;
            std::map<std::string, int> packs;
            for (const auto &f : found) {
                QVERIFY2(f.code == "recharge-before" ||
                             english(f.what).find("Near empty") == std::string::npos,
                         english(f.what).c_str());
                if (f.code == "recharge-before")
                    QCOMPARE(++packs[english(f.where)], 1);
            }
        }
        const auto found = Kit().power();
        const auto *f = test::find(found, "recharge-before");
        QVERIFY(f && f->severity == Severity::Advice);
        // The jack wants 7 V: 7.2 V less 0.601 A through 0.23 ohm are 7.06 V, and near empty 5.86
        // V.
        QCOMPARE(english(f->what), std::string("Recharge pack at 7.2 V (resting)."));
        QCOMPARE(f->then.size(), size_t(2));
        QVERIFY(english(f->then[0]).starts_with("Near empty, board.VIN gets 5.86 V"));
        QVERIFY(english(f->then[1]).starts_with("Near empty, board.5V dips to 3.9"));
    }

    /// Charging what is not made for it is a hazard: it is not asked for.
    void onlyWhatMayBeChargedIs()
    {
        for (const auto *cells : {"cell-alkaline", "block-9v"}) {
            Kit k;
            k.part("pack").partId = cells;
            k.part("pack").cellsInSeries = std::string(cells) == "block-9v" ? 1 : 5;
            const auto found = k.power();
            const auto *f = test::find(found, "recharge-before");
            if (!f)
                continue; // something graver is said of it
            QVERIFY2(english(f->what).starts_with("Put fresh cells into pack at "),
                     english(f->what).c_str());
            QVERIFY(english(f->mend).find("must not be charged") != std::string::npos);
        }
        Kit k;
        k.part("pack").partId = "cell-alkaline";
        k.part("pack").cellsInSeries = 5;
        const auto found = k.power();
        QVERIFY(test::find(found, "recharge-before"));
    }

    /// The module's own regulator takes 12 V.
    void fourLithiumCellsOnTheModulesRegulator()
    {
        Kit k;
        QVERIFY(!test::find(k.power(), "regulator-over-volts"));
        k.part("pack").partId = "cell-lithium";
        k.part("pack").cellsInSeries = 3; // 12.6 V fresh
        const auto found = k.power();
        const auto *f = test::find(found, "regulator-over-volts");
        QVERIFY(f && f->severity == Severity::Error);
        QCOMPARE(english(f->what), std::string("The regulator of driver.5V gets 12.6 V with fresh "
                                               "cells; it takes 12 V."));
    }

private:
    static void apply(Kit &k, const QString &bend)
    {
        if (bend == "no pack") {
            k.take("pack");
        } else if (bend == "other chemistry") {
            k.part("pack").cellsInSeries = 4;
            k.part("pack").otherCells = {{"cell-alkaline", 2, {}}};
        } else if (bend == "feed to nobody") {
            k.part("ranger").feeds = {{"VCC", "dynamo.PLUS", {}}};
        } else if (bend == "ranger unfed") {
            k.part("ranger").feeds.clear();
        } else if (bend == "motor undriven") {
            k.part("left").drivenBy.clear();
        } else if (bend == "bank on the rail") {
            k.fit("usb-bank");
            k.part("board").feeds.push_back({"5V", "supply.PLUS", {}});
        } else if (bend == "block beside the cells") {
            k.fit("block-9v");
            k.part("fuse").feeds.push_back({"IN", "pack-2.PLUS", {}});
        } else if (bend == "eight lithium cells") {
            k.part("pack").partId = "cell-lithium";
            k.part("pack").cellsInSeries = 8;
        } else if (bend == "three cells") {
            k.part("pack").cellsInSeries = 3;
        } else if (bend == "weak fuse") {
            k.set("fuse", "limit_A", 0.5);
        } else if (bend == "motors on the rail") {
            k.part("driver").feeds = {{"VS", "board.5V", {}}};
        } else if (bend == "one cell") {
            k.part("pack").cellsInSeries = 1;
        } else if (bend == "hungry motors") {
            for (const auto *id : {"gear-motor-plastic", "gear-motor-plastic-slow"}) {
                k.set(id, "running_A", 2.1);
                k.set(id, "stall_A", 5.8);
            }
        } else if (bend == "servo on the rail") {
            k.part("servo").feeds = {{"VCC", "board.5V", {}}};
        } else if (bend == "bare LED") {
            k.fit("led-white");
        } else if (bend == "LED at 22 ohm") {
            k.fit("led-white").resistor_ohm = 22.0; // 86 mA
        } else if (bend == "no stall current") {
            k.forget("gear-motor-plastic", "stall_A");
        } else if (bend == "stall under running") {
            k.set("gear-motor-plastic", "stall_A", 0.1);
        } else if (bend == "wall adapter") {
            k.fit("wall-adapter-9v");
        } else if (bend == "lithium without fuse") {
            k.part("pack").partId = "cell-lithium";
            k.part("pack").cellsInSeries = 2;
            k.take("fuse");
            k.part("switch").feeds = {{"IN", "pack.PLUS", {}}};
        } else if (bend == "3.3 V board") {
            k.set("board-5v-8bit", "pin_high_V", 3.6);
        } else {
            qFatal("unknown");
        }
    }
};

BADGER_TEST(TestPowerCheck)
#include "test_check.moc"
