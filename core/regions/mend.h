// SPDX-License-Identifier: GPL-3.0-or-later
// What mends a finding of a program in one step?
//
// Every candidate is tried on a copy: the copy is checked as the program was, and is offered only
// where the finding is gone and nothing as severe has come.
#pragma once

#include "core/regions/check.h"

#include <functional>

namespace badger::regions
{

struct Mend {
    Say words; ///< what is changed, "say ≤ for < in 'near'"
    rules::Program program;
};

/// Up to `most` ways, each one word or one value of the program made otherwise (of turns the two
/// times together; of a lost target a rule more; of holes that no one word closes two comparisons).
/// Empty where none was found.
///
/// `finding` is one of check(program, around); of others (rules::check) none is looked for. Up to a
/// hundred copies are checked; `stopped` is asked before each, and where it says yes what was found
/// until then is returned.
std::vector<Mend> mends(const rules::Program &program, const Around &around, const Finding &finding,
                        std::size_t most = 2, const std::function<bool()> &stopped = {});

} // namespace badger::regions
