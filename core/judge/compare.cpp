// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/judge/compare.h"

#include "core/units/quantity.h"

#include <algorithm>
#include <fmt/format.h>

namespace badger::judge
{

using kit::Charge;
using power::Case;
using power::Load;
using units::fixed;
using units::Unit;

namespace
{

/// A number of one build; none where the build has no such number.
struct Entry {
    std::optional<double> value;
    Say text = "–";
};

struct Quantity {
    SourceText<> name;
    int better; ///< 1: more is better, −1: less is better, 0: neither
    Entry (*of)(const KitJudgement &j);
};

Entry voltsNumber(std::optional<double> v)
{
    return v ? Entry{*v, fixed(*v, Unit::Volt, 2)} : Entry{};
}
Entry ampsNumber(std::optional<double> v)
{
    return v ? Entry{*v, fixed(*v, Unit::Ampere, 2)} : Entry{};
}
Entry wattsNumber(std::optional<double> v)
{
    return v ? Entry{*v, fixed(*v, Unit::Watt, 2)} : Entry{};
}

std::optional<double> sourceVolts(const KitJudgement &j, Charge charge)
{
    for (const auto &n : j.power.tree.nodes)
        if (n.kind == power::NodeKind::Source)
            return n.states.at(0).voltsKnown
                       ? std::optional(j.power.tree
                                           .at(j.power.tree.indexOf(n.id),
                                               {charge, Load::Idle, Case::Typical})
                                           .feed_V)
                       : std::nullopt;
    return std::nullopt;
}

/// The greatest of a quantity over nodes of one kind.
std::optional<double> most(const KitJudgement &j, power::NodeKind kind, power::State state,
                           double (*of)(const power::Values &))
{
    std::optional<double> greatest;
    for (size_t i = 0; i < j.power.tree.nodes.size(); ++i)
        if (j.power.tree.nodes[i].kind == kind) {
            const double v = of(j.power.tree.at(static_cast<int>(i), state));
            greatest = std::max(greatest.value_or(v), v);
        }
    return greatest;
}

constexpr power::State running{Charge::Nominal, Load::Running, Case::Typical};
constexpr power::State stalled{Charge::Nominal, Load::Stalled, Case::Typical};

double ampsOf(const power::Values &v)
{
    return v.amps_A;
}
double heatOf(const power::Values &v)
{
    return v.heat_W.value_or(0.0);
}
double sagOf(const power::Values &v)
{
    return v.ohm_V;
}

const power::MotorAnswer *firstMotor(const KitJudgement &j, Charge charge)
{
    const auto &all = j.power.at(charge);
    return all.empty() ? nullptr : &all.front();
}

Entry capNumber(const KitJudgement &j, Charge charge)
{
    const auto *m = firstMotor(j, charge);
    return m && !m->servo ? Entry{double(m->cap.count), say("{} of 255", m->cap.count)} : Entry{};
}

Entry count(const KitJudgement &j, Severity severity)
{
    const auto n = std::count_if(j.findings.findings.begin(), j.findings.findings.end(),
                                 [&](const Finding &f) { return f.severity == severity; });
    return {double(n), std::to_string(n)};
}

Entry railAtStart(const KitJudgement &j)
{
    std::optional<double> least;
    for (size_t i = 0; i < j.power.tree.nodes.size(); ++i) {
        const auto &n = j.power.tree.nodes[i];
        if (n.kind != power::NodeKind::Output || !n.window)
            continue;
        const double v = j.power.tree.at(static_cast<int>(i), stalled).volts_V;
        least = std::min(least.value_or(v), v);
    }
    return voltsNumber(least);
}

const std::vector<Quantity> &quantities()
{
    using power::NodeKind;
    static const std::vector<Quantity> all = {
        {source("errors"), -1, [](const KitJudgement &j) { return count(j, Severity::Error); }},
        {source("warnings"), -1, [](const KitJudgement &j) { return count(j, Severity::Warning); }},
        {source("source, fresh"), 0,
         [](const KitJudgement &j) { return voltsNumber(sourceVolts(j, Charge::Fresh)); }},
        {source("source, nominal"), 0,
         [](const KitJudgement &j) { return voltsNumber(sourceVolts(j, Charge::Nominal)); }},
        {source("source, near empty"), 0,
         [](const KitJudgement &j) { return voltsNumber(sourceVolts(j, Charge::NearEmpty)); }},
        {source("sag when motors start"), -1,
         [](const KitJudgement &j) {
             return voltsNumber(most(j, NodeKind::Source, stalled, sagOf));
         }},
        {source("logic rail at that moment"), 1, railAtStart},
        {source("motor, full duty, nominal"), 0,
         [](const KitJudgement &j) {
             const auto *m = firstMotor(j, Charge::Nominal);
             return voltsNumber(m ? std::optional(m->cap.fullDutyMean_V) : std::nullopt);
         }},
        {source("greatest count, nominal"), 0,
         [](const KitJudgement &j) { return capNumber(j, Charge::Nominal); }},
        {source("greatest count, fresh"), 0,
         [](const KitJudgement &j) { return capNumber(j, Charge::Fresh); }},
        {source("speed at full duty"), 0,
         [](const KitJudgement &j) {
             const auto *m = firstMotor(j, Charge::Nominal);
             return m && m->speedFull_mps ? Entry{*m->speedFull_mps,
                                                  fixed(*m->speedFull_mps, Unit::MetrePerSecond, 2)}
                                          : Entry{};
         }},
        {source("a channel, running"), -1,
         [](const KitJudgement &j) {
             return ampsNumber(most(j, NodeKind::Channel, running, ampsOf));
         }},
        {source("a channel, stalled"), -1,
         [](const KitJudgement &j) {
             return ampsNumber(most(j, NodeKind::Channel, stalled, ampsOf));
         }},
        {source("heat of a channel, running"), -1,
         [](const KitJudgement &j) {
             return wattsNumber(most(j, NodeKind::Channel, running, heatOf));
         }},
        {source("heat of a regulator, running"), -1,
         [](const KitJudgement &j) {
             return wattsNumber(most(j, NodeKind::Output, running, heatOf));
         }},
        {source("source, running"), -1,
         [](const KitJudgement &j) {
             return ampsNumber(most(j, NodeKind::Source, running, ampsOf));
         }},
        {source("run time"), 1,
         [](const KitJudgement &j) {
             return j.power.runTime ? Entry{j.power.runTime->typical_h,
                                            fmt::format("{:.1f} h", j.power.runTime->typical_h)}
                                    : Entry{};
         }},
        {source("mass"), 0,
         [](const KitJudgement &j) {
             return j.balance.mass_kg > 0.0
                        ? Entry{j.balance.mass_kg, fixed(j.balance.mass_kg, Unit::Gram, 0)}
                        : Entry{};
         }},
        {source("weight on the drive wheels"), 0,
         [](const KitJudgement &j) {
             return j.balance.axleShare
                        ? Entry{*j.balance.axleShare,
                                say("{} %", units::number(*j.balance.axleShare * 100.0, 0))}
                        : Entry{};
         }},
        {source("pins asked for"), -1,
         [](const KitJudgement &j) {
             return Entry{double(j.pins.needed), say("{} of {}", j.pins.needed, j.pins.has)};
         }},
    };
    return all;
}

std::vector<Finding> only(const std::vector<Finding> &mine, const std::vector<Finding> &other)
{
    std::vector<Finding> left;
    for (const auto &f : mine)
        if (std::none_of(other.begin(), other.end(), [&](const Finding &o) {
                return o.code == f.code && o.places == f.places && o.severity == f.severity;
            }))
            left.push_back(f);
    return left;
}

} // namespace

Comparison compare(const kit::Car &a, const kit::Assembly &b, std::optional<double> threshold_m)
{
    const auto ja = judgeKit({a, b.catalogue()}, threshold_m);
    const auto jb = judgeKit(b, threshold_m);
    Comparison c;
    for (const auto &q : quantities()) {
        const auto na = q.of(ja);
        const auto nb = q.of(jb);
        if (!na.value && !nb.value)
            continue;
        CompareRow row{
            q.name, na.text, nb.text, na.value, nb.value, english(na.text) != english(nb.text), 0};
        if (row.differs && na.value && nb.value && q.better != 0)
            row.better = (*nb.value > *na.value) == (q.better > 0) ? 1 : -1;
        c.rows.push_back(std::move(row));
    }
    c.onlyA = only(ja.findings.findings, jb.findings.findings);
    c.onlyB = only(jb.findings.findings, ja.findings.findings);
    return c;
}

} // namespace badger::judge
