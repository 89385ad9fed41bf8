// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/drive/stopping.h"

#include "core/units/quantity.h"

#include <algorithm>
#include <cassert>
#include <cmath>
#include <fmt/format.h>
#include <limits>

namespace badger::drive
{

namespace
{

using units::quantity;
using units::Unit;

struct Bound {
    const char *field;
    double value;
    double low;
    double high;
    Unit unit;
};

Result<void> checkRanges(const StopSetup &s)
{
    const Bound bounds[] = {
        {"threshold", s.threshold_m, 0.001, 20.0, Unit::Centimetre},
        {"speed", s.speed_mps, 0.0, 5.0, Unit::MetrePerSecond},
        {"loop", s.loop_s, 0.0, 5.0, Unit::Millisecond},
        {"age", s.age_s, 0.0, 5.0, Unit::Millisecond},
        {"actuation", s.actuation_s, 0.0, 5.0, Unit::Millisecond},
        {"roll-out", s.rollOut_m, 0.0, 10.0, Unit::Centimetre},
        {"sensor error", s.sensorError_m, 0.0, 1.0, Unit::Centimetre},
        {"set-back", s.setBack_m, -1.0, 1.0, Unit::Centimetre},
    };
    for (const auto &b : bounds)
        if (!(b.value >= b.low && b.value <= b.high))
            return fail(Error::Kind::OutOfRange, b.field,
                        say("{} is outside {} to {}", quantity(b.value, b.unit),
                            quantity(b.low, b.unit), quantity(b.high, b.unit)),
                        say("give a value inside that range"));
    if (s.medianOf < 1 || s.medianOf > 15 || s.medianOf % 2 == 0)
        return fail(Error::Kind::OutOfRange, "median",
                    say("a median of {} is not an odd number from 1 to 15", s.medianOf),
                    say("use 1, 3, 5 ..."));
    if (s.inSuccession < 1 || s.inSuccession > 100)
        return fail(Error::Kind::OutOfRange, "readings in succession",
                    say("{} is outside 1 to 100", s.inSuccession),
                    say("give how many readings have to say so"));
    return {};
}

/// Until a majority of the median's readings has crossed, and that so many times.
double loopsUntilSaid(const StopSetup &s)
{
    return (s.medianOf + 1) / 2.0 + s.inSuccession - 1;
}

double latency_s(const StopSetup &s)
{
    return s.age_s + s.loop_s * loopsUntilSaid(s) + s.actuation_s;
}

Say latencyWords(const StopSetup &s)
{
    Say time = quantity(s.loop_s, Unit::Millisecond, 1);
    if (s.medianOf > 1 || s.inSuccession > 1)
        time = say("{} loops × {}", units::number(loopsUntilSaid(s), 1), time);
    if (s.age_s > 0.0)
        time += Say(" + ") + quantity(s.age_s, Unit::Millisecond, 1);
    if (s.actuation_s > 0.0)
        time += Say(" + ") + quantity(s.actuation_s, Unit::Millisecond, 1);
    const bool sum = s.age_s > 0.0 || s.actuation_s > 0.0;
    return say("{} × {}", quantity(s.speed_mps, Unit::MetrePerSecond),
               sum ? say("({})", time) : time);
}

} // namespace

const StopTerm *StopBudget::dominant() const
{
    const auto it = std::max_element(terms.begin(), terms.end(),
                                     [](auto &a, auto &b) { return a.worst_m < b.worst_m; });
    return it == terms.end() || it->worst_m <= 0.0 ? nullptr : &*it;
}

Result<StopBudget> stopBudget(const StopSetup &setup)
{
    if (auto ok = checkRanges(setup); !ok)
        return tl::unexpected(ok.error());
    const double worstLatency_m = setup.speed_mps * latency_s(setup);
    // Half of one loop is the mean wait for the reading that crosses; the others of a median are
    // always waited for in full.
    const double typicalLatency_m = setup.speed_mps * (latency_s(setup) - setup.loop_s / 2.0);

    StopBudget budget;
    budget.terms = {
        {"latency", say("age, loop, actuation"), worstLatency_m, typicalLatency_m,
         latencyWords(setup)},
        {"roll_out", "roll-out", setup.rollOut_m, setup.rollOut_m,
         quantity(setup.rollOut_m, Unit::Centimetre, 2)},
        {"sensor_error", say("sensor error"), setup.sensorError_m, setup.sensorError_m,
         quantity(setup.sensorError_m, Unit::Centimetre, 2)},
        {"set_back", "set-back", setup.setBack_m, setup.setBack_m,
         quantity(setup.setBack_m, Unit::Centimetre, 2)},
    };
    budget.worstGap_m = budget.typicalGap_m = setup.threshold_m;
    for (const auto &term : budget.terms) {
        budget.worstGap_m -= term.worst_m;
        budget.typicalGap_m -= term.typical_m;
    }
    return budget;
}

Result<double> leastThreshold_m(const StopSetup &setup, double wantedGap_m)
{
    if (!(wantedGap_m >= 0.0 && wantedGap_m <= 10.0))
        return fail(Error::Kind::OutOfRange, say("wanted gap"),
                    say("{} is outside 0 to 10 m", quantity(wantedGap_m, Unit::Metre)),
                    say("give the gap to leave in front of the car"));
    return stopBudget(setup).map(
        [&](const StopBudget &b) { return wantedGap_m + setup.threshold_m - b.worstGap_m; });
}

double rollOut_m(const RollCurve &curve, double speed_mps)
{
    assert(curve.speed_mps > 0.0);
    const double ratio = speed_mps / curve.speed_mps;
    return curve.distance_m * (curve.law == kit::RollLaw::Friction ? ratio * ratio : ratio);
}

Result<std::optional<double>> greatestSpeed_mps(const StopSetup &setup, const RollCurve &curve,
                                                double wantedGap_m)
{
    if (!(curve.speed_mps > 0.0) || !(curve.distance_m >= 0.0))
        return fail(Error::Kind::OutOfRange, "roll-out",
                    say("a roll-out needs the speed it was measured at"),
                    say("give a speed above 0 and a distance of 0 or more"));
    auto still = setup;
    still.speed_mps = 0.0;
    still.rollOut_m = 0.0;
    const auto standing = stopBudget(still);
    if (!standing)
        return tl::unexpected(standing.error());
    const double room_m = standing->worstGap_m - wantedGap_m;
    if (room_m < 0.0)
        return std::optional<double>{};

    const double t = latency_s(setup);
    if (curve.law == kit::RollLaw::Electrical || curve.distance_m == 0.0) {
        const double total_s = t + curve.distance_m / curve.speed_mps;
        return total_s > 0.0 ? room_m / total_s : std::numeric_limits<double>::infinity();
    }
    // v t + q v^2 = room, the positive root written so that a small q loses no digits.
    const double q = curve.distance_m / (curve.speed_mps * curve.speed_mps);
    return 2.0 * room_m / (t + std::sqrt(t * t + 4.0 * q * room_m));
}

} // namespace badger::drive
