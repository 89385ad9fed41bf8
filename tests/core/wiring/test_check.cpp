// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/edit/kit_edits.h"
#include "core/nets/drive_map.h"
#include "core/wiring/broken_cars.h"
#include "core/wiring/check.h"
#include "support/fixture.h"

#include <functional>
#include <map>
#include <random>
#include <set>

using namespace badger;
using test::Bench;

namespace
{

/// The codes of every rule.
std::set<std::string> ruleCodes()
{
    std::set<std::string> codes;
    for (const auto *list : {&wiring::supplyRules(), &wiring::pinRules(), &wiring::signalRules(),
                             &wiring::motionRules(), &wiring::wireRules()})
        for (const auto &rule : *list)
            codes.insert(rule.code);
    return codes;
}

std::vector<Finding> check(const Bench &b)
{
    return wiring::check({b.car, b.catalogue}).findings;
}

std::vector<std::string> errors(const Bench &b)
{
    auto found = check(b);
    std::erase_if(found, [](const Finding &f) { return f.severity != Severity::Error; });
    return test::codes(found);
}

} // namespace

class TestWiringCheck final : public QObject
{
    Q_OBJECT
private slots:
    void theDemoHasNoError()
    {
        Bench b;
        const auto r = wiring::check({b.car, b.catalogue});
        QVERIFY(!hasError(r.findings));
        // That six cells near empty fall below the jack's window is the kit's to say, once.
        QVERIFY(r.findings.empty());
        QCOMPARE(r.fine.size(), ruleCodes().size());
    }

    /// Two boards that talk: over their serial pins, and over the two-wire bus.
    void boardsMayTalk()
    {
        Bench b;
        const auto second = edit::addPart(b.car, b.catalogue, "board-5v-8bit");
        b.instance(second).feeds.clear();
        const auto join = [&](const std::string &from, const std::string &to) {
            b.car.wires.push_back({from, to, "green", {}});
        };
        join("board.5V", second + ".5V");
        join("board.GND1", second + ".GND1");
        QVERIFY(errors(b).empty());
        const auto bare = b.car.wires;
        join("board.D1", second + ".D0");
        join("board.D0", second + ".D1");
        QVERIFY(errors(b).empty());
        QCOMPARE(std::string(name(test::find(check(b), "serial-pin-used")->severity)),
                 std::string("advice"));
        b.car.wires = bare;
        join("board.A4", second + ".A4");
        join("board.A5", second + ".A5");
        QVERIFY(!test::find(check(b), "two-wire-pin-used"));
        // A sensor on the same line is none of it.
        b.car.wires = bare;
        join("board.D0", second + ".D1");
        join("board.D0", "ranger.TRIG");
        QVERIFY(!errors(b).empty());
    }

    /// A line that another board serves is none of the program's: its pin has another name there,
    /// and other traits.
    void aLineOnAnotherBoard()
    {
        Bench b;
        const auto second = edit::addPart(b.car, b.catalogue, "chip-14-pin");
        for (auto &w : b.car.wires)
            for (auto *end : {&w.from, &w.to})
                if (*end == "board.D5")
                    *end = second + ".P0";
        QVERIFY(!test::find(check(b), "speed-line-no-pwm"));
        const nets::Nets nets({b.car, b.catalogue});
        QVERIFY(nets::programPins(nets, "driver.ENA").empty());
        QCOMPARE(nets::wiredPin(nets, "driver.ENB"), std::string("D6"));
        const auto served = nets::boardSignals(nets);
        QCOMPARE(std::count(served.begin(), served.end(), "driver.ENA"), 0);
        QCOMPARE(std::count(served.begin(), served.end(), "driver.ENB"), 1);
    }

