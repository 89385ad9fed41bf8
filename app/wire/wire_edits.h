// SPDX-License-Identifier: GPL-3.0-or-later
// How is the wiring of the picked car changed so that it can be undone?
#pragma once

#include "app/shell/session.h"

#include <functional>

namespace badger::app
{

/// Applies an edit to the picked car as one named step and keeps its wiring revision true. Where it
/// is refused the reason is said and false comes back.
bool editWiring(Session &session, const QString &text,
                const std::function<void(kit::Car &)> &change);

/// Today as files hold it, 2026-11-19.
std::string today();

/// "board.D5" of every part.
QStringList allTerminals(const kit::Car &car, const parts::Catalogue &catalogue);

} // namespace badger::app
