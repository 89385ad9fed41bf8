// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/judge/program_motion.h"

#include "core/nets/drive_map.h"

#include <algorithm>
#include <map>

namespace badger::judge
{

using motion::Turn;

namespace
{

struct WheelSetup {
    nets::WheelDrive drive;
    nets::WheelPins pins;
    const parts::Part *driver = nullptr;
};

std::optional<WheelSetup> setupOf(const nets::Nets &nets, kit::Side side)
{
    const auto drive = nets::wheelDrive(nets, side);
    if (!drive)
        return std::nullopt;
    const auto pins = nets::wheelPins(nets.car(), *drive);
    if (!pins)
        return std::nullopt;
    const auto *fitted = nets.car()->instance(kit::splitTerminal(drive->forward).instance);
    return WheelSetup{*drive, *pins, nets.car().part(*fitted)};
}

/// Sets the levels of a wheel's pins, "D2" to high or low; false where the driver cannot do it.
/// `released` is set where the enable, which the table of patterns takes as high, is low for it.
bool setLevels(const WheelSetup &wheel, Turn wanted, std::map<std::string, int> &levels,
               bool &released)
{
    if (!wheel.drive.port.empty()) { // the port's first end high is +1
        const auto port = kit::splitTerminal(wheel.drive.port).terminal;
        const bool firstIsForward = wheel.driver->terminal(wheel.pins.forward) <
                                    wheel.driver->terminal(wheel.pins.backward);
        levels[port] = wanted == Turn::Forward    ? (firstIsForward ? 1 : -1)
                       : wanted == Turn::Backward ? (firstIsForward ? -1 : 1)
                                                  : 0;
        return true;
    }
    bool forward = wanted == Turn::Forward;
    bool backward = wanted == Turn::Backward;
    if (wanted == Turn::Brake || wanted == Turn::Coast) {
        const auto l = nets::levelsFor(*wheel.driver, wanted == Turn::Brake ? "brake" : "coast");
        released = l && !l->enable;
        if (!l || (released && wheel.drive.held))
            return false;
        forward = l->forward;
        backward = l->backward;
    }
    levels[wheel.pins.forward] = forward;
    levels[wheel.pins.backward] = backward;
    return true;
}

int rowWith(const motion::MotionTable &table, const std::map<std::string, int> &levels)
{
    for (size_t i = 0; i < table.rows.size(); ++i) {
        bool same = true;
        for (size_t k = 0; k < table.inputs.size(); ++k) {
            const auto it = levels.find(table.inputs[k].name);
            const int wanted = it == levels.end() ? 0 : it->second;
            same &= table.inputs[k].threeWay() ? wanted == table.rows[i].levels[k]
                                               : (wanted > 0) == (table.rows[i].levels[k] > 0);
        }
        if (same)
            return static_cast<int>(i);
    }
    return -1;
}

} // namespace

Turn wantedTurn(const rules::Motion &motion, const rules::Wheel &wheel)
{
    if (motion.wheels == rules::Wheels::Brake)
        return Turn::Brake;
    if (motion.wheels == rules::Wheels::Coast)
        return Turn::Coast;
    return wheel.sense > 0 ? Turn::Forward : wheel.sense < 0 ? Turn::Backward : Turn::Brake;
}

bool pinsAsWired(const nets::Nets &nets)
{
    for (const auto side : {kit::Side::Left, kit::Side::Right}) {
        const auto wheel = setupOf(nets, side);
        if (!wheel)
            return false;
        if (!wheel->drive.port.empty())
            continue; // a port is where its motor is
        for (const auto &[terminal, pin] : {std::pair(&wheel->drive.forward, &wheel->pins.forward),
                                            {&wheel->drive.backward, &wheel->pins.backward},
                                            {&wheel->drive.enable, &wheel->pins.enable}})
            if (!pin->empty() && nets::wiredPin(nets, *terminal) != *pin)
                return false;
    }
    return true;
}

std::vector<ProgramAction> actionsOn(const kit::Assembly &car, const rules::Program &program,
                                     const motion::MotionTable &table)
{
    return actionsOn(nets::Nets(car), program, table);
}

std::vector<ProgramAction> actionsOn(const nets::Nets &nets, const rules::Program &program,
                                     const motion::MotionTable &table)
{
    std::vector<ProgramAction> actions;
    const auto left = setupOf(nets, kit::Side::Left);
    const auto right = setupOf(nets, kit::Side::Right);
    if (!left || !right)
        return actions;
    for (const auto &state : program.states) {
        ProgramAction a;
        a.state = state.name;
        const auto turnLeft = wantedTurn(state.motion, state.motion.left);
        const auto turnRight = wantedTurn(state.motion, state.motion.right);
        a.wanted = motion::pathOf(turnLeft, turnRight);
        std::map<std::string, int> levels;
        bool freeLeft = false;
        bool freeRight = false;
        a.possible = setLevels(*left, turnLeft, levels, freeLeft) &&
                     setLevels(*right, turnRight, levels, freeRight);
        if (a.possible)
            a.row = rowWith(table, levels);
        if (a.row >= 0) {
            const auto &row = table.rows[static_cast<size_t>(a.row)];
            a.path = freeLeft || freeRight ? motion::pathOf(freeLeft ? Turn::Coast : row.left,
                                                            freeRight ? Turn::Coast : row.right)
                                           : row.path;
        }
        actions.push_back(std::move(a));
    }
    return actions;
}

} // namespace badger::judge
