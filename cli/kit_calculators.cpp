// SPDX-License-Identifier: GPL-3.0-or-later
#include "cli/kit_calculators.h"

#include "cli/reading.h"
#include "core/base/angle.h"
#include "core/mechanics/horn.h"
#include "core/power/laws.h"
#include "core/sense/beam.h"
#include "core/units/quantity.h"

#include <cmath>
#include <fmt/format.h>

namespace badger::cli
{

using units::Dimension;
using units::fixed;
using units::quantity;
using units::Unit;

namespace
{

double degrees(double rad)
{
    return rad / degree;
}

units::Quantity volts(double v)
{
    return quantity(v, Unit::Volt, 3);
}

} // namespace

Result<Answer> beam(const BeamOptions &o)
{
    Reading r;
    sense::Beam b;
    b.halfAngle_rad = r.take(o.halfAngle, Dimension::Angle, "--half-angle");
    b.sweep_rad = r.takeIfGiven(o.sweep, Dimension::Angle, "--sweep");
    b.width_m = r.take(o.width, Dimension::Length, "--width");
    const double at_m = r.takeIfGiven(o.at, Dimension::Length, "--at");
    if (r.error())
        return tl::unexpected(*r.error());
    const auto from = sense::fullCoverFrom_m(b);
    if (!from)
        return tl::unexpected(from.error());
    Answer a;
    a.text = fmt::format("the whole width of {} is covered from {} on\n",
                         quantity(b.width_m, Unit::Millimetre, 1),
                         quantity(**from, Unit::Millimetre, 0));
    a.why = fmt::format("W / (2 × tan(α + sweep)) = {} / (2 × tan {}) = {}\n",
                        quantity(b.width_m, Unit::Millimetre, 1),
                        quantity(b.halfAngle_rad + b.sweep_rad, Unit::Degree, 2),
                        fixed(**from, Unit::Millimetre, 1));
    a.json = {{"full_cover_at_mm", **from * 1000.0},
              {"covered_width_mm", nullptr},
              {"blind_strip_mm", nullptr}};
    if (o.at.empty())
        return a;
    const auto cover = sense::coverAt(b, at_m);
    if (!cover)
        return tl::unexpected(cover.error());
    a.text += fmt::format("at {} the beam covers {}, {} on each side stay blind\n",
                          quantity(at_m, Unit::Centimetre, 2),
                          quantity(cover->width_m, Unit::Millimetre, 0),
                          quantity(cover->blindLeft_m, Unit::Millimetre, 0));
    a.why += fmt::format("2 × D × tan(α + sweep) = {}; (W − that) / 2 = {}\n",
                         fixed(cover->width_m, Unit::Millimetre, 1),
                         fixed((b.width_m - cover->width_m) / 2.0, Unit::Millimetre, 1));
    a.json["covered_width_mm"] = cover->width_m * 1000.0;
    a.json["blind_strip_mm"] = cover->blindLeft_m * 1000.0;
    return a;
}

Result<Answer> horn(const HornOptions &o)
{
    Reading r;
    const double error_rad = r.take(o.error, Dimension::Angle, "--error");
    if (r.error())
        return tl::unexpected(*r.error());
    const auto h = mechanics::horn(o.teeth, error_rad);
    if (!h)
        return tl::unexpected(h.error());
    Answer a;
    a.text = fmt::format("move the horn {} {} of {}, then trim {}\n", h->teethToMove,
                         std::abs(h->teethToMove) == 1 ? "tooth" : "teeth",
                         fixed(h->step_rad, Unit::Degree, 2), fixed(h->trim_rad, Unit::Degree, 2));
    for (const auto &s : mechanics::whyHorn(o.teeth, error_rad).steps)
        a.why += fmt::format("{}: {} {} {}\n", s.name, s.value, s.how, s.from);
    a.json = {{"teeth_to_move", h->teethToMove},
              {"trim_deg", degrees(h->trim_rad)},
              {"step_deg", degrees(h->step_rad)}};
    return a;
}

Result<Answer> led(const LedOptions &o)
{
    Reading r;
    const double supply = r.take(o.supply, Dimension::Voltage, "--supply");
    const double forward = r.take(o.forward, Dimension::Voltage, "--forward");
    const double current = r.take(o.current, Dimension::Current, "--current");
    if (r.error())
        return tl::unexpected(*r.error());
    const auto l = power::ledResistor(supply, forward, current);
    if (!l)
        return tl::unexpected(l.error());
    const auto mA = [](double v) { return quantity(v, Unit::Milliampere, 1); };
    Answer a;
    a.text =
        fmt::format("{} exactly, {} is the next standard value: {} flow, {} in the resistor\n"
                    "leaving the forward volts out would claim {}\n",
                    quantity(l->exact_ohm, Unit::Ohm, 1), quantity(l->standard_ohm, Unit::Ohm, 1),
                    mA(l->real_A), quantity(l->resistor_W, Unit::Milliwatt, 0), mA(l->naive_A));
    a.why =
        fmt::format("R = (V − V_f) / I = ({} − {}) / {} = {}\nI = (V − V_f) / {} = {}\n"
                    "P = I² × R = {}\nnaive: V / R = {} / {} = {}\n",
                    volts(supply), volts(forward), mA(current),
                    quantity(l->exact_ohm, Unit::Ohm, 1), quantity(l->standard_ohm, Unit::Ohm, 1),
                    mA(l->real_A), quantity(l->resistor_W, Unit::Milliwatt, 1), volts(supply),
                    quantity(l->standard_ohm, Unit::Ohm, 1), mA(l->naive_A));
    a.json = {{"exact_ohm", l->exact_ohm},
              {"standard_ohm", l->standard_ohm},
              {"real_current_mA", l->real_A * 1000.0},
              {"resistor_power_mW", l->resistor_W * 1000.0},
              {"naive_current_mA", l->naive_A * 1000.0}};
    return a;
}

Result<Answer> regulator(const RegulatorOptions &o)
{
    Reading r;
    power::RegulatorSetup s;
    s.in_V = r.take(o.in, Dimension::Voltage, "--in");
    s.out_V = r.take(o.out, Dimension::Voltage, "--out");
    s.current_A = r.take(o.current, Dimension::Current, "--current");
    s.diode_V = r.takeIfGiven(o.drop, Dimension::Voltage, "--drop");
    if (r.error())
        return tl::unexpected(*r.error());
    const auto heat = power::regulatorHeat_W(s);
    if (!heat)
        return tl::unexpected(heat.error());
    Answer a;
    a.text = fmt::format("{} of heat\n", quantity(*heat, Unit::Watt, 3));
    a.why =
        fmt::format("P = (V_in − V_diode − V_out) × I = ({} − {} − {}) × {} = {}\n", volts(s.in_V),
                    volts(s.diode_V), volts(s.out_V), quantity(s.current_A, Unit::Milliampere, 1),
                    quantity(*heat, Unit::Watt, 4));
    std::vector<Finding> findings;
    if (*heat > power::warmRegulator_W) {
        const bool error = *heat > power::hotRegulator_W;
        findings.push_back(
            {"regulator-hot",
             error ? Severity::Error : Severity::Warning,
             "regulator",
             fmt::format(
                 "{} of heat; {} are borne without a heat sink.", quantity(*heat, Unit::Watt, 3),
                 quantity(error ? power::hotRegulator_W : power::warmRegulator_W, Unit::Watt, 1)),
             error ? "It cuts out, and starts again by itself." : "It gets too hot to touch.",
             "Take a lower supply, less current, or a heat sink.",
             {}});
    }
    a.text += findingsText(findings);
    a.json = {{"heat_W", *heat}, {"findings", findingsJson(findings)}};
    a.hasError = hasError(findings);
    return a;
}

Result<Answer> divider(const DividerOptions &o)
{
    Reading r;
    const double in = r.take(o.in, Dimension::Voltage, "--in");
    const double top = r.take(o.top, Dimension::Resistance, "--top");
    const double bottom = r.take(o.bottom, Dimension::Resistance, "--bottom");
    if (r.error())
        return tl::unexpected(*r.error());
    const auto out = power::dividerOut_V(in, top, bottom);
    if (!out)
        return tl::unexpected(out.error());
    Answer a;
    a.text = fmt::format("{}\n", fixed(*out, Unit::Volt, 2));
    a.why = fmt::format("V × R2 / (R1 + R2) = {} × {} / ({} + {}) = {}\n", volts(in),
                        quantity(bottom, Unit::Ohm, 1), quantity(top, Unit::Ohm, 1),
                        quantity(bottom, Unit::Ohm, 1), fixed(*out, Unit::Volt, 3));
    a.json = {{"out_V", *out}};
    return a;
}

Result<Answer> duty(const DutyOptions &o)
{
    Reading r;
    const double supply = r.take(o.supply, Dimension::Voltage, "--supply");
    const double drop = r.take(o.drop, Dimension::Voltage, "--drop");
    const double rated = r.take(o.rated, Dimension::Voltage, "--rated");
    if (r.error())
        return tl::unexpected(*r.error());
    const auto cap = power::dutyCap(supply, drop, rated);
    if (!cap)
        return tl::unexpected(cap.error());
    Answer a;
    a.text = fmt::format("{} of 255: {} on average at the motor, {} at full duty\n", cap->count,
                         fixed(cap->mean_V, Unit::Volt, 2), volts(cap->fullDutyMean_V));
    a.why = fmt::format("n = min(255, ⌊255 × V_rated / (V_supply − V_drop)⌋) = "
                        "⌊255 × {} / ({} − {})⌋ = {}\n",
                        volts(rated), volts(supply), volts(drop), cap->count);
    a.json = {{"max_duty_count", cap->count},
              {"mean_V_at_max", cap->mean_V},
              {"full_duty_mean_V", cap->fullDutyMean_V}};
    return a;
}

} // namespace badger::cli
