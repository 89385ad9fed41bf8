// SPDX-License-Identifier: GPL-3.0-or-later
// Keys of floors, trials and the workshop itself. Documented in docs/file-format.md.
#pragma once

#include "core/io/describe_kit.h"
#include "core/io/describe_rules.h"
#include "core/workshop/workshop.h"

namespace badger::floor
{

template <class A> void describe(A &a, Point &p)
{
    a.required("x_m", p.x_m);
    a.required("y_m", p.y_m);
    a.rest(p.extra);
}

template <class A> void describe(A &a, Wall &w)
{
    a.required("name", w.name);
    a.required("from", w.from);
    a.required("to", w.to);
    a.rest(w.extra);
}

template <class A> void describe(A &a, Start &s)
{
    a.required("nose", s.nose);
    a.required("heading_rad", s.heading_rad);
    a.rest(s.extra);
}

template <class A> void describe(A &a, Floor &f)
{
    a.required("name", f.name);
    a.optional("surface", f.surface);
    a.required("width_m", f.width_m);
    a.required("depth_m", f.depth_m);
    a.required("air_degC", f.air_degC);
    a.required("walls", f.walls);
    a.required("start", f.start);
    a.rest(f.extra);
}

} // namespace badger::floor

namespace badger::logbook
{

template <class A> void describe(A &a, MeasuredTrial &t)
{
    a.required("car", t.car);
    a.required("date", t.date);
    a.required("floor", t.floor);
    a.required("program", t.program);
    a.required("program_version", t.programVersion);
    a.required("threshold_m", t.threshold_m);
    a.required("pwm_counts", t.pwm_counts);
    a.required("battery_V", t.battery_V);
    a.optional("contact", t.contact);
    a.optional("gap_m", t.gap_m);
    a.optional("predicted_worst_m", t.predictedWorst_m);
    a.optional("predicted_typical_m", t.predictedTypical_m);
    a.optional("note", t.note);
    a.optional("sample", t.sample);
    a.rest(t.extra);
}

} // namespace badger::logbook

namespace badger::workshop
{

template <class A> void describe(A &a, Workshop &w)
{
    a.required("name", w.name);
    a.optional("bench", w.bench);
    a.optional("parts", w.parts);
    a.required("cars", w.cars);
    a.required("programs", w.programs);
    a.required("floors", w.floors);
    a.required("trials", w.trials);
    a.rest(w.extra);
}

} // namespace badger::workshop
