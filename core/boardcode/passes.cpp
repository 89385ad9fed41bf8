// SPDX-License-Identifier: GPL-3.0-or-later
// A whole text: its pins, its start and what one pass does.
#include "core/boardcode/scope.h"

#include <algorithm>
#include <cmath>
#include <fmt/format.h>

namespace badger::boardcode
{

namespace
{

using rules::NoEcho;
using rules::WaitKind;
using RuleSource = rules::Source;

class Passes
{
public:
    explicit Passes(Scope &scope) : m(scope) {}

    std::vector<Item> pins()
    {
        heading("pins, as the car is wired");
        for (const auto &[reading, p] : m.wires.pings) {
            pin(m.capital("trig", reading, " trig"), p.first);
            pin(m.capital("echo", reading, " echo"), p.second);
        }
        for (const auto &[reading, p] : m.wires.inputs)
            pin(m.capital("pin", reading, " pin"), p);
        for (const auto &[servo, p] : m.wires.servos)
            pin(m.capital("servopin", servo), p);
        for (const auto &[buzzer, p] : m.wires.buzzers)
            pin(m.capital("buzzer", buzzer.empty() ? "buzzer" : buzzer), p);
        wheel("LEFT", m.wires.left, m.wires.leftNeutral_us, 1);
        wheel("RIGHT", m.wires.right, m.wires.rightNeutral_us, -1);
        m_items.push_back(gap());
        return std::move(m_items);
    }

    std::vector<Item> states()
    {
        Item item;
        item.kind = Item::Kind::States;
        for (size_t i = 0; i < m.program.states.size(); ++i)
            item.names.push_back(m.state(static_cast<int>(i)));
        m_items.push_back(item);
        if (prints())
            stateNames();
        m_items.push_back(variableItem(Type::State, "state", name(m.state(0))));
        if (m.asksSince)
            m_items.push_back(variableItem(Type::Time, "entered", whole(0)));
        if (hasWaits())
            m_items.push_back(variableItem(Type::Time, "state_end", whole(0)));
        if (isPaced())
            m_items.push_back(variableItem(Type::Time, "next_pass", whole(0)));
        m_items.push_back(gap());
        return std::move(m_items);
    }

    std::vector<Item> frame()
    {
        if (hasWaits())
            endWaits();
        start();
        pass();
        return std::move(m_items);
    }

private:
    void heading(const char *text)
    {
        Item item;
        item.kind = Item::Kind::Heading;
        item.comment = text;
        m_items.push_back(item);
    }

    int number(const std::string &pin) const { return pinNumber(m.wires.target, pin).value_or(0); }

    void pin(const std::string &id, const std::string &pin)
    {
        Item item;
        item.kind = Item::Kind::Constant;
        item.type = Type::Small;
        item.name = id;
        item.of = {whole(number(pin))};
        item.comment = pin;
        m_items.push_back(item);
    }

    void wheel(const char *side, const WheelText &w, double neutral_us, int way)
    {
        Item item;
        item.kind = Item::Kind::Constant;
        item.name = side;
        if (m.wires.servoWheels) {
            item.type = Type::ServoWheel;
            item.of = {call("ServoWheel", {whole(number(w.pins.forward)),
                                           whole(std::lround(neutral_us)), whole(way)})};
            item.comment = w.pins.forward + ", the pulse at which it stands, forward by a " +
                           (way > 0 ? "longer" : "shorter") + " one";
        } else {
            item.type = Type::Wheel;
            const bool none = w.pins.enable.empty();
            item.of = {call("Wheel", {whole(number(w.pins.forward)), whole(number(w.pins.backward)),
                                      none ? name("NO_PIN") : whole(number(w.pins.enable))})};
            item.comment = fmt::format("{} {} {}", w.pins.forward, w.pins.backward,
                                       !none    ? w.pins.enable
                                       : w.held ? "enable held high"
                                                : "speed on these two");
        }
        m_items.push_back(item);
    }

    bool prints() const { return m.program.prints.on; }

    void stateNames()
    {
        Item item;
        item.kind = Item::Kind::List;
        item.type = Type::Nothing;
        item.name = "STATE_NAMES";
        for (const auto &s : m.program.states)
            item.of.push_back(text(s.name));
        m_items.push_back(item);
    }

    bool hasWaits() const
    {
        return std::any_of(m.program.states.begin(), m.program.states.end(),
                           [](const rules::State &s) { return s.wait.has_value(); });
    }
    bool isPaced() const
    {
        return m.program.passWaitKind == WaitKind::Timed && !m.program.passWait.empty();
    }

    /// Whether waits can lead from one to the next for ever, without a look.
    bool waitsGoRound() const
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

    void endWaits()
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

    Expr isWaiting()
    {
        std::vector<Expr> all;
        for (size_t i = 0; i < m.program.states.size(); ++i)
            if (m.program.states[i].wait)
                all.push_back(op(name("state"), "==", name(m.state(static_cast<int>(i)))));
        return any(std::move(all));
    }

    bool usesSerial() const
    {
        const auto words = [](const std::vector<rules::Action> &all) {
            return std::any_of(all.begin(), all.end(),
                               [](const rules::Action &a) { return a.does == rules::Does::Print; });
        };
        return prints() || words(m.program.start) ||
               std::any_of(m.program.states.begin(), m.program.states.end(),
                           [&](const rules::State &s) { return words(s.actions); }) ||
               std::any_of(m.program.readings.begin(), m.program.readings.end(),
                           [](const rules::Reading &r) { return r.source == RuleSource::Key; });
    }

    bool isRandom() const
    {
        return std::any_of(m.program.states.begin(), m.program.states.end(),
                           [](const rules::State &s) {
                               return s.wait && s.wait->length == rules::Length::Random;
                           });
    }

