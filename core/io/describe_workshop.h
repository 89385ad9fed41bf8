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
    a.required("x_m", p.x_m, io::in(-100, 100));
    a.required("y_m", p.y_m, io::in(-100, 100));
    a.rest(p.extra);
}

template <class A> void describe(A &a, Wall &w)
{
    a.required("name", w.name, io::aName);
    a.required("from", w.from);
    a.required("to", w.to);
    static const io::Words<Face> faces = {{Face::Board, "board"},
                                          {Face::Rough, "rough"},
                                          {Face::Cloth, "cloth"},
                                          {Face::Foam, "foam"}};
    a.optionalWord("face", w.face, faces, Face::Board);
    a.rest(w.extra);
}

template <class A> void describe(A &a, Post &p)
{
    a.required("name", p.name, io::aName);
    a.required("at", p.at);
    a.required("radius_m", p.radius_m, io::in(0.001, 2));
    a.rest(p.extra);
}

template <class A> void describe(A &a, Line &l)
{
    a.required("name", l.name, io::aName);
    a.required("points", l.points, io::most(2000));
    a.required("width_m", l.width_m, io::in(0.001, 0.5));
    a.optional("closed", l.closed);
    a.optional("light", l.light);
    a.rest(l.extra);
}

template <class A> void describe(A &a, Mover &m)
{
    a.required("name", m.name, io::aName);
    a.required("from", m.from);
    a.required("to", m.to);
    a.optional("east_mps", m.east_mps, 0.0, io::in(-3, 3));
    a.optional("north_mps", m.north_mps, 0.0, io::in(-3, 3));
    a.optional("begins_s", m.begins_s, 0.0, io::in(0, 600));
    a.optional("ends_s", m.ends_s, 0.0, io::in(0, 600));
    a.optional("vanishes_s", m.vanishes_s, io::in(0, 600));
    a.rest(m.extra);
}

template <class A> void describe(A &a, Patch &p)
{
    a.required("name", p.name, io::aName);
    a.required("from", p.from);
    a.required("to", p.to);
    a.optional("albedo", p.albedo, io::in(0, 1));
    a.optional("ambient", p.ambient, io::in(0, 1));
    a.rest(p.extra);
}

template <class A> void describe(A &a, Start &s)
{
    a.required("nose", s.nose);
    a.required("heading_rad", s.heading_rad, io::in(-7, 7));
    a.rest(s.extra);
}

template <class A> void describe(A &a, Floor &f)
{
    a.required("id", f.id.text, io::aName);
    a.required("name", f.name, io::aName);
    a.optional("surface", f.surface, io::aLine);
    a.required("width_m", f.width_m, io::in(0.1, 100));
    a.required("depth_m", f.depth_m, io::in(0.1, 100));
    a.required("air_degC", f.air_degC, io::in(-40, 60));
    a.required("walls", f.walls, io::most(1000));
    a.required("start", f.start);
    a.optional("posts", f.posts, io::most(1000));
    a.optional("lines", f.lines, io::most(100));
    a.optional("movers", f.movers, io::most(20));
    a.optional("patches", f.patches, io::most(100));
    a.optional("edge", f.edge, io::most(200));
    a.optional("albedo", f.albedo, lightAlbedo, io::in(0, 1));
    a.optional("ambient", f.ambient, 0.1, io::in(0, 1));
    a.optional("rough", f.rough);
    a.rest(f.extra);
}

} // namespace badger::floor

namespace badger::logbook
{

template <class A> void describe(A &a, MeasuredTrial &t)
{
    a.required("id", t.id.text, io::aName);
    a.required("car", t.car.text, io::aName);
    a.required("date", t.date, io::aLine);
    a.optional("floor", t.floor.text, io::text(0, 80));
    a.optional("floor_name", t.floorName, io::aLine);
    a.optional("program", t.program.text, io::text(0, 80));
    a.optional("program_name", t.programName, io::aLine);
    a.required("program_version", t.programVersion, io::in(0, 1000000));
    a.required("threshold_m", t.threshold_m, io::in(0, 20));
    a.required("pwm_counts", t.pwm_counts, io::in(0, 255));
    a.required("battery_V", t.battery_V, io::in(0, 60));
    a.optional("contact", t.contact);
    a.optional("gap_m", t.gap_m, io::in(0, 20));
    a.optional("predicted_worst_m", t.predictedWorst_m, io::in(-20, 20));
    a.optional("predicted_typical_m", t.predictedTypical_m, io::in(-20, 20));
    a.optional("note", t.note, io::aLine);
    a.optional("sample", t.sample);
    a.rest(t.extra);
}

} // namespace badger::logbook

namespace badger::tune
{

template <class A> void describe(A &a, Stretch &s)
{
    a.optional("label", s.label, io::text(0, 80));
    a.optional("truth", s.truth, io::in(0, 100000));
    a.required("readings", s.readings, io::most(200000, io::in(-1e6, 1e6)));
    a.rest(s.extra);
}

template <class A> void describe(A &a, Basis &b)
{
    a.required("date", b.date, io::aLine);
    a.optional("floor", b.floor, io::aLine);
    a.optional("light", b.light, io::aLine);
    a.optional("air_degC", b.air_degC, io::in(-40, 60));
    a.optional("battery_V", b.battery_V, io::in(0, 60));
    a.optional("part", b.part, io::text(0, 80));
    a.optional("mount", b.mount);
    a.optional("pins", b.pins, io::most(64, io::text(1, 200)));
    a.optional("pack", b.pack, io::aLine);
    a.optional("wheels", b.wheels, io::aLine);
    a.optional("horn", b.horn, io::aLine);
    a.optional("places", b.places, io::most(64, io::text(1, 200)));
    a.rest(b.extra);
}

inline const io::Words<What> &whatWords()
{
    static const auto words = [] {
        io::Words<What> all;
        for (int i = 0; i < whatCount; ++i)
            all.emplace_back(static_cast<What>(i), key(static_cast<What>(i)));
        return all;
    }();
    return words;
}

template <class A> void describe(A &a, Record &r)
{
    a.required("id", r.id.text, io::aName);
    a.required("car", r.car.text, io::aName);
    a.word("what", r.what, whatWords());
    a.optional("instance", r.instance, io::text(0, 80));
    a.required("stretches", r.stretches, io::most(1000));
    a.optional("chosen", r.chosen, io::in(-1e6, 1e6));
    a.required("basis", r.basis);
    a.optional("note", r.note, io::aLine);
    a.optional("sample", r.sample);
    a.rest(r.extra);
}

} // namespace badger::tune

namespace badger::workshop
{

template <class A> void describe(A &a, Workshop &w)
{
    a.required("name", w.name, io::aLine);
    a.optional("bench", w.bench, io::aLine);
    a.optional("parts", w.parts, io::most(1000));
    a.required("cars", w.cars, io::most(200));
    a.required("programs", w.programs, io::most(500));
    a.required("floors", w.floors, io::most(200));
    a.required("trials", w.trials, io::most(20000));
    a.optional("records", w.records, io::most(20000));
    a.rest(w.extra);
}

} // namespace badger::workshop
