// SPDX-License-Identifier: GPL-3.0-or-later
#include "board/accounts.h"

#include <algorithm>
#include <cmath>
#include <fmt/format.h>

namespace badger::board
{

using machine::WheelOrder;

namespace
{

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
    bool await(int sensor) override
    {
        const int pressed = m_of.machine.sensors[static_cast<size_t>(sensor)].seenLevel;
        while (level(sensor) != pressed)
            wait_us(1000);
        return true;
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

Account onModel(const Compiled &of, const Account &chip, double sums_us)
{
    return ModelBoard(of, chip, sums_us).account();
}

} // namespace badger::board
