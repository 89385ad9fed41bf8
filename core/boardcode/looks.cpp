// SPDX-License-Identifier: GPL-3.0-or-later
// One function for each reading.
#include "core/boardcode/look_writer.h"

#include "core/rules/pass_time.h"

#include <algorithm>
#include <cmath>
#include <fmt/format.h>

namespace badger::boardcode
{

using rules::NoEcho;

std::vector<Item> Looks::items()
{
    variables();
    for (size_t i = 0; i < m.wires.servos.size(); ++i)
        point(std::next(m.wires.servos.begin(), static_cast<std::ptrdiff_t>(i))->first);
    for (int i = 0; i < count(); ++i)
        if (!rules::isOfTheStartAlone(m.program, m.reading(i)))
            look(i);
    return std::move(m_items);
}

/// Can its look come back without a number?
bool Looks::hears(int i) const
{
    const auto &s = m.sensor(i);
    return s.source == RuleSource::Ranger ||
           (s.source == RuleSource::Analogue && s.scale == rules::Scale::Distance);
}

bool Looks::printsRaw(int i) const
{
    return m.program.prints.on && m.reading(i).source == RuleSource::Ranger;
}

void Looks::look(int i)
{
    const auto &r = m.reading(i);
    Body body;
    std::string comment;
    switch (r.source) {
    case RuleSource::Ranger:
        body = ranger(i);
        comment = fmt::format("An echo, {}.", m.sensor(i).whole ? std::string("cut to whole ") +
                                                                      units::info(r.unit).symbol
                                                                : "with its fraction");
        break;
    case RuleSource::Scan:
        body = scan(i);
        comment = fmt::format("The {} of all angles; of ties the {}.",
                              m.sensor(i).choice.nearest ? "nearest" : "farthest",
                              m.sensor(i).choice.lastOfTies ? "last" : "first");
        break;
    case RuleSource::Digital:
        body = digital(i);
        comment =
            fmt::format("Is there {} under it?", r.seeks == rules::Shade::Dark ? "dark" : "light");
        break;
    case RuleSource::Analogue:
        body = analogue(i);
        comment = "The voltage as counts of 1023.";
        break;
    case RuleSource::Key:
        body = key(i);
        comment = "The newest key: a ahead, b back, l left, r right, anything else none.";
        break;
    case RuleSource::Pick:
        body = pick(i);
        comment = fmt::format("The {} of them; of ties the {}.",
                              m.sensor(i).choice.nearest ? "nearest" : "farthest",
                              m.sensor(i).choice.lastOfTies ? "last" : "first");
        break;
    case RuleSource::Button:
        body = digital(i);
        comment = "Pressed?";
        break;
    case RuleSource::Difference:
        return;
    }
    auto f = function(Type::Nothing, lookName(i), std::move(body), comment);
    if (mayWait(m, i)) {
        f.type = Type::Truth;
        f.comment += " False while its servo moves.";
        f.body.push_back(give(truth(true)));
    }
    f.tags = {"reading:" + r.name};
    add(f);
    add(gap());
}

std::string Looks::lookName(int i)
{
    const auto &r = m.reading(i);
    return m.small("look", r.name,
                   r.source == RuleSource::Scan   ? "scan_"
                   : r.source == RuleSource::Pick ? "pick_"
                                                  : "look_");
}

Body Looks::digital(int i)
{
    const auto &r = m.reading(i);
    const auto pin = name(m.capital("pin", r.name, " pin"));
    auto high = call("level", {pin});
    const bool seenHigh = m.sensor(i).seenLevel != 0;
    Body body{set(m.variable(i), seenHigh ? high : no(high))};
    countLost(i, no(name(m.variable(i))), body);
    if (m.needsFound(i))
        body.push_back(set(m.found(i), truth(true)));
    return body;
}

Body Looks::analogue(int i)
{
    const auto &r = m.reading(i);
    const auto &s = m.sensor(i);
    const auto id = m.variable(i);
    const auto counts = call("analogue", {name(m.capital("pin", r.name, " pin"))});
    Body body;
    switch (s.scale) {
    case rules::Scale::Raw:
        body = {set(id, counts)};
        break;
    case rules::Scale::Normalised: {
        const auto dark = m.number(r.dark);
        const auto light = m.number(r.light);
        body = {let(Type::Real, "counts", counts),
                set(id,
                    op(op(name("counts"), "-", dark), "/", op(cut(Type::Real, light), "-", dark)),
                    "0 on dark, 1 on light")};
        break;
    }
    case rules::Scale::Distance:
        body = {
            set(id, call("table_at", {name(distances(i)), counts}), "by the sensor's calibration")};
        break;
    }
    if (s.scale == rules::Scale::Distance || s.medianOf > 1 || m.lostMost.count(i) != 0)
        afterHearing(i, body);
    else if (m.needsFound(i))
        body.push_back(set(m.found(i), truth(true)));
    return body;
}

std::string Looks::distances(int i)
{
    const auto &s = m.sensor(i);
    Item list;
    list.kind = Item::Kind::List;
    list.type = m.type(i);
    list.name = m.capital("table", m.reading(i).name, " by count");
    list.comment = fmt::format("{} for each count, -1 where there is none",
                               units::info(m.reading(i).unit).symbol);
    for (const auto &d : s.byCount)
        list.of.push_back(list.type == Type::Real ? real(d.value_or(-1.0))
                                                  : whole(std::llround(d.value_or(-1.0))));
    m.list(list);
    return list.name;
}

Body Looks::key(int i)
{
    const auto &r = m.reading(i);
    const auto id = m.variable(i);
    const auto command = [&](rules::Command c, const char *word) {
        return m.constant(Type::Small, std::string("key:key ") + word, static_cast<int>(c), "");
    };
    const auto is = [](char letter) { return op(name("sign"), "==", sign(letter)); };
    Body took{set(id, command(rules::Command::None, "none"))};
    took.push_back(choose({{is('a'), {set(id, command(rules::Command::Ahead, "ahead"))}},
                           {is('b'), {set(id, command(rules::Command::Back, "back"))}},
                           {is('l'), {set(id, command(rules::Command::Left, "left"))}},
                           {is('r'), {set(id, command(rules::Command::Right, "right"))}}}));
    took.push_back(set(keyTime(i), call("clock_us")));
    std::vector<Way> ways{{no(op(name("sign"), "==", name("NO_SIGN"))), std::move(took)}};
    if (!r.timeOut.empty())
        ways.push_back({op(op(call("clock_us"), "-", name(keyTime(i))), ">=", m.micro(r.timeOut)),
                        {set(id, command(rules::Command::None, "none"), "the signal is lost")}});
    Body body{let(Type::Sign, "sign", call("received")), choose(std::move(ways))};
    countLost(i, op(name(id), "==", whole(0)), body);
    if (m.needsFound(i))
        body.push_back(set(m.found(i), truth(true)));
    return body;
}

Body Looks::pick(int i)
{
    const auto &r = m.reading(i);
    const auto &s = m.sensor(i);
    const auto id = m.variable(i);
    const auto found = m.found(i);
    const char *sign =
        s.choice.nearest ? (s.choice.lastOfTies ? "<=" : "<") : (s.choice.lastOfTies ? ">=" : ">");
    const bool asks = m.needsFound(i);
    Body body;
    if (asks)
        body.push_back(set(found, truth(false)));
    for (const auto &of : r.of) {
        const int k = m.sensorOf(of);
        const auto has = m.has(k);
        auto better = op(m.value(k), sign, name(id));
        if (asks)
            better = any({no(name(found)), std::move(better)});
        auto may = &of == &r.of.front() ? has : all({has, std::move(better)});
        Body take{set(id, m.value(k))};
        if (usesWhich(i))
            take.push_back(set(m.which(i), whole(k)));
        if (asks)
            take.push_back(set(found, truth(true)));
        if (isTrue(may))
            body.insert(body.end(), take.begin(), take.end());
        else
            body.push_back(when(std::move(may), std::move(take)));
    }
    return body;
}

Item function(Type type, std::string name, Body body, std::string comment)
{
    Item f;
    f.kind = Item::Kind::Function;
    f.type = type;
    f.name = std::move(name);
    f.body = std::move(body);
    f.comment = std::move(comment);
    return f;
}

Item variableItem(Type type, std::string name, Expr first, std::string comment)
{
    Item v;
    v.kind = Item::Kind::Variable;
    v.type = type;
    v.name = std::move(name);
    v.of = {std::move(first)};
    v.comment = std::move(comment);
    return v;
}

Item gap()
{
    return {};
}

std::vector<Item> lookItems(Scope &scope)
{
    return Looks(scope).items();
}

bool mayWait(const Scope &scope, int sensor)
{
    const auto &s = scope.sensor(sensor);
    const bool echo = s.source == RuleSource::Ranger || s.source == RuleSource::Scan;
    return scope.machine.timedDoings && echo && s.servo >= 0 && s.angles.count > 0;
}

Body lookAt(Scope &scope, int sensor)
{
    const auto &r = scope.reading(sensor);
    Body body;
    if (r.source != RuleSource::Pick && r.source != RuleSource::Difference)
        body.push_back(run(
            call(scope.small("look", r.name, r.source == RuleSource::Scan ? "scan_" : "look_"))));
    for (size_t i = 0; i < scope.program.readings.size(); ++i) {
        const auto &made = scope.program.readings[i];
        if (made.source == RuleSource::Pick && scope.restsOn(static_cast<int>(i), sensor))
            body.push_back(run(call(scope.small("look", made.name, "pick_"))));
    }
    return body;
}

} // namespace badger::boardcode
