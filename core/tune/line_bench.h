// SPDX-License-Identifier: GPL-3.0-or-later
// Line sensors over their line: how much slack is there, and how fast may it be followed?
//
// Lengths across the way, in metres. Source: plane geometry of sensors over a straight line; the
// edge follower's loop is ψ' = −K (y + L ψ), y' = v ψ with a motor lag and a delay.
#pragma once

#include "core/base/result.h"

#include <optional>
#include <string>
#include <vector>

namespace badger::tune
{

/// Two sensors outside a line: (gap − width) / 2 each side. Refused: lengths not above 0 or over 1
/// m; a gap no wider than the line (Conflict).
Result<double> straddleSlack_m(double line_m, double gap_m);

/// Four sensors at ±inner and ±outer from the middle.
struct Strip {
    double inner_m = 0.0; ///< above 0
    double outer_m = 0.0; ///< above inner, up to 0.5
    double line_m = 0.0;  ///< width of each line, above 0, up to 0.5
};

enum class Steer { Straight, Left, Right, KeepTurning, Stop };
const char *name(Steer steer);

/// What the four sensors read while the car stands so far to the right of the middle.
struct Pattern {
    double from_m = 0.0; ///< of the offset
    double to_m = 0.0;
    std::string bits; ///< outer left, inner left, inner right, outer right: 1 on a line
    Steer steer = Steer::Straight;
};

struct Lane {
    double bestInnerWidth_m = 0.0; ///< a + b
    double bestSlack_m = 0.0;      ///< (b − a) / 2
    // With a lane:
    std::optional<double> slack_m;  ///< min(W/2 − a, b − W/2); none without a lane
    bool works = true;              ///< 2a < W < 2b
    bool seesLinesAtCentre = false; ///< its outer sensors stand on the lines: w ≥ b − W/2
    /// Between these no sensor sees a line, and only the last turn is left to go by.
    std::optional<double> lostFrom_m;
    std::optional<double> lostTo_m;
    double wrongLineBeyond_m = 0.0; ///< an inner sensor meets the other line: the car turns out
    std::vector<Pattern> patterns;
};
/// Between two lines with `inner_m` of room (the best width without one). A line seen on the right
/// steers left.
Result<Lane> lane(const Strip &strip, std::optional<double> laneWidth_m);

struct SingleLine {
    bool innerPairOn = false; ///< 2a < w < 2b: centred reads the inner pair; otherwise none
    bool works = true;
    double slack_m = 0.0;    ///< min(w/2 − a, b − w/2), or a − w/2
    double lostFrom_m = 0.0; ///< beyond it nothing is seen any more
    std::vector<Pattern> patterns;
};
/// One line under the strip. A line seen on the right steers right.
Result<SingleLine> singleLine(const Strip &strip);

struct Edge {
    double ahead_m = 0.0;   ///< of the sensor before the axle, above 0
    double spot_m = 0.0;    ///< its spot's diameter, above 0
    double track_m = 0.0;   ///< above 0
    double speed_mps = 0.0; ///< above 0, up to 5
    double share =
        0.0; ///< k: how much of the speed the wheels differ at full error, above 0, up to 1
    double lag_s = 0.0;   ///< of the motors, 0 or more
    double delay_s = 0.0; ///< of the loop, 0 or more
};
struct EdgeFollowing {
    double gain_1_ms = 0.0;       ///< K = (2v / b) k 8 / (π d)
    double damping = 0.0;         ///< ζ = (L / 2) √(K / v): does not depend on the speed
    double phaseMargin_rad = 0.0; ///< negative: unstable
    /// Greatest speed at which this share keeps 30 degrees; none where none does.
    std::optional<double> topSpeed_mps;
    double lowGainLimit_mps = 0.0; ///< L / (lag + delay): infinite with neither
    double leastRadius_m = 0.0;    ///< b / (2k)
};
inline constexpr double askedMargin_deg = 30.0;
Result<EdgeFollowing> edgeFollowing(const Edge &edge);

} // namespace badger::tune
