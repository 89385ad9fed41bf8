// SPDX-License-Identifier: GPL-3.0-or-later
// The states: their motions, and what is done on the way into each.
#include "core/boardcode/scope.h"

#include <algorithm>
#include <cmath>
#include <fmt/format.h>

namespace badger::boardcode
{

namespace
{

using rules::Does;
using rules::Follows;
using rules::Length;

class Motions
{
public:
    explicit Motions(Scope &scope) : m(scope) {}

    std::vector<Item> states()
    {
        for (size_t i = 0; i < m.program.states.size(); ++i)
            if (isFollowing(i))
                follow(i);
        act();
        enter();
        become();
        steer();
        return std::move(m_items);
    }

private:
    void add(Item item)
    {
        m_items.push_back(std::move(item));
        m_items.push_back(gap());
    }

    const rules::State &state(size_t i) const { return m.program.states[i]; }
    const machine::Mode &mode(size_t i) const { return m.machine.modes[i]; }

    bool isFollowing(size_t i) const
    {
        const auto &mode = this->mode(i);
        return (mode.follows == Follows::Steer || mode.follows == Follows::Slow) &&
               mode.sensor >= 0 && mode.half != 0.0;
    }

    Expr counts(const rules::Wheel &wheel)
    {
        auto speed = name(m.speed(wheel.speed));
        return wheel.sense < 0 ? minus(std::move(speed)) : speed;
    }

    Stmt plain(const char *side, const rules::Motion &motion, const rules::Wheel &wheel)
    {
        if (motion.wheels == rules::Wheels::Coast)
            return run(call("coast", {name(side)}));
        if (motion.wheels == rules::Wheels::Brake || wheel.sense == 0)
            return run(call("brake", {name(side)}));
        return run(call("turn", {name(side), counts(wheel)}));
    }

    Body bothPlain(const rules::Motion &motion)
    {
        return {plain("LEFT", motion, motion.left), plain("RIGHT", motion, motion.right)};
    }

    std::string followName(size_t i)
    {
        return m.small("follow", state(i).name,
                       mode(i).follows == Follows::Steer ? "steer_" : "slow_");
    }

    /// The wheels by a reading.
    void follow(size_t i)
    {
        const auto &motion = state(i).motion;
        const auto &p = *motion.proportion;
        const auto &mode = this->mode(i);
        const auto id = m.reading(mode.sensor).name;
        const auto middle =
            m.constant(Type::Real, "middle of " + p.low + ":" + id + " middle", mode.middle,
                       "halfway between '" + p.low + "' and '" + p.high + "'");
        const auto half = m.constant(Type::Real, "half of " + p.high + ":" + id + " half",
                                     mode.half, "from there to either of them");
        const auto scaled = [&](const char *side, const rules::Wheel &wheel, Expr factor) {
            if (wheel.sense == 0)
                return run(call("brake", {name(side)}));
            return run(
                call("turn", {name(side), call("scaled", {counts(wheel), std::move(factor)})}));
        };
        Body body;
        const auto has = m.has(mode.sensor);
        if (!isTrue(has)) {
            auto otherwise = bothPlain(motion);
            otherwise.push_back(done());
            body.push_back(when(no(has), std::move(otherwise)));
        }
        body.push_back(let(Type::Real, "share",
                           call("held", {op(op(m.value(mode.sensor), "-", middle), "/", half),
                                         real(-1.0), real(1.0)}),
                           "-1 at the low end, 1 at the high one"));
        const auto share = name("share");
        if (mode.follows == Follows::Slow) {
            const auto factor = op(op(share, "+", whole(1)), "/", whole(2));
            body.push_back(scaled("LEFT", motion.left, factor));
            body.push_back(scaled("RIGHT", motion.right, factor));
        } else {
            body.push_back(
                let(Type::Real, "more",
                    op(m.number(p.gain), "*", mode.highTurnsLeft ? minus(share) : share)));
            body.push_back(scaled("LEFT", motion.left, op(whole(1), "+", name("more"))));
            body.push_back(scaled("RIGHT", motion.right, op(whole(1), "-", name("more"))));
        }
        auto f = function(Type::Nothing, followName(i), std::move(body),
                          mode.follows == Follows::Steer
                              ? "One wheel faster, the other slower, by the reading."
                              : "Both wheels slower by the reading.");
        f.tags = {"state:" + state(i).name};
        add(f);
    }

