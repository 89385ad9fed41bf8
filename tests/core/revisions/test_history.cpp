// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/revisions/history.h"
#include "support/fixture.h"

#include <random>
#include <set>

using namespace badger;
using namespace badger::nets;
using namespace badger::revisions;
using Act = HandStep::Act;
using test::Bench;

namespace
{

Build withWires(std::vector<kit::Wire> wires)
{
    return {std::move(wires), {}, {}};
}

kit::Wire wire(const char *from, const char *to, const char *colour = "green")
{
    return {from, to, colour, {}};
}

using Ends = std::set<std::pair<std::string, std::string>>;

Ends endsOf(const std::vector<kit::Wire> &wires)
{
    Ends ends;
    for (const auto &w : wires)
        ends.insert(std::minmax(w.from, w.to));
    return ends;
}

/// The steps from one set of wires to another, on the demo's first car.
std::vector<HandStep> stepsFrom(std::vector<kit::Wire> before, std::vector<kit::Wire> after)
{
    const Bench b;
    auto then = b.car;
    auto now = b.car;
    then.wires = std::move(before);
    now.wires = std::move(after);
    return rebuild(then, {now, b.catalogue}).steps;
}

/// Does with a table of wires what a hand does on the bench.
struct Hand {
    Ends ends;
    std::multiset<std::string> crowded; ///< terminals with their wires

    explicit Hand(const Build &build) : ends(endsOf(build.wires)) {}

    void take(const std::string &a, const std::string &b)
    {
        QVERIFY2(ends.erase(std::minmax(a, b)) == 1, (a + " " + b).c_str());
    }
    void put(const std::string &a, const std::string &b)
    {
        QVERIFY2(ends.insert(std::minmax(a, b)).second, (a + " " + b).c_str());
    }
    Ends held; ///< wires in the hand, as they were

    void does(const HandStep &s)
    {
        switch (s.act) {
        case Act::Recolour:
            return;
        case Act::Remove:
            return take(s.at, s.stays);
        case Act::Lift:
            held.insert(std::minmax(s.at, s.stays));
            return take(s.at, s.stays);
        case Act::Move:
            if (held.erase(std::minmax(s.from, s.stays)) == 0)
                take(s.from, s.stays);
            return put(s.at, s.stays);
        case Act::Add:
            return put(s.at, s.stays);
        case Act::JumperOff:
        case Act::JumperOn:
            return;
        }
    }
};

} // namespace

class TestHistory final : public QObject
{
    Q_OBJECT
private slots:
    void nothingChanges()
    {
        const Bench b;
        QVERIFY(between(buildOf(b.car), buildOf(b.car)).empty());
        auto turned = b.car;
        for (auto &w : turned.wires)
            std::swap(w.from, w.to); // a wire has no direction
        std::reverse(turned.wires.begin(), turned.wires.end());
        QVERIFY(between(buildOf(b.car), buildOf(turned)).empty());
    }

    void aMoveIsNoRemovalAndAddition()
    {
        const auto c = between(withWires({wire("ranger.ECHO", "board.D11")}),
                               withWires({wire("ranger.ECHO", "board.D12")}));
        QVERIFY(c.removed.empty() && c.added.empty());
        QCOMPARE(c.moved.size(), size_t(1));
        QCOMPARE(c.moved[0].stays, std::string("ranger.ECHO"));
        QCOMPARE(c.moved[0].from, std::string("board.D11"));
        QCOMPARE(c.moved[0].to, std::string("board.D12"));
    }

    void asManyMovesAsPossible()
    {
        // A greedy pairing of the first with the first would leave a removal and an addition.
        const auto c = between(withWires({wire("a.X", "b.Y"), wire("a.X", "c.Z")}),
                               withWires({wire("a.X", "d.W"), wire("b.Y", "e.V")}), "a");
        QCOMPARE(c.moved.size(), size_t(2));
        QVERIFY(c.removed.empty() && c.added.empty());
    }

    void coloursAndJumpers()
    {
        auto before = withWires({wire("a.X", "b.Y", "green")});
        auto after = withWires({wire("a.X", "b.Y", "blue")});
        before.jumpers = {"driver.ENA"};
        after.jumpers = {"driver.ENB"};
        const auto c = between(before, after);
        QCOMPARE(c.recoloured.size(), size_t(1));
        QCOMPARE(c.jumpersOff, std::vector<std::string>{"driver.ENA"});
        QCOMPARE(c.jumpersOn, std::vector<std::string>{"driver.ENB"});
    }

