// SPDX-License-Identifier: GPL-3.0-or-later
// How does a workshop become text, and text a workshop?
#pragma once

#include "core/base/result.h"
#include "core/parts/catalogue.h"
#include "core/workshop/workshop.h"

#include <string>
#include <string_view>

namespace badger::io
{

/// The version of the file format this program writes, and the newest it reads.
inline constexpr int formatVersion = 2;

/// Reads a workshop, of this version or an earlier one. On an error nothing has changed anywhere.
/// In this order: the text is JSON without doubled keys and not nested too deeply (the place is a
/// line); it is a workshop of a version this program knows; each value keeps the limits of its
/// description; everything it refers to exists, and no name is there twice (the place is a JSON
/// pointer).
Result<workshop::Workshop> readWorkshop(std::string_view text);

/// The workshop as text: two-space indentation, keys in the order of docs/file-format.md, unknown
/// keys after the known ones, numbers as short as they read back the same, a line end at the end.
std::string writeWorkshop(const workshop::Workshop &workshop);

/// The description of the format as JSON Schema, draft 7: the same keys and limits that the reader
/// holds to. data/schema/workshop.schema.json is this text.
std::string makeSchema();

/// What is wrong with references, names and numbers that no schema can see. `pointer` of the error
/// names the place. Used by the reader, and by the window before it takes an edit.
Result<void> verify(const workshop::Workshop &workshop);

/// verify() for a workshop that came from one which was verified: pieces that the two share are
/// looked at again only where what they refer to changed. `catalogue` is that of `after`.
Result<void> verifyEdit(const workshop::Workshop &after, const workshop::Workshop &before,
                        const parts::Catalogue &catalogue);

/// Would the reader take `after` back once it is saved? Asked of the pieces that `before`, which it
/// took, does not have: a drag of one value asks for one program. The error is the reader's; its
/// place counts within the pieces that were asked for.
Result<void> takesBack(const workshop::Workshop &after, const workshop::Workshop &before,
                       const parts::Catalogue &catalogue);

} // namespace badger::io
