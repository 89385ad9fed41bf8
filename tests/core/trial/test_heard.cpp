// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/base/noise.h"
#include "core/trial/bench_runs.h"

using namespace badger;
using namespace badger::test;
using trial::Outcome;

class TestHeard final : public QObject
{
    Q_OBJECT
private slots:
    void readingsAreTheTrueDistanceAtTheRoomsSound()
    {
        Bench b;
        auto s = calm(b);
        for (const double air : {11.0, 24.0}) {
            s.floor.air_degC = air;
            const auto t = runIt(s, b.program);
            for (const auto &p : t.pings) {
                if (!p.decided || p.decision.echo_us == 0)
                    continue;
                // Echo times come in steps of 4 us, 0.7 mm.
                const double c = 331.3 * std::sqrt(1.0 + air / 273.15);
                COMPARE_NEAR(p.decision.echo_us * 1e-6 * c / 2.0, *p.true_m, 0.0008);
            }
        }
    }

    void beyondTheLimitThereIsNoEcho()
    {
        Bench b;
        const auto t = runIt(calm(b), b.program);
        QVERIFY(*t.pings.front().true_m > 1.2);
        QCOMPARE(t.pings.front().decision.echo_us, 0u);
    }

    void lostEchoesAreNoEchoes()
    {
        Bench b;
        auto s = calm(b);
        s.car.rangers[0].figures.lostEchoShare = 1.0;
        const auto t = runIt(s, b.program);
        QVERIFY(t.outcome == Outcome::Contact); // none counts as clear: it drives on
        b.reading().noEcho = rules::NoEcho::Stop;
        QVERIFY(runIt(s, b.program).outcome == Outcome::NeverMoved);
    }

    void insideTheDeadZoneTheReadingIsWrongNotZero()
    {
        Bench b;
        auto s = calm(b);
        s.floor.start.nose.x_m = 2.2 - 0.02;
        s.car.rangers[0].figures.deadZone_m = 0.05;
        const auto t = runIt(s, b.program);
        for (const auto &p : t.pings)
            if (p.decided) {
                QVERIFY(p.decision.number >= 5.0);
                QVERIFY(p.decision.number <= 10.0);
            }
    }

    void aHeldEchoLineIsWaitedFor()
    {
        // The module holds its line for 38 ms after a ping nobody answered. A program that pinged
        // again sooner would measure the rest of that pulse and take it for something near.
        Bench b;
        auto s = calm(b);
        s.floor.walls.clear();
        s.floor.width_m = 50.0;
        b.value("pause").si = 0.028;
        const auto t = runIt(s, b.program);
        QVERIFY(t.pings.size() > 20);
        for (size_t i = 0; i < t.pings.size(); ++i) {
            QVERIFY(!t.pings[i].decided || t.pings[i].decision.echo_us == 0);
            if (i > 0)
                QVERIFY(t.pings[i].sent_us - t.pings[i - 1].sent_us >= 38000);
        }
        b.value("pause").si = 0.058;
        const auto patient = runIt(s, b.program);
        for (const auto &p : patient.pings)
            QVERIFY(!p.decided || p.decision.echo_us == 0);
    }

    void slowPrintsLengthenThePass()
    {
        Bench b;
        b.program.prints = {true, 1200};
        const auto t = runIt(calm(b), b.program);
        // "ahead 0 drives" and line end: 16 characters of 10 bits at 1200 baud, 133.3 ms a pass
        // once the buffer is full.
        const auto &pings = t.pings;
        const auto gap = pings[12].sent_us - pings[11].sent_us;
        QVERIFY(gap > 133000 && gap < 134000);
    }
};

BADGER_TEST(TestHeard)
#include "test_heard.moc"
