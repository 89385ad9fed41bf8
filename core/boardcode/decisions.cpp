// SPDX-License-Identifier: GPL-3.0-or-later
// The ordered rules, and what one of them asks.
#include "core/boardcode/scope.h"

#include "core/base/medium.h"

#include <algorithm>

namespace badger::boardcode
{

namespace
{

using machine::Ask;
using rules::Compare;
using rules::Test;

class Decisions
{
public:
    explicit Decisions(Scope &scope) : m(scope) {}

    Expr condition(const rules::Rule &rule, const machine::Branch &branch)
    {
        std::vector<Expr> conditions;
        for (size_t i = 0; i < rule.when.size(); ++i) {
            const auto &a = m.machine.asks[static_cast<size_t>(branch.asks.first) + i];
            conditions.push_back(a.counter < 0 ? ask(rule.when[i], a)
                                               : op(name(counter(a)), ">=", times(rule.when[i])));
        }
        return rule.any ? any(std::move(conditions)) : all(std::move(conditions));
    }

    std::vector<Item> items()
    {
        std::vector<Item> items;
        if (!hasRules(m))
            return items;
        if (m.machine.counters > 0)
            counters(items);
        auto f = function(Type::Nothing, "decide", {}, "The rules, in their order.");
        const bool own = ownRules();
        if (own)
            f.body.push_back(let(Type::State, "began", name("state")));
        if (m.machine.counters > 0)
            f.body.push_back(run(call("count_passes")));
        rulesOf(m.program.everywhere, m.machine.everywhere, f.body);
        if (own) {
            std::vector<Way> ways;
            for (size_t i = 0; i < m.program.states.size(); ++i) {
                const auto &s = m.program.states[i];
                if (s.wait || s.rules.empty())
                    continue;
                Way way{name(m.state(static_cast<int>(i))), {}, {}};
                rulesOf(s.rules, m.machine.modes[i].branches, way.body);
                ways.push_back(std::move(way));
            }
            f.body.push_back(select(name("began"), std::move(ways)));
        }
        items.push_back(std::move(f));
        items.push_back(gap());
        return items;
    }

private:
    bool ownRules() const
    {
        return std::any_of(m.program.states.begin(), m.program.states.end(),
                           [](const rules::State &s) { return !s.wait && !s.rules.empty(); });
    }

    Expr times(const rules::Condition &c) { return m.number(c.times); }
    std::string counter(const Ask &a)
    {
        return m.small("counter", std::to_string(a.counter), "passes_");
    }

    static bool isNearer(Compare c) { return c == Compare::Less || c == Compare::LessOrEqual; }

    /// Whether a variable that holds 0 or less for "none" fails the comparison anyway.
    bool failsOnNone(int sensor, Compare compare, double constant) const
    {
        return m.sensor(sensor).source == rules::Source::Ranger && !m.needsFound(sensor) &&
               ((compare == Compare::Greater && constant >= 0.0) ||
                (compare == Compare::GreaterOrEqual && constant > 0.0));
    }

    Expr number(const rules::Condition &c, const Ask &a)
    {
        auto test = op(m.value(a.sensor), rules::symbol(c.compare), m.compared(c.value, a.sensor));
        if (failsOnNone(a.sensor, c.compare, a.constant))
            return test;
        return all({m.has(a.sensor), std::move(test)});
    }

