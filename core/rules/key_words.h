// SPDX-License-Identifier: GPL-3.0-or-later
// What are the commands of a person's keys called?
#pragma once

#include "core/rules/program.h"

#include <array>

namespace badger::rules
{

inline constexpr std::array<const char *, 5> commandWords = {"none", "ahead", "back", "left",
                                                             "right"};

/// "ahead"
inline const char *word(Command command)
{
    return commandWords[static_cast<std::size_t>(command)];
}

} // namespace badger::rules
