// SPDX-License-Identifier: GPL-3.0-or-later
// What would a meter find on this car, in a state that a hand has set?
//
// "What if D4 is high?": levels, charge, switch and held wheels are set, the network is solved, and
// every terminal, wire and motor can be asked.
#pragma once

#include "core/circuit/car_network.h"

#include <map>
#include <memory>

namespace badger::circuit
{

/// What a hand sets. Typical figures.
struct Setting {
    kit::Charge charge = kit::Charge::Nominal;
    bool held = false;                   ///< every motor and servo is held fast
    bool switched = true;                ///< switches are closed
    std::map<std::string, Level> levels; ///< of outputs, "board.D4"; one that is not named is low
    bool operator==(const Setting &) const = default;
};

struct TerminalReading {
    std::optional<double> volts_V; ///< over its own part's ground; empty: nothing is joined to it
    std::optional<Seen> seen;      ///< of an input of a part
    std::optional<Level> given;    ///< of an output: what it was set to
};

/// What a motor does.
struct MotorReading {
    std::string motor; ///< its instance
    kit::Side side = kit::Side::None;
    double volts_V = 0.0; ///< above 0: it drives its wheel forward
    double amps_A = 0.0;  ///< 0 or more
};

class Probe
{
public:
    /// Looks at a copy of the car's wires: neither car nor catalogue has to outlive it.
    Probe(const kit::Car &car, const parts::Catalogue &catalogue);
    ~Probe();
    Probe(Probe &&) noexcept;
    Probe &operator=(Probe &&) noexcept;

    void set(const Setting &setting);
    const Setting &setting() const { return m_setting; }
    /// False: the network has no answer, or its bridges do not settle; then nothing is read.
    bool solved() const { return m_answer.solved && m_answer.settled; }

    /// Terminals that can be set, in the order of the car's parts: pins first.
    std::vector<std::string> outputs() const;
    TerminalReading at(const std::string &terminal) const;
    /// By wire, from its first to its second end; empty where wires form a ring, in which the
    /// current divides as their contacts will have it.
    const std::vector<std::optional<double>> &wires_A() const { return m_wires_A; }
    std::vector<MotorReading> motors() const;

private:
    struct Model;
    std::unique_ptr<Model> m_model;
    Setting m_setting;
    Answer m_answer;
    std::vector<std::optional<double>> m_wires_A;
};

/// The current in each wire of a solved network (Kirchhoff: what its far side takes). As
/// Probe::wires_A.
std::vector<std::optional<double>> wireAmps(const CarNetwork &network, const Answer &answer);

} // namespace badger::circuit
