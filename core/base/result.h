// SPDX-License-Identifier: GPL-3.0-or-later
// How does a function say that people's or a file's input cannot be used?
#pragma once

#include "core/base/say.h"

#include <tl/expected.hpp>

namespace badger
{

/// What was wrong with input, where, and how to mend it. Shown to people word for word.
struct Error {
    enum class Kind { OutOfRange, Missing, Malformed, Conflict, Storage };
    Kind kind = Kind::Malformed;
    Say where;           ///< "car 'Avocet', threshold" or a JSON pointer or a line
    Say what;            ///< "2.5 cm lies inside the ranger's dead zone (3 cm)"
    Say mend;            ///< "choose 3 cm or more"
    std::string place{}; ///< of a car: the terminal or instance, "left.A"; empty: none is named

    /// One line: "where: what; mend".
    Say text() const { return joined({joined({where, what}, ": "), mend}, "; "); }
};

/// A value, or why there is none. Test with `if (!r)`.
template <class T> using Result = tl::expected<T, Error>;

/// Shorthand for a failed Result.
inline tl::unexpected<Error> fail(Error::Kind kind, Say where, Say what, Say mend = {})
{
    return tl::unexpected(Error{kind, std::move(where), std::move(what), std::move(mend)});
}

/// Of a place on a car.
inline tl::unexpected<Error> failAt(Error::Kind kind, const std::string &car,
                                    const std::string &place, Say what, Say mend = {})
{
    return tl::unexpected(
        Error{kind, say("car '{}', {}", car, place), std::move(what), std::move(mend), place});
}

} // namespace badger
