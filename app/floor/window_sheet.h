// SPDX-License-Identifier: GPL-3.0-or-later
// The window on paper: one page with its picture, conditions, claims and what was not simulated.
#pragma once

#include "core/base/result.h"
#include "core/window/search.h"

#include <QString>
#include <memory>

namespace badger::app
{

/// What a window says beside its picture, line by line: each condition with its reason and what
/// ends it, what was drawn from the catalogue, what was not simulated, the caution.
QStringList windowLines(const window::Window &window);

/// One A4 page across. `now`: the value as the program has it. Fails where it does not fit or the
/// file cannot be written.
Result<void> saveWindowPdf(const QString &path, const std::shared_ptr<const window::Window> &window,
                           std::optional<double> now);

} // namespace badger::app
