// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/machine/play.h"

#include "core/machine/words.h"
#include "core/rules/key_words.h"
#include "core/rules/pass_time.h"

#include <algorithm>
#include <charconv>
#include <cmath>

namespace badger::machine
{

namespace
{

using rules::Source;

constexpr std::uint64_t trigger_us = 12; ///< 2 us low, 10 us high
constexpr std::uint32_t wildEcho_us = 38'000;
constexpr double bufferCharacters = 64.0;

bool isMade(const rules::Reading &r)
{
    return r.source == Source::Pick || r.source == Source::Difference;
}

/// The board of readings that were written down.
class Written final : public Board
{
public:
    Written(const rules::Program &program, const Machine &machine, const std::vector<Given> &given)
        : m_program(program), m_machine(machine), m_given(given),
          m_columns(columns(program, machine)), m_first(machine.sensors.size(), 0)
    {
        for (size_t i = m_columns.size(); i-- > 0;)
            m_first[static_cast<size_t>(m_columns[i].sensor)] = i;
    }

    std::uint64_t now_us() const override { return m_now_us; }
    void wait_us(std::uint64_t time_us) override { m_now_us += time_us; }

    Echo ping(int sensor, double angle_deg) override
    {
        const auto &s = m_machine.sensors[static_cast<size_t>(sensor)];
        auto column = m_first[static_cast<size_t>(sensor)];
        if (s.source == Source::Scan)
            for (int i = 0; i < s.angles.count; ++i)
                if (m_machine.angles_deg[static_cast<size_t>(s.angles.first + i)] == angle_deg)
                    column += static_cast<size_t>(i);
        const auto &heard = now().heard[column];
        const auto echo = echoOf(s, heard);
        m_now_us += trigger_us + (echo.time_us == 0 ? s.timeOut_us : echo.time_us);
        return echo;
    }

    int level(int sensor) override
    {
        const auto &s = m_machine.sensors[static_cast<size_t>(sensor)];
        const bool seen = number(sensor) != 0.0;
        return seen ? s.seenLevel : 1 - s.seenLevel;
    }
    int count(int sensor) override { return static_cast<int>(std::lround(number(sensor))); }
    rules::Command key(int sensor) override
    {
        return static_cast<rules::Command>(std::clamp(static_cast<int>(number(sensor)), 0, 4));
    }

    bool await(int sensor) override
    {
        constexpr std::uint64_t look_us = 1000;
        while (number(sensor) == 0.0) {
            if (m_row + 1 == m_given.size())
                return false;
            m_now_us += look_us;
        }
        return true;
    }

    void drive(const Orders &orders) override
    {
        m_orders = orders;
        tell();
    }
    void servo(int servo, double angle_deg) override
    {
        if (servo == 0)
            m_servo_deg = angle_deg;
        tell();
    }
    void beep(std::uint64_t time_us) override { m_now_us += time_us; }

    void print(std::string_view text, int baud) override
    {
        const auto characters =
            text.empty() ? rules::printedCharacters(m_program) : static_cast<int>(text.size()) + 2;
        const double each_us = 10.0 / baud * 1e6;
        const auto now = static_cast<double>(m_now_us);
        m_sent_us = std::max(m_sent_us, now) + characters * each_us;
        const double ready_us = m_sent_us - bufferCharacters * each_us;
        if (ready_us > now)
            m_now_us = static_cast<std::uint64_t>(std::llround(ready_us));
    }

    void entered(const Mind &mind, const Cause &cause) override
    {
        m_mode = mind.mode;
        m_why = machine::why(m_program, m_machine, mind, cause);
    }

    std::vector<Told> take() { return std::move(m_told); }

private:
    const Given &now()
    {
        while (m_row + 1 < m_given.size() && m_given[m_row + 1].time_us <= m_now_us)
            ++m_row;
        return m_given[m_row];
    }
    double number(int sensor)
    {
        const auto &heard = now().heard[m_first[static_cast<size_t>(sensor)]];
        return heard.kind == Heard::Kind::Number ? heard.number : 0.0;
    }

