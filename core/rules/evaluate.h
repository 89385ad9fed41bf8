// SPDX-License-Identifier: GPL-3.0-or-later
// What does a program do at a reading?
//
// The numbers here are the board's own: 32-bit floating point, whole numbers cut towards zero, and
// a pulse time of 0 that stands for "no echo in time".
#pragma once

#include "core/rules/program.h"

#include <cstdint>
#include <map>

namespace badger::rules
{

/// The number that stands for "no echo" in the program. A pulse timing that runs out returns 0,
/// and a whole-number reading below one unit is cut to the same 0: the two cannot be told apart.
inline constexpr double noEchoNumber = 0.0;

/// Unit lengths per microsecond of echo: c / 2 in the reading's unit.
/// The reading's air temperature must be set and within the sound law's range.
double unitsPer_us(const Reading &reading);

/// The pulse time after which the program stops waiting, in microseconds: the round trip to the
/// reading's limit, rounded up. The limit must be set.
std::uint32_t timeOut_us(const Reading &reading);

/// The number the program keeps for an echo of `echo_us` (0: none came). Empty: no echo. Echoes
/// longer than the time-out count as none.
std::optional<double> numberOf(const Reading &reading, std::uint32_t echo_us);

/// A value in the reading's unit as the board code writes it: four decimals, then 32-bit float.
double constantIn(const Value &value, units::Unit unit);

/// Does a number (or infinity, for a policy) meet a comparison with a constant?
bool holds(double number, Compare compare, double constant);

/// What the program remembers from pass to pass.
struct Memory {
    std::string state;
    std::map<std::string, double> lastGood;            ///< by reading, after the median
    std::map<std::string, std::vector<double>> recent; ///< raw numbers, newest last, 0 for none
    bool operator==(const Memory &) const = default;
};

struct Fired {
    std::string where; ///< "everywhere" or the state
    std::string rule;
    std::string go;
    bool operator==(const Fired &) const = default;
};

/// The rule that fired, or null where the program no longer has it.
const Rule *ruleOf(const Program &program, const Fired &fired);

enum class Why { Rules, NoRule, Held, Stopped, Skipped };

/// The outcome of one pass.
struct Pass {
    std::string state;        ///< after the pass
    std::vector<Fired> fired; ///< in order; more than one where a rule does not end the pass
    Why why = Why::Rules;
    /// What the rules compared, by reading: after the median and the policies (infinite for clear
    /// and blocked). A reading that had no number is not in it.
    std::map<std::string, double> compared{};
    bool operator==(const Pass &) const = default;
};

using Numbers = std::map<std::string, std::optional<double>>; ///< raw, by reading; empty: no echo

/// The numbers the rules compare, after the policies have spoken.
struct Settled {
    std::map<std::string, double> numbers; ///< infinite for clear and blocked
    Why why = Why::Rules;                  ///< Stopped or Skipped: the rules are not asked
};
Settled settle(const Program &program, const std::map<std::string, double> &lastGood,
               const Numbers &heard);

/// The median of the newest `medianOf` raw numbers, a missing echo counting as the farthest; of an
/// even number (only while the window fills) the nearer of the middle two. Empty: no echo.
std::optional<double> medianOf(const std::vector<double> &recent);

/// One pass of a complete program (nothing unset, nothing broken). `memory` is updated.
Pass decide(const Program &program, Memory &memory, const Numbers &numbers);

/// The same for numbers that have been through the median already; `recent` is not touched.
Pass decideSettled(const Program &program, Memory &memory, const Numbers &numbers);

/// Every rule that matches at these numbers in `state`, whether or not an earlier one ends the
/// pass: for finding overlaps.
std::vector<Fired> matching(const Program &program, const std::string &state,
                            const Numbers &numbers);

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

/// The reading that decided a pass: of the rule that fired last the first condition's, for the stop
/// policy the first reading without an echo; otherwise the program's first. Empty: it reads
/// nothing.
std::string decisiveReading(const Program &program, const Pass &pass, const Numbers &heard);

/// Why a pass ended as it did, for one of its readings: "stands, braked: 29 ≤ 32, rule 'near'".
/// With several readings each comparison carries its reading's name.
Say explain(const Program &program, const Pass &pass, const std::string &reading,
            std::optional<double> heard);

} // namespace badger::rules