    /// Any second board, before or after the first, with any wires: judged, whatever it says.
    void anySecondBoard()
    {
        std::mt19937 random(3);
        const auto any = [&](const auto &list) -> const auto &
        {
            return list[random() % list.size()];
        };
        static const std::vector<std::string> cars = {"Avocet", "Curlew",     "Godwit",
                                                      "Ruff",   "Sanderling", "Whimbrel"};
        static const std::vector<std::string> boards = {"board-5v-8bit", "board-5v-8bit-narrow",
                                                        "chip-14-pin", "computer-3v3",
                                                        "controller-ports"};
        int spoke = 0;
        for (int draw = 0; draw < 40; ++draw) {
            Bench b(any(cars));
            const auto &kind = any(boards);
            b.car.parts.insert(random() % 2 ? b.car.parts.begin() : b.car.parts.end(), [&] {
                kit::Instance one;
                one.id = "second";
                one.partId = kind;
                return one;
            }());
            std::vector<std::string> own, others;
            for (const auto &f : b.car.parts)
                for (const auto &t : b.catalogue.find(f.partId)->terminals)
                    (f.id == "second" ? own : others).push_back(f.id + "." + t.name);
            for (auto n = random() % 10; n > 0; --n)
                b.car.wires.push_back({any(own), any(others), "green", {}});
            const auto judged = b.judge();
            spoke += !judged.wire.findings.empty();
        }
        QVERIFY2(spoke > 30, qPrintable(QString::number(spoke)));
    }

    void everyRuleSpeaks_data()
    {
        QTest::addColumn<int>("index");
        for (size_t i = 0; i < test::brokenCars().size(); ++i)
            QTest::newRow(test::brokenCars()[i].name) << int(i);
    }
    void everyRuleSpeaks()
    {
        QFETCH(int, index);
        const auto &c = test::brokenCars()[size_t(index)];
        Bench b(c.car);
        c.breaks(b);
        const nets::Nets nets({b.car, b.catalogue});
        const auto all = wiring::complained(nets).complaints;
        const auto found = std::find_if(all.begin(), all.end(), [&](const Finding &f) {
            return f.code == c.code && english(f.where).find(c.where) != std::string::npos;
        });
        QVERIFY2(found != all.end(), "the rule said nothing about this place");
        QVERIFY(found->severity == c.severity);
        QVERIFY(!found->what.empty() && !found->why.empty() && !found->mend.empty());
        QVERIFY(found->target().starts_with("terminal:"));
        // A click must lead somewhere: the terminal exists.
        QVERIFY(kit::Assembly(b.car, b.catalogue).terminal(found->target().substr(9)));
    }

    /// Mending what a finding says clears it: no rule warns for ever.
    void undoingTheBreakageClearsIt()
    {
        for (const auto &c : test::brokenCars()) {
            Bench whole;
            const auto r = wiring::check({whole.car, whole.catalogue});
            QVERIFY2(!std::any_of(r.findings.begin(), r.findings.end(),
                                  [&](const Finding &f) {
                                      return f.code == c.code && f.severity == Severity::Error;
                                  }),
                     c.name);
        }
    }

    void everyRuleHasACase()
    {
        for (const auto &code : ruleCodes())
            QVERIFY2(std::any_of(test::brokenCars().begin(), test::brokenCars().end(),
                                 [&](const test::BrokenCar &c) { return c.code == code; }),
                     code.c_str());
    }

    void joinedTriggerAndEchoAreLegal()
    {
        Bench b;
        b.wire("ranger.ECHO").to = "board.D8";
        b.car.programPins["ranger.ECHO"] = "D8";
        QVERIFY(!hasError(wiring::check({b.car, b.catalogue}).findings));
    }

    void jumperedEnableDoesNotFloat()
    {
        Bench b;
        b.unwire("driver.ENA");
        for (auto &i : b.car.parts)
            if (i.id == "driver")
                i.jumpers = {"ENA"};
        QVERIFY(!test::find(wiring::check({b.car, b.catalogue}).findings, "enable-floats"));
    }

    void enableTiedHighDoesNotFloat()
    {
        Bench b;
        b.unwire("driver.ENA");
        b.car.wires.push_back({"driver.ENA", "board.5V", "red"});
        QVERIFY(!test::find(wiring::check({b.car, b.catalogue}).findings, "enable-floats"));
    }

