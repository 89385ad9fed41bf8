// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/edit/kit_edits.h"
#include "core/edit/next_exercise.h"
#include "core/kit/mission.h"
#include "core/wiring/check.h"
#include "support/fixture.h"

using namespace badger;
using edit::nextExercise;
using test::Bench;

class TestNextExercise final : public QObject
{
    Q_OBJECT
private slots:
    void fromHaltToGlance()
    {
        // Avocet gets a pan servo: nothing has to move, since its speed lines are on D5 and D6.
        const Bench b;
        const auto next = nextExercise({b.car, b.catalogue}, "glance");
        VERIFY_OK(next);
        QVERIFY(next->plan.possible());
        QCOMPARE(next->plan.moves, 0);
        QCOMPARE(next->added, std::vector<std::string>{"servo"});
        QCOMPARE(next->car.instance("ranger")->carriedBy, std::string("servo"));
        QCOMPARE(next->rebuild.changes.moved.size(), size_t(0));
        QVERIFY(std::any_of(next->rebuild.changes.added.begin(), next->rebuild.changes.added.end(),
                            [](const kit::Wire &w) { return w.from == "servo.SIG"; }));
        QCOMPARE(next->car.wiringRevision, 4);
        QCOMPARE(next->rebuild.stale.constants.size(), size_t(1));
        for (const auto &need : kit::needs({next->car, b.catalogue}))
            QVERIFY2(need.met, english(need.what).c_str());
    }

    void speedLinesOffTheServosTimer()
    {
        Bench b;
        b.wire("driver.ENB").to = "board.D10";
        const auto next = nextExercise({b.car, b.catalogue}, "glance");
        VERIFY_OK(next);
        QCOMPARE(next->plan.moves, 1); // to a free PWM pin that the servo leaves alone
        const auto findings = wiring::check({next->car, b.catalogue}).findings;
        QVERIFY(!test::find(findings, "pwm-taken-by-servo"));
    }

    void theSameExerciseChangesNothing()
    {
        const Bench b;
        const auto next = nextExercise({b.car, b.catalogue}, "halt");
        VERIFY_OK(next);
        QVERIFY(next->car == b.car);
        QVERIFY(next->rebuild.steps.empty() && next->rebuild.changes.empty() &&
                next->added.empty());
    }

    void whatIsNotUsedStays()
    {
        const Bench b("Curlew");
        const auto next = nextExercise({b.car, b.catalogue}, "halt");
        VERIFY_OK(next);
        QVERIFY(next->cleared.empty());
        QVERIFY(next->rebuild.changes.removed.empty());
        QVERIFY(next->plan.possible());
    }

    /// From every demo car with a board to every behaviour: a plan whose pins are right, or a
    /// proof.
    void fromEveryCarToEveryExercise()
    {
        int planned = 0;
        for (const auto &car : test::demo().cars) {
            const Bench b(car.name);
            for (const auto &behaviour : kit::behaviours()) {
                const auto next = nextExercise({b.car, b.catalogue}, behaviour.key);
                if (!next) {
                    QVERIFY(!next.error().mend.empty());
                    continue;
                }
                if (!next->plan.possible()) {
                    QVERIFY(!next->plan.proof.empty());
                    continue;
                }
                ++planned;
                const auto found = wiring::check({next->car, b.catalogue}).findings;
                for (const auto *code :
                     {"pin-two-functions", "serial-pin-used", "speed-line-no-pwm",
                      "analogue-pin-needed", "program-pin-not-wired"})
                    QVERIFY2(!test::find(found, code),
                             (car.name + " to " + behaviour.key + ": " + code).c_str());
                auto w = b.workshop;
                *std::find_if(w.cars.begin(), w.cars.end(),
                              [&](const kit::Car &c) { return c.name == car.name; }) = next->car;
                VERIFY_OK(io::verify(w));
            }
        }
        QVERIFY(planned > 60);
    }

    void anUnknownExercise()
    {
        const Bench b;
        const auto next = nextExercise({b.car, b.catalogue}, "fly");
        QVERIFY(!next && english(next.error().text()).find("'fly'") != std::string::npos);
    }

    void supplyWiresForANewPart()
    {
        Bench b;
        const auto id = edit::addPart(b.car, b.catalogue, "infrared-light-high");
        const auto wires = edit::supplyWires({b.car, b.catalogue}, id);
        QCOMPARE(wires.size(), size_t(2));
        QCOMPARE(wires[0].from, std::string("board.5V"));
        QCOMPARE(wires[1].from, std::string("board.GND3")); // the one that is still free
        b.car.wires.insert(b.car.wires.end(), wires.begin(), wires.end());
        QVERIFY(edit::supplyWires({b.car, b.catalogue}, id).empty());
        QVERIFY(edit::supplyWires({b.car, b.catalogue}, "nobody").empty());
    }
};

BADGER_TEST(TestNextExercise)
#include "test_next_exercise.moc"
