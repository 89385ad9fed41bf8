// SPDX-License-Identifier: GPL-3.0-or-later
// Which floors can be made from a few numbers?
//
// A kind is data: its keys with their ranges and what each is at first, and one function that draws
// it. The command line and the window read the same list. The car starts looking along x;
// `straight` has its board across the way, and so on. Lengths ahead are counted from its foremost
// point.
#pragma once

#include "core/base/result.h"
#include "core/floor/floor.h"
#include "core/units/quantity.h"

#include <map>
#include <string>
#include <string_view>
#include <vector>

namespace badger::floor
{

/// One number or word of a kind.
struct Key {
    std::string name;                      ///< "distance"
    const char *what;                      ///< "from the car's nose to the board"
    std::string first;                     ///< as it is typed, "1.8m"
    units::Unit unit = units::Unit::Metre; ///< of a quantity: of its range below
    double low = 0.0;
    double high = 0.0;
    std::vector<std::string> words{}; ///< not empty: it is one of these
    bool count = false;               ///< a whole number without a unit
};

struct Generator {
    std::string name; ///< "straight"
    const char *what; ///< "a flat board across the way"
    std::vector<Key> keys;
};
const std::vector<Generator> &generators();
const Generator *generator(std::string_view name);

/// The floor; what is not set is as it is at first. It has no id yet. Fails with Missing for a kind
/// or key that is not there (naming those that are), with Malformed or OutOfRange for a value.
Result<Floor> generate(std::string_view kind, const std::map<std::string, std::string> &set,
                       const std::string &name);

/// Floors that every new workshop begins with, without ids: a board across the way, a room with
/// boxes, a loop of one line.
std::vector<Floor> firstFloors();

} // namespace badger::floor
