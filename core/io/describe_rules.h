// SPDX-License-Identifier: GPL-3.0-or-later
// Keys of programs in files. Documented in docs/file-format.md.
#pragma once

#include "core/io/json_archive.h"
#include "core/rules/program.h"

namespace badger::rules
{

template <class A> void describe(A &a, Swivel &s)
{
    a.required("servo", s.servo, io::aName);
    a.optional("angles_deg", s.angles_deg, io::most(60));
    a.optional("dwell", s.dwell, io::aLine);
    a.rest(s.extra);
}

template <class A> void describe(A &a, Choice &c)
{
    static const io::Words<Beyond> beyond = {
        {Beyond::None, "none"}, {Beyond::Limit, "limit"}, {Beyond::Zero, "zero"}};
    a.optional("nearest", c.nearest);
    a.optional("last_of_ties", c.lastOfTies);
    a.optionalWord("beyond", c.beyond, beyond, Beyond::Limit);
    a.rest(c.extra);
}

template <class A> void describeSource(A &a, Reading &r)
{
    static const io::Words<Shade> shades = {{Shade::Light, "light"}, {Shade::Dark, "dark"}};
    static const io::Words<Scale> scales = {
        {Scale::Raw, "raw"}, {Scale::Normalised, "normalised"}, {Scale::Distance, "distance"}};
    a.optional("every_pass", r.everyPass, true);
    a.optional("time_bits", r.timeBits, 32, io::wholeIn(16, 32));
    a.optional("swivel", r.swivel);
    a.optional("choice", r.choice);
    a.optional("of", r.of, io::most(16));
    a.optionalWord("seeks", r.seeks, shades, Shade::Dark);
    if (A::listing || r.source != Source::Button)
        a.optional("light_level", r.lightLevel, io::wholeIn(0, 1));
    if (A::listing || r.source == Source::Button)
        a.optional("pressed_level", r.lightLevel, io::wholeIn(0, 1));
    a.optionalWord("scale", r.scale, scales, Scale::Raw);
    a.optional("light", r.light, io::aLine);
    a.optional("dark", r.dark, io::aLine);
    a.optional("time_out", r.timeOut, io::aLine);
}

inline const io::Words<NoEcho> &policyWords()
{
    static const io::Words<NoEcho> policies = {
        {NoEcho::Unset, word(NoEcho::Unset)},     {NoEcho::Clear, word(NoEcho::Clear)},
        {NoEcho::Blocked, word(NoEcho::Blocked)}, {NoEcho::HoldLast, word(NoEcho::HoldLast)},
        {NoEcho::Stop, word(NoEcho::Stop)},       {NoEcho::Ignore, word(NoEcho::Ignore)}};
    return policies;
}

/// Numbers that cannot be meant, and what they count as.
template <class A> void describeBounds(A &a, Reading &r)
{
    a.optional("nearest_m", r.nearest_m, io::in(0.001, 1));
    a.optionalWord("too_near", r.tooNear, policyWords(), NoEcho::Unset);
    a.optional("farthest_m", r.farthest_m, io::in(0.05, 10));
    a.optionalWord("wild", r.wild, policyWords(), NoEcho::Unset);
}

template <class A> void describe(A &a, Reading &r)
{
    static const io::Words<units::Unit> lengths = {{units::Unit::Centimetre, "cm"},
                                                   {units::Unit::Millimetre, "mm"},
                                                   {units::Unit::Inch, "in"}};
    static const io::Words<NumberType> numbers = {{NumberType::Whole, "whole"},
                                                  {NumberType::Fraction, "fraction"}};
    static const io::Words<Source> sources = {
        {Source::Ranger, "ranger"},     {Source::Digital, "digital"},
        {Source::Analogue, "analogue"}, {Source::Scan, "scan"},
        {Source::Pick, "pick"},         {Source::Difference, "difference"},
        {Source::Button, "button"},     {Source::Key, "key"}};
    a.required("name", r.name, io::aName);
    a.optionalWord("source", r.source, sources, Source::Ranger);
    // What is made of other readings, and a person's key, has no part on the car.
    if constexpr (A::listing)
        a.optional("ranger", r.instance, io::aName);
    else if (r.source == Source::Ranger || r.source == Source::Scan)
        a.required("ranger", r.instance, io::aName);
    if (A::listing || (r.source != Source::Ranger && r.source != Source::Scan))
        a.optional("sensor", r.instance, io::aLine);
    if (A::listing || r.source != Source::Ranger) {
        a.optionalWord("unit", r.unit, lengths, units::Unit::Centimetre);
        a.optionalWord("number", r.number, numbers, NumberType::Whole);
    } else {
        a.word("unit", r.unit, lengths);
        a.word("number", r.number, numbers);
    }
    a.optional("air_degC", r.air_degC, io::in(-40, 60));
    a.optional("limit_m", r.limit_m, io::in(0.05, 10));
    a.optional("median_of", r.medianOf, 1, io::in(1, 15));
    a.optionalWord("no_echo", r.noEcho, policyWords(), NoEcho::Unset);
    describeBounds(a, r);
    describeSource(a, r);
    a.rest(r.extra);
}

template <class A> void describe(A &a, Value &v)
{
    static const io::Words<ValueKind> kinds = {
        {ValueKind::Distance, "distance"}, {ValueKind::Duration, "duration"},
        {ValueKind::Speed, "speed"},       {ValueKind::Count, "count"},
        {ValueKind::Angle, "angle"},       {ValueKind::Share, "share"},
        {ValueKind::Times, "times"},       {ValueKind::PerDegree, "per-degree"}};
    a.required("name", v.name, io::aName);
    a.optional("meaning", v.meaning, io::aLine);
    a.word("kind", v.kind, kinds);
    // The key carries the unit, so each kind has its own.
    const auto number = [&](ValueKind kind, const char *key, const io::Limits &limits) {
        if constexpr (A::listing) {
            std::optional<int> whole;
            if (kind == ValueKind::Speed || kind == ValueKind::Times)
                a.optional(key, whole, limits);
            else
                a.optional(key, v.si, limits);
        } else if (v.kind == kind) {
            a.optional(key, v.si, limits);
        }
    };
    number(ValueKind::Distance, "value_m", io::in(0, 20));
    number(ValueKind::Duration, "value_s", io::in(0, 600));
    number(ValueKind::Speed, "value_pwm", io::wholeIn(0, 255));
    number(ValueKind::Count, "value_count", io::in(0, 1023));
    number(ValueKind::Angle, "value_deg", io::in(-360, 360));
    number(ValueKind::Share, "value_share", io::in(-100, 100));
    number(ValueKind::Times, "value_times", io::wholeIn(1, 1000));
    number(ValueKind::PerDegree, "value_s_per_deg", io::in(0, 1));
    a.optional("suggested", v.suggested);
    a.rest(v.extra);
}

template <class A> void describe(A &a, Condition &c)
{
    static const io::Words<Compare> compares = {{Compare::Less, "<"},
                                                {Compare::LessOrEqual, "<="},
                                                {Compare::Greater, ">"},
                                                {Compare::GreaterOrEqual, ">="}};
    static const io::Words<Test> tests = {
        {Test::Number, "number"}, {Test::Angle, "angle"},
        {Test::Which, "which"},   {Test::Than, "than"},
        {Test::Seen, "seen"},     {Test::Unseen, "unseen"},
        {Test::Key, "key"},       {Test::Remembered, "remembered"},
        {Test::Lost, "lost"},     {Test::Since, "since"}};
    a.optionalWord("test", c.test, tests, Test::Number);
    a.optional("reading", c.reading, io::aLine);
    const bool compared = c.test == Test::Number || c.test == Test::Angle || c.test == Test::Than;
    if constexpr (A::listing)
        a.optionalWord("is", c.compare, compares, Compare::LessOrEqual);
    else if (compared)
        a.word("is", c.compare, compares);
    a.optional("value", c.value, io::aLine);
    a.optional("other", c.other, io::aLine);
    a.optional("times", c.times, io::aLine);
    a.rest(c.extra);
}

template <class A> void describe(A &a, Rule &r)
{
    a.required("name", r.name, io::aName);
    a.optional("when", r.when, io::most(16));
    a.required("go", r.go, io::aName);
    a.optional("ends_pass", r.endsPass, true);
    a.optional("any", r.any);
    a.optional("again", r.again);
    a.rest(r.extra);
}

template <class A> void describe(A &a, Wheel &w)
{
    a.required("sense", w.sense, io::in(-1, 1));
    a.optional("speed", w.speed, io::aLine);
    a.rest(w.extra);
}

template <class A> void describe(A &a, Proportion &p)
{
    static const io::Words<Follows> words = {{Follows::Nothing, "nothing"},
                                             {Follows::Steer, "steer"},
                                             {Follows::Slow, "slow"},
                                             {Follows::Scan, "scan"}};
    a.word("follows", p.follows, words);
    a.required("reading", p.reading, io::aName);
    a.optional("low", p.low, io::aLine);
    a.optional("high", p.high, io::aLine);
    a.optional("gain", p.gain, io::aLine);
    a.optional("high_turns_left", p.highTurnsLeft);
    a.rest(p.extra);
}

template <class A> void describe(A &a, Motion &m)
{
    static const io::Words<Wheels> words = {
        {Wheels::Drive, "drive"}, {Wheels::Brake, "brake"}, {Wheels::Coast, "coast"}};
    a.word("wheels", m.wheels, words);
    a.optional("left", m.left);
    a.optional("right", m.right);
    a.optional("proportion", m.proportion);
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
    static const io::Words<Length> lengths = {
        {Length::Fixed, "fixed"}, {Length::Random, "random"}, {Length::PerDegree, "per-degree"}};
    a.required("duration", w.duration, io::aName);
    a.word("kind", w.kind, waitWords());
    a.required("then", w.then, io::aName);
    a.optionalWord("length", w.length, lengths, Length::Fixed);
    a.optional("most", w.most, io::aLine);
    a.optional("angle", w.angle, io::aLine);
    a.rest(w.extra);
}

template <class A> void describe(A &a, Action &d)
{
    static const io::Words<Does> words = {{Does::Look, "look"},   {Does::Servo, "servo"},
                                          {Does::Beep, "beep"},   {Does::Print, "print"},
                                          {Does::Pause, "pause"}, {Does::Remember, "remember"},
                                          {Does::Await, "await"}};
    a.word("does", d.does, words);
    a.optional("what", d.what, io::aLine);
    a.optional("value", d.value, io::aLine);
    a.rest(d.extra);
}

template <class A> void describe(A &a, State &s)
{
    a.required("name", s.name, io::aName);
    a.required("motion", s.motion);
    a.optional("actions", s.actions, io::most(100));
    a.optional("wait", s.wait);
    a.optional("rules", s.rules, io::most(100));
    a.rest(s.extra);
}

template <class A> void describe(A &a, Memo &m)
{
    a.required("name", m.name, io::aName);
    a.optional("first", m.first, io::aLine);
    a.rest(m.extra);
}

template <class A> void describe(A &a, Origin &o)
{
    a.required("name", o.name, io::aName);
    a.optional("choices", o.choices, io::most(100));
    a.rest(o.extra);
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
    a.optional("start", p.start, io::most(100));
    a.optional("memos", p.memos, io::most(16));
    a.optional("seed", p.seed, 1, io::in(1, 65535));
    a.optionalWord("actions_kind", p.actionsKind, waitWords(), WaitKind::Blocking);
    a.optional("from", p.from);
    a.rest(p.extra);
}

} // namespace badger::rules
