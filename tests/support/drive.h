// SPDX-License-Identifier: GPL-3.0-or-later
// A car of the demo, with a program made from a template, on a floor made from a kind.
#pragma once

#include "core/floor/generate.h"
#include "core/io/templates.h"
#include "core/judge/program_around.h"
#include "core/kit/roles.h"
#include "support/fixture.h"

namespace badger::test
{

using Choices = std::map<std::string, std::string>;

inline floor::Floor floorOf(const std::string &kind, const Choices &set = {})
{
    auto f = floor::generate(kind, set, kind);
    if (!f)
        qFatal("%s", english(f.error().text()).c_str());
    return *f;
}

struct Driven {
    std::shared_ptr<const judge::Drive> drive;
    judge::Run run;
    const world::Trace &trace() const { return run.trace; }
    const task::Score &score() const { return run.score; }
    Say verdict() const { return task::verdict(drive->plan(), run.trace, run.score); }
    /// The nose, straight ahead of where it started, and to the left.
    arena::Vec nose(std::uint64_t time_us) const
    {
        const auto &plan = drive->plan();
        const auto m = world::at(run.trace, time_us);
        const double n = plan.on->model().axleToNose_m;
        const auto start = plan.start.at + n * plan.start.looks;
        const auto at = m.pose.at + n * m.pose.looks;
        return arena::turned(at - start, {plan.start.looks.x, -plan.start.looks.y});
    }
    double heading_deg(std::uint64_t time_us) const
    {
        const auto a = drive->plan().start.looks;
        const auto b = world::at(run.trace, time_us).pose.looks;
        return std::atan2(arena::cross(a, b), arena::dot(a, b)) * 180.0 / M_PI;
    }
};

inline Driven driven(const judge::Course &course, const world::Conditions &how,
                     std::uint64_t seed = 1)
{
    auto drive = judge::Drive::make(course, how);
    if (!drive)
        qFatal("%s", english(drive.error().text()).c_str());
    return {*drive, (*drive)->run(seed)};
}

inline Driven driven(const Bench &bench, const floor::Floor &floor, const world::Conditions &how,
                     std::uint64_t seed = 1)
{
    auto course = courseOf(bench);
    course.floor = std::make_shared<floor::Floor>(floor);
    return driven(course, how, seed);
}

inline world::Conditions quiet(double lasts_s = 20.0)
{
    world::Conditions c;
    c.noise = false;
    c.lasts_s = lasts_s;
    return c;
}

/// A car with a program from a template, whose model may be bent before it is driven.
struct Bent {
    Bench bench;
    kit::Assembly car;
    oncar::ProgramOnCar on;

    Bent(const std::string &name, const std::string &family, const Choices &choices)
        : bench(name), car(withProgram(bench, family, choices), bench.catalogue), on(made(*this))
    {
    }
    world::Trace drive(const floor::Floor &f, const world::Conditions &how,
                       std::uint64_t seed = 1) const
    {
        const auto plan = world::planFor(on, f, how);
        if (!plan)
            qFatal("%s", english(plan.error().text()).c_str());
        return world::drive(*plan, seed);
    }
    world::Trace drive(const floor::Floor &f, double lasts_s) const
    {
        return drive(f, quiet(lasts_s));
    }

private:
    static kit::Car &withProgram(Bench &b, const std::string &family, const Choices &choices)
    {
        auto program =
            io::fromTemplate(family, choices, kit::roles({b.car, b.catalogue}), {"made"}, "made");
        if (!program)
            qFatal("%s", english(program.error().text()).c_str());
        auto &own = programOf(b);
        program->id = own.id;
        own = std::move(*program);
        b.car = nets::withPinsFromWires(b.car, b.catalogue);
        return b.car;
    }
    static oncar::ProgramOnCar made(Bent &b)
    {
        auto on = oncar::ProgramOnCar::make(b.car, programOf(b.bench), {});
        if (!on)
            qFatal("%s", english(on.error().text()).c_str());
        return *on;
    }
};

inline double heading_deg(const world::Trace &t, double time_s)
{
    const auto looks = world::at(t, static_cast<std::uint64_t>(time_s * 1e6)).pose.looks;
    return std::atan2(looks.y, looks.x) * 180.0 / M_PI;
}

} // namespace badger::test
