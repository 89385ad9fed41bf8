// SPDX-License-Identifier: GPL-3.0-or-later
// A simulated car on blocks: what lies before its sensors, and what they answer.
#pragma once

#include "core/base/result.h"
#include "core/link/lines.h"
#include "core/sense/ranger.h"
#include "core/sense/reflectance.h"

#include <optional>
#include <set>
#include <string>
#include <string_view>
#include <vector>

namespace badger::standin
{

/// What is wrong with the sensors on purpose.
enum class Fault {
    NoEchoZero,  ///< "no-echo-zero": the ranger answers 0 where nothing comes back
    NoEchoLong,  ///< "no-echo-long": it holds its line for 190 ms then
    LostEchoes,  ///< "lost-echoes": one ping in eight comes to nothing
    LateEcho,    ///< "late-echo": pings 12 ms apart; a wall 2.6 m away answers the one before
    ServoMoving, ///< "servo-moving": a new distance is seen little by little, for 0.3 s
    Jitter,      ///< "jitter": five times the noise
    Inverted,    ///< "inverted": the left module's output sense is the other one
    Saturated,   ///< "saturated": the reflectance sensor has six times its gain
    LostLines    ///< "lost-lines": one line in twenty is not sent
};
inline constexpr int faultCount = 9;
const char *code(Fault fault);
std::optional<Fault> faultOf(std::string_view code);

/// What can be set, by flags or while it runs.
struct Settings {
    std::optional<double> distance_m = 0.40; ///< of the flat target; empty: nothing before it
    bool light = true;                       ///< the surface under the line sensors
    double height_m = 0.008;                 ///< of the line sensors over it
    double ambient = 0.1;                    ///< light about, 0 to 1
    double trimmer = 0.4; ///< of the digital modules: reference as a share of their supply
    double air_degC = 22.0;
    double battery_V = 7.2;
    std::set<Fault> faults;
    /// What is spoken of: ahead, line, left, right, light, battery. In this order.
    std::vector<std::string> sensors = {"ahead", "line", "left", "right", "light", "battery"};
    double rate_hz = 20.0; ///< samples a second, 0.1 to 500
};

/// Changes one setting: key "distance", value "25cm" or "none". Keys are those of the flags,
/// without dashes; "fault CODE" puts a fault in, "no-fault CODE" takes it out. An unknown key, a
/// value that cannot be read or lies outside its range is an error, and nothing has changed.
Result<void> set(Settings &settings, std::string_view key, std::string_view value);

/// The channels of the header, as the settings name their sensors.
std::vector<link::Channel> channelsOf(const Settings &settings);

/// The sensors with what they keep between two readings. Same seed and settings: same readings.
class Bench
{
public:
    explicit Bench(std::uint64_t seed);
    /// One reading of every channel at `time_us` of simulated time, which does not go back.
    std::vector<link::Value> read(const Settings &settings, std::uint64_t time_us);
    /// For how long the last reading kept the board: it waited for the echo.
    std::uint64_t busy_us() const { return m_busy_us; }

private:
    link::Value ranger(const Settings &settings, std::uint64_t time_us);

    Noise m_noise;
    sense::RangerState m_ranger;
    std::optional<double> m_seen_m; ///< the distance that the ranger looked at last
    std::uint64_t m_last_us = 0;
    std::uint64_t m_busy_us = 0;
};

} // namespace badger::standin
