// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/edit/kit_edits.h"
#include "core/motion/motion.h"
#include "core/nets/drive_map.h"
#include "support/fixture.h"

using namespace badger;
using namespace badger::nets;
using namespace badger::motion;
using test::Bench;

namespace
{

const MotionRow &row(const MotionTable &t, const std::string &levels)
{
    for (const auto &r : t.rows) {
        std::string said;
        for (const int l : r.levels)
            said += l < 0 ? '-' : char('0' + l);
        if (said == levels)
            return r;
    }
    qFatal("no row %s", levels.c_str());
}

std::string words(const MotionTable &t, const std::string &levels)
{
    return motion::words(row(t, levels).path);
}

/// The demo's car without a board, its loose plug put in.
struct Turnstone : Bench {
    Turnstone() : Bench("Turnstone")
    {
        car.wires.push_back({"right-eye.OUT", "driver.IN10", "yellow"});
    }
    MotionTable table() const { return motion::motion({car, catalogue}); }
};

} // namespace

class TestMotion final : public QObject
{
    Q_OBJECT
private slots:
    void fourSensorPatterns()
    {
        const auto t = Turnstone().table();
        QCOMPARE(t.inputs.size(), size_t(2));
        QCOMPARE(t.inputs[0].name, std::string("left-eye"));
        QCOMPARE(t.inputs[0].levelName(1), std::string("light"));
        QCOMPARE(t.rows.size(), size_t(4));
        QCOMPARE(words(t, "11"), std::string("straight ahead"));
        QCOMPARE(words(t, "01"), std::string("pivots left about the left wheel"));
        QCOMPARE(words(t, "10"), std::string("pivots right about the right wheel"));
        QCOMPARE(words(t, "00"), std::string("brakes"));
        QVERIFY(t.notes.empty());
        QCOMPARE(row(t, "10").outputs,
                 (std::vector<std::string>{"OUT3 high, OUT6 low", "OUT11 tied, OUT14 tied"}));
    }

    void theLeadOfTheMirroredMotor()
    {
        Turnstone b; // crossed, as the demo has it: right
        QVERIFY(row(b.table(), "11").right == Turn::Forward);
        std::swap(b.wire("right.A").to, b.wire("right.B").to);
        const auto t = b.table();
        QVERIFY(row(t, "11").right == Turn::Backward);
        QCOMPARE(words(t, "11"), std::string("spins right on the spot"));
    }

    void aLoosePlug()
    {
        // The input floats: the right wheel does as it likes, and both cases are shown.
        const Bench b("Turnstone");
        const auto t = motion::motion({b.car, b.catalogue});
        QCOMPARE(t.inputs.size(), size_t(2));
        QVERIFY(t.inputs[1].floating && t.inputs[1].name == "IN10");
        QCOMPARE(words(t, "11"), std::string("straight ahead"));
        QCOMPARE(words(t, "10"), std::string("pivots right about the right wheel"));
        QCOMPARE(t.inputs[1].levelName(1), std::string("as if 1"));
        QVERIFY(t.notes.size() == 1 && english(t.notes[0]).starts_with("driver.IN10 floats"));
    }

    void aPullDownMakesALooseInputLow()
    {
        Bench b("Turnstone");
        const auto id = edit::addPart(b.car, b.catalogue, "pull-down-10k");
        b.car.wires.push_back({id + ".A", "driver.IN10", "yellow"});
        b.car.wires.push_back({id + ".B", "rail.MINUS", "black"});
        QVERIFY(row(motion::motion({b.car, b.catalogue}), "1").right == Turn::Brake);
    }

    void enableNineUnwired()
    {
        Bench b("Redshank");
        b.unwire("driver.EN9");
        const auto t = motion::motion({b.car, b.catalogue});
        for (const auto &r : t.rows)
            QVERIFY(r.right == Turn::Dead);
        QVERIFY(t.notes.size() == 1 && english(t.notes[0]).find("right") != std::string::npos);
        QCOMPARE(words(t, "1000"), std::string("curves right, the right wheel rolls along"));
    }

    void everyPatternOfTheDualBridge()
    {
        const Bench b;
        const auto t = motion::motion({b.car, b.catalogue});
        QCOMPARE(t.rows.size(), size_t(16));
        QCOMPARE(words(t, "1010"), std::string("straight ahead"));
        QCOMPARE(words(t, "0101"), std::string("straight back"));
        QCOMPARE(words(t, "0110"), std::string("spins left on the spot"));
        QCOMPARE(words(t, "1111"), std::string("brakes"));
        QVERIFY(rowFor(t, Path::SpinRight) == &row(t, "1001"));
        QVERIFY(!rowFor(t, Path::Rolls)); // with its enables high this driver never lets go
    }

    /// The program's forward levels, found in another way, are this table's "straight ahead".
    void agreesWithTheProgramsPins()
    {
        for (const auto *name : {"Avocet", "Curlew", "Dunlin", "Sanderling", "Redshank"}) {
            const Bench b(name);
            const auto t = motion::motion({b.car, b.catalogue});
            const auto *ahead = rowFor(t, Path::Ahead);
            QVERIFY2(ahead, name);
            for (const auto side : {kit::Side::Left, kit::Side::Right}) {
                const auto drive = wheelDrive({b.car, b.catalogue}, side);
                VERIFY_OK(drive);
                for (size_t i = 0; i < t.inputs.size(); ++i)
                    for (const auto &input : t.inputs[i].drives) {
                        if (input == drive->forward)
                            QCOMPARE(ahead->levels[i], 1);
                        if (input == drive->backward)
                            QCOMPARE(ahead->levels[i], 0);
                    }
            }
        }
    }

