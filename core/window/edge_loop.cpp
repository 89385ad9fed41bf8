// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/window/edge_loop.h"

#include "core/base/angle.h"
#include "core/rules/pass_time.h"
#include "core/units/quantity.h"

#include <algorithm>
#include <cmath>

namespace badger::window
{

using units::quantity;
using units::Unit;

namespace
{

constexpr double wellDamped = 0.7;

const rules::State *glides(const rules::Program &program)
{
    for (const auto &s : program.states)
        if (s.motion.proportion && s.motion.proportion->follows == rules::Follows::Steer)
            return &s;
    return nullptr;
}

/// A spot that looks down at the floor.
const oncar::Eye *eyeOf(const oncar::CarModel &model, const std::string &instance)
{
    for (const auto &e : model.eyes)
        if (e.instance == instance && e.kind == oncar::Eye::Kind::Analogue && !e.level)
            return &e;
    return nullptr;
}

Say number(double value)
{
    return say("{}", units::number(value, 2));
}

} // namespace

std::optional<EdgeLoop> edgeLoop(const oncar::ProgramOnCar &on, const floor::Floor &floor)
{
    const auto &program = on.program();
    const auto &model = on.model();
    const auto *state = glides(program);
    if (state == nullptr)
        return std::nullopt;
    const auto &p = *state->motion.proportion;
    const auto *gain = program.value(p.gain);
    const auto *speed = program.value(state->motion.left.speed);
    const auto *reading = program.reading(p.reading);
    const auto *eye = reading ? eyeOf(model, reading->instance) : nullptr;
    if (!gain || !gain->si || !speed || !speed->si || eye == nullptr)
        return std::nullopt;
    EdgeLoop loop;
    loop.gain = gain->name;
    loop.speed = speed->name;
    loop.speed_mps = model.wheels.speed_mps[0];
    const auto count =
        std::min(size_t(std::clamp(*speed->si, 0.0, 255.0)), loop.speed_mps.size() - 1);
    loop.edge = {eye->at.x,
                 eye->spot_m,
                 model.wheels.track_m,
                 loop.speed_mps[count],
                 *gain->si,
                 model.wheels.rise_s,
                 rules::passTime(program, {}).longest_s};
    const auto now = tune::edgeFollowing(loop.edge);
    if (!now)
        return std::nullopt;
    loop.now = *now;
    // The damping grows with the root of the gain; a bend of R asks for half the track by R.
    const double damped = loop.edge.share * std::pow(wellDamped / loop.now.damping, 2.0);
    loop.bend = floor::tightestBend(floor);
    const double half_m = loop.edge.track_m / 2.0;
    loop.tooTight = loop.bend && loop.bend->radius_m < half_m;
    const double turns = loop.tooTight ? 1.0 : loop.bend ? half_m / loop.bend->radius_m : 0.0;
    loop.advisedGain = std::min(1.0, std::max(damped, turns));
    auto advised = loop.edge;
    advised.share = loop.advisedGain;
    if (const auto at = tune::edgeFollowing(advised)) {
        loop.advisedDamping = at->damping;
        loop.advisedTop_mps = at->topSpeed_mps;
    }
    loop.advisedTop = topCount(loop, loop.advisedGain);
    return loop;
}

std::optional<double> topCount(const EdgeLoop &loop, double gain)
{
    auto edge = loop.edge;
    edge.share = gain;
    const auto at = tune::edgeFollowing(edge);
    if (!at || !at->topSpeed_mps)
        return std::nullopt;
    std::optional<double> top;
    for (size_t count = 1; count < loop.speed_mps.size(); ++count)
        if (loop.speed_mps[count] > 0.0 && loop.speed_mps[count] <= *at->topSpeed_mps)
            top = double(count);
    return top;
}

std::vector<Say> wordsOf(const EdgeLoop &loop)
{
    const auto &e = loop.edge;
    std::vector<Say> all;
    all.push_back(
        say("By the loop's arithmetic {} {} at {} has a damping of {} and a phase margin "
            "of {}°, of which {}° are asked: sensor {} ahead of the axle, spot {}, "
            "motors {}, pass {}.",
            loop.gain, number(e.share), quantity(e.speed_mps, Unit::MetrePerSecond, 2),
            number(loop.now.damping), units::number(loop.now.phaseMargin_rad / degree, 2),
            units::number(tune::askedMargin_deg, 2), quantity(e.ahead_m, Unit::Millimetre, 2),
            quantity(e.spot_m, Unit::Millimetre, 2), quantity(e.lag_s, Unit::Millisecond, 2),
            quantity(e.delay_s, Unit::Millisecond, 2)));
    if (loop.bend)
        all.push_back(
            loop.tooTight
                ? say("The line has a corner that is tighter than half the track: it sets the "
                      "speed, and the runs say which.")
                : say("The tightest bend, {}, asks for a {} of {} at least: half the track by it.",
                      quantity(loop.bend->radius_m, Unit::Centimetre, 2), loop.gain,
                      number(loop.edge.track_m / 2.0 / loop.bend->radius_m)));
    if (loop.tooTight)
        return all;
    if (loop.advisedTop && loop.advisedTop_mps)
        all.push_back(say("It advises a {} of {} (damping {}) and up to {} {} ({}); sharp corners "
                          "ask for less.",
                          loop.gain, number(loop.advisedGain), number(loop.advisedDamping),
                          loop.speed, units::number(*loop.advisedTop, 3),
                          quantity(*loop.advisedTop_mps, Unit::MetrePerSecond, 2)));
    else
        all.push_back(say("With the {} of {} that this takes (damping {}) no speed keeps that "
                          "margin: quicker motors, a shorter pass or wider bends would.",
                          loop.gain, number(loop.advisedGain), number(loop.advisedDamping)));
    return all;
}

} // namespace badger::window
