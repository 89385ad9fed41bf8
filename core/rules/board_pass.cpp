// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/rules/board_pass.h"

#include "core/base/medium.h"
#include "core/rules/evaluate.h"

#include <algorithm>
#include <fmt/format.h>
#include <fmt/ranges.h>

namespace badger::rules
{

namespace
{

void median(BoardText &t, const Reading &r)
{
    t.line("// The median of the newest {} readings; no echo counts as the farthest.", r.medianOf);
    t.line("{} {}({} newest)", t.type(r), t.madeFrom(r, "median_"), t.type(r));
    t.line("{{");
    t.line("    static {} recent[{}];", t.type(r), r.medianOf);
    t.line("    static uint8_t count = 0;");
    t.line("    if (count == {}) {{", r.medianOf);
    t.line("        for (uint8_t i = 1; i < count; ++i)");
    t.line("            recent[i - 1] = recent[i];");
    t.line("        --count;");
    t.line("    }}");
    t.line("    recent[count++] = newest;");
    t.line("    {} sorted[{}];", t.type(r), r.medianOf);
    t.line("    for (uint8_t i = 0; i < count; ++i) {{");
    t.line("        uint8_t k = i;");
    t.line("        for (; k > 0 && recent[i] != NO_ECHO &&");
    t.line("               (sorted[k - 1] == NO_ECHO || sorted[k - 1] > recent[i]); --k)");
    t.line("            sorted[k] = sorted[k - 1];");
    t.line("        sorted[k] = recent[i];");
    t.line("    }}");
    t.line("    return sorted[(count - 1) / 2];");
    t.line("}}");
    t.blank();
}

void takeReadings(BoardText &t)
{
    for (const auto &r : t.program.readings) {
        const auto id = t.readingName(r);
        auto read = t.readFunction(r) + "()";
        if (t.program.prints.on)
            t.line("    {} {} = {};", t.type(r), t.madeFrom(r, "raw_"), read);
        if (t.program.prints.on)
            read = t.madeFrom(r, "raw_");
        if (r.medianOf > 1)
            read = fmt::format("{}({})", t.madeFrom(r, "median_"), read);
        t.line("    {} {} = {};", t.type(r), id, read);
        if (r.noEcho != NoEcho::HoldLast)
            continue;
        t.tagged("policy:" + r.name, [&] {
            t.line("    if ({} == NO_ECHO) // hold the last reading", id);
            t.line("        {} = {};", id, t.madeFrom(r, "last_"));
            t.line("    {} = {};", t.madeFrom(r, "last_"), id);
        });
    }
}

/// "a == NO_ECHO || b == NO_ECHO" over the readings whose policy is one of `policies`.
std::string missing(BoardText &t, std::initializer_list<NoEcho> policies)
{
    std::vector<std::string> all;
    for (const auto &r : t.program.readings)
        if (std::find(policies.begin(), policies.end(), r.noEcho) != policies.end())
            all.push_back(t.readingName(r) + " == NO_ECHO");
    return fmt::format("{}", fmt::join(all, " || "));
}

void callDecide(BoardText &t)
{
    const auto stop = missing(t, {NoEcho::Stop});
    const auto skip = missing(t, {NoEcho::Ignore, NoEcho::HoldLast});
    std::vector<std::string> held;
    for (const auto &s : t.program.states)
        if (s.wait)
            held.push_back("state == " + t.names.of("state", s.name));
    // What comes before the rules, as one chain of if and else.
    std::vector<std::pair<std::string, std::string>> chain;
    if (!held.empty())
        chain.emplace_back(fmt::format("{}", fmt::join(held, " || ")),
                           "; // waits: the rules are not asked");
    if (!stop.empty())
        chain.emplace_back(stop, "go(" + t.names.of("state", t.program.stopState) +
                                     "); // no echo: stop");
    if (!skip.empty())
        chain.emplace_back(skip, "; // without a reading nothing is decided");
    for (size_t i = 0; i < chain.size(); ++i) {
        t.line("    {}if ({})", i == 0 ? "" : "else ", chain[i].first);
        t.line("        {}", chain[i].second);
    }
    if (!chain.empty())
        t.line("    else");
    t.line("    {}decide({});", chain.empty() ? "" : "    ", t.arguments(false));
}

void endWaits(BoardText &t)
{
    bool chain = false;
    for (const auto &s : t.program.states) {
        if (!s.wait)
            continue;
        t.tagged("state:" + s.name, [&] {
            t.line("    {}if (state == {} && (int32_t)(clock_us() - state_end) >= 0)",
                   chain ? "else " : "", t.names.of("state", s.name));
            t.line("        go({});", t.names.of("state", s.wait->then));
        });
        chain = true;
    }
}

std::string stateStrings(BoardText &t)
{
    std::vector<std::string> all;
    for (const auto &s : t.program.states)
        all.push_back("\"" + medium::source(s.name) + "\"");
    return fmt::format("{}", fmt::join(all, ", "));
}

void prints(BoardText &t)
{
    if (!t.program.prints.on)
        return;
    for (const auto &r : t.program.readings)
        t.line("    print_text(\"{} \"), print_number({}), print_text(\" \");",
               medium::source(r.name), t.madeFrom(r, "raw_"));
    t.line("    static const char *const names[] = {{{}}};", stateStrings(t));
    t.line("    print_text(names[state]), print_text(\"\\r\\n\");");
}

void pause(BoardText &t)
{
    if (t.program.passWait.empty())
        return;
    const auto time = t.names.of("value", t.program.passWait + " us");
    t.tagged("value:" + t.program.passWait, [&] {
        if (t.program.passWaitKind == WaitKind::Blocking) {
            t.line("    wait_us({});", time);
        } else {
            t.line("    next_pass += {};", time);
            t.line("    if ((int32_t)(next_pass - clock_us()) > 0)");
            t.line("        wait_us(next_pass - clock_us());");
            t.line("    else");
            t.line("        next_pass = clock_us();");
        }
    });
}

} // namespace

void writeReadings(BoardText &t)
{
    for (const auto &r : t.program.readings) {
        t.tagged("reading:" + r.name, [&] {
            t.line("{} {}() // {}", t.type(r), t.readFunction(r),
                   r.number == NumberType::Whole ? "cut to whole numbers" : "with fractions");
            t.line("{{");
            t.line("    uint32_t echo = echo_us({}, {}, {}); // no echo beyond {}",
                   t.names.of("trig", r.name + " trig"), t.names.of("echo", r.name + " echo"),
                   timeOut_us(r), units::formatShort(*r.limit_m, units::Unit::Centimetre, 2));
            t.line("    return ({})(echo * {:.9g}f); // half the way of sound at {}", t.type(r),
                   unitsPer_us(r), units::formatShort(*r.air_degC, units::Unit::Celsius, 1));
            t.line("}}");
        });
        t.blank();
        if (r.medianOf > 1)
            median(t, r);
        if (r.noEcho == NoEcho::HoldLast) {
            t.line("{} {} = NO_ECHO;", t.type(r), t.madeFrom(r, "last_"));
            t.blank();
        }
    }
}

void writePass(BoardText &t)
{
    takeReadings(t);
    callDecide(t);
    endWaits(t);
    prints(t);
    pause(t);
}

} // namespace badger::rules
