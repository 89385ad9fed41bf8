// SPDX-License-Identifier: GPL-3.0-or-later
// The electrical network of one car, and its volts and amps in any state.
//
// Its nodes are the conductors: wires, and the ground pins of one part. Everything between them is
// a branch: cells and supplies (as they are wired: in series, in parallel, reversed), switches,
// fuses, diodes, resistors and dividers wherever they stand, regulators, the halves of bridges,
// motors, lights, the output stages of pins and sensors, and each part's own current.
//
// Figures that a part lacks leave its branch open; the power tree names them. Choices of ours,
// where no figure of the catalogue says it, stand with their names in car_network.cpp.
#pragma once

#include "core/circuit/network.h"
#include "core/nets/nets.h"

#include <map>
#include <optional>
#include <string>
#include <vector>

namespace badger::circuit
{

inline constexpr double alive_V = 2.0; ///< the least a driver's logic does anything with

enum class Moving {
    Idle,    ///< bridges as their inputs say, servos at rest
    Running, ///< motors turn under their load
    Stalled  ///< every motor and servo is held fast
};
enum class Figures {
    Typical,
    Least, ///< weakest cells, greatest currents, drops and resistances: the least volts
    Most,  ///< strongest cells, smallest currents and drops: the most volts
    Greedy ///< strongest cells, smallest drops and resistances, greatest currents: the most amps
};
/// What an output does.
enum class Level { Low, High, Open };

struct Conditions {
    kit::Charge charge = kit::Charge::Nominal;
    Moving moving = Moving::Running;
    Figures figures = Figures::Typical;
    bool switched = true; ///< switches are closed
    /// Every bridge that has a supply and is not held off drives its motors, whatever its direction
    /// inputs say; without it each bridge does what its inputs say.
    bool driven = false;
};

/// What stands between two nodes.
enum class What {
    Source, ///< from plus to minus
    Link,   ///< switch, fuse, diode
    Resistor,
    Own,   ///< what a part takes for itself, from its supply to its ground
    Upper, ///< half of a bridge: from the motor supply to the output
    Lower, ///< from the output to ground
    Motor, ///< from lead A to lead B
    Light,
    PinHigh, ///< output stage of a pin: from its rail to the pin
    PinLow,  ///< from the pin to ground
    SensorHigh,
    SensorLow,
    Clamp, ///< the diode from a pin to its rail, from ground to a pin
    Jumper
};

/// Index into Nets::all(); none: a place inside a part that has no terminal.
inline constexpr size_t noMember = static_cast<size_t>(-1);

struct Element {
    What what = What::Resistor;
    const kit::Instance *fitted = nullptr;
    const parts::Part *part = nullptr;
    size_t from = noMember;
    size_t to = noMember;
    size_t output = noMember; ///< of an output stage: its index among outputs()
};

/// Something that can be told to be high or low.
struct Output {
    size_t member = 0;
    bool pin = false; ///< of a board; else a sensor's
};

/// What an input sees.
enum class Seen { Low, High, Between, Open };

struct Answer {
    bool solved = false;  ///< the network was
    bool settled = false; ///< and the bridges do what their inputs then say
    Solution solution;
    std::vector<int> islands;  ///< by node: nodes that more than a leak joins have one number
    std::vector<Level> halves; ///< what each motor output does, by its place in motorOutputs()
};

class CarNetwork
{
public:
    /// `nets` has to outlive it.
    explicit CarNetwork(const nets::Nets &nets);

    const nets::Nets &nets() const { return m_nets; }
    const std::vector<Element> &elements() const { return m_elements; } ///< one a branch
    const std::vector<Element> &regulators() const { return m_regulators; }
    const std::vector<Output> &outputs() const { return m_outputs; }
    const std::vector<size_t> &motorOutputs() const { return m_motorOutputs; }

    /// `levels` by output; those beyond its end are open. `before`: an answer to start from.
    Answer solve(const Conditions &conditions, const std::vector<Level> &levels = {},
                 const Answer *before = nullptr) const;

    /// With the halves of the bridges told from outside, whatever their inputs say.
    Answer solveWith(const Conditions &conditions, const std::vector<Level> &levels,
                     const std::vector<Level> &halves, const Answer *before = nullptr) const;

    /// Every bridge on, its first output high.
    std::vector<Level> allDriven() const;

    /// The network of a state with the bridges' halves as given, for whoever wants to solve it in
    /// another way.
    Network network(const Conditions &conditions, const std::vector<Level> &levels,
                    const std::vector<Level> &halves) const;

    int nodeOf(size_t member) const { return member == noMember ? -1 : m_nodeOf[member]; }
    /// Volts of a terminal over the reference; empty where nothing is joined to it.
    std::optional<double> volts_V(const Answer &answer, size_t member) const;
    /// Volts of a terminal over its own part's ground, or the reference where it has none.
    std::optional<double> ownVolts_V(const Answer &answer, size_t member) const;
    /// Something conducts between it and the reference, more than a leak.
    bool isHeld(const Answer &answer, size_t member) const;
    /// More than a leak joins a part's terminal to its own ground, be that apart from the others.
    bool hasGround(const Answer &answer, size_t member) const;
    /// Open where it is not held, or its own ground is not.
    Seen seen(const Answer &answer, size_t input) const;
    /// The ground terminal of a member's part; noMember where it has none.
    size_t groundOf(size_t member) const;
    /// The rail that the logic of a member's part lives on; noMember where it is inside.
    size_t logicOf(size_t member) const;
    /// The terminal by which a member's part gets its own current; noMember where it takes none.
    size_t ownSupplyOf(size_t member) const;

private:
    friend class Maker;
    struct Bridge {
        const kit::Instance *fitted;
        const parts::Part *part;
        std::string channel;
        size_t enable = noMember;
        std::vector<size_t> directions; ///< in terminal order
        std::vector<size_t> outputs;    ///< places in m_motorOutputs
    };
    std::vector<Level> halvesFor(const Answer &answer, bool driven,
                                 const std::vector<Level> &levels) const;

    const nets::Nets &m_nets;
    std::vector<int> m_nodeOf; ///< by member; -1: no branch ends there
    std::vector<size_t> m_ground;
    std::vector<size_t> m_logic;
    std::vector<size_t> m_own;
    std::vector<Element> m_elements;
    std::vector<Element> m_regulators;
    std::vector<Output> m_outputs;
    std::vector<size_t> m_motorOutputs;
    std::vector<Bridge> m_bridges;
    Network m_shape;
    std::optional<Solver> m_solver;
};

} // namespace badger::circuit
