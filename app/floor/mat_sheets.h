// SPDX-License-Identifier: GPL-3.0-or-later
// A mat on paper: the floor at 1:1 over as many sheets as it takes.
#pragma once

#include "core/base/result.h"
#include "core/floor/floor.h"

#include <QPageSize>
#include <QString>

namespace badger::app
{

/// One PDF page a sheet, row by row from the top left. Neighbours overlap by 1 cm, with marks that
/// lie on one another; each names its place among all. The first has a bar of 10 cm to be measured.
/// Sheets on which nothing is drawn are left out. Gives the number of sheets. Fails where nothing
/// is drawn, for more than 200 sheets, and where the file cannot be written.
Result<int> saveMatPdf(const QString &path, const floor::Floor &floor,
                       QPageSize::PageSizeId paper = QPageSize::A4);

} // namespace badger::app
