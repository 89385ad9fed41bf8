// SPDX-License-Identifier: GPL-3.0-or-later
// The numbers and names of a program's sentences, as they are typed.
#include "core/sentences/places.h"
#include "core/sentences/sentences.h"
#include "core/units/quantity.h"

#include <charconv>
#include <cmath>

namespace badger::sentences
{

namespace
{

using rules::ValueKind;
using units::Dimension;

/// A number without a unit; a comma is a decimal point, a sign or word for degrees may follow.
Result<double> bareNumber(std::string text, bool degrees, const Say &where)
{
    for (auto &ch : text)
        ch = ch == ',' ? '.' : ch;
    while (degrees && !text.empty() &&
           (static_cast<unsigned char>(text.back()) > 126 ||
            std::isalpha(static_cast<unsigned char>(text.back())) || text.back() == ' '))
        text.pop_back();
    double number = 0.0;
    const auto *end = text.data() + text.size();
    const auto read = std::from_chars(text.data(), end, number);
    if (text.empty() || read.ec != std::errc() || read.ptr != end || !std::isfinite(number))
        return fail(Error::Kind::Malformed, where, say("'{}' is no number", text),
                    say("write a bare number"));
    return number;
}

Result<void> typeValue(rules::Program &program, const std::string &name, const std::string &typed)
{
    const auto where = say("value '{}'", name);
    auto *v = find(program.values, name);
    if (v == nullptr)
        return fail(Error::Kind::Missing, where, say("there is no such value"));
    const bool length = v->kind == ValueKind::Distance;
    const bool time = v->kind == ValueKind::Duration || v->kind == ValueKind::PerDegree;
    const auto taken = length || time ? units::parse(typed.substr(0, typed.find("/deg")),
                                                     length ? Dimension::Length : Dimension::Time,
                                                     "value '" + name + "'")
                                      : bareNumber(typed, v->kind == ValueKind::Angle, where);
    if (!taken)
        return tl::unexpected(taken.error());
    v->si = *taken;
    v->suggested = false;
    return {};
}

/// "30, 150": each an angle of the servo, 0 to 180 degrees.
Result<std::vector<double>> anglesOf(const std::string &typed, const Say &where)
{
    std::vector<double> all;
    for (std::size_t at = 0; at < typed.size();) {
        auto end = typed.find_first_of(", ;", at);
        end = end == std::string::npos ? typed.size() : end;
        if (end > at) {
            const auto one = bareNumber(typed.substr(at, end - at), true, where);
            if (!one)
                return tl::unexpected(one.error());
            if (*one < 0.0 || *one > 180.0)
                return fail(Error::Kind::OutOfRange, where,
                            say("{}° is outside 0° to 180°", units::number(*one, 1)),
                            say("90 is ahead, small numbers are to the right"));
            all.push_back(*one);
        }
        at = end + 1;
    }
    if (all.empty())
        return fail(Error::Kind::Malformed, where, say("there is no angle"),
                    say("write them with commas between, '30, 90, 150'"));
    return all;
}

Result<void> typeField(rules::Program &program, const Place &p, const std::string &typed)
{
    const auto where = say("reading '{}'", p.name);
    auto *r = find(program.readings, p.name);
    if (r == nullptr)
        return fail(Error::Kind::Missing, where, say("there is no such reading"));
    if (p.what == "angles") {
        if (!r->swivel)
            return fail(Error::Kind::Missing, where, say("no servo turns it"));
        auto all = anglesOf(typed, where);
        if (!all)
            return tl::unexpected(all.error());
        r->swivel->angles_deg = std::move(*all);
        return {};
    }
    const bool air = p.what == "air";
    const auto taken = units::parse(typed, air ? Dimension::Temperature : Dimension::Length,
                                    "reading '" + p.name + "'");
    if (!taken)
        return tl::unexpected(taken.error());
    (air                    ? r->air_degC
     : p.what == "nearest"  ? r->nearest_m
     : p.what == "farthest" ? r->farthest_m
                            : r->limit_m) = *taken;
    return {};
}

Result<void> rename(rules::Program &program, const std::string &was, const std::string &name)
{
    const auto where = say("state '{}'", was);
    if (name.empty())
        return fail(Error::Kind::Malformed, where, say("the name is empty"), say("type a name"));
    if (name != was && program.state(name) != nullptr)
        return fail(Error::Kind::Conflict, where, say("another state is called '{}'", name),
                    say("take another name"));
    const auto follow = [&](std::string &to) { to = to == was ? name : to; };
    follow(program.stopState);
    for (auto &rule : program.everywhere)
        follow(rule.go);
    for (auto &s : program.states) {
        follow(s.name);
        for (auto &rule : s.rules)
            follow(rule.go);
        if (s.wait)
            follow(s.wait->then);
    }
    return {};
}

} // namespace

Result<void> typeOver(rules::Program &program, const std::string &target, const std::string &typed)
{
    const auto p = placeOf(target);
    if (!p)
        return fail(Error::Kind::Missing, target, say("there is no such place"));
    if (p->what == "value")
        return typeValue(program, p->name, typed);
    if (p->what == "name")
        return rename(program, p->name, typed);
    if (!p->name.empty())
        return typeField(program, *p, typed);
    auto copy = program; // of all echoes at once
    for (const auto &r : program.readings)
        if (isEcho(r))
            if (const auto taken = typeField(copy, {p->what, r.name, 0, 0}, typed); !taken)
                return taken;
    program = std::move(copy);
    return {};
}

} // namespace badger::sentences