    Body wheelsOf(size_t i)
    {
        const auto &motion = state(i).motion;
        const auto &mode = this->mode(i);
        if (isFollowing(i))
            return {run(call(followName(i)))};
        if (mode.follows != Follows::Scan || mode.sensor < 0)
            return bothPlain(motion);
        // Toward the side of the scan's angle: as written to the left, mirrored to the right.
        auto mirrored = motion;
        std::swap(mirrored.left, mirrored.right);
        const Body stand{run(call("brake", {name("LEFT")})), run(call("brake", {name("RIGHT")}))};
        const auto angle = name(m.angle(mode.sensor));
        return {choose({{any({no(m.has(mode.sensor)), op(angle, "==", whole(90))}), stand},
                        {op(angle, "<", whole(90)), bothPlain(mirrored)},
                        {std::nullopt, bothPlain(motion)}})};
    }

    /// How long a wait is, now.
    Expr length(const rules::Wait &wait, const machine::Hold &hold)
    {
        switch (wait.length) {
        case Length::Fixed:
            break;
        case Length::Random:
            return call("random_us", {m.micro(wait.duration), m.micro(wait.most)});
        case Length::PerDegree: {
            const auto angle = hold.scan >= 0 ? op(name(m.angle(hold.scan)), "-", whole(90))
                                              : m.number(wait.angle);
            return call("turn_us", {angle, m.micro(wait.duration)});
        }
        }
        return m.micro(wait.duration);
    }

    /// The state's wait begins.
    void holds(size_t i, Body &body)
    {
        const auto &s = state(i);
        if (!s.wait)
            return;
        const bool blocks = s.wait->kind == rules::WaitKind::Blocking;
        auto time = length(*s.wait, mode(i).hold);
        if (blocks && s.wait->length != Length::Fixed) {
            body.push_back(let(Type::Time, "time", time));
            time = name("time");
        }
        body.push_back(set("state_end", op(call("clock_us"), "+", time)));
        if (blocks)
            body.push_back(run(call("wait_us", {time})));
    }

    /// What a state does on its way in, one step after another, as far as the time allows.
    void act()
    {
        if (!hasSlow(m))
            return;
        std::vector<Way> ways;
        for (size_t i = 0; i < m.program.states.size(); ++i)
            if (isSlow(m, i))
                ways.push_back({name(m.state(static_cast<int>(i))), steps(i), {}});
        m_items.push_back(variableItem(Type::Truth, "acting", truth(false),
                                       "it is not done yet with what the state begins with"));
        m_items.push_back(variableItem(Type::Small, "step", whole(0), "what of that comes next"));
        m_items.push_back(variableItem(Type::Time, "step_end", whole(0)));
        m_items.push_back(gap());
        add(function(Type::Nothing, "act", {select(name("state"), std::move(ways))},
                     "Goes on with what the state begins with, without waiting for any of it."));
    }

