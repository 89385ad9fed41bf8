// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/rules/check.h"

#include "core/rules/ping_spacing.h"
#include "core/rules/table.h"

#include <algorithm>
#include <cmath>
#include <fmt/format.h>
#include <set>

namespace badger::rules
{

namespace
{

using units::formatShort;
using units::Unit;

struct Look {
    const Program &program;
    const std::map<std::string, RangerFacts> &rangers; ///< by reading
    std::vector<Table> tables;                         ///< empty while something is unset

    const RangerFacts *facts(const Reading &reading) const
    {
        const auto it = rangers.find(reading.name);
        return it == rangers.end() ? nullptr : &it->second;
    }
    PassTime passTime() const
    {
        std::map<std::string, double> deadZone_m;
        for (const auto &[reading, facts] : rangers)
            deadZone_m[reading] = facts.deadZone_m;
        return rules::passTime(program, deadZone_m);
    }
};

using Found = std::vector<Finding>;

std::string place(const Look &look, const std::string &thing)
{
    return fmt::format("program '{}', {}", look.program.name, thing);
}

Found valuesUnset(const Look &look, const char *code)
{
    Found found;
    for (const auto &v : look.program.values)
        if (!v.si)
            found.push_back({code, Severity::Error, place(look, v.name),
                             fmt::format("'{}' is not chosen: {}.", v.name, v.meaning),
                             "No value is invented: no board program is written without it.",
                             fmt::format("Choose '{}'.", v.name), "value:" + v.name});
    for (const auto &r : look.program.readings)
        for (const auto &[missing, what] :
             {std::pair{!r.air_degC, "the air temperature"}, {!r.limit_m, "the farthest reading"}})
            if (missing)
                found.push_back({code, Severity::Error, place(look, "reading " + r.name),
                                 fmt::format("For '{}' {} is not chosen.", r.name, what),
                                 "An echo time cannot be turned into a distance without it.",
                                 fmt::format("Choose {} of '{}'.", what, r.name),
                                 "reading:" + r.name});
    return found;
}

Found policyUnset(const Look &look, const char *code)
{
    Found found;
    for (const auto &r : look.program.readings)
        if (r.noEcho == NoEcho::Unset)
            found.push_back(
                {code, Severity::Error, place(look, "reading " + r.name),
                 fmt::format("What no echo means for '{}' is not chosen.", r.name),
                 "No echo comes from open space, and also from a slanted wall, cloth or "
                 "a loose wire: the program must not decide this by accident.",
                 "Choose clear, blocked, hold the last reading, stop or ignore.",
                 "policy:" + r.name});
    return found;
}

/// Names the stretches of rows for which `wrong` holds: "33 to 40 cm", "none".
std::vector<std::string> stretches(const Table &table, bool (Row::*wrong)() const)
{
    std::vector<std::string> names;
    const auto symbol = units::info(table.unit).symbol;
    for (const auto &run : table.runs)
        if (!run.row.countsAsNone && (run.row.*wrong)())
            names.push_back(run.first == run.last
                                ? fmt::format("{} {}", run.first, symbol)
                                : fmt::format("{} to {} {}", run.first, run.last, symbol));
    if ((table.none.*wrong)())
        names.emplace_back("no echo");
    return names;
}

/// What a table of one reading takes for granted.
const char *rest(const Look &look)
{
    return look.program.readings.size() > 1 ? ", the others without echo," : "";
}

Found holes(const Look &look, const char *code)
{
    Found found;
    for (const auto &t : look.tables)
        for (const auto &s : stretches(t, &Row::hasHole))
            found.push_back({code, Severity::Error, place(look, "reading " + t.reading),
                             fmt::format("At {}{} no rule says what to do.", s, rest(look)),
                             "The car goes on with whatever it did before, forward included.",
                             "Let one rule cover it.", "reading:" + t.reading});
    return found;
}

Found overlaps(const Look &look, const char *code)
{
    Found found;
    for (const auto &t : look.tables)
        for (const auto &s : stretches(t, &Row::hasOverlap))
            found.push_back(
                {code, Severity::Warning, place(look, "reading " + t.reading),
                 fmt::format("At {}{} two rules with different actions hold.", s, rest(look)),
                 "Only their order decides, or the car acts twice in one pass.",
                 "State each limit once, in one rule.", "reading:" + t.reading});
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
                if (reading && value && value->si && seen.insert({c.reading, c.value}).second)
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
        found.push_back({code, Severity::Error, place(look, v.name),
                         fmt::format("{} lies inside {} dead zone ({}).",
                                     formatShort(*v.si, Unit::Centimetre, 2),
                                     look.program.readings.size() == 1
                                         ? "the ranger's"
                                         : fmt::format("the '{}' ranger's", r.name),
                                     formatShort(facts->deadZone_m, Unit::Centimetre, 2)),
                         "Readings there are wrong, not zero: the rule may never act.",
                         fmt::format("Choose more than {}.",
                                     formatShort(facts->deadZone_m, Unit::Centimetre, 2)),
                         "value:" + v.name});
    });
    return found;
}

