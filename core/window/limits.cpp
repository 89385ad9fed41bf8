// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/window/limits.h"

#include "core/base/angle.h"
#include "core/judge/budget.h"
#include "core/units/quantity.h"
#include "core/world/words.h"

#include <algorithm>
#include <cmath>

namespace badger::window
{

using units::fixed;
using units::Unit;

namespace
{

double halfWidth_m(const oncar::CarModel &model)
{
    double half = 0.0;
    for (const auto &c : model.outline.corners)
        half = std::max(half, std::abs(c.y));
    return half;
}

Say cm(double m)
{
    return say("{}", fixed(m, Unit::Centimetre, 1));
}

/// Of a car that stops: reaction, roll-out, what stands before the ranger; and at a slanted board
/// how much nearer a corner is than what the ranger hears.
Derivation sumOf(const Row &row, const Places &places)
{
    Derivation d;
    const auto &program = places.now().program();
    const auto budget = judge::budgetOf(places.now().car(), program);
    if (!budget)
        return d;
    double sum_m = 0.0;
    for (const auto &term : budget->budget.terms) {
        d.steps.push_back({term.name, cm(term.worst_m), term.how, {}});
        sum_m += term.worst_m;
    }
    const auto angle = row.set.find("angle");
    if (row.kind == "straight" && angle != row.set.end())
        if (const auto rad = units::parse(angle->second, units::Dimension::Angle)) {
            const double half = halfWidth_m(places.now().model());
            const double corner_m = half * std::tan(std::abs(*rad));
            d.steps.push_back({say("corner before the middle"), cm(corner_m),
                               say("{} × tan {}", cm(half), fixed(*rad, Unit::Degree, 0)),
                               say("half the car's width")});
            sum_m += corner_m;
        }
    d.title = say("what a stop takes here at worst");
    d.result = cm(sum_m);
    return d;
}

} // namespace

void explain(Limit &limit, const SceneRuns &runs, const Row &row, const Places &places)
{
    const auto &model = places.now().model();
    if (limit.touch) {
        const auto part = world::partOf(model, limit.touch->onCar);
        const auto thing = runs.plan().arena.name(limit.touch->thing);
        limit.what = say("its {} touches {}", part, thing);
        limit.why = sumOf(row, places);
        return;
    }
    if (limit.lost)
        limit.what = say("it loses the line");
    else if (limit.fell)
        limit.what = say("a wheel goes over the edge");
    else if (runs.gate_m())
        limit.what = say("it stays outside: what stands beside the way is heard");
    else
        limit.what = say("it does not do its job often enough");
}

std::vector<Row> proposedFor(const Places &places, task::Kind task)
{
    const auto &model = places.now().model();
    Proposing p;
    p.task = task;
    p.halfWidth_m = halfWidth_m(model);
    p.rangers = !model.rangers.empty();
    p.cells = model.charge.usable_C > 0.0;
    return proposedRows(p);
}

} // namespace badger::window
