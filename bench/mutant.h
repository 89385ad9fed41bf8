// SPDX-License-Identifier: GPL-3.0-or-later
// A workshop file as somebody else might have written it: the demo with a few things changed.
#pragma once

#include <nlohmann/json.hpp>
#include <random>
#include <string>

namespace badger::bench
{

struct Mutant {
    std::string text; ///< of the file
    std::string how;  ///< what was changed, for the one who looks for the cause
};

/// The mutant of a seed: the same seed gives the same one. Most change one to three values in their
/// own range or a little out of it; some rename a thing everywhere to a hostile text, leave out or
/// double a piece, change a type, or flip bytes.
Mutant mutant(const nlohmann::ordered_json &original, unsigned seed);

} // namespace badger::bench
