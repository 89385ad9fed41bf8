// SPDX-License-Identifier: GPL-3.0-or-later
// Reckons the motion table: motion_inputs.cpp finds what the program drives, motion.cpp what
// follows. Private to it.
#pragma once

#include "core/circuit/levels.h"
#include "core/motion/motion.h"

namespace badger::motion
{

/// The level of an input: what drives it, or what holds it.
enum class Level { Low, High, Floating };

class Reckoner
{
public:
    Reckoner(const nets::Nets &nets, const circuit::CarNetwork &network,
             const std::vector<circuit::InputLevel> &levels)
        : m_nets(nets), m_network(network), m_levels(levels)
    {
    }

    MotionTable make();

private:
    void findInputs();

    void takePort(const nets::Member &out);

    /// A motor is wired to the output that the input drives.
    bool hasMotor(const nets::Member &input) const;

    bool floats(const nets::Member &input) const;

    /// Nobody drives it: it may happen to be either, and both are shown.
    void takeFloating(const nets::Member &input);

    const circuit::InputLevel &at(const nets::Member &input) const;

    /// What drives an input: the output that it follows; where no output is known for one, a pin on
    /// its line, else a sensor's output. Empty where nothing does, or where it is held.
    std::string driverOf(const nets::Member &input) const;

    void take(const nets::Member &input, const std::string &driver);

    bool enabled(const nets::Member &enable) const;

    /// The enable of a channel; null where the driver has none.
    const nets::Member *enableOf(const kit::Instance &driver, const std::string &channel) const;

    void noteDead();

    Level level(const nets::Member &input, const std::vector<int> &levels) const;

    std::vector<int> levelsOf(size_t pattern) const;

    MotionRow row(size_t pattern) const;

    /// What a channel does: "drive" with the output that is high, "brake", "coast"; empty where an
    /// input floats.
    struct Does {
        std::string does;
        std::string high;
        std::vector<std::string> outputs;
    };
    Does channelDoes(const kit::Instance &driver, const parts::Part &part,
                     const std::string &channel, const std::vector<int> &levels) const;

    /// The first end high, the second, or both low.
    Does portDoes(const std::string &port, const parts::Part &part, const std::string &channel,
                  const std::vector<int> &levels) const;

    std::vector<std::string> outputs(const std::vector<int> &levels) const;

    Turn motorTurn(const kit::Instance &motor, const std::vector<int> &levels) const;

    /// A longer pulse turns a continuous servo counter-clockwise, seen from outside on its own
    /// side.
    Turn servoTurn(const kit::Instance &servo, const parts::Part &part,
                   const std::vector<int> &levels) const;

    Turn side(kit::Side which, const std::vector<int> &levels) const;

    const nets::Nets &m_nets;
    const circuit::CarNetwork &m_network;
    const std::vector<circuit::InputLevel> &m_levels;
    MotionTable m_table;
};

} // namespace badger::motion