    Expr ask(const rules::Condition &c, const Ask &a)
    {
        switch (c.test) {
        case Test::Number:
            return number(c, a);
        case Test::Angle:
            return all({m.has(a.sensor),
                        op(name(m.angle(a.sensor)), rules::symbol(c.compare), m.number(c.value))});
        case Test::Which:
            return all({m.has(a.sensor), op(name(m.which(a.sensor)), "==", whole(a.other))});
        case Test::Than: {
            auto tolerance = c.value.empty() ? whole(0) : m.compared(c.value, a.sensor);
            if (isNearer(c.compare))
                tolerance = minus(std::move(tolerance));
            return all({m.has(a.sensor), m.has(a.other),
                        op(op(m.value(a.sensor), "-", m.value(a.other)), rules::symbol(c.compare),
                           std::move(tolerance))});
        }
        case Test::Seen:
            return all({m.has(a.sensor), name(m.variable(a.sensor))});
        case Test::Unseen:
            return all({m.has(a.sensor), no(name(m.variable(a.sensor)))});
        case Test::Key:
            return all({m.has(a.sensor),
                        op(name(m.variable(a.sensor)),
                           "==", m.constant(Type::Small, "key:key " + c.other, a.other, ""))});
        case Test::Remembered:
            return op(name(m.memo(c.reading)), "==", name(m.word(a.other)));
        case Test::Lost:
            return lost(a.sensor, static_cast<int>(a.constant));
        case Test::Since:
            return op(op(call("clock_us"), "-", name("entered")), ">=", m.micro(c.value));
        }
        return truth(false);
    }

    /// As often as the one of several that was heard last.
    Expr lost(int sensor, int most)
    {
        if (most < 1)
            return truth(false);
        const auto &r = m.reading(sensor);
        if (r.source != rules::Source::Pick)
            return op(name(m.lost(sensor)), ">=", whole(most));
        std::vector<Expr> each;
        for (const auto &of : r.of)
            each.push_back(lost(m.sensorOf(of), most));
        return all(std::move(each));
    }

    void rulesOf(const std::vector<rules::Rule> &all, const machine::Range &range, Body &body)
    {
        for (size_t i = 0; i < all.size(); ++i) {
            const auto &rule = all[i];
            const auto &branch = m.machine.branches[static_cast<size_t>(range.first) + i];
            Body then{run(call(rule.again ? "enter" : "become", {name(m.state(branch.go))}))};
            if (rule.endsPass)
                then.push_back(done());
            auto condition = this->condition(rule, branch);
            const std::vector<std::string> tags{"rule:" + rule.name, "state:" + rule.go};
            body.push_back(tagged(tags, when(std::move(condition), std::move(then), rule.name)));
        }
    }

    /// In how many passes in succession a condition held.
    void counters(std::vector<Item> &items)
    {
        auto f = function(Type::Nothing, "count_passes", {},
                          "In how many passes in succession a condition held.");
        const auto countIn = [&](const std::vector<rules::Rule> &all, const machine::Range &range,
                                 Body &body) {
            for (size_t i = 0; i < all.size(); ++i) {
                const auto &branch = m.machine.branches[static_cast<size_t>(range.first) + i];
                for (size_t k = 0; k < all[i].when.size(); ++k) {
                    const auto &a = m.machine.asks[static_cast<size_t>(branch.asks.first) + k];
                    if (a.counter < 0)
                        continue;
                    const auto id = counter(a);
                    items.push_back(variableItem(Type::Whole, id, whole(0)));
                    body.push_back(choose({{no(ask(all[i].when[k], a)), {set(id, whole(0))}},
                                           {op(name(id), "<", times(all[i].when[k])),
                                            {set(id, op(name(id), "+", whole(1)))}}}));
                }
            }
        };
        countIn(m.program.everywhere, m.machine.everywhere, f.body);
        std::vector<Way> ways;
        for (size_t i = 0; i < m.program.states.size(); ++i) {
            Way way{name(m.state(static_cast<int>(i))), {}, {}};
            countIn(m.program.states[i].rules, m.machine.modes[i].branches, way.body);
            if (!way.body.empty())
                ways.push_back(std::move(way));
        }
        if (!ways.empty())
            f.body.push_back(select(name("state"), std::move(ways)));
        items.push_back(gap());
        items.push_back(std::move(f));
        items.push_back(gap());
    }

    Scope &m;
};

} // namespace

bool hasRules(const Scope &scope)
{
    return !scope.program.everywhere.empty() ||
           std::any_of(scope.program.states.begin(), scope.program.states.end(),
                       [](const rules::State &s) { return !s.wait && !s.rules.empty(); });
}

std::vector<Item> ruleItems(Scope &scope)
{
    return Decisions(scope).items();
}

} // namespace badger::boardcode
