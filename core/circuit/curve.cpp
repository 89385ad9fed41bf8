// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/circuit/curve.h"

#include <algorithm>
#include <cmath>

namespace badger::circuit
{

Curve::Point Curve::at(double v) const
{
    const auto &first = m_corners[0];
    if (v <= first.v)
        return {first.i + m_left_S * (v - first.v), m_left_S, 0};
    for (int k = 1; k < m_count; ++k) {
        const auto &a = m_corners[static_cast<size_t>(k) - 1];
        const auto &b = m_corners[static_cast<size_t>(k)];
        if (v <= b.v) {
            const double slope = (b.i - a.i) / (b.v - a.v);
            return {a.i + slope * (v - a.v), slope, k};
        }
    }
    const auto &last = m_corners[static_cast<size_t>(m_count) - 1];
    return {last.i + m_right_S * (v - last.v), m_right_S, m_count};
}

double crossing(double value, double step, double corner)
{
    constexpr double hair = 1e-9;
    const double way = corner + (step > 0.0 ? hair : -hair) - value;
    // Nearer than half a hair it has been passed already.
    return way / step > 0.0 && std::abs(way) > hair / 2.0 ? way / step : 2.0;
}

double Curve::nextCorner(double v, double step) const
{
    double least = 2.0;
    for (int k = 0; k < m_count; ++k)
        least = std::min(least, crossing(v, step, m_corners[static_cast<size_t>(k)].v));
    return least;
}

Curve Curve::resistor(double ohm)
{
    Curve c;
    c.m_left_S = c.m_right_S = 1.0 / ohm;
    return c;
}

Curve Curve::open()
{
    return resistor(1.0 / leak_S);
}

Curve Curve::cells(double emf_V, double ohm)
{
    Curve c = resistor(ohm);
    c.m_corners[0] = {emf_V, 0.0};
    return c;
}

Curve Curve::supply(double emf_V, double ohm, double limit_A)
{
    Curve c;
    c.m_count = 2;
    c.m_corners[0] = {emf_V - limit_A * ohm, -limit_A};
    c.m_corners[1] = {emf_V, 0.0};
    c.m_left_S = limit_A / emf_V;
    c.m_right_S = leak_S;
    return c;
}

Curve Curve::diode(double drop_V, double ohm)
{
    Curve c;
    c.m_corners[0] = {drop_V, leak_S * drop_V};
    c.m_left_S = leak_S;
    c.m_right_S = 1.0 / ohm;
    return c;
}

Curve Curve::twoWay(double drop_V, double ohm, double backDrop_V, double backOhm)
{
    Curve c;
    c.m_count = 2;
    c.m_corners[0] = {-backDrop_V, -leak_S * backDrop_V};
    c.m_corners[1] = {drop_V, leak_S * drop_V};
    c.m_left_S = 1.0 / backOhm;
    c.m_right_S = 1.0 / ohm;
    return c;
}

Curve Curve::load(double amps_A, double knee_V, double backDrop_V, double backOhm)
{
    Curve c;
    c.m_count = 3;
    c.m_corners[0] = {-backDrop_V, -leak_S * backDrop_V};
    c.m_corners[1] = {0.0, 0.0};
    c.m_corners[2] = {knee_V, amps_A + leak_S * knee_V};
    c.m_left_S = 1.0 / backOhm;
    c.m_right_S = leak_S;
    return c;
}

Curve Curve::turning(double amps_A, double ohm)
{
    Curve c;
    c.m_count = 2;
    c.m_corners[0] = {-amps_A * ohm, -amps_A};
    c.m_corners[1] = {amps_A * ohm, amps_A};
    c.m_left_S = c.m_right_S = leak_S;
    return c;
}

} // namespace badger::circuit