    Echo echoOf(const Sensor &s, const Heard &heard) const
    {
        if (heard.kind == Heard::Kind::None || s.unitsPer_us <= 0.0)
            return {};
        if (heard.kind == Heard::Kind::Wild)
            return {wildEcho_us <= s.timeOut_us ? wildEcho_us : 0, {}};
        // 0, and what is cut to it, is what the board takes for no echo, or for too near.
        // A fraction is kept as the board keeps it: what is typed like a limit is the limit.
        const double typed = s.whole ? std::trunc(heard.number) : kept(m_machine, heard.number);
        const auto flight_us = std::ceil(heard.number / s.unitsPer_us);
        if ((typed <= 0.0 && !s.nearest) || flight_us > s.timeOut_us)
            return {};
        const auto time_us = static_cast<std::uint32_t>(std::max(1.0, flight_us));
        if (s.shortTime && time_us > 32'767)
            return {time_us, {}};
        return {time_us, typed};
    }

    void tell()
    {
        const Told told{m_now_us, m_mode, m_orders,
                        m_machine.servos.empty() ? std::nullopt : std::optional(m_servo_deg),
                        m_why};
        // That both wheels stand first is said where the start takes time.
        if (m_told.size() == 1 && m_told.front().time_us == told.time_us && !m_begun)
            m_told.clear();
        m_begun |= !m_told.empty();
        if (!m_told.empty() && m_told.back().mode == told.mode &&
            m_told.back().orders == told.orders && m_told.back().servo_deg == told.servo_deg)
            return;
        m_told.push_back(told);
    }

    const rules::Program &m_program;
    const Machine &m_machine;
    const std::vector<Given> &m_given;
    std::vector<Column> m_columns;
    std::vector<size_t> m_first; ///< column, by sensor
    std::vector<Told> m_told;
    std::uint64_t m_now_us = 0;
    double m_sent_us = 0.0;
    bool m_begun = false;
    size_t m_row = 0;
    int m_mode = 0;
    Orders m_orders;
    double m_servo_deg = ahead_deg;
    Say m_why = say("both wheels stand first");
};

} // namespace

std::vector<Column> columns(const rules::Program &program, const Machine &machine)
{
    std::vector<Column> all;
    for (size_t i = 0; i < program.readings.size(); ++i) {
        const auto &r = program.readings[i];
        const int sensor = static_cast<int>(i);
        if (isMade(r))
            continue;
        if (r.source != Source::Scan) {
            all.push_back({r.name, sensor, -1});
            continue;
        }
        const auto &angles = machine.sensors[i].angles;
        for (int k = 0; k < angles.count; ++k)
            all.push_back(
                {"at-" + units::plain(machine.angles_deg[static_cast<size_t>(angles.first + k)], 2),
                 sensor, k});
    }
    return all;
}

Result<Heard> heardOf(const rules::Program &program, const Column &column, const std::string &text)
{
    const auto &r = program.readings[static_cast<size_t>(column.sensor)];
    const auto wrong = [&](Say mend) {
        return fail(Error::Kind::Malformed, say("column '{}'", column.name),
                    say("'{}' is no reading of it", text), std::move(mend));
    };
    if (r.source == Source::Key) {
        for (size_t k = 0; k < rules::commandWords.size(); ++k)
            if (text == rules::commandWords[k])
                return Heard{Heard::Kind::Number, static_cast<double>(k)};
        return wrong(say("use none, ahead, back, left or right"));
    }
    if (r.source == Source::Digital || r.source == Source::Button) {
        const bool dark = r.seeks == rules::Shade::Dark;
        if (text == "1" || (r.source == Source::Digital && text == (dark ? "dark" : "light")))
            return Heard{Heard::Kind::Number, 1.0};
        if (text == "0" || (r.source == Source::Digital && text == (dark ? "light" : "dark")))
            return Heard{Heard::Kind::Number, 0.0};
        return r.source == Source::Button
                   ? wrong(say("use 1 while it is pressed, else 0"))
                   : wrong(say("use 1 where it sees what it seeks, else 0; or light, dark"));
    }
    const bool echo = r.source == Source::Ranger || r.source == Source::Scan;
    if (echo && text == "none")
        return Heard{Heard::Kind::None, 0.0};
    if (echo && text == "wild")
        return Heard{Heard::Kind::Wild, 0.0};
    if (!text.empty() && lengthOf(program, r) &&
        std::isdigit(static_cast<unsigned char>(text.front())) &&
        std::isalpha(static_cast<unsigned char>(text.back())))
        return units::parse(text, units::Dimension::Length, "column '" + column.name + "'")
            .map([&](double si) {
                return Heard{Heard::Kind::Number, units::fromSi(si, r.unit)};
            });
    double number = 0.0;
    const auto *end = text.data() + text.size();
    const auto read = std::from_chars(text.data(), end, number);
    if (read.ec != std::errc() || read.ptr != end || !std::isfinite(number) || number < 0.0)
        return wrong(echo ? say("use a number in {}, none or wild", units::info(r.unit).symbol)
                          : say("use a count from 0 to 1023"));
    if (!echo && (number > 1023.0 || number != std::trunc(number)))
        return wrong(say("use a count from 0 to 1023"));
    return Heard{Heard::Kind::Number, number};
}

std::vector<Told> play(const rules::Program &program, const Machine &machine,
                       const std::vector<Given> &given)
{
    constexpr std::uint64_t longest_us = 600'000'000; // a ring of timed waits has no end of its own
    Written board(program, machine, given);
    Runner runner(machine, board);
    runner.start();
    const auto last_us = given.back().time_us;
    // With the last readings it goes on until nothing follows from them any more, or what follows
    // begins to go round. A rule that counts or waits has its passes and its time.
    int patience = 1;
    std::uint64_t time_us = last_us;
    for (const auto &a : machine.asks) {
        if (a.test == rules::Test::Lost)
            patience = std::max(patience, static_cast<int>(a.constant));
        if (a.test == rules::Test::Since)
            time_us = std::max(time_us, last_us + static_cast<std::uint64_t>(a.constant));
        patience = std::max(patience, a.times);
    }
    std::vector<bool> been(machine.modes.size(), false);
    for (int quiet = 0;;) {
        const bool last = board.now_us() >= last_us;
        const int before = runner.mind().mode;
        if (last)
            been[static_cast<size_t>(before)] = true;
        runner.pass();
        const int now = runner.mind().mode;
        if (board.now_us() > last_us + longest_us)
            break;
        if (!last || runner.waits())
            continue;
        quiet = now == before ? quiet + 1 : 0;
        if (now != before && been[static_cast<size_t>(now)])
            break;
        if (quiet >= patience && board.now_us() >= time_us)
            break;
    }
    return board.take();
}

} // namespace badger::machine
