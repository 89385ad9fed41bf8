// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/rules/program.h"

#include "core/base/named.h"

#include <algorithm>
#include <fmt/format.h>

namespace badger::rules
{

const Value *Program::value(std::string_view wanted) const
{
    return named(values, wanted);
}
const Reading *Program::reading(std::string_view wanted) const
{
    return named(readings, wanted);
}
const State *Program::state(std::string_view wanted) const
{
    return named(states, wanted);
}

namespace
{

void unsetOf(const Reading &r, std::vector<Say> &missing)
{
    switch (r.source) {
    case Source::Ranger:
    case Source::Scan:
        if (r.noEcho == NoEcho::Unset)
            missing.push_back(say("what no echo means for '{}'", r.name));
        if (r.nearest_m && r.tooNear == NoEcho::Unset)
            missing.push_back(say("what too near means for '{}'", r.name));
        if (!r.nearest_m && r.tooNear != NoEcho::Unset)
            missing.push_back(say("what is too near for '{}'", r.name));
        if (r.farthest_m && r.wild == NoEcho::Unset)
            missing.push_back(say("what too far to be meant means for '{}'", r.name));
        if (!r.farthest_m && r.wild != NoEcho::Unset)
            missing.push_back(say("what is too far to be meant for '{}'", r.name));
        if (!r.air_degC)
            missing.push_back(say("the air temperature that '{}' assumes", r.name));
        if (!r.limit_m)
            missing.push_back(say("the farthest reading of '{}'", r.name));
        if (r.swivel && r.swivel->angles_deg.empty())
            missing.push_back(say("the angles of '{}'", r.name));
        break;
    case Source::Digital:
        if (!r.lightLevel)
            missing.push_back(say("what '{}' puts out on light", r.name));
        break;
    case Source::Button:
        if (!r.lightLevel)
            missing.push_back(say("what '{}' puts out while it is pressed", r.name));
        break;
    case Source::Analogue:
    case Source::Pick:
    case Source::Difference:
    case Source::Key:
        break;
    }
}

} // namespace

std::vector<Say> unset(const Program &program)
{
    std::vector<Say> missing;
    for (const auto &v : program.values)
        if (!v.si)
            missing.push_back(say("the value '{}', {}", v.name, v.meaning));
    for (const auto &r : program.readings)
        unsetOf(r, missing);
    return missing;
}

bool mayStop(const Reading &r)
{
    return r.noEcho == NoEcho::Stop || r.tooNear == NoEcho::Stop || r.wild == NoEcho::Stop;
}

Program haltProgram(const Id<Program> &id, const std::string &name)
{
    Program p;
    p.id = id;
    p.name = name;
    p.values = {
        {"halt", "stop at this distance", ValueKind::Distance, std::nullopt, {}},
        {"speed", "PWM count while driving", ValueKind::Speed, std::nullopt, {}},
        {"pause", "pause after each pass", ValueKind::Duration, std::nullopt, {}},
    };
    Reading ahead;
    ahead.name = "ahead";
    ahead.instance = "ranger";
    p.readings = {ahead};
    p.everywhere = {
        {"near", {{"ahead", Compare::LessOrEqual, "halt"}}, "stands", true, {}},
        {"clear", {{"ahead", Compare::Greater, "halt"}}, "drives", true, {}},
    };
    p.states = {
        {"stands", {Wheels::Brake, {}, {}}, std::nullopt, {}, {}},
        {"drives", {Wheels::Drive, {1, "speed"}, {1, "speed"}}, std::nullopt, {}, {}},
    };
    p.stopState = "stands";
    p.passWait = "pause";
    return p;
}

namespace
{

Say words(const Proportion &p, const Motion &motion)
{
    const bool steady = motion.left.sense == motion.right.sense;
    switch (p.follows) {
    case Follows::Nothing:
        break;
    case Follows::Steer:
        return say("steers by '{}'", p.reading);
    case Follows::Slow:
        return motion.left.sense < 0 ? say("backs, slower as '{}' falls", p.reading)
                                     : say("drives, slower as '{}' falls", p.reading);
    case Follows::Scan:
        return steady ? say("drives") : say("turns to where '{}' was best", p.reading);
    }
    return {};
}

} // namespace

Say words(const Motion &motion)
{
    if (motion.wheels == Wheels::Drive && motion.proportion &&
        motion.proportion->follows != Follows::Nothing)
        return words(*motion.proportion, motion);
    switch (motion.wheels) {
    case Wheels::Brake:
        return say("stands, braked");
    case Wheels::Coast:
        return say("stands, coasting");
    case Wheels::Drive:
        break;
    }
    const int l = motion.left.sense;
    const int r = motion.right.sense;
    if (l == r)
        return l > 0 ? say("drives") : l < 0 ? say("backs") : say("stands");
    if (l == -r)
        return l < r ? say("spins left") : say("spins right");
    if (l == 0 || r == 0) {
        const bool forward = l + r > 0;
        const bool left = forward == (l == 0);
        return left ? say("pivots left") : say("pivots right");
    }
    return say("turns");
}

const char *symbol(Compare compare)
{
    switch (compare) {
    case Compare::Less:
        return "<";
    case Compare::LessOrEqual:
        return "<=";
    case Compare::Greater:
        return ">";
    case Compare::GreaterOrEqual:
        break;
    }
    return ">=";
}

const char *sign(Compare compare)
{
    switch (compare) {
    case Compare::LessOrEqual:
        return "≤";
    case Compare::GreaterOrEqual:
        return "≥";
    case Compare::Less:
    case Compare::Greater:
        break;
    }
    return symbol(compare);
}

const char *word(NoEcho policy)
{
    switch (policy) {
    case NoEcho::Unset:
        return "unset";
    case NoEcho::Clear:
        return "clear";
    case NoEcho::Blocked:
        return "blocked";
    case NoEcho::HoldLast:
        return "hold-last";
    case NoEcho::Stop:
        return "stop";
    case NoEcho::Ignore:
        break;
    }
    return "ignore";
}

Act actOf(const Motion &motion)
{
    const int l = motion.left.sense;
    const int r = motion.right.sense;
    if (motion.wheels != Wheels::Drive || (l == 0 && r == 0))
        return Act::Stand;
    if (l == r)
        return l > 0 ? Act::Go : Act::Back;
    return Act::Turn;
}

const char *word(Act act)
{
    switch (act) {
    case Act::Go:
        return "go";
    case Act::Stand:
        return "stop";
    case Act::Back:
        return "back";
    case Act::Turn:
        break;
    }
    return "turn";
}

} // namespace badger::rules
