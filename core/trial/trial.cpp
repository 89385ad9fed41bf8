// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/trial/trial.h"

#include "core/base/medium.h"
#include "core/sense/ultrasonic.h"
#include "core/trial/world.h"
#include "core/units/quantity.h"

#include <algorithm>
#include <bit>
#include <cmath>
#include <fmt/format.h>

namespace badger::trial
{

using units::format;
using units::formatShort;
using units::Unit;

namespace
{

struct Bound {
    const char *field;
    double value;
    double low;
    double high;
};

Result<void> checkRanges(const Setup &s)
{
    std::vector<Bound> bounds = {
        {"car, length in m", s.car.geometry.length_m, 0.02, 2.0},
        {"car, width in m", s.car.geometry.width_m, 0.02, 2.0},
        {"car, track width in m", s.car.geometry.track_m, 0.02, 2.0},
        {"car, axle to nose in m", s.car.geometry.axleToNose_m, 0.0, 2.0},
        {"motor rise time in s", s.car.rise_s, 0.005, 5.0},
        {"actuation in s", s.car.actuation_s, 0.0, 5.0},
        {"speed spread", s.car.speedSpread, 0.0, 0.5},
        {"wheel spread", s.car.wheelSpread, 0.0, 0.5},
        {"roll-out spread", s.car.rollSpread, 0.0, 0.5},
        {"longest run in s", s.longest_s, 0.1, 600.0},
        {"floor, width in m", s.floor.width_m, 0.1, 100.0},
        {"floor, depth in m", s.floor.depth_m, 0.1, 100.0},
    };
    for (const auto &r : s.car.rangers) {
        bounds.push_back({"lost echo share", r.figures.lostEchoShare, 0.0, 1.0});
        bounds.push_back({"ranger error in m", r.figures.error_m, 0.0, 1.0});
        bounds.push_back({"ranger noise in m", r.figures.noise_m, 0.0, 0.5});
        bounds.push_back({"dead zone in m", r.figures.deadZone_m, 0.0, 1.0});
    }
    if (s.car.speed_mps[0].size() != 256 || s.car.speed_mps[1].size() != 256)
        return fail(Error::Kind::Missing, "car, speed", "there is no speed for each PWM count",
                    "give 256 speeds for each wheel");
    for (const auto &b : bounds)
        if (!(b.value >= b.low && b.value <= b.high))
            return fail(Error::Kind::OutOfRange, b.field,
                        say("{} is outside {} to {}", units::number(b.value, 4),
                            units::number(b.low, 4), units::number(b.high, 4)),
                        "give a value inside that range");
    return {};
}

} // namespace

Result<Trial> run(const Setup &setup, rules::Firmware &firmware, std::uint64_t seed)
{
    if (auto ok = checkRanges(setup); !ok)
        return tl::unexpected(ok.error());
    const auto sound = sense::speedOfSound_mps(setup.floor.air_degC);
    if (!sound)
        return tl::unexpected(sound.error());
    World world(setup, *sound, seed);
    const auto end_us = static_cast<std::uint64_t>(setup.longest_s * 1e6);
    firmware.start(world);
    while (!world.over() && world.now_us() < end_us)
        firmware.pass(world);
    return world.result();
}

Say verdict(const Trial &t)
{
    const auto gap = units::fixed(t.gap_m, units::Unit::Centimetre, 1);
    Say text;
    switch (t.outcome) {
    case Outcome::Stopped:
        text = say("Stopped; {} are left. No contact.", gap);
        break;
    case Outcome::Contact:
        text = say("Contact with the {} at {}.", t.contactWall,
                   units::fixed(t.contactSpeed_mps, units::Unit::MetrePerSecond, 2));
        break;
    case Outcome::StillDriving:
        text = say("Still driving after {}; {} to the nearest wall.",
                   units::fixed(t.end_s, units::Unit::Second, 1), gap);
        break;
    case Outcome::NeverMoved:
        text = say("The car never moved.");
        break;
    case Outcome::LeftFloor:
        text =
            say("The car left the floor after {}.", units::fixed(t.end_s, units::Unit::Second, 1));
        break;
    }
    if (t.deciding >= 0) {
        const auto &p = t.pings[static_cast<size_t>(t.deciding)];
        text +=
            say(" Reading {} decided at {}: {}", t.deciding + 1,
                units::fixed(double(p.decided_us) * 1e-6, units::Unit::Second, 2), p.decision.why);
        if (p.true_m)
            text += say("; the ranger was {} away",
                        units::fixed(*p.true_m, units::Unit::Centimetre, 1));
        text += ".";
    }
    return text;
}

Pose poseAt(const Trial &trial, std::uint64_t time_us)
{
    const auto after =
        std::lower_bound(trial.path.begin(), trial.path.end(), time_us,
                         [](const Pose &p, std::uint64_t t) { return p.time_us < t; });
    if (after == trial.path.begin())
        return trial.path.front();
    if (after == trial.path.end())
        return trial.path.back();
    const auto &a = *std::prev(after);
    const auto &b = *after;
    const double s = double(time_us - a.time_us) / double(b.time_us - a.time_us);
    const auto mix = [&](double x, double y) { return x + s * (y - x); };
    return {time_us,
            {mix(a.nose.x_m, b.nose.x_m), mix(a.nose.y_m, b.nose.y_m)},
            {mix(a.looks.x, b.looks.x), mix(a.looks.y, b.looks.y)},
            mix(a.speed_mps, b.speed_mps)};
}

std::string traceCsv(const Trial &trial)
{
    std::string csv = "time_s,nose_x_m,nose_y_m,speed_m_s,true_cm,echo_us,reading,state,rule\n";
    for (const auto &p : trial.pings)
        csv += fmt::format("{:.6f},{},{},{},{},{},{},{},{}\n", double(p.sent_us) * 1e-6,
                           p.from.nose.x_m, p.from.nose.y_m, p.from.speed_mps,
                           p.true_m ? fmt::format("{}", *p.true_m * 100.0) : "", p.decision.echo_us,
                           p.decision.echo_us ? fmt::format("{}", p.decision.number) : "none",
                           medium::csv(p.decision.state), medium::csv(p.decision.rule));
    return csv;
}

std::uint64_t fingerprint(const Trial &trial)
{
    // FNV-1a over the bits.
    std::uint64_t hash = 14695981039346656037ULL;
    const auto mix = [&](std::uint64_t bits) {
        for (int i = 0; i < 64; i += 8) {
            hash ^= (bits >> i) & 0xFF;
            hash *= 1099511628211ULL;
        }
    };
    for (const auto &p : trial.path) {
        mix(p.time_us);
        for (const double d : {p.nose.x_m, p.nose.y_m, p.looks.x, p.looks.y, p.speed_mps})
            mix(std::bit_cast<std::uint64_t>(d));
    }
    for (const auto &p : trial.pings) {
        mix(p.sent_us);
        mix(p.decision.echo_us);
    }
    mix(std::bit_cast<std::uint64_t>(trial.gap_m));
    return hash;
}

} // namespace badger::trial
