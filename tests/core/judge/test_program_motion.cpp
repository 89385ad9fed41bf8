// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/judge/demo_cars.h"

using namespace badger;
using judge::ProgramAction;
using motion::Path;
using test::actions;
using test::Bench;

namespace
{

ProgramAction of(const std::vector<ProgramAction> &all, Path wanted)
{
    for (const auto &a : all)
        if (a.wanted == wanted)
            return a;
    qFatal("no such action");
}

} // namespace

class TestProgramMotion final : public QObject
{
    Q_OBJECT
private slots:
    void everyStateDoesWhatItMeans()
    {
        const Bench b;
        const auto all = actions(b);
        QCOMPARE(all.size(), b.program.states.size());
        QVERIFY(all.size() >= 2);
        for (const auto &a : all) {
            QVERIFY2(a.row >= 0, a.state.c_str());
            QVERIFY2(a.path == a.wanted, a.state.c_str());
        }
        (void)of(all, Path::Ahead);
        (void)of(all, Path::Held);
    }

    void crossedLeadsAreTakenFromTheDrawing()
    {
        // The drawing says which input is forward, so a crossed lead is followed.
        Bench b;
        std::swap(b.wire("right.A").from, b.wire("right.B").from);
        QVERIFY(of(actions(b), Path::Ahead).path == Path::Ahead);
    }

    void aMovedWireIsSeen()
    {
        // The program still uses the old pin: the wire now hangs on one that it leaves low.
        Bench b;
        b.wire("driver.IN1").to = "board.D9";
        const auto ahead = of(actions(b), Path::Ahead);
        QVERIFY(ahead.row >= 0);
        QVERIFY(ahead.path == Path::PivotLeft); // the left wheel is held
    }

    void swappedPinsAreSeen()
    {
        Bench b;
        std::swap(b.car.programPins["driver.IN1"], b.car.programPins["driver.IN2"]);
        QVERIFY(of(actions(b), Path::Ahead).path == Path::SpinLeft);
    }

    void whatIsNotKnownIsEmpty()
    {
        Bench b;
        b.car.programPins.clear();
        QVERIFY(actions(b).empty());
        Bench undriven;
        undriven.unwire("left.A");
        QVERIFY(actions(undriven).empty());
        const Bench turnstone("Turnstone");
        QVERIFY(actions(turnstone).empty()); // no board, no program
    }
};

BADGER_TEST(TestProgramMotion)
#include "test_program_motion.moc"