    void coastsWhereTheTruthTableSaysSo()
    {
        const Bench b("Whimbrel");
        const auto t = motion::motion({b.car, b.catalogue});
        QCOMPARE(words(t, "0000"), std::string("rolls out freely"));
        QCOMPARE(words(t, "1111"), std::string("brakes"));
    }

    void driveServosArePulsed()
    {
        const Bench b("Ruff");
        const auto t = motion::motion({b.car, b.catalogue});
        QCOMPARE(t.rows.size(), size_t(9));
        QCOMPARE(t.inputs[0].levelName(-1), std::string("short"));
        QCOMPARE(words(t, "1-"), std::string("straight ahead"));
        QCOMPARE(words(t, "00"), std::string("brakes"));
        QCOMPARE(words(t, "11"), std::string("spins right on the spot"));
    }

    void motorsOfOneSideThatFight()
    {
        Bench b("Redshank");
        std::swap(b.wire("left-front.A").to, b.wire("left-front.B").to);
        const auto t = motion::motion({b.car, b.catalogue});
        QVERIFY(row(t, "1010").left == Turn::Fights);
    }

    void everyPairOfTurnsHasWords()
    {
        for (int l = 0; l <= int(Turn::None); ++l)
            for (int r = 0; r <= int(Turn::None); ++r) {
                const auto p = pathOf(Turn(l), Turn(r));
                QVERIFY(*motion::words(p) && *arrow(p) && *name(Turn(l)));
            }
        QVERIFY(pathOf(Turn::Brake, Turn::Coast) == Path::Held);
        QVERIFY(pathOf(Turn::Dead, Turn::Forward) == Path::CurveLeft);
        QVERIFY(pathOf(Turn::Forward, Turn::None) == Path::Unsure);
    }

    void aDriverWithoutMotorsHasNoPatterns()
    {
        Bench b;
        b.car.wires.clear();
        const auto t = motion::motion({b.car, b.catalogue});
        QVERIFY(t.inputs.empty() && t.rows.empty());
    }

    void aCarWithNothingOnIt()
    {
        const Bench b;
        const auto t = motion::motion({kit::Car{}, b.catalogue});
        QVERIFY(t.inputs.empty() && t.rows.empty() && t.notes.empty());
    }

    // ---- after a bench test

    void nothingToMend()
    {
        const Bench b;
        QVERIFY(remedies({b.car, b.catalogue}, {}).empty());
    }

    void oneWheelBackward()
    {
        Bench b;
        const auto r = remedies({b.car, b.catalogue}, {Turn::Backward, Turn::Forward, false});
        QCOMPARE(r.size(), size_t(2));
        QVERIFY(r[0].best && r[0].wires &&
                english(r[0].what).find("leads of the left motor") != std::string::npos);
        QVERIFY(!r[1].best && !r[1].wires &&
                english(r[1].what).find("pins in the program") != std::string::npos);
        // The hand swaps the leads: the drawing was right all along.
        auto same = b.car;
        r[0].apply(same);
        QVERIFY(same == b.car);
        // The leads stay: the drawing takes them as they are, and forward is the other input.
        const auto before = wheelDrive({b.car, b.catalogue}, kit::Side::Left)->forward;
        r[1].apply(b.car);
        const auto after = wheelDrive({b.car, b.catalogue}, kit::Side::Left)->forward;
        QCOMPARE(before, std::string("driver.IN1"));
        QCOMPARE(after, std::string("driver.IN2"));
    }

    void bothWheelsBackward()
    {
        Bench b;
        const auto r = remedies({b.car, b.catalogue}, {Turn::Backward, Turn::Backward, false});
        QVERIFY(r[0].best && !r[0].wires); // nothing needs to be unscrewed
        r[0].apply(b.car);
        QCOMPARE(wheelDrive({b.car, b.catalogue}, kit::Side::Right)->forward,
                 std::string("driver.IN4"));
    }

    void leftAndRightExchanged()
    {
        Bench b;
        const auto r = remedies({b.car, b.catalogue}, {Turn::Forward, Turn::Forward, true});
        QCOMPARE(r.size(), size_t(2));
        r[0].apply(b.car);
        // The outputs that moved the right wheel forward are the right one's now.
        const auto t = motion::motion({b.car, b.catalogue});
        QCOMPARE(words(t, "1010"), std::string("straight ahead"));
        QCOMPARE(wheelDrive({b.car, b.catalogue}, kit::Side::Right)->forward,
                 std::string("driver.IN1"));
    }

    void aServoHasNoLeads()
    {
        const Bench b("Ruff");
        const auto r = remedies({b.car, b.catalogue}, {Turn::Backward, Turn::Forward, false});
        QCOMPARE(r.size(), size_t(1));
        QVERIFY(!r[0].apply && english(r[0].what).find("sign of the speed") != std::string::npos);
    }

    void crossedAndBackwardAtOnce()
    {
        const Bench b;
        const auto r = remedies({b.car, b.catalogue}, {Turn::Backward, Turn::Backward, true});
        QCOMPARE(r.size(), size_t(4));
        QVERIFY(r[0].best && r[1].best && !r[2].best);
    }

    void aDeadWheelIsNotHelpedBySwapping()
    {
        const Bench b;
        const auto r = remedies({b.car, b.catalogue}, {Turn::Forward, Turn::Dead, false});
        QCOMPARE(r.size(), size_t(1));
        QVERIFY(!r[0].apply &&
                english(r[0].what).find("right motor's supply") != std::string::npos);
    }
};

BADGER_TEST(TestMotion)
#include "test_motion.moc"