    void crossedLeadThatCancelsAMirroredMountingIsRight()
    {
        // The demo's right motor has its leads crossed against the left one: no finding.
        Bench b;
        QCOMPARE(b.wire("right.B").from, std::string("driver.OUT3"));
        QVERIFY(!test::find(wiring::check({b.car, b.catalogue}).findings, "motor-undriven"));
        std::swap(b.wire("right.B").from, b.wire("right.A").from);
        QVERIFY(!test::find(wiring::check({b.car, b.catalogue}).findings, "motor-undriven"));
    }

    void noPwmPinFreeIsSaid()
    {
        Bench b;
        b.wire("driver.ENA").to = "board.D13";
        for (const auto *pin : {"D3", "D5", "D9", "D10", "D11"})
            b.car.wires.push_back({std::string("board.") + pin, "switch.IN", "pink"});
        const auto found = check(b);
        const auto *f = test::find(found, "speed-line-no-pwm");
        QVERIFY(f);
        QVERIFY2(english(f->mend).starts_with(
                     "No map of the pins exists: 2 functions need PWM: driver.ENA, "
                     "driver.ENB; only D6 is left."),
                 english(f->mend).c_str());
        QVERIFY(english(f->mend).find("One way out: tie driver.EN") != std::string::npos);
    }

    void theServosOwnPinIsNotTheTrouble()
    {
        // On whichever pin the servo is, the timer is gone.
        for (const auto *pin : {"board.D2", "board.D4", "board.D7", "board.A3"}) {
            Bench b("Curlew");
            b.wire("servo.SIG").to = pin;
            b.car.programPins["servo.SIG"] = std::string(pin).substr(6);
            QCOMPARE(errors(b), std::vector<std::string>{"pwm-taken-by-servo"});
            const auto found = check(b);
            QVERIFY(english(test::find(found, "pwm-taken-by-servo")->what).find("timer T1") !=
                    std::string::npos);
        }
    }

    void everyDemoCarHasItsOwnTroubleOnly()
    {
        const std::map<std::string, std::vector<std::string>> expected = {
            {"Curlew", {"pwm-taken-by-servo"}}, {"Whimbrel", {"signal-over-volts"}}};
        for (const auto &car : test::demo().cars) {
            const Bench b(car.name);
            const auto it = expected.find(car.name);
            QCOMPARE(errors(b), it == expected.end() ? std::vector<std::string>{} : it->second);
        }
    }

    void aDividerNeedsItsGround()
    {
        Bench b("Whimbrel");
        const auto id = edit::addPart(b.car, b.catalogue, "divider-1k-2k");
        b.unwire("ranger.ECHO");
        b.car.wires.push_back({"ranger.ECHO", id + ".IN", "yellow"});
        b.car.wires.push_back({id + ".OUT", "computer.P24", "yellow"});
        auto found = check(b);
        const auto *f = test::find(found, "signal-over-volts");
        QVERIFY(f && english(f->mend).find(id + ".GND") != std::string::npos);
        b.car.wires.push_back({id + ".GND", "computer.GND3", "black"});
        found = check(b);
        QVERIFY(!test::find(found, "signal-over-volts"));
        QVERIFY(errors(b).empty()); // the echo still reaches its pin, by way of the divider
    }

    void theDeadMotorIsNamed()
    {
        Bench b("Redshank");
        b.unwire("driver.EN9");
        const auto found = check(b);
        const auto *f = test::find(found, "enable-floats");
        QVERIFY(f);
        QCOMPARE(english(f->what),
                 std::string("The enable driver.EN9 floats: the right and the right-front motors "
                             "are dead."));
    }

