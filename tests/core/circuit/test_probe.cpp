// SPDX-License-Identifier: GPL-3.0-or-later
// What a meter finds: held to the laws of currents, and to what the demo's cars do.
#include "core/circuit/probe.h"
#include "core/nets/drive_map.h"
#include "support/kits.h"

#include <cmath>
#include <set>

using namespace badger;
using circuit::Level;
using circuit::Probe;

namespace
{

const kit::Car &car(const char *name)
{
    static const auto demo = test::demo();
    return *demo.car(name);
}

Probe probe(const char *name)
{
    return {car(name), io::shippedCatalogue()};
}

/// Sets what makes both wheels go forward.
circuit::Setting ahead(const kit::Car &of)
{
    circuit::Setting s;
    for (const auto side : {kit::Side::Left, kit::Side::Right}) {
        const auto drive = nets::wheelDrive({of, io::shippedCatalogue()}, side);
        for (const auto &input : {drive->forward, drive->enable})
            s.levels["board." + of.programPins.at(input)] = Level::High;
    }
    return s;
}

double wire_A(const Probe &p, const kit::Car &of, const std::string &end)
{
    for (size_t i = 0; i < of.wires.size(); ++i)
        if (of.wires[i].from == end || of.wires[i].to == end)
            return p.wires_A()[i].value_or(std::nan(""));
    return std::nan("");
}

} // namespace

class TestProbe final : public QObject
{
    Q_OBJECT
private slots:
    void whatIfAPinIsHigh()
    {
        auto p = probe("Avocet");
        for (const auto &m : p.motors())
            COMPARE_NEAR(m.volts_V, 0.0, 0.01);
        QVERIFY(p.at("driver.ENA").seen == circuit::Seen::Low);
        p.set(ahead(car("Avocet")));
        QVERIFY(p.solved());
        QVERIFY(p.at("driver.ENA").seen == circuit::Seen::High);
        QVERIFY(p.at("board." + car("Avocet").programPins.at("driver.ENA")).given == Level::High);
        for (const auto &m : p.motors()) {
            QVERIFY2(m.volts_V > 4.0 && m.volts_V < 6.0, qPrintable(QString::number(m.volts_V)));
            QVERIFY(m.amps_A > 0.05 && m.amps_A < 0.4);
        }
        // One direction input the other way: that wheel goes back.
        auto s = ahead(car("Avocet"));
        const auto &pins = car("Avocet").programPins;
        const auto left =
            nets::wheelDrive({car("Avocet"), io::shippedCatalogue()}, kit::Side::Left);
        s.levels["board." + pins.at(left->forward)] = Level::Low;
        s.levels["board." + pins.at(left->backward)] = Level::High;
        p.set(s);
        QVERIFY(p.motors().front().volts_V < -4.0);
        QVERIFY(p.motors().back().volts_V > 4.0);
    }

    void anOpenSwitchTakesEverythingAway()
    {
        auto p = probe("Avocet");
        auto s = ahead(car("Avocet"));
        s.switched = false;
        p.set(s);
        COMPARE_NEAR(wire_A(p, car("Avocet"), "pack.PLUS"), 0.0, 1e-6);
        for (const auto &m : p.motors())
            COMPARE_NEAR(m.volts_V, 0.0, 0.05);
    }

    void aHeldWheelDrawsMore()
    {
        auto p = probe("Avocet");
        auto s = ahead(car("Avocet"));
        p.set(s);
        const double runs = std::abs(wire_A(p, car("Avocet"), "pack.PLUS"));
        s.held = true;
        p.set(s);
        const double held = std::abs(wire_A(p, car("Avocet"), "pack.PLUS"));
        QVERIFY(runs > 0.2 && held > 2.5 * runs);
    }

    /// What flows into a terminal by its wires is what its part takes there: at a terminal that
    /// takes nothing, a rail's or an open input's, the wires' currents add up to nothing.
    void currentsAddUp()
    {
        int looked = 0;
        for (const auto &c : test::demo().cars) {
            Probe p(c, io::shippedCatalogue());
            QVERIFY(p.solved());
            std::map<std::string, double> into;
            std::set<std::string> unknown;
            for (size_t i = 0; i < c.wires.size(); ++i) {
                const auto amps = p.wires_A()[i];
                if (!amps) {
                    unknown.insert({c.wires[i].from, c.wires[i].to});
                    continue;
                }
                into[c.wires[i].to] += *amps;
                into[c.wires[i].from] -= *amps;
            }
            for (const auto &[name, amps] : into) {
                const kit::Assembly a(c, io::shippedCatalogue());
                const auto *rail = a.part(*a->instance(kit::splitTerminal(name).instance));
                const bool takesNothing = rail->kind == parts::Kind::Rail ||
                                          a.terminal(name)->role == parts::Role::Direction;
                if (!takesNothing || unknown.count(name))
                    continue;
                QVERIFY2(std::abs(amps) < 1e-3, name.c_str());
                ++looked;
            }
        }
        QVERIFY2(looked > 30, qPrintable(QString::number(looked)));
    }

    void aRingOfWiresHasNoOneCurrent()
    {
        auto twice = car("Avocet");
        const auto first = twice.wires.front();
        twice.wires.push_back(first);
        const Probe p(twice, io::shippedCatalogue());
        QVERIFY(!p.wires_A().front() && !p.wires_A().back());
        QVERIFY(probe("Avocet").wires_A().front());
    }

    void whatIsNotThereIsNotRead()
    {
        const auto p = probe("Avocet");
        const auto r = p.at("nobody.X");
        QVERIFY(!r.volts_V && !r.seen && !r.given);
        QVERIFY(!Probe(kit::Car{}, io::shippedCatalogue()).at("a.b").volts_V);
    }
};

BADGER_TEST(TestProbe)
#include "test_probe.moc"
