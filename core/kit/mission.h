// SPDX-License-Identifier: GPL-3.0-or-later
// What shall the car do, what does it need for that, and what is still missing?
#pragma once

#include "core/base/say.h"
#include "core/kit/assembly.h"

#include <string>
#include <string_view>
#include <vector>

namespace badger::kit
{

enum class Family { Avoidance, Reflectance, Line };
const char *name(Family family); ///< "keeps clear of things", "reads what comes back" ...

/// What a behaviour asks for, in terms of what sits where.
enum class Want {
    RangerAhead,     ///< a ranger that looks ahead, fixed or at rest
    RangerOnServo,   ///< a ranger that a pan servo carries
    SideRangers,     ///< rangers fixed to look left and right, besides the one ahead
    EdgeSensor,      ///< a sensor that looks down ahead of the front contact
    SideReflectance, ///< a reflectance sensor that looks at a wall or a hand
    TwoInfrared,     ///< two digital infrared modules over the floor
    OneReflectance,  ///< an analogue reflectance sensor over the floor
    OneInfrared,     ///< one digital infrared module over the floor, or an analogue one
    FourInfrared,    ///< a strip of four pairs, or four modules
    Board,
    NoBoard, ///< sensors drive the driver themselves
    Drive    ///< a motor each side with its driver, or two drive servos; wheels; a source
};

struct Behaviour {
    const char *key;  ///< "halt"; what files hold
    const char *name; ///< "halt"
    Family family;
    const char *line;  ///< one plain line
    const char *floor; ///< what it is tried on, "any open floor with something to stop for"
    std::vector<Want> wants;
};

const std::vector<Behaviour> &behaviours();
/// Null for a key that is none.
const Behaviour *behaviour(std::string_view key);

/// One thing the behaviour needs on this car.
struct Need {
    Want want = Want::Drive;
    Say what;   ///< "a ranger on a pan servo"
    Say reason; ///< "it looks right and left before it chooses"
    bool met = false;
    std::vector<std::string> by;      ///< the fitted parts that meet it
    Say gap;                          ///< what is missing; empty where it is met
    std::vector<std::string> partIds; ///< catalogue parts that would fill the gap, best first
};
/// Everything the car's mission needs; empty where it has none.
std::vector<Need> needs(const Assembly &car);

/// How many pins the fitted parts ask for, and what the board has free of serial.
struct PinBudget {
    int needed = 0;
    int pwmNeeded = 0;      ///< speed lines
    int analogueNeeded = 0; ///< analogue outputs
    int has = 0;
    int pwmHas = 0;
    int analogueHas = 0;
    std::vector<Say> counted; ///< "driver: 6", "ranger: 2"
};
PinBudget pinBudget(const Assembly &car);

} // namespace badger::kit
