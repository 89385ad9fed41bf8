// SPDX-License-Identifier: GPL-3.0-or-later
// What a machine asks of its board, and in which order and time.
#include "core/machine/made.h"
#include "support/fixture.h"

using namespace badger;
using machine::Cause;
using machine::Orders;
using machine::WheelOrder;
using test::made;

namespace
{

/// A board that writes down what it is asked for, with the time in milliseconds.
class Noted final : public machine::Board
{
public:
    explicit Noted(const rules::Program &program) : m_program(program) {}

    std::uint64_t now_us() const override { return m_now_us; }
    void wait_us(std::uint64_t time_us) override
    {
        m_now_us += time_us;
        if (time_us >= 1000)
            note(QStringLiteral("wait %1").arg(double(time_us) / 1000.0));
    }
    machine::Echo ping(int sensor, double angle_deg) override
    {
        m_now_us += 2000;
        note(QStringLiteral("ping %1 at %2")
                 .arg(QString::fromStdString(m_program.readings[size_t(sensor)].name))
                 .arg(angle_deg));
        const auto it = distances.find(angle_deg);
        const double d = it == distances.end() ? distance : it->second;
        return d > 0.0 ? machine::Echo{1, d} : machine::Echo{};
    }
    int level(int) override { return pin; }
    int count(int) override { return 500; }
    rules::Command key(int) override { return pressed; }
    bool await(int) override
    {
        note(QStringLiteral("await"));
        return pressedEver;
    }
    void drive(const Orders &orders) override
    {
        note(QStringLiteral("wheels %1 %2").arg(orders.left.counts).arg(orders.right.counts));
    }
    void servo(int, double angle_deg) override { note(QStringLiteral("servo %1").arg(angle_deg)); }
    void beep(std::uint64_t time_us) override
    {
        m_now_us += time_us;
        note(QStringLiteral("beep"));
    }
    void print(std::string_view text, int) override
    {
        note("print " + QString::fromUtf8(text.data(), qsizetype(text.size())));
    }
    void entered(const machine::Mind &mind, const Cause &cause) override
    {
        note("enter " + QString::fromStdString(m_program.states[size_t(mind.mode)].name));
        lastCause = cause.kind;
    }

    QString take()
    {
        const auto all = m_notes.join("; ");
        m_notes.clear();
        return all;
    }

    bool pressedEver = true;
    double distance = 100.0; ///< not above 0: no echo
    std::map<double, double> distances;
    int pin = 0;
    rules::Command pressed = rules::Command::None;
    Cause::Kind lastCause = Cause::Kind::Start;

private:
    void note(const QString &text) { m_notes << text; }
    const rules::Program &m_program;
    QStringList m_notes;
    std::uint64_t m_now_us = 0;
};

struct Running {
    explicit Running(rules::Program p)
        : program(std::move(p)), machine(*machine::lower(program)), board(program),
          runner(machine, board)
    {
    }
    rules::Program program;
    machine::Machine machine;
    Noted board;
    machine::Runner runner;

    QString state() const
    {
        return QString::fromStdString(program.states[size_t(runner.mind().mode)].name);
    }
};

} // namespace

class TestRunner final : public QObject
{
    Q_OBJECT
private slots:
    /// Both wheels stand before anything else; then the start, then the first state.
    void itStandsFirst()
    {
        Running r(made("halt", {{"start", "beep"}, {"beep", "200ms"}}));
        r.runner.start();
        QCOMPARE(r.board.take(), QStringLiteral("wheels 0 0; beep; enter stands; wheels 0 0"));
        Running later(made("halt", {{"start", "delay"}, {"start-delay", "1.5s"}}));
        later.runner.start();
        QCOMPARE(later.board.take(),
                 QStringLiteral("wheels 0 0; wait 1500; enter stands; wheels 0 0"));
    }

    void aStateIsEnteredOnce()
    {
        Running r(made("halt"));
        r.runner.start();
        r.board.take();
        r.runner.pass();
        QCOMPARE(r.board.take(), QStringLiteral("ping ahead at 90; enter drives; wheels 140 140"));
        r.runner.pass();
        QCOMPARE(r.board.take(), QStringLiteral("ping ahead at 90"));
    }

    /// Where it says so, it acts again although it is there already.
    void itActsAgainWhereTheRuleSaysSo()
    {
        Running r(made("keep-station", {{"re-enter", "yes"}}));
        r.runner.start();
        r.runner.pass();
        r.board.take();
        r.runner.pass();
        QCOMPARE(r.board.take(),
                 QStringLiteral("ping ahead at 90; enter advances; wheels 140 140"));
    }

    /// To the right, to the left, and back for the next look ahead: three dwells.
    void aGlanceTurnsItsServoAndWaitsForIt()
    {
        Running r(made("glance", {{"dwell", "200ms"}, {"tie", "right"}}));
        r.runner.start();
        r.board.distance = 20.0;
        r.board.distances = {{30.0, 50.0}, {150.0, 90.0}};
        r.board.take();
        r.runner.pass();
        QCOMPARE(r.board.take(),
                 QStringLiteral("ping ahead at 90; enter looks; wheels 0 0; servo 30; wait 200; "
                                "ping right at 30; servo 150; wait 200; ping left at 150"));
        r.runner.pass();
        QCOMPARE(r.board.take(),
                 QStringLiteral("servo 90; wait 200; ping ahead at 90; enter turns left; "
                                "wheels -120 120; wait 400; enter drives; wheels 140 140"));
        QVERIFY(r.board.lastCause == Cause::Kind::WaitOver);
    }

