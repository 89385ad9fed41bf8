// SPDX-License-Identifier: GPL-3.0-or-later
// The looks of rangers: one angle, several in turn, or a scan.
#include "core/boardcode/look_writer.h"

#include <algorithm>
#include <cmath>
#include <fmt/format.h>

namespace badger::boardcode
{

using rules::NoEcho;

/// Turns a servo, and waits until it stands; in a text that never blocks it says whether it
/// does.
void Looks::point(const std::string &servo)
{
    const auto at = m.small("servo", servo, {}, "_at");
    const auto sends = run(call(
        "set_servo", {name(m.capital("servopin", servo)), call("servo_pulse", {name("angle")})}));
    auto f = function(Type::Nothing, m.small("point", servo, "point_"),
                      {when(op(name("angle"), "==", name(at)), {done()}), set(at, name("angle")),
                       sends, run(call("wait_us", {name("dwell")}))},
                      "Turns it there and waits until it stands.");
    f.arguments = {{servoType(servo), "angle"}, {Type::Time, "dwell"}};
    if (timed()) {
        const auto moves = m.small("moves", servo, {}, "_moves");
        const auto end = m.small("servoend", servo, {}, "_end");
        f.name = m.small("stands", servo, {}, "_stands");
        f.type = Type::Truth;
        f.comment = "Turns it there: does it stand there yet?";
        f.body = {
            when(op(name("angle"), "!=", name(at)),
                 {set(at, name("angle")), sends, set(end, op(call("clock_us"), "+", name("dwell"))),
                  set(moves, truth(true))}),
            when(all({name(moves), call("reached", {name(end)})}), {set(moves, truth(false))}),
            give(no(name(moves)))};
    }
    add(f);
    add(gap());
}

/// Turns a reading's servo to an angle before a ping.
Stmt Looks::pointed(int i, Expr angle)
{
    const auto &servo = m.reading(i).swivel->servo;
    if (!timed())
        return run(call(m.small("point", servo, "point_"), {std::move(angle), dwell(i)}));
    return when(no(call(m.small("stands", servo, {}, "_stands"), {std::move(angle), dwell(i)})),
                {give(truth(false))});
}

Expr Looks::dwell(int i)
{
    const auto &r = m.reading(i);
    return r.swivel ? m.micro(r.swivel->dwell) : whole(0);
}

std::string Looks::angles(int i)
{
    const auto &r = m.reading(i);
    const auto id = m.capital("angles", r.name, " angles");
    if (std::none_of(m.lists.begin(), m.lists.end(),
                     [&](const Item &item) { return item.name == id; })) {
        Item list;
        list.kind = Item::Kind::List;
        list.type = m.anglesAreWhole(i) ? Type::Whole : Type::Real;
        list.name = id;
        list.comment = "degrees; small numbers look to the right";
        for (const double a : r.swivel->angles_deg)
            list.of.push_back(m.anglesAreWhole(i) ? whole(std::llround(a)) : real(a));
        m.list(list);
    }
    return id;
}

/// "const uint32_t echo = echo_us(...)", then the number it becomes.
Body Looks::ping(int i, const std::string &into)
{
    const auto &r = m.reading(i);
    const auto &s = m.sensor(i);
    const double farthest_m = s.timeOut_us * s.unitsPer_us * units::info(r.unit).inSi;
    const auto timeOut = m.constant(
        Type::Time,
        shared(i, "timeout", "time out us", [&](int k) { return double(m.sensor(k).timeOut_us); }),
        s.timeOut_us,
        fmt::format("no echo beyond {}",
                    units::formatShort(farthest_m, units::Unit::Centimetre, 0)));
    const auto factor =
        m.constant(Type::Real,
                   shared(i, "factor", std::string(units::info(r.unit).symbol) + " per us",
                          [&](int k) { return m.sensor(k).unitsPer_us; }),
                   s.unitsPer_us,
                   fmt::format("half the way of sound at {}",
                               units::formatShort(*r.air_degC, units::Unit::Celsius, 1)));
    auto echo = call("echo_us", {name(m.capital("trig", r.instance, " trig")),
                                 name(m.capital("echo", r.instance, " echo")), timeOut});
    const auto type = s.shortTime ? Type::Whole : Type::Time;
    if (s.shortTime)
        echo = cut(Type::Whole, std::move(echo));
    const auto number = op(name("echo"), "*", factor);
    return {let(type, "echo", std::move(echo)),
            var(m.type(i), into, m.type(i) == Type::Real ? number : cut(m.type(i), number))};
}

/// Nothing came back: the number is nought, or, where that is a distance, the echo is.
Expr Looks::isNothing(int i, const std::string &number)
{
    if (!m.isBounded(i))
        return op(name(number), "==", m.none(i));
    return op(name(m.sensor(i).nearest ? "echo" : number), "==", whole(0));
}

Expr Looks::isTooNear(int i, const std::string &number)
{
    const auto &s = m.sensor(i);
    return s.nearest ? op(name(number), "<", bound(i, *s.nearest, "nearest")) : truth(false);
}

Expr Looks::isWild(int i, const std::string &number)
{
    const auto &s = m.sensor(i);
    return s.farthest ? op(name(number), ">", bound(i, *s.farthest, "farthest")) : truth(false);
}

Expr Looks::bound(int i, double number, const char *word)
{
    const auto &r = m.reading(i);
    const bool isWhole = number == std::trunc(number);
    return m.constant(
        isWhole ? m.type(i) : Type::Real,
        fmt::format("{}:{} {} {}", word, r.name, word, units::info(r.unit).symbol), number,
        std::string(word) == "nearest" ? "nearer cannot be measured" : "farther cannot be meant",
        {"policy:" + r.name});
}

Body Looks::counting(int i, rules::NoEcho policy, const std::string &number, const char *what)
{
    const auto stops = m.stops(i);
    const bool flagged = !isTrue(stops) && !isFalse(stops);
    switch (policy) {
    case NoEcho::Clear:
        return {set(number, limit(i), fmt::format("{}: clear", what))};
    case NoEcho::Blocked:
        return {set(number, whole(0), fmt::format("{}: blocked", what))};
    case NoEcho::HoldLast:
        return {set(number, name(last(i)), fmt::format("{}: hold the last", what))};
    case NoEcho::Stop:
    case NoEcho::Ignore:
    case NoEcho::Unset:
        break;
    }
    Body body{set(number, m.none(i), what)};
    if (flagged && policy == NoEcho::Stop)
        body.push_back(set(m.stopsName(i), truth(true)));
    return body;
}

/// Of a reading with bounds: no echo, too near and wild, each as its policy says.
void Looks::policies(int i, const Expr &nothing, Body &body)
{
    const auto &s = m.sensor(i);
    const auto id = m.variable(i);
    if (const auto stops = m.stops(i); !isTrue(stops) && !isFalse(stops))
        body.push_back(set(m.stopsName(i), truth(false)));
    std::vector<Way> ways;
    ways.push_back({nothing, counting(i, s.policy, id, "no echo")});
    if (s.nearest)
        ways.push_back({isTooNear(i, id), counting(i, s.tooNear, id, "too near")});
    if (s.farthest)
        ways.push_back({isWild(i, id), counting(i, s.wild, id, "wild")});
    if (holdsLast(i))
        ways.push_back({std::nullopt, {set(last(i), name(id))}});
    body.push_back(tagged({"policy:" + m.reading(i).name}, choose(std::move(ways))));
}

void Looks::countLost(int i, Expr heardNothing, Body &body)
{
    const auto it = m.lostMost.find(i);
    if (it == m.lostMost.end())
        return;
    const auto id = m.lost(i);
    body.push_back(choose({{all({heardNothing, op(name(id), "<", whole(it->second))}),
                            {set(id, op(name(id), "+", whole(1)))}},
                           {no(heardNothing), {set(id, whole(0))}}}));
}

Expr Looks::limit(int i)
{
    const auto &r = m.reading(i);
    const auto &s = m.sensor(i);
    return m.constant(s.whole ? m.type(i) : Type::Real,
                      r.source == RuleSource::Analogue
                          ? "limit:" + r.name + " limit"
                          : shared(i, "limit", std::string("limit ") + units::info(r.unit).symbol,
                                   [&](int k) { return m.sensor(k).limit; }),
                      s.limit, "farther counts as no echo");
}

Body Looks::ranger(int i)
{
    const auto &r = m.reading(i);
    const auto &s = m.sensor(i);
    const auto id = m.variable(i);
    Body body;
    if (r.swivel && s.angles.count > 0) {
        if (s.angles.count == 1) {
            const double a = m.machine.angles_deg[static_cast<size_t>(s.angles.first)];
            body.push_back(
                pointed(i, m.constant(m.anglesAreWhole(i) ? Type::Whole : Type::Real,
                                      "angle:" + r.name + " angle", a, "degrees, of the servo")));
        } else {
            body.push_back(pointed(i, at(angles(i), name(next(i)))));
            body.push_back(
                set(next(i), op(op(name(next(i)), "+", whole(1)), "%", whole(s.angles.count))));
        }
    }
    auto pinged = ping(i, id);
    pinged.back() = set(id, pinged.back().of.front());
    body.insert(body.end(), pinged.begin(), pinged.end());
    if (printsRaw(i))
        body.push_back(set(m.small("raw", r.name, "raw_"), name(id)));
    if (m.isBounded(i) && r.medianOf > 1) // among the newest few it has to be told apart
        body.push_back(when(isNothing(i, id), {set(id, m.none(i))}));
    afterHearing(i, body);
    return body;
}

/// Median, what is lost, and what a missing echo counts as.
void Looks::afterHearing(int i, Body &body)
{
    const auto &r = m.reading(i);
    const auto &s = m.sensor(i);
    const auto id = m.variable(i);
    if (r.medianOf > 1)
        median(i, body);
    const bool counts = r.source == RuleSource::Analogue && s.scale != rules::Scale::Distance;
    const auto none = counts ? truth(false) : op(name(id), "==", m.none(i));
    if (m.isBounded(i)) {
        const auto nothing = r.medianOf > 1 ? none : isNothing(i, id);
        countLost(i, any({nothing, isWild(i, id)}), body);
        policies(i, nothing, body);
        if (m.needsFound(i))
            body.push_back(set(m.found(i), truth(true)));
        return;
    }
    countLost(i, none, body);
    const std::vector<std::string> tags{"policy:" + r.name};
    if (s.policy == NoEcho::Blocked && r.source == RuleSource::Analogue && !counts)
        body.push_back(tagged(tags, when(none, {set(id, whole(0), "blocked")})));
    if (s.policy == NoEcho::Clear && !counts) {
        const auto farthest = limit(i);
        body.push_back(tagged(tags, when(none, {set(id, farthest, "clear")})));
    }
    if (s.policy == NoEcho::HoldLast && !counts) {
        body.push_back(tagged(tags, when(none, {set(id, name(last(i)), "hold the last")})));
        body.push_back(tagged(tags, set(last(i), name(id))));
    }
    if (m.needsFound(i))
        body.push_back(set(m.found(i), truth(true)));
}

/// Of the newest few; no echo counts as the farthest. Sorted by putting each in its place.
void Looks::median(int i, Body &body)
{
    const auto &r = m.reading(i);
    const auto id = m.variable(i);
    const auto list = recent(i);
    const auto n = name(kept(i));
    const auto entry = [&](Expr index) { return at(list, std::move(index)); };
    const auto setAt = [&](const std::string &of, Expr index, Expr value) {
        Stmt s = set({}, std::move(value));
        s.of[0] = at(of, std::move(index));
        return s;
    };
    const auto sorted = m.small("sorted", r.name, {}, "_sorted");
    Item space = variableItem(m.type(i), sorted, m.none(i), "the same, nearest first");
    space.of.resize(static_cast<size_t>(r.medianOf), m.none(i));
    add(space);
    body.push_back(when(
        op(n, "==", whole(r.medianOf)),
        {countUp("i", whole(1), n, {setAt(list, op(name("i"), "-", whole(1)), entry(name("i")))}),
         set(kept(i), op(n, "-", whole(1)))}));
    body.push_back(setAt(list, n, name(id)));
    body.push_back(set(kept(i), op(n, "+", whole(1))));
    const auto before = at(sorted, op(name("k"), "-", whole(1)));
    const auto there = hears(i) ? op(entry(name("i")), "!=", m.none(i)) : truth(true);
    const auto nothingBefore = hears(i) ? op(before, "==", m.none(i)) : truth(false);
    body.push_back(
        countUp("i", whole(0), n,
                {var(Type::Small, "k", name("i")),
                 loop(all({op(name("k"), ">", whole(0)), there,
                           any({nothingBefore, op(before, ">", entry(name("i")))})}),
                      {setAt(sorted, name("k"), before), set("k", op(name("k"), "-", whole(1)))}),
                 setAt(sorted, name("k"), entry(name("i")))}));
    body.push_back(set(id, at(sorted, cut(Type::Small, op(op(n, "-", whole(1)), "/", whole(2)))),
                       "the middle one"));
}

/// What the newest look of a scan counts as, and whether it is the best yet. Each kind of look in
/// the order in which it is told apart: with a number, or left out.
Body Looks::counted(int i, const std::string &list, const std::string &index)
{
    const auto &s = m.sensor(i);
    const auto newest = name("newest");
    const auto beyond = op(newest, ">", limit(i));
    std::vector<Expr> leftOut;
    Body values;
    std::vector<Way> ways;
    static constexpr char noEcho[] = "no echo";
    const auto kind = [&](Expr is, NoEcho policy, const char *what) {
        const bool isNought = !m.isBounded(i) && policy == NoEcho::Blocked;
        if (isFalse(is) || (isNought && what == noEcho))
            return; // what was not heard is nought already
        if (policy == NoEcho::Clear || policy == NoEcho::Blocked)
            ways.push_back({std::move(is), counting(i, policy, "newest", what)});
        else
            leftOut.push_back(std::move(is));
    };
    kind(isNothing(i, "newest"), s.policy, noEcho);
    kind(isTooNear(i, "newest"), s.tooNear, "too near");
    kind(isWild(i, "newest"), s.wild, "wild");
    if (s.choice.beyond == rules::Beyond::Limit)
        ways.push_back({beyond, {set("newest", limit(i))}});
    else if (s.choice.beyond == rules::Beyond::Zero)
        ways.push_back({beyond, {set("newest", whole(0), "beyond the limit")}});
    else if (!s.farthest)
        kind(beyond, s.policy, "beyond the limit");
    if (!ways.empty())
        values.push_back(choose(std::move(ways)));
    auto better = op(newest,
                     s.choice.nearest ? (s.choice.lastOfTies ? "<=" : "<")
                                      : (s.choice.lastOfTies ? ">=" : ">"),
                     name(m.variable(i)));
    values.push_back(when(any({no(name(m.found(i))), better}),
                          {set(m.variable(i), newest), set(m.angle(i), at(list, name(index))),
                           set(m.found(i), truth(true))}));

    return leftOut.empty() ? values : Body{when(no(any(leftOut)), std::move(values))};
}

Body Looks::scan(int i)
{
    const auto &s = m.sensor(i);
    const auto list = angles(i);
    const std::string index = timed() ? next(i) : "i";
    auto inner = Body{pointed(i, at(list, name(index)))};
    auto pinged = ping(i, "newest");
    inner.insert(inner.end(), pinged.begin(), pinged.end());
    const auto newest = name("newest");
    const auto none = isNothing(i, "newest");
    const auto wild = isWild(i, "newest");
    const bool heard = m.lostMost.count(i) != 0;
    if (heard)
        inner.push_back(when(no(any({none, wild})), {set(heardName(i), truth(true))}));
    const auto values = counted(i, list, index);
    inner.insert(inner.end(), values.begin(), values.end());
    Body body{set(m.found(i), truth(false)), set(m.angle(i), whole(90))};
    if (timed()) {
        if (heard)
            body.push_back(set(heardName(i), truth(false)));
        inner.push_back(set(index, op(name(index), "+", whole(1))));
        body = {when(op(name(index), "==", whole(0)), std::move(body)),
                loop(op(name(index), "<", whole(s.angles.count)), std::move(inner)),
                set(index, whole(0))};
    } else {
        if (heard)
            body.push_back(var(Type::Truth, heardName(i), truth(false)));
        body.push_back(countUp("i", whole(0), whole(s.angles.count), std::move(inner)));
    }
    if (heard)
        countLost(i, no(name(heardName(i))), body);
    return body;
}

} // namespace badger::boardcode