    void aHoleIsFreeWhenItsWireComes()
    {
        // D2 to D3 while D3 goes to D4: the second has to go first.
        const auto steps =
            stepsFrom({wire("driver.IN1", "board.D2"), wire("driver.IN2", "board.D3")},
                      {wire("driver.IN1", "board.D3"), wire("driver.IN2", "board.D4")});
        QCOMPARE(steps.size(), size_t(2));
        QCOMPARE(steps[0].stays, std::string("driver.IN2"));
        QCOMPARE(steps[1].stays, std::string("driver.IN1"));
    }

    void aSwapNeedsOneEndInTheAir()
    {
        const auto steps =
            stepsFrom({wire("driver.IN1", "board.D2"), wire("driver.IN2", "board.D3")},
                      {wire("driver.IN1", "board.D3"), wire("driver.IN2", "board.D2")});
        QCOMPARE(steps.size(), size_t(3));
        QVERIFY(steps[0].act == Act::Lift && steps[1].act == Act::Move &&
                steps[2].act == Act::Move);
        QVERIFY(english(steps[0].text).find("hold it aside") != std::string::npos);
        QVERIFY(
            english(steps[2].text).starts_with("Put the green wire of driver.IN1 into board.D3"));
    }

    void powerAndGroundsComeLast()
    {
        const Bench b;
        const auto steps = handOrder(between({}, buildOf(b.car)), Nets({b.car, b.catalogue}));
        QCOMPARE(steps.size(), b.car.wires.size());
        const auto position = [&](const std::string &end) {
            for (size_t i = 0; i < steps.size(); ++i)
                if (steps[i].at == end || steps[i].stays == end)
                    return int(i);
            return -1;
        };
        QVERIFY(position("ranger.TRIG") < position("left.A"));
        QVERIFY(position("left.A") < position("ranger.VCC"));
        QVERIFY(position("ranger.VCC") < position("pack.PLUS"));
        QVERIFY(position("pack.PLUS") < position("ranger.GND"));
        QCOMPARE(position("pack.MINUS"), int(steps.size()) - 1);
    }

    /// Whatever changes: done in that order, the hand arrives at the wanted build.
    void theHandArrives()
    {
        std::mt19937 engine(9);
        const Bench b;
        std::vector<std::string> names;
        const Nets nets({b.car, b.catalogue});
        for (const auto &m : nets.all())
            names.push_back(m.name);
        for (int i = 0; i < 400; ++i) {
            auto after = b.car;
            for (size_t n = engine() % 12; n > 0; --n) {
                const auto &end = names[engine() % names.size()];
                auto &w = after.wires[engine() % after.wires.size()];
                switch (engine() % 3) {
                case 0:
                    w.to = end;
                    break;
                case 1:
                    std::swap(w.to, after.wires[engine() % after.wires.size()].to);
                    break;
                default:
                    after.wires.erase(after.wires.begin() + long(engine() % after.wires.size()));
                }
            }
            // Two wires between the same ends, or one from an end to itself, are refused elsewhere.
            Ends seen;
            std::erase_if(after.wires, [&](const kit::Wire &w) {
                return w.from == w.to || !seen.insert(std::minmax(w.from, w.to)).second;
            });
            Hand hand(buildOf(b.car));
            for (const auto &s :
                 handOrder(between(buildOf(b.car), buildOf(after)), Nets({after, b.catalogue})))
                hand.does(s);
            QVERIFY(hand.held.empty());
            QCOMPARE(hand.ends, endsOf(after.wires));
        }
    }

    void theCarAsOfARevision()
    {
        Bench b;
        QVERIFY(*asOf(b.car, 3) == b.car);
        QVERIFY(!asOf(b.car, 9));
        const auto first = *asOf(b.car, 1);
        QCOMPARE(first.programPins.at("ranger.TRIG"), std::string("D9"));
        QVERIFY(buildOf(first) == buildOf(*finished(b.car, 1)));
        // Jumpers come and go with their revision.
        for (auto &i : b.car.parts)
            if (i.id == "driver")
                i.jumpers = {"ENA"};
        edited(b.car);
        QVERIFY(asOf(b.car, 3)->instance("driver")->jumpers.empty());
        QCOMPARE(asOf(b.car, 4)->instance("driver")->jumpers, std::vector<std::string>{"ENA"});
    }