Found beyondLimit(const Look &look, const char *code)
{
    Found found;
    eachThreshold(look.program, [&](const Reading &r, const Value &v) {
        if (!r.limit_m || *v.si < *r.limit_m)
            return;
        found.push_back({code, Severity::Error, place(look, v.name),
                         fmt::format("{} is not below the farthest reading of '{}' ({}).",
                                     formatShort(*v.si, Unit::Centimetre, 2), r.name,
                                     formatShort(*r.limit_m, Unit::Centimetre, 2)),
                         "Every reading is on the same side of it, so the rule decides nothing.",
                         "Take a nearer threshold or read farther.", "value:" + v.name});
    });
    for (const auto &r : look.program.readings)
        if (const auto *facts = look.facts(r); facts && r.limit_m && *r.limit_m > facts->range_m)
            found.push_back({code, Severity::Warning, place(look, "reading " + r.name),
                             fmt::format("'{}' waits for echoes from {}; the ranger reaches {}.",
                                         r.name, formatShort(*r.limit_m, Unit::Centimetre, 1),
                                         formatShort(facts->range_m, Unit::Centimetre, 1)),
                             "Each missing echo costs the longer wait for nothing.",
                             "Take a nearer limit.", "reading:" + r.name});
    return found;
}

Found notWhole(const Look &look, const char *code)
{
    Found found;
    eachThreshold(look.program, [&](const Reading &r, const Value &v) {
        const double inUnit = constantIn(v, r.unit);
        if (r.number != NumberType::Whole || inUnit == std::trunc(inUnit))
            return;
        found.push_back({code, Severity::Advice, place(look, v.name),
                         fmt::format("'{}' is {} {}, but '{}' is cut to whole numbers.", v.name,
                                     units::plain(inUnit, 4), units::info(r.unit).symbol, r.name),
                         fmt::format("The rule acts from {} on; its edge lies just under {}.",
                                     units::plain(std::floor(inUnit), 0),
                                     units::plain(std::floor(inUnit) + 1, 0)),
                         "Choose a whole number, or keep fractions.", "value:" + v.name});
    });
    return found;
}

Found overflow(const Look &look, const char *code)
{
    constexpr double largest16Bit = 32767.0;
    Found found;
    for (const auto &r : look.program.readings) {
        if (r.number != NumberType::Whole || !r.limit_m)
            continue;
        const double most = units::fromSi(*r.limit_m, r.unit);
        if (most > largest16Bit)
            found.push_back({code, Severity::Error, place(look, "reading " + r.name),
                             fmt::format("'{}' can reach {:.0f}, more than a 16-bit number holds.",
                                         r.name, most),
                             "It turns negative there and looks like the nearest of all.",
                             "Take a larger unit or a nearer limit.", "reading:" + r.name});
    }
    return found;
}

std::string after(const PingGap &gap)
{
    return fmt::format("{} after '{}'; {} is the least",
                       formatShort(gap.gap_s, Unit::Millisecond, 1), gap.first,
                       formatShort(gap.least_s, Unit::Millisecond, 1));
}

/// Within a pass nothing waits: the next ranger is fired as soon as this one has answered.
Finding tooSoonInPass(const Look &look, const char *code, const PingGap &gap)
{
    Finding f{
        code,
        gap.beamsMeet ? Severity::Warning : Severity::Advice,
        place(look, "reading " + gap.second),
        fmt::format("'{}' may ping {}.", gap.second, after(gap)),
        "A late echo of the first is taken for a near one by the second; a simulated run does "
        "not hear that.",
        "Read only one of the two in a program, or turn the rangers so far apart that their "
        "beams do not meet.",
        "reading:" + gap.second};
    if (gap.sameRanger) {
        f.why = "The ranger may still hold its line for the first ping and takes no new one.";
        f.mend = "Read each ranger once a pass, and compare that reading with every value.";
    } else if (!gap.beamsMeet) {
        f.why = "Their beams do not meet, but in a small room a late echo can come round by a "
                "second wall; a simulated run does not hear that.";
        f.mend = "Try it where it will drive, with something near on one side only.";
    }
    return f;
}

