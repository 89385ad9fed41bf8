// SPDX-License-Identifier: GPL-3.0-or-later
// How each kind of floor is drawn from its numbers. Private to floor/.
#pragma once

#include "core/floor/floor.h"

#include <functional>
#include <map>
#include <string>

namespace badger::floor
{

/// The values of one floor, by key: SI numbers, counts and words.
struct Values {
    std::map<std::string, double> numbers;
    std::map<std::string, std::string> words;
    double operator[](const char *key) const { return numbers.at(key); }
    bool is(const char *key, const char *word) const { return words.at(key) == word; }
};

using Draw = std::function<void(Floor &, const Values &)>;

void straight(Floor &f, const Values &v);
void boxes(Floor &f, const Values &v);
void corridor(Floor &f, const Values &v);
void corner(Floor &f, const Values &v);
void pocket(Floor &f, const Values &v);
void ring(Floor &f, const Values &v);
void sideWall(Floor &f, const Values &v);
void post(Floor &f, const Values &v);
void doorway(Floor &f, const Values &v);
void target(Floor &f, const Values &v);
void table(Floor &f, const Values &v);
void loop(Floor &f, const Values &v);
void lane(Floor &f, const Values &v);
void crossing(Floor &f, const Values &v);

} // namespace badger::floor
