// SPDX-License-Identifier: GPL-3.0-or-later
// What does a window rest on, and what stays of it when it is kept?
#pragma once

#include "core/judge/judge.h"
#include "core/window/search.h"

namespace badger::window
{

/// Would the runs of two grounds be alike at every place of a value? The same build, drive and
/// measurements of the car, the same floor, own parts and records, and programs that differ in that
/// value, their names and versions alone. What is not there (no program, no floor) is like nothing.
bool sameGround(const judge::Grounds &a, const judge::Grounds &b, const std::string &value);

/// The question that a car asks about a value: on its floor, under what is proposed for it and
/// under the conditions of its own. Program and floor are there.
Question questionOf(const judge::Grounds &on, const parts::Catalogue &catalogue,
                    const std::string &value);

/// What a car keeps of a window that is done; `ground` is left empty.
kit::FoundWindow found(const Window &window, const std::string &date);

} // namespace badger::window
