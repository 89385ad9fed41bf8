// SPDX-License-Identifier: GPL-3.0-or-later
// Keys of parts and cars in files. Documented in docs/file-format.md.
#pragma once

#include "core/io/json_archive.h"
#include "core/kit/car.h"

namespace badger::parts
{

template <class A> void describe(A &a, Figure &f)
{
    a.required("typical", f.typical);
    a.required("low", f.low);
    a.required("high", f.high);
    a.required("source", f.source);
    a.rest(f.extra);
}

template <class A> void describe(A &a, Window &w)
{
    a.required("low_V", w.low_V);
    a.required("high_V", w.high_V);
    a.rest(w.extra);
}

inline const io::Words<Kind> &kindWords()
{
    static const auto words = [] {
        io::Words<Kind> all;
        for (int i = 0; i < kindCount; ++i)
            all.emplace_back(static_cast<Kind>(i), name(static_cast<Kind>(i)));
        return all;
    }();
    return words;
}

inline const io::Words<Role> &roleWords()
{
    static const auto words = [] {
        io::Words<Role> all;
        for (int i = 0; i < roleCount; ++i)
            all.emplace_back(static_cast<Role>(i), name(static_cast<Role>(i)));
        return all;
    }();
    return words;
}

template <class A> void describe(A &a, Terminal &t)
{
    a.required("name", t.name);
    a.word("role", t.role, roleWords());
    a.optional("window", t.window);
    a.optional("source_V", t.source_V);
    a.optional("fed_by", t.fedBy);
    a.optional("needs_V", t.needs_V);
    a.optional("channel", t.channel);
    a.optional("output", t.output);
    a.optional("pwm", t.pwm);
    a.optional("analogue", t.analogue);
    a.optional("motors", t.motors);
    a.optional("serial", t.serial);
    a.optional("boot_light", t.bootLight);
    a.optional("timer", t.timer);
    a.optional("bus", t.bus);
    a.optional("jumper", t.jumper);
    a.rest(t.extra);
}

template <class A> void describe(A &a, TruthRow &r)
{
    a.required("enabled", r.enabled);
    a.required("inputs", r.inputs);
    a.required("does", r.does);
    a.rest(r.extra);
}

template <class A> void describe(A &a, Hole &h)
{
    a.required("x_m", h.x_m);
    a.required("y_m", h.y_m);
    a.required("diameter_m", h.diameter_m);
    a.rest(h.extra);
}

template <class A> void describe(A &a, Count &c)
{
    a.required("part", c.partId);
    a.required("count", c.count);
    a.rest(c.extra);
}

template <class A> void describe(A &a, Taking &t)
{
    a.required("library", t.library);
    a.required("timer", t.timer);
    a.rest(t.extra);
}

template <class A> void describe(A &a, Part &p)
{
    a.required("id", p.id);
    a.required("name", p.name);
    a.word("kind", p.kind, kindWords());
    a.optional("terminals", p.terminals);
    a.optional("truth", p.truth);
    a.optional("libraries", p.libraries);
    a.optional("figures", p.figures);
    a.optional("shape", p.shape);
    a.optional("sense", p.sense);
    a.optional("holes", p.holes);
    a.optional("fasteners", p.fasteners);
    a.rest(p.extra);
}

} // namespace badger::parts