    /// A sweep takes its angles one a pass, round and round.
    void aSweepTakesOneAngleAPass()
    {
        Running r(made("fan", {{"sweep-angles", "80,90,100"}, {"sweep-dwell", "60ms"}}));
        r.runner.start();
        r.board.take();
        QStringList angles;
        for (int i = 0; i < 6; ++i) {
            r.runner.pass();
            angles << r.board.take().section("at ", 1).section(';', 0, 0);
        }
        QCOMPARE(angles.join(' '), QStringLiteral("80 90 100 80 90 100"));
    }

    /// A timed wait lets the passes go on; its rules are asked when it is over.
    void aTimedWaitGoesOnReading()
    {
        Running r(made(
            "back-and-turn",
            {{"waits", "timed"}, {"back-time", "50ms"}, {"turn-time", "50ms"}, {"wait", "10ms"}}));
        r.runner.start();
        r.board.distance = 20.0;
        r.runner.pass();
        QCOMPARE(r.state(), QStringLiteral("backs"));
        QVERIFY(r.runner.waits());
        r.board.distance = 100.0;
        int passes = 0;
        while (r.state() == "backs" && passes < 50) {
            r.runner.pass();
            ++passes;
        }
        QCOMPARE(r.state(), QStringLiteral("turns"));
        QCOMPARE(passes, 5); // 12 ms each: 48 ms are not enough, 60 are
        while (r.runner.waits() && passes < 50) {
            r.runner.pass();
            ++passes;
        }
        QCOMPARE(r.state(), QStringLiteral("drives"));
    }

    /// A ring of blocking waits goes round, but a pass has an end.
    void aRingOfWaitsEndsItsPass()
    {
        auto p = made("back-and-turn");
        for (auto &s : p.states)
            if (s.name == "turns")
                s.wait->then = "backs";
        Running r(p);
        r.runner.start();
        r.board.distance = 20.0;
        for (int i = 0; i < 3; ++i)
            r.runner.pass();
        QVERIFY(r.board.now_us() > 2'000'000);
        QVERIFY(r.runner.waits());
    }

    void noEchoStopsWhereThePolicySaysSo()
    {
        Running r(made("halt", {{"no-echo", "stop"}}));
        r.runner.start();
        r.runner.pass();
        QCOMPARE(r.state(), QStringLiteral("drives"));
        r.board.distance = 0.0;
        r.runner.pass();
        QCOMPARE(r.state(), QStringLiteral("stands"));
        QVERIFY(r.board.lastCause == Cause::Kind::Stopped);
    }

    /// A standing look without an echo stops as well, where its own policy is to stop.
    void aLookWithoutAnEchoStops()
    {
        Running r(made("glance", {{"no-echo-look", "stop"}, {"tie", "right"}}));
        r.runner.start();
        r.board.distance = 20.0;
        r.board.distances = {{30.0, 0.0}, {150.0, 90.0}};
        r.runner.pass();
        QCOMPARE(r.state(), QStringLiteral("stands"));
        QVERIFY(r.board.lastCause == Cause::Kind::Stopped);
    }

    /// A proportion is told anew when it changes, and only then.
    void steeringIsToldWhenItChanges()
    {
        Running r(made("edge-glide"));
        r.runner.start();
        r.runner.pass();
        r.board.take();
        r.runner.pass();
        QVERIFY(!r.board.take().contains("wheels"));
    }

    void theLevelOfLightDecidesWhatIsSeen()
    {
        for (const char *level : {"1", "0"})
            for (const char *line : {"dark", "light"})
                for (const int pin : {0, 1}) {
                    Running r(made("straddle", {{"light-level", level}, {"line", line}}));
                    r.runner.start();
                    r.board.pin = pin;
                    r.runner.pass();
                    const bool light = QString::number(pin) == level;
                    const bool seen = light == (QString(line) == "light");
                    QCOMPARE(r.state(), seen ? QStringLiteral("stands") : QStringLiteral("drives"));
                }
    }

    void aPassAlwaysTakesTime()
    {
        Running r(made("straddle"));
        r.runner.start();
        for (int i = 0; i < 100; ++i) {
            const auto before = r.board.now_us();
            r.runner.pass();
            QVERIFY(r.board.now_us() > before);
        }
    }

    /// Nothing blocks: while the servo turns, passes go on without asking a rule; the same looks
    /// come in the same order as when it waits for them.
    void timedDoingsGoOnFromPassToPass()
    {
        const auto looks = [](const char *waits) {
            const auto program = made("glance", {{"waits", waits}, {"wait", "10ms"}});
            const auto m = machine::lower(program);
            if (!m)
                qFatal("not lowered");
            Noted board(program);
            board.distances = {{90.0, 20.0}, {30.0, 50.0}, {150.0, 80.0}};
            machine::Runner runner(*m, board);
            runner.start();
            while (board.now_us() < 3'000'000)
                runner.pass();
            return board.take();
        };
        const auto timed = looks("timed");
        const auto blocking = looks("blocking");
        QVERIFY2(blocking.contains("wait 300"), qPrintable(blocking));
        QVERIFY2(!timed.contains("wait 300") && !timed.contains("wait 400"), qPrintable(timed));
        QVERIFY2(timed.count("wait 10") > 150, qPrintable(timed));
        // Without the pauses, and the pings ahead while a wait runs, both are one account.
        const auto told = [](QString text) {
            QStringList all;
            for (const auto &note : text.split("; "))
                if (!note.startsWith("wait") && note != "ping ahead at 90")
                    all << note;
            return all.mid(0, 14);
        };
        QCOMPARE(told(timed), told(blocking));
        QCOMPARE(told(timed).filter("enter").mid(0, 4),
                 (QStringList{"enter drives", "enter looks", "enter turns left", "enter drives"}));
    }
};

BADGER_TEST(TestRunner)
#include "test_runner.moc"
