// SPDX-License-Identifier: GPL-3.0-or-later
// In which order is the car put together, and what has to be looked at before a step that cannot
// be undone?
#pragma once

#include "core/base/check.h"
#include "core/base/say.h"
#include "core/kit/assembly.h"
#include "core/kit/balance.h"

#include <string>
#include <vector>

namespace badger::mechanics
{

/// Something to look at or do; its key is what the car's ticks hold.
struct Item {
    std::string key; ///< "drill:laid-out"
    Say text;        ///< "the template is laid on the deck and its 100 mm line measures 100 mm"
    bool ticked = false;
};

/// One step of the build. Where it cannot be undone it stays shut until every item is ticked.
struct BuildStep {
    std::string key; ///< "drill"
    Say title;       ///< "Drill and cut"
    Say text;
    Say caution; ///< empty where nothing can hurt
    bool irreversible = false;
    std::vector<Item> before; ///< to look at before the hand does it
    bool done = false;        ///< ticked off itself, by its key
    bool open() const;        ///< nothing before it is unticked
};

/// The steps that this car's parts call for, in fitting order.
std::vector<BuildStep> buildSteps(const kit::Assembly &car);

/// A line of the list of fasteners, tools and consumables.
struct Supply {
    std::string key; ///< "have:screw-m3-10"
    Say name;
    int count = 0; ///< 0 for a tool
    Say forWhat;
    bool ticked = false;
};
/// Fasteners counted over every fitted part, in the order of the parts, then consumables and tools.
std::vector<Supply> fastenerList(const kit::Assembly &car);

/// Which way a motor turns for forward, seen from outside the car on its own shaft side.
struct SenseMark {
    std::string motor;
    kit::Side side = kit::Side::None;
    bool counterClockwise = false;
};
/// Forward is counter-clockwise on the left side and clockwise on the right.
std::vector<SenseMark> senseMarks(const kit::Assembly &car);

/// A warning for each step that is ticked as done although something before it is not.
Findings checkSteps(const kit::Assembly &car);

/// What this check is called and says, for the list of findings.
std::vector<CheckLine> checkLines();

} // namespace badger::mechanics
