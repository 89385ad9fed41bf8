// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/rules/evaluate.h"

#include "core/base/named.h"
#include "core/sense/ultrasonic.h"

#include <algorithm>
#include <cassert>
#include <cmath>
#include <fmt/format.h>
#include <fmt/ranges.h>
#include <limits>

namespace badger::rules
{

namespace
{

const std::string everywhere = "everywhere"; // no state: rules that hold in all of them

double sound_mps(const Reading &reading)
{
    const auto c = sense::speedOfSound_mps(reading.air_degC.value_or(20.0));
    assert(c && "the reader and the editor keep the air temperature inside the law's range");
    return *c;
}

} // namespace

double unitsPer_us(const Reading &reading)
{
    return sound_mps(reading) / 2.0 * 1e-6 / units::info(reading.unit).inSi;
}

std::uint32_t timeOut_us(const Reading &reading)
{
    assert(reading.limit_m);
    return static_cast<std::uint32_t>(
        std::ceil(sense::echoTime_us(*reading.limit_m, sound_mps(reading))));
}

std::optional<double> numberOf(const Reading &reading, std::uint32_t echo_us)
{
    if (echo_us == 0 || echo_us > timeOut_us(reading))
        return std::nullopt;
    const float fraction = static_cast<float>(echo_us) * static_cast<float>(unitsPer_us(reading));
    const double number =
        reading.number == NumberType::Whole ? std::trunc(fraction) : double(fraction);
    if (number == noEchoNumber)
        return std::nullopt;
    return number;
}

double constantIn(const Value &value, units::Unit unit)
{
    assert(value.si);
    const double inUnit = units::fromSi(*value.si, unit);
    return double(static_cast<float>(std::round(inUnit * 1e4) / 1e4));
}

bool holds(double number, Compare compare, double constant)
{
    switch (compare) {
    case Compare::Less:
        return number < constant;
    case Compare::LessOrEqual:
        return number <= constant;
    case Compare::Greater:
        return number > constant;
    case Compare::GreaterOrEqual:
        break;
    }
    return number >= constant;
}

Settled settle(const Program &program, const std::map<std::string, double> &lastGood,
               const Numbers &heard)
{
    constexpr double far = std::numeric_limits<double>::infinity();
    Settled settled;
    for (const auto &reading : program.readings) {
        const auto it = heard.find(reading.name);
        if (it != heard.end() && it->second) {
            settled.numbers[reading.name] = *it->second;
            continue;
        }
        const auto last = lastGood.find(reading.name);
        switch (reading.noEcho) {
        case NoEcho::Clear:
            settled.numbers[reading.name] = far;
            break;
        case NoEcho::Blocked:
            settled.numbers[reading.name] = -far;
            break;
        case NoEcho::HoldLast:
            if (last == lastGood.end())
                settled.why = Why::Skipped; // nothing to hold yet: the start state stays
            else
                settled.numbers[reading.name] = last->second;
            break;
        case NoEcho::Stop:
            settled.why = Why::Stopped;
            return settled;
        case NoEcho::Unset:
        case NoEcho::Ignore:
            settled.why = Why::Skipped;
            break;
        }
    }
    return settled;
}

namespace
{

bool allHold(const Program &program, const Rule &rule, const std::map<std::string, double> &numbers)
{
    return std::all_of(rule.when.begin(), rule.when.end(), [&](const Condition &c) {
        const auto number = numbers.find(c.reading);
        const auto *reading = program.reading(c.reading);
        const auto *value = program.value(c.value);
        return number != numbers.end() && reading && value && value->si &&
               holds(number->second, c.compare, constantIn(*value, reading->unit));
    });
}

/// Walks the ordered rules of a state; `visit` returns false to end the walk.
template <class Visit> void walk(const Program &program, const std::string &stateName, Visit visit)
{
    const auto *state = program.state(stateName);
    if (state == nullptr || state->wait)
        return;
    for (const auto &rule : program.everywhere)
        if (!visit(everywhere, rule))
            return;
    for (const auto &rule : state->rules)
        if (!visit(state->name, rule))
            return;
}

} // namespace

std::optional<double> medianOf(const std::vector<double> &recent)
{
    auto sorted = recent;
    const auto rank = [](double number) {
        return number == noEchoNumber ? std::numeric_limits<double>::infinity() : number;
    };
    std::sort(sorted.begin(), sorted.end(), [&](double a, double b) { return rank(a) < rank(b); });
    const double middle = sorted.empty() ? noEchoNumber : sorted[(sorted.size() - 1) / 2];
    return middle == noEchoNumber ? std::nullopt : std::optional(middle);
}

namespace
{

Numbers filtered(const Program &program, Memory &memory, const Numbers &raw)
{
    Numbers numbers;
    for (const auto &reading : program.readings) {
        const auto it = raw.find(reading.name);
        const auto newest = it == raw.end() ? std::nullopt : it->second;
        if (reading.medianOf == 1) {
            numbers[reading.name] = newest;
            continue;
        }
        auto &recent = memory.recent[reading.name];
        recent.push_back(newest.value_or(noEchoNumber));
        if (recent.size() > static_cast<size_t>(reading.medianOf))
            recent.erase(recent.begin());
        numbers[reading.name] = medianOf(recent);
    }
    return numbers;
}

} // namespace

Pass decide(const Program &program, Memory &memory, const Numbers &raw)
{
    return decideSettled(program, memory, filtered(program, memory, raw));
}

Pass decideSettled(const Program &program, Memory &memory, const Numbers &heard)
{
    const auto settled = settle(program, memory.lastGood, heard);
    for (const auto &[name, number] : heard)
        if (number)
            memory.lastGood[name] = *number;

    Pass pass{memory.state, {}, settled.why, settled.numbers};
    const auto *state = program.state(memory.state);
    if (state && state->wait)
        pass.why = Why::Held; // the wait's end is the interpreter's business: it has the clock
    else if (settled.why == Why::Stopped)
        pass.state = program.stopState;
    else if (settled.why == Why::Rules)
        walk(program, memory.state, [&](const std::string &where, const Rule &rule) {
            if (!allHold(program, rule, settled.numbers))
                return true;
            pass.fired.push_back({where, rule.name, rule.go});
            pass.state = rule.go;
            return !rule.endsPass;
        });
    if (pass.why == Why::Rules && pass.fired.empty())
        pass.why = Why::NoRule;
    memory.state = pass.state;
    return pass;
}

std::vector<Fired> matching(const Program &program, const std::string &state, const Numbers &heard)
{
    std::vector<Fired> all;
    const auto settled = settle(program, {}, heard);
    if (settled.why == Why::Rules)
        walk(program, state, [&](const std::string &where, const Rule &rule) {
            if (allHold(program, rule, settled.numbers))
                all.push_back({where, rule.name, rule.go});
            return true;
        });
    return all;
}

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

const Rule *ruleOf(const Program &program, const Fired &fired)
{
    // A state may be called "everywhere", too.
    if (fired.where == everywhere)
        if (const auto *rule = named(program.everywhere, fired.rule))
            return rule;
    const auto *state = program.state(fired.where);
    return state ? named(state->rules, fired.rule) : nullptr;
}

std::string decisiveReading(const Program &program, const Pass &pass, const Numbers &heard)
{
    const auto *rule = pass.fired.empty() ? nullptr : ruleOf(program, pass.fired.back());
    if (rule && !rule->when.empty())
        return rule->when.front().reading;
    if (pass.why == Why::Stopped)
        for (const auto &r : program.readings)
            if (const auto it = heard.find(r.name);
                r.noEcho == NoEcho::Stop && (it == heard.end() || !it->second))
                return r.name;
    return program.readings.empty() ? std::string{} : program.readings.front().name;
}

namespace
{

/// "29 ≤ 32"; "left 29 ≤ 32" where a program has several readings.
Say comparison(const Program &program, const Condition &c, double number)
{
    const auto *reading = program.reading(c.reading);
    const auto *value = program.value(c.value);
    if (reading == nullptr || value == nullptr || !value->si)
        return {};
    return say("{}{} {} {}", program.readings.size() > 1 ? Say(c.reading + " ") : Say(),
               std::isinf(number) ? say("without echo") : Say(units::number(number, 2)),
               sign(c.compare), units::number(constantIn(*value, reading->unit), 2));
}

} // namespace

Say explain(const Program &program, const Pass &pass, const std::string &name,
            std::optional<double> heard)
{
    const auto *reading = program.reading(name);
    const auto *state = program.state(pass.state);
    if (reading == nullptr || state == nullptr)
        return say("there is no such reading");
    const auto doing = words(state->motion) + Say(": ");
    if (pass.why == Why::Held)
        return doing + say("it waits, the rules are not asked");
    if (!heard && (program.readings.size() == 1 || pass.fired.empty()))
        return doing + say("no echo counts as {}", word(reading->noEcho));
    if (pass.why == Why::Stopped)
        return doing + say("no echo of another reading stops it");
    if (pass.why == Why::Skipped)
        return doing + say("without every reading nothing is decided");
    if (pass.fired.empty())
        return doing + say("no rule matches, it goes on with what it did");
    std::vector<Say> parts;
    if (const auto *rule = ruleOf(program, pass.fired.back()))
        for (const auto &c : rule->when)
            if (const auto it = pass.compared.find(c.reading); it != pass.compared.end())
                parts.push_back(comparison(program, c, it->second));
    return doing + say("{}{}rule '{}'", joined(parts, " and "), parts.empty() ? "" : ", ",
                       pass.fired.back().rule);
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
