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
    a.required("source", f.source, io::aLine);
    a.rest(f.extra);
}

template <class A> void describe(A &a, Window &w)
{
    a.required("low_V", w.low_V, io::in(0, 100));
    a.required("high_V", w.high_V, io::in(0, 100));
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
    a.required("name", t.name, io::aName);
    a.word("role", t.role, roleWords());
    a.optional("window", t.window);
    a.optional("source_V", t.source_V, io::in(0, 100));
    a.optional("fed_by", t.fedBy, io::aName);
    a.optional("needs_V", t.needs_V, io::in(0, 100));
    a.optional("channel", t.channel, io::aName);
    a.optional("output", t.output, io::aName);
    a.optional("pwm", t.pwm);
    a.optional("analogue", t.analogue);
    a.optional("motors", t.motors);
    a.optional("serial", t.serial);
    a.optional("boot_light", t.bootLight);
    a.optional("timer", t.timer, io::aName);
    a.optional("pwm_channel", t.pwmChannel, io::aName);
    a.optional("bus", t.bus, io::oneOf("data|clock"));
    a.optional("jumper", t.jumper);
    a.optional("holes", t.holes, io::in(1, 1000));
    a.rest(t.extra);
}

template <class A> void describe(A &a, TruthRow &r)
{
    a.required("enabled", r.enabled);
    a.required("inputs", r.inputs, io::lettersOf("01", 1, 4));
    a.required("does", r.does, io::oneOf("drive|brake|coast"));
    a.rest(r.extra);
}

template <class A> void describe(A &a, Hole &h)
{
    a.required("x_m", h.x_m, io::in(-1, 1));
    a.required("y_m", h.y_m, io::in(-1, 1));
    a.required("diameter_m", h.diameter_m, io::in(0.0005, 0.2));
    a.rest(h.extra);
}

template <class A> void describe(A &a, Count &c)
{
    a.required("part", c.partId, io::aName);
    a.required("count", c.count, io::in(1, 1000));
    a.rest(c.extra);
}

template <class A> void describe(A &a, Taking &t)
{
    a.required("library", t.library, io::aName);
    a.required("timer", t.timer, io::aName);
    a.rest(t.extra);
}

template <class A> void describe(A &a, Part &p)
{
    a.required("id", p.id, io::aName);
    a.required("name", p.name, io::aName);
    a.word("kind", p.kind, kindWords());
    a.optional("terminals", p.terminals, io::most(200));
    a.optional("truth", p.truth, io::most(64));
    a.optional("libraries", p.libraries, io::most(20));
    a.optional("clock_pulses", p.clockPulses);
    a.optional("figures", p.figures);
    a.optional("shape", p.shape, io::aName);
    a.optional("sense", p.sense, io::oneOf("light-high|light-low|pressed-high|pressed-low"));
    a.optional("holes", p.holes, io::most(100));
    a.optional("fasteners", p.fasteners, io::most(50));
    a.rest(p.extra);
}

} // namespace badger::parts

