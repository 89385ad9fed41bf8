// SPDX-License-Identifier: GPL-3.0-or-later
// One function for each reading.
#include "core/boardcode/scope.h"

#include <algorithm>
#include <cmath>
#include <fmt/format.h>

namespace badger::boardcode
{

namespace
{

using rules::NoEcho;
using RuleSource = rules::Source;

class Looks
{
public:
    explicit Looks(Scope &scope) : m(scope) {}

    std::vector<Item> items()
    {
        variables();
        for (size_t i = 0; i < m.wires.servos.size(); ++i)
            point(std::next(m.wires.servos.begin(), static_cast<std::ptrdiff_t>(i))->first);
        for (int i = 0; i < count(); ++i)
            look(i);
        return std::move(m_items);
    }

private:
    int count() const { return static_cast<int>(m.program.readings.size()); }

    void variables()
    {
        Item heading;
        heading.kind = Item::Kind::Heading;
        heading.comment = "what the car knows";
        m_items.push_back(heading);
        for (int i = 0; i < count(); ++i)
            variablesOf(i);
        for (const auto &[servo, pin] : m.wires.servos)
            add(variableItem(m_servoType(servo), m.small("servo", servo, {}, "_at"), whole(90),
                             "degrees; 90 looks ahead"));
        if (timed())
            for (const auto &[servo, pin] : m.wires.servos) {
                add(variableItem(Type::Truth, m.small("moves", servo, {}, "_moves"), truth(false),
                                 "it may not stand yet"));
                add(variableItem(Type::Time, m.small("servoend", servo, {}, "_end"), whole(0)));
            }
        for (size_t k = 0; k < m.program.memos.size(); ++k)
            add(variableItem(Type::Small, m.memo(m.program.memos[k].name),
                             name(m.word(m.machine.memos[k])), "what is remembered"));
        if (asksStop(m))
            add(variableItem(Type::Truth, "stop_asked", truth(false),
                             "a look had no echo, and that stops the car"));
        m_items.push_back(gap());
    }

    Type m_servoType(const std::string &servo) const
    {
        for (int i = 0; i < count(); ++i)
            if (m.reading(i).swivel && m.reading(i).swivel->servo == servo && !m.anglesAreWhole(i))
                return Type::Real;
        for (const auto &v : m.program.values)
            if (v.kind == rules::ValueKind::Angle && v.si && *v.si != std::trunc(*v.si))
                return Type::Real;
        return Type::Whole;
    }

    void add(Item item) { m_items.push_back(std::move(item)); }

    std::string unit(int i) const
    {
        const auto &r = m.reading(i);
        if (const auto *length = machine::lengthOf(m.program, r))
            return units::info(length->unit).symbol;
        return r.source == RuleSource::Analogue && r.scale == rules::Scale::Raw ? "counts" : "";
    }

    void variablesOf(int i)
    {
        const auto &r = m.reading(i);
        const auto &s = m.sensor(i);
        const bool echo = r.source == RuleSource::Ranger || r.source == RuleSource::Scan;
        if (r.source != RuleSource::Difference)
            add(variableItem(m.type(i), m.variable(i),
                             echo || hears(i)           ? m.none(i)
                             : m.type(i) == Type::Truth ? truth(false)
                             : m.type(i) == Type::Real  ? real(0.0)
                                                        : whole(0),
                             unit(i)));
        if (m.needsFound(i))
            add(variableItem(Type::Truth, m.found(i), truth(false), "there is such a reading"));
        if (r.source == RuleSource::Scan)
            add(variableItem(m.anglesAreWhole(i) ? Type::Whole : Type::Real, m.angle(i), whole(90),
                             "degrees, of the servo"));
        if (r.source == RuleSource::Scan && mayWait(m, i))
            add(variableItem(Type::Small, next(i), whole(0), "the look that is taken next"));
        if (r.source == RuleSource::Scan && mayWait(m, i) && m.lostMost.count(i) != 0)
            add(variableItem(Type::Truth, heardName(i), truth(false)));
        if (r.source == RuleSource::Ranger && s.angles.count > 1)
            add(variableItem(Type::Small, next(i), whole(0), "the angle that is looked at next"));
        if (usesWhich(i))
            add(variableItem(Type::Small, m.which(i), whole(0), "which of them it is"));
        if (m.lostMost.count(i) != 0)
            add(variableItem(Type::Whole, m.lost(i), whole(0),
                             "looks in succession that heard nothing"));
        if (s.policy == NoEcho::HoldLast && hears(i))
            add(variableItem(m.type(i), last(i), m.none(i), "the last one that was heard"));
        if (r.source == RuleSource::Key)
            add(variableItem(Type::Time, keyTime(i), whole(0), "when the last key came"));
        if (printsRaw(i))
            add(variableItem(m.type(i), m.small("raw", r.name, "raw_"), name("NO_ECHO"),
                             "as it was heard"));
        if (r.medianOf > 1) {
            Item recent = variableItem(m.type(i), this->recent(i), name("NO_ECHO"),
                                       "the newest, newest last");
            recent.of.resize(static_cast<size_t>(r.medianOf), name("NO_ECHO"));
            add(recent);
            add(variableItem(Type::Small, kept(i), whole(0), "how many of them there are yet"));
        }
    }

