// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/sense/ranger.h"

#include "core/sense/ultrasonic.h"

#include <algorithm>

namespace badger::sense
{

namespace
{

/// The board's clock counts the pulse in steps of this length.
constexpr double clockStep_us = 4.0;

std::uint32_t pulse_us(double distance_m, double sound_mps)
{
    const double steps = echoTime_us(distance_m, sound_mps) / clockStep_us + 0.5;
    return static_cast<std::uint32_t>(steps) * static_cast<std::uint32_t>(clockStep_us);
}

} // namespace

RangerState rangerAtStart(const RangerFigures &figures, Noise &noise)
{
    return {figures.error_m * (2.0 * noise.uniform() - 1.0), 0};
}

RangerAnswer ping(const RangerFigures &figures, RangerState &state, std::uint64_t now_us,
                  std::optional<double> wall_m, std::uint32_t timeOut_us, double sound_mps,
                  Noise &noise)
{
    if (isHeld(state, now_us)) {
        const auto rest_us = state.lineBusyUntil_us - now_us;
        return {rest_us <= timeOut_us ? static_cast<std::uint32_t>(rest_us) : 0,
                std::min<std::uint64_t>(rest_us, timeOut_us), false, false};
    }
    // All are drawn whatever is heard, so that runs stay comparable.
    const double chance = noise.uniform();
    const bool lost = chance < figures.lostEchoShare;
    const bool wild = !lost && chance < figures.lostEchoShare + figures.wildShare;
    const double error_m = state.error_m + figures.noise_m * noise.bell();
    const double wrongShare = noise.uniform();
    double hold_s = figures.noEchoHold_s;
    std::uint32_t echo_us = 0;
    if (wild) {
        const double last_m = std::min(wall_m.value_or(figures.range_m), figures.range_m);
        echo_us =
            pulse_us(figures.deadZone_m + wrongShare * std::max(0.0, last_m - figures.deadZone_m),
                     sound_mps);
        hold_s = echo_us * 1e-6;
    } else if (wall_m && !lost && *wall_m <= figures.range_m) {
        const double read_m = *wall_m < figures.deadZone_m
                                  ? figures.deadZone_m *
                                        (1.5 + figures.deadZoneSpread * (wrongShare - 0.5))
                                  : std::max(figures.deadZone_m, *wall_m + error_m);
        echo_us = pulse_us(read_m, sound_mps);
        hold_s = echo_us * 1e-6;
    }
    const auto hold_us = static_cast<std::uint64_t>(hold_s * 1e6);
    state.lineBusyUntil_us = now_us + hold_us;
    if (echo_us == 0 && hold_us <= timeOut_us)
        echo_us = static_cast<std::uint32_t>(hold_us);
    if (echo_us == 0 || echo_us > timeOut_us)
        return {0, timeOut_us, false, true};
    return {echo_us, echo_us, wild, true};
}

} // namespace badger::sense
