// SPDX-License-Identifier: GPL-3.0-or-later
// What is meant to feed what?
//
// A car may say it before there is a wire (Instance::feeds). Where it does not, the wires do.
#pragma once

#include "core/kit/assembly.h"

#include <string>
#include <vector>

namespace badger::power
{

/// One input and what feeds it. `source` is a node of the power tree: an instance for a pack, a
/// supply or a link ("switch"), a terminal for a rail or an output ("board.5V").
struct FeedLine {
    std::string input;  ///< "board.VIN", "switch.IN"
    std::string source; ///< "switch"
    bool fromWires = false;
    bool operator==(const FeedLine &) const = default;
};

/// Every feed of the car, stated ones before those read from the wires; an input that is fed twice
/// stands twice. Feeds whose ends name nothing are left out (see brokenFeeds).
std::vector<FeedLine> feedsOf(const kit::Assembly &car);

/// Stated feeds of inputs that have wires and are on another conductor than what is said to feed
/// them, or behind a switch or fuse that is not named, with what the wires say instead: "board.5V"
/// for "board.3V3"; empty where no supply is there.
struct FeedDispute {
    kit::Feed stated;
    std::string input; ///< "ranger.VCC"
    std::string wired;
    bool operator==(const FeedDispute &) const = default;
};
std::vector<FeedDispute> disputedFeeds(const kit::Assembly &car);

/// Stated feeds that lead nowhere: a source or a terminal the car does not have, or one that
/// cannot give or take a supply.
std::vector<kit::Feed> brokenFeeds(const kit::Assembly &car, const kit::Instance &fitted);

/// Can this terminal give a supply: a source's plus, an output, a link's or a rail's end?
bool gives(const parts::Part &part, const parts::Terminal &terminal);
/// Can it take one: a supply input, an output with a window (fed from outside), a link, a rail?
bool takes(const parts::Part &part, const parts::Terminal &terminal);

/// The terminal by which a part gets its own current: an output with a window (a board's rail),
/// else the first supply input that is not the motors', else the first. Null where it has none.
const parts::Terminal *ownSupply(const parts::Part &part);

/// The tree's node behind a terminal: the instance of a source or link, else the terminal itself.
std::string nodeOf(const kit::Assembly &car, const std::string &terminal);

/// Every supply of the car that may feed one of its inputs, as terminals ("switch.OUT"), in the
/// order of the parts.
std::vector<std::string> supplies(const kit::Assembly &car);

/// The driver channel of a motor, "driver.A": stated, else read from the wires; empty where
/// neither says it.
std::string channelOf(const kit::Assembly &car, const kit::Instance &motor);

/// Every channel of the car's drivers, "driver.A".
std::vector<std::string> channels(const kit::Assembly &car);

/// The feeds that a newly fitted part would sensibly get on this car: each of its inputs from the
/// first supply whose volts at nominal charge lie in its window, links before packs, a motor
/// supply never from a regulated output, a servo from one only where no cells serve. Inputs for
/// which there is none are left out.
std::vector<kit::Feed> proposedFeeds(const kit::Assembly &car, const kit::Instance &fitted);

} // namespace badger::power