namespace badger::kit
{

template <class A> void describe(A &a, Mount &m)
{
    a.required("set_back_m", m.setBack_m, io::in(-1, 1));
    a.optional("offset_m", m.offset_m, io::in(-1, 1));
    a.optional("height_m", m.height_m, io::in(0, 1));
    a.optional("yaw_rad", m.yaw_rad, io::in(-3.2, 3.2));
    a.optional("tilt_rad", m.tilt_rad, io::in(-3.2, 3.2));
    a.optional("play_rad", m.play_rad, io::in(0, 3.2));
    a.rest(m.extra);
}

template <class A> void describe(A &a, Feed &f)
{
    a.required("to", f.to, io::aName);
    a.required("from", f.from, io::text(1, 200));
    a.rest(f.extra);
}

template <class A> void describe(A &a, CellGroup &g)
{
    a.required("part", g.partId, io::aName);
    a.required("cells", g.cells, io::in(1, 100));
    a.rest(g.extra);
}

template <class A> void describe(A &a, Instance &i)
{
    static const io::Words<Side> sides = {
        {Side::None, "none"}, {Side::Left, "left"}, {Side::Right, "right"}};
    a.required("id", i.id, io::aName);
    a.required("part", i.partId, io::aName);
    a.optional("label", i.label, io::text(0, 80));
    a.optionalWord("side", i.side, sides, Side::None);
    a.optional("mount", i.mount);
    a.optional("jumpers", i.jumpers, io::most(32, io::aName));
    a.optional("cells_in_series", i.cellsInSeries, io::in(1, 40));
    a.optional("cells_in_parallel", i.cellsInParallel, io::in(1, 20));
    a.optional("other_cells", i.otherCells, io::most(20));
    a.optional("feeds", i.feeds, io::most(20));
    a.optional("driven_by", i.drivenBy, io::text(1, 200));
    a.optional("carried_by", i.carriedBy, io::aName);
    a.optional("sweep_rad", i.sweep_rad, io::in(0, 3.2));
    a.optional("horn_error_rad", i.hornError_rad, io::in(-3.2, 3.2));
    a.optional("resistor_ohm", i.resistor_ohm, io::in(0, 10000000));
    a.optional("plain", i.plain);
    a.rest(i.extra);
}

template <class A> void describe(A &a, Wire &w)
{
    a.required("from", w.from, io::aName);
    a.required("to", w.to, io::aName);
    a.required("colour", w.colour, io::aName);
    a.rest(w.extra);
}

template <class A> void describe(A &a, WiringRevision &r)
{
    a.required("number", r.number, io::in(0, 1000000));
    a.required("date", r.date, io::text(0, 40));
    a.required("reason", r.reason, io::text(0, 500));
    a.required("wires", r.wires, io::most(1000));
    a.optional("jumpers", r.jumpers, io::most(100, io::aName));
    a.optional("program_pins", r.programPins, io::each(io::aName));
    a.rest(r.extra);
}

template <class A> void describe(A &a, WalkEntry &e)
{
    a.required("key", e.key, io::text(1, 200));
    a.optional("value", e.value, io::in(-1e+09, 1e+09));
    a.optional("as_expected", e.asExpected);
    a.optional("revision", e.revision, io::in(0, 1000000));
    a.optional("date", e.date, io::text(0, 40));
    a.rest(e.extra);
}

template <class A> void describe(A &a, Geometry &g)
{
    a.required("length_m", g.length_m, io::in(0.02, 2));
    a.required("width_m", g.width_m, io::in(0.02, 2));
    a.required("track_m", g.track_m, io::in(0.02, 2));
    a.required("axle_to_nose_m", g.axleToNose_m, io::in(0, 2));
    static const io::Words<DeckShape> shapes = {{DeckShape::Rectangle, "rectangle"},
                                                {DeckShape::Disc, "disc"},
                                                {DeckShape::TwoDiscs, "two-discs"}};
    a.optionalWord("deck", g.deck, shapes, DeckShape::Rectangle);
    a.optional("disc_radius_m", g.discRadius_m, io::in(0, 1));
    a.optional("discs_apart_m", g.discsApart_m, io::in(0, 2));
    a.rest(g.extra);
}

template <class A> void describe(A &a, Circumstances &c)
{
    a.required("date", c.date, io::aLine);
    a.required("floor", c.floor, io::aLine);
    a.required("battery_V", c.battery_V, io::in(0, 60));
    a.rest(c.extra);
}

template <class A> void describe(A &a, SpeedReading &s)
{
    a.required("pwm_counts", s.pwm_counts, io::in(0, 255));
    a.required("speed_m_s", s.speed_mps, io::in(0, 5));
    a.required("under", s.under);
    a.rest(s.extra);
}

template <class A> void describe(A &a, RollOut &r)
{
    static const io::Words<RollLaw> laws = {{RollLaw::Electrical, "electrical"},
                                            {RollLaw::Friction, "friction"}};
    a.required("brake", r.brake);
    a.required("distance_m", r.distance_m, io::in(0, 10));
    a.required("speed_m_s", r.speed_mps, io::in(0.001, 5));
    a.word("law", r.law, laws);
    a.required("trials", r.trials, io::in(0, 100000));
    a.required("under", r.under);
    a.rest(r.extra);
}

template <class A> void describe(A &a, RulerCheck &r)
{
    a.required("error_m", r.error_m, io::in(0, 1));
    a.required("pairs", r.pairs, io::in(0, 100000));
    a.required("under", r.under);
    a.rest(r.extra);
}

template <class A> void describe(A &a, Calibrations &c)
{
    a.optional("speeds", c.speeds, io::most(1000));
    a.optional("roll_outs", c.rollOuts, io::most(1000));
    a.optional("ruler", c.ruler);
    a.rest(c.extra);
}

template <class A> void describe(A &a, Mission &m)
{
    a.required("behaviour", m.behaviour, io::aName);
    a.optional("floor", m.floor.text, io::text(0, 80));
    a.rest(m.extra);
}

template <class A> void describe(A &a, FoundWindow &w)
{
    a.required("value", w.value, io::aName);
    a.optional("low", w.low, io::in(-1e6, 1e6));
    a.optional("high", w.high, io::in(-1e6, 1e6));
    a.required("limit", w.limit, io::in(0, 1));
    a.required("confidence", w.confidence, io::in(0, 1));
    a.required("runs", w.runs, io::in(0, 1000000000));
    a.required("date", w.date, io::aLine);
    a.required("floor", w.floor, io::aLine);
    a.optional("below", w.below, io::text(0, 500));
    a.optional("above", w.above, io::text(0, 500));
    a.required("ground", w.ground, io::aLine);
    a.rest(w.extra);
}

template <class A> void describe(A &a, Car &c)
{
    a.required("id", c.id.text, io::aName);
    a.required("name", c.name, io::aName);
    a.optional("team", c.team, io::aLine);
    a.optional("mission", c.mission);
    a.required("geometry", c.geometry);
    a.required("parts", c.parts, io::most(200));
    a.optional("wiring_revision", c.wiringRevision, -1,
               io::in(0, 1000000)); // always written; absent is the first
    a.required("wires", c.wires, io::most(1000));
    a.optional("program_pins", c.programPins, io::each(io::aName));
    a.optional("wiring_history", c.history, io::most(1000));
    a.optional("first_power", c.walk, io::most(1000));
    a.optional("program", c.program.text, io::text(0, 80));
    a.optional("wanted_gap_m", c.wantedGap_m, io::in(0, 10));
    a.optional("ticks", c.ticks, io::most(500, io::text(1, 120)));
    a.optional("calibrations", c.calibrations);
    a.optional("conditions", c.conditions, io::most(50, io::text(1, 300)));
    a.optional("windows", c.windows, io::most(50));
    a.rest(c.extra);
}

} // namespace badger::kit
