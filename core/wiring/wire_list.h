// SPDX-License-Identifier: GPL-3.0-or-later
// The wire list as a table that any spreadsheet opens, and back.
//
// Columns from, to, colour, by name and in any order; further columns are left alone. Commas or
// semicolons part the fields, as the first row does.
#pragma once

#include "core/base/result.h"
#include "core/base/say.h"
#include "core/kit/assembly.h"

#include <string>
#include <vector>

namespace badger::wiring
{

/// One row a wire, in the car's order, with a heading.
std::string wireListCsv(const kit::Car &car);

struct RowProblem {
    int row = 0;      ///< counted from the heading, which is row 1
    std::string text; ///< "ranger.ECHO,board.D99,yellow"
    Say what;         ///< what is wrong and how to mend it
};

struct ImportedWires {
    std::vector<kit::Wire> wires;      ///< of the rows that are right and new to the car
    int known = 0;                     ///< rows that the car has already
    std::vector<kit::Wire> recoloured; ///< that it has in another colour
    std::vector<RowProblem> problems;  ///< rows that are left out
};

/// Reads a list for a car. Rows that name nothing on the car, that stand twice or that lack an end
/// are named and left out; the rest is kept. Fails where the whole text is no such table.
Result<ImportedWires> readWireList(const std::string &text, const kit::Assembly &car);

/// The car with the imported wires added and recoloured. No wire it has is taken off.
kit::Car withImported(kit::Car car, const ImportedWires &imported);

} // namespace badger::wiring