Finding tooSoonInNextPass(const Look &look, const char *code, const PingSpacing &spacing)
{
    const auto &gap = spacing.nextPass;
    const auto pause = formatShort(*spacing.pause_s, Unit::Millisecond, 0);
    return {code,
            gap->beamsMeet ? Severity::Warning : Severity::Advice,
            place(look, "pause"),
            gap->sameRanger ? fmt::format("Pings follow each other in {}; {} is the least.",
                                          formatShort(gap->gap_s, Unit::Millisecond, 1),
                                          formatShort(gap->least_s, Unit::Millisecond, 1))
                            : fmt::format("'{}' may ping {}.", gap->second, after(*gap)),
            "A late echo of one ping is taken for a near one of the next.",
            look.program.passWait.empty()
                ? fmt::format("Wait {} or more at the end of a pass.", pause)
                : fmt::format("Set '{}' to {} or more.", look.program.passWait, pause),
            "value:" + look.program.passWait};
}

Found pingsTooSoon(const Look &look, const char *code)
{
    Found found;
    const auto spacing = pingSpacing(look.program, look.rangers);
    for (const auto &gap : spacing.inPass)
        found.push_back(tooSoonInPass(look, code, gap));
    if (spacing.nextPass)
        found.push_back(tooSoonInNextPass(look, code, spacing));
    return found;
}

Found printsSlow(const Look &look, const char *code)
{
    Found found;
    if (!look.program.prints.on)
        return found;
    for (const auto &t : look.passTime().terms)
        if (t.name == "prints")
            found.push_back(
                {code, Severity::Warning, place(look, "prints"),
                 fmt::format("{} characters a pass at {} baud slow the pass by up to {}.",
                             printedCharacters(look.program), look.program.prints.baud,
                             formatShort(t.shortest_s, Unit::Millisecond, 1)),
                 "The car looks less often while it drives on.",
                 "Print less, or at a higher baud rate.", "prints"});
    return found;
}

Found noEchoClear(const Look &look, const char *code)
{
    Found found;
    for (const auto &r : look.program.readings)
        if (r.noEcho == NoEcho::Clear)
            found.push_back({code, Severity::Advice, place(look, "reading " + r.name),
                             "No echo counts as clear.",
                             "A slanted wall, cloth or a loose echo wire give no echo either, and "
                             "the car drives on.",
                             "Keep a hand at the switch; sweep, or hold the last reading.",
                             "policy:" + r.name});
    return found;
}

struct ProgramRule {
    const char *code;
    const char *fine;
    Found (*find)(const Look &, const char *);
};

constexpr ProgramRule allRules[] = {
    {"value-unset", "every value is chosen", valuesUnset},
    {"no-echo-policy-unset", "what no echo means is chosen", policyUnset},
    {"reading-without-action", "every reading has an action", holes},
    {"reading-with-two-actions", "no reading has two actions", overlaps},
    {"threshold-in-dead-zone", "thresholds lie above the dead zone", inDeadZone},
    {"threshold-beyond-limit", "thresholds lie within reach", beyondLimit},
    {"threshold-not-whole", "", notWhole},
    {"whole-number-overflow", "numbers do not overflow", overflow},
    {"ping-too-soon", "pings are far enough apart", pingsTooSoon},
    {"prints-slow-the-pass", "", printsSlow},
    {"no-echo-is-clear", "", noEchoClear},
};

} // namespace

Findings check(const Program &program, const std::map<std::string, RangerFacts> &rangers)
{
    Findings result;
    if (const auto sentences = broken(program); !sentences.empty()) {
        for (const auto &s : sentences)
            result.findings.push_back({"program-broken",
                                       Severity::Error,
                                       "program '" + program.name + "'",
                                       s + ".",
                                       "It cannot be run or written.",
                                       "Mend the program.",
                                       {}});
        return result;
    }
    Look look{program, rangers, {}};
    if (unset(program).empty())
        for (const auto &r : program.readings)
            if (auto t = table(program, r.name))
                look.tables.push_back(std::move(*t));
    // What rests on a missing value or on a missing table is neither found nor fine.
    const bool complete = unset(program).empty();
    for (const auto &rule : allRules) {
        const bool needsValues =
            rule.find != valuesUnset && rule.find != policyUnset && rule.find != noEchoClear;
        const bool needsTable = rule.find == holes || rule.find == overlaps;
        if ((needsValues && !complete) || (needsTable && look.tables.empty()))
            continue;
        auto found = rule.find(look, rule.code);
        // Each table takes the other readings as "no echo": of several it can find, not clear.
        const bool all = !needsTable || program.readings.size() == 1;
        if (found.empty() && all && *rule.fine != '\0')
            result.fine.emplace_back(rule.fine);
        std::move(found.begin(), found.end(), std::back_inserter(result.findings));
    }
    return result;
}

} // namespace badger::rules