    void aPullDownElsewhereDoesNotHelp()
    {
        Bench b("Turnstone");
        QVERIFY(b.car.instance("pull-down")); // on the other input
        auto found = check(b);
        const auto *f = test::find(found, "input-floats");
        QVERIFY(f && english(f->where) == "driver.IN10" &&
                english(f->mend).find("10 kohm") != std::string::npos);
        const auto id = edit::addPart(b.car, b.catalogue, "pull-down-10k");
        b.car.wires.push_back({id + ".A", "driver.IN10", "yellow"});
        b.car.wires.push_back({id + ".B", "rail.MINUS", "black"});
        found = check(b);
        QVERIFY(!test::find(found, "input-floats"));
    }

    void aCrossedLeadOfTheMirroredMotorIsNoFinding()
    {
        for (const bool straight : {false, true}) {
            Bench b("Turnstone");
            if (straight)
                std::swap(b.wire("right.A").to, b.wire("right.B").to);
            for (const auto &f : check(b))
                QVERIFY2(english(f.where).find("right.") == std::string::npos ||
                             (straight && f.code == "wheel-only-backward"),
                         english(f.what).c_str());
        }
    }

    /// A library takes PWM away; while no speed line feels it, it is noted with what is fine.
    void whatALibraryTakesIsNoted()
    {
        const auto notes = [](const Bench &b) {
            std::string all;
            for (const auto &f : wiring::check({b.car, b.catalogue}).fine)
                all += english(f) + "\n";
            return all;
        };
        const Bench redshank("Redshank");
        QVERIFY(notes(redshank).find("no speed line on D9, D10, whose PWM the servo library") !=
                std::string::npos);
        QVERIFY(notes(Bench()).find("no speed line on the servo library's timer") !=
                std::string::npos);
    }

    void swappedSuppliesAreSaidAsSuch()
    {
        Bench b("Redshank");
        b.wire("driver.VL16").from = "switch.OUT";
        b.wire("driver.VS8").from = "rail.PLUS";
        // The motors then hang on the board's regulator, and both windows are left: one fault.
        QCOMPARE(errors(b), (std::vector<std::string>{"supplies-swapped"}));
    }

    void aBoardWithFewerPins()
    {
        Bench b;
        edit::exchangePart(b.car, b.catalogue, "board", "chip-14-pin");
        const auto found = check(b);
        // Each wire that came off is asked for again.
        const auto *open = test::find(found, "harness-unfinished");
        QVERIFY(open && open->then.size() >= 2 && !open->mend.empty());
    }

    void aCarWithoutPartsHasNothingToCheck()
    {
        Bench b;
        const auto r = wiring::check({{}, b.catalogue});
        QVERIFY(r.findings.empty() && r.fine.empty());
    }

    void randomEditsNeverCrash()
    {
        const unsigned seed = 11;
        qInfo("seed %u", seed);
        std::mt19937 engine(seed);
        Bench b;
        std::vector<std::string> names;
        for (const auto &i : b.car.parts)
            for (const auto &t : b.catalogue.find(i.partId)->terminals)
                names.push_back(i.id + "." + t.name);
        const auto any = [&] { return names[engine() % names.size()]; };
        for (int i = 0; i < 1000; ++i) {
            switch (engine() % 4) {
            case 0:
                b.car.wires.push_back({any(), any(), "grey"});
                break;
            case 1:
                if (!b.car.wires.empty())
                    b.car.wires.erase(b.car.wires.begin() + long(engine() % b.car.wires.size()));
                break;
            case 2:
                if (!b.car.wires.empty())
                    b.car.wires[engine() % b.car.wires.size()].to = any();
                break;
            default:
                b.car.programPins[any()] = "D" + std::to_string(engine() % 14);
            }
            const nets::Nets nets({b.car, b.catalogue});
            const auto r = wiring::complained(nets);
            // Every rule either finds something or is fine.
            std::set<std::string> spoke;
            for (const auto &f : r.complaints)
                spoke.insert(f.code);
            QCOMPARE(spoke.size() + r.findings.fine.size(), ruleCodes().size());
            wiring::check({b.car, b.catalogue});
        }
    }
};

BADGER_TEST(TestWiringCheck)
#include "test_check.moc"
