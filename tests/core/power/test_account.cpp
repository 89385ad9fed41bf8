// SPDX-License-Identifier: GPL-3.0-or-later
// Volts and amps of cars that are no tree, or not wired yet, against sums by hand: all that is said
// of a car comes from one network.
#include "core/circuit/full_duty.h"
#include "core/drive/speed.h"
#include "core/power/report.h"
#include "support/fixture.h"
#include "support/leaks.h"

using namespace badger;
using namespace badger::power;
using kit::Charge;
using test::Bench;

namespace
{

constexpr double all_A = 0.601;   // two motors, the module, the board, the ranger
constexpr double pack_ohm = 0.18; // six cells
constexpr double switch_ohm = 0.02;
constexpr double diode_V = 0.7;
constexpr double hand = 1e-3; // what a sum by hand leaves out: contacts, leaks

void off(Bench &b, const std::string &from, const std::string &to)
{
    std::erase_if(b.car.wires, [&](const kit::Wire &w) { return w.from == from && w.to == to; });
}
void join(Bench &b, const std::string &from, const std::string &to)
{
    b.car.wires.push_back({from, to, "red", {}});
}

/// A second pack beside Avocet's six cells of NiMH, each behind a diode or both at the switch.
void secondPack(Bench &b, int cells, bool diodes)
{
    auto second = b.instance("pack");
    second.id = "second";
    second.cellsInSeries = cells;
    b.car.parts.push_back(second);
    off(b, "pack.PLUS", "switch.IN");
    b.instance("switch").feeds.clear();
    join(b, "second.MINUS", "pack.MINUS");
    for (const std::string pack : {"pack", "second"}) {
        const auto diode = pack + "-diode";
        if (diodes) {
            kit::Instance d;
            d.id = diode;
            d.partId = "series-diode";
            b.car.parts.push_back(d);
            join(b, pack + ".PLUS", diode + ".IN");
        }
        join(b, diodes ? diode + ".OUT" : pack + ".PLUS", "switch.IN");
    }
}

Values valuesAt(const Bench &b, const char *node, Load load = Load::Running)
{
    const auto tree = solve({b.car, b.catalogue});
    const int i = tree.indexOf(node);
    return i < 0 ? Values{} : tree.at(i, {Charge::Nominal, load, Case::Typical});
}

} // namespace

class TestAccount final : public QObject
{
    Q_OBJECT
private slots:
    void ofTwoPacksBehindDiodesTheFullerGivesAll()
    {
        Bench b;
        secondPack(b, 5, true);
        COMPARE_NEAR(valuesAt(b, "driver.VS").volts_V,
                     7.2 - all_A * (pack_ohm + switch_ohm) - diode_V, hand);
        COMPARE_NEAR(valuesAt(b, "pack").amps_A, all_A, hand);
        COMPARE_NEAR(valuesAt(b, "second").amps_A, 0.0, hand);
    }

    void twoAlikeShare()
    {
        for (const bool diodes : {true, false}) {
            Bench b;
            secondPack(b, 6, diodes);
            COMPARE_NEAR(valuesAt(b, "driver.VS").volts_V,
                         7.2 - all_A / 2 * pack_ohm - all_A * switch_ohm - (diodes ? diode_V : 0.0),
                         hand);
            for (const auto *pack : {"pack", "second"})
                COMPARE_NEAR(valuesAt(b, pack).amps_A, all_A / 2, hand);
            COMPARE_NEAR(report({b.car, b.catalogue}).runTime->typical_h, 1.6 / (all_A / 2), 0.02);
        }
        Bench b;
        secondPack(b, 6, true);
        const auto tree = solve({b.car, b.catalogue});
        const auto *diode = tree.node("second-diode");
        QVERIFY(diode && tree.nodes[size_t(diode->parent)].id == "second");
    }

    /// Two sources and a load in one node: (7.2/0.18 + 6/0.15 - 0.601) / (1/0.18 + 1/0.15).
    void theWeakerIsCharged()
    {
        Bench b;
        secondPack(b, 5, false);
        const double volts_V =
            (7.2 / pack_ohm + 6.0 / 0.15 - all_A) / (1.0 / pack_ohm + 1.0 / 0.15);
        COMPARE_NEAR(valuesAt(b, "second").amps_A, (6.0 - volts_V) / 0.15, 0.01);
        QVERIFY(valuesAt(b, "second").amps_A < -3.0);
    }

    /// What is stated counts where no wire is drawn yet, at any stage.
    void halfDrawnIsReckonedAsItIsMeant()
    {
        const Bench whole;
        for (size_t drawn = 0; drawn <= whole.car.wires.size(); ++drawn) {
            Bench b;
            b.car.wires.resize(drawn);
            COMPARE_NEAR(valuesAt(b, "driver.VS").volts_V, 7.2 - all_A * (pack_ohm + switch_ohm),
                         hand);
            COMPARE_NEAR(valuesAt(b, "pack").amps_A, all_A, hand);
        }
        Bench b;
        off(b, "pack.MINUS", "driver.GND"); // the grounds are joined, the pack is not yet
        COMPARE_NEAR(valuesAt(b, "pack").amps_A, all_A, hand);
    }

    /// A held motor is 5 ohm, its bridge 1.8 V and 1.4 ohm; a 9 V block has 1.75 ohm.
    void stalledOnABlock()
    {
        Bench b;
        b.instance("pack").partId = "block-9v";
        b.instance("pack").cellsInSeries = 1;
        const double ohm = 1.75 + switch_ohm;
        const double each_A = (9.0 - ohm * 0.101 - 1.8) / (5.0 + 1.4 + 2.0 * ohm);
        COMPARE_NEAR(valuesAt(b, "pack", Load::Stalled).amps_A, 2.0 * each_A + 0.101, 0.003);
        COMPARE_NEAR(valuesAt(b, "driver.VS", Load::Stalled).volts_V,
                     9.0 - ohm * (2.0 * each_A + 0.101), 0.005);
    }

    /// Kit's speed and the budget's are of the same volts.
    void oneSpeed()
    {
        Bench b;
        b.car.calibrations.speeds.clear();
        const kit::Assembly car(b.car, b.catalogue);
        const auto r = report(car);
        COMPARE_NEAR(*r.at(Charge::Fresh).front().speedFull_mps, drive::speedAt(car, 255)->value,
                     1e-6);
        COMPARE_NEAR(r.at(Charge::Fresh).front().running_V,
                     circuit::fullDuty(car, Charge::Fresh)->motor_V, 1e-6);
    }

    /// A drive servo runs on what feeds it, not on the first pack of the car.
    void aServoRunsOnItsOwnSupply()
    {
        const Bench b("Ruff");
        const kit::Assembly car(b.car, b.catalogue);
        const auto full = circuit::fullDuty(car, Charge::Nominal);
        QVERIFY(full.has_value());
        COMPARE_NEAR(full->motor_V, valuesAt(b, "left.VCC").volts_V, test::leaks);
    }
};

BADGER_TEST(TestAccount)
#include "test_account.moc"
