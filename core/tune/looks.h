// SPDX-License-Identifier: GPL-3.0-or-later
// Records that are more than one fit: a light resistor, a servo's dwell, sensors over their line.
#pragma once

#include "core/tune/fits_of.h"
#include "core/tune/line_bench.h"

namespace badger::tune
{

/// A light resistor between bright and shaded, and what the room itself reads.
///
/// It stands in a divider. Where bright reads high, it stands above its partner and R / partner =
/// (1023 − counts) / counts; where bright reads low, below it, and the ratio is turned round. The
/// partner that spreads both farthest is √(R_bright · R_shaded). Source: the divider's law, its
/// difference derived by the partner and set to 0.
struct LampLook {
    Surfaces clouds;
    std::optional<Spread> room;
    /// From the threshold to the nearest reading of the room, on the side where its mean stands;
    /// negative: the room reads now one, now the other.
    std::optional<double> roomMargin;
    bool roomIsLight = false;
    /// So many times the fitted partner; none where a mean stands at the converter's end.
    std::optional<double> bestPartner;
    std::optional<double> partner_ohm; ///< fitted, where it was said
    std::optional<double> light_ohm;   ///< of the light resistor, where its partner was said
    std::optional<double> dark_ohm;
};
/// `threshold`: where the line was drawn by hand, else half way. Refused as surfacesOf().
Result<LampLook> lampOf(const Record &record);
/// A partner farther off than this factor is worth changing: a choice of ours.
inline constexpr double partnerFactor = 2.0;

/// How long a servo takes for a step, from steps that were timed:
///     time = angle · (time for 60 degrees) / 60 + settling
struct DwellFit {
    double for60_s = 0.0;
    std::optional<double> settle_s; ///< none with one angle: it cannot be told from the rate
    int steps = 0;
    double longest_rad = 0.0; ///< a longer step is carried on
};
/// Time for a step; the settling is in the rate where it is not known.
double stepTime_s(const DwellFit &fit, double angle_rad);
/// From "step" stretches. Refused: none (Missing), angles or times outside 0 to 360 degrees and 0
/// to 10 s (OutOfRange), a longer step that took less time (Malformed).
Result<DwellFit> dwellOf(const Record &record);

/// Sensors over their line: which arrangement it is follows from how many there are.
struct LineLook {
    enum class Kind {
        Edge,     ///< one sensor on the edge of the line
        Straddle, ///< two, or the outer two of three, outside a line
        Lane,     ///< four between two lines
        Single    ///< four over one line
    };
    Kind kind = Kind::Edge;
    std::vector<double> sensors_m; ///< from the middle to the left, rising
    double line_m = 0.0;
    std::optional<double> room_m;
    std::optional<double> spot_m;
    std::optional<double> slack_m; ///< none of an edge
    bool works = true;
    std::optional<double> lostFrom_m;
    std::optional<double> wrongLineBeyond_m;
    std::vector<Pattern> patterns; ///< of four
    double skew_m = 0.0;           ///< how far the middle of the sensors is off the car's
};
/// Sensors that lie farther off their middle than this are said: a choice of ours.
inline constexpr double mostSkew_m = 0.002;
/// Refused: no sensors or no line's width (Missing), more than four sensors or five (Unsupported:
/// Conflict), what the line calculators refuse.
Result<LineLook> lineOf(const Record &record);

/// Where the trimmer's light changes over either surface, and half way. Missing unless both were
/// taken.
Result<TrimmerSetting> trimmerSettingOf(const Record &record);
/// How far the car could be lifted before the light over the light surface went out.
std::optional<double> liftOf(const Record &record);

/// Distances that the fit reads off another surface, against the true ones.
struct OtherSurface {
    double truth_m = 0.0;
    double counts = 0.0;
    std::optional<double> read_m; ///< none where it gives no number
};
std::vector<OtherSurface> otherSurfaceOf(const Record &record, const ReflectanceFit &fit);

/// What medians would make of the unsteadiest burst of a record: deviation from reading to reading
/// (robust) of one, of three, of five, with how many wild ones are left. Empty where no burst has
/// ten readings.
struct MedianLine {
    int of = 1;
    double jitter = 0.0; ///< in the channel's unit
    int wild = 0;        ///< still far off
    int none = 0;
};
std::vector<MedianLine> mediansOf(const Burst &burst);
/// The stretch whose burst is the unsteadiest; null where none has ten readings.
const Stretch *unsteadiest(const Record &record);

} // namespace badger::tune
