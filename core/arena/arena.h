// SPDX-License-Identifier: GPL-3.0-or-later
// A floor compiled for runs: what can be touched, what answers a ping, what lies under a spot.
//
// Metres; x to the right and y up as the plan is drawn. Names, texts and what is unknown to a run
// end here: things are indices, `name()` gives their words back. The ends of walls are looked at
// once: where a wall ends freely or two meet, a ping finds an outer edge from one side and an inner
// corner from the other.
#pragma once

#include "core/arena/lanes.h"
#include "core/base/result.h"
#include "core/floor/floor.h"

#include <string>
#include <vector>

namespace badger::arena
{

struct Segment {
    Vec a, b;
    Vec along;           ///< unit, from a to b
    double length = 0.0; ///< above 0
    int thing = 0;
    double echo = 1.0; ///< sense::boardEcho and its kin
    bool rough = false;
};

struct Round {
    Vec at;
    double radius = 0.0;
    int thing = 0;
};

/// Where faces end: freely, or at another's end.
struct End {
    Vec at;
    Vec first;           ///< unit, along the wall that ends here
    Vec second;          ///< along the other; nought where it ends freely
    bool joined = false; ///< two meet here
    bool square =
        false; ///< at right angles: what comes in between them goes back where it came from
    int thing = 0;
    double echo = 1.0;
};

struct Moving {
    Segment rest; ///< as it stands at the start
    Vec v;
    double begins_s = 0.0;
    double ends_s = 0.0;
    double vanishes_s = 0.0; ///< infinite: never
};

struct Track {
    std::vector<Vec> points; ///< a closed one ends where it begins
    double width = 0.0;
    double albedo = 0.0;
    int thing = 0;
    Vec low, high;              ///< its box
    WallLanes lanes;            ///< of its straight pieces
    std::vector<double> before; ///< by piece: the way up to it
    bool closed = false;
    bool round = false; ///< closed, or its ends are so near that a car comes round
    double length = 0.0;
};

struct Patch {
    Vec low, high;
    double albedo = -1.0;  ///< below 0: as the floor
    double ambient = -1.0; ///< below 0: as the floor
};

struct Arena {
    std::vector<Segment> segments;
    std::vector<Round> rounds;
    std::vector<End> ends;
    std::vector<int> roughFaces; ///< of `segments`: heard from the side as well
    std::vector<Moving> movers;
    std::vector<Track> tracks;
    std::vector<Patch> patches;
    std::vector<Segment> edge;      ///< of a table; empty: none
    std::vector<std::string> names; ///< by thing
    Vec size;
    double albedo = 0.85;
    double ambient = 0.1;
    bool rough = false;
    double air_degC = 20.0;
    // The same once more for quick queries, in step with the lists above.
    WallLanes walls;
    PointLanes edges;   ///< of `ends`: those from which a free edge is heard
    PointLanes corners; ///< of `ends`: square ones, heard from between their faces

    const std::string &name(int thing) const { return names[static_cast<size_t>(thing)]; }
};

/// Fails with OutOfRange, naming the thing, for a number that is none, a wall, post or line without
/// extent, a plan larger than 100 m, more than 20,000 pieces.
Result<Arena> compile(const floor::Floor &floor);

/// A mover's face at a time; empty where it has vanished.
bool at(const Moving &mover, double time_s, Segment &face);

/// A convex outline about the drive axle's middle, x ahead, counter-clockwise; and a circle round
/// it.
struct Outline {
    std::vector<Vec> corners;
    Vec middle;
    double radius = 0.0; ///< of the circle about `middle`
    double reach = 0.0;  ///< the farthest corner from the axle's middle
};

/// Where the car is: the middle of its drive axle, and the unit direction it looks to.
struct Pose {
    Vec at;
    Vec looks{1.0, 0.0};
};

/// What is nearest to the car.
struct Near {
    double distance_m = 1e9; ///< 0: it touches or overlaps
    int thing = -1;
    Vec onCar; ///< in the car's own frame
    Vec onFloor;
};
Near nearest(const Arena &arena, const Outline &outline, const Pose &pose, double time_s);
/// No farther than nearest() is away, and quicker: of the circle round the outline. Below 0 where a
/// thing is inside that circle.
double clearance_m(const Arena &arena, const Outline &outline, const Pose &pose, double time_s);

/// How fast a thing moves.
Vec velocity(const Arena &arena, int thing, double time_s);

/// How far a place is from one thing.
double toThing_m(const Arena &arena, int thing, Vec place, double time_s);

/// Is a spot on the table? True everywhere where there is no edge.
bool isOnTable(const Arena &arena, Vec spot);
/// How far a spot is from a table's edge; 1e9 where there is none.
double toEdge_m(const Arena &arena, Vec spot);

/// What lies under a round spot.
struct Ground {
    double albedo = 0.0; ///< mean over the spot
    double ambient = 0.0;
    double line = 0.0; ///< share of the spot that a line covers, 0 to 1
    bool table = true; ///< false: its middle is over the edge
};
Ground groundAt(const Arena &arena, Vec spot, double diameter_m);

/// How far a place is from the middle of the nearest line, left of the way it runs positive, and
/// how far along that line it is.
struct OnTrack {
    int track = -1; ///< there is none
    double away_m = 0.0;
    double along_m = 0.0;
};
OnTrack onTrack(const Arena &arena, Vec place);
/// The same of one of its lines.
OnTrack onTrack(const Arena &arena, int track, Vec place);

} // namespace badger::arena
