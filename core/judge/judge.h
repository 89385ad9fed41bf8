// SPDX-License-Identifier: GPL-3.0-or-later
// How does a car stand: what is wrong, which gate is open, what comes next?
#pragma once

#include "core/base/finding.h"
#include "core/base/say.h"
#include "core/judge/budget.h"
#include "core/judge/drive.h"
#include "core/judge/kit_judgement.h"
#include "core/judge/station.h"
#include "core/judge/tune_judgement.h"
#include "core/kit/assembly.h"
#include "core/motion/motion.h"

#include <array>
#include <memory>
#include <optional>

namespace badger::judge
{

/// One thing to do now, with its caution.
struct NextStep {
    Say title;
    Say text;
    Say caution; ///< empty where nothing can hurt
    Station station = Station::Wire;
    bool operator==(const NextStep &) const = default;
};

/// Everything the program has to say about one car.
struct Judgement {
    KitJudgement kit;
    Findings wire;
    motion::MotionTable motion; ///< of the wires; empty where there are none
    pins::Reach reach;          ///< what the wires make of a program's speeds
    TuneJudgement tune;         ///< what was measured at the bench
    Findings rule;
    std::optional<CarBudget> budget;
    std::optional<Error> noBudget; ///< why there is none
    std::vector<OtherWay> otherWays;
    std::vector<JudgedRun> runs;             ///< the first seeds on the floor
    std::optional<Error> noRuns;             ///< why it cannot be driven
    bool runsPending = false;                ///< they are still to be driven: see driven()
    Pieces<logbook::MeasuredTrial> measured; ///< with the program as it stands
    Pieces<logbook::MeasuredTrial> older;    ///< with anything else
    std::array<Gate, stations.size()> gates;
    NextStep next;

    /// Findings of all stations, errors first; what two stations both see stands once.
    std::vector<Finding> all() const;
    /// What a station shows: its own; Floor and Log show the program's.
    const Findings &of(Station station) const;
    const Gate &gate(Station station) const { return gates[static_cast<size_t>(station)]; }
};

/// Seeds that are run for the judgement: few, so that it is at hand at every edit.
inline constexpr int judgedRuns = 5;

/// The simulated runs are nearly all of a judgement's time. Later: everything else is judged, and
/// the gate of the floor says that they are being driven.
enum class Runs { Now, Later };

/// What the judgement of a car rests on: pieces of a workshop, shared with it.
struct Grounds {
    std::shared_ptr<const kit::Car> car;           ///< never null
    std::shared_ptr<const rules::Program> program; ///< null: the car runs none
    std::shared_ptr<const floor::Floor> floor;     ///< null: there is none
    Pieces<logbook::MeasuredTrial> trials;         ///< of the car
    Pieces<parts::Part> parts;                     ///< the workshop's own
    Pieces<tune::Record> records;                  ///< of the car, in the order they were taken
    std::string floorName;                         ///< of the car's mission; empty: none is chosen
    std::shared_ptr<const floor::Floor> missionFloor{}; ///< the same; null: none is chosen
};

/// Which of a car's judgements were asked.
struct Asked {
    bool kit = false;
    bool wire = false;
    bool tune = false;
    bool program = false; ///< and its runs
    bool log = false;
    bool any() const { return kit || wire || tune || program || log; }
    bool operator==(const Asked &) const = default;
};

/// Brings a judgement that was made on the grounds `was` up to date with `now`; each of its parts
/// is asked again only where something that it rests on is another piece with another content. With
/// no `was` everything is asked. `catalogue` is that of `now`. The outcome is what judge() gives.
Asked renew(Judgement &judgement, const std::optional<Grounds> &was, const Grounds &now,
            const parts::Catalogue &catalogue, Runs runs);

/// Judges a car of the workshop. The floor is the car's own unless one is given:
/// workshop::floorOf().
Judgement judge(const workshop::Workshop &workshop, const kit::Assembly &car,
                const floor::Floor *floor = nullptr, Runs runs = Runs::Now);

/// The runs of a judgement, driven apart from it: it reads nothing but its arguments. `on` has a
/// program and a floor. Fails as Drive::make() does.
Result<std::vector<JudgedRun>> driven(const Grounds &on, const parts::Catalogue &catalogue);
/// Puts them into a judgement that waits for them; then it is as if it had been made with them.
void takeRuns(Judgement &judgement, Result<std::vector<JudgedRun>> runs, const kit::Assembly &car);

/// Puts findings of the wires in the place of those that were seen at once: by their causes, with
/// their mends. Gates and next step follow.
void takeWires(Judgement &judgement, std::vector<Finding> findings, const kit::Assembly &car);

/// The station's verdict in a full sentence with its number, and the quiet line of conditions.
struct Headline {
    Say sentence;
    Say conditions;
};
Headline headline(Station station, const workshop::Workshop &workshop, const kit::Assembly &car,
                  const Judgement &judgement);

/// Does a measured trial belong to the car's program as it stands?
/// What stands against loading the program onto the car: the errors of its wires and of its rules,
/// each with its code.
std::vector<Say> errorsAgainstWriting(const Judgement &judgement);

bool isCurrent(const logbook::MeasuredTrial &trial, const kit::Car &car,
               const rules::Program &program);

} // namespace badger::judge
