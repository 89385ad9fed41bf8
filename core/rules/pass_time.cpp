// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/rules/pass_time.h"

#include "core/rules/board_numbers.h"
#include "core/sense/ultrasonic.h"

#include <algorithm>

namespace badger::rules
{

bool isOfTheStartAlone(const Program &program, const Reading &reading)
{
    if (reading.source != Source::Button || reading.everyPass)
        return false;
    const auto looks = [&](const std::vector<Action> &all) {
        return std::any_of(all.begin(), all.end(), [&](const Action &a) {
            return a.does == Does::Look && a.what == reading.name;
        });
    };
    const auto asks = [&](const std::vector<Rule> &all) {
        return std::any_of(all.begin(), all.end(), [&](const Rule &rule) {
            return std::any_of(rule.when.begin(), rule.when.end(), [&](const Condition &c) {
                return c.reading == reading.name || c.other == reading.name;
            });
        });
    };
    return !looks(program.start) && !asks(program.everywhere) &&
           std::none_of(program.states.begin(), program.states.end(),
                        [&](const State &s) { return looks(s.actions) || asks(s.rules); });
}

int printedCharacters(const Program &program)
{
    if (!program.prints.on)
        return 0;
    constexpr int lineEnd = 2;
    constexpr int longestNumber = 7; // "-327.68" and every whole 16-bit number with its sign
    size_t longestState = 0;
    for (const auto &s : program.states)
        longestState = std::max(longestState, s.name.size());
    size_t characters = longestState + lineEnd;
    for (const auto &r : program.readings)
        if (!isOfTheStartAlone(program, r))
            characters += r.name.size() + 1 + longestNumber + 1;
    return static_cast<int>(characters);
}

PassTime passTime(const Program &program, const std::map<std::string, PingFigures> &rangers)
{
    PassTime time;
    constexpr double trigger_s = 12e-6;   // 2 us low, 10 us high
    std::map<std::string, double> held_s; // by ranger
    for (const auto &r : program.readings) {
        if (r.source != Source::Ranger || !r.everyPass)
            continue;
        const auto figures = rangers.find(r.name);
        const double nearest_m = figures == rangers.end() ? 0.0 : figures->second.deadZone_m;
        if (figures != rangers.end())
            held_s[r.instance] += figures->second.noEchoHold_s;
        const double shortestEcho_s = sense::echoTime_us(nearest_m, sound_mps(r)) * 1e-6;
        time.terms.push_back({"ping '" + r.name + "'", trigger_s + shortestEcho_s,
                              trigger_s + timeOut_us(r) * 1e-6});
        const auto *dwell = r.swivel ? program.value(r.swivel->dwell) : nullptr;
        if (dwell && dwell->si && r.swivel->angles_deg.size() > 1)
            time.terms.push_back({"servo of '" + r.name + "'", *dwell->si, *dwell->si});
    }
    const auto *pause = program.value(program.passWait);
    const double pause_s = pause && pause->si ? *pause->si : 0.0;
    double work_s = 0.0;
    double longestWork_s = 0.0;
    for (const auto &t : time.terms) {
        work_s += t.shortest_s;
        longestWork_s += t.longest_s;
    }
    const auto paused = [&](double work) {
        return program.passWaitKind == WaitKind::Blocking ? pause_s : std::max(0.0, pause_s - work);
    };
    time.terms.push_back({"pause", paused(work_s), paused(longestWork_s)});
    time.shortest_s = work_s + paused(work_s);
    time.longest_s = longestWork_s + paused(longestWork_s);

    double hold_s = 0.0;
    for (const auto &[ranger, sum_s] : held_s)
        hold_s = std::max(hold_s, sum_s);
    if (hold_s > time.longest_s) {
        time.terms.push_back({"echo line still held", 0.0, hold_s - time.longest_s});
        time.longest_s = hold_s;
    }

    constexpr double bitsPerCharacter = 10.0;
    const double line_s = printedCharacters(program) * bitsPerCharacter / program.prints.baud;
    if (program.prints.on && line_s > time.shortest_s) {
        const double extra = std::max(0.0, line_s - time.longest_s);
        time.terms.push_back({"prints", line_s - time.shortest_s, extra});
        time.shortest_s = line_s;
        time.longest_s += extra;
    }
    return time;
}

} // namespace badger::rules
