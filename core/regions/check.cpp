// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/regions/check.h"

#include "core/regions/check_look.h"

namespace badger::regions
{

namespace
{

bool hasCells(const Look &look)
{
    return look.complete && !look.modes.empty();
}

/// Of a mode with too many cells none are there.
bool allCellsKnown(const Look &look)
{
    if (!hasCells(look))
        return false;
    size_t reached = 0;
    for (const bool can : look.can)
        reached += can ? 1 : 0;
    return look.modes.size() == reached;
}

/// Without a measurement there is nothing to hold them against.
bool countsKnown(const Look &look)
{
    return !look.around.surfaces.empty();
}

bool setsApart(const Look &look)
{
    return look.complete &&
           std::any_of(look.program.readings.begin(), look.program.readings.end(),
                       [](const rules::Reading &r) { return r.nearest_m.has_value(); });
}

constexpr Check<Look> allChecks[] = {
    {"reading-without-action", source("every reading has an action"), holes, "error",
     "no rule covers a reading", hasCells},
    {"reading-with-two-actions", source("no reading has two actions"), overlaps, "warning",
     "two rules with different actions cover a reading, or it acts twice in one pass", hasCells},
    {"rule-never-met", source("every rule can be met"), neverMet, "warning",
     "no reading gets to a rule: its limits are exchanged, or rules before it take them all",
     allCellsKnown},
    {"limit-in-neither-rule", source("each limit belongs to one rule"), limitFallsThrough,
     "error; advice where the action is that beside it",
     "a reading exactly on a limit falls to the rule for everything else", hasCells},
    {"lost-target-chased", source("a lost target is not chased"), lostTargetChased, "error",
     "a follower advances when it hears nothing", hasCells},
    {"too-near-goes", source("what is too near does not mean: go on"), tooNearGoes, "error",
     "it goes on where the ranger cannot measure, and stops a little farther away", setsApart},
    {"bound-in-dead-zone", "", blindBelowBound, "warning",
     "numbers are taken from where the ranger is blind", setsApart},
    {"none-turns-to-wall", source("no echo does not turn it to a wall"), noneTurnsToWall, "warning",
     "an open side counts as nought and is taken for the nearest", isComplete},
    {"comparison-without-tolerance", source("sides are compared with a tolerance"), noTolerance,
     "warning", "a difference of one unit decides between two sides", isComplete},
    {"better-side-passed", noPraise, passesBetterSide, "advice",
     "the first side that is free is taken, however much clearer the other is", isComplete},
    {"turns-unequal", source("turns to both sides are alike"), turnsUnequal, "warning",
     "turns to the left and right are of different angles", isComplete},
    {"always-same-side", noPraise, alwaysSameSide, "advice", "every turn is to the same side"},
    {"ties-prefer-one-side", noPraise, tiesPreferASide, "advice",
     "of equal looks of a scan one end always wins"},
    {"dwell-too-short", source("the servo is there before each ping"), dwellTooShort, "warning",
     "the servo is still moving when the ping leaves", isComplete},
    {"direction-not-looked-at", noPraise, neverLookedAt, "advice",
     "it turns to a side where nothing looks"},
    {"blind-stretch", noPraise, blindStretch, "advice; warning where it drives ahead",
     "the longest stretch in which nothing is decided, and how far it goes meanwhile", isComplete},
    {"state-without-way-out", source("every state has a way out"), noWayOut, "error",
     "nothing leads out of a state", isComplete},
    {"sensor-sense-opposite", source("sensors mean what the program expects"), senseOpposite,
     "error", "the program expects the opposite of what the sensor puts out"},
    {"counts-not-as-measured", source("counts are those that were measured"), countsNotAsMeasured,
     "warning", "the light or dark count of a reading is not what its sensor was measured at",
     countsKnown},
    {"limit-tells-nothing", source("counts tell the measured surfaces apart"), limitTellsNothing,
     "error", "both measured surfaces lie on one side of a limit", countsKnown},
    {"echo-time-overflow", source("echo times do not overflow"), timeOverflows, "error",
     "an echo time is longer than its 16 bits hold", isComplete},
    {"endless-loop", source("it does not go round on one spot"), endlessLoop, "error",
     "before a world that stands still it stops, looks and goes on for ever", isComplete},
};

} // namespace

Findings check(const rules::Program &program, const Around &around)
{
    if (!rules::broken(program).empty() || program.states.empty())
        return {};
    return check(Exact(program, around.facts), around);
}

Findings check(const Exact &exact, const Around &around)
{
    Findings result;
    const auto &program = exact.program();
    Look look{program, around, exact.machine(), {}, {}, false};
    for (size_t m = 0; m < look.machine.modes.size(); ++m)
        look.can.push_back(exact.isReachable(m));
    look.complete = rules::unset(program).empty();
    if (look.complete) {
        for (size_t m = 0; m < look.machine.modes.size(); ++m) {
            if (!look.can[m])
                continue;
            const auto &cells = exact.cells(m);
            if (!cells) {
                result.findings.push_back({"too-many-cells",
                                           Severity::Warning,
                                           cells.error().where,
                                           say("{}.", capitalised(cells.error().what)),
                                           say("Which readings have no action is not known."),
                                           say("{}.", capitalised(cells.error().mend)),
                                           {}});
                continue;
            }
            look.modes.push_back({*cells, rows(look.machine, *cells)});
        }
    }
    run<Look>(allChecks, look, result);
    return result;
}

std::vector<CheckLine> checkLines()
{
    std::vector<CheckLine> lines = {
        {"too-many-cells", "warning",
         "more than a million ways to decide: holes are not looked for"}};
    addLines<Look>(allChecks, lines);
    return lines;
}

} // namespace badger::regions
