// SPDX-License-Identifier: GPL-3.0-or-later
// Places and directions on a floor.
#pragma once

#include <cmath>

namespace badger::arena
{

struct Vec {
    double x = 0.0;
    double y = 0.0;
    bool operator==(const Vec &) const = default;
};
inline Vec operator+(Vec a, Vec b)
{
    return {a.x + b.x, a.y + b.y};
}
inline Vec operator-(Vec a, Vec b)
{
    return {a.x - b.x, a.y - b.y};
}
inline Vec operator*(double s, Vec a)
{
    return {s * a.x, s * a.y};
}
inline double dot(Vec a, Vec b)
{
    return a.x * b.x + a.y * b.y;
}
inline double cross(Vec a, Vec b)
{
    return a.x * b.y - a.y * b.x;
}
inline double length(Vec a)
{
    return std::sqrt(dot(a, a));
}
/// `v` turned by the angle whose direction is `by`.
inline Vec turned(Vec v, Vec by)
{
    return {v.x * by.x - v.y * by.y, v.x * by.y + v.y * by.x};
}

} // namespace badger::arena
