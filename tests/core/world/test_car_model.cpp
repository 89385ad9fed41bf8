// SPDX-License-Identifier: GPL-3.0-or-later
// A car as the numbers of a run: what hangs on each pin, what the wheels do, what its sensors read.
#include "core/oncar/program_on_car.h"
#include "support/drive.h"

using namespace badger;
using motion::Turn;
using oncar::ProgramOnCar;
using test::Bench;

namespace
{

Result<ProgramOnCar> made(Bench &b)
{
    static std::vector<std::shared_ptr<judge::Course>> kept; // a program on a car looks at it
    kept.push_back(std::make_shared<judge::Course>(test::courseOf(b)));
    const auto &c = *kept.back();
    return ProgramOnCar::make({*c.car, c.catalogue}, *c.program, c.records);
}

const oncar::Pin &pin(const ProgramOnCar &on, const char *name)
{
    const int i = on.model().pin(name);
    if (i == oncar::none)
        qFatal("no pin %s", name);
    return on.model().pins[size_t(i)];
}

} // namespace

class TestCarModel final : public QObject
{
    Q_OBJECT
private slots:
    void whatHangsOnAPin()
    {
        Bench b;
        const auto on = made(b);
        VERIFY_OK(on);
        QCOMPARE(pin(*on, "D8").triggers, 0);
        QCOMPARE(pin(*on, "D12").echoes, 0);
        QCOMPARE(pin(*on, "D8").echoes, oncar::none);
        QCOMPARE(pin(*on, "D13").triggers, oncar::none);
        QVERIFY(pin(*on, "D5").by == pins::SpeedBy::Duty);
        QVERIFY(pin(*on, "D7").by == pins::SpeedBy::Steps);
        QVERIFY(on->model().rangers[0].powered);
    }

    /// The servo library takes the 16-bit timer: Curlew's D10 has no duty any more.
    void aTimerThatIsTaken()
    {
        Bench b("Curlew");
        const auto on = made(b);
        VERIFY_OK(on);
        QVERIFY(pin(*on, "D10").by == pins::SpeedBy::Steps);
        QVERIFY(pin(*on, "D6").by == pins::SpeedBy::Duty);
        QCOMPARE(pin(*on, "D4").turns, 0);
        QCOMPARE(on->model().rangers[0].servo, 0);
    }

    /// From the truth table of a bridge with two direction lines: both low holds, one high drives.
    void theRowsAreTheWires()
    {
        Bench b;
        const auto on = made(b);
        VERIFY_OK(on);
        const auto &w = on->model().wheels;
        QCOMPARE(w.rows.size(), size_t(16));
        const auto row = [&](std::map<std::string, int> high) {
            size_t n = 0;
            for (const auto &in : w.inputs)
                n = n * 2 + size_t(high.count(on->model().pins[size_t(in.of)].name));
            return w.rows[n].turn;
        };
        QVERIFY((row({{"D2", 1}, {"D7", 1}}) == std::array{Turn::Forward, Turn::Forward}));
        QVERIFY((row({{"D4", 1}, {"A0", 1}}) == std::array{Turn::Backward, Turn::Backward}));
        QVERIFY((row({{"D2", 1}, {"A0", 1}}) == std::array{Turn::Forward, Turn::Backward}));
        QVERIFY((row({}) == std::array{Turn::Brake, Turn::Brake}));
        // Each input moves the wheel of its own side alone.
        for (const auto &in : w.inputs)
            QVERIFY(in.moves[0] != in.moves[1]);
        QCOMPARE(on->model().pins[size_t(w.enable[0])].name, std::string("D5"));
        QCOMPARE(on->model().pins[size_t(w.enable[1])].name, std::string("D6"));
    }

    void aJumperedEnableHasNoPin()
    {
        Bench b;
        b.unwire("driver.ENA");
        b.instance("driver").jumpers = {"ENA"};
        const auto on = made(b);
        VERIFY_OK(on);
        QCOMPARE(on->model().wheels.enable[0], oncar::none);
        QVERIFY(on->pins().wheels[0].held);
        // Whatever count is asked, that wheel has one speed: it outruns the other, to the right.
        const auto run =
            test::driven(b, test::floorOf("straight", {{"distance", "6m"}}), test::quiet(2.0));
        QVERIFY(run.heading_deg(600000) < -20.0);
    }

