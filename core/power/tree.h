// SPDX-License-Identifier: GPL-3.0-or-later
// How many volts, amps and watts are at each place between the pack and the last consumer?
//
// The tree grows from each source through links, regulators and drivers to what uses the current.
// Its numbers are those of the car's electrical network in the asked state (circuit/car_network),
// with a wire for every feed that is stated and not wired yet: the tree is a view of it, and adds
// up no account of its own. Source of the laws: Ohm, Kirchhoff.
//
// Nothing that is not known is taken as zero. A current that lacks a part of its sum is "at least"
// so much, a voltage that rests on it "at most" so much, and both say what is missing.
#pragma once

#include "core/base/derivation.h"
#include "core/base/say.h"
#include "core/kit/assembly.h"
#include "core/power/feeds.h"

#include <array>
#include <optional>
#include <string>
#include <vector>

namespace badger::power
{

enum class Load {
    Idle,    ///< everything on, nothing moves
    Running, ///< everything moves as usual
    Stalled  ///< every motor and servo starts or is held fast: starts and jams
};
inline constexpr std::array loads = {Load::Idle, Load::Running, Load::Stalled};
enum class Case {
    Typical, ///< typical figures
    /// Volts at the weakest cells and the greatest currents, resistances and drops; amps at the
    /// strongest cells, the least resistances and drops and the greatest currents.
    Worst
};
inline constexpr std::array cases = {Case::Typical, Case::Worst};
struct State {
    kit::Charge charge = kit::Charge::Nominal;
    Load load = Load::Running;
    Case figures = Case::Typical;
    bool operator==(const State &) const = default;
};
const char *name(kit::Charge charge); ///< "fresh", "nominal", "near empty"
const char *name(Load load);          ///< "idle", "running", "stalled"
const char *name(Case figures);       ///< "typical", "worst"

enum class NodeKind {
    Source, ///< a child of the source on which it stands, where they are in series
    Link,
    Input,   ///< where a part takes its supply
    Output,  ///< a regulated output
    Channel, ///< of a driver, at full duty
    Motor
};

/// What is at one node in one state.
struct Values {
    double volts_V = 0.0;   ///< for the worst case the lowest
    double ceiling_V = 0.0; ///< for the worst case the highest: cells high, nothing sags
    bool voltsKnown = false;
    bool atMost = false; ///< volts may be lower: a current or a resistance is missing
    double amps_A = 0.0;
    bool atLeast = false;         ///< amps may be higher: a current is missing
    std::optional<double> heat_W; ///< what turns to heat in this node; none where it makes none
    bool held = true;             ///< of an Output: the input suffices
    /// The branch alone would bring it `branch_V`: something feeds or loads the place on a second
    /// way, a loop that a tree cannot show, or another supply than is said to feed it.
    bool offBranch = false;
    double branch_V = 0.0;

    // What the volts are made of, for the derivation.
    double feed_V = 0.0;  ///< before this node; of a Source: without load, on what it stands on
    double own_V = 0.0;   ///< of a Source: its own, without load
    double ohm_V = 0.0;   ///< I R
    double fixed_V = 0.0; ///< diode, bridge
    double ohm = 0.0;
    double flow_A = 0.0; ///< at which they are lost; in the worst case less than the most amps
};

struct Node {
    std::string id;       ///< "pack", "switch", "board.VIN", "board.5V", "driver.A", "left"
    std::string instance; ///< the fitted part
    std::string name;     ///< for people: "pack", "driver, channel A"
    NodeKind kind = NodeKind::Input;
    std::string in;  ///< the terminal where it is fed; of a Source its minus; empty: inside a part
    std::string out; ///< where it gives on; the same where it is a place
    int parent = -1;
    int depth = 0;
    bool fromWires = false;
    std::optional<parts::Window> window;
    std::optional<parts::Figure> limit_A; ///< what it may give or pass on
    std::vector<std::string> missing;     ///< "the stall current of left"
    std::array<Values, 18> states{};
};

/// Something that gets no supply.
struct Unfed {
    std::string terminal; ///< "board.VIN", or the instance of a motor
    Say why;              ///< "nothing is said to feed it"
};

/// An input with two live sources.
struct Clash {
    std::string terminal;
    std::string first;
    std::string second;
};

struct Tree {
    std::vector<Node> nodes; ///< depth first, a parent before its children
    std::vector<Unfed> unfed;
    std::vector<Clash> clashes;
    std::vector<std::string> missing; ///< every figure that some answer lacks

    const Node *node(std::string_view id) const;
    int indexOf(std::string_view id) const; ///< -1 where there is none
    std::vector<int> childrenOf(int node) const;
    const Values &at(int node, State state) const;
};

Tree solve(const kit::Assembly &car);

enum class Quantity { Volts, Amps, Heat };

/// Why these volts, amps or watts: the walk from the source, the sum over what hangs on it, or the
/// product. Empty for a node the tree lacks.
Derivation why(const Tree &tree, const kit::Assembly &car, std::string_view node, Quantity quantity,
               State state);

/// "7.1 V", "≤ 7.1 V", "?" and the like.
Say voltsText(const Values &values);
Say ampsText(const Values &values);

} // namespace badger::power
