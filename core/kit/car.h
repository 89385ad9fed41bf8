// SPDX-License-Identifier: GPL-3.0-or-later
// What is one car? Its parts, where they sit, its wires, and what was measured on it.
//
// Plain values: this is what is saved. Every judgement about a car is a function elsewhere.
#pragma once

#include "core/base/extra.h"
#include "core/base/id.h"
#include "core/parts/catalogue.h"

#include <array>
#include <map>
#include <optional>
#include <string>
#include <string_view>
#include <vector>

// A car says which program it runs and which floor it is for; what they are, it does not know.
namespace badger::rules
{
struct Program;
}
namespace badger::floor
{
struct Floor;
}

namespace badger::kit
{

enum class Side { None, Left, Right };

/// Where a sensor sits and looks. Directions are the car's own: ahead is 0, left is positive.
struct Mount {
    double setBack_m = 0.0; ///< behind the car's foremost point, 0 or more
    double offset_m = 0.0;  ///< left of the centre line
    double height_m = 0.0;  ///< of the beam's axis over the floor
    double yaw_rad = 0.0;
    double tilt_rad = 0.0; ///< upwards is positive
    double play_rad = 0.0; ///< how far it can be turned by hand either way
    Extra extra{};
    bool operator==(const Mount &) const = default;
};

/// Turned farther than this, 11 degrees, a sensor looks to a side: its beam (7 to 8 degrees to each
/// side) has left the car's way, and what it reads is no gap in front of the car. A choice of ours.
inline constexpr double aheadWithin_rad = 0.19;

/// Which supply is meant to feed an input. It can be said before there is a wire; where it is not,
/// the wires say it.
struct Feed {
    std::string to;   ///< a terminal of the fed part, "VIN"
    std::string from; ///< what feeds it, "switch.OUT", "board.5V"
    Extra extra{};
    bool operator==(const Feed &) const = default;
};

/// Cells of another kind in the same holder. Never right, but seen: it has to be possible to say.
struct CellGroup {
    std::string partId;
    int cells = 0;
    Extra extra{};
    bool operator==(const CellGroup &) const = default;
};

/// One part as it is fitted to this car.
struct Instance {
    std::string id;     ///< "driver"; wires name it
    std::string partId; ///< an entry of the catalogue
    std::string label;  ///< what people call this one; empty: its id
    Side side = Side::None;
    std::optional<Mount> mount;
    std::vector<std::string> jumpers; ///< terminals held high by a jumper, "ENA"
    int cellsInSeries = 0;            ///< of a pack
    int cellsInParallel = 0;
    std::vector<CellGroup> otherCells;
    std::vector<Feed> feeds;
    std::string drivenBy;                ///< of a motor: the driver's channel, "driver.A"
    std::string carriedBy;               ///< the instance it rides on: a servo, a bracket
    std::optional<double> sweep_rad;     ///< of a servo: how far it looks to each side
    std::optional<double> hornError_rad; ///< of a servo: the turn its horn lacks at centre
    std::optional<double> resistor_ohm;  ///< of an LED: the one in series
    bool plain = false; ///< of a buzzer: it sounds by itself and is only switched on and off
    Extra extra{};
    bool operator==(const Instance &) const = default;
};

struct Wire {
    std::string from; ///< "driver.ENA"
    std::string to;   ///< "board.D5"
    std::string colour;
    Extra extra{};
    bool operator==(const Wire &) const = default;
};

/// The wiring as it stood when a change was finished, and why it was changed.
struct WiringRevision {
    int number = 1;
    std::string date; ///< 2026-11-19
    std::string reason;
    std::vector<Wire> wires;
    std::vector<std::string> jumpers; ///< "driver.ENA"
    std::map<std::string, std::string> programPins;
    Extra extra{};
    bool operator==(const WiringRevision &) const = default;
};

/// What was found at one step of the first power walk.
struct WalkEntry {
    std::string key;             ///< of the step, "volts:board.5V"
    std::optional<double> value; ///< as read, in the step's SI unit; none where it is a look
    bool asExpected = false;     ///< of a look: it was as it should be
    int revision = 0;            ///< of the wiring, when it was looked at
    std::string date;
    Extra extra{};
    bool operator==(const WalkEntry &) const = default;
};

enum class DeckShape { Rectangle, Disc, TwoDiscs };

struct Geometry {
    double length_m = 0.0; ///< foremost to rearmost point
    double width_m = 0.0;
    double track_m = 0.0;      ///< between the wheels' middles
    double axleToNose_m = 0.0; ///< drive axle to the foremost point
    DeckShape deck = DeckShape::Rectangle;
    double discRadius_m = 0.0; ///< of a disc deck
    double discsApart_m = 0.0; ///< of two discs: between their centres
    Extra extra{};
    bool operator==(const Geometry &) const = default;
};

/// Under which circumstances something was measured.
struct Circumstances {
    std::string date; ///< 2026-11-19
    std::string floor;
    double battery_V = 0.0; ///< at the pack, before the run
    Extra extra{};
    bool operator==(const Circumstances &) const = default;
};

struct SpeedReading {
    int pwm_counts = 0;
    double speed_mps = 0.0;
    Circumstances under;
    Extra extra{};
    bool operator==(const SpeedReading &) const = default;
};

/// How far a car rolls grows with speed in one of two ways; which one is found by trials.
enum class RollLaw {
    Electrical, ///< v * tau: the motor's own decay
    Friction    ///< v^2 / (2 a): a constant deceleration
};

struct RollOut {
    bool brake = true;       ///< motor shorted by the driver; otherwise left to coast
    double distance_m = 0.0; ///< mean of the trials
    double speed_mps = 0.0;  ///< at which it was measured
    RollLaw law = RollLaw::Friction;
    int trials = 0;
    Circumstances under;
    Extra extra{};
    bool operator==(const RollOut &) const = default;
};

struct RulerCheck {
    double error_m = 0.0; ///< greatest difference between ruler and reading
    int pairs = 0;
    Circumstances under;
    Extra extra{};
    bool operator==(const RulerCheck &) const = default;
};

struct Calibrations {
    std::vector<SpeedReading> speeds;
    std::vector<RollOut> rollOuts;
    std::optional<RulerCheck> ruler;
    Extra extra{};
    bool operator==(const Calibrations &) const = default;
};

/// What the car shall do, and where.
struct Mission {
    std::string behaviour;  ///< a key of kit/mission.h, "halt"
    Id<floor::Floor> floor; ///< of the workshop; empty where none is chosen
    Extra extra{};
    bool operator==(const Mission &) const = default;
};

/// From where to where a number of the program held, when that was last searched and kept.
struct FoundWindow {
    std::string value;          ///< "halt"
    std::optional<double> low;  ///< SI; empty: no place held
    std::optional<double> high; ///< empty where the ruler ended first
    double limit = 0.01;        ///< of the share of runs that fail
    double confidence = 0.95;
    int runs = 0;
    std::string date;  ///< 2026-11-19
    std::string floor; ///< as it was called
    std::string below; ///< what ended it, in words
    std::string above;
    std::string ground; ///< fingerprint of what it rests on (io/fingerprint.h)
    Extra extra{};
    bool operator==(const FoundWindow &) const = default;
};

struct Car {
    Id<Car> id;
    std::string name; ///< a label; each car of a workshop has its own
    std::string team;
    std::optional<Mission> mission;
    std::vector<Instance> parts;
    Geometry geometry;
    std::vector<Wire> wires;
    int wiringRevision = 1;                         ///< of the wires as they stand
    std::vector<WiringRevision> history;            ///< finished revisions, oldest first
    std::vector<WalkEntry> walk;                    ///< of the wires as they stand
    std::map<std::string, std::string> programPins; ///< terminal to pin: "ranger.TRIG" to "D8"
    Id<rules::Program> program;                     ///< of the workshop; empty where none is chosen
    std::optional<double> wantedGap_m;              ///< what the bench asks for at rest
    Calibrations calibrations;
    std::vector<std::string> ticks; ///< what has been ticked off while building, by key
    /// What its windows have to hold under besides what is proposed: "straight:angle=0deg..18deg".
    std::vector<std::string> conditions;
    std::vector<FoundWindow> windows; ///< one a value
    Extra extra{};

