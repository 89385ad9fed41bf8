// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/judge/check_way.h"

#include "core/base/angle.h"
#include "core/floor/room.h"
#include "core/judge/approach.h"

#include <algorithm>
#include <cmath>
#include <numbers>
#include <set>

namespace badger::judge
{

using rules::Act;
using units::quantity;
using units::Unit;

namespace
{

using Found = std::vector<Finding>;

Found drivenOver(const ProgramLook &look, const char *code)
{
    const auto &narrow = look.budget->narrow;
    if (!narrow)
        return {};
    return {{code, Severity::Warning, place(look, "'" + look.budget->state + "'"),
             say("It gives way only between {} and {}, and drives {} between two looks.",
                 cm(narrow->from_m), cm(narrow->to_m), cm(narrow->step_m)),
             say("The reading can pass over that stretch: then nothing stops the car there."),
             say("Let everything nearer stop it, too, or look more often."),
             at::reading(look.budget->reading)}};
}

Found silenceBlinds(const ProgramLook &look, const char *code)
{
    Found found;
    for (const auto &name : look.budget->unlessSilent)
        found.push_back({code, Severity::Warning, place(look, "reading " + name),
                         say("While '{}' has no echo, nothing that '{}' says stops the car.", name,
                             look.budget->reading),
                         say("'ignore' leaves out the whole pass, with every other reading in it."),
                         say("Let no echo of '{}' count as clear, or hold its last reading.", name),
                         at::policy(name)});
    return found;
}

/// A state that turns on the way from a stop to driving on.
struct TurnAfterStop {
    const rules::State *state = nullptr;
    bool backedBefore = false;
};

/// Every state that turns and can follow a stop before the car goes ahead again.
std::vector<TurnAfterStop> turnsAfterStop(const ProgramLook &look)
{
    std::vector<TurnAfterStop> all;
    std::set<std::pair<std::string, bool>> seen;
    std::vector<std::pair<std::string, bool>> open;
    for (const auto &name : look.budget->into)
        open.emplace_back(name, false);
    while (!open.empty()) {
        const auto [name, backed] = open.back();
        open.pop_back();
        const auto *state = look.program.state(name);
        if (state == nullptr || !seen.emplace(name, backed).second)
            continue;
        const auto act = rules::actOf(state->motion);
        if (act == Act::Go)
            continue;
        if (act == Act::Turn)
            all.push_back({state, backed});
        const bool now = backed || act == Act::Back;
        if (state->wait) {
            open.emplace_back(state->wait->then, now);
            continue;
        }
        for (const auto *rules : {&look.program.everywhere, &state->rules})
            for (const auto &rule : *rules)
                open.emplace_back(rule.go, now);
    }
    return all;
}

bool aboutOneWheel(const rules::Motion &motion)
{
    return motion.left.sense == 0 || motion.right.sense == 0;
}

bool turnsLeft(const rules::Motion &motion)
{
    return motion.right.sense > motion.left.sense;
}

Found sweepsIntoIt(const ProgramLook &look, const char *code)
{
    const double gap_m = look.budget->budget.worstGap_m;
    const TurnAfterStop *worst = nullptr;
    double most_m = 0.0;
    const auto turns = turnsAfterStop(look);
    for (const auto &t : turns) {
        const double swing_m = cornerSwing_m(look.car->geometry, aboutOneWheel(t.state->motion));
        if (!t.backedBefore && swing_m > most_m) {
            most_m = swing_m;
            worst = &t;
        }
    }
    if (worst == nullptr || gap_m < 0.0 || gap_m >= most_m)
        return {};
    return {{code, Severity::Warning, place(look, "'" + worst->state->name + "'"),
             say("At worst {} are left when it turns; its corner comes {} ahead of the nose.",
                 cm(gap_m), cm(most_m)),
             say("The car stops in time and then hits with its corner."),
             say("Back off before it turns, or raise '{}' by {}.", look.budget->valueName,
                 cm(most_m - gap_m)),
             at::state(worst->state->name)}};
}

/// The least angle of a turn with an end of its own. Empty: it has none, or the rate is not known.
std::optional<double> leastAngle_rad(const ProgramLook &look, const rules::State &turn)
{
    if (!turn.wait || turn.wait->length == rules::Length::PerDegree || look.around == nullptr)
        return std::nullopt;
    const auto &rate =
        turnsLeft(turn.motion) ? look.around->leftTurn_deg_s : look.around->rightTurn_deg_s;
    const auto *time = look.program.value(turn.wait->duration);
    if (!rate || !time || !time->si)
        return std::nullopt;
    return *rate * *time->si * degree;
}

const parts::Part *rangerBehind(const ProgramLook &look)
{
    const auto part = rangerOf(look.car, *look.program.reading(look.budget->reading));
    return part ? *part : nullptr;
}

/// The least angle at which a thin thing ahead lies beside the car.
double clearingAngle_rad(double ahead_m, double half_m, double track_m, bool oneWheel)
{
    constexpr double step = 0.5 * degree;
    double angle = step;
    while (angle < std::numbers::pi / 2.0 &&
           besideAfterTurn_m(ahead_m, angle, track_m, oneWheel) < half_m)
        angle += step;
    return angle;
}

Found doesNotClear(const ProgramLook &look, const char *code)
{
    Found found;
    const auto *ranger = rangerBehind(look);
    if (ranger == nullptr)
        return found;
    const auto &g = look.car->geometry;
    const double ahead_m = g.axleToNose_m + std::max(0.0, look.budget->budget.worstGap_m);
    const double half_rad = ranger->figure("half_angle_rad")->typical;
    for (const auto &t : turnsAfterStop(look)) {
        const auto angle = leastAngle_rad(look, *t.state);
        const bool oneWheel = aboutOneWheel(t.state->motion);
        if (t.backedBefore || !angle || *angle > std::numbers::pi / 2.0)
            continue;
        const double beside_m = besideAfterTurn_m(ahead_m, *angle, g.track_m, oneWheel);
        // Still inside the beam it is heard again, and the car turns once more.
        if (*angle <= half_rad || beside_m >= g.width_m / 2.0)
            continue;
        const double enough =
            clearingAngle_rad(ahead_m, g.width_m / 2.0, g.track_m, oneWheel) / degree;
        found.push_back(
            {code, Severity::Warning, place(look, "'" + t.state->name + "'"),
             say("'{}' turns {}: a post it stopped for is then {} beside its middle, out of the "
                 "beam, and the car is {} wide.",
                 t.state->name, quantity(*angle, Unit::Degree, 0), cm(beside_m), cm(g.width_m)),
             say("It no longer hears the post and drives its side against it."),
             say("Turn {} or more, or back off first.",
                 quantity(std::ceil(enough) * degree, Unit::Degree, 0)),
             t.state->wait->duration.empty() ? at::state(t.state->name)
                                             : at::value(t.state->wait->duration)});
    }
    return found;
}

/// Is a reading the budget's, or the nearest of several that it is one of?
bool isOfBudget(const ProgramLook &look, const std::string &name)
{
    const auto *r = look.program.reading(name);
    const auto &it = look.budget->reading;
    return name == it || (r && r->source == rules::Source::Pick &&
                          std::find(r->of.begin(), r->of.end(), it) != r->of.end());
}

/// Does a rule lead from it to driving ahead by what the budget's ranger says?
bool goesOnWhenClear(const ProgramLook &look, const rules::State &turn)
{
    if (turn.wait)
        return false;
    for (const auto *rules : {&look.program.everywhere, &turn.rules})
        for (const auto &rule : *rules) {
            const auto *to = look.program.state(rule.go);
            const bool byIt =
                std::any_of(rule.when.begin(), rule.when.end(), [&](const rules::Condition &c) {
                    return c.test == rules::Test::Number && isOfBudget(look, c.reading);
                });
            if (to && rules::actOf(to->motion) == Act::Go && (byIt || rule.when.empty()))
                return true;
        }
    return false;
}

Found clearTooSoon(const ProgramLook &look, const char *code)
{
    const auto *ranger = rangerBehind(look);
    if (ranger == nullptr)
        return {};
    const auto &g = look.car->geometry;
    const double half_rad = ranger->figure("half_angle_rad")->typical;
    const double ahead_m = g.axleToNose_m + std::max(0.0, look.budget->budget.worstGap_m);
    for (const auto &t : turnsAfterStop(look)) {
        const double beside_m =
            besideAfterTurn_m(ahead_m, half_rad, g.track_m, aboutOneWheel(t.state->motion));
        if (!goesOnWhenClear(look, *t.state) || beside_m >= g.width_m / 2.0)
            continue;
        return {{code, Severity::Advice, place(look, "'" + t.state->name + "'"),
                 say("'{}' ends as soon as the beam is clear: a post can then still be {} beside "
                     "the middle of a car {} wide.",
                     t.state->name, cm(beside_m), cm(g.width_m)),
                 say("The beam reaches {} to each side. A flat board, too, sends nothing back from "
                     "there on, and the car drives into it.",
                     quantity(half_rad, Unit::Degree, 1)),
                 say("Turn on for a moment after it is clear, or turn earlier."),
                 at::state(t.state->name)}};
    }
    return {};
}

/// Is the car, or its program, for a floor that ends? A line to stop at looks the same to a
/// program.
} // namespace

double cornerSwing_m(const kit::Geometry &g, bool aboutOneWheel)
{
    if (g.deck == kit::DeckShape::Disc && !aboutOneWheel)
        return 0.0;
    const double aside_m = aboutOneWheel ? (g.width_m + g.track_m) / 2.0 : g.width_m / 2.0;
    return std::hypot(g.axleToNose_m, aside_m) - g.axleToNose_m;
}

double besideAfterTurn_m(double ahead_m, double angle_rad, double track_m, bool aboutOneWheel)
{
    const double comes_m = aboutOneWheel ? track_m / 2.0 * (1.0 - std::cos(angle_rad)) : 0.0;
    return ahead_m * std::sin(angle_rad) - comes_m;
}

std::span<const Check<ProgramLook>> wayChecks()
{
    static const std::vector<Check<ProgramLook>> checks{
        {"stop-driven-over", noPraise, drivenOver, "warning",
         "the stretch of readings that stops it is shorter than what it drives between two looks",
         hasBudget},
        {"silence-blinds", noPraise, silenceBlinds, "warning",
         "a reading without echo skips the rule that would stop for another", hasBudget},
        {"turn-sweeps-into-it", source("its corners clear what it stopped for"), sweepsIntoIt,
         "warning", "the gap at worst is smaller than what the corner needs to turn", hasBudget},
        {"turn-does-not-clear", noPraise, doesNotClear, "warning",
         "after the measured turn a post ahead is out of the beam and still in the car's way",
         hasBudget},
        {"clear-too-soon", noPraise, clearTooSoon, "advice",
         "the beam is narrower than the car where the turn ends", hasBudget},
        {"edge-seen-too-late", source("it stops before the edge of the table"), edgeTooLate,
         "error; warning where speed or roll-out are not measured",
         "the edge sensor's overhang is less than latency and roll-out", maySeeAnEdge},
        {"wires-do-otherwise", source("the wires do what the program says"), wiresDoOtherwise,
         "error", "without a board, a pattern of the sensors moves the car another way",
         wiresAreTheProgram},
        {"threshold-wider-than-room", noPraise, widerThanRoom,
         "error where the car never drives; warning across the room",
         "no reading between the walls is beyond the threshold", hasRoom},
    };
    return checks;
}

} // namespace badger::judge
