// SPDX-License-Identifier: GPL-3.0-or-later
// Turns, straightness, servo dwell, trimmers: calibrations of a few figures each.
#pragma once

#include "core/base/result.h"
#include "core/base/say.h"

#include <array>
#include <optional>
#include <vector>

namespace badger::tune
{

// ------------------------------------------------------------------------------------------ turns

/// One turn that was commanded for a time.
struct TurnPair {
    double time_s = 0.0;    ///< above 0, up to 60
    double angle_rad = 0.0; ///< above 0, up to 20 turns
};

/// angle = rate (time − dead time). Source: a constant rate after the motors have taken hold.
struct TurnFit {
    double rate_rad_s = 0.0;
    /// None with one duration: it cannot be told from the rate. Below zero: it turns on after the
    /// command has ended, by more than it was late to begin.
    std::optional<double> dead_s;
    std::optional<double> rateError_rad_s; ///< from three turns on
    std::optional<double> deadError_s;
    int turns = 0;
    double longest_s = 0.0; ///< a longer turn is carried on
    double shortest_s = 0.0;
};
/// Refused: no turn (Missing), values outside their ranges (OutOfRange), a longer time that turned
/// less (Malformed).
Result<TurnFit> fitTurn(const std::vector<TurnPair> &turns);
/// Time for an angle: angle / rate + dead time.
double timeFor_s(const TurnFit &fit, double angle_rad);

// ----------------------------------------------------------------------------------- straightness

/// How far a car went aside, driving straight by command. To one side positive.
struct DriftRun {
    double end_m = 0.0;           ///< aside at the end
    std::optional<double> half_m; ///< aside half way: a wrong start then cancels
    double length_m = 0.0;        ///< along the line, above 0, up to 50
    double track_m = 0.0;         ///< between the wheels, above 0, up to 1
};
struct Straightness {
    double curvature_1_m = 0.0; ///< 1 / R, with the drift's sign
    double slowOverFast = 1.0;  ///< of the wheels' speeds: slow the wheel opposite the drift so far
    bool exactArc = false;      ///< outside the small-angle form's range: the circle was used
    double smallAngle = 1.0;    ///< what the small-angle form says
};
/// 1/R = 2 y / L², or 4 (y − 2 y_half) / L² with a reading half way, and slow/fast = 1 − b / R,
/// while the drift is under a twentieth of the length and b / R under a twentieth. Beyond that the
/// circle itself: R = (L² + y²) / (2 y), or through start, middle and end, and (R − b/2) / (R +
/// b/2). Refused: values outside their ranges, a drift beyond the length, a circle no wider than
/// the track.
Result<Straightness> straightness(const DriftRun &run);
/// The faster wheel's new count: n0 + (n − n0) · ratio, n0 the counts at which the wheels begin to
/// turn.
double trimmedCounts(double counts, double deadBand_counts, double slowOverFast);

// ------------------------------------------------------------------------------------------ servo

/// Angle · (seconds for 60 degrees) / 60 + settling. Refused: an angle outside 0 to 360 degrees,
/// a speed not above 0 or over 10 s, a settling outside 0 to 10 s.
Result<double> dwell_s(double angle_rad, double for60_s, double settle_s);

/// The sweep's steps and the long way back: the fly-back is the one that is forgotten.
struct SweepDwell {
    double step_s = 0.0;
    double flyBack_s = 0.0;
    double wholeSweep_s = 0.0; ///< every step and the fly-back
};
Result<SweepDwell> sweepDwell(double from_rad, double to_rad, int looks, double for60_s,
                              double settle_s);

// ---------------------------------------------------------------------------------------- trimmer

enum class TrimmerAdvice { TurnDown, TurnUp, Right, Inverted };
const char *name(TrimmerAdvice advice);
/// The module's reflection light over a light and over a dark surface: (on, on) turn down until it
/// goes out on dark; (off, off) turn back until it comes on on light; (on, off) right; (off, on)
/// the sense is inverted or the surfaces were exchanged.
TrimmerAdvice trimmerAdvice(bool onLight, bool onDark);
Say words(TrimmerAdvice advice);

/// The trimmer's positions, 0 to 1 of its turn, at which the light changes over either surface.
struct TrimmerSetting {
    double position = 0.0;    ///< half way between both
    double margin = 0.0;      ///< to either
    double reference_V = 0.0; ///< at that position: position · supply
};
/// Refused: positions outside 0 to 1 (OutOfRange), both the same (Conflict: the surfaces cannot be
/// told apart at this height; lower, shade or change the floor).
Result<TrimmerSetting> trimmerSetting(double changesOverLight, double changesOverDark,
                                      double supply_V);

} // namespace badger::tune