namespace badger::kit
{

template <class A> void describe(A &a, Mount &m)
{
    a.required("set_back_m", m.setBack_m);
    a.optional("offset_m", m.offset_m);
    a.optional("height_m", m.height_m);
    a.optional("yaw_rad", m.yaw_rad);
    a.optional("tilt_rad", m.tilt_rad);
    a.optional("play_rad", m.play_rad);
    a.rest(m.extra);
}

template <class A> void describe(A &a, Feed &f)
{
    a.required("to", f.to);
    a.required("from", f.from);
    a.rest(f.extra);
}

template <class A> void describe(A &a, CellGroup &g)
{
    a.required("part", g.partId);
    a.required("cells", g.cells);
    a.rest(g.extra);
}

template <class A> void describe(A &a, Instance &i)
{
    static const io::Words<Side> sides = {
        {Side::None, "none"}, {Side::Left, "left"}, {Side::Right, "right"}};
    a.required("id", i.id);
    a.required("part", i.partId);
    a.optional("label", i.label);
    a.optionalWord("side", i.side, sides, Side::None);
    a.optional("mount", i.mount);
    a.optional("jumpers", i.jumpers);
    a.optional("cells_in_series", i.cellsInSeries);
    a.optional("cells_in_parallel", i.cellsInParallel);
    a.optional("other_cells", i.otherCells);
    a.optional("feeds", i.feeds);
    a.optional("driven_by", i.drivenBy);
    a.optional("carried_by", i.carriedBy);
    a.optional("sweep_rad", i.sweep_rad);
    a.optional("horn_error_rad", i.hornError_rad);
    a.optional("resistor_ohm", i.resistor_ohm);
    a.rest(i.extra);
}

template <class A> void describe(A &a, Wire &w)
{
    a.required("from", w.from);
    a.required("to", w.to);
    a.required("colour", w.colour);
    a.rest(w.extra);
}

template <class A> void describe(A &a, WiringRevision &r)
{
    a.required("number", r.number);
    a.required("date", r.date);
    a.required("reason", r.reason);
    a.required("wires", r.wires);
    a.optional("jumpers", r.jumpers);
    a.optional("program_pins", r.programPins);
    a.rest(r.extra);
}

template <class A> void describe(A &a, WalkEntry &e)
{
    a.required("key", e.key);
    a.optional("value", e.value);
    a.optional("as_expected", e.asExpected);
    a.optional("revision", e.revision);
    a.optional("date", e.date);
    a.rest(e.extra);
}

template <class A> void describe(A &a, Geometry &g)
{
    a.required("length_m", g.length_m);
    a.required("width_m", g.width_m);
    a.required("track_m", g.track_m);
    a.required("axle_to_nose_m", g.axleToNose_m);
    static const io::Words<DeckShape> shapes = {{DeckShape::Rectangle, "rectangle"},
                                                {DeckShape::Disc, "disc"},
                                                {DeckShape::TwoDiscs, "two-discs"}};
    a.optionalWord("deck", g.deck, shapes, DeckShape::Rectangle);
    a.optional("disc_radius_m", g.discRadius_m);
    a.optional("discs_apart_m", g.discsApart_m);
    a.rest(g.extra);
}

template <class A> void describe(A &a, Circumstances &c)
{
    a.required("date", c.date);
    a.required("floor", c.floor);
    a.required("battery_V", c.battery_V);
    a.rest(c.extra);
}

template <class A> void describe(A &a, SpeedReading &s)
{
    a.required("pwm_counts", s.pwm_counts);
    a.required("speed_m_s", s.speed_mps);
    a.required("under", s.under);
    a.rest(s.extra);
}

template <class A> void describe(A &a, RollOut &r)
{
    static const io::Words<RollLaw> laws = {{RollLaw::Electrical, "electrical"},
                                            {RollLaw::Friction, "friction"}};
    a.required("brake", r.brake);
    a.required("distance_m", r.distance_m);
    a.required("speed_m_s", r.speed_mps);
    a.word("law", r.law, laws);
    a.required("trials", r.trials);
    a.required("under", r.under);
    a.rest(r.extra);
}

template <class A> void describe(A &a, RulerCheck &r)
{
    a.required("error_m", r.error_m);
    a.required("pairs", r.pairs);
    a.required("under", r.under);
    a.rest(r.extra);
}

template <class A> void describe(A &a, Calibrations &c)
{
    a.optional("speeds", c.speeds);
    a.optional("roll_outs", c.rollOuts);
    a.optional("ruler", c.ruler);
    a.rest(c.extra);
}

template <class A> void describe(A &a, Mission &m)
{
    a.required("behaviour", m.behaviour);
    a.optional("floor", m.floor);
    a.rest(m.extra);
}

template <class A> void describe(A &a, Car &c)
{
    a.required("name", c.name);
    a.optional("team", c.team);
    a.optional("mission", c.mission);
    a.required("geometry", c.geometry);
    a.required("parts", c.parts);
    a.optional("wiring_revision", c.wiringRevision, -1); // always written; absent is the first
    a.required("wires", c.wires);
    a.optional("program_pins", c.programPins);
    a.optional("wiring_history", c.history);
    a.optional("first_power", c.walk);
    a.optional("program", c.program);
    a.optional("wanted_gap_m", c.wantedGap_m);
    a.optional("ticks", c.ticks);
    a.optional("calibrations", c.calibrations);
    a.rest(c.extra);
}

} // namespace badger::kit