    void theStripIsCountedFromTheLeft()
    {
        Bench b("Plover");
        const auto on = made(b);
        VERIFY_OK(on);
        const auto &eyes = on->model().eyes;
        QCOMPARE(eyes.size(), size_t(4));
        const double across[] = {0.018, 0.006, -0.006, -0.018};
        for (size_t i = 0; i < 4; ++i) {
            COMPARE_NEAR(eyes[i].at.y, across[i], 1e-12);
            QCOMPARE(pin(*on, ("A" + std::to_string(i)).c_str()).reads, int(i));
        }
        COMPARE_NEAR(eyes[0].at.x, b.car.geometry.axleToNose_m - 0.007, 1e-12);
    }

    /// Measured on the module that is fitted, the sense is what was measured; on another, its
    /// part's.
    void theSenseIsTheMeasuredOne()
    {
        Bench b("Dunlin");
        const auto on = made(b);
        VERIFY_OK(on);
        QVERIFY(on->model().eyes[0].highOnLight);
        QVERIFY(!on->model().eyes[1].highOnLight);
        b.instance("right-eye").partId = "infrared-light-high";
        const auto other = made(b);
        VERIFY_OK(other);
        QVERIFY(other->model().eyes[1].highOnLight);
    }

    void fourWheelsScrub()
    {
        Bench b("Redshank");
        for (auto &r : test::programOf(b).readings)
            r.noEcho = rules::NoEcho::Clear;
        const auto on = made(b);
        VERIFY_OK(on);
        COMPARE_NEAR(on->model().wheels.track_m, 1.5 * b.car.geometry.track_m, 1e-12);
    }

    void driveServosStandWhereTheyWereMeasured()
    {
        Bench b("Ruff");
        b.workshop.records.clear();
        const auto on = made(b);
        VERIFY_OK(on);
        QVERIFY(on->model().wheels.servos);
        QCOMPARE(pin(*on, "D2").pulses, 0);
        QCOMPARE(pin(*on, "D4").pulses, 1);
        QVERIFY(on->model().wheels.neutralSpread_us[0] > 0.0); // nobody measured it
        tune::Record r;
        r.id = {"neutral"};
        r.car = b.car.id;
        r.what = tune::What::Neutral;
        r.instance = "left";
        r.chosen = 1476.0;
        b.workshop.records.push_back(r);
        const auto known = made(b);
        VERIFY_OK(known);
        COMPARE_NEAR(known->model().wheels.neutral_us[0], 1476.0, 0.0);
        QCOMPARE(known->model().wheels.neutralSpread_us[0], 0.0);
        COMPARE_NEAR(known->pins().wheels[0].neutral_us, 1476.0, 0.0);
    }

    void decksAreOutlines()
    {
        Bench b;
        auto &g = b.car.geometry;
        g.deck = kit::DeckShape::Disc;
        g.discRadius_m = g.width_m / 2.0;
        g.length_m = g.width_m;
        const auto on = made(b);
        VERIFY_OK(on);
        const auto &o = on->model().outline;
        for (const auto &c : o.corners)
            COMPARE_NEAR(arena::length(c - o.middle), g.discRadius_m, 1e-9);
        // Convex, counter-clockwise.
        for (size_t i = 0; i < o.corners.size(); ++i) {
            const auto &p = o.corners[i];
            const auto &q = o.corners[(i + 1) % o.corners.size()];
            const auto &r = o.corners[(i + 2) % o.corners.size()];
            QVERIFY(arena::cross(q - p, r - q) >= -1e-12);
        }
    }

    void whatIsMissingIsNamed()
    {
        const auto refused = [](auto change) {
            Bench b;
            change(b);
            const auto on = made(b);
            return on ? std::string() : english(on.error().text());
        };
        QVERIFY(refused([](Bench &b) { b.instance("ranger").mount.reset(); }).find("ranger") !=
                std::string::npos);
        QVERIFY(refused([](Bench &b) { b.value("halt").si.reset(); }).find("not chosen yet") !=
                std::string::npos);
        QVERIFY(refused([](Bench &b) { b.car.programPins.erase("ranger.TRIG"); }).find("no pin") !=
                std::string::npos);
        QVERIFY(refused([](Bench &b) { b.unwire("left.A"); }).find("left") != std::string::npos);
        QVERIFY(refused([](Bench &) {}).empty());
    }
};

BADGER_TEST(TestCarModel)
#include "test_car_model.moc"
