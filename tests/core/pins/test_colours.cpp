// SPDX-License-Identifier: GPL-3.0-or-later
// Which colour a wire has.
#include "core/edit/kit_edits.h"
#include "core/nets/drive_map.h"
#include "core/pins/assignment.h"
#include "core/pins/planner.h"
#include "core/wiring/check.h"
#include "support/fixture.h"

#include <numeric>
#include <random>

using namespace badger;
using namespace badger::nets;
using namespace badger::pins;
using parts::Role;
using test::Bench;

class TestColours final : public QObject
{
    Q_OBJECT
private slots:
    void coloursFollowTheEnds()
    {
        const Bench b;
        const auto colour = [&](const char *from, const char *to) {
            return colourFor({b.car, b.catalogue}, from, to);
        };
        QCOMPARE(colour("board.GND3", "board.D9"), std::string("black"));
        QCOMPARE(colour("board.D9", "switch.OUT"), std::string("red"));
        QCOMPARE(colour("left.A", "board.D9"), std::string("red"));
        QCOMPARE(colour("left.B", "board.D9"), std::string("black"));
        QCOMPARE(colour("nobody.X", "board.D9"), freeColour(b.car));
    }

    void coloursForNewWires()
    {
        Bench b;
        QCOMPARE(freeColour(kit::Car{}), std::string("yellow"));
        for (auto &w : b.car.wires)
            if (w.colour == "violet")
                w.colour = "red";
        QCOMPARE(freeColour(b.car), std::string("violet"));
    }
}; // namespace QObject

BADGER_TEST(TestColours)
#include "test_colours.moc"
