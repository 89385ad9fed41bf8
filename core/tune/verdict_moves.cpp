// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/base/angle.h"
#include "core/tune/looks.h"
#include "core/tune/verdicts.h"

#include <cmath>
#include <numbers>

namespace badger::tune
{

using units::fixed;
using units::number;
using units::quantity;
using units::Unit;

namespace
{

Say mm(double m)
{
    return fixed(m, Unit::Millimetre, 1);
}

Say bends(const Straightness &s)
{
    return s.curvature_1_m == 0.0
               ? say("drives straight")
               : say("bends {} with a radius of {}",
                     s.curvature_1_m > 0.0 ? say("to the left") : say("to the right"),
                     quantity(std::abs(1.0 / s.curvature_1_m), Unit::Metre, 1));
}

/// The direction and the radius rest on the drift alone; the track only on how wheels are trimmed.
constexpr double anyTrack_m = 0.13;

} // namespace

Verdict turnVerdict(const Record &r)
{
    const auto left = turnOf(r, "left");
    const auto right = turnOf(r, "right");
    if (!left && !right)
        return notYet(left.error());
    const auto rate = [](const Result<TurnFit> &f) { return number(f->rate_rad_s / degree, 0); };
    constexpr double quarter = std::numbers::pi / 2.0;
    Verdict v;
    v.good = left && right && left->dead_s && right->dead_s;
    if (left && right)
        v.sentence =
            say("It turns {} degrees a second to the left and {} to the right; 90 degrees "
                "take {} and {}.",
                rate(left), rate(right), quantity(timeFor_s(*left, quarter), Unit::Millisecond, 0),
                quantity(timeFor_s(*right, quarter), Unit::Millisecond, 0));
    else
        v.sentence = left ? say("It turns {} degrees a second to the left.", rate(left))
                          : say("It turns {} degrees a second to the right.", rate(right));
    if (!v.good)
        v.toDo = say("Turn to both sides, for two different times each.");
    for (const char *side : {"left", "right"}) {
        const auto &fresh = side[0] == 'l' ? left : right;
        const auto low = turnOf(r, std::string(side) + " low");
        if (!low || !fresh)
            continue;
        // One duration has the dead time in its rate: it is compared with the same duration.
        const double then = fresh->rate_rad_s * (low->longest_s - fresh->dead_s.value_or(0.0));
        const double now = low->rate_rad_s * (low->longest_s - low->dead_s.value_or(0.0));
        v.sentence = say("{} With a low pack it turns {} of that to the {}.", v.sentence,
                         percent(now / then), side[0] == 'l' ? say("left") : say("right"));
    }
    return v;
}

Verdict speedVerdict(const Record &r)
{
    constexpr int runsWanted = 3;
    constexpr double steadyShare = 0.05; // a choice of ours: more is another battery or a slip
    const auto all = speedsOf(r);
    if (all.empty())
        return {say("No run was timed."), false,
                say("Time it between two marks at the program's count.")};
    std::vector<Say> said;
    Verdict v;
    v.good = true;
    for (const auto &s : all) {
        said.push_back(say("{0} at {1} of 255 in {2} {2|run|runs}",
                           quantity(s.mean_mps, Unit::MetrePerSecond), s.counts, s.runs));
        const bool steady = s.deviation_mps <= steadyShare * s.mean_mps;
        v.good &= s.runs >= runsWanted && steady;
        if (s.runs < runsWanted)
            v.toDo = say("Time three runs at {}.", s.counts);
        else if (!steady)
            v.toDo =
                say("The runs at {} differ by more than a twentieth: charge the pack, clean the "
                    "wheels, and time it again.",
                    s.counts);
    }
    v.sentence = say("It drives {}.", joined(said, "; "));
    return v;
}

Verdict straightVerdict(const Record &r)
{
    const auto s = straightnessOf(r, anyTrack_m);
    if (!s)
        return notYet(s.error());
    Verdict v{say("It {}.", bends(*s)), true, {}};
    if (const auto low = straightnessOf(r, anyTrack_m, "low"))
        v.sentence = say("{} With a low pack it {}.", v.sentence, bends(*low));
    return v;
}

Verdict hornVerdict(const Record &r)
{
    if (!r.chosen)
        return {say("Where its middle looks was not measured."), false,
                say("Send it to its middle and measure what it lacks to straight ahead.")};
    Verdict v;
    v.good = true;
    v.sentence = std::abs(*r.chosen) < 0.05 ? say("At its middle it looks straight ahead.")
                                            : say("At its middle it looks {}° to the {} of ahead.",
                                                  number(std::abs(*r.chosen), 1),
                                                  *r.chosen > 0.0 ? say("right") : say("left"));
    const auto dwell = dwellOf(r);
    if (dwell && dwell->settle_s)
        v.sentence = say("{} A step takes {} for 60° and {} to settle.", v.sentence,
                         quantity(dwell->for60_s, Unit::Millisecond, 0),
                         quantity(*dwell->settle_s, Unit::Millisecond, 0));
    else if (dwell)
        v.toDo = say("Time a second, longer step: settling cannot be told from one.");
    else if (dwell.error().kind != Error::Kind::Missing)
        v = {say("{}.", capitalised(dwell.error().what)), false, say("Time both steps again.")};
    return v;
}

Verdict lineVerdict(const Record &r)
{
    const auto look = lineOf(r);
    if (!look)
        return notYet(look.error());
    using Kind = LineLook::Kind;
    Verdict v;
    v.good = look->works;
    if (look->kind == Kind::Edge) {
        if (!look->spot_m)
            return {say("The spot was not measured: how much of the edge it feels is not known."),
                    false, say("Push the sensor across the edge and measure the way.")};
        v.sentence = say("Its spot is {} wide: {} to either side of the edge is full steering.",
                         mm(*look->spot_m), mm(*look->spot_m / 2.0));
        if (*look->spot_m > look->line_m) {
            v.good = false;
            v.toDo = say("Lower the sensor: its spot is wider than the line.");
        }
        return v;
    }
    if (!look->works) {
        v.sentence = look->kind == Kind::Lane
                         ? say("The sensors do not fit between the lines.")
                         : say("The line is as wide as the strip: it cannot be followed.");
        v.toDo = say("Move the sensors, or take another mat.");
        return v;
    }
    v.sentence = say("{} of slack to either side.", mm(look->slack_m.value_or(0.0)));
    if (look->wrongLineBeyond_m)
        v.sentence = say("{} Beyond {} an inner sensor meets the wrong line.", v.sentence,
                         mm(*look->wrongLineBeyond_m));
    else if (look->lostFrom_m)
        v.sentence =
            say("{} Beyond {} nothing is seen any more.", v.sentence, mm(*look->lostFrom_m));
    if (std::abs(look->skew_m) > mostSkew_m)
        v.toDo = say("Move the sensors {} to the {}: they sit aside of the car's middle.",
                     mm(std::abs(look->skew_m)), look->skew_m > 0.0 ? say("right") : say("left"));
    return v;
}

} // namespace badger::tune
