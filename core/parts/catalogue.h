// SPDX-License-Identifier: GPL-3.0-or-later
// What can a part do, and where does each figure come from?
//
// Parts are data: they stand in data/catalogue/parts.json and, for a person's own parts, in the
// workshop file. Names are generic.
#pragma once

#include "core/base/extra.h"
#include "core/base/pieces.h"
#include "core/base/result.h"

#include <map>
#include <memory>
#include <optional>
#include <string>
#include <string_view>
#include <unordered_map>
#include <vector>

namespace badger::parts
{

/// A figure of a part: what is typical, the range it is met in, and where that comes from.
struct Figure {
    double typical = 0.0;
    double low = 0.0;
    double high = 0.0;
    std::string source; ///< "typical for this kind; check your maker's sheet"
    Extra extra{};

    bool operator==(const Figure &) const = default;
};

enum class Kind {
    Board,
    Driver,
    Motor,
    Wheel,
    Support,
    Cell,
    Ranger,
    Link, ///< switch, fuse, diode: what stands in a lead
    Rail,
    Supply,      ///< adapter, bank, port: volts from outside the car's cells
    Regulator,   ///< linear
    Divider,     ///< two resistors that bring a signal down
    Servo,       ///< turns to an angle
    DriveServo,  ///< turns on and on: a motor with its driver inside
    Infrared,    ///< emitter, receiver, comparator: light or dark
    Strip,       ///< bare emitter and receiver pairs in a row
    Reflectance, ///< how much comes back, as a number
    Light,       ///< a light-dependent resistor in a divider
    Button,      ///< a push button with its resistor on a board: high or low while pressed
    Buzzer,
    Led,
    Resistor,
    Deck,
    Fastener, ///< screws, standoffs, ties, tape
    Jumper    ///< a loose wire
};

/// What a terminal is for, named from the part's own side.
enum class Role {
    Ground,
    SupplyIn,   ///< needs a voltage within its window
    SupplyOut,  ///< gives `source_V`
    Pin,        ///< a board's pin
    Trigger,    ///< a ranger's input that starts a ping
    Echo,       ///< a ranger's output whose pulse length is the echo time
    Direction,  ///< a driver's direction input
    Enable,     ///< a driver's speed input; high, PWM or jumpered, never floating
    MotorOut,   ///< a driver's output to a motor
    Lead,       ///< a motor's lead
    Plus,       ///< a pack's positive end
    Minus,      ///< a pack's negative end
    Through,    ///< a link's end or a rail: it joins what is wired to it
    Signal,     ///< an input that one pin drives: a servo, a buzzer, an LED
    DigitalOut, ///< high or low, for a pin to read
    AnalogueOut ///< a voltage, for an analogue pin to read
};

struct Window {
    double low_V = 0.0;
    double high_V = 0.0;
    Extra extra{};
    bool operator==(const Window &) const = default;
};

struct Terminal {
    std::string name; ///< "D5", "ENA"
    Role role = Role::Pin;
    std::optional<Window> window; ///< of a SupplyIn
    double source_V = 0.0;        ///< of a SupplyOut
    std::string fedBy;            ///< of a SupplyOut: the SupplyIn it is made from
    double needs_V = 0.0;         ///< of a SupplyOut: least volts at `fedBy`
    std::string channel;          ///< of a driver's Direction, Enable, MotorOut: "A"
    std::string output;           ///< of a Direction: the MotorOut it drives high
    bool pwm = false;             ///< of a Pin: it can; of a Direction: it takes it as speed
    bool analogue = false;        ///< of a Pin: it can read a voltage
    bool motors = false;          ///< of a SupplyIn: what the motors run on
    bool serial = false;          ///< of a Pin: used while a program is loaded
    bool bootLight = false;       ///< of a Pin: blinks while the board starts
    std::string timer;            ///< of a Pin with PWM: the timer behind it, "T1"
    std::string pwmChannel;       ///< of a Pin with PWM: pins of one channel have one duty, "0"
    std::string bus;              ///< of a Pin: its line of the two-wire bus, "data" or "clock"
    bool jumper = false;          ///< of an Enable: a jumper can hold it high
    int holes = 0;                ///< of a Through: wires that fit in; 0: as many as one likes
    Extra extra{};

