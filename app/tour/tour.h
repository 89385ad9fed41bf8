// SPDX-License-Identifier: GPL-3.0-or-later
// The demo's main job, played through the window itself, with a picture of each step.
#pragma once

#include "app/shell/main_window.h"

namespace badger::app
{

/// Plays the job on the selected car: check the wires, set the threshold, drive the simulated run,
/// enter what the ruler said. Saves a PNG of every station into `folder` and prints the verdict.
/// Returns false, with the reason on standard error, when a picture cannot be stored.
bool playDemo(MainWindow &window, Document &document, Session &session, const QString &folder);

/// Saves one PNG a station of the document as it stands, for docs/screenshots.
bool takePictures(MainWindow &window, Session &session, const QString &folder,
                  const QString &suffix);

} // namespace badger::app
