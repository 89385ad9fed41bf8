// SPDX-License-Identifier: GPL-3.0-or-later
#include "board/equal.h"

#include <QFile>
#include <QProcess>
#include <algorithm>
#include <cmath>
#include <fmt/format.h>
#include <fmt/ranges.h>
#include <random>

namespace badger::board
{

namespace
{

using machine::WheelOrder;
using rules::Source;

constexpr std::uint32_t wild_us = 38'000;
constexpr double rise_us = 60.0; ///< from the end of the trigger to the echo line

QString run(const QString &program, const QStringList &arguments)
{
    QProcess process;
    process.setProcessChannelMode(QProcess::MergedChannels);
    process.start(program, arguments);
    process.waitForFinished(120000);
    const auto output = QString::fromUtf8(process.readAll());
    return process.exitStatus() == QProcess::NormalExit && process.exitCode() == 0
               ? output
               : "failed: " + output;
}

int pinOf(const Compiled &of, const std::string &pin)
{
    return boardcode::pinNumber(of.wires.target, pin).value_or(-1);
}

/// The end of a feed, where a look finds nothing any more.
struct FeedEnds {
};

template <class T> T taken(std::vector<T> &from, size_t &next)
{
    if (next >= from.size())
        throw FeedEnds();
    return from[next++];
}

/// Entries of what was told, made the same way on both sides.
class Teller
{
public:
    explicit Teller(Account &to) : m_to(to) {}

    void tell(double time_us, std::vector<int> pins)
    {
        if (m_to.told.empty() || m_to.told.back().pins != pins)
            m_to.told.push_back({time_us, std::move(pins), m_to.passes});
    }

private:
    Account &m_to;
};

class ChipRun
{
public:
    ChipRun(const Compiled &of, const Feed &feed)
        : m_of(of), m_feed(feed), m_chip(of.kind, of.elf, of.symbols), m_teller(m_account)
    {
        for (const auto &[instance, pins] : of.wires.pings) {
            m_rangers[pinOf(of, pins.second)] = instance;
            m_chip.watch(pinOf(of, pins.first));
        }
        for (const auto &[reading, pin] : of.wires.inputs)
            m_readings[pinOf(of, pin)] = reading;
        for (const auto &[servo, pin] : of.wires.servos)
            m_pulses[pinOf(of, pin)] = 544 + 90 * 1856 / 180;
        if (of.wires.servoWheels) {
            m_pulses[pinOf(of, of.wires.left.pins.forward)] = int(of.wires.leftNeutral_us);
            m_pulses[pinOf(of, of.wires.right.pins.forward)] = int(of.wires.rightNeutral_us);
        }
        m_chip.onLevel = [this](int pin, bool high) { triggered(pin, high); };
        m_printing = of.program.prints.on; // its own name comes first: no print of the program's
    }

    Account account(double most_us)
    {
        hook(
            "wait_us",
            [this] {
                if (!m_inEcho && m_chip.reg32(22) != 0)
                    sample();
            },
            false);
        hook(
            "print_text", [this] { print(); }, false);
        hook("pass", [this] {
            sample();
            ++m_account.passes;
        });
        if (!m_of.wires.pings.empty())
            hook("echo_us", [this] { ping(); });
        hook(
            "analogue", [this] { analogue(); }, false);
        hook(
            "level", [this] { level(); }, false);
        hook(
            "received", [this] { key(); }, false);
        hook(
            "set_servo", [this] { m_pulses[m_chip.reg(24)] = m_chip.reg16(22); }, false);
        if (!m_account.error.empty())
            return m_account;
        if (!m_chip.run(most_us))
            m_account.error = fmt::format("the chip crashed after {:.0f} us", m_chip.now_us());
        else if (!m_ended)
            m_account.error = "the readings did not come to their end";
        m_account.printed = m_chip.sent;
        return m_account;
    }

private:
    void hook(const char *function, std::function<void()> what, bool needed = true)
    {
        const auto guarded = [this, what = std::move(what)] {
            if (m_ended)
                return;
            try {
                what();
            } catch (const FeedEnds &) {
                m_ended = true;
                m_chip.stop();
            }
        };
        if (!m_chip.onCall(function, guarded) && needed)
            m_account.error = fmt::format("the program has no function {}", function);
    }

