// SPDX-License-Identifier: GPL-3.0-or-later
// Keys of programs in files. Documented in docs/file-format.md.
#pragma once

#include "core/io/json_archive.h"
#include "core/rules/program.h"

namespace badger::rules
{

template <class A> void describe(A &a, Reading &r)
{
    static const io::Words<units::Unit> lengths = {{units::Unit::Centimetre, "cm"},
                                                   {units::Unit::Millimetre, "mm"},
                                                   {units::Unit::Inch, "in"}};
    static const io::Words<NumberType> numbers = {{NumberType::Whole, "whole"},
                                                  {NumberType::Fraction, "fraction"}};
    static const io::Words<NoEcho> policies = {
        {NoEcho::Unset, word(NoEcho::Unset)},     {NoEcho::Clear, word(NoEcho::Clear)},
        {NoEcho::Blocked, word(NoEcho::Blocked)}, {NoEcho::HoldLast, word(NoEcho::HoldLast)},
        {NoEcho::Stop, word(NoEcho::Stop)},       {NoEcho::Ignore, word(NoEcho::Ignore)}};
    a.required("name", r.name, io::aName);
    a.required("ranger", r.instance, io::aName);
    a.word("unit", r.unit, lengths);
    a.word("number", r.number, numbers);
    a.optional("air_degC", r.air_degC, io::in(-40, 60));
    a.optional("limit_m", r.limit_m, io::in(0.05, 10));
    a.optional("median_of", r.medianOf, 1, io::in(1, 15));
    a.optionalWord("no_echo", r.noEcho, policies, NoEcho::Unset);
    a.rest(r.extra);
}

template <class A> void describe(A &a, Value &v)
{
    static const io::Words<ValueKind> kinds = {{ValueKind::Distance, "distance"},
                                               {ValueKind::Duration, "duration"},
                                               {ValueKind::Speed, "speed"}};
    a.required("name", v.name, io::aName);
    a.optional("meaning", v.meaning, io::aLine);
    a.word("kind", v.kind, kinds);
    // The key carries the unit, so each kind has its own.
    constexpr auto metres = io::in(0, 20);
    constexpr auto seconds = io::in(0, 600);
    constexpr auto counts = io::wholeIn(0, 255);
    if constexpr (A::listing) {
        std::optional<int> whole;
        a.optional("value_m", v.si, metres);
        a.optional("value_s", v.si, seconds);
        a.optional("value_pwm", whole, counts);
    } else if (v.kind == ValueKind::Distance) {
        a.optional("value_m", v.si, metres);
    } else if (v.kind == ValueKind::Duration) {
        a.optional("value_s", v.si, seconds);
    } else {
        a.optional("value_pwm", v.si, counts);
    }
    a.rest(v.extra);
}

template <class A> void describe(A &a, Condition &c)
{
    static const io::Words<Compare> compares = {{Compare::Less, "<"},
                                                {Compare::LessOrEqual, "<="},
                                                {Compare::Greater, ">"},
                                                {Compare::GreaterOrEqual, ">="}};
    a.required("reading", c.reading, io::aName);
    a.word("is", c.compare, compares);
    a.required("value", c.value, io::aName);
    a.rest(c.extra);
}

template <class A> void describe(A &a, Rule &r)
{
    a.required("name", r.name, io::aName);
    a.optional("when", r.when, io::most(16));
    a.required("go", r.go, io::aName);
    a.optional("ends_pass", r.endsPass, true);
    a.rest(r.extra);
}

template <class A> void describe(A &a, Wheel &w)
{
    a.required("sense", w.sense, io::in(-1, 1));
    a.optional("speed", w.speed, io::aLine);
    a.rest(w.extra);
}

template <class A> void describe(A &a, Motion &m)
{
    static const io::Words<Wheels> words = {
        {Wheels::Drive, "drive"}, {Wheels::Brake, "brake"}, {Wheels::Coast, "coast"}};
    a.word("wheels", m.wheels, words);
    a.optional("left", m.left);
    a.optional("right", m.right);
    a.rest(m.extra);
}

inline const io::Words<WaitKind> &waitWords()
{
    static const io::Words<WaitKind> words = {{WaitKind::Blocking, "blocking"},
                                              {WaitKind::Timed, "timed"}};
    return words;
}

template <class A> void describe(A &a, Wait &w)
{
    a.required("duration", w.duration, io::aName);
    a.word("kind", w.kind, waitWords());
    a.required("then", w.then, io::aName);
    a.rest(w.extra);
}

template <class A> void describe(A &a, State &s)
{
    a.required("name", s.name, io::aName);
    a.required("motion", s.motion);
    a.optional("wait", s.wait);
    a.optional("rules", s.rules, io::most(100));
    a.rest(s.extra);
}

template <class A> void describe(A &a, Prints &p)
{
    a.required("on", p.on);
    a.required("baud", p.baud, io::oneOf("1200|2400|4800|9600|19200|38400|57600|115200"));
    a.rest(p.extra);
}

template <class A> void describe(A &a, Program &p)
{
    a.required("id", p.id.text, io::aName);
    a.required("name", p.name, io::aName);
    a.required("version", p.version, io::in(1, 1000000));
    a.optional("written_version", p.writtenVersion, io::in(0, 1000000));
    a.required("values", p.values, io::most(200));
    a.required("readings", p.readings, io::most(16));
    a.optional("everywhere", p.everywhere, io::most(100));
    a.required("states", p.states, io::most(100));
    a.optional("stop_state", p.stopState, io::aLine);
    a.optional("pass_wait", p.passWait, io::aLine);
    a.word("pass_wait_kind", p.passWaitKind, waitWords());
    a.optional("prints", p.prints);
    a.rest(p.extra);
}

} // namespace badger::rules
