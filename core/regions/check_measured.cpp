// SPDX-License-Identifier: GPL-3.0-or-later
// Do the counts of a program fit the surfaces that its sensor was measured over?
#include "core/regions/check_look.h"

#include <algorithm>
#include <cmath>

namespace badger::regions
{

namespace
{

/// Far enough from the mean to be another surface, light or height: three deviations, ten counts at
/// the least. A choice of ours.
double apart(double deviation)
{
    constexpr double least_counts = 10.0;
    return std::max(least_counts, 3.0 * deviation);
}

/// One end of a normalised reading against what was measured.
void addEnd(const Look &look, const char *code, const rules::Reading &reading,
            const std::string &name, const Around::Surface &measured, const Say &surface,
            Found &into)
{
    const auto *value = look.program.value(name);
    if (value == nullptr || !value->si ||
        std::abs(*value->si - measured.mean) <= apart(measured.deviation))
        return;
    into.push_back({code, Severity::Warning, look.place(name),
                    say("'{}' is {}; over the {} surface '{}' was measured at {}.", name,
                        units::number(*value->si, 0), surface, reading.instance,
                        units::number(measured.mean, 0)),
                    say("The reading is then not nought on dark and one on light, and the car "
                        "steers beside the edge."),
                    say("Take what was measured, or measure it again where the car drives."),
                    at::value(name)});
}

template <class Visit> void eachCondition(const rules::Program &program, Visit visit)
{
    const auto through = [&](const std::vector<rules::Rule> &rules) {
        for (const auto &rule : rules)
            for (const auto &c : rule.when)
                visit(c);
    };
    through(program.everywhere);
    for (const auto &s : program.states)
        through(s.rules);
}

} // namespace

Found countsNotAsMeasured(const Look &look, const char *code)
{
    Found found;
    for (const auto &r : look.program.readings)
        if (const auto it = look.around.surfaces.find(r.name);
            it != look.around.surfaces.end() && r.scale == rules::Scale::Normalised) {
            addEnd(look, code, r, r.dark, it->second.dark, say("dark"), found);
            addEnd(look, code, r, r.light, it->second.light, say("light"), found);
        }
    // One that steers by the raw count has the two surfaces as its ends.
    for (const auto &s : look.program.states) {
        const auto &p = s.motion.proportion;
        const auto *r = p ? look.program.reading(p->reading) : nullptr;
        const auto it = r ? look.around.surfaces.find(r->name) : look.around.surfaces.end();
        if (it == look.around.surfaces.end() || r->scale != rules::Scale::Raw)
            continue;
        const auto &[light, dark] = it->second;
        const bool lightIsHigh = light.mean > dark.mean;
        addEnd(look, code, *r, p->low, lightIsHigh ? dark : light,
               lightIsHigh ? say("dark") : say("light"), found);
        addEnd(look, code, *r, p->high, lightIsHigh ? light : dark,
               lightIsHigh ? say("light") : say("dark"), found);
    }
    return found;
}

Found limitTellsNothing(const Look &look, const char *code)
{
    Found found;
    eachCondition(look.program, [&](const rules::Condition &c) {
        const auto *r = look.program.reading(c.reading);
        const auto *v = look.program.value(c.value);
        const auto it = r ? look.around.surfaces.find(r->name) : look.around.surfaces.end();
        const bool known = std::any_of(found.begin(), found.end(), [&](const Finding &f) {
            return f.places.front() == at::value(c.value);
        });
        if (c.test != rules::Test::Number || it == look.around.surfaces.end() || known || !v ||
            !v->si || r->scale != rules::Scale::Raw)
            return;
        const auto &[light, dark] = it->second;
        if ((*v->si > light.mean) != (*v->si > dark.mean))
            return;
        found.push_back({code, Severity::Error, look.place(v->name),
                         say("'{}' is {}; '{}' was measured at {} on light and {} on dark.",
                             v->name, units::number(*v->si, 0), r->instance,
                             units::number(light.mean, 0), units::number(dark.mean, 0)),
                         say("Both surfaces lie on one side of it: the rule never tells them "
                             "apart."),
                         say("Choose a count between the two; half way is {}.",
                             units::number((light.mean + dark.mean) / 2.0, 0)),
                         at::value(v->name)});
    });
    return found;
}

} // namespace badger::regions
