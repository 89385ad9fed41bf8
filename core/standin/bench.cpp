// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/standin/bench.h"

#include "core/sense/light.h"
#include "core/sense/ultrasonic.h"
#include "core/units/quantity.h"

#include <algorithm>
#include <array>
#include <charconv>
#include <cmath>

namespace badger::standin
{

namespace
{

constexpr std::array<const char *, faultCount> codes = {
    "no-echo-zero", "no-echo-long", "lost-echoes", "late-echo", "servo-moving",
    "jitter",       "inverted",     "saturated",   "lost-lines"};

struct SensorLine {
    const char *name;
    link::ChannelUnit unit;
};
constexpr std::array<SensorLine, 6> known = {{{"ahead", link::ChannelUnit::Microseconds},
                                              {"line", link::ChannelUnit::Counts},
                                              {"left", link::ChannelUnit::Level},
                                              {"right", link::ChannelUnit::Level},
                                              {"light", link::ChannelUnit::Counts},
                                              {"battery", link::ChannelUnit::Millivolts}}};

// Figures of generic parts, as those of the shipped catalogue; choices of ours within what such
// parts do.
constexpr sense::RangerFigures rangerFigures = {
    .deadZone_m = 0.03, .range_m = 4.0, .noEchoHold_s = 0.038, .error_m = 0.0, .noise_m = 0.0012};
constexpr double longHold_s = 0.190;
constexpr std::uint32_t timeOut_us = 250000;
constexpr double lostShare = 0.125;
constexpr double lateWall_m = 2.6;
constexpr double latePause_s = 0.012;
constexpr double servoTakes_s = 0.3;
constexpr sense::ReflectanceFigures lineFigures = {.gain_countsM2 = 0.2635,
                                                   .offset_m = 0.009,
                                                   .dark_counts = 12.0,
                                                   .ambient_counts = 190.0,
                                                   .noise_counts = 6.0};
constexpr double lightAlbedo = 0.85;
constexpr double darkAlbedo = 0.20;
constexpr double saturatedGain = 6.0;
constexpr double jitterGain = 5.0;
/// The light of a room, from one with drawn curtains to a place at a window.
constexpr double leastLux = 20.0;
constexpr double mostLux = 2000.0;
constexpr double partner_ohm = 2200.0;
constexpr double batteryNoise_V = 0.012;

tl::unexpected<Error> bad(std::string_view key, Say what, Say mend)
{
    return fail(Error::Kind::Malformed, std::string(key), std::move(what), std::move(mend));
}

Result<double> ranged(std::string_view key, std::string_view text, units::Dimension dimension,
                      units::Unit unit, double least, double most)
{
    const auto value = units::parse(text, dimension, std::string(key));
    if (!value)
        return value;
    if (!(*value >= least && *value <= most))
        return fail(Error::Kind::OutOfRange, std::string(key),
                    say("{} is not between {} and {}", units::quantity(*value, unit),
                        units::quantity(least, unit), units::quantity(most, unit)),
                    say("choose a value between them"));
    return value;
}

Result<double> bare(std::string_view key, std::string_view text, double least, double most)
{
    double value = 0.0;
    const auto *end = text.data() + text.size();
    const auto [at, error] = std::from_chars(text.data(), end, value);
    if (text.empty() || error != std::errc{} || at != end || !(value >= least && value <= most))
        return bad(
            key,
            say("it takes a number from {} to {}", units::number(least, 1), units::number(most, 1)),
            say("write it without a unit, as 0.4"));
    return value;
}

Result<void> take(Result<double> value, double &field)
{
    if (!value)
        return tl::unexpected(value.error());
    field = *value;
    return {};
}

Result<void> setSensors(Settings &s, std::string_view text)
{
    std::vector<std::string> names;
    while (true) {
        const auto comma = text.find(',');
        const auto name = text.substr(0, comma);
        if (std::none_of(known.begin(), known.end(),
                         [&](const SensorLine &k) { return name == k.name; }) ||
            std::find(names.begin(), names.end(), name) != names.end())
            return bad("sensors", say("'{}' is no sensor of the stand-in, or stands twice", name),
                       say("choose from ahead,line,left,right,light,battery"));
        names.emplace_back(name);
        if (comma == std::string_view::npos)
            break;
        text.remove_prefix(comma + 1);
    }
    s.sensors = std::move(names);
    return {};
}

} // namespace

const char *code(Fault fault)
{
    return codes[static_cast<size_t>(fault)];
}

std::optional<Fault> faultOf(std::string_view text)
{
    for (int i = 0; i < faultCount; ++i)
        if (text == codes[static_cast<size_t>(i)])
            return static_cast<Fault>(i);
    return std::nullopt;
}

Result<void> set(Settings &s, std::string_view key, std::string_view value)
{
    using units::Dimension;
    using units::Unit;
    if (key == "distance") {
        if (value == "none") {
            s.distance_m.reset();
            return {};
        }
        const auto m = ranged(key, value, Dimension::Length, Unit::Centimetre, 0.0, 10.0);
        if (!m)
            return tl::unexpected(m.error());
        s.distance_m = *m;
        return {};
    }
    if (key == "surface") {
        if (value != "light" && value != "dark")
            return bad(key, say("it takes light or dark"), say("write one of the two"));
        s.light = value == "light";
        return {};
    }
    if (key == "height")
        return take(ranged(key, value, Dimension::Length, Unit::Millimetre, 0.0, 1.0), s.height_m);
    if (key == "air")
        return take(ranged(key, value, Dimension::Temperature, Unit::Celsius, -40.0, 60.0),
                    s.air_degC);
    if (key == "battery")
        return take(ranged(key, value, Dimension::Voltage, Unit::Volt, 0.0, 60.0), s.battery_V);
    if (key == "ambient")
        return take(bare(key, value, 0.0, 1.0), s.ambient);
    if (key == "trimmer")
        return take(bare(key, value, 0.0, 1.0), s.trimmer);
    if (key == "rate")
        return take(bare(key, value, 0.1, 500.0), s.rate_hz);
    if (key == "sensors")
        return setSensors(s, value);
    if (key == "fault" || key == "no-fault") {
        const auto fault = faultOf(value);
        if (!fault) {
            std::vector<Say> all(codes.begin(), codes.end());
            return bad(key, say("'{}' is no fault that the stand-in knows", value),
                       say("choose from {}", joined(all, ", ")));
        }
        if (key == "fault")
            s.faults.insert(*fault);
        else
            s.faults.erase(*fault);
        return {};
    }
    return bad(key, say("there is no such setting"),
               say("choose from distance, surface, height, ambient, trimmer, air, battery, rate, "
                   "sensors, fault, no-fault"));
}

std::vector<link::Channel> channelsOf(const Settings &settings)
{
    std::vector<link::Channel> channels;
    for (const auto &name : settings.sensors)
        for (const auto &k : known)
            if (name == k.name)
                channels.push_back({k.name, k.unit});
    return channels;
}

Bench::Bench(std::uint64_t seed) : m_noise(seed) {}

link::Value Bench::ranger(const Settings &s, std::uint64_t time_us)
{
    const auto has = [&](Fault f) { return s.faults.count(f) > 0; };
    auto figures = rangerFigures;
    if (has(Fault::Jitter))
        figures.noise_m *= jitterGain;
    if (has(Fault::LostEchoes))
        figures.lostEchoShare = lostShare;
    if (has(Fault::NoEchoLong))
        figures.noEchoHold_s = longHold_s;
    auto wall_m = s.distance_m;
    if (has(Fault::ServoMoving) && wall_m && m_seen_m) {
        const double share =
            std::min(1.0, static_cast<double>(time_us - m_last_us) * 1e-6 / servoTakes_s);
        wall_m = *m_seen_m + share * (*wall_m - *m_seen_m);
    }
    m_seen_m = wall_m;
    m_last_us = time_us;
    const double sound_mps = sense::speedOfSound_mps(s.air_degC).value_or(343.0);
    const auto answer =
        sense::ping(figures, m_ranger, time_us, wall_m, timeOut_us, sound_mps, m_noise);
    m_busy_us = answer.waited_us;
    double echo_us = answer.echo_us;
    const bool nothing = echo_us <= 0.0 || echo_us >= 0.9e6 * figures.noEchoHold_s;
    if (has(Fault::LateEcho)) {
        const double late_us = sense::echoTime_us(lateWall_m, sound_mps) - latePause_s * 1e6;
        echo_us = nothing ? late_us : std::min(echo_us, late_us);
    } else if (nothing && has(Fault::NoEchoZero)) {
        return link::number(0.0);
    }
    if (echo_us <= 0.0)
        return link::none;
    return link::number(std::floor(echo_us));
}

std::vector<link::Value> Bench::read(const Settings &s, std::uint64_t time_us)
{
    const auto has = [&](Fault f) { return s.faults.count(f) > 0; };
    auto reflectance = lineFigures;
    auto digital = reflectance;
    if (has(Fault::Jitter)) {
        reflectance.noise_counts *= jitterGain;
        digital.noise_counts *= jitterGain;
    }
    if (has(Fault::Saturated))
        reflectance.gain_countsM2 *= saturatedGain;
    const double albedo = s.light ? lightAlbedo : darkAlbedo;
    m_busy_us = 0;
    std::vector<link::Value> values;
    for (const auto &name : s.sensors) {
        if (name == "ahead") {
            values.push_back(ranger(s, time_us));
        } else if (name == "line") {
            values.push_back(link::number(
                sense::reflectanceReading(reflectance, albedo, s.height_m, s.ambient, m_noise)));
        } else if (name == "left" || name == "right") {
            const bool sees =
                sense::seesLight(digital, albedo, s.height_m, s.ambient, s.trimmer, m_noise);
            const bool other = name == "left" && has(Fault::Inverted);
            values.push_back(link::number(sees != other ? 1.0 : 0.0));
        } else if (name == "light") {
            const double lux = leastLux * std::pow(mostLux / leastLux, s.ambient);
            const double counts =
                sense::lightCounts(sense::lightResistance_ohm({}, lux), partner_ohm) +
                2.0 * m_noise.bell();
            values.push_back(
                link::number(std::floor(std::clamp(counts, 0.0, double(sense::mostCounts)) + 0.5)));
        } else {
            values.push_back(link::number(std::floor(
                1000.0 * std::max(0.0, s.battery_V + batteryNoise_V * m_noise.bell()) + 0.5)));
        }
    }
    return values;
}

} // namespace badger::standin
