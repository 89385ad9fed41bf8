// SPDX-License-Identifier: GPL-3.0-or-later
// How is it said that a value is not what its description wants?
#pragma once

#include "core/base/result.h"
#include "core/io/limits.h"

#include <string>
#include <string_view>

namespace badger::io
{

enum class Shape { Number, Whole, Truth, Text, List, Object };

/// Does it keep its limits? A number that is none (NaN) or has no end never does.
bool keeps(double number, const Limits &limits);
bool keeps(std::string_view text, const Limits &limits);

/// The unit that a key carries, with a space before it: " m/s" of "speed_m_s"; empty where none.
std::string_view unitOf(std::string_view pointer);

/// "2000 m does not fit; it should be a number from 0.02 to 2 m". `found` is the value as the file
/// has it, cut to a readable length here.
Error misfit(std::string_view pointer, std::string_view found, Shape shape, const Limits &limits);
/// "/cars/0: the key 'geometry' is missing; add it".
Error missing(std::string_view pointer, std::string_view key);

} // namespace badger::io