    Body steps(size_t i)
    {
        const auto &s = state(i);
        Body body;
        int step = 0;
        const auto is = [&] { return op(name("step"), "==", whole(step)); };
        const auto next = [&] { return set("step", whole(step + 1)); };
        for (size_t k = 0; k < s.actions.size(); ++k, ++step) {
            const auto &a = s.actions[k];
            const machine::Range one{mode(i).doings.first + static_cast<int>(k), 1};
            auto done = actions(m, {a}, one);
            const auto &d = m.machine.doings[static_cast<size_t>(one.first)];
            if (a.does == Does::Look && mayWait(m, d.what)) {
                auto looked = done.front().of.front(); // the call says whether it looked
                done.erase(done.begin());
                done.push_back(next());
                body.push_back(when(all({is(), std::move(looked)}), std::move(done)));
                continue;
            }
            if (a.does != Does::Beep && a.does != Does::Pause) {
                done.push_back(next());
                body.push_back(when(is(), std::move(done)));
                continue;
            }
            // What is done first, the time, what is done last.
            const bool beeps = a.does == Does::Beep;
            Body begin;
            if (beeps)
                begin.push_back(done.front());
            begin.push_back(set("step_end", op(call("clock_us"), "+", m.micro(a.value))));
            begin.push_back(next());
            body.push_back(when(is(), std::move(begin)));
            ++step;
            Body end;
            if (beeps)
                end.push_back(done.back());
            end.push_back(next());
            body.push_back(when(all({is(), call("reached", {name("step_end")})}), std::move(end)));
        }
        Body last{set("acting", truth(false))};
        holds(i, last);
        body.push_back(when(is(), std::move(last)));
        for (auto &stmt : body)
            stmt.tags = {"state:" + s.name};
        return body;
    }

    void enter()
    {
        Body body{set("state", name("next"))};
        if (m.asksSince)
            body.push_back(set("entered", call("clock_us")));
        std::vector<Way> ways;
        for (size_t i = 0; i < m.program.states.size(); ++i) {
            const auto &s = state(i);
            Way way{name(m.state(static_cast<int>(i))), wheelsOf(i),
                    english(rules::words(s.motion))};
            if (isSlow(m, i)) {
                way.body.push_back(set("step", whole(0)));
                way.body.push_back(set("acting", truth(true)));
            } else {
                const auto doings = actions(m, s.actions, mode(i).doings);
                way.body.insert(way.body.end(), doings.begin(), doings.end());
                holds(i, way.body);
            }
            for (auto &stmt : way.body)
                stmt.tags = {"state:" + s.name};
            ways.push_back(std::move(way));
        }
        if (hasSlow(m))
            body.push_back(set("acting", truth(false)));
        // Where a look stopped the car in the middle of a scan, the next one begins anew.
        if (hasSlow(m) && asksStop(m))
            for (int i = 0; i < static_cast<int>(m.program.readings.size()); ++i)
                if (m.reading(i).source == rules::Source::Scan && !m.reading(i).everyPass &&
                    mayWait(m, i))
                    body.push_back(set(m.small("next", m.reading(i).name, {}, "_next"), whole(0)));
        body.push_back(select(name("state"), std::move(ways)));
        if (hasSlow(m))
            body.push_back(when(name("acting"), {run(call("act"))}));
        auto f = function(Type::Nothing, "enter", std::move(body),
                          "Into a state: its motion, then what it does.");
        f.arguments = {{Type::State, "next"}};
        add(f);
    }

    void become()
    {
        if (!hasRules(m) && m.program.stopState.empty())
            return;
        auto f = function(
            Type::Nothing, "become",
            {when(op(name("next"), "!=", name("state")), {run(call("enter", {name("next")}))})},
            "Into a state, unless it stands there already.");
        f.arguments = {{Type::State, "next"}};
        add(f);
    }

    /// A state that follows a reading tells its wheels anew in every pass.
    void steer()
    {
        std::vector<Way> ways;
        for (size_t i = 0; i < m.program.states.size(); ++i)
            if (isFollowing(i))
                ways.push_back(
                    {name(m.state(static_cast<int>(i))), {run(call(followName(i)))}, {}});
        if (ways.empty())
            return;
        add(function(Type::Nothing, "steer", {select(name("state"), std::move(ways))}));
    }

    Scope &m;
    std::vector<Item> m_items;
};

} // namespace

std::vector<Item> stateItems(Scope &scope)
{
    return Motions(scope).states();
}

} // namespace badger::boardcode
