// SPDX-License-Identifier: GPL-3.0-or-later
// A program as the firmware of a simulated car.
#include "core/machine/firmware.h"
#include "support/fixture.h"

using namespace badger;
using rules::WheelCommand;
using test::Bench;

namespace
{

/// A board whose echoes are a list, and which writes down what it was told.
class ScriptedBoard final : public rules::Board
{
public:
    explicit ScriptedBoard(std::vector<std::uint32_t> echoes) : m_echoes(std::move(echoes)) {}

    std::uint64_t now_us() const override { return m_now; }
    void wait_us(std::uint64_t t) override { m_now += t; }
    std::uint32_t ping_us(std::string_view, std::uint32_t timeOut) override
    {
        const auto echo = m_next < m_echoes.size() ? m_echoes[m_next++] : 0;
        m_now += echo ? echo : timeOut;
        return echo;
    }
    void drive(WheelCommand left, WheelCommand right) override { driven.emplace_back(left, right); }
    void print(std::string_view text, int) override { printed += text; }
    void note(const rules::Decision &d) override { notes.push_back(d); }

    std::vector<std::pair<WheelCommand, WheelCommand>> driven;
    std::string printed;
    std::vector<rules::Decision> notes;

private:
    std::vector<std::uint32_t> m_echoes;
    size_t m_next = 0;
    std::uint64_t m_now = 0;
};

constexpr std::uint32_t far_us = 4000;  // 68.9 cm at 22 degrees
constexpr std::uint32_t near_us = 1740; // 29.96 cm
const WheelCommand braked{WheelCommand::Kind::Brake, 0};
const WheelCommand forward{WheelCommand::Kind::Turn, 140};

} // namespace

class TestFirmware final : public QObject
{
    Q_OBJECT
private slots:
    void stopsFirstThenDrivesThenStops()
    {
        Bench b;
        ScriptedBoard board({far_us, far_us, near_us, near_us});
        machine::ProgramFirmware program(b.program);
        program.start(board);
        QCOMPARE(board.driven.size(), size_t(2)); // both wheels stand first, then as the state says
        QVERIFY(board.driven[0].first == braked && board.driven[0].second == braked);
        for (int i = 0; i < 4; ++i)
            program.pass(board);
        QCOMPARE(board.driven.size(), size_t(4)); // a command only where the state changes
        QVERIFY(board.driven[2].first == forward && board.driven[2].second == forward);
        QVERIFY(board.driven[3].first == braked);
        QCOMPARE(board.notes.size(), size_t(4));
        QCOMPARE(board.notes[2].number, 29.0);
        QCOMPARE(board.notes[2].rule, std::string("near"));
        QCOMPARE(english(board.notes[2].why), std::string("stands, braked: 29 ≤ 32, rule 'near'"));
    }

    void passesTakeTheirTime()
    {
        Bench b;
        ScriptedBoard board({far_us, 0});
        machine::ProgramFirmware program(b.program);
        program.start(board);
        program.pass(board);
        QCOMPARE(board.now_us(), std::uint64_t(4000 + 58000));
        program.pass(board);
        QCOMPARE(board.now_us(), std::uint64_t(62000 + 6969 + 58000));
    }

    void aTimedPauseIsABeat()
    {
        Bench b;
        b.program.passWaitKind = rules::WaitKind::Timed;
        ScriptedBoard board({far_us, 0, far_us});
        machine::ProgramFirmware program(b.program);
        program.start(board);
        for (int i = 1; i <= 3; ++i) {
            program.pass(board);
            QCOMPARE(board.now_us(), std::uint64_t(58000) * std::uint64_t(i));
        }
        // A beat shorter than the work does not save up lost time.
        b.value("pause").si = 0.001;
        ScriptedBoard slow({far_us, far_us});
        machine::ProgramFirmware hurried(b.program);
        hurried.start(slow);
        hurried.pass(slow);
        hurried.pass(slow);
        QCOMPARE(slow.now_us(), std::uint64_t(8000));
    }

