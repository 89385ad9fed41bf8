// SPDX-License-Identifier: GPL-3.0-or-later
// Runs without chance, and firmware that does what a test says.
#pragma once

#include "core/machine/firmware.h"
#include "core/trial/trial.h"
#include "support/fixture.h"

namespace badger::test
{

/// The demo's setup without any chance in it.
inline trial::Setup calm(Bench &b)
{
    auto s = judge::trialSetup({b.car, b.catalogue}, b.program, b.floor);
    if (!s)
        qFatal("%s", english(s.error().text()).c_str());
    auto &c = s->car;
    for (auto &r : c.rangers)
        r.figures.error_m = r.figures.noise_m = r.figures.lostEchoShare = 0.0;
    c.speedSpread = c.wheelSpread = c.rollSpread = 0.0;
    return *s;
}

inline trial::Trial runIt(const trial::Setup &setup, const rules::Program &program,
                          std::uint64_t seed = 1)
{
    machine::ProgramFirmware firmware(program);
    auto t = trial::run(setup, firmware, seed);
    if (!t)
        qFatal("%s", english(t.error().text()).c_str());
    return *t;
}

/// Drives for ever, whatever it hears: another source of behaviour behind the same interface.
class Bull final : public rules::Firmware
{
public:
    void start(rules::Board &board) override { board.drive(full(), full()); }
    void pass(rules::Board &board) override { board.wait_us(20000); }

private:
    static rules::WheelCommand full() { return {rules::WheelCommand::Kind::Turn, 140}; }
};

/// Does one thing for a time and then another, in commands a test chooses.
class Script final : public rules::Firmware
{
public:
    Script(rules::WheelCommand l, rules::WheelCommand r, std::uint64_t for_us,
           rules::WheelCommand then)
        : m_l(l), m_r(r), m_for(for_us), m_then(then)
    {
    }
    void start(rules::Board &board) override { board.drive(m_l, m_r); }
    void pass(rules::Board &board) override
    {
        board.wait_us(m_for);
        board.drive(m_then, m_then);
        m_for = 10000;
    }

private:
    rules::WheelCommand m_l, m_r;
    std::uint64_t m_for;
    rules::WheelCommand m_then;
};

inline const rules::WheelCommand turning{rules::WheelCommand::Kind::Turn, 140};
inline const rules::WheelCommand braking{rules::WheelCommand::Kind::Brake, 0};

} // namespace badger::test
