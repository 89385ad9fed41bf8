// SPDX-License-Identifier: GPL-3.0-or-later
// A controller with its own motor ports: no driver, no direction wires, no enables.
#include "core/circuit/probe.h"
#include "core/judge/demo_cars.h"
#include "core/motion/motion.h"
#include "core/nets/drive_map.h"
#include "core/pins/speed_reach.h"

using namespace badger;
using judge::Station;
using motion::Path;
using test::actions;
using test::Bench;

namespace
{

/// The demo's first car, rebuilt around the controller: motors on ports 1 and 2.
void takeController(Bench &b)
{
    std::erase_if(b.car.parts, [](const kit::Instance &i) { return i.id == "driver"; });
    b.instance("board").partId = "controller-ports";
    for (auto &i : b.car.parts) {
        i.feeds.clear();
        i.drivenBy.clear();
    }
    b.car.wires.clear();
    for (const auto &[from, to, colour] :
         std::initializer_list<std::array<const char *, 3>>{{"pack.PLUS", "switch.IN", "red"},
                                                            {"switch.OUT", "board.VIN", "red"},
                                                            {"pack.MINUS", "board.GND", "black"},
                                                            {"board.5V", "ranger.VCC", "red"},
                                                            {"board.GND", "ranger.GND", "black"},
                                                            {"ranger.TRIG", "board.S1", "white"},
                                                            {"ranger.ECHO", "board.S2", "yellow"},
                                                            {"board.M1A", "left.A", "red"},
                                                            {"board.M1B", "left.B", "black"},
                                                            {"board.M2A", "right.B", "black"},
                                                            {"board.M2B", "right.A", "red"}})
        b.car.wires.push_back({from, to, colour, {}});
    b.car.programPins = {{"ranger.TRIG", "S1"}, {"ranger.ECHO", "S2"}};
    b.car.history.clear();
}

} // namespace

class TestMotorPorts final : public QObject
{
    Q_OBJECT
private slots:
    void nothingRightIsBlamed()
    {
        Bench b;
        takeController(b);
        const auto j = b.judge();
        for (const auto &f : j.all())
            QVERIFY2(f.severity != Severity::Error, english(f.what).c_str());
        QVERIFY(j.budget);
        // The simulated car drives and stops.
        QVERIFY(j.gate(Station::Floor).state == judge::GateState::Passed);
        // Its program is put together in a tool of its own, and is written as steps for that.
        QVERIFY(!test::find(j.rule.findings, "no-board-program"));
    }

    void everyPatternOfThePorts()
    {
        Bench b;
        takeController(b);
        const auto table = motion::motion({b.car, b.catalogue});
        QCOMPARE(table.inputs.size(), size_t(2));
        QCOMPARE(table.rows.size(), size_t(9)); // one way, stop, the other: twice
        const auto *ahead = motion::rowFor(table, Path::Ahead);
        QVERIFY(ahead && ahead->levels == (std::vector<int>{1, 1}));
        QVERIFY(motion::rowFor(table, Path::SpinLeft)->levels == (std::vector<int>{-1, 1}));
        QVERIFY(motion::rowFor(table, Path::Held)->levels == (std::vector<int>{0, 0}));
        // A motor's leads the other way round: its port has to be told the other way.
        b.turn("right.A", "right.B");
        const auto crossed = motion::motion({b.car, b.catalogue});
        QVERIFY(motion::rowFor(crossed, Path::Ahead)->levels == (std::vector<int>{1, -1}));
    }

    /// Whichever way round the leads are, what the program means is what the wheels do.
    void theProgramsActionsFollowTheWires()
    {
        for (const bool crossed : {false, true}) {
            Bench b;
            takeController(b);
            if (crossed)
                b.turn("left.A", "left.B");
            const auto all = actions(b);
            QCOMPARE(all.size(), b.program.states.size());
            for (const auto &a : all) {
                QVERIFY(a.possible && a.row >= 0);
                QVERIFY2(a.path == a.wanted, a.state.c_str());
            }
        }
    }

    void theNetworkDrivesThePorts()
    {
        Bench b;
        takeController(b);
        circuit::Probe p(b.car, b.catalogue);
        for (const auto &m : p.motors())
            COMPARE_NEAR(m.volts_V, 0.0, 0.01);
        circuit::Setting s;
        s.levels["board.M1A"] = circuit::Level::High;
        s.levels["board.M2B"] = circuit::Level::High;
        p.set(s);
        QVERIFY(p.solved());
        // 7.2 V less what the pack and 0.5 ohm take: left ahead, right back.
        QVERIFY(p.motors()[0].volts_V > 6.5 && p.motors()[1].volts_V < -6.5);
        QVERIFY(pins::speedReach(nets::Nets({b.car, b.catalogue}))[0].by == pins::SpeedBy::Duty);
    }

    void aPortTooWeak()
    {
        Bench b;
        takeController(b);
        auto own = *b.catalogue.find("controller-ports");
        own.figures["peak_A"] = {1.0, 1.0, 1.0, "a test"}; // two motors of 5 ohm: 1.2 A each
        b.workshop.parts.push_back(own);
        b.catalogue = io::catalogueOf(b.workshop);
        const auto j = b.judge();
        const auto *f = test::find(j.kit.findings.findings, "channel-over-peak");
        QVERIFY(f && f->severity == Severity::Error);
    }
};

BADGER_TEST(TestMotorPorts)
#include "test_motor_ports.moc"
