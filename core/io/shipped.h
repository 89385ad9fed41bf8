// SPDX-License-Identifier: GPL-3.0-or-later
// Which parts, schema and demo come with the program?
#pragma once

#include "core/parts/catalogue.h"
#include "core/workshop/workshop.h"

#include <string_view>

namespace badger::io
{

/// The shipped parts. They are part of the program and are checked by its tests.
const parts::Catalogue &shippedCatalogue();

/// A car to begin with: its parts, where they sit and what feeds them; no wires yet.
struct StartingKit {
    std::string name; ///< "Stop ahead"
    std::string line; ///< what is in it
    kit::Car car;     ///< without a name
};
const std::vector<StartingKit> &startingKits();

/// The shipped catalogue with the workshop's own parts before it.
parts::Catalogue catalogueOf(const workshop::Workshop &workshop);

/// The JSON Schema of the workshop file.
std::string_view workshopSchema();

/// The behaviours that programs begin with, as a file's text.
std::string_view behaviourTemplates();

/// The demo workshop as a file's text.
std::string_view demoWorkshop();

} // namespace badger::io
