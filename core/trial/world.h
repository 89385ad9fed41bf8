// SPDX-License-Identifier: GPL-3.0-or-later
// How does the simulated car move while its firmware thinks?
#pragma once

#include "core/base/noise.h"
#include "core/sense/ranger.h"
#include "core/trial/trial.h"

namespace badger::trial
{

/// The physical side of one run, as a board for the firmware. Private to the trial.
class World final : public rules::Board
{
public:
    World(const Setup &setup, double sound_mps, std::uint64_t seed);

    std::uint64_t now_us() const override { return m_now_us; }
    void wait_us(std::uint64_t time_us) override;
    std::uint32_t ping_us(std::string_view ranger, std::uint32_t timeOut_us) override;
    void drive(rules::WheelCommand left, rules::WheelCommand right) override;
    void print(std::string_view text, int baud) override;
    void note(const rules::Decision &decision) override;

    bool over() const { return m_over; }
    Trial result() const;

private:
    struct WheelState {
        rules::WheelCommand command;
        const std::vector<double> *speeds_mps = nullptr; ///< by count, of the setup
        double speed_mps = 0.0;
        double factor = 1.0; ///< of this wheel in this run
    };

    /// A ranger in this run.
    struct RangerState {
        sense::RangerState state;
        floor::Direction mounted; ///< against the car's own
    };

    void step(double dt_s);
    double next_mps(WheelState &wheel, double dt_s) const;
    void look();
    Pose pose() const;
    floor::Point at(double ahead_m, double left_m) const;

    const Setup &m_setup;
    double m_sound_mps;
    Noise m_noise;
    double m_rollFactor = 1.0;
    std::vector<RangerState> m_rangers; ///< as in the setup
    WheelState m_left, m_right;
    rules::WheelCommand m_nextLeft, m_nextRight;
    std::uint64_t m_commandAt_us = 0;
    bool m_commandPending = false;

    std::uint64_t m_now_us = 0;
    double m_sendQueue_us = 0.0; ///< time the send buffer still needs
    floor::Point m_axle;
    floor::Direction m_looks;

    Trial m_trial;
    size_t m_decided = 0; ///< pings that have their decision; they come in order
    int m_decisive = -1;  ///< the newest ping that decided
    bool m_moved = false;
    std::uint64_t m_stillSince_us = 0;
    std::uint64_t m_nextSample_us = 0;
    bool m_over = false;
};

} // namespace badger::trial
