// SPDX-License-Identifier: GPL-3.0-or-later
// Opening a workshop file and picking a car in it.
#pragma once

#include "core/workshop/workshop.h"

#include <fmt/format.h>
#include <fmt/ranges.h>
#include <string>
#include <vector>

namespace badger::cli
{

struct Opened {
    workshop::Workshop workshop;
    parts::Catalogue catalogue;
};
/// The file as a workshop; the error names the file.
Result<Opened> open(const std::string &file);

template <class List> std::string names(const List &all)
{
    std::vector<std::string> list;
    for (const auto &t : all)
        list.push_back(t.name);
    return list.empty() ? "none" : fmt::format("{}", fmt::join(list, ", "));
}

/// The error lists the cars there are.
Result<const kit::Car *> carNamed(const Opened &opened, const std::string &name);

/// The one that is named, or every car where the name is empty.
Result<std::vector<const kit::Car *>> carsNamed(const Opened &opened, const std::string &name);

struct PickedCar {
    kit::Car car;
    Opened opened;
};
Result<PickedCar> pickCar(const std::string &file, const std::string &carName);

/// The program that a car runs; fails with Missing where it runs none.
Result<const rules::Program *> programOf(const Opened &o, const kit::Car &car);

/// A car with its program, or why not.
struct Picked {
    kit::Car car;
    rules::Program program;
    Opened opened;
};
Result<Picked> pick(const std::string &file, const std::string &carName);

} // namespace badger::cli
