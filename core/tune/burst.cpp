// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/tune/burst.h"

#include <algorithm>
#include <cmath>
#include <limits>

namespace badger::tune
{

namespace
{

constexpr double wildDeviations = 6.0;
constexpr double wildShare = 0.02;
constexpr double longestEcho_s = 0.032;
constexpr double agree = 0.9;
constexpr size_t fewest = 5;

} // namespace

BurstLook lookAt(const Burst &burst)
{
    BurstLook look;
    look.readings = static_cast<int>(burst.size());
    std::vector<double> numbers;
    for (const auto &r : burst)
        if (r)
            numbers.push_back(*r);
    look.none = look.readings - static_cast<int>(numbers.size());
    if (numbers.empty())
        return look;
    look.spread = spreadOf(numbers);
    look.jitter = robustDeviation(numbers);
    const double middle = look.spread->median;
    for (size_t i = 0; i < burst.size(); ++i) {
        const double away = burst[i] ? std::abs(*burst[i] - middle) : 0.0;
        if (away > wildDeviations * look.jitter && away > wildShare * std::abs(middle))
            look.wildAt.push_back(i);
    }
    look.wild = static_cast<int>(look.wildAt.size());
    return look;
}

Burst runningMedian(const Burst &burst, int n)
{
    constexpr double far = std::numeric_limits<double>::infinity();
    const auto window = static_cast<size_t>(n);
    Burst medians;
    for (size_t end = window; end <= burst.size(); ++end) {
        std::vector<double> last;
        for (size_t i = end - window; i < end; ++i)
            last.push_back(burst[i].value_or(far));
        const auto middle = last.begin() + n / 2;
        std::nth_element(last.begin(), middle, last.end());
        medians.push_back(*middle == far ? std::nullopt : std::optional(*middle));
    }
    return medians;
}

Result<NoEchoLook> noEchoLook(const Burst &echo_s)
{
    if (echo_s.size() < fewest)
        return fail(
            Error::Kind::Missing, say("no echo"),
            say("{} {0|reading|readings} facing open space", static_cast<long>(echo_s.size())),
            say("take five or more, with nothing within 5 m before it"));
    std::vector<double> huge;
    size_t zero = 0;
    size_t nothing = 0;
    for (const auto &r : echo_s) {
        if (!r)
            ++nothing;
        else if (*r <= 0.0)
            ++zero;
        else if (*r > longestEcho_s)
            huge.push_back(*r);
    }
    const auto share = [&](size_t count) {
        return static_cast<double>(count) / static_cast<double>(echo_s.size());
    };
    NoEchoLook look;
    if (share(zero) >= agree) {
        look = {NoEcho::Zero, 0.0, share(zero),
                say("It gives 0, which is nearer than anything: the program has to ask for 0 "
                    "first, or the car stops, or backs off, in open space.")};
    } else if (share(huge.size()) >= agree) {
        look.kind = NoEcho::Huge;
        look.hold_s = medianOf(huge);
        look.share = share(huge.size());
        look.policy =
            look.hold_s > 0.0655
                ? say("It holds its line for {}: a pass that waits for it is deaf so long, and a "
                      "16-bit whole number overflows. Give the wait a time-out.",
                      units::quantity(look.hold_s, units::Unit::Millisecond, 0))
                : say("It holds its line for {}: a huge reading means open space. Give the wait a "
                      "time-out, and keep the time in 32 bits: as 16-bit whole number it is below "
                      "zero, nearest of all.",
                      units::quantity(look.hold_s, units::Unit::Millisecond, 0));
    } else if (share(nothing) >= agree) {
        look = {
            NoEcho::Nothing, 0.0, share(nothing),
            say("Nothing comes within the time-out: the program sees its own word for that, and "
                "has to say what it means.")};
    } else {
        look = {NoEcho::Mixed, 0.0, 0.0,
                say("No two alike: something within its range sends the sound back now and then. "
                    "Turn the car to a place with nothing within 5 m.")};
    }
    return look;
}

WholeThreshold wholeThreshold(double threshold_m, double step_m)
{
    // A whole number n stands for all from n up to n + 1.
    const double steps = threshold_m / step_m;
    return {std::ceil(steps - 1e-9) * step_m, (std::floor(steps + 1e-9) + 1.0) * step_m};
}

} // namespace badger::tune