    /// The pins at a moment that takes time. Before both wheels were made to stand nothing counts.
    void sample()
    {
        m_printing = false;
        std::vector<int> pins;
        const auto add = [&](const std::string &pin) {
            if (!pin.empty())
                pins.push_back(m_chip.duty(pinOf(m_of, pin)));
        };
        for (const auto *wheel : {&m_of.wires.left, &m_of.wires.right}) {
            if (m_of.wires.servoWheels) {
                pins.push_back(m_pulses[pinOf(m_of, wheel->pins.forward)]);
                continue;
            }
            add(wheel->pins.forward);
            add(wheel->pins.backward);
            add(wheel->pins.enable);
        }
        for (const auto &[servo, pin] : m_of.wires.servos)
            pins.push_back(m_pulses[pinOf(m_of, pin)]);
        for (const auto &[buzzer, pin] : m_of.wires.buzzers)
            add(pin);
        m_account.calls.push_back({m_chip.now_us(), false});
        m_teller.tell(m_chip.now_us(), std::move(pins));
    }

    /// The first text of a line: the rest of it is the same call.
    void print()
    {
        if (m_printing)
            return;
        sample();
        m_printing = true;
    }

    void ping()
    {
        sample();
        m_inEcho = true;
        m_account.calls.back().held = m_chip.now_us() < m_heldUntil_us[m_chip.reg(22)];
        const auto &ranger = m_rangers.at(m_chip.reg(22));
        auto it = m_feed.echoes_us.find(ranger);
        if (it == m_feed.echoes_us.end())
            throw FeedEnds();
        m_echo_us = taken(it->second, m_next["echo " + ranger]);
        m_timeOut_us = m_chip.reg32(18);
        m_echoPin = m_chip.reg(22);
        m_triggerPin = m_chip.reg(24);
        m_wasHigh = false;
        m_chip.onReturn([this, ranger] {
            m_inEcho = false;
            m_account.heard.echoes_us[ranger].push_back(m_chip.reg32(22));
        });
    }

    /// The end of the trigger pulse starts the echo. One that is not to come holds its line, too,
    /// as rangers do.
    void triggered(int pin, bool high)
    {
        if (pin != m_triggerPin)
            return;
        if (m_wasHigh && !high) {
            const double held_us = m_echo_us == 0 ? m_timeOut_us + 300.0 : m_echo_us;
            const int echo = m_echoPin;
            m_triggerPin = -1;
            m_heldUntil_us[m_echoPin] = m_chip.now_us() + rise_us + held_us;
            m_chip.after(rise_us, [this, echo] { m_chip.setInput(echo, true); });
            m_chip.after(rise_us + held_us, [this, echo] { m_chip.setInput(echo, false); });
        }
        m_wasHigh = high;
    }

    void analogue()
    {
        sample();
        const int pin = m_chip.reg(24);
        const auto &reading = m_readings.at(pin);
        const int counts = taken(m_feed.counts[reading], m_next["counts " + reading]);
        m_chip.setVoltage(pin, (counts + 0.5) * 5.0 / 1024.0);
        m_chip.onReturn(
            [this, reading] { m_account.heard.counts[reading].push_back(m_chip.reg16(24)); });
    }

    void level()
    {
        const int pin = m_chip.reg(24);
        const auto it = m_readings.find(pin);
        if (it == m_readings.end())
            return; // a ranger's line
        sample();
        const auto reading = it->second;
        const int high = taken(m_feed.levels[reading], m_next["level " + reading]);
        m_chip.setInput(pin, high != 0);
        m_chip.onReturn(
            [this, reading] { m_account.heard.levels[reading].push_back(m_chip.reg(24) != 0); });
    }

