// SPDX-License-Identifier: GPL-3.0-or-later
// Waits and the pass.
#include "core/boardcode/pass_writer.h"
#include "core/rules/pass_time.h"

#include <algorithm>
#include <cmath>
#include <fmt/format.h>

namespace badger::boardcode
{

using rules::NoEcho;
using rules::WaitKind;
using RuleSource = rules::Source;

std::vector<Item> Passes::frame()
{
    if (hasWaits())
        endWaits();
    start();
    pass();
    return std::move(m_items);
}

bool Passes::hasWaits() const
{
    return std::any_of(m.program.states.begin(), m.program.states.end(),
                       [](const rules::State &s) { return s.wait.has_value(); });
}

bool Passes::isPaced() const
{
    return m.program.passWaitKind == WaitKind::Timed && !m.program.passWait.empty();
}

bool Passes::waitsGoRound() const
{
    const auto n = m.machine.modes.size();
    for (size_t i = 0; i < n; ++i) {
        auto at = i;
        size_t steps = 0;
        for (; steps <= n && m.machine.modes[at].hold.is; ++steps)
            at = static_cast<size_t>(m.machine.modes[at].hold.then);
        if (steps > n)
            return true;
    }
    return false;
}

void Passes::endWaits()
{
    std::vector<Way> ways;
    for (size_t i = 0; i < m.program.states.size(); ++i) {
        const auto &hold = m.machine.modes[i].hold;
        if (!hold.is)
            continue;
        Way way{name(m.state(static_cast<int>(i))),
                {run(call("enter", {name(m.state(hold.then))}))},
                {}};
        way.body.front().tags = {"state:" + m.program.states[i].name};
        ways.push_back(std::move(way));
    }
    const auto waiting = isWaiting();
    auto over = all({hasSlow(m) ? no(name("acting")) : truth(true), waiting,
                     call("reached", {name("state_end")})});
    Body body;
    // The wait that follows may block, and be over then.
    if (waitsGoRound())
        body = {countUp("i", whole(0), whole(static_cast<int>(m.program.states.size()) + 1),
                        {when(no(over), {done()}), select(name("state"), std::move(ways))})};
    else
        body = {loop(std::move(over), {select(name("state"), std::move(ways))})};
    m_items.push_back(function(Type::Nothing, "end_waits", std::move(body),
                               "Whatever has waited long enough goes on."));
    m_items.push_back(gap());
}

Expr Passes::isWaiting()
{
    std::vector<Expr> all;
    for (size_t i = 0; i < m.program.states.size(); ++i)
        if (m.program.states[i].wait)
            all.push_back(op(name("state"), "==", name(m.state(static_cast<int>(i)))));
    return any(std::move(all));
}

bool Passes::isLook(const Expr &e)
{
    for (int i = 0; i < static_cast<int>(m.program.readings.size()); ++i)
        if (mayWait(m, i) && e.text == lookName(i))
            return true;
    return false;
}

std::string Passes::lookName(int i)
{
    const auto &r = m.reading(i);
    return m.small("look", r.name, r.source == RuleSource::Scan ? "scan_" : "look_");
}

void Passes::decide(Body &body)
{
    std::vector<Expr> stop;
    std::vector<Expr> skip;
    for (int i = 0; i < static_cast<int>(m.program.readings.size()); ++i) {
        const auto &s = m.sensor(i);
        const bool echo = s.source == RuleSource::Ranger || s.source == RuleSource::Scan;
        const auto missing = no(m.has(i));
        if (!s.everyPass || !echo || isFalse(missing))
            continue;
        const auto stops = m.machine.stopMode >= 0 ? m.stops(i) : truth(false);
        if (!isFalse(stops))
            stop.push_back(all({missing, stops}));
        if (!isTrue(stops))
            skip.push_back(missing);
    }
    Body asks;
    if (hasRules(m)) {
        auto rules = run(call("decide"));
        if (!skip.empty())
            rules = when(no(any(skip)), {rules}, "without a reading nothing is decided");
        asks.push_back(std::move(rules));
    }
    if (!stop.empty()) {
        std::vector<Way> ways{{any(stop),
                               {run(call("become", {name(m.state(m.machine.stopMode))}))},
                               "no echo: stop"}};
        if (!asks.empty())
            ways.push_back({std::nullopt, std::move(asks), {}});
        asks = {choose(std::move(ways))};
    }
    const auto busy =
        any({hasSlow(m) ? name("acting") : truth(false), hasWaits() ? isWaiting() : truth(false)});
    const auto free = all({m_fresh ? name("fresh") : truth(true), no(busy)});
    if (!isTrue(free) && !asks.empty())
        asks = {when(free, std::move(asks), "while it waits no rule is asked")};
    body.insert(body.end(), asks.begin(), asks.end());
}

void Passes::print(Body &body)
{
    for (int i = 0; i < static_cast<int>(m.program.readings.size()); ++i) {
        const auto &r = m.reading(i);
        if (rules::isOfTheStartAlone(m.program, r))
            continue;
        const bool raw = r.source == RuleSource::Ranger;
        body.push_back(run(call("print_text", {text(r.name + " ")})));
        body.push_back(
            run(call("print_number", {raw ? name(m.small("raw", r.name, "raw_")) : m.value(i)})));
        body.push_back(run(call("print_text", {text(" ")})));
    }
    body.push_back(run(call("print_text", {at("STATE_NAMES", name("state"))})));
    body.push_back(run(call("end_line")));
}

void Passes::pause(Body &body)
{
    if (m.program.passWait.empty())
        return;
    const auto time = m.micro(m.program.passWait);
    const std::vector<std::string> tags{"value:" + m.program.passWait};
    if (!isPaced()) {
        body.push_back(tagged(tags, run(call("wait_us", {time}))));
        return;
    }
    body.push_back(tagged(tags, set("next_pass", op(name("next_pass"), "+", time))));
    body.push_back(tagged(
        tags, choose({{call("reached", {name("next_pass")}), {set("next_pass", call("clock_us"))}},
                      {std::nullopt,
                       {run(call("wait_us", {op(name("next_pass"), "-", call("clock_us"))}))}}})));
}

void Passes::pass()
{
    Body body;
    for (int i = 0; i < static_cast<int>(m.program.readings.size()); ++i) {
        const auto &r = m.reading(i);
        if (!r.everyPass || r.source == RuleSource::Pick || r.source == RuleSource::Difference)
            continue;
        auto look = call(lookName(i));
        if (!mayWait(m, i)) {
            body.push_back(run(std::move(look)));
            continue;
        }
        // A state that is at its own looks has the servo to itself.
        if (hasSlow(m))
            look = all({no(name("acting")), std::move(look)});
        if (!m_fresh)
            body.push_back(var(Type::Truth, "fresh", std::move(look)));
        else
            body.push_back(set("fresh", all({std::move(look), name("fresh")})));
        m_fresh = true;
    }
    for (const auto &r : m.program.readings)
        if (r.source == RuleSource::Pick)
            body.push_back(run(call(m.small("look", r.name, "pick_"))));
    if (hasSlow(m))
        body.push_back(when(name("acting"), {run(call("act"))}));
    decide(body);
    if (asksStop(m) && m.machine.stopMode >= 0)
        body.push_back(
            when(name("stop_asked"), {set("stop_asked", truth(false)),
                                      run(call("enter", {name(m.state(m.machine.stopMode))}))}));
    if (std::any_of(m.machine.modes.begin(), m.machine.modes.end(), [](const machine::Mode &mode) {
            return (mode.follows == rules::Follows::Steer ||
                    mode.follows == rules::Follows::Slow) &&
                   mode.sensor >= 0 && mode.half != 0.0;
        }))
        body.push_back(run(call("steer")));
    if (hasWaits())
        body.push_back(run(call("end_waits")));
    if (prints())
        print(body);
    pause(body);
    m_items.push_back(function(
        Type::Nothing, m.wires.target == Target::Computer ? "one_pass" : "pass", std::move(body)));
}

std::vector<Item> items(const Source &source)
{
    Scope scope(source);
    // Bodies first: they ask for the constants that stand above them.
    const auto pins = Passes(scope).pins();
    const auto wheels = wheelItems(scope);
    const auto looks = lookItems(scope);
    const auto states = Passes(scope).states();
    const auto motions = stateItems(scope);
    const auto decisions = ruleItems(scope);
    const auto frame = Passes(scope).frame();
    std::vector<Item> all;
    const auto put = [&](const std::vector<Item> &more) {
        all.insert(all.end(), more.begin(), more.end());
    };
    put(pins);
    Item heading;
    heading.kind = Item::Kind::Heading;
    heading.comment = "what was chosen, and what follows from it";
    all.push_back(heading);
    put(scope.constants());
    put(scope.lists);
    all.push_back(gap());
    put(wheels);
    put(looks);
    put(states);
    put(motions);
    put(decisions);
    put(frame);
    return all;
}

} // namespace badger::boardcode
