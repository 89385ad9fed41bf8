// SPDX-License-Identifier: GPL-3.0-or-later
// What a sentence leaves behind when it is taken out. Private to the changes of sentences.
#pragma once

#include "core/base/result.h"
#include "core/rules/program.h"

namespace badger::sentences
{

/// Both fail with Conflict where something still leads there, or uses it; else the target to go on
/// at.
Result<std::string> removeState(rules::Program &program, std::size_t index);
Result<std::string> removeReading(rules::Program &program, const std::string &name);

} // namespace badger::sentences