    /// The line itself has a test of its own; here the function's answer is given.
    void key()
    {
        sample();
        const char sign = taken(m_feed.keys, m_next["key"]);
        m_account.heard.keys.push_back(sign);
        m_chip.onReturn([this, sign] { m_chip.setReg(24, static_cast<std::uint8_t>(sign)); });
    }

    const Compiled &m_of;
    Feed m_feed;
    Account m_account;
    Chip m_chip;
    Teller m_teller;
    std::map<int, std::string> m_rangers, m_readings;
    std::map<int, int> m_pulses;
    std::map<std::string, size_t> m_next;
    std::uint32_t m_echo_us = 0, m_timeOut_us = 0;
    int m_echoPin = -1, m_triggerPin = -1;
    std::map<int, double> m_heldUntil_us; ///< by echo pin
    bool m_wasHigh = false, m_inEcho = false, m_printing = false, m_ended = false;
};

class ModelBoard final : public machine::Board
{
public:
    ModelBoard(const Compiled &of, const Account &chip, double sums_us)
        : m_of(of), m_heard(chip.heard), m_calls(chip.calls), m_sums_us(sums_us),
          m_teller(m_account)
    {
        for (size_t i = 0; i < of.wires.servos.size(); ++i)
            m_servos.push_back(544 + 90 * 1856 / 180);
        m_buzzers.assign(of.wires.buzzers.size(), 0);
    }

    Account account()
    {
        machine::Runner runner(m_of.machine, *this);
        try {
            runner.start();
            for (;;) {
                sample();
                ++m_account.passes;
                runner.pass();
            }
        } catch (const FeedEnds &) {
        }
        return m_account;
    }

