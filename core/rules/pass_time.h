// SPDX-License-Identifier: GPL-3.0-or-later
// How long does one pass of a program take?
#pragma once

#include "core/rules/program.h"

#include <map>
#include <string>
#include <vector>

namespace badger::rules
{

/// Shortest and longest time of one pass, start to start.
struct PassTime {
    double shortest_s = 0.0;
    double longest_s = 0.0;
    struct Term {
        std::string name;
        double shortest_s = 0.0;
        double longest_s = 0.0;
    };
    std::vector<Term> terms;
};

/// A button that the start waits for, and that nothing looks at or asks for afterwards: it has no
/// number to print.
bool isOfTheStartAlone(const Program &program, const Reading &reading);

/// Characters that one pass prints when prints are on, at most: state, readings and line end.
int printedCharacters(const Program &program);

/// Time of a pass: trigger and echo of every ranger that is read in each pass (from the dead zone
/// to the time-out), the dwell of one whose servo goes on from pass to pass (one that keeps its
/// angle stands already), the pause, and what the prints cost. Levels, counts and keys cost
/// nothing. Prints cost time only while they come faster than the line carries them (10 bits a
/// character): the 64-character buffer then stays full and the pass lasts as long as its own
/// characters. Arithmetic (under 0.1 ms a pass) is not counted.
///
/// A ping waits for the line that its ranger still holds where the last one had no echo: a pass
/// lasts as long as that at least, for each reading of the ranger.
///
/// `rangers`: the ranger behind each reading; one that is not named counts as 0.
struct PingFigures {
    double deadZone_m = 0.0;
    double noEchoHold_s = 0.0;
};
PassTime passTime(const Program &program, const std::map<std::string, PingFigures> &rangers);

} // namespace badger::rules
