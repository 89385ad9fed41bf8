// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/window/handle.h"

#include <algorithm>
#include <cmath>

namespace badger::window
{

using rules::ValueKind;

namespace
{

/// The readings that are compared with a value.
std::vector<const rules::Reading *> comparedWith(const rules::Program &program,
                                                 const std::string &value)
{
    std::vector<const rules::Reading *> all;
    const auto look = [&](const std::vector<rules::Rule> &list) {
        for (const auto &rule : list)
            for (const auto &c : rule.when)
                if (c.value == value && c.test == rules::Test::Number)
                    if (const auto *r = program.reading(c.reading))
                        all.push_back(r);
    };
    look(program.everywhere);
    for (const auto &s : program.states)
        look(s.rules);
    return all;
}

std::vector<double> steps(double from, double to, double step)
{
    std::vector<double> all;
    const long count = std::lround(std::floor((to - from) / step + 1e-9));
    for (long i = 0; i <= count; ++i)
        all.push_back(std::round((from + double(i) * step) * 1e9) / 1e9);
    return all;
}

constexpr double rulerEnd_m = 0.8;
constexpr double beyondNow = 1.5;
constexpr int mostPlaces = 120; ///< places of a ruler
constexpr double placesOfOthers = 40.0;

} // namespace

size_t Handle::nearest(double si) const
{
    size_t best = 0;
    for (size_t i = 1; i < at.size(); ++i)
        if (std::abs(at[i] - si) < std::abs(at[best] - si))
            best = i;
    return best;
}

std::vector<std::string> draggable(const rules::Program &program)
{
    std::vector<std::string> all;
    for (const auto &v : program.values)
        all.push_back(v.name);
    return all;
}

std::string firstValue(const rules::Program &program)
{
    for (const auto kind :
         {ValueKind::Distance, ValueKind::Share, ValueKind::Speed, ValueKind::Count})
        for (const auto &v : program.values) {
            if (v.kind != kind)
                continue;
            // A distance that no rule compares is a tolerance.
            if (kind == ValueKind::Distance && comparedWith(program, v.name).empty())
                continue;
            return v.name;
        }
    return {};
}

Result<Handle> handleOf(const rules::Program &program, const std::string &value)
{
    const auto *v = program.value(value);
    if (v == nullptr) {
        std::vector<std::string> names = draggable(program);
        return fail(Error::Kind::Missing, say("value '{}'", value),
                    say("program '{}' has no such value", program.name),
                    names.empty() ? say("it has none: nothing can be dragged")
                                  : say("use one of: {}", joined(names, ", ")));
    }
    Handle h{v->name, v->meaning, v->kind, units::Unit::Count, v->si, {}};
    switch (v->kind) {
    case ValueKind::Distance: {
        h.unit = units::Unit::Centimetre;
        double far_m = std::max(rulerEnd_m, beyondNow * v->si.value_or(0.0));
        for (const auto *r : comparedWith(program, value)) {
            h.unit = r->unit;
            if (r->limit_m)
                far_m = std::min(far_m, *r->limit_m);
        }
        double step_m = h.unit == units::Unit::Inch ? 0.0127 : 0.01;
        while (far_m / step_m > mostPlaces)
            step_m *= 2.0;
        h.at = steps(step_m, far_m, step_m);
        break;
    }
    case ValueKind::Speed:
        h.at = steps(40, 255, 5);
        break;
    case ValueKind::Count:
        h.at = steps(15, 1015, 20);
        break;
    case ValueKind::Angle:
        h.unit = units::Unit::Degree;
        h.at = steps(5, 180, 5);
        break;
    case ValueKind::Times:
        h.at = steps(1, 12, 1);
        break;
    case ValueKind::Duration:
    case ValueKind::Share:
    case ValueKind::PerDegree: {
        if (!v->si || !(*v->si > 0.0))
            return fail(Error::Kind::Missing, say("value '{}'", value),
                        say("it is not set, and it has no scale of its own"),
                        say("set it at the Rule station first"));
        h.unit = v->kind == ValueKind::Duration ? units::Unit::Millisecond : units::Unit::Count;
        h.at = steps(*v->si * 3.0 / placesOfOthers, *v->si * 3.0, *v->si * 3.0 / placesOfOthers);
        break;
    }
    }
    if (h.at.size() < 2)
        return fail(Error::Kind::OutOfRange, say("value '{}'", value),
                    say("its reading ends so near that there is no range to look at"),
                    say("raise the reading's limit"));
    return h;
}

rules::Program with(const rules::Program &program, const std::string &value, double si)
{
    auto copy = program;
    for (auto &v : copy.values)
        if (v.name == value)
            v.si = si;
    return copy;
}

Result<Handle> withStep(const Handle &handle, double step)
{
    constexpr size_t most = 1000;
    const double from = handle.kind == ValueKind::Distance ? step : handle.at.front();
    const double stretch = handle.at.back() - from;
    if (!(step > 0.0 && stretch >= step && stretch / step < double(most)))
        return fail(Error::Kind::OutOfRange, "--step",
                    say("the ruler would have fewer than two places or more than {}", most),
                    say("choose a step between"));
    auto h = handle;
    h.at = steps(from, handle.at.back(), step);
    return h;
}

bool sameBut(const rules::Program &a, const rules::Program &b, const std::string &value)
{
    const auto bare = [&](const rules::Program &program) {
        auto p = with(program, value, 0.0);
        p.version = p.writtenVersion = 0;
        p.name.clear();
        for (auto &v : p.values)
            v.suggested = v.suggested && v.name != value;
        return p;
    };
    return bare(a) == bare(b);
}

} // namespace badger::window