    void aPassAlwaysTakesTime()
    {
        Bench b;
        b.program.readings.clear();
        b.program.everywhere = {{"always", {}, "drives", true}};
        b.program.passWait.clear();
        ScriptedBoard board({});
        machine::ProgramFirmware program(b.program);
        program.start(board);
        program.pass(board);
        QVERIFY(board.now_us() > 0);
    }

    void waitsBlockingAndTimed_data()
    {
        QTest::addColumn<bool>("blocking");
        QTest::newRow("blocking") << true;
        QTest::newRow("timed") << false;
    }
    void waitsBlockingAndTimed()
    {
        QFETCH(bool, blocking);
        // retreat: near -> backs for 200 ms -> stands
        Bench b;
        b.program.values.push_back({"away", "back for", rules::ValueKind::Duration, 0.2});
        b.program.states.push_back(
            {"backs",
             {rules::Wheels::Drive, {-1, "speed"}, {-1, "speed"}},
             rules::Wait{"away", blocking ? rules::WaitKind::Blocking : rules::WaitKind::Timed,
                         "stands"},
             {}});
        b.program.everywhere[0].go = "backs";
        QVERIFY(rules::broken(b.program).empty());
        ScriptedBoard board({near_us, near_us, near_us, near_us, near_us, far_us, far_us});
        machine::ProgramFirmware program(b.program);
        program.start(board);
        program.pass(board);
        QCOMPARE(board.driven[2].first.pwm_counts, -140);
        if (blocking) {
            // The wait is over within the pass, and nothing was read meanwhile.
            QVERIFY(board.now_us() >= 200000);
            QCOMPARE(program.state(), std::string("stands"));
            QCOMPARE(board.notes.size(), size_t(1));
        } else {
            QCOMPARE(program.state(), std::string("backs"));
            int passes = 0;
            while (program.state() == "backs" && passes < 20) {
                program.pass(board);
                ++passes;
            }
            // 200 ms at about 60 ms a pass: still read, but not decided, three more times
            QCOMPARE(program.state(), std::string("stands"));
            QVERIFY(passes >= 2 && passes <= 4);
        }
    }

    void printsOneLineAPass()
    {
        Bench b;
        b.program.prints = {true, 9600};
        ScriptedBoard board({far_us, 0});
        machine::ProgramFirmware program(b.program);
        program.start(board);
        program.pass(board);
        program.pass(board);
        QCOMPARE(board.printed, std::string("ahead 68 drives\r\nahead 0 drives\r\n"));
    }

    void commandsOfMotions()
    {
        using rules::Wheels;
        const auto of = [&](const rules::Motion &m) {
            Bench b;
            b.program.states[0].motion = m;
            ScriptedBoard board({far_us});
            machine::ProgramFirmware program(b.program);
            program.start(board);
            return board.driven.back();
        };
        QVERIFY(of({Wheels::Coast, {}, {}}).first.kind == WheelCommand::Kind::Coast);
        QVERIFY(of({Wheels::Brake, {}, {}}).second == braked);
        const auto pivot = of({Wheels::Drive, {0, ""}, {1, "speed"}});
        QVERIFY(pivot.first == braked && pivot.second == forward);
        QCOMPARE(of({Wheels::Drive, {-1, "speed"}, {1, "speed"}}).first.pwm_counts, -140);
    }

    void aRuleThatGoesOnDrivesBoth()
    {
        Bench b;
        b.program.everywhere[1].endsPass = false;
        b.program.everywhere.push_back({"late", {}, "stands", true});
        ScriptedBoard board({far_us});
        machine::ProgramFirmware program(b.program);
        program.start(board);
        program.pass(board);
        QCOMPARE(board.driven.size(), size_t(4)); // stop first, drives, stands
        QVERIFY(board.driven[2].first == forward);
        QVERIFY(board.driven[3].first == braked);
    }
};

BADGER_TEST(TestFirmware)
#include "test_firmware.moc"
