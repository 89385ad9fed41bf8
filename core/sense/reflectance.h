// SPDX-License-Identifier: GPL-3.0-or-later
// What does a reflectance sensor read over a surface, and when does a digital one switch?
//
// A pair of infrared emitter and receiver over a surface of some albedo. The light that comes back
// falls with the square of the distance, measured from a point a little behind the part's face:
//
//     counts = dark + ambient · a + gain · albedo / (height + c)²
//
// cut to what the board's converter gives, 0 to 1023. A digital module compares the same volts with
// its trimmer's. Source: the inverse square law for a small spot; the offset c is what makes it fit
// close up, and is found by a fit (tune/reflectance_fit.h).
#pragma once

#include "core/base/noise.h"

namespace badger::sense
{

inline constexpr int mostCounts = 1023; ///< of a ten-bit converter

struct ReflectanceFigures {
    double gain_countsM2 = 0.0;  ///< above 0: counts times square metres, at albedo 1
    double offset_m = 0.009;     ///< c, 0 or more
    double dark_counts = 0.0;    ///< with nothing before it and no light about
    double ambient_counts = 0.0; ///< what full ambient light adds
    double noise_counts = 0.0;   ///< deviation of one reading
};

/// Before noise and before it is cut to what the converter gives. `albedo` and `ambient` 0 to 1,
/// `height_m` 0 or more.
double reflectedCounts(const ReflectanceFigures &figures, double albedo, double height_m,
                       double ambient);

/// One whole reading, 0 to 1023. Draws one noise.
int reflectanceReading(const ReflectanceFigures &figures, double albedo, double height_m,
                       double ambient, Noise &noise);

/// Does the comparator of a digital module see light? `reference_share` is its trimmer's setting,
/// 0 to 1 of the module's supply; 1023 counts are the whole supply. Draws one noise.
bool seesLight(const ReflectanceFigures &figures, double albedo, double height_m, double ambient,
               double reference_share, Noise &noise);

} // namespace badger::sense
