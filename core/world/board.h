// SPDX-License-Identifier: GPL-3.0-or-later
// A lowered program as the driver of a car's pins.
//
// A world is anything that has pins and a clock (see world.h).
#pragma once

#include "core/machine/runner.h"
#include "core/oncar/program_on_car.h"

namespace badger::world
{

/// Turns what a machine asks into levels, duties, pulses and looks of pins, as its written text
/// does.
template <class World> class ProgramBoard final : public machine::Board
{
public:
    ProgramBoard(const oncar::ProgramOnCar &on, World &world)
        : m_machine(on.machine()), m_pins(on.pins()), m_world(world)
    {
    }
    void begin() { m_sendQueue_us = 0.0; }

    std::uint64_t now_us() const override { return m_world.now_us(); }
    void wait_us(std::uint64_t time_us) override { m_world.wait_us(time_us); }
    machine::Echo ping(int sensor, double) override
    {
        const auto [trigger, echo] = m_pins.pings[static_cast<size_t>(sensor)];
        return {
            m_world.ping(trigger, echo, m_machine.sensors[static_cast<size_t>(sensor)].timeOut_us),
            {}};
    }
    int level(int sensor) override
    {
        return m_world.read(m_pins.inputs[static_cast<size_t>(sensor)]);
    }
    int count(int sensor) override
    {
        return m_world.convert(m_pins.inputs[static_cast<size_t>(sensor)]);
    }
    rules::Command key(int) override { return m_world.key(); }
    bool await(int) override { return true; } // a run begins when it is pressed
    void drive(const machine::Orders &orders) override
    {
        wheel(m_pins.wheels[0], orders.left);
        wheel(m_pins.wheels[1], orders.right);
    }
    void servo(int servo, double angle_deg) override
    {
        m_world.pulse(m_pins.servos[static_cast<size_t>(servo)], World::pulseOf(angle_deg));
    }
    void beep(std::uint64_t time_us) override { m_world.wait_us(time_us); }
    void print(std::string_view text, int baud) override
    {
        // 10 bits a character; the board waits while its buffer of 64 is full.
        constexpr double buffer = 64.0;
        const double character_us = 1e7 / baud;
        const double characters =
            text.empty() ? lineLength() : static_cast<double>(text.size() + 2);
        const double now = static_cast<double>(m_world.now_us());
        const double queued_us = std::max(0.0, m_sendQueue_us - now);
        const double over_us = queued_us + (characters - buffer) * character_us;
        m_sendQueue_us = now + queued_us + characters * character_us;
        if (over_us > 0.0)
            m_world.wait_us(static_cast<std::uint64_t>(over_us + 1.0));
    }
    void entered(const machine::Mind &mind, const machine::Cause &cause) override
    {
        m_world.entered(mind, cause);
    }

private:
    /// A name of six letters, a number of four, two blanks a reading; the state. As long as the
    /// usual line: the same for every value, so that a run's times do not hang on digits.
    double lineLength() const
    {
        return 12.0 * static_cast<double>(m_machine.sensors.size()) + 10.0;
    }

    void wheel(const oncar::WheelPins &w, const machine::WheelOrder &order)
    {
        using Kind = machine::WheelOrder::Kind;
        const int counts = order.kind == Kind::Turn ? order.counts : 0;
        if (w.servo)
            return m_world.pulse(w.forward, w.neutral_us + w.way * (counts * 200 / 255));
        if (w.port)
            return m_world.duty(w.forward, w.way * counts);
        const auto &steady = order.kind == Kind::Brake ? w.brake : w.coast;
        if (w.speed == oncar::none &&
            !w.held) { // the inputs of the bridge carry the speed themselves
            if (order.kind == Kind::Turn) {
                m_world.duty(w.forward, std::max(counts, 0));
                m_world.duty(w.backward, std::max(-counts, 0));
            } else {
                m_world.level(w.forward, steady.forward);
                m_world.level(w.backward, steady.backward);
            }
            return;
        }
        const bool turns = order.kind == Kind::Turn;
        m_world.level(w.forward, turns ? counts > 0 : steady.forward);
        m_world.level(w.backward, turns ? counts < 0 : steady.backward);
        m_world.duty(w.speed, turns ? std::abs(counts) : steady.enable ? 255 : 0);
    }

    const machine::Machine &m_machine;
    const oncar::ProgramPins &m_pins;
    World &m_world;
    double m_sendQueue_us = 0.0;
};

} // namespace badger::world
