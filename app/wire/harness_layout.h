// SPDX-License-Identifier: GPL-3.0-or-later
// Where do the parts of a harness stand on the page, and how do its wires run?
#pragma once

#include "core/kit/car.h"

#include <QPainterPath>
#include <QRectF>
#include <QString>
#include <map>
#include <vector>

namespace badger::app
{

struct HarnessTerminal {
    std::string name;     ///< "board.D5"
    QPointF at;           ///< where wires end
    bool onRight = false; ///< wires leave to the right
};

struct HarnessPart {
    std::string id;
    QString title;
    QRectF area;
    std::vector<HarnessTerminal> terminals;
};

struct HarnessWire {
    size_t index = 0; ///< into the car's wires
    QPainterPath path;
};

struct HarnessLayout {
    std::vector<HarnessPart> parts;
    std::vector<HarnessWire> wires;
    qreal height = 0.0;
    int crossings = 0; ///< of wires between the columns
    const HarnessTerminal *terminal(const std::string &name) const;
};

/// Two combs facing each other, the board's on the left and the modules' in the middle; what only
/// a driver feeds stands on the right, in the order that core/wiring/arrange.h finds. `row` is the
/// height of one terminal.
HarnessLayout layOut(const kit::Car &car, const parts::Catalogue &catalogue, qreal width,
                     qreal row);

/// A wire between two terminals of a layout that is not among its wires.
QPainterPath wirePath(const HarnessTerminal &from, const HarnessTerminal &to);

} // namespace badger::app
