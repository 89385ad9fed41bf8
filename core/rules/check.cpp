// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/rules/check.h"

#include "core/rules/check_look.h"
#include "core/sense/ultrasonic.h"

#include <algorithm>
#include <cmath>
#include <fmt/format.h>
#include <set>

namespace badger::rules
{

namespace
{

using units::quantity;
using units::Unit;

Found valuesUnset(const Look &look, const char *code)
{
    Found found;
    for (const auto &v : look.program.values)
        if (!v.si)
            found.push_back({code, Severity::Error, place(look, v.name),
                             say("'{}' is not chosen: {}.", v.name, v.meaning),
                             say("No value is invented: no board program is written without it."),
                             say("Choose '{}'.", v.name), at::value(v.name)});
    for (const auto &r : look.program.readings)
        if (r.source == Source::Digital && !r.lightLevel)
            found.push_back(
                {code, Severity::Error, place(look, "reading " + r.name),
                 say("What '{}' puts out on light is not chosen.", r.name),
                 say("Both kinds of module exist; the wrong one turns every turn round."),
                 say("Measure it at Tune, and choose 1 or 0."), at::reading(r.name)});
    for (const auto &r : look.program.readings)
        if (r.source == Source::Button && !r.lightLevel)
            found.push_back({code, Severity::Error, place(look, "reading " + r.name),
                             say("What '{}' puts out while it is pressed is not chosen.", r.name),
                             say("Both kinds of button exist; with the wrong one the car goes off "
                                 "before it is pressed."),
                             say("See its sheet, and choose 1 or 0."), at::reading(r.name)});
    for (const auto &r : look.program.readings)
        if (isEcho(r))
            for (const auto &[missing, what] :
                 {std::pair{!r.air_degC, say("the air temperature")},
                  {!r.limit_m, say("the farthest reading")},
                  {!r.nearest_m && r.tooNear != NoEcho::Unset, say("what is too near")},
                  {!r.farthest_m && r.wild != NoEcho::Unset, say("what is too far to be meant")}})
                if (missing)
                    found.push_back({code, Severity::Error, place(look, "reading " + r.name),
                                     say("For '{}' {} is not chosen.", r.name, what),
                                     say("Without it no number can be made of an echo, or told "
                                         "from one that is meant."),
                                     say("Choose {} of '{}'.", what, r.name), at::reading(r.name)});
    return found;
}

Found policyUnset(const Look &look, const char *code)
{
    Found found;
    for (const auto &r : look.program.readings)
        if (isEcho(r) && r.noEcho == NoEcho::Unset)
            found.push_back(
                {code, Severity::Error, place(look, "reading " + r.name),
                 say("What no echo means for '{}' is not chosen.", r.name),
                 say("No echo comes from open space, and also from a slanted wall, cloth or a "
                     "loose wire: the program must not decide this by accident."),
                 say("Choose clear, blocked, hold the last reading, stop or ignore."),
                 at::policy(r.name)});
    for (const auto &r : look.program.readings) {
        const auto bound = [&](bool isUnset, const Say &what) {
            if (isUnset)
                found.push_back(
                    {code, Severity::Error, place(look, "reading " + r.name),
                     say("What it means that '{}' is {} is not chosen.", r.name, what),
                     say("Such a number is no distance: the program must not decide by it."),
                     say("Choose clear, blocked, hold the last reading, stop or ignore."),
                     at::policy(r.name)});
        };
        bound(r.nearest_m && r.tooNear == NoEcho::Unset, say("too near"));
        bound(r.farthest_m && r.wild == NoEcho::Unset, say("too far to be meant"));
    }
    return found;
}

/// Calls `visit(reading, value)` once for each distance value compared with each reading.
template <class Visit> void eachThreshold(const Program &program, Visit visit)
{
    std::set<std::pair<std::string, std::string>> seen;
    const auto through = [&](const std::vector<Rule> &rules) {
        for (const auto &rule : rules)
            for (const auto &c : rule.when) {
                const auto *reading = program.reading(c.reading);
                const auto *value = program.value(c.value);
                if (c.test == Test::Number && reading && isEcho(*reading) && value && value->si &&
                    value->kind == ValueKind::Distance && seen.insert({c.reading, c.value}).second)
                    visit(*reading, *value);
            }
    };
    through(program.everywhere);
    for (const auto &s : program.states)
        through(s.rules);
}

Found inDeadZone(const Look &look, const char *code)
{
    Found found;
    eachThreshold(look.program, [&](const Reading &r, const Value &v) {
        const auto *facts = look.facts(r);
        if (facts == nullptr || *v.si > facts->deadZone_m)
            return;
        found.push_back(
            {code, Severity::Error, place(look, v.name),
             say("{} lies inside {} dead zone ({}).", quantity(*v.si, Unit::Centimetre, 2),
                 look.program.readings.size() == 1 ? say("the ranger's")
                                                   : say("the '{}' ranger's", r.name),
                 quantity(facts->deadZone_m, Unit::Centimetre, 2)),
             say("Readings there are wrong, not zero: the rule may never act."),
             say("Choose more than {}.", quantity(facts->deadZone_m, Unit::Centimetre, 2)),
             at::value(v.name)});
    });
    return found;
}

Found beyondLimit(const Look &look, const char *code)
{
    Found found;
    eachThreshold(look.program, [&](const Reading &r, const Value &v) {
        if (!r.limit_m || *v.si < *r.limit_m)
            return;
        found.push_back(
            {code, Severity::Error, place(look, v.name),
             say("{} is not below the farthest reading of '{}' ({}).",
                 quantity(*v.si, Unit::Centimetre, 2), r.name,
                 quantity(*r.limit_m, Unit::Centimetre, 2)),
             say("Every reading is on the same side of it, so the rule decides nothing."),
             say("Take a nearer threshold or read farther."), at::value(v.name)});
    });
    for (const auto &r : look.program.readings)
        if (const auto *facts = look.facts(r); facts && r.limit_m && *r.limit_m > facts->range_m)
            found.push_back({code, Severity::Warning, place(look, "reading " + r.name),
                             say("'{}' waits for echoes from {}; the ranger reaches {}.", r.name,
                                 quantity(*r.limit_m, Unit::Centimetre, 1),
                                 quantity(facts->range_m, Unit::Centimetre, 1)),
                             say("Each missing echo costs the longer wait for nothing."),
                             say("Take a nearer limit."), at::reading(r.name)});
    return found;
}

Found notWhole(const Look &look, const char *code)
{
    Found found;
    eachThreshold(look.program, [&](const Reading &r, const Value &v) {
        const double inUnit = constantIn(v, r.unit);
        if (r.number != NumberType::Whole || inUnit == std::trunc(inUnit))
            return;
        found.push_back(
            {code, Severity::Advice, place(look, v.name),
             say("'{}' is {} {}, but '{}' is cut to whole numbers.", v.name,
                 units::number(inUnit, 4), units::info(r.unit).symbol, r.name),
             say("The rule acts from {} on; its edge lies just under {}.",
                 units::number(std::floor(inUnit), 0), units::number(std::floor(inUnit) + 1, 0)),
             say("Choose a whole number, or keep fractions."), at::value(v.name)});
    });
    return found;
}

Found overflow(const Look &look, const char *code)
{
    constexpr double largest16Bit = 32767.0;
    Found found;
    for (const auto &r : look.program.readings) {
        if (!isEcho(r) || r.number != NumberType::Whole || !r.limit_m)
            continue;
        const double most = units::fromSi(*r.limit_m, r.unit);
        if (most > largest16Bit)
            found.push_back({code, Severity::Error, place(look, "reading " + r.name),
                             fmt::format("'{}' can reach {:.0f}, more than a 16-bit number holds.",
                                         r.name, most),
                             say("It turns negative there and looks like the nearest of all."),
                             say("Take a larger unit or a nearer limit."), at::reading(r.name)});
    }
    return found;
}

/// "0 is no echo" on the board: what is nearer than one whole unit reads 0, too.
Found zeroIsNone(const Look &look, const char *code)
{
    Found found;
    for (const auto &r : look.program.readings) {
        constexpr double surelyRead_m = 0.02; // nearer than that no ranger reads anything right
        if (!isEcho(r) || r.number != NumberType::Whole || units::toSi(1.0, r.unit) <= surelyRead_m)
            continue;
        const bool drives = r.noEcho == NoEcho::Clear;
        found.push_back(
            {code, drives ? Severity::Error : Severity::Warning, place(look, "reading " + r.name),
             say("Nearer than 1 {0} '{1}' is cut to 0, and 0 means no echo.",
                 units::info(r.unit).symbol, r.name),
             drives ? say("No echo counts as clear: the car drives on at what it all but touches.")
                    : say("The nearest obstacle is then treated as no echo, not as near."),
             say("Keep fractions, or read in a smaller unit."), at::reading(r.name)});
    }
    return found;
}

/// Where the waits of a state lead, until one is reached that looks at its readings, or a state for
/// the second time.
Found waitsForEver(const Look &look, const char *code)
{
    Found found;
    for (const auto &s : look.program.states) {
        std::vector<std::string> way;
        const auto *at = &s;
        while (at && at->wait && std::find(way.begin(), way.end(), at->name) == way.end()) {
            way.push_back(at->name);
            at = look.program.state(at->wait->then);
        }
        if (!at || !at->wait || at != &s)
            continue; // it ends, or the ring is told at one of its own states
        if (s.name != *std::min_element(way.begin(), way.end()))
            continue; // a ring has one finding
        found.push_back(
            {code, Severity::Error, place(look, "state " + s.name),
             way.size() == 1
                 ? say("'{}' waits and then begins again: the program never leaves it.", s.name)
                 : say("The waits of {} lead round in a ring: the program never leaves it.",
                       joined(way, ", ")),
             say("While a state waits its rules are not asked: nothing the car sees changes what "
                 "it does."),
             say("Let one wait lead to a state without a wait."), at::state(s.name)});
    }
    return found;
}

Found noEchoClear(const Look &look, const char *code)
{
    std::vector<Say> names;
    std::string first;
    for (const auto &r : look.program.readings)
        if (isEcho(r) && r.noEcho == NoEcho::Clear) {
            names.push_back(say("'{}'", r.name));
            if (first.empty())
                first = r.name;
        }
    if (names.empty())
        return {};
    return {{code, Severity::Advice, place(look, "reading " + first),
             names.size() == 1 && look.program.readings.size() == 1
                 ? say("No echo counts as clear.")
                 : say("No echo of {} counts as clear.", joined(names, ", ")),
             say("A slanted wall, cloth or a loose echo wire give no echo either, and the car "
                 "drives on."),
             say("Keep a hand at the switch; sweep, or hold the last reading."),
             at::policy(first)}};
}

bool isComplete(const Look &look)
{
    return unset(look.program).empty();
}
constexpr Check<Look> allChecks[] = {
    {"value-unset", source("every value is chosen"), valuesUnset, "error",
     "a value, the air or the farthest reading is not chosen"},
    {"no-echo-policy-unset", source("what no echo means is chosen"), policyUnset, "error",
     "what no echo means is not chosen"},
    {"threshold-in-dead-zone", source("thresholds lie above the dead zone"), inDeadZone, "error",
     "the ranger reads wrong there", isComplete},
    {"threshold-beyond-limit", source("thresholds lie within reach"), beyondLimit,
     "error; warning for a limit beyond the ranger", "every reading is on one side", isComplete},
    {"threshold-not-whole", "", notWhole, "advice", "whole readings never meet it exactly",
     isComplete},
    {"whole-number-overflow", source("numbers do not overflow"), overflow, "error",
     "the reading can exceed a 16-bit number", isComplete},
    {"ping-too-soon", source("pings are far enough apart"), pingsTooSoon,
     "warning; advice where the beams do not meet",
     "a late echo is taken for the next ping's, or by the next ranger; the least pause that is "
     "enough",
     isComplete},
    {"zero-is-no-echo", source("no obstacle reads as no echo"), zeroIsNone,
     "error where no echo is clear; warning", "whole numbers cut the nearest readings to 0",
     isComplete},
    {"waits-for-ever", source("every wait ends"), waitsForEver, "error",
     "the waits of states lead round in a ring: nothing that is seen changes anything", isComplete},
    {"prints-slow-the-pass", "", printsSlow, "warning",
     "the serial line is the slowest part of the pass", isComplete},
    {"no-echo-is-clear", "", noEchoClear, "advice", "slanted walls and loose wires are clear, too"},
};

} // namespace

Findings check(const Program &program, const std::map<std::string, RangerFacts> &rangers)
{
    Findings result;
    if (const auto sentences = broken(program); !sentences.empty()) {
        for (const auto &s : sentences)
            result.findings.push_back({"program-broken",
                                       Severity::Error,
                                       say("program '{}'", program.name),
                                       say("{}.", s),
                                       say("It cannot be run or written."),
                                       say("Mend the program."),
                                       {}});
        return result;
    }
    const Look look{program, rangers};
    run<Look>(allChecks, look, result);
    return result;
}

std::vector<CheckLine> checkLines()
{
    std::vector<CheckLine> lines = {{"program-broken", "error", "a reference leads nowhere"}};
    addLines<Look>(allChecks, lines);
    return lines;
}

} // namespace badger::rules
