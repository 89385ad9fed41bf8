// SPDX-License-Identifier: GPL-3.0-or-later
// Which pins make which wheel go forward?
//
// A motor turns counter-clockwise, seen from outside on its own shaft side, while its lead A is
// the higher one. Forward is counter-clockwise on the left side of a car and clockwise on the
// right, so the right motor goes forward while lead B is the higher one. A crossed lead that
// cancels a mirrored mounting is therefore right, and comes out of this as it should.
#pragma once

#include "core/base/result.h"
#include "core/kit/assembly.h"
#include "core/nets/nets.h"

#include <optional>
#include <string>
#include <vector>

namespace badger::nets
{

/// How one wheel is driven, as the wires say.
struct WheelDrive {
    kit::Side side = kit::Side::None;
    std::string forward;  ///< direction input that is high for forward, "driver.IN1"
    std::string backward; ///< the other one
    std::string enable;   ///< "driver.ENA"
    /// Of a motor at a board's own port: "controller.M1"; `forward` and `backward` are then the
    /// port's two ends, of which the first is the higher one for forward.
    std::string port;
    /// The enable is held high by a jumper, or by a supply (through a resistor, too) without a pin
    /// that could pull it low: the wheel has one speed.
    bool held = false;
};

/// The pins the program uses for a wheel, "D2"; the enable's is empty where it is held high.
struct WheelPins {
    std::string forward;
    std::string backward;
    std::string enable;
};

/// Follows the wires from a side's motor to its driver channel. Fails with Missing, naming the
/// lead or output where the trail ends.
Result<WheelDrive> wheelDrive(const kit::Assembly &car, kit::Side side);
Result<WheelDrive> wheelDrive(const Nets &nets, kit::Side side);
/// The same for one motor, of which a side may have several.
Result<WheelDrive> motorDrive(const Nets &nets, const kit::Instance &motor);

/// The program's pins for a wheel. Fails where one is not assigned.
Result<WheelPins> wheelPins(const kit::Car &car, const WheelDrive &drive);

/// Levels of the inputs (forward, backward, enable) that make the driver do something, read from
/// its truth table. Fails with Missing where the table has no such row.
struct Levels {
    bool forward = false;
    bool backward = false;
    bool enable = false;
};
Result<Levels> levelsFor(const parts::Part &driver, const std::string &does);

/// The board pin that the wires join to a terminal, by way of a resistor in series or a divider
/// where there is one: "D5"; empty where there is none or several.
std::string wiredPin(const kit::Assembly &car, const std::string &terminal);
std::string wiredPin(const Nets &nets, const std::string &terminal);
/// The pins that a terminal is joined to, of the board that runs the program: the first. Other
/// boards have pins of the same names and other traits.
std::vector<std::string> programPins(const Nets &nets, const std::string &terminal);

/// Terminals that a program must know the pin of: every trigger, echo, direction, enable without a
/// jumper, servo, light and sensor output, in the order of the car's parts. Inputs that something
/// else than a board drives, and enables that a supply holds, are among them: only the wires say.
std::vector<std::string> signalTerminals(const kit::Assembly &car);

/// Those that a board pin has to serve as the wires stand: without a board none; not those that a
/// supply or ground holds, nor those that a sensor drives.
std::vector<std::string> boardSignals(const Nets &nets);

/// The car with its program's pins set to those the wires lead to, where they lead to one.
kit::Car withPinsFromWires(kit::Car car, const parts::Catalogue &catalogue);

/// The motors on the outputs of a driver's channel, as people call them: "right motor".
std::vector<std::string> motorsOf(const Nets &nets, const std::string &driver,
                                  const std::string &channel);

} // namespace badger::nets
