// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/world/words.h"

#include "core/base/angle.h"
#include "core/machine/words.h"
#include "core/units/quantity.h"

#include <algorithm>

namespace badger::world
{

using units::quantity;
using units::Unit;

namespace
{

Say cm(double m)
{
    return say("{}", quantity(m, Unit::Centimetre, 0));
}
Say deg(double rad)
{
    return say("{}°", static_cast<long>(rad / degree + 0.5));
}

/// How far off the axis it would be heard at that distance.
Say heardTo(const Plan &plan, const Ping &p, double echo)
{
    const auto &hearing = plan.on->model().rangers[static_cast<size_t>(p.ranger)].hearing;
    const auto widest = hearing.widest_rad(std::max(0.01, p.true_m), echo);
    return widest ? say("at {} a face is heard to {}", cm(p.true_m), deg(*widest))
                  : say("at {} a face is not heard at all", cm(p.true_m));
}

std::string nameOf(const Plan &plan, int thing)
{
    return thing < 0 ? std::string() : plan.arena.name(thing);
}

} // namespace

const char *word(Wrong wrong)
{
    static constexpr const char *words[] = {"right",     "slanted",    "ends",   "thin",   "soft",
                                            "lost",      "roundabout", "behind", "moving", "near",
                                            "crosstalk", "floor",      "wild"};
    return words[static_cast<size_t>(wrong)];
}

Say why(const Plan &plan, const Ping &p)
{
    const auto thing = nameOf(plan, p.thing);
    const auto &rangers = plan.on->model().rangers;
    switch (p.wrong) {
    case Wrong::Right:
        return {};
    case Wrong::Slanted:
        return say("none: {} stands {} off; {}", thing, deg(p.slant_rad), heardTo(plan, p, 1.0));
    case Wrong::Ends:
        return say(
            "none: {} ends short of the place that would answer; its nearest edge is {} away",
            thing, cm(p.true_m));
    case Wrong::Thin:
        return say("none: {} is thin and {} away; something so thin is heard less far", thing,
                   cm(p.true_m));
    case Wrong::Soft:
        return say("none: {} is soft and swallows the ping", thing);
    case Wrong::Lost:
        return say("none: this ping came to nothing, though {} should have answered", thing);
    case Wrong::Roundabout:
        return say("long: by way of {} and {}", nameOf(plan, p.by), thing);
    case Wrong::Behind:
        if (p.by == p.thing)
            return say("long: {} is nearest at {} and is not heard there; its corner behind is",
                       thing, cm(p.true_m));
        return say("long: {} stands at {} and is not heard; {} behind it is", nameOf(plan, p.by),
                   cm(p.true_m), thing);
    case Wrong::Moving:
        return say("read while the servo moved: at {}° instead of {}°",
                   static_cast<long>(p.stood_deg + 0.5), static_cast<long>(p.asked_deg + 0.5));
    case Wrong::DeadZone:
        return say("too near: inside the dead zone a reading means nothing");
    case Wrong::Crosstalk:
        return say("the echo of a ping that {} sent", rangers[static_cast<size_t>(p.by)].instance);
    case Wrong::FloorEcho:
        return say("short: the beam meets the floor there");
    case Wrong::Wild:
        return say("wild: a noise ended it, nothing stands there");
    }
    return {};
}

const char *word(Phase phase)
{
    static constexpr const char *words[] = {"ahead", "backing", "turning", "waiting"};
    return words[static_cast<size_t>(phase)];
}

Say partOf(const oncar::CarModel &car, arena::Vec p)
{
    const auto &o = car.outline;
    double front = -1e9, rear = 1e9, half = 0.0;
    for (const auto c : o.corners) {
        front = std::max(front, c.x);
        rear = std::min(rear, c.x);
        half = std::max(half, c.y);
    }
    const double near = 0.1 * (front - rear);
    const bool ahead = p.x > front - near;
    const bool behind = p.x < rear + near;
    const bool left = p.y > 0.7 * half;
    const bool right = p.y < -0.7 * half;
    if (ahead)
        return left ? say("left front corner") : right ? say("right front corner") : say("front");
    if (behind)
        return left ? say("left rear corner") : right ? say("right rear corner") : say("rear");
    return p.y > 0.0 ? say("left side") : say("right side");
}

Say words(const Plan &plan, const Touch &t)
{
    return say("{} touches {} at {}, {}, after {}", partOf(plan.on->model(), t.onCar),
               nameOf(plan, t.thing), units::fixed(t.speed_mps, Unit::MetrePerSecond, 2),
               word(t.phase), units::fixed(double(t.time_us) * 1e-6, Unit::Second, 1));
}

Say why(const Plan &plan, const Step &step)
{
    return machine::why(plan.on->program(), plan.on->machine(), step.mind, step.cause);
}

} // namespace badger::world
