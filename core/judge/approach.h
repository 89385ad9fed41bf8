// SPDX-License-Identifier: GPL-3.0-or-later
// Where does a program stop driving ahead because something is near?
//
// Of any program: keep station, a glance, a fan that sweeps, guarded drive. The limits are read
// from the exact cells of each state that drives ahead (machine/gives_way.h), so a rule that never
// decides alone, or comes too late in its list, is no stop.
#pragma once

#include "core/kit/assembly.h"
#include "core/regions/exact.h"
#include "core/regions/gives_way.h"

namespace badger::judge
{

struct Approach {
    const rules::State *goes = nullptr;      ///< drives ahead
    std::vector<const rules::State *> into;  ///< what it may do then; none of them drives ahead
    const rules::Reading *reading = nullptr; ///< a ranger's, taken in every pass
    const rules::Value *value = nullptr;     ///< the limit
    bool inclusive = true;                   ///< the limit itself stops it, too
    int times = 1;                           ///< passes in succession in which it has to be so
    int looks = 1;       ///< of a sweep: its angles, of which only one sees what is ahead
    double from_m = 0.0; ///< near end of the numbers that stop it
    double edge_m = 0.0; ///< where the board really begins to act, whole numbers included
    std::vector<const rules::Reading *> unlessSilent; ///< whose policy then skips every rule
};

/// Does a reading look to a side on this car: more than kit::aheadWithin_rad, its servo's angles
/// counted? A reading that is no echo, or whose ranger has no place, does not.
bool looksAside(const kit::Car &car, const rules::Reading &reading);

/// The approaches of a complete program whose readings look ahead on this car, state by state and
/// from the farthest limit to the nearest; with `aside` those of readings that look to a side.
/// Pointers lead into its program. Fails as regions::of() does.
Result<std::vector<Approach>> approaches(const regions::Exact &exact, const kit::Assembly &car,
                                         bool aside = false);

} // namespace badger::judge
