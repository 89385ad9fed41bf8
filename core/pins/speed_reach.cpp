// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/pins/speed_reach.h"

#include "core/pins/planner.h"

namespace badger::pins
{

namespace
{

SpeedReach reachOf(const nets::Nets &nets, kit::Side side)
{
    SpeedReach reach;
    const auto drive = nets::wheelDrive(nets, side);
    if (!drive)
        return reach;
    if (!drive->port.empty()) {
        reach.line = drive->port;
        return reach; // the port takes a speed
    }
    reach.line = drive->enable.empty() ? drive->forward : drive->enable;
    if (drive->held) {
        reach.by = SpeedBy::Full;
        return reach;
    }
    reach.pin = nets::wiredPin(nets, reach.line);
    const auto *board = nets.car().first(parts::Kind::Board);
    const auto *part = board ? nets.car().part(*board) : nullptr;
    const auto *pin = part && !reach.pin.empty() ? part->terminal(reach.pin) : nullptr;
    if (pin && !takesSpeed(*part, *pin, librariesOf(nets)))
        reach.by = SpeedBy::Steps;
    return reach;
}

} // namespace

Reach speedReach(const nets::Nets &nets)
{
    return {reachOf(nets, kit::Side::Left), reachOf(nets, kit::Side::Right)};
}

int actingCounts(SpeedBy by, int asked)
{
    constexpr int highFrom = 128;
    switch (by) {
    case SpeedBy::Duty:
        return asked;
    case SpeedBy::Full:
        return asked > 0 ? 255 : 0;
    case SpeedBy::Steps:
        break;
    }
    return asked >= highFrom ? 255 : 0;
}

} // namespace badger::pins
