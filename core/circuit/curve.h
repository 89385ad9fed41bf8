// SPDX-License-Identifier: GPL-3.0-or-later
// How much flows through one thing at which volts?
//
// Every two-ended thing of a car is a line of straight pieces that never falls: more volts never
// give less current. That is what makes a network of them have one solution (Duffin 1947), and what
// lets a search for it always end.
#pragma once

#include <array>

namespace badger::circuit
{

/// What flows where nothing should: the leak of an open contact or a blocked diode. Chosen so that
/// no net is left without any volts and no reading of a meter (10 Mohm) would show it.
inline constexpr double leak_S = 1e-9;

/// How far along a change by `step` a value is a nanovolt past a corner: above 0, and above 1 where
/// the step does not reach it.
double crossing(double value, double step, double corner);

/// Current in amperes as a function of the volts across, in the passive sense: positive volts from
/// the first to the second end drive a positive current from the first to the second through it.
class Curve
{
public:
    /// Current, slope and the number of the straight piece at `v` volts; any finite v.
    struct Point {
        double amps_A = 0.0;
        double slope_S = 0.0;
        int piece = 0;
    };
    Point at(double volts_V) const;
    /// How far along a change of volts the first corner is passed.
    double nextCorner(double volts_V, double step_V) const;

    /// Ohm's law; ohm above 0.
    static Curve resistor(double ohm);
    /// Nothing joins the ends but the leak.
    static Curve open();
    /// A cell or pack: E - I R, either way. The first end is plus.
    static Curve cells(double emf_V, double ohm);
    /// A supply that only gives: E - I R up to its limit; asked for more it sags and is down to
    /// nothing at twice its limit; it takes nothing back. That sagging is a choice of ours: what a
    /// supply does past its limit is its maker's.
    static Curve supply(double emf_V, double ohm, double limit_A);
    /// Lets current through from the first to the second end above `drop_V`, by `ohm`; back, the
    /// leak.
    static Curve diode(double drop_V, double ohm);
    /// Lets current through above `drop_V` one way and above `backDrop_V` the other: a half bridge
    /// with the diode beside it, a part that is fed backwards.
    static Curve twoWay(double drop_V, double ohm, double backDrop_V, double backOhm);
    /// Takes `amps_A` at `knee_V` and above, less below in proportion; backwards it conducts
    /// above `backDrop_V`.
    static Curve load(double amps_A, double knee_V, double backDrop_V, double backOhm);
    /// A motor that turns under its load: `amps_A` either way once the volts suffice, `ohm` below.
    static Curve turning(double amps_A, double ohm);

private:
    struct Corner {
        double v;
        double i;
    };
    static constexpr int most = 4;
    std::array<Corner, most> m_corners{};
    int m_count = 1;
    double m_left_S = 0.0;
    double m_right_S = 0.0;
};

} // namespace badger::circuit