    /// As late as the chip's next call: its sums before that are part of what went before.
    std::uint64_t now_us() const override
    {
        return m_call < m_calls.size()
                   ? std::max(m_now_us, static_cast<std::uint64_t>(m_calls[m_call].time_us))
                   : m_now_us;
    }
    void wait_us(std::uint64_t time_us) override
    {
        constexpr std::uint64_t leastPass_us = 20; // a pass without any call: no call of the chip's
        if (time_us == 0 || time_us == leastPass_us)
            return;
        sample();
        m_now_us += time_us;
    }
    machine::Echo ping(int sensor, double) override
    {
        sample();
        const auto &instance = m_of.program.readings[static_cast<size_t>(sensor)].instance;
        const auto echo = taken(m_heard.echoes_us[instance], m_next["echo " + instance]);
        m_now_us +=
            12 + (echo == 0 ? m_of.machine.sensors[static_cast<size_t>(sensor)].timeOut_us : echo);
        return {echo, {}};
    }
    int level(int sensor) override
    {
        sample();
        const auto &name = m_of.program.readings[static_cast<size_t>(sensor)].name;
        return taken(m_heard.levels[name], m_next["level " + name]);
    }
    int count(int sensor) override
    {
        sample();
        const auto &name = m_of.program.readings[static_cast<size_t>(sensor)].name;
        return taken(m_heard.counts[name], m_next["counts " + name]);
    }
    rules::Command key(int sensor) override
    {
        sample();
        const char sign = taken(m_heard.keys, m_next["key"]);
        const auto timeOut_us = m_of.machine.sensors[static_cast<size_t>(sensor)].keyTimeOut_us;
        if (sign != 0) {
            m_key = sign == 'a'   ? rules::Command::Ahead
                    : sign == 'b' ? rules::Command::Back
                    : sign == 'l' ? rules::Command::Left
                    : sign == 'r' ? rules::Command::Right
                                  : rules::Command::None;
            m_key_us = m_now_us;
        } else if (timeOut_us > 0 && m_now_us - m_key_us >= timeOut_us) {
            m_key = rules::Command::None;
        }
        return m_key;
    }
    void drive(const machine::Orders &orders) override { m_orders = orders; }
    void servo(int servo, double angle_deg) override
    {
        size_t place = 0; // the pins are in the order of their names
        const auto &name = m_of.machine.servos[static_cast<size_t>(servo)];
        for (const auto &[instance, pin] : m_of.wires.servos) {
            if (instance == name)
                m_servos[place] = static_cast<int>(544 + angle_deg * 1856 / 180);
            ++place;
        }
    }
    void buzz(bool on) override { std::fill(m_buzzers.begin(), m_buzzers.end(), on ? 255 : 0); }
    void beep(std::uint64_t time_us) override
    {
        std::fill(m_buzzers.begin(), m_buzzers.end(), 255);
        wait_us(time_us);
        std::fill(m_buzzers.begin(), m_buzzers.end(), 0);
    }
    void print(std::string_view, int) override
    {
        if (m_printing)
            return;
        sample();
        m_printing = true;
    }
    void entered(const machine::Mind &, const machine::Cause &) override {}

private:
    /// The clock goes on to the chip's time of the same call, and what it took so far is compared.
    void sample()
    {
        m_printing = false;
        if (m_call < m_calls.size()) {
            const auto &call = m_calls[m_call];
            const double due_us = static_cast<double>(m_now_us);
            const double late_us = call.time_us - due_us;
            const double took_us = due_us - m_last_us;
            if (!m_held)
                m_account.latest_us = std::max(m_account.latest_us, late_us);
            if (m_call > 0 && !m_held && m_account.error.empty() &&
                (late_us < -20.0 - took_us / 100.0 || late_us > m_sums_us + took_us / 100.0))
                m_account.error =
                    fmt::format("call {}: {:.0f} us were due, the chip took {:.0f} us", m_call,
                                took_us, late_us + took_us);
            m_held = call.held;
            m_now_us = static_cast<std::uint64_t>(call.time_us);
            m_last_us = call.time_us;
        }
        ++m_call;
        auto pins = wheelPins(m_of.wires, kit::Side::Left, m_orders.left);
        const auto right = wheelPins(m_of.wires, kit::Side::Right, m_orders.right);
        pins.insert(pins.end(), right.begin(), right.end());
        pins.insert(pins.end(), m_servos.begin(), m_servos.end());
        pins.insert(pins.end(), m_buzzers.begin(), m_buzzers.end());
        m_teller.tell(static_cast<double>(m_now_us), std::move(pins));
    }

