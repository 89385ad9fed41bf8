// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/judge/drive.h"

namespace badger::judge
{

Result<std::shared_ptr<const Drive>> Drive::make(Course course, const world::Conditions &conditions)
{
    const kit::Assembly drawn(*course.car, course.catalogue);
    std::optional<kit::Assembly> built;
    if (course.built)
        built.emplace(*course.built, course.catalogue);
    auto on = oncar::ProgramOnCar::make(drawn, *course.program, course.records,
                                        built ? &*built : nullptr);
    if (!on)
        return tl::unexpected(on.error());
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