    void revisionsOpenAndClose()
    {
        Bench b;
        QVERIFY(!isOpen(b.car));
        QCOMPARE(b.car.wiringRevision, 3);
        QVERIFY(!finish(b.car, "2026-11-26", "again")); // nothing changed
        b.wire("ranger.ECHO").to = "board.D9";
        edited(b.car);
        QCOMPARE(b.car.wiringRevision, 4);
        QVERIFY(isOpen(b.car));
        edited(b.car);
        QCOMPARE(b.car.wiringRevision, 4); // still the same open one
        const auto refused = finish(b.car, "2026-11-26", "  ");
        QVERIFY(!refused && english(refused.error().text()).find("reason") != std::string::npos);
        VERIFY_OK(finish(b.car, "2026-11-26", "echo to D9 for a test"));
        QVERIFY(!isOpen(b.car));
        QCOMPARE(latest(b.car)->number, 4);
        QCOMPARE(english(latest(b.car)->reason), std::string("echo to D9 for a test"));
        b.wire("ranger.ECHO").to = "board.D12";
        edited(b.car);
        QCOMPARE(b.car.wiringRevision, 5);
        b.wire("ranger.ECHO").to = "board.D9";
        edited(b.car);
        QCOMPARE(b.car.wiringRevision, 4); // back as it was: nothing is open
        VERIFY_OK(io::verify(b.workshop));
    }

    void theHistorySurvivesTheFile()
    {
        Bench b;
        b.wire("ranger.ECHO").to = "board.D9";
        edited(b.car);
        VERIFY_OK(finish(b.car, "2026-11-26", "a reason, \"quoted\""));
        b.car.walk.push_back({"volts:board.5V", 4.97, false, 3, "2026-11-26", {}});
        const auto again = io::readWorkshop(io::writeWorkshop(b.workshop));
        VERIFY_OK(again);
        QVERIFY(*again->car("Avocet") == b.car);
    }

    void whatGoesStale()
    {
        const Bench b;
        const auto before = buildOf(*finished(b.car, 1));
        const auto s = stale(before, buildOf(b.car), {b.car, b.catalogue});
        QCOMPARE(s.constants.size(), size_t(1));
        QCOMPARE(s.constants[0].terminal, std::string("ranger.TRIG"));
        QCOMPARE(s.constants[0].before, std::string("D9"));
        QCOMPARE(s.constants[0].after, std::string("D8"));
        QCOMPARE(s.partTests, (std::vector<std::string>{"ranger", "driver", "right"}));
        QCOMPARE(s.calibrations.size(), size_t(2)); // speeds and roll-out: the right motor's leads
        QCOMPARE(s.trials.size(), size_t(1));
        // Only the trigger moved: the drive is as it was.
        const auto t = stale(buildOf(*finished(b.car, 2)), buildOf(b.car), {b.car, b.catalogue});
        QVERIFY(t.calibrations.empty());
        QCOMPARE(t.partTests, std::vector<std::string>{"ranger"});
        const auto none = stale(buildOf(b.car), buildOf(b.car), {b.car, b.catalogue});
        QVERIFY(none.constants.empty() && none.partTests.empty() && none.trials.empty());
    }

    /// The wire moved, the program's pin did not.
    void aConstantThatStayedBehind()
    {
        Bench b;
        const auto before = buildOf(b.car);
        b.wire("driver.IN1").to = "board.D9";
        const auto s = stale(before, buildOf(b.car), {b.car, b.catalogue});
        QCOMPARE(s.constants.size(), size_t(1));
        QCOMPARE(s.constants[0].terminal, std::string("driver.IN1"));
        QCOMPARE(s.constants[0].before, std::string("D2"));
        QCOMPARE(s.constants[0].after, std::string("D9"));
        QVERIFY(s.constants[0].behind);
        b.car.programPins["driver.IN1"] = "D9"; // taken over
        QVERIFY(!stale(before, buildOf(b.car), {b.car, b.catalogue}).constants[0].behind);
    }

    void aChangedColourIsAStep()
    {
        Bench b;
        const auto before = b.car;
        b.wire("driver.IN1").colour = "pink";
        const auto r = rebuild(before, {b.car, b.catalogue});
        QCOMPARE(r.steps.size(), size_t(1));
        QVERIFY(r.steps[0].act == HandStep::Act::Recolour);
        QVERIFY(
            english(r.steps[0].text).starts_with("The wire from driver.IN1 to board.D2 is pink"));
    }
};

BADGER_TEST(TestHistory)
#include "test_history.moc"
