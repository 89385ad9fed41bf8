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
    a.required("name", r.name);
    a.required("ranger", r.instance);
    a.word("unit", r.unit, lengths);
    a.word("number", r.number, numbers);
    a.optional("air_degC", r.air_degC);
    a.optional("limit_m", r.limit_m);
    a.optional("median_of", r.medianOf, 1);
    a.optionalWord("no_echo", r.noEcho, policies, NoEcho::Unset);
    a.rest(r.extra);
}

template <class A> void describe(A &a, Value &v)
{
    static const io::Words<ValueKind> kinds = {{ValueKind::Distance, "distance"},
                                               {ValueKind::Duration, "duration"},
                                               {ValueKind::Speed, "speed"}};
    a.required("name", v.name);
    a.optional("meaning", v.meaning);
    a.word("kind", v.kind, kinds);
    // The key carries the unit, so each kind has its own.
    a.optional(v.kind == ValueKind::Distance   ? "value_m"
               : v.kind == ValueKind::Duration ? "value_s"
                                               : "value_pwm",
               v.si);
    a.rest(v.extra);
}

template <class A> void describe(A &a, Condition &c)
{
    static const io::Words<Compare> compares = {{Compare::Less, "<"},
                                                {Compare::LessOrEqual, "<="},
                                                {Compare::Greater, ">"},
                                                {Compare::GreaterOrEqual, ">="}};
    a.required("reading", c.reading);
    a.word("is", c.compare, compares);
    a.required("value", c.value);
    a.rest(c.extra);
}

template <class A> void describe(A &a, Rule &r)
{
    a.required("name", r.name);
    a.optional("when", r.when);
    a.required("go", r.go);
    a.optional("ends_pass", r.endsPass, true);
    a.rest(r.extra);
}

template <class A> void describe(A &a, Wheel &w)
{
    a.required("sense", w.sense);
    a.optional("speed", w.speed);
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
    a.required("duration", w.duration);
    a.word("kind", w.kind, waitWords());
    a.required("then", w.then);
    a.rest(w.extra);
}

template <class A> void describe(A &a, State &s)
{
    a.required("name", s.name);
    a.required("motion", s.motion);
    a.optional("wait", s.wait);
    a.optional("rules", s.rules);
    a.rest(s.extra);
}

template <class A> void describe(A &a, Prints &p)
{
    a.required("on", p.on);
    a.required("baud", p.baud);
    a.rest(p.extra);
}

template <class A> void describe(A &a, Program &p)
{
    a.required("name", p.name);
    a.required("version", p.version);
    a.optional("written_version", p.writtenVersion);
    a.required("values", p.values);
    a.required("readings", p.readings);
    a.optional("everywhere", p.everywhere);
    a.required("states", p.states);
    a.optional("stop_state", p.stopState);
    a.optional("pass_wait", p.passWait);
    a.word("pass_wait_kind", p.passWaitKind, waitWords());
    a.optional("prints", p.prints);
    a.rest(p.extra);
}

} // namespace badger::rules
