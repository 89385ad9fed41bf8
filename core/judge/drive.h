// SPDX-License-Identifier: GPL-3.0-or-later
// A car with its program on a floor, ready to be driven as often as one likes.
#pragma once

#include "core/task/score.h"
#include "core/tune/record.h"
#include "core/world/plan.h"

#include <memory>

namespace badger::judge
{

/// What is driven: pieces of a workshop, shared with it.
struct Course {
    std::shared_ptr<const kit::Car> car;           ///< never null
    std::shared_ptr<const rules::Program> program; ///< never null
    std::shared_ptr<const floor::Floor> floor;     ///< never null
    Pieces<tune::Record> records;                  ///< of the car
    parts::Catalogue catalogue;
    /// The car as it really is, where that is not as it is drawn; null: as drawn.
    std::shared_ptr<const kit::Car> built{};
    /// Codes of core/faults, put in on purpose.
    std::vector<std::string> faults{};
};

/// One run, with what its words are made of.
struct Run {
    world::Trace trace;
    task::Score score;
};

/// Keeps its course, so that a run can be spoken of long after the workshop has changed. Not
/// changed once made: any thread may drive.
class Drive
{
public:
    /// Fails as oncar::ProgramOnCar::make(), world::planFor() and faults::put() do.
    static Result<std::shared_ptr<const Drive>> make(Course course,
                                                     const world::Conditions &conditions);

    const Course &course() const { return m_course; }
    const world::Plan &plan() const { return m_plan; }
    Run run(std::uint64_t seed, std::optional<task::Kind> kind = {}) const;

private:
    Drive(Course course, oncar::ProgramOnCar on) : m_course(std::move(course)), m_on(std::move(on))
    {
    }
    Course m_course;
    oncar::ProgramOnCar m_on;
    world::Plan m_plan;
};

/// What a judgement keeps of a run.
struct JudgedRun {
    std::uint64_t seed = 0;
    std::uint64_t fingerprint = 0;
    bool good = false;    ///< the task was met
    bool touched = false; ///< or a wheel passed the edge
    task::Kind kind = task::Kind::Stops;
    Say verdict;
    Derivation why;
};

/// How long a run of a judgement lasts: enough to stop, to turn away a few times, to come round a
/// mat.
inline constexpr double judgedRun_s = 20.0;

} // namespace badger::judge
