// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/judge/take_over.h"

#include "core/base/angle.h"
#include "core/judge/rule_walk.h"
#include "core/tune/fits_of.h"

#include <algorithm>
#include <cmath>
#include <set>

namespace badger::judge
{

using rules::Source;
using tune::What;
using units::number;

namespace
{

class Taking
{
public:
    explicit Taking(const rules::Program &program) : m_out{program, {}} {}

    TakenOver out() && { return std::move(m_out); }
    rules::Program &program() { return m_out.program; }

    /// `words` puts a number as it is read.
    template <class Words> void set(const std::string &name, double to, Words words)
    {
        for (auto &v : m_out.program.values) {
            if (v.name != name || v.si == to)
                continue;
            m_out.changes.push_back(v.si ? say("{}: {}, it was {}", name, words(to), words(*v.si))
                                         : say("{}: {}", name, words(to)));
            v.si = to;
            v.suggested = false;
        }
    }
    void said(Say change) { m_out.changes.push_back(std::move(change)); }

private:
    TakenOver m_out;
};

Say counts(double value)
{
    return number(value, 0);
}

/// The names of the counts that a raw reading is compared with.
std::set<std::string> comparedCounts(const rules::Program &program, const std::string &reading)
{
    std::set<std::string> names;
    eachCondition(program, [&](const rules::Condition &c) {
        const auto *value = program.value(c.value);
        if (c.test == rules::Test::Number && c.reading == reading && value &&
            value->kind == rules::ValueKind::Count)
            names.insert(c.value);
    });
    return names;
}

void takeClouds(Taking &taking, const tune::Record &record)
{
    const auto found = tune::surfacesOf(record);
    if (!found || !found->isSeparable)
        return;
    const double light = std::round(found->light.mean);
    const double dark = std::round(found->dark.mean);
    const auto readings = taking.program().readings;
    for (const auto &r : readings) {
        if (r.source != Source::Analogue || r.instance != record.instance)
            continue;
        if (r.scale == rules::Scale::Normalised) {
            taking.set(r.light, light, counts);
            taking.set(r.dark, dark, counts);
        }
        if (r.scale != rules::Scale::Raw)
            continue;
        const auto states = taking.program().states;
        for (const auto &s : states)
            if (const auto &p = s.motion.proportion; p && p->reading == r.name) {
                taking.set(p->low, std::min(light, dark), counts);
                taking.set(p->high, std::max(light, dark), counts);
            }
        if (const auto names = comparedCounts(taking.program(), r.name); names.size() == 1)
            taking.set(*names.begin(), std::round(record.chosen.value_or(found->threshold)),
                       counts);
    }
}

void takeSense(Taking &taking, const tune::Record &record)
{
    const auto look = tune::trimmerOf(record);
    if (!look || !look->steady || look->lightLevel == look->darkLevel)
        return;
    for (auto &r : taking.program().readings)
        if (const int level = look->lightLevel ? 1 : 0;
            r.source == Source::Digital && r.instance == record.instance && r.lightLevel != level) {
            taking.said(say("{} gives {} on light", r.name, level));
            r.lightLevel = level;
        }
}

void takeTurn(Taking &taking, const tune::Record &record)
{
    double sum = 0.0;
    int sides = 0;
    for (const char *side : {"left", "right"})
        if (const auto fit = tune::turnOf(record, side)) {
            sum += degree / fit->rate_rad_s;
            ++sides;
        }
    if (sides == 0)
        return;
    const auto words = [](double s) { return say("{} ms a degree", number(s * 1e3, 2)); };
    const double perDegree_s = std::round(sum / sides * 1e5) / 1e5;
    const auto values = taking.program().values;
    for (const auto &v : values)
        if (v.kind == rules::ValueKind::PerDegree)
            taking.set(v.name, perDegree_s, words);
}

void takeAir(Taking &taking, const tune::Record &record)
{
    if (!record.chosen)
        return;
    for (auto &r : taking.program().readings)
        if (isEcho(r) && r.instance == record.instance && r.air_degC != record.chosen) {
            taking.said(say("{} reckons with air of {}", r.name,
                            units::quantity(*record.chosen, units::Unit::Celsius, 1)));
            r.air_degC = record.chosen;
        }
}

} // namespace

TakenOver takenOver(const tune::Record &record, const rules::Program &program)
{
    Taking taking(program);
    switch (record.what) {
    case What::Surfaces:
    case What::Lamp:
        takeClouds(taking, record);
        break;
    case What::Trimmer:
        takeSense(taking, record);
        break;
    case What::Turn:
        takeTurn(taking, record);
        break;
    case What::Air:
        takeAir(taking, record);
        break;
    default:
        break;
    }
    return std::move(taking).out();
}

} // namespace badger::judge