    /// Can its look come back without a number?
    bool hears(int i) const
    {
        const auto &s = m.sensor(i);
        return s.source == RuleSource::Ranger ||
               (s.source == RuleSource::Analogue && s.scale == rules::Scale::Distance);
    }

    std::string next(int i) { return m.small("next", m.reading(i).name, {}, "_next"); }
    std::string last(int i) { return m.small("last", m.reading(i).name, "last_"); }
    std::string recent(int i) { return m.small("recent", m.reading(i).name, {}, "_recent"); }
    std::string kept(int i) { return m.small("kept", m.reading(i).name, {}, "_kept"); }
    std::string keyTime(int i) { return m.small("keytime", m.reading(i).name, {}, "_us"); }
    bool printsRaw(int i) const
    {
        return m.program.prints.on && m.reading(i).source == RuleSource::Ranger;
    }
    bool usesWhich(int i) const
    {
        const auto in = [&](const std::vector<rules::Rule> &all) {
            for (const auto &rule : all)
                for (const auto &c : rule.when)
                    if (c.test == rules::Test::Which && c.reading == m.reading(i).name)
                        return true;
            return false;
        };
        return in(m.program.everywhere) ||
               std::any_of(m.program.states.begin(), m.program.states.end(),
                           [&](const rules::State &s) { return in(s.rules); });
    }

    bool timed() const { return m.machine.timedDoings; }

    /// Turns a servo, and waits until it stands; in a text that never blocks it says whether it
    /// does.
    void point(const std::string &servo)
    {
        const auto at = m.small("servo", servo, {}, "_at");
        const auto sends = run(call("set_servo", {name(m.capital("servopin", servo)),
                                                  call("servo_pulse", {name("angle")})}));
        auto f = function(Type::Nothing, m.small("point", servo, "point_"),
                          {when(op(name("angle"), "==", name(at)), {done()}),
                           set(at, name("angle")), sends, run(call("wait_us", {name("dwell")}))},
                          "Turns it there and waits until it stands.");
        f.arguments = {{m_servoType(servo), "angle"}, {Type::Time, "dwell"}};
        if (timed()) {
            const auto moves = m.small("moves", servo, {}, "_moves");
            const auto end = m.small("servoend", servo, {}, "_end");
            f.name = m.small("stands", servo, {}, "_stands");
            f.type = Type::Truth;
            f.comment = "Turns it there: does it stand there yet?";
            f.body = {
                when(op(name("angle"), "!=", name(at)),
                     {set(at, name("angle")), sends,
                      set(end, op(call("clock_us"), "+", name("dwell"))), set(moves, truth(true))}),
                when(all({name(moves), call("reached", {name(end)})}), {set(moves, truth(false))}),
                give(no(name(moves)))};
        }
        add(f);
        add(gap());
    }

    /// Turns a reading's servo to an angle before a ping.
    Stmt pointed(int i, Expr angle)
    {
        const auto &servo = m.reading(i).swivel->servo;
        if (!timed())
            return run(call(m.small("point", servo, "point_"), {std::move(angle), dwell(i)}));
        return when(no(call(m.small("stands", servo, {}, "_stands"), {std::move(angle), dwell(i)})),
                    {give(truth(false))});
    }

    /// A name of a reading's own, or the bare one where all that ping have the same number.
    template <class Number>
    std::string shared(int i, const std::string &kind, const std::string &what, Number number)
    {
        bool same = true;
        for (int k = 0; k < count(); ++k) {
            const auto source = m.reading(k).source;
            if (source == RuleSource::Ranger || source == RuleSource::Scan)
                same &= number(k) == number(i);
        }
        return kind + ":" + (same ? what : m.reading(i).name + " " + what);
    }