    bool operator==(const Terminal &) const = default;
};

/// One row of a driver's truth table, for one channel.
struct TruthRow {
    bool enabled = false;
    std::string inputs; ///< levels of the channel's direction inputs in terminal order, "10"
    std::string does;   ///< "drive" (towards the input that is high), "brake" or "coast"
    Extra extra{};

    bool operator==(const TruthRow &) const = default;
};

/// A hole to drill for a part, from the part's middle: x ahead, y to the left.
struct Hole {
    double x_m = 0.0;
    double y_m = 0.0;
    double diameter_m = 0.0;
    Extra extra{};
    bool operator==(const Hole &) const = default;
};

/// So many of another part.
struct Count {
    std::string partId;
    int count = 0;
    Extra extra{};
    bool operator==(const Count &) const = default;
};

/// A library that takes a board's timer, and with it the PWM of that timer's pins.
struct Taking {
    std::string library; ///< "servo", "tone"
    std::string timer;   ///< "T1"
    Extra extra{};
    bool operator==(const Taking &) const = default;
};

struct Part {
    std::string id;   ///< "dual-bridge-module"
    std::string name; ///< "dual bridge module"
    Kind kind = Kind::Link;
    std::vector<Terminal> terminals;
    std::map<std::string, Figure> figures; ///< keyed with the unit, "stall_A"
    std::vector<TruthRow> truth;           ///< of a driver
    std::vector<Taking> libraries;         ///< of a board
    /// Of a board: its program makes speeds by the clock on any pin, with or without PWM behind it.
    bool clockPulses = false;
    std::string
        shape; ///< of a shaft or a bore: "double-D", "D", "spline"; of a bare driver: "chip"
    /// Of an Infrared "light-high" or "light-low", of a Button "pressed-high" or "pressed-low".
    std::string sense;
    std::vector<Hole> holes;      ///< by which it is fixed to a deck
    std::vector<Count> fasteners; ///< that one of it takes
    Extra extra{};

    const Terminal *terminal(std::string_view terminalName) const;
    const Figure *figure(std::string_view key) const; ///< null where the part has none
    bool operator==(const Part &) const = default;
};

/// Parts by id. A workshop's own parts stand before the shipped ones.
/// Copies share their parts: a copy costs a pointer, and what find() gave stays as long as one of
/// them is there.
class Catalogue
{
public:
    Catalogue() : Catalogue(std::vector<Part>{}) {}
    explicit Catalogue(std::vector<Part> parts);

    const Part *find(std::string_view id) const;
    const std::vector<Part> &parts() const { return m_all->parts; }
    /// This catalogue with `own` before it; an own part hides a shipped one of the same id.
    Catalogue with(const Pieces<Part> &own) const;

private:
    struct All {
        std::vector<Part> parts;
        std::unordered_map<std::string, size_t> index; ///< by id, the first of its name
    };
    std::shared_ptr<const All> m_all;
};

/// The figures without which a part of this kind is not described at all, with their unit in the
/// name. The reader refuses a part that lacks one.
const std::vector<std::string_view> &requiredFigures(Kind kind);

/// The figures that the judgement of a kit asks for besides. A part may lack them: what rests on
/// them is then named as missing, and never taken as zero.
const std::vector<std::string_view> &wantedFigures(Kind kind);

/// One plain phrase for a figure, "stall current at rated volts"; the key itself for one that is
/// a person's own.
std::string figureName(std::string_view key);

inline constexpr int kindCount = static_cast<int>(Kind::Jumper) + 1;
inline constexpr int roleCount = static_cast<int>(Role::AnalogueOut) + 1;

/// The word used in files, "board", "driver" and so on, and back.
const char *name(Kind kind);
std::optional<Kind> kindNamed(std::string_view word);
const char *name(Role role);
std::optional<Role> roleNamed(std::string_view word);

} // namespace badger::parts
