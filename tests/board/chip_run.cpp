// SPDX-License-Identifier: GPL-3.0-or-later
#include "board/accounts.h"

#include <algorithm>
#include <cmath>
#include <fmt/format.h>

namespace badger::board
{

namespace
{

using rules::Source;

constexpr double rise_us = 60.0; ///< from the end of the trigger to the echo line

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

} // namespace

Account onChip(const Compiled &of, const Feed &feed, double most_us)
{
    return ChipRun(of, feed).account(most_us);
}

} // namespace badger::board
