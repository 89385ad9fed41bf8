// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/tune/line_bench.h"

#include "core/base/angle.h"

#include <algorithm>
#include <array>
#include <cmath>
#include <limits>
#include <numbers>

namespace badger::tune
{

using units::quantity;
using units::Unit;

namespace
{

Result<void> length(double m, double most, Say what)
{
    if (m > 0.0 && m <= most)
        return {};
    return fail(Error::Kind::OutOfRange, std::move(what),
                say("{} is outside its range", quantity(m, Unit::Millimetre, 1)),
                say("write a length above 0 and up to {}", quantity(most, Unit::Millimetre, 0)));
}

Result<void> mayBe(const Strip &s)
{
    for (const auto &ok :
         {length(s.inner_m, 0.5, say("inner sensors")),
          length(s.outer_m, 0.5, say("outer sensors")), length(s.line_m, 0.5, say("line"))})
        if (!ok)
            return ok;
    if (s.outer_m <= s.inner_m)
        return fail(Error::Kind::Conflict, say("strip"),
                    say("the outer sensors are not farther out than the inner ones"),
                    say("write distances from the middle of the car"));
    return {};
}

using Reach = std::pair<double, double>; ///< across the way, from the middle to the right

/// Stretches of the offset with one reading each, from the middle to the right until nothing is
/// seen any more.
template <class Steering>
std::vector<Pattern> patternsOf(const Strip &s, const std::vector<Reach> &lines, Steering steering)
{
    const std::array<double, 4> at = {-s.outer_m, -s.inner_m, s.inner_m, s.outer_m};
    std::vector<double> edges = {0.0};
    for (const double sensor : at)
        for (const auto &[from, to] : lines)
            for (const double edge : {from - sensor, to - sensor})
                if (edge > 0.0)
                    edges.push_back(edge);
    std::sort(edges.begin(), edges.end());
    edges.erase(
        std::unique(edges.begin(), edges.end(), [](double a, double b) { return b - a < 1e-9; }),
        edges.end());
    std::vector<Pattern> patterns;
    const auto read = [&](double offset) {
        std::string bits;
        for (const double sensor : at)
            bits += std::any_of(lines.begin(), lines.end(),
                                [&](const Reach &l) {
                                    return offset + sensor > l.first && offset + sensor < l.second;
                                })
                        ? '1'
                        : '0';
        return bits;
    };
    for (size_t i = 0; i < edges.size(); ++i) {
        const bool last = i + 1 == edges.size();
        const double to = last ? edges[i] + s.line_m : edges[i + 1];
        const auto bits = read((edges[i] + to) / 2.0);
        if (!patterns.empty() && patterns.back().bits == bits)
            patterns.back().to_m = to;
        else
            patterns.push_back({edges[i], to, bits, steering(bits)});
    }
    return patterns;
}

} // namespace

const char *name(Steer steer)
{
    constexpr std::array<const char *, 5> names = {"straight", "left", "right", "keep-turning",
                                                   "stop"};
    return names[static_cast<size_t>(steer)];
}

Result<double> straddleSlack_m(double line_m, double gap_m)
{
    for (const auto &ok : {length(line_m, 1.0, say("line")), length(gap_m, 1.0, say("gap"))})
        if (!ok)
            return tl::unexpected(ok.error());
    if (gap_m <= line_m)
        return fail(Error::Kind::Conflict, say("gap"),
                    say("sensors {} apart both stand on a line {} wide",
                        quantity(gap_m, Unit::Millimetre, 1),
                        quantity(line_m, Unit::Millimetre, 1)),
                    say("set them farther apart than the line is wide"));
    return (gap_m - line_m) / 2.0;
}

Result<Lane> lane(const Strip &s, std::optional<double> width_m)
{
    if (const auto ok = mayBe(s); !ok)
        return tl::unexpected(ok.error());
    if (width_m)
        if (const auto ok = length(*width_m, 1.0, say("lane")); !ok)
            return tl::unexpected(ok.error());
    Lane l;
    const double a = s.inner_m;
    const double b = s.outer_m;
    l.bestInnerWidth_m = a + b;
    l.bestSlack_m = (b - a) / 2.0;
    const double half = width_m.value_or(l.bestInnerWidth_m) / 2.0;
    l.works = a < half && half < b;
    l.slack_m = std::min(half - a, b - half);
    l.seesLinesAtCentre = l.works && s.line_m >= b - half;
    l.wrongLineBeyond_m = half + a;
    if (s.line_m < 2.0 * a) {
        // Off to the right: the inner right sensor has crossed the right line, the inner left one
        // has not reached it.
        l.lostFrom_m = half - a + s.line_m;
        l.lostTo_m = half + a;
    }
    l.patterns = patternsOf(s, {{-half - s.line_m, -half}, {half, half + s.line_m}},
                            [](const std::string &bits) {
                                if (bits[1] == '1' && bits[2] == '1')
                                    return Steer::Stop;
                                if (bits[2] == '1')
                                    return Steer::Left;
                                if (bits[1] == '1')
                                    return Steer::Right;
                                // With both inner sensors between the lines it is still centred.
                                return bits == "0000" ? Steer::KeepTurning : Steer::Straight;
                            });
    // Lines out of the outer sensors' reach: centred reads as lost does.
    l.patterns.front().steer = Steer::Straight;
    return l;
}

Result<SingleLine> singleLine(const Strip &s)
{
    if (const auto ok = mayBe(s); !ok)
        return tl::unexpected(ok.error());
    const double half = s.line_m / 2.0;
    SingleLine l;
    l.innerPairOn = s.inner_m < half;
    l.works = half < s.outer_m && half != s.inner_m;
    l.slack_m = l.innerPairOn ? std::min(half - s.inner_m, s.outer_m - half) : s.inner_m - half;
    l.lostFrom_m = s.outer_m + half;
    l.patterns = patternsOf(s, {{-half, half}}, [inner = l.innerPairOn](const std::string &bits) {
        const bool left = bits[0] == '1' || (bits[1] == '1' && bits[2] == '0');
        const bool right = bits[3] == '1' || (bits[2] == '1' && bits[1] == '0');
        if (left && right)
            return Steer::Stop;
        if (left || right)
            return left ? Steer::Left : Steer::Right;
        return bits == "0110" && inner ? Steer::Straight : Steer::KeepTurning;
    });
    if (!l.innerPairOn && !l.patterns.empty())
        l.patterns.front().steer = Steer::Straight;
    return l;
}

namespace
{

/// Phase margin of K (L s + v) / s² · e^(−s delay) / (1 + s lag), the loop of the edge follower.
double phaseMargin_rad(const Edge &e, double speed_mps, double gainPerSpeed_1_m2)
{
    const double K = gainPerSpeed_1_m2 * speed_mps; // 1 / (m s)
    const auto gain = [&](double w) {
        return K * std::hypot(e.ahead_m * w, speed_mps) / (w * w) / std::hypot(1.0, w * e.lag_s);
    };
    double low = 1e-6;
    double high = 1e6;
    for (int i = 0; i < 200; ++i) { // the gain falls with w: one crossing
        const double middle = std::sqrt(low * high);
        (gain(middle) > 1.0 ? low : high) = middle;
    }
    const double w = std::sqrt(low * high);
    return std::atan(e.ahead_m * w / speed_mps) - w * e.delay_s - std::atan(w * e.lag_s);
}

} // namespace

Result<EdgeFollowing> edgeFollowing(const Edge &e)
{
    for (const auto &ok :
         {length(e.ahead_m, 1.0, say("sensor ahead of the axle")),
          length(e.spot_m, 0.2, say("spot")), length(e.track_m, 1.0, say("track"))})
        if (!ok)
            return tl::unexpected(ok.error());
    const auto outside = [](Say where, Say mend) {
        return fail(Error::Kind::OutOfRange, std::move(where), say("it is outside its range"),
                    std::move(mend));
    };
    if (!(e.speed_mps > 0.0 && e.speed_mps <= 5.0))
        return outside(say("speed"), say("write a speed above 0 and up to 5 m/s"));
    if (!(e.share > 0.0 && e.share <= 1.0))
        return outside(say("share"), say("write a share above 0 and up to 1"));
    if (!(e.lag_s >= 0.0 && e.lag_s <= 5.0) || !(e.delay_s >= 0.0 && e.delay_s <= 5.0))
        return outside(say("lag or delay"), say("write times from 0 to 5 s"));
    const double perSpeed = 2.0 / e.track_m * e.share * 8.0 / (std::numbers::pi * e.spot_m);
    EdgeFollowing f;
    f.gain_1_ms = perSpeed * e.speed_mps;
    f.damping = e.ahead_m / 2.0 * std::sqrt(perSpeed);
    f.phaseMargin_rad = phaseMargin_rad(e, e.speed_mps, perSpeed);
    f.leastRadius_m = e.track_m / (2.0 * e.share);
    const double late_s = e.lag_s + e.delay_s;
    f.lowGainLimit_mps =
        late_s > 0.0 ? e.ahead_m / late_s : std::numeric_limits<double>::infinity();
    // The margin falls with the speed. Below a centimetre a second nobody drives.
    constexpr double slowest_mps = 0.01;
    constexpr double fastest_mps = 5.0;
    const double asked = askedMargin_deg * degree;
    if (phaseMargin_rad(e, fastest_mps, perSpeed) >= asked) {
        f.topSpeed_mps = fastest_mps;
    } else if (phaseMargin_rad(e, slowest_mps, perSpeed) >= asked) {
        double low = slowest_mps;
        double high = fastest_mps;
        for (int i = 0; i < 80; ++i) {
            const double middle = (low + high) / 2.0;
            (phaseMargin_rad(e, middle, perSpeed) >= asked ? low : high) = middle;
        }
        f.topSpeed_mps = low;
    }
    return f;
}

} // namespace badger::tune
