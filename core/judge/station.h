// SPDX-License-Identifier: GPL-3.0-or-later
// Which stations does the work have?
#pragma once

#include "core/base/say.h"

#include <array>
#include <optional>
#include <string_view>
#include <vector>

namespace badger::kit
{
struct Car;
}

namespace badger::judge
{

struct Judgement;

/// The stations that exist, in working order.
enum class Station { Kit, Wire, Tune, Rule, Floor, Log };
inline constexpr std::array<Station, 6> stations = {Station::Kit,  Station::Wire,  Station::Tune,
                                                    Station::Rule, Station::Floor, Station::Log};

enum class GateState { Passed, Open, Stale, Blocked, Warning };
const char *name(GateState state);

struct Gate {
    Station station = Station::Wire;
    GateState state = GateState::Open;
    Say why; ///< one sentence
};

/// All that is said of a station in one place: a new one is one more line in stationList().
struct StationDescriptor {
    Station station;
    const char *name; ///< "Kit"; in lower case its id
    /// The kinds of places that it shows: "terminal" of the target "terminal:board.D5".
    std::vector<std::string_view> places;
    /// How its gate is judged, once everything else of the judgement is there.
    Gate (*gate)(const Judgement &judgement, const kit::Car &car);
};

/// In the order of `stations`.
const std::vector<StationDescriptor> &stationList();
const char *name(Station station);
/// The station that shows the target of a finding; none for a target of no known kind.
std::optional<Station> stationOf(std::string_view target);

} // namespace badger::judge
