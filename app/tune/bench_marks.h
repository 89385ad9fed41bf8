// SPDX-License-Identifier: GPL-3.0-or-later
// What the pictures of the bench share.
#pragma once

#include "app/theme/theme.h"

#include <QString>
#include <cmath>

namespace badger::app
{

inline constexpr double fullScale = 1023.0; ///< counts of a ten-bit converter

inline QString counts(double value)
{
    return QString::number(value, 'f', value == std::floor(value) ? 0 : 1);
}

/// The lighter of two tones for the light surface: a mat is no darker in the dark palette.
inline QColor surfaceColour(const Theme &theme, bool isLight, Tone one, Tone other)
{
    const auto a = theme.color(one);
    const auto b = theme.color(other);
    return (a.lightness() > b.lightness()) == isLight ? a : b;
}

} // namespace badger::app
