// SPDX-License-Identifier: GPL-3.0-or-later
// Which terminals are joined, and what feeds them?
#pragma once

#include "core/kit/assembly.h"

#include <array>
#include <map>
#include <string>
#include <string_view>
#include <vector>

namespace badger::nets
{

/// Something that holds a net at a voltage.
struct Source {
    std::string terminal; ///< "pack.PLUS", "board.5V"
    double volts_V = 0.0;
};

/// A terminal of the car with what it belongs to.
struct Member {
    std::string name; ///< "driver.ENA"
    const kit::Instance *fitted = nullptr;
    const parts::Part *part = nullptr;
    const parts::Terminal *terminal = nullptr;
    int net = -1;
    int wires = 0; ///< that end there
};

/// A jumper holds this terminal of the part high.
bool isJumpered(const kit::Instance &fitted, const std::string &terminal);

/// The nets of one car. Wires join terminals; a link (switch, fuse) joins its ends; the ground
/// terminals of one part are one piece of metal. The order of the wires does not matter. Wires
/// whose ends name nothing on the car are left out: the reader and the editor refuse them.
class Nets
{
public:
    explicit Nets(const kit::Assembly &car);
    Nets(const Nets &) = delete;
    Nets &operator=(const Nets &) = delete;

    const kit::Assembly &car() const { return m_car; }

    /// Every terminal of the car, in the order of its parts.
    const std::vector<Member> &all() const { return m_all; }
    /// Null when the car has no such terminal.
    const Member *member(std::string_view terminal) const;

    int count() const { return static_cast<int>(m_members.size()); }
    /// The net of a terminal; -1 when the car has no such terminal.
    int of(std::string_view terminal) const;
    /// Terminals on a net, sorted; empty for -1.
    const std::vector<std::string> &members(int net) const;
    /// Terminals of a role on a net.
    std::vector<std::string> membersWith(int net, parts::Role role) const;
    bool has(int net, parts::Role role) const;
    bool wired(std::string_view terminal) const; ///< at least one wire ends there

    /// A ground terminal or a pack's negative end is on it; not where that stands on another
    /// source.
    bool isGround(int net) const;
    /// The source on whose plus this one's minus hangs: the two are in series. Null: on none.
    const Member *standsOn(const Member &minus) const;
    /// What volts are counted from: the first source's minus that stands on no other, else the
    /// first ground; null where there is neither.
    const Member *reference() const;
    /// Something feeds it while the pack is fresh.
    bool isSupply(int net) const { return net >= 0 && m_isSupply[static_cast<size_t>(net)]; }

    /// The nets that a signal runs over: a net, and those behind resistors in series and dividers.
    /// Supplies and ground are not crossed. In ascending order.
    std::vector<int> line(int net) const;
    /// Terminals of a role on a terminal's line, sorted.
    std::vector<std::string> onLine(std::string_view terminal, parts::Role role) const;
    /// A resistor joins the terminal's line to ground.
    bool pulledDown(std::string_view terminal) const;
    /// The terminal is on a supply's net, or a resistor joins its line to one.
    bool pulledUp(std::string_view terminal) const;

    /// What feeds a net at a state of charge: the pack, and every supply output whose own feed
    /// reaches the volts it needs. More than one entry is a conflict.
    std::vector<Source> sources(int net, kit::Charge charge) const;

private:
    /// A resistor joins the terminal's line to a net of that kind.
    template <class Kind> bool pulled(std::string_view terminal, Kind kind) const;
    void collect();
    void join();
    void feed();
    void stack(std::vector<double> &volts_V) const;
    bool hasSource(int net, const std::vector<double> &volts_V, double atLeast_V) const;

    kit::Assembly m_car;
    std::vector<Member> m_all;
    std::map<std::string_view, size_t, std::less<>> m_index; ///< names stay where m_all has them
    std::vector<std::vector<std::string>> m_members;
    std::vector<std::vector<size_t>> m_indices; ///< the same, into m_all
    std::array<std::vector<double>, kit::chargeCount>
        m_volts_V;                ///< that a terminal gives, or notFed
    std::vector<bool> m_isSupply; ///< by net, while fresh
};

} // namespace badger::nets
