// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/judge/drive.h"

#include "core/faults/faults.h"

namespace badger::judge
{

Result<std::shared_ptr<const Drive>> Drive::make(Course course, const world::Conditions &conditions)
{
    auto put =
        faults::put(course.faults, course.built ? *course.built : *course.car, course.catalogue);
    if (!put)
        return tl::unexpected(put.error());
    if (put->changesBuild)
        course.built = std::make_shared<kit::Car>(std::move(put->car));
    const kit::Assembly drawn(*course.car, course.catalogue);
    std::optional<kit::Assembly> built;
    if (course.built)
        built.emplace(*course.built, course.catalogue);
    auto on = oncar::ProgramOnCar::make(drawn, *course.program, course.records,
                                        built ? &*built : nullptr);
    if (!on)
        return tl::unexpected(on.error());
    for (const auto *f : put->ofRun)
        if (!f->run(on->changeModel()))
            return fail(Error::Kind::Conflict, say("--fault {}", f->code),
                        say("car '{}' cannot have it: it has no such part", course.car->name),
                        say("choose another"));
    const std::shared_ptr<Drive> drive(new Drive(std::move(course), std::move(*on)));
    auto plan = world::planFor(drive->m_on, *drive->m_course.floor, conditions);
    if (!plan)
        return tl::unexpected(plan.error());
    drive->m_plan = std::move(*plan);
    return drive;
}

Run Drive::run(std::uint64_t seed, std::optional<task::Kind> kind) const
{
    Run run;
    run.trace = world::drive(m_plan, seed);
    run.score = task::score(m_plan, run.trace, kind);
    return run;
}

} // namespace badger::judge
