// SPDX-License-Identifier: GPL-3.0-or-later
// What flows through each wire of a running car, by hand.
#include "core/circuit/probe.h"
#include "core/circuit/strain.h"
#include "support/fixture.h"
#include "support/leaks.h"

using namespace badger;
using namespace badger::circuit;
using test::Bench;

namespace
{

/// In the first wire between these ends; none where it lies in a ring, or is not there.
std::optional<double> wireAt(const Bench &b, const std::string &from, const std::string &to,
                             bool held = false)
{
    const kit::Assembly car(b.car, b.catalogue);
    const nets::Nets nets(car);
    const CarNetwork network(nets);
    const auto looked = look(network);
    const auto amps = wireAmps(network, held ? looked.stalled : looked.running);
    for (size_t i = 0; i < amps.size(); ++i)
        if (b.car.wires[i].from == from && b.car.wires[i].to == to)
            return amps[i] ? std::optional(std::abs(*amps[i])) : std::nullopt;
    return std::nullopt;
}

} // namespace

class TestWireAmps final : public QObject
{
    Q_OBJECT
private slots:
    void byHand()
    {
        // Motors 2 × 250 mA, the module 36 mA; the board 50 mA and the ranger 15 mA.
        const Bench b;
        constexpr double signals_A = 1e-3; // high outputs meet protecting diodes and pull-downs
        COMPARE_NEAR(*wireAt(b, "pack.PLUS", "switch.IN"), 0.601, signals_A);
        COMPARE_NEAR(*wireAt(b, "switch.OUT", "driver.VS"), 0.536, signals_A);
        COMPARE_NEAR(*wireAt(b, "switch.OUT", "board.VIN"), 0.065, signals_A);
        COMPARE_NEAR(*wireAt(b, "board.5V", "ranger.VCC"), 0.015, signals_A);
        COMPARE_NEAR(*wireAt(b, "driver.OUT1", "left.A"), 0.25, test::leaks);
    }

    void aSecondPackTakesBackItsOwn()
    {
        const Bench b("Curlew");
        const auto back = wireAt(b, "servo-pack.MINUS", "servo.GND");
        QVERIFY(back && *back > 0.0);
        COMPARE_NEAR(*back, *wireAt(b, "servo-pack.PLUS", "servo.VCC"), 1e-3);
        // The wire that only joins the grounds carries the servo's signal alone.
        COMPARE_NEAR(*wireAt(b, "servo-pack.MINUS", "board.GND3"), 0.0, 1e-3);
    }

    /// Held motors are the resistance of their windings: two on a channel take twice as much.
    void parallelMotorsShareTheirOutputs()
    {
        const Bench b("Redshank");
        const auto one = wireAt(b, "driver.OUT3", "left.A", true);
        QVERIFY(one && *one > 0.5);
        COMPARE_NEAR(*wireAt(b, "driver.OUT3", "left-front.A", true), *one, test::leaks);
        COMPARE_NEAR(*wireAt(b, "switch.OUT", "driver.VS8", true), 4.0 * *one, 1e-2);
    }

    void ofARingNobodyKnows()
    {
        Bench b;
        b.car.wires.push_back({"switch.OUT", "driver.VS", "red"}); // twice
        b.car.wires.push_back({"nobody.X", "board.D9", "pink"});
        QVERIFY(!wireAt(b, "switch.OUT", "driver.VS"));
        COMPARE_NEAR(*wireAt(b, "pack.PLUS", "switch.IN"), 0.601, 1e-3);
    }
};

BADGER_TEST(TestWireAmps)
#include "test_wire_amps.moc"
