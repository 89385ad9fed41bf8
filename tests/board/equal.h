// SPDX-License-Identifier: GPL-3.0-or-later
// Does the machine code of a written program do what the interpreter does?
//
// The chip runs first. Whenever its program looks, the next of the readings it is fed is put on the
// real pin: an echo pulse behind the trigger, a level, a voltage. What the program's own functions
// then gave is written down, and the interpreter gets just that, look by look, at the chip's own
// times: whether a wait is over depends on the time, and the chip's sums take some of it. Both
// accounts say what the pins were told at each moment that took time; they have to be the same,
// entry by entry. How long each of those moments took is compared on its own.
#pragma once

#include "board/chip.h"
#include "core/boardcode/board_code.h"
#include "core/boardcode/wires.h"
#include "core/machine/runner.h"

#include <map>
#include <string>
#include <vector>

namespace badger::board
{

/// What the car's surroundings say, look by look. A program is run until one of them ends.
struct Feed {
    std::map<std::string, std::vector<std::uint32_t>> echoes_us; ///< by ranger; 0: none comes
    std::map<std::string, std::vector<int>> levels;              ///< by reading
    std::map<std::string, std::vector<int>> counts;              ///< by reading
    std::vector<char> keys;                                      ///< one a look; 0: nothing came
};

/// What all pins were told from a time on: of each wheel forward, backward, speed as duties (of a
/// servo its pulse), of each servo its pulse, of each buzzer its duty.
struct Told {
    double time_us = 0.0;
    std::vector<int> pins;
    int passes = 0; ///< so far
};

/// A call that takes time, or asks the surroundings: when it began, and whether an echo was still
/// held from before.
struct Call {
    double time_us = 0.0;
    bool held = false;
};

struct Account {
    std::vector<Told> told;
    Feed heard; ///< what the program made of it
    std::vector<Call> calls;
    double latest_us = 0.0; ///< of the model: the most that a call of the chip took beyond its due
    int passes = 0;
    std::string error; ///< the chip crashed, or a function is missing
    std::string printed;
};

/// A compiled program, ready to be run any number of times.
struct Compiled {
    Kind kind = Kind::Board;
    rules::Program program;
    machine::Machine machine;
    boardcode::Wires wires;
    std::string elf;
    std::string symbols;
    int bytes = 0;     ///< of program memory
    int variables = 0; ///< bytes of memory
};

/// What a wheel's pins are told by an order: forward, backward and speed as duties, as far as it
/// has them; of a servo its pulse.
std::vector<int> wheelPins(const boardcode::Wires &wires, kit::Side side,
                           const machine::WheelOrder &order);

/// Writes a program out in a folder and compiles it for the car's chip. The error of whatever
/// failed first.
Result<Compiled> compiled(const rules::Program &program, const kit::Assembly &car,
                          boardcode::Writing writing, const std::string &folder);

Account onChip(const Compiled &of, const Feed &feed, double most_us = 60e6);
/// The interpreter with what the chip heard, at the chip's times. Its error is set where a call of
/// the chip took less than it should, or longer by more than `sums_us` and a hundredth: what the
/// chip's own sums take before the next call.
Account onModel(const Compiled &of, const Account &chip, double sums_us = 1500.0);

/// Where two accounts part; empty: nowhere.
std::string difference(const Account &chip, const Account &model);

/// Readings for a program from a seed: those at its thresholds, one beside them on either side, no
/// echo, an echo held far too long, the least and the greatest, and any between; each for a few
/// looks. `looks` of each kind.
Feed feedFor(const rules::Program &program, const machine::Machine &machine, std::uint32_t seed,
             int looks);

} // namespace badger::board
