// SPDX-License-Identifier: GPL-3.0-or-later
// Which terminals are joined, and what feeds them?
#pragma once

#include "core/kit/car.h"

#include <map>
#include <string>
#include <string_view>
#include <vector>

namespace badger::wiring
{

/// Something that holds a net at a voltage.
struct Source {
    std::string terminal; ///< "pack.PLUS", "board.5V"
    double volts_V = 0.0;
};

/// The nets of one car. Wires join terminals; a link (switch, fuse) joins its ends; the ground
/// terminals of one part are one piece of metal. The order of the wires does not matter. Wires
/// whose ends name nothing on the car are left out: the reader and the editor refuse them.
class Nets
{
public:
    Nets(const kit::Car &car, const parts::Catalogue &catalogue);

    /// The net of a terminal; -1 when the car has no such terminal.
    int of(std::string_view terminal) const;
    /// Terminals on a net, sorted; empty for -1.
    const std::vector<std::string> &members(int net) const;
    /// Terminals of a role on a net.
    std::vector<std::string> membersWith(int net, parts::Role role) const;
    bool wired(std::string_view terminal) const; ///< at least one wire ends there

    /// What feeds a net at a state of charge: the pack, and every supply output whose own feed
    /// reaches the volts it needs. More than one entry is a conflict.
    std::vector<Source> sources(int net, kit::Charge charge) const;

private:
    bool alive(const std::string &supplyOut, kit::Charge charge, int depth) const;
    std::vector<Source> sourcesWithin(int net, kit::Charge charge, int depth) const;

    const kit::Car &m_car; // outlives the nets
    const parts::Catalogue &m_catalogue;
    std::map<std::string, int, std::less<>> m_netOf;
    std::vector<std::vector<std::string>> m_members;
    std::map<std::string, int, std::less<>> m_wires;
};

} // namespace badger::wiring