    void makePins(Body &body)
    {
        const auto makes = [&](const char *what, const std::string &pin) {
            body.push_back(run(call(what, {name(pin)})));
        };
        for (const auto *side : {"LEFT", "RIGHT"}) {
            const std::string wheel = side;
            if (m.wires.servoWheels) {
                body.push_back(
                    run(call("begin_servo", {name(wheel + ".signal"), name(wheel + ".neutral")})));
                continue;
            }
            makes("make_output", wheel + ".forward");
            makes("make_output", wheel + ".backward");
            makes("make_output", wheel + ".speed");
        }
        for (const auto *side : {"LEFT", "RIGHT"})
            body.push_back(run(call("brake", {name(side)}), side == std::string("LEFT")
                                                                ? "first of all both wheels stand"
                                                                : ""));
        for (const auto &[reading, p] : m.wires.pings) {
            makes("make_output", m.capital("trig", reading, " trig"));
            makes("make_input", m.capital("echo", reading, " echo"));
        }
        for (const auto &[reading, p] : m.wires.inputs)
            makes("make_input", m.capital("pin", reading, " pin"));
        for (const auto &[buzzer, p] : m.wires.buzzers)
            makes("make_output", m.capital("buzzer", buzzer.empty() ? "buzzer" : buzzer));
        for (const auto &[servo, p] : m.wires.servos)
            body.push_back(run(call("begin_servo", {name(m.capital("servopin", servo)),
                                                    call("servo_pulse", {whole(90)})})));
    }

    /// The call of a look that may come back without having looked.
    bool isLook(const Expr &e)
    {
        for (int i = 0; i < static_cast<int>(m.program.readings.size()); ++i)
            if (mayWait(m, i) && e.text == lookName(i))
                return true;
        return false;
    }
    std::string lookName(int i)
    {
        const auto &r = m.reading(i);
        return m.small("look", r.name, r.source == RuleSource::Scan ? "scan_" : "look_");
    }

    void start()
    {
        Body body;
        makePins(body);
        if (usesSerial())
            body.push_back(run(call("begin_serial", {whole(m.program.prints.baud)})));
        if (prints()) {
            body.push_back(run(call("print_text", {text(m.banner)})));
            body.push_back(run(call("end_line")));
        }
        if (isRandom())
            body.push_back(run(call("seed_random", {whole(m.machine.seed)})));
        for (auto &stmt : actions(m, m.program.start, m.machine.start)) {
            const bool looks = stmt.kind == Stmt::Kind::Do && isLook(stmt.of.front());
            // Before the first pass there is nothing else to do but wait for the servo.
            body.push_back(looks ? loop(no(stmt.of.front()), {run(call("wait_us", {whole(1000)}))})
                                 : stmt);
        }
        body.push_back(run(call("enter", {name(m.state(0))})));
        if (hasWaits())
            body.push_back(run(call("end_waits")));
        if (isPaced())
            body.push_back(set("next_pass", call("clock_us")));
        m_items.push_back(function(Type::Nothing, "start", std::move(body)));
        m_items.push_back(gap());
    }

    /// What comes before the rules, as one chain.
    void decide(Body &body)
    {
        std::vector<Expr> stop;
        std::vector<Expr> skip;
        for (int i = 0; i < static_cast<int>(m.program.readings.size()); ++i) {
            const auto &s = m.sensor(i);
            const bool echo = s.source == RuleSource::Ranger || s.source == RuleSource::Scan;
            const auto missing = no(m.has(i));
            if (!s.everyPass || !echo || isFalse(missing))
                continue;
            (s.policy == NoEcho::Stop && m.machine.stopMode >= 0 ? stop : skip).push_back(missing);
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
        const auto busy = any(
            {hasSlow(m) ? name("acting") : truth(false), hasWaits() ? isWaiting() : truth(false)});
        const auto free = all({m_fresh ? name("fresh") : truth(true), no(busy)});
        if (!isTrue(free) && !asks.empty())
            asks = {when(free, std::move(asks), "while it waits no rule is asked")};
        body.insert(body.end(), asks.begin(), asks.end());
    }

    void print(Body &body)
    {
        for (int i = 0; i < static_cast<int>(m.program.readings.size()); ++i) {
            const auto &r = m.reading(i);
            const bool raw = r.source == RuleSource::Ranger;
            body.push_back(run(call("print_text", {text(r.name + " ")})));
            body.push_back(run(
                call("print_number", {raw ? name(m.small("raw", r.name, "raw_")) : m.value(i)})));
            body.push_back(run(call("print_text", {text(" ")})));
        }
        body.push_back(run(call("print_text", {at("STATE_NAMES", name("state"))})));
        body.push_back(run(call("end_line")));
    }

    void pause(Body &body)
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
            tags,
            choose({{call("reached", {name("next_pass")}), {set("next_pass", call("clock_us"))}},
                    {std::nullopt,
                     {run(call("wait_us", {op(name("next_pass"), "-", call("clock_us"))}))}}})));
    }

    void pass()
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
            body.push_back(when(name("stop_asked"),
                                {set("stop_asked", truth(false)),
                                 run(call("enter", {name(m.state(m.machine.stopMode))}))}));
        if (std::any_of(m.machine.modes.begin(), m.machine.modes.end(),
                        [](const machine::Mode &mode) {
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
        m_items.push_back(function(Type::Nothing,
                                   m.wires.target == Target::Computer ? "one_pass" : "pass",
                                   std::move(body)));
    }

    Scope &m;
    std::vector<Item> m_items;
    bool m_fresh = false; ///< the pass knows whether all its looks were taken
};

} // namespace

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
