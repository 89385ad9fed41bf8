// SPDX-License-Identifier: GPL-3.0-or-later
// How does a file of an earlier version become one of today's?
#pragma once

#include "core/io/json_archive.h"

namespace badger::io
{

/// Makes a workshop of version 1 one of version 2, before it is read. In version 1 cars, programs
/// and floors were referred to by name; each gets an id that is derived from its kind and name
/// (derivedIdText), a trial one from its content, so that opening a file twice gives the same. What
/// a trial says of its program and floor stays beside the id, because it need not be here any more.
///
/// Comes back: the first name of a program, floor or car that does not exist, as it stands in the
/// file; said after whatever else is wrong, which may be the cause. What is no list, no object or
/// no text where one is expected is left alone: the reader says so. A person's own key of a name
/// that version 2 uses is kept as "id_1".
std::optional<Error> upgradeFrom1(Json &workshop);

} // namespace badger::io
