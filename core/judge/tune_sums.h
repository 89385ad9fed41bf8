// SPDX-License-Identifier: GPL-3.0-or-later
// What a record says, in words and as a sum.
#pragma once

#include "core/base/derivation.h"
#include "core/kit/assembly.h"
#include "core/rules/program.h"
#include "core/tune/record.h"

namespace badger::judge
{

/// "at 25 cm: 24.5 cm, 40 readings", "light: 40 readings, 812 on average".
Say wordsOf(tune::What what, const tune::Stretch &stretch);
/// When and under which circumstances it was taken.
Say wordsOf(const tune::Record &record);

/// The number of a record with its arithmetic on this car; no steps where it has none yet.
/// `program` is what the car runs; null: none.
Derivation whyRecord(const tune::Record &record, const kit::Assembly &car,
                     const rules::Program *program);

} // namespace badger::judge
