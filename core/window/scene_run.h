// SPDX-License-Identifier: GPL-3.0-or-later
// Runs of one row at one place of the handle. Private to window/.
#pragma once

#include "core/task/outcome.h"
#include "core/window/search.h"

#include <memory>
#include <mutex>

namespace badger::window
{

/// What was not measured on a car, as factors of what its parts' data say: each run draws a car
/// from these.
struct Unmeasured {
    Range speed{1.0, 1.0};
    Range roll{1.0, 1.0};
    std::vector<Say> names{};
};
/// A person drives it.
bool takesKeys(const rules::Program &program);

Unmeasured unmeasuredOf(const kit::Assembly &car, const rules::Program &program);

/// The programs of all places on one car, each lowered when it is first driven. Of any thread.
class Places
{
public:
    static Result<std::unique_ptr<Places>> make(const Question &question, const Handle &handle);

    /// Null where the program cannot be as it is with that value.
    const oncar::ProgramOnCar *at(size_t place);
    /// As the program is.
    const oncar::ProgramOnCar &now() const { return *m_now; }
    double wayOfPass_m() const { return m_wayOfPass_m; }
    const Unmeasured &unmeasured() const { return m_unmeasured; }
    const Question &question() const { return m_question; }
    const Handle &handle() const { return m_handle; }

private:
    struct Place {
        std::once_flag once;
        rules::Program program;
        std::optional<oncar::ProgramOnCar> on;
    };
    Places(const Question &question, const Handle &handle)
        : m_question(question), m_handle(handle),
          m_car(*question.course.car, question.course.catalogue), m_places(handle.at.size())
    {
    }

    const Question &m_question;
    const Handle &m_handle;
    kit::Assembly m_car;
    std::optional<oncar::ProgramOnCar> m_now;
    std::vector<Place> m_places;
    Unmeasured m_unmeasured;
    double m_wayOfPass_m = 0.0;
};

/// How one run of a row went.
struct Went {
    bool event = false;
    bool job = true;
    double nearest_m = 0.0;
    double end_s = 0.0; ///< it rests, or the run ends
    std::optional<world::Touch> touch{};
    bool lost = false;
    bool fell = false;
};

/// Of one thread.
class SceneRuns
{
public:
    /// Places, row and handle outlive it.
    SceneRuns(Places &places, const Row &row, task::Kind task);
    /// Fails where the row cannot occur: asked once before the runs.
    Result<void> begin();
    /// Run number n at a place; empty where the program cannot be so.
    std::optional<Went> drive(size_t place, std::uint64_t number);
    std::uint64_t seedOf(std::uint64_t number) const;
    /// The floor and conditions of a run, with what was drawn for it.
    Result<Scene> asDriven(size_t place, std::uint64_t number);
    /// The plan of a run: everything of it but its chance.
    Result<world::Plan> planOf(const oncar::ProgramOnCar &on, std::uint64_t number) const;
    /// Which thing, and where on the car.
    const world::Plan &plan() const { return *m_plan; }
    /// The way to get past what stands beside a free way; empty: the way is not free.
    std::optional<double> gate_m() const { return m_gate_m; }

private:
    /// One plan serves all runs of a place: what is drawn varies the car alone.
    bool isFixed() const;
    world::Conditions shared() const;
    void vary(world::Plan &plan, std::uint64_t number);

    Places &m_places;
    const Row &m_row;
    task::Kind m_task;
    std::uint64_t m_key = 0;
    double m_lasts_s = 20.0;
    std::optional<double> m_gate_m;
    double m_setBack_m = 0.0; ///< of this run
    std::optional<size_t> m_place;
    arena::Pose m_start;
    std::unique_ptr<world::Plan> m_plan;
    std::unique_ptr<task::Outcomes> m_outcomes;
};

/// A judge::Drive of one run as the search had it.
Result<Replay> replayOf(const Question &question, const Handle &handle, const Row &row,
                        task::Kind task, size_t place, std::uint64_t number);

} // namespace badger::window
