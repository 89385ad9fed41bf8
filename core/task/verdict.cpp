// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/base/angle.h"
#include "core/task/score.h"
#include "core/units/quantity.h"
#include "core/world/words.h"

#include <algorithm>
#include <cmath>

namespace badger::task
{

using units::fixed;
using units::Unit;
using world::End;
using world::Plan;
using world::Trace;

namespace
{

Say cm(double m, int decimals = 1)
{
    return say("{}", fixed(m, Unit::Centimetre, decimals));
}
Say seconds(double s)
{
    return say("{}", fixed(s, Unit::Second, 1));
}
Say firstTouch(const Plan &plan, const Trace &trace)
{
    const auto n = static_cast<long>(trace.touches.size());
    auto text = n == 1 ? say("It touches once: its ") : say("It touches {} times, first its ", n);
    text += world::words(plan, trace.touches.front());
    text += say(".");
    return text;
}

/// The step that told it to stand, and the reading that decided.
const world::Step *stopper(const Plan &plan, const Trace &trace, const Score &s)
{
    const world::Step *found = nullptr;
    if (!s.rest_s)
        return found;
    for (const auto &step : trace.steps) {
        if (double(step.time_us) * 1e-6 > *s.rest_s)
            break;
        const auto &mode = plan.on->machine().modes[static_cast<size_t>(step.mind.mode)];
        const bool drives = mode.left.kind == machine::WheelOrder::Kind::Turn ||
                            mode.right.kind == machine::WheelOrder::Kind::Turn;
        if (drives)
            found = nullptr;
        else if (found == nullptr)
            found = &step;
    }
    return found && found->cause.kind != machine::Cause::Kind::Start ? found : nullptr;
}

Say decided(const Plan &plan, const Trace &trace, const Score &s)
{
    const auto *step = stopper(plan, trace, s);
    if (!step)
        return {};
    auto text =
        say(" Decided at {}: {}", seconds(double(step->time_us) * 1e-6), world::why(plan, *step));
    if (step->ping >= 0 && trace.pings[static_cast<size_t>(step->ping)].true_m >= 0.0)
        text += say("; what stands there was {} away",
                    cm(trace.pings[static_cast<size_t>(step->ping)].true_m));
    return text + say(".");
}

Say stops(const Plan &plan, const Trace &trace, const Score &s)
{
    if (s.rest_s && trace.touches.empty()) {
        auto text = s.gap_m ? say("Stopped; {} are left. No contact.", cm(*s.gap_m))
                            : say("Stopped with nothing ahead. No contact.");
        return text + decided(plan, trace, s);
    }
    return {};
}

Say line(const Plan &plan, const Trace &trace, const Score &s)
{
    if (plan.arena.tracks.empty())
        return say("There is no line on this floor.");
    if (!s.sawLine)
        return say("It never was over a line.");
    if (s.losses.empty())
        return say("Follows the line for {}: {} laps, never lost; at most {} aside, {} on average.",
                   seconds(double(trace.end_us) * 1e-6), units::number(s.laps, 1),
                   fixed(s.swing_m, Unit::Millimetre, 0),
                   fixed(s.mean_mps, Unit::MetrePerSecond, 2));
    const auto &first = s.losses.front();
    const auto n = static_cast<long>(s.losses.size());
    return say("Loses the line {0} {0|time|times} in {1}, first at {2}, {3} along it; {4} laps.", n,
               seconds(double(trace.end_us) * 1e-6), seconds(double(first.time_us) * 1e-6),
               fixed(first.along_m, Unit::Centimetre, 0), units::number(s.laps, 1));
}

} // namespace

Say verdict(const Plan &plan, const Trace &trace, const Score &s)
{
    if (trace.fell) {
        static const Say wheels[] = {say("left wheel"), say("right wheel"), say("third support")};
        return say("Its {} passes the edge after {}.", wheels[trace.fell->wheel],
                   seconds(double(trace.fell->time_us) * 1e-6));
    }
    if (!s.moved && trace.touches.empty() && s.kind == Kind::Stops && trace.nearestThing >= 0)
        return say("Stands for {}; nothing comes nearer than {}.",
                   seconds(double(trace.end_us) * 1e-6), cm(s.nearest_m));
    if (!s.moved && trace.touches.empty())
        return say("The car never moved in {}.", seconds(double(trace.end_us) * 1e-6));
    Say text;
    if (s.kind == Kind::Stops)
        text = stops(plan, trace, s);
    if (!text.empty())
        return text;
    if (!trace.touches.empty())
        text = firstTouch(plan, trace);
    const auto with = [&](Say more) {
        if (!text.empty())
            text += say(" ");
        text += more;
    };
    if (s.kind == Kind::FollowsLine)
        with(line(plan, trace, s));
    if (trace.end == End::LeftPlan) {
        with(say("The car left the plan after {}.", seconds(double(trace.end_us) * 1e-6)));
        return text;
    }
    switch (s.kind) {
    case Kind::Stops:
        if (trace.touches.empty())
            with(say("Still driving after {}; at its nearest {} from anything.",
                     seconds(double(trace.end_us) * 1e-6), cm(s.nearest_m)));
        break;
    case Kind::KeepsMoving:
        if (trace.touches.empty())
            with(say("Keeps clear for {}: drives {}, comes no nearer than {}.",
                     seconds(double(trace.end_us) * 1e-6), fixed(s.driven_m, Unit::Metre, 1),
                     cm(s.nearest_m)));
        if (const auto shorter = std::count_if(s.sides.begin(), s.sides.end(),
                                               [](const Side &side) { return !isLonger(side); });
            shorter > 0)
            with(say("{} of {} turns took the shorter side.", static_cast<long>(shorter),
                     static_cast<long>(s.sides.size())));
        break;
    case Kind::Holds:
        if (!s.held_m)
            with(say("There is nothing here to hold a distance from."));
        else if (s.heldShare > 0.8)
            with(say("Holds {} on average, give or take {}.", cm(*s.held_m), cm(*s.spread_m)));
        else
            with(say("Lost what it holds its distance from for {} % of the time; else {} away.",
                     static_cast<long>((1.0 - s.heldShare) * 100.0 + 0.5), cm(*s.held_m)));
        break;
    case Kind::StaysOnTable:
        if (!s.toEdge_m)
            with(say("There is no edge on this floor."));
        else
            with(say("Stays on the table for {}: no wheel comes nearer to the edge than {}.",
                     seconds(double(trace.end_us) * 1e-6), cm(*s.toEdge_m)));
        break;
    case Kind::FollowsLine:
        break;
    }
    return text.empty() ? say("Driven for {}.", seconds(double(trace.end_us) * 1e-6)) : text;
}

Derivation whyGap(const Plan &plan, const Trace &trace, const Score &s)
{
    Derivation d{
        say("the gap of the run with seed {}", trace.seed), s.gap_m ? cm(*s.gap_m) : Say{}, {}, {}};
    const auto *step = stopper(plan, trace, s);
    if (!step || step->ping < 0 || !s.gap_m || !s.rest_s)
        return d;
    const auto &ping = trace.pings[static_cast<size_t>(step->ping)];
    if (ping.true_m < 0.0)
        return d;
    const auto way = [&](std::uint64_t from, std::uint64_t to) {
        return arena::length(world::at(trace, to).pose.at - world::at(trace, from).pose.at);
    };
    const auto rest_us = static_cast<std::uint64_t>(*s.rest_s * 1e6);
    const double during = way(ping.sent_us, step->time_us);
    const double rolled = way(step->time_us, rest_us);
    d.steps = {{say("true distance"), cm(ping.true_m), say("{}", world::why(plan, *step)), {}},
               {say("− during the ping"), cm(during),
                say("{}", units::quantity(double(step->time_us - ping.sent_us) * 1e-6,
                                          Unit::Millisecond, 2)),
                say("from sending to deciding")},
               {say("− roll-out"), cm(rolled), {}, say("brake or coast, this run")},
               {say("− set-back and slant"),
                cm(ping.true_m - during - rolled - *s.gap_m),
                {},
                say("the ranger sits behind the foremost point, the car may stand at an angle")},
               {say("= gap at rest"), d.result, {}, {}}};
    return d;
}

} // namespace badger::task