    const Instance *instance(std::string_view id) const;
    bool operator==(const Car &) const = default;
};

/// The same parts in the same places with the same wires, pins, name and mission: what the
/// judgement of a kit and of its wires rests on. Ticks, the walk, history and calibrations may
/// differ.
bool sameBuild(const Car &a, const Car &b);
/// The same build that runs the same program, measured alike: what its driving rests on.
bool sameDrive(const Car &a, const Car &b);

/// What people call a fitted part: its label, else its id.
const std::string &labelOf(const Instance &instance);

/// Where a part sits and looks: as it says itself, else as what carries it does. Null where neither
/// is known.
const Mount *mountOf(const Car &car, const Instance &fitted);

/// "driver.ENA" taken apart; both empty where there is no dot.
struct TerminalName {
    std::string instance;
    std::string terminal;
};
TerminalName splitTerminal(std::string_view name);

/// A charge state of a pack.
enum class Charge { Fresh, Nominal, NearEmpty };
inline constexpr std::array charges = {Charge::Fresh, Charge::Nominal, Charge::NearEmpty};
inline constexpr int chargeCount = 3;

/// Volts of one source without load: the sum of its cells, or a supply's volts. Empty where the
/// instance is no source. `of` picks typical, low or high figures.
enum class Bound { Typical, Low, High };
double at(const parts::Figure &figure, Bound bound);
std::optional<double> sourceVolts_V(const Instance &source, const parts::Catalogue &catalogue,
                                    Charge charge, Bound of = Bound::Typical);

} // namespace badger::kit
