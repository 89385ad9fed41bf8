// SPDX-License-Identifier: GPL-3.0-or-later
// How does each of a car's numbers come about, step by step?
//
// The window unfolds these under the picture, the command line prints them with --why.
#pragma once

#include "core/base/derivation.h"
#include "core/judge/judge.h"

namespace badger::judge
{

/// The gap that is left at worst: the threshold less each term of the budget; then what was not
/// counted, and the two inverse questions where a gap is wanted.
Derivation whyGap(const CarBudget &budget, std::optional<double> wantedGap_m);

/// The next threshold: overshoot, wanted gap, and the spread where there is one.
Derivation whyNext(const logbook::Proposal &proposal);

/// Which inputs turn the two wheels forward, and where their speed comes from.
Derivation whyWheels(const kit::Assembly &car);

/// All of these that a judged car has, and those of its balance and of what its rangers see.
std::vector<Derivation> sumsOf(const Judgement &judgement, const kit::Assembly &car);

} // namespace badger::judge
