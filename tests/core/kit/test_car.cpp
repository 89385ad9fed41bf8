// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/kit/car.h"
#include "support/fixture.h"

using namespace badger;
using test::Bench;

class TestCar final : public QObject
{
    Q_OBJECT
private slots:
    void packVolts()
    {
        Bench b;
        using kit::Charge;
        COMPARE_NEAR(*kit::Assembly(b.car, b.catalogue).packVolts_V(Charge::Fresh), 8.4, 1e-9);
        COMPARE_NEAR(*kit::Assembly(b.car, b.catalogue).packVolts_V(Charge::Nominal), 7.2, 1e-9);
        COMPARE_NEAR(*kit::Assembly(b.car, b.catalogue).packVolts_V(Charge::NearEmpty), 6.0, 1e-9);
        std::erase_if(b.car.parts, [](const kit::Instance &i) { return i.id == "pack"; });
        QVERIFY(!kit::Assembly(b.car, b.catalogue).packVolts_V(Charge::Fresh));
    }

    void voltsOfEachSource()
    {
        Bench b;
        using kit::Charge;
        auto pack = *b.car.instance("pack");
        pack.cellsInSeries = 4;
        pack.otherCells = {{"cell-alkaline", 2, {}}};
        COMPARE_NEAR(*kit::sourceVolts_V(pack, b.catalogue, Charge::Nominal), 4 * 1.2 + 2 * 1.5,
                     1e-9);
        COMPARE_NEAR(*kit::sourceVolts_V(pack, b.catalogue, Charge::Fresh, kit::Bound::High),
                     4 * 1.45 + 2 * 1.65, 1e-9);
        kit::Instance bank;
        bank.partId = "usb-bank";
        COMPARE_NEAR(*kit::sourceVolts_V(bank, b.catalogue, Charge::NearEmpty), 5.0, 1e-9);
        QVERIFY(!kit::sourceVolts_V(*b.car.instance("board"), b.catalogue, Charge::Fresh));
    }

    void findsParts()
    {
        Bench b;
        QCOMPARE(kit::Assembly(b.car, b.catalogue).first(parts::Kind::Ranger)->id,
                 std::string("ranger"));
        QVERIFY(!kit::Assembly(b.car, b.catalogue).first(parts::Kind::Rail));
        QCOMPARE(kit::Assembly(b.car, b.catalogue).motorOn(kit::Side::Left)->id,
                 std::string("left"));
        QCOMPARE(kit::Assembly(b.car, b.catalogue).motorOn(kit::Side::Right)->id,
                 std::string("right"));
        QVERIFY(!b.car.instance("nobody"));
    }

    void terminals()
    {
        Bench b;
        QVERIFY(kit::Assembly(b.car, b.catalogue).terminal("board.D5")->pwm);
        QVERIFY(!kit::Assembly(b.car, b.catalogue).terminal("board.D99"));
        QVERIFY(!kit::Assembly(b.car, b.catalogue).terminal("bard.D5"));
        QVERIFY(!kit::Assembly(b.car, b.catalogue).terminal("D5"));
        QCOMPARE(kit::splitTerminal("a.b.c").terminal, std::string("b.c"));
        QCOMPARE(kit::splitTerminal("nodot").instance, std::string());
    }

    void startingKitsAreWhole()
    {
        // Every part exists, and only the wires and the choices are left to make.
        workshop::Workshop w;
        for (const auto &k : io::startingKits()) {
            w.cars.push_back(k.car);
            QVERIFY(k.car.wires.empty() && k.car.mission && !k.line.empty());
        }
        VERIFY_OK(io::verify(w));
        w.cars.front().name = "Knot";
        w.programs = {rules::haltProgram({"p"}, "halt")};
        QCOMPARE(workshop::freeCarName(w, "Knot"), std::string("Knot 2"));
        QCOMPARE(workshop::freeCarName(w, "Stint"), std::string("Stint"));
        QCOMPARE(workshop::freeProgramName(w, "halt"), std::string("halt 2"));
    }
};

BADGER_TEST(TestCar)
#include "test_car.moc"
