// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/sense/reflectance.h"

#include <algorithm>
#include <cmath>

namespace badger::sense
{

double reflectedCounts(const ReflectanceFigures &f, double albedo, double height_m, double ambient)
{
    const double away_m = height_m + f.offset_m;
    return f.dark_counts + ambient * f.ambient_counts +
           f.gain_countsM2 * albedo / (away_m * away_m);
}

int reflectanceReading(const ReflectanceFigures &f, double albedo, double height_m, double ambient,
                       Noise &noise)
{
    const double counts =
        reflectedCounts(f, albedo, height_m, ambient) + f.noise_counts * noise.bell();
    return static_cast<int>(std::floor(std::clamp(counts, 0.0, double(mostCounts)) + 0.5));
}

bool seesLight(const ReflectanceFigures &f, double albedo, double height_m, double ambient,
               double reference_share, Noise &noise)
{
    const double counts =
        reflectedCounts(f, albedo, height_m, ambient) + f.noise_counts * noise.bell();
    return std::min(counts, double(mostCounts)) > reference_share * mostCounts;
}

} // namespace badger::sense
