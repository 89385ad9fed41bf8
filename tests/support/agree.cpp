// SPDX-License-Identifier: GPL-3.0-or-later
#include "support/agree.h"

#include "core/floor/generate.h"
#include "support/families.h"
#include "support/small_steps.h"

#include <fmt/format.h>

namespace badger::test
{

namespace
{

using Choices = std::map<std::string, std::string>;

class Draw
{
public:
    explicit Draw(std::mt19937 &random) : m_random(random) {}

    int between(int least, int most)
    {
        return least + int(m_random() % unsigned(most - least + 1));
    }
    std::string cm(int least, int most) { return std::to_string(between(least, most)) + "cm"; }
    std::string deg(int least, int most) { return std::to_string(between(least, most)) + "deg"; }
    bool once(int in) { return m_random() % unsigned(in) == 0; }

    std::string kindFor(std::string_view family)
    {
        static const std::vector<std::string> open = {"straight", "room", "corridor",  "corner",
                                                      "pocket",   "ring", "side-wall", "post"};
        static const std::vector<std::string> mats = {"loop", "crossing"};
        const bool line = family == "straddle" || family.starts_with("edge-") || family == "lane";
        if (once(8))
            return floor::generators()[m_random() % floor::generators().size()].name;
        if (family == "lane")
            return "lane";
        if (line)
            return mats[m_random() % mats.size()];
        if (family == "table-edge")
            return "table";
        if (family == "wall-hold")
            return "side-wall";
        return open[m_random() % open.size()];
    }
    Choices choicesFor(const std::string &kind)
    {
        if (kind == "straight")
            return {{"distance", cm(30, 250)},
                    {"angle", deg(-35, 35)},
                    {"width", cm(20, 120)},
                    {"soft", once(4) ? "cloth" : "no"}};
        if (kind == "room")
            return {{"width", cm(160, 450)},
                    {"depth", cm(140, 350)},
                    {"boxes", std::to_string(between(0, 6))},
                    {"seed", std::to_string(between(1, 900))}};
        if (kind == "corridor")
            return {{"width", cm(60, 150)}, {"doorway", cm(25, 58)}, {"at", cm(120, 300)}};
        if (kind == "corner")
            return {{"angle", deg(50, 150)}, {"distance", cm(80, 220)}};
        if (kind == "pocket")
            return {{"width", cm(30, 90)}, {"depth", cm(30, 120)}};
        if (kind == "ring")
            return {{"diameter", cm(100, 300)}};
        if (kind == "side-wall")
            return {{"length", cm(100, 400)}, {"distance", cm(14, 40)}};
        if (kind == "post")
            return {{"diameter", cm(2, 30)}, {"ahead", cm(40, 160)}, {"left", cm(-12, 12)}};
        if (kind == "table")
            return {{"ahead", cm(30, 90)}, {"angle", deg(-40, 40)}};
        if (kind == "loop")
            return {{"length", cm(140, 220)}, {"width", cm(90, 130)}, {"radius", cm(20, 40)}};
        return {};
    }

private:
    std::mt19937 &m_random;
};

std::string said(const world::Plan &plan, const world::Trace &t, const task::Score &s)
{
    std::string text = english(task::verdict(plan, t, s));
    if (!t.touches.empty())
        text += fmt::format(" [touches {} at {:.6f}]", t.touches[0].thing,
                            double(t.touches[0].time_us) * 1e-6);
    if (s.rest_s)
        text += fmt::format(" [rests at {:.4f} with {:.5f}]", *s.rest_s, s.gap_m.value_or(-1.0));
    return text;
}

/// Where two things are touched at once, either may be the first: is the car at that moment as near
/// to another thing?
bool touchesToo(const world::Plan &plan, const world::Trace &trace, const world::Touch &touch,
                int other)
{
    const double t_s = double(touch.time_us) * 1e-6;
    const auto pose = world::at(trace, touch.time_us).pose;
    double least_m = arena::toThing_m(plan.arena, other, touch.onFloor, t_s);
    for (const auto &corner : plan.on->model().outline.corners)
        least_m =
            std::min(least_m, arena::toThing_m(plan.arena, other,
                                               pose.at + arena::turned(corner, pose.looks), t_s));
    return least_m < 0.001;
}

/// The first ping or step of the program that is another in the one than in the other.
std::string parting(const world::Trace &a, const world::Trace &b)
{
    std::string text;
    for (size_t i = 0; i < std::min(a.pings.size(), b.pings.size()); ++i) {
        const auto &x = a.pings[i], &y = b.pings[i];
        if (x.echo_us == y.echo_us && x.ranger == y.ranger)
            continue;
        text =
            fmt::format("ping {} at {:.6f} and {:.6f}: {} and {} us", i, double(x.sent_us) * 1e-6,
                        double(y.sent_us) * 1e-6, x.echo_us, y.echo_us);
        break;
    }
    for (size_t i = 0; i < std::min(a.steps.size(), b.steps.size()); ++i) {
        const auto &x = a.steps[i], &y = b.steps[i];
        if (x.mind.mode == y.mind.mode && std::abs(double(x.time_us) - double(y.time_us)) < 1000.0)
            continue;
        text += fmt::format("; step {}: mode {} at {:.6f} and {} at {:.6f}", i, x.mind.mode,
                            double(x.time_us) * 1e-6, y.mind.mode, double(y.time_us) * 1e-6);
        break;
    }
    return text;
}

} // namespace

Drawn drawRun(std::mt19937 &random)
{
    Draw draw(random);
    const auto &family = families()[random() % families().size()];
    const auto kind = draw.kindFor(family.name);
    const auto set = draw.choicesFor(kind);
    Drawn d;
    d.what = fmt::format("{} on {}:", family.name, kind);
    for (const auto &[key, value] : set)
        d.what += fmt::format(" {}={}", key, value);
    auto floor = floor::generate(kind, set, kind);
    if (!floor)
        return d;
    if (kind == "room" || kind == "ring")
        floor->start.heading_rad = draw.between(0, 628) / 100.0;
    world::Conditions how;
    how.lasts_s = 10.0;
    how.noise = draw.once(2);
    how.endAtContact = !draw.once(4);
    using rules::Command;
    how.keys = {{0, Command::Ahead}, {4000000, Command::Left}, {4800000, Command::Ahead}};
    d.seed = random() % 1000;
    d.what += fmt::format("{}{}, seed {}", how.noise ? ", noise" : "",
                          how.endAtContact ? "" : ", goes on", d.seed);
    if (auto made = judge::Drive::make(
            courseOf(family, std::make_shared<floor::Floor>(std::move(*floor))), how))
        d.drive = *made;
    return d;
}

Agreement compare(const Drawn &drawn, std::optional<std::uint64_t> stepsSeed)
{
    const auto &plan = drawn.drive->plan();
    const auto events = world::drive(plan, drawn.seed);
    const auto steps = bySmallSteps(plan, stepsSeed.value_or(drawn.seed));
    const auto one = task::score(plan, events);
    const auto two = task::score(plan, steps);
    Agreement a;
    const auto near = [](const std::optional<double> &x, const std::optional<double> &y,
                         double by) {
        return x.has_value() == y.has_value() && (!x || std::abs(*x - *y) <= by);
    };
    const bool t1 = !events.touches.empty(), t2 = !steps.touches.empty();
    a.touched = t1 || t2;
    a.free = !a.touched;
    a.same = t1 == t2 && events.end == steps.end && one.good == two.good &&
             events.fell.has_value() == steps.fell.has_value() &&
             (!events.fell || events.fell->wheel == steps.fell->wheel) &&
             near(one.rest_s, two.rest_s, 0.01) && near(one.gap_m, two.gap_m, 0.001);
    if (a.same && t1) {
        const auto &x = events.touches[0], &y = steps.touches[0];
        const bool thing = x.thing == y.thing || touchesToo(plan, events, x, y.thing);
        a.same = thing && x.phase == y.phase &&
                 std::abs(double(x.time_us) - double(y.time_us)) < 10000.0;
    }
    a.graze = t1 != t2 && (t1 ? steps : events).nearest_m < 0.001;
    if (a.free)
        a.apart_m = arena::length(events.path.back().pose.at - steps.path.back().pose.at);
    if (!a.same)
        a.difference =
            "events: " + said(plan, events, one) + "\n        steps:  " + said(plan, steps, two);
    a.parting = parting(events, steps);
    return a;
}

} // namespace badger::test
