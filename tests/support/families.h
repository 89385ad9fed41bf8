// SPDX-License-Identifier: GPL-3.0-or-later
// One program of each of the nineteen families, with the demo car that it is for.
#pragma once

#include "core/judge/drive.h"

#include <map>
#include <string>
#include <vector>

namespace badger::test
{

struct Family {
    const char *name; ///< of its template
    const char *car;
    std::map<std::string, std::string> choices;
};
const std::vector<Family> &families();

/// The demo car of a family with its program on a floor. Ends the program where it can't be made.
judge::Course courseOf(const Family &family, std::shared_ptr<const floor::Floor> floor);

} // namespace badger::test
