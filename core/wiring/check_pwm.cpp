// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/wiring/check_pwm.h"

#include "core/nets/drive_map.h"

#include <algorithm>
#include <map>
#include <set>

namespace badger::wiring
{

using parts::Kind;
using parts::Role;

namespace
{

/// Speed lines on pins, with the pin.
template <class Visit> void eachSpeedLine(const pins::PinProblem &problem, Visit visit)
{
    for (const auto &need : problem.needs)
        if (need.pwm && !need.on.empty())
            visit(need, *problem.board->terminal(need.on));
}

std::vector<Finding> pwmTaken(const Look &look, const char *code, const std::string &library,
                              const Say &why)
{
    std::vector<Finding> found;
    const auto &problem = look.problem;
    eachSpeedLine(problem, [&](const pins::PinNeed &need, const parts::Terminal &pin) {
        if (!pin.pwm || pins::pwmTakenBy(*problem.board, pin, problem.libraries) != library)
            return;
        const auto where = problem.boardId + "." + pin.name;
        found.push_back({code, Severity::Error, need.terminal + " at " + where,
                         say("The {} library runs on timer {}, which makes the PWM of {}: {} has "
                             "no speed there.",
                             library, pin.timer, pin.name, need.terminal),
                         why, mendByPlan(problem), at::terminal(need.terminal)});
    });
    return found;
}

/// Nothing feels the loss yet; who adds a speed line should know.
Say withoutPwm(const Look &look, const std::string &library)
{
    const auto &problem = look.problem;
    std::vector<std::string> gone;
    if (problem.board && problem.libraries.count(library))
        for (const auto &t : problem.board->terminals)
            if (t.pwm && pins::pwmTakenBy(*problem.board, t, problem.libraries) == library)
                gone.push_back(t.name);
    return gone.empty() ? Say()
                        : say("no speed line on {}, whose PWM the {} library has taken",
                              joined(gone, ", "), library);
}

} // namespace

Say withoutServosPwm(const Look &look)
{
    return withoutPwm(look, "servo");
}

Say withoutTonesPwm(const Look &look)
{
    return withoutPwm(look, "tone");
}

Say mendByPlan(const pins::PinProblem &problem)
{
    const auto plan = pins::planPins(problem);
    if (plan.possible())
        return say("Move {}.", pins::movesInWords(plan));
    auto words = say("No map of the pins exists: {}", plan.proof);
    if (!plan.waysOut.empty())
        words += say(" One way out: {}; {}.", plan.waysOut.front().what, plan.waysOut.front().cost);
    return words;
}

std::vector<Finding> speedWithoutPwm(const Look &look, const char *code)
{
    std::vector<Finding> found;
    const auto &problem = look.problem;
    eachSpeedLine(problem, [&](const pins::PinNeed &need, const parts::Terminal &pin) {
        if (pin.pwm || problem.board->clockPulses)
            return;
        const auto where = problem.boardId + "." + pin.name;
        found.push_back(
            {code, Severity::Error, need.terminal + " at " + where,
             say("The speed line {} is on {}, which has no PWM.", need.terminal, where),
             say("The motor knows only stop and full speed, whatever the program asks for."),
             mendByPlan(problem), at::terminal(need.terminal)});
    });
    return found;
}

std::vector<Finding> pwmTakenByServo(const Look &look, const char *code)
{
    return pwmTaken(look, code, "servo",
                    say("That motor knows only stop and full speed in this sense. On whichever pin "
                        "the servo itself is, the timer is gone."));
}

std::vector<Finding> pwmTakenByTone(const Look &look, const char *code)
{
    return pwmTaken(look, code, "tone",
                    say("While a tone sounds the motor knows only stop and full speed."));
}

std::vector<Finding> pwmChannelShared(const Look &look, const char *code)
{
    std::vector<Finding> found;
    const auto &problem = look.problem;
    std::map<std::string, const pins::PinNeed *> first; // by channel
    eachSpeedLine(problem, [&](const pins::PinNeed &need, const parts::Terminal &pin) {
        if (!pin.pwm || pin.pwmChannel.empty() || problem.board->clockPulses)
            return;
        const auto [at, fresh] = first.emplace(pin.pwmChannel, &need);
        if (fresh || at->second->group == need.group)
            return;
        const auto where = problem.boardId + "." + pin.name;
        found.push_back(
            {code, Severity::Error, need.terminal + " at " + where,
             say("{} and {} share one PWM channel: {} and {} always get the same speed.", pin.name,
                 at->second->on, need.terminal, at->second->terminal),
             say("One wheel cannot be slower than the other, so the car steers by stopping only."),
             mendByPlan(problem), at::terminal(need.terminal)});
    });
    return found;
}

std::vector<Finding> librariesClash(const Look &look, const char *code)
{
    std::vector<Finding> found;
    const auto &problem = look.problem;
    if (problem.board == nullptr)
        return found;
    std::map<std::string, std::string> by; // timer: library
    for (const auto &taking : problem.board->libraries) {
        if (!problem.libraries.count(taking.library))
            continue;
        const auto [at, fresh] = by.emplace(taking.timer, taking.library);
        if (!fresh)
            found.push_back(
                {code, Severity::Error, problem.boardId,
                 say("The {} and the {} library both run on timer {} of the {}.", at->second,
                     taking.library, taking.timer, problem.board->name),
                 say("Only one of the two works in a program."),
                 say("A buzzer that sounds by itself needs no tone; a servo can be pulsed by the "
                     "clock, without the library."),
                 at::terminal(problem.boardId + "." + problem.board->terminals.front().name)});
    }
    return found;
}

std::vector<Finding> pwmWasted(const Look &look, const char *code)
{
    const auto &problem = look.problem;
    const auto good = [&](const parts::Terminal &pin) {
        return pins::takesSpeed(*problem.board, pin, problem.libraries);
    };
    std::vector<const pins::PinNeed *> lacking;
    std::vector<const pins::PinNeed *> wasting;
    for (const auto &need : problem.needs) {
        if (need.on.empty())
            continue;
        const bool pwm = good(*problem.board->terminal(need.on));
        if (need.pwm && !pwm)
            lacking.push_back(&need);
        if (!need.pwm && pwm)
            wasting.push_back(&need);
    }
    // With a free PWM pin nothing is wasted.
    const bool free = problem.board != nullptr &&
                      std::any_of(problem.board->terminals.begin(), problem.board->terminals.end(),
                                  [&](const parts::Terminal &t) {
                                      return t.role == Role::Pin && !t.serial && good(t) &&
                                             !look.nets.wired(problem.boardId + "." + t.name);
                                  });
    if (lacking.empty() || free)
        return {};
    std::vector<Finding> found;
    for (size_t i = 0; i < std::min(lacking.size(), wasting.size()); ++i)
        found.push_back({code, Severity::Advice, problem.boardId + "." + wasting[i]->on,
                         say("{} has PWM and serves {}, which needs none; {} has to do without.",
                             wasting[i]->on, wasting[i]->terminal, lacking[i]->terminal),
                         say("PWM pins are the scarcest on a board."), mendByPlan(problem),
                         at::terminal(wasting[i]->terminal)});
    return found;
}

} // namespace badger::wiring
