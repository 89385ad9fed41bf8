// SPDX-License-Identifier: GPL-3.0-or-later
// The wiring card of a car: one page with harness, wire table, first power walk and cautions; and
// the harness alone as SVG.
#pragma once

#include "core/base/result.h"
#include "core/kit/car.h"

#include <QString>

class QPainter;
class QSizeF;

namespace badger::app
{

/// What a card is made of.
struct CardContent {
    const kit::Car &car;
    const parts::Catalogue &catalogue;
    QString workshop;
};

/// Paints the card onto a sheet of this many dots, ten a millimetre. Text shrinks, within what can
/// be read, until everything is on the one page; false where it still does not fit.
bool paintCard(QPainter &painter, QSizeF dots, const CardContent &content);

/// One A4 page. Fails where the file cannot be written, or a harness is too large for a page.
Result<void> saveCardPdf(const QString &path, const CardContent &content);
/// The harness in the colours of the light palette, text as text.
Result<void> saveHarnessSvg(const QString &path, const CardContent &content);

} // namespace badger::app
