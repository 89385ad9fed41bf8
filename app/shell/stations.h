// SPDX-License-Identifier: GPL-3.0-or-later
// How does the window show each station of the work?
#pragma once

#include "app/shell/station_view.h"

#include <vector>

namespace badger::app
{

/// What judge::StationDescriptor is for the work, this is for the window: a new station is one more
/// line in stationFaces().
struct StationFace {
    judge::Station station;
    StationView *(*make)(Session &session, const Theme &theme);
    /// Said while there is no car; empty where the starting kits stand there instead.
    QString waits;
    bool offersKits() const { return waits.isEmpty(); }
};

/// In the order of judge::stations, in the person's language.
std::vector<StationFace> stationFaces();

} // namespace badger::app
