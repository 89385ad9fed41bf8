// SPDX-License-Identifier: GPL-3.0-or-later
// What a car with something wrong does on a floor, each expectation reasoned from the wires.
#include "core/faults/faults.h"
#include "core/world/words.h"
#include "support/drive.h"

using namespace badger;
using test::Bench;
using test::driven;
using test::floorOf;
using test::quiet;

namespace
{

test::Driven with(const char *car, std::vector<std::string> codes, double lasts_s,
                  const test::Choices &board = {{"distance", "1.6m"}, {"width", "3m"}})
{
    Bench b(car);
    auto course = test::courseOf(b);
    course.floor = std::make_shared<floor::Floor>(floorOf("straight", board));
    course.faults = std::move(codes);
    return driven(course, quiet(lasts_s));
}

} // namespace

class TestFaults final : public QObject
{
    Q_OBJECT
private slots:
    void swappedLeads()
    {
        const auto one = with("Avocet", {"left-leads-swapped"}, 3.0);
        QVERIFY(one.score().driven_m < 0.15); // on the spot, to the left
        const auto both = with("Avocet", {"left-leads-swapped", "right-leads-swapped"}, 3.0);
        QVERIFY(both.nose(3000000).x < -0.25);
        COMPARE_NEAR(both.heading_deg(3000000), 0.0, 1e-9);
    }

    void swappedSidesTurnTheOtherWay()
    {
        const auto right = with("Curlew", {}, 6.0, {{"distance", "80cm"}, {"width", "2m"}});
        const auto straight = with("Avocet", {"sides-swapped"}, 3.0);
        QVERIFY(straight.nose(3000000).x > 0.5);
        QVERIFY(right.score().moved);
    }

    /// R = b/2 · (v_r + v_l) / (v_r - v_l) = 0.065 · 0.456 / 0.024 = 1.235 m.
    void aSlowWheelBendsTheWay()
    {
        const auto run = with("Avocet", {"left-wheel-slow"}, 4.0);
        COMPARE_NEAR(run.heading_deg(4000000) * M_PI / 180.0, run.score().driven_m / 1.235, 0.03);
    }

    void aLooseEnable()
    {
        const auto run = with("Avocet", {"enable-loose"}, 3.0);
        // The left wheel stands: the middle goes half as fast, round it to the left.
        QVERIFY(run.heading_deg(500000) > 5.0);
        QVERIFY(run.score().driven_m < 0.45);
    }

    void threeTimesTheRollOut()
    {
        const auto a = with("Avocet", {}, 15.0);
        const auto b = with("Avocet", {"long-roll-out"}, 15.0);
        COMPARE_NEAR(*a.score().gap_m - *b.score().gap_m, 2.0 * 0.035, 2e-3);
    }

    void aLateServo()
    {
        const auto late =
            with("Curlew", {"servo-late"}, 8.0, {{"distance", "80cm"}, {"width", "2m"}});
        const auto moving = [](const test::Driven &d) {
            return std::any_of(d.trace().pings.begin(), d.trace().pings.end(),
                               [](const auto &p) { return p.wrong == world::Wrong::Moving; });
        };
        QVERIFY(moving(late));
        QVERIFY(!moving(with("Curlew", {}, 8.0, {{"distance", "80cm"}, {"width", "2m"}})));
    }

    void aDeafRangerDrivesOn()
    {
        for (const auto *code : {"trigger-echo-swapped", "ranger-unplugged"}) {
            const auto run = with("Avocet", {code}, 12.0);
            QVERIFY(run.trace().pings.empty());
            QVERIFY(!run.trace().touches.empty());
            QVERIFY(english(run.verdict()).starts_with("It touches once: its front touches board"));
        }
    }

    /// Every fault on every car of the demo: it drives, or says that the car cannot have it.
    void everyFaultOnEveryCar()
    {
        int drove = 0;
        for (const auto &car : test::demo().cars) {
            if (car.name == "Redshank")
                continue; // its program is not complete
            for (const auto &f : faults::all()) {
                Bench b(car.name);
                auto course = test::courseOf(b);
                course.faults = {f.code};
                const auto drive = judge::Drive::make(course, quiet(2.0));
                if (!drive) {
                    QVERIFY2(drive.error().kind == Error::Kind::Conflict,
                             english(drive.error().text()).c_str());
                    continue;
                }
                const auto run = (*drive)->run(1);
                QCOMPARE(run.trace.end_us <= 2000000, true);
                ++drove;
            }
        }
        QVERIFY(drove > 60);
    }

    void unknownFaultsAreNamed()
    {
        Bench b;
        auto course = test::courseOf(b);
        course.faults = {"gremlins"};
        const auto drive = judge::Drive::make(course, quiet());
        QVERIFY(!drive);
        QVERIFY(english(drive.error().text()).find("use one of: left-leads-swapped") !=
                std::string::npos);
        course.faults = {"servo-late"}; // Avocet has none
        QVERIFY(!judge::Drive::make(course, quiet()));
    }
};

BADGER_TEST(TestFaults)
#include "test_faults.moc"