    Expr dwell(int i)
    {
        const auto &r = m.reading(i);
        return r.swivel ? m.micro(r.swivel->dwell) : whole(0);
    }

    std::string angles(int i)
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
    Body ping(int i, const std::string &into)
    {
        const auto &r = m.reading(i);
        const auto &s = m.sensor(i);
        const double farthest_m = s.timeOut_us * s.unitsPer_us * units::info(r.unit).inSi;
        const auto timeOut =
            m.constant(Type::Time,
                       shared(i, "timeout", "time out us",
                              [&](int k) { return double(m.sensor(k).timeOut_us); }),
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

    void look(int i)
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
            comment = fmt::format("Is there {} under it?",
                                  r.seeks == rules::Shade::Dark ? "dark" : "light");
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
        case RuleSource::Difference:
        case RuleSource::Button:
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

    std::string lookName(int i)
    {
        const auto &r = m.reading(i);
        return m.small("look", r.name,
                       r.source == RuleSource::Scan   ? "scan_"
                       : r.source == RuleSource::Pick ? "pick_"
                                                      : "look_");
    }

    void countLost(int i, Expr heardNothing, Body &body)
    {
        const auto it = m.lostMost.find(i);
        if (it == m.lostMost.end())
            return;
        const auto id = m.lost(i);
        body.push_back(choose({{all({heardNothing, op(name(id), "<", whole(it->second))}),
                                {set(id, op(name(id), "+", whole(1)))}},
                               {no(heardNothing), {set(id, whole(0))}}}));
    }

    Expr limit(int i)
    {
        const auto &r = m.reading(i);
        const auto &s = m.sensor(i);
        return m.constant(s.whole ? m.type(i) : Type::Real,
                          r.source == RuleSource::Analogue
                              ? "limit:" + r.name + " limit"
                              : shared(i, "limit",
                                       std::string("limit ") + units::info(r.unit).symbol,
                                       [&](int k) { return m.sensor(k).limit; }),
                          s.limit, "farther counts as no echo");
    }

    Body ranger(int i)
    {
        const auto &r = m.reading(i);
        const auto &s = m.sensor(i);
        const auto id = m.variable(i);
        Body body;
        if (r.swivel && s.angles.count > 0) {
            if (s.angles.count == 1) {
                const double a = m.machine.angles_deg[static_cast<size_t>(s.angles.first)];
                body.push_back(pointed(i, m.constant(m.anglesAreWhole(i) ? Type::Whole : Type::Real,
                                                     "angle:" + r.name + " angle", a,
                                                     "degrees, of the servo")));
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
        afterHearing(i, body);
        return body;
    }

    /// Median, what is lost, and what a missing echo counts as.
    void afterHearing(int i, Body &body)
    {
        const auto &r = m.reading(i);
        const auto &s = m.sensor(i);
        const auto id = m.variable(i);
        if (r.medianOf > 1)
            median(i, body);
        const bool counts = r.source == RuleSource::Analogue && s.scale != rules::Scale::Distance;
        const auto none = counts ? truth(false) : op(name(id), "==", m.none(i));
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
    void median(int i, Body &body)
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
        Item space = variableItem(m.type(i), sorted, name("NO_ECHO"), "the same, nearest first");
        space.of.resize(static_cast<size_t>(r.medianOf), name("NO_ECHO"));
        add(space);
        body.push_back(when(op(n, "==", whole(r.medianOf)),
                            {countUp("i", whole(1), n,
                                     {setAt(list, op(name("i"), "-", whole(1)), entry(name("i")))}),
                             set(kept(i), op(n, "-", whole(1)))}));
        body.push_back(setAt(list, n, name(id)));
        body.push_back(set(kept(i), op(n, "+", whole(1))));
        const auto before = at(sorted, op(name("k"), "-", whole(1)));
        const auto there = hears(i) ? op(entry(name("i")), "!=", m.none(i)) : truth(true);
        const auto nothingBefore = hears(i) ? op(before, "==", m.none(i)) : truth(false);
        body.push_back(countUp(
            "i", whole(0), n,
            {var(Type::Small, "k", name("i")),
             loop(all({op(name("k"), ">", whole(0)), there,
                       any({nothingBefore, op(before, ">", entry(name("i")))})}),
                  {setAt(sorted, name("k"), before), set("k", op(name("k"), "-", whole(1)))}),
             setAt(sorted, name("k"), entry(name("i")))}));
        body.push_back(set(id,
                           at(sorted, cut(Type::Small, op(op(n, "-", whole(1)), "/", whole(2)))),
                           "the middle one"));
    }

    Body scan(int i)
    {
        const auto &s = m.sensor(i);
        const auto id = m.variable(i);
        const auto list = angles(i);
        const std::string index = timed() ? next(i) : "i";
        auto inner = Body{pointed(i, at(list, name(index)))};
        auto pinged = ping(i, "newest");
        inner.insert(inner.end(), pinged.begin(), pinged.end());
        const auto newest = name("newest");
        const auto none = op(newest, "==", name("NO_ECHO"));
        const bool counts = s.policy == NoEcho::Clear || s.policy == NoEcho::Blocked;
        const bool heard = m.lostMost.count(i) != 0;
        if (heard)
            inner.push_back(when(no(none), {set(heardName(i), truth(true))}));
        const auto beyond = op(newest, ">", limit(i));
        const auto as = [&](rules::Beyond what) { return s.choice.beyond == what; };
        std::vector<Expr> leftOut;
        if (!counts)
            leftOut.push_back(none);
        if (!counts && as(rules::Beyond::None))
            leftOut.push_back(beyond);
        const auto nothing = s.policy == NoEcho::Clear ? limit(i) : name("NO_ECHO");
        Body values;
        std::vector<Way> ways;
        if (s.policy == NoEcho::Clear)
            ways.push_back({none, {set("newest", nothing, "clear")}});
        if (as(rules::Beyond::Limit))
            ways.push_back({beyond, {set("newest", limit(i))}});
        else if (as(rules::Beyond::Zero))
            ways.push_back({beyond, {set("newest", whole(0), "beyond the limit")}});
        else if (counts)
            ways.push_back({beyond, {set("newest", nothing)}});
        if (!ways.empty())
            values.push_back(choose(std::move(ways)));
        auto better = op(newest,
                         s.choice.nearest ? (s.choice.lastOfTies ? "<=" : "<")
                                          : (s.choice.lastOfTies ? ">=" : ">"),
                         name(id));
        values.push_back(when(any({no(name(m.found(i))), better}),
                              {set(id, newest), set(m.angle(i), at(list, name(index))),
                               set(m.found(i), truth(true))}));
        if (leftOut.empty())
            inner.insert(inner.end(), values.begin(), values.end());
        else
            inner.push_back(when(no(any(leftOut)), std::move(values)));
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

    std::string heardName(int i) { return m.small("heard", m.reading(i).name, {}, "_heard"); }

    Body digital(int i)
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

    Body analogue(int i)
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
            body = {
                let(Type::Real, "counts", counts),
                set(id,
                    op(op(name("counts"), "-", dark), "/", op(cut(Type::Real, light), "-", dark)),
                    "0 on dark, 1 on light")};
            break;
        }
        case rules::Scale::Distance:
            body = {set(id, call("table_at", {name(distances(i)), counts}),
                        "by the sensor's calibration")};
            break;
        }
        if (s.scale == rules::Scale::Distance || s.medianOf > 1 || m.lostMost.count(i) != 0)
            afterHearing(i, body);
        else if (m.needsFound(i))
            body.push_back(set(m.found(i), truth(true)));
        return body;
    }

    std::string distances(int i)
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

    Body key(int i)
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
            ways.push_back(
                {op(op(call("clock_us"), "-", name(keyTime(i))), ">=", m.micro(r.timeOut)),
                 {set(id, command(rules::Command::None, "none"), "the signal is lost")}});
        Body body{let(Type::Sign, "sign", call("received")), choose(std::move(ways))};
        countLost(i, op(name(id), "==", whole(0)), body);
        if (m.needsFound(i))
            body.push_back(set(m.found(i), truth(true)));
        return body;
    }

    Body pick(int i)
    {
        const auto &r = m.reading(i);
        const auto &s = m.sensor(i);
        const auto id = m.variable(i);
        const auto found = m.found(i);
        const char *sign = s.choice.nearest ? (s.choice.lastOfTies ? "<=" : "<")
                                            : (s.choice.lastOfTies ? ">=" : ">");
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

    Scope &m;
    std::vector<Item> m_items;
};

} // namespace

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
