// SPDX-License-Identifier: GPL-3.0-or-later
// What a car does, read off its solved network: nothing of it is shared with the checks.
#pragma once

#include "core/circuit/car_network.h"

#include <map>
#include <set>
#include <string>
#include <vector>

namespace badger::campaign
{

struct Facts {
    std::set<std::string> over;                          ///< "amps board.D5": limits passed
    std::set<std::string> under;                         ///< supplies below their window
    std::map<std::string, std::set<std::string>> reach;  ///< inputs that follow an output
    std::set<std::vector<int>> repertoire;               ///< what the motors do, over all patterns
    std::map<std::string, double> most_V;                ///< of a motor, either way
    std::map<std::string, std::vector<double>> motors_V; ///< by pattern of a car without a board
    std::map<std::string, std::set<std::string>> drives; ///< motor outputs that move a motor
    std::set<std::string> apart;  ///< parts with signals whose ground hangs in the air
    std::set<std::string> serial; ///< pins that programs are loaded through, and are not free
    std::set<std::string> asked;  ///< inputs of parts, and pins that the program knows
    std::set<std::string> open;   ///< inputs of a driver that nothing holds
    bool solved = true;
};

/// Patterns of named outputs.
using Pattern = std::map<std::string, circuit::Level>;
/// Every pattern of what drives the motors.
std::vector<Pattern> drivingPatterns(const circuit::CarNetwork &net);

Facts factsOf(const circuit::CarNetwork &net, const std::vector<Pattern> &patterns);

/// What is worse than it was: the terminals that suffer, with why; empty where nothing is.
std::map<std::string, std::string> worse(const Facts &before, const Facts &after);

/// How many wires differ between two cars, whichever end is named first: what a mend that undoes a
/// slip makes fewer, whatever stands behind it.
size_t wiresApart(const kit::Car &a, const kit::Car &b);

} // namespace badger::campaign