    const Compiled &m_of;
    Feed m_heard;
    std::vector<Call> m_calls;
    double m_sums_us = 0.0, m_last_us = 0.0;
    size_t m_call = 0;
    bool m_printing = false;
    bool m_held = false; ///< the call before waited for an echo of before
    Account m_account;
    Teller m_teller;
    std::map<std::string, size_t> m_next;
    std::uint64_t m_now_us = 0, m_key_us = 0;
    rules::Command m_key = rules::Command::None;
    machine::Orders m_orders{{WheelOrder::Kind::Brake, 0}, {WheelOrder::Kind::Brake, 0}, false};
    std::vector<int> m_servos, m_buzzers;
};

std::string said(const std::vector<int> &pins)
{
    return fmt::format("{}", fmt::join(pins, " "));
}

/// "   text    data     bss ..." and the line below it.
void sizes(const QString &text, Compiled &to)
{
    const auto numbers = text.section('\n', 1, 1).split(' ', Qt::SkipEmptyParts);
    const auto columns = text.section('\n', 1, 1).split('\t', Qt::SkipEmptyParts);
    const auto &of = columns.size() >= 3 ? columns : numbers;
    if (of.size() < 3)
        return;
    to.bytes = of[0].trimmed().toInt() + of[1].trimmed().toInt();
    to.variables = of[1].trimmed().toInt() + of[2].trimmed().toInt();
}

} // namespace

std::vector<int> wheelPins(const boardcode::Wires &wires, kit::Side side, const WheelOrder &order)
{
    const bool left = side == kit::Side::Left;
    const bool turns = order.kind == WheelOrder::Kind::Turn;
    const auto &wheel = left ? wires.left : wires.right;
    if (wires.servoWheels)
        return {static_cast<int>(std::lround(left ? wires.leftNeutral_us : wires.rightNeutral_us)) +
                (left ? 1 : -1) * (turns ? order.counts * 200 / 255 : 0)};
    const auto &steady = order.kind == WheelOrder::Kind::Brake ? wires.brake : wires.coast;
    if (wheel.pins.enable.empty() && !wheel.held) {
        if (turns)
            return {std::max(0, order.counts), std::max(0, -order.counts)};
        return {steady.forward ? 255 : 0, steady.backward ? 255 : 0};
    }
    auto pins = turns ? std::vector<int>{order.counts > 0 ? 255 : 0, order.counts < 0 ? 255 : 0,
                                         std::abs(order.counts)}
                      : std::vector<int>{steady.forward ? 255 : 0, steady.backward ? 255 : 0,
                                         steady.enable ? 255 : 0};
    if (wheel.pins.enable.empty())
        pins.pop_back();
    return pins;
}

Result<Compiled> compiled(const rules::Program &program, const kit::Assembly &car,
                          boardcode::Writing writing, const std::string &folder)
{
    const auto code = boardcode::boardCode(program, car, writing);
    if (!code)
        return tl::unexpected(code.error());
    for (const auto &f : code->files) {
        QFile file(QString::fromStdString(folder + "/" + f.name));
        if (!file.open(QIODevice::WriteOnly))
            qFatal("cannot write %s", f.name.c_str());
        file.write(f.text.data(), qint64(f.text.size()));
    }
    Compiled to;
    to.program = writing.style ? boardcode::inStyle(program, *writing.style) : program;
    auto machine = machine::lower(to.program, writing.facts);
    if (!machine)
        return tl::unexpected(machine.error());
    to.machine = std::move(*machine);
    auto wires = boardcode::wiresFor(to.program, car, writing.facts.neutral_us);
    if (!wires)
        return tl::unexpected(wires.error());
    to.wires = std::move(*wires);
    const bool board = to.wires.target == boardcode::Target::Board;
    to.kind = board ? Kind::Board : Kind::Chip;
    const auto source = folder + "/" + code->files.front().name;
    to.elf = source + ".elf";
    // Functions stay functions, so that their calls can be watched; the code is what is shipped.
    QStringList flags{board ? "-mmcu=" BOARD_MCU : "-mmcu=" CHIP_MCU,
                      "-Os",
                      "-std=c++17",
                      "-Wall",
                      "-Wextra",
                      "-Werror",
                      "-fno-inline",
                      "-fno-optimize-sibling-calls",
                      "-fno-ipa-sra",
                      "-fno-ipa-cp",
                      "-fno-ipa-icf",
                      "-o",
                      QString::fromStdString(to.elf),
                      QString::fromStdString(source)};
    const auto done = run("avr-g++", flags);
    if (!done.isEmpty())
        return fail(Error::Kind::Malformed, Say(source), Say(done.toStdString()));
    to.symbols = run("avr-nm", {"-C", QString::fromStdString(to.elf)}).toStdString();
    sizes(run("avr-size", {QString::fromStdString(to.elf)}), to);
    return to;
}

Account onChip(const Compiled &of, const Feed &feed, double most_us)
{
    return ChipRun(of, feed).account(most_us);
}

Account onModel(const Compiled &of, const Account &chip, double sums_us)
{
    return ModelBoard(of, chip, sums_us).account();
}

std::string difference(const Account &chip, const Account &model)
{
    for (const auto &error : {chip.error, model.error})
        if (!error.empty())
            return error;
    const auto both = std::min(chip.told.size(), model.told.size());
    for (size_t i = 0; i < both; ++i) {
        const auto &a = chip.told[i];
        const auto &b = model.told[i];
        if (a.pins != b.pins)
            return fmt::format(
                "entry {} (pass {}): chip {} at {:.0f} us, interpreter {} at {:.0f} us", i,
                a.passes, said(a.pins), a.time_us, said(b.pins), b.time_us);
    }
    if (chip.told.size() != model.told.size()) {
        const auto &more = chip.told.size() > both ? chip.told[both] : model.told[both];
        return fmt::format(
            "{} entries on the chip, {} in the interpreter; the next is {} at {:.0f} us, "
            "pass {} of {} and {}",
            chip.told.size(), model.told.size(), said(more.pins), more.time_us, more.passes,
            chip.passes, model.passes);
    }
    if (chip.passes != model.passes)
        return fmt::format("{} passes on the chip, {} in the interpreter", chip.passes,
                           model.passes);
    return {};
}

Feed feedFor(const rules::Program &program, const machine::Machine &machine, std::uint32_t seed,
             int looks)
{
    std::mt19937 random(seed);
    const auto pick = [&](int least, int most) {
        return std::uniform_int_distribution<int>(least, most)(random);
    };
    const auto fill = [&](auto &list, auto make) {
        while (static_cast<int>(list.size()) < looks) {
            const auto value = make();
            for (int n = pick(1, 4); n > 0; --n)
                list.push_back(value);
        }
        list.resize(static_cast<size_t>(looks));
    };
    Feed feed;
    for (size_t i = 0; i < program.readings.size(); ++i) {
        const auto &r = program.readings[i];
        const auto &s = machine.sensors[i];
        std::vector<double> marks;
        for (const auto &v : program.values)
            if (v.si && (v.kind == rules::ValueKind::Distance || v.kind == rules::ValueKind::Count))
                marks.push_back(machine::constantOf(v, machine::lengthOf(program, r), false));
        if (r.source == Source::Ranger || r.source == Source::Scan) {
            const double most = s.timeOut_us * s.unitsPer_us;
            fill(feed.echoes_us[r.instance], [&]() -> std::uint32_t {
                double number = 0.0;
                switch (pick(0, 6)) {
                case 0:
                    return 0;
                case 1:
                    return pick(0, 3) == 0 ? wild_us : 0;
                case 2:
                    number = pick(0, 3) == 0 ? 1.0 : most - 1.0;
                    break;
                case 3:
                    number = pick(1, std::max(2, static_cast<int>(most)));
                    break;
                default:
                    number = marks.empty() ? pick(1, 200)
                                           : marks[static_cast<size_t>(
                                                 pick(0, static_cast<int>(marks.size()) - 1))] +
                                                 pick(-1, 1);
                }
                return static_cast<std::uint32_t>(std::max(20.0, (number + 0.5) / s.unitsPer_us));
            });
        } else if (r.source == Source::Digital) {
            fill(feed.levels[r.name], [&] { return pick(0, 1); });
        } else if (r.source == Source::Analogue) {
            fill(feed.counts[r.name], [&] {
                if (pick(0, 3) == 0)
                    return pick(0, 1) * 1023;
                if (marks.empty() || pick(0, 2) == 0)
                    return pick(0, 1023);
                return std::clamp(
                    static_cast<int>(
                        marks[static_cast<size_t>(pick(0, static_cast<int>(marks.size()) - 1))]) +
                        pick(-1, 1),
                    0, 1023);
            });
        } else if (r.source == Source::Key) {
            fill(feed.keys, [&] { return "ablr x\0\0"[pick(0, 7)]; });
        }
    }
    return feed;
}

} // namespace badger::board
