// SPDX-License-Identifier: GPL-3.0-or-later
// What a car is said to be in one line, and where a hand goes next.
#include "core/firstpower/walk.h"
#include "core/judge/judge.h"
#include "core/mechanics/build.h"
#include "core/revisions/history.h"
#include "support/fixture.h"

#include <set>

using namespace badger;
using judge::GateState;
using judge::Station;
using test::Bench;

class TestHeadline final : public QObject
{
    Q_OBJECT
private slots:
    void headlines_data()
    {
        QTest::addColumn<int>("station");
        QTest::addColumn<QString>("sentence");
        QTest::newRow("kit") << 0
                             << "Avocet's parts go together: 0.52 m/s at full duty, 2.7 hours on "
                                "one charge.";
        QTest::newRow("wire") << 1 << "Avocet's 19 wires are right: 56 checks passed, no error.";
        QTest::newRow("tune")
            << 2 << "Avocet: the one measurement that it needs is there, and it holds.";
        QTest::newRow("rule")
            << 3 << "Avocet halts at 32 cm or nearer; at worst 25.9 cm are left at rest.";
        QTest::newRow("floor") << 4 << "Avocet: 5 of 5 simulated runs stop without contact.";
        QTest::newRow("log") << 5
                             << "Avocet left 27.5 cm on average in 3 runs; 25.9 cm at worst was "
                                "predicted.";
    }
    void headlines()
    {
        QFETCH(int, station);
        QFETCH(QString, sentence);
        Bench b;
        const auto h =
            judge::headline(Station(station), b.workshop, {b.car, b.catalogue}, b.judge());
        QCOMPARE(QString::fromStdString(english(h.sentence)), sentence);
        QVERIFY(!h.conditions.empty());
    }

    void headlineConditions()
    {
        Bench b;
        QCOMPARE(english(judge::headline(Station::Rule, b.workshop, {b.car, b.catalogue}, b.judge())
                             .conditions),
                 std::string("6 × NiMH cell at 7.2 V · 0.24 m/s · brake · air 22 °C · no echo "
                             "counts as clear"));
    }

    void headlinesSayWhatIsWrong()
    {
        Bench b;
        b.unwire("ranger.GND");
        b.value("halt").si.reset();
        b.workshop.trials.clear();
        const auto say = [&](Station s) {
            return judge::headline(s, b.workshop, {b.car, b.catalogue}, b.judge()).sentence;
        };
        QCOMPARE(english(say(Station::Wire)),
                 std::string("Avocet: 1 error to mend before power goes on."));
        QCOMPARE(english(say(Station::Rule)),
                 std::string("Avocet's program 'halt' is not complete."));
        QCOMPARE(english(say(Station::Floor)), std::string("Avocet cannot be driven yet."));
        QCOMPARE(english(say(Station::Log)),
                 std::string("Avocet has not been measured with this program."));
        b.value("halt").si = 0.05;
        QCOMPARE(english(say(Station::Rule)),
                 std::string("Avocet: At worst the car is 1.1 cm past the obstacle."));
    }

    /// From the first drill hole to the last reading: what is next follows what has been ticked.
    void theHandIsLedFromTheBuildToFirstPower()
    {
        Bench b("Godwit");
        const auto next = [&] { return b.judge().next; };
        QCOMPARE(english(next().title), std::string("Lay everything out."));
        for (const auto &step : mechanics::buildSteps({b.car, b.catalogue})) {
            for (const auto &item : step.before)
                b.car.ticks.push_back(item.key);
            b.car.ticks.push_back("step:" + step.key);
        }
        QCOMPARE(english(next().title), std::string("Wire it, one wire at a time: 0 of 19 done."));
        QVERIFY(next().station == judge::Station::Wire && !next().caution.empty());
        const nets::Nets nets({b.car, b.catalogue});
        for (const auto &s :
             revisions::handOrder(revisions::between({}, revisions::buildOf(b.car)), nets))
            b.car.ticks.push_back(s.key());
        QCOMPARE(english(next().title), std::string("Cells out, motors off the ground."));
        for (const auto &step : firstpower::walk({b.car, b.catalogue})) {
            const auto now = next();
            QCOMPARE(english(now.title), english(step.title) + ".");
            QCOMPARE(now.caution, step.caution);
            const double in = step.low ? *step.low : step.high.value_or(0.0);
            b.car.walk.push_back({step.key, in, true, b.car.wiringRevision, "2026-11-26", {}});
        }
        QVERIFY(next().station == judge::Station::Rule);
        // A wrong reading is said with what it means.
        b.car.walk[4].value = 1e6;
        b.car.walk[4].asExpected = false;
        const auto steps = firstpower::walk({b.car, b.catalogue});
        QCOMPARE(next().text, steps[4].fails);
        // A car that has been driven is not asked again.
        Bench driven;
        driven.car.ticks.clear();
        QVERIFY(driven.judge().next.station == judge::Station::Log);
    }

    /// Judged without its runs and given them later, a car is judged as at once.
    void runsMayComeLater()
    {
        Bench b;
        const auto now = judge::judge(b.workshop, {b.car, b.catalogue}, &b.floor);
        auto later = judge::judge(b.workshop, {b.car, b.catalogue}, &b.floor, judge::Runs::Later);
        QVERIFY(later.runsPending && later.runs.empty());
        QVERIFY(later.gate(Station::Floor).state == GateState::Open);
        QVERIFY(english(later.next.title) != "Look at the simulated runs.");
        judge::takeRuns(later, judge::driven(test::groundsOf(b), b.catalogue),
                        {b.car, b.catalogue});
        QVERIFY(!later.runsPending);
        QCOMPARE(later.runs.size(), now.runs.size());
        for (size_t i = 0; i < now.runs.size(); ++i)
            QCOMPARE(later.runs[i].fingerprint, now.runs[i].fingerprint);
        for (const auto s : judge::stations) {
            QVERIFY(later.gate(s).state == now.gate(s).state);
            QCOMPARE(later.gate(s).why, now.gate(s).why);
        }
        QVERIFY(later.next == now.next);
    }

    void everyFindingHasAStationThatShowsIt()
    {
        auto w = test::demo();
        std::set<judge::Station> shown;
        for (int bare = 0; bare < 2; ++bare)
            for (size_t i = 0; i < w.cars.size(); ++i) {
                auto &car = w.cars[i];
                car.program = w.programs.front().id;
                if (bare) { // more goes wrong with a car that lacks half of its wires
                    car.wires.resize(car.wires.size() / 2);
                    w.programs.front().values[0].si.reset();
                }
                const auto j =
                    judge::judge(w, {car, io::catalogueOf(w)}, nullptr, judge::Runs::Later);
                for (const auto &f : j.all()) {
                    const auto station = judge::stationOf(f.target());
                    QVERIFY2(station.has_value(), (f.code + " at " + f.target()).c_str());
                    shown.insert(*station);
                }
            }
        QCOMPARE(shown.size(), size_t(4)); // Kit, Wire, Tune and Rule
        QVERIFY(!judge::stationOf("") && !judge::stationOf("nothing:at.all"));
        for (size_t i = 0; i < judge::stations.size(); ++i)
            QVERIFY(judge::stationList()[i].station == judge::stations[i]);
    }
};

BADGER_TEST(TestHeadline)
#include "test_headline.moc"
