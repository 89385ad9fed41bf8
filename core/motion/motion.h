// SPDX-License-Identifier: GPL-3.0-or-later
// What does the car do for each pattern of its inputs? From the wires alone, without a program.
#pragma once

#include "core/base/say.h"
#include "core/circuit/levels.h"
#include "core/kit/assembly.h"
#include "core/nets/nets.h"

#include <functional>

namespace badger::motion
{

/// What a wheel does.
enum class Turn {
    Forward,
    Backward,
    Brake,  ///< held by its own motor
    Coast,  ///< turns freely
    Dead,   ///< its enable floats or is held low, or its driver has no supply
    Unsure, ///< an input floats, or leads lie where no truth table helps
    Fights, ///< motors of one side turn against each other
    None    ///< no motor on that side
};
const char *name(Turn turn); ///< "forward", "held", "free" ...

enum class Path {
    Ahead,
    Back,
    PivotLeft,  ///< about the left wheel, which is held; the right goes forward
    PivotRight, ///< about the right wheel
    PivotLeftBack,
    PivotRightBack,
    CurveLeft, ///< the left wheel rolls freely, the right goes forward
    CurveRight,
    CurveLeftBack,
    CurveRightBack,
    SpinLeft, ///< left back, right forward: on the spot
    SpinRight,
    Held,
    Rolls,
    Unsure
};
/// "straight ahead", "pivots left about the left wheel" ...
const char *words(Path path);
/// One arrow of plain type: "↑", "↺"; "■" where it is held, "·" where it rolls, "?" where unsure.
const char *arrow(Path path);
Path pathOf(Turn left, Turn right);

/// Something that drives inputs: a board's pin, a sensor's output; or an input that nothing drives.
struct MotionInput {
    std::string name;                  ///< "D2", or the sensor's label
    std::string terminal;              ///< "board.D2", "eye-left.OUT"
    std::vector<std::string> drives;   ///< "driver.IN1"
    std::string low = "0", high = "1"; ///< what its levels are called: "dark", "light"
    bool pulses = false;               ///< of a drive servo: short, neutral or long
    bool port = false;                 ///< a board's own motor port: one way, stop, the other
    bool threeWay() const { return pulses || port; }

    bool floating = false; ///< nothing drives it: it may happen to be either
    /// "dark", "1", "long".
    std::string levelName(int level) const;
};

struct MotionRow {
    std::vector<int> levels;          ///< of each input: 0, 1; of pulses and ports −1, 0, 1
    std::vector<std::string> outputs; ///< "OUT1 high, OUT2 low", one entry a channel
    Turn left = Turn::None;
    Turn right = Turn::None;
    Path path = Path::Unsure;
};

struct MotionTable {
    std::vector<MotionInput> inputs;
    std::vector<MotionRow> rows; ///< every pattern, counted up; empty where a note says why
    std::vector<Say> notes;      ///< "driver.EN9 floats: the right motor is dead"
};
MotionTable motion(const kit::Assembly &car);
MotionTable motion(const nets::Nets &nets);
MotionTable motion(const nets::Nets &nets, const circuit::CarNetwork &network,
                   const std::vector<circuit::InputLevel> &levels);

/// What a person wants of both wheels, and the levels that do it: the row of the table that gives
/// this path; none where no pattern does.
const MotionRow *rowFor(const MotionTable &table, Path path);

/// What a bench test showed while both wheels were told to go forward.
struct BenchTest {
    Turn left = Turn::Forward;
    Turn right = Turn::Forward;
    bool crossed = false; ///< the left command moved the right wheel
};

/// One way to make a wheel go where it should.
struct Remedy {
    Say what; ///< "Swap the leads of the left motor at the driver"
    Say why;
    bool best = false;
    bool wires = false; ///< the hand has something to do
    std::function<void(kit::Car &)> apply;
};
/// Best first; empty where the test showed what was wanted. The wires of the drawing change where
/// the drawing itself turned the wheel the wrong way; where only the car differed from it, the
/// drawing is what the hand makes true.
std::vector<Remedy> remedies(const kit::Assembly &car, const BenchTest &test);

} // namespace badger::motion
