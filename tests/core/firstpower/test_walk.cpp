// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/firstpower/walk.h"
#include "support/fixture.h"

#include <set>

using namespace badger;
using namespace badger::firstpower;
using test::Bench;

namespace
{

const firstpower::Step *step(const std::vector<firstpower::Step> &steps, const std::string &key)
{
    for (const auto &s : steps)
        if (s.key == key)
            return &s;
    return nullptr;
}

kit::WalkEntry entry(const std::string &key, std::optional<double> value, bool asExpected = false)
{
    return {key, value, asExpected, 3, "2026-11-26", {}};
}

} // namespace

class TestWalk final : public QObject
{
    Q_OBJECT
private slots:
    void everyStepIsWhole()
    {
        for (const auto &car : test::demo().cars) {
            const Bench b(car.name);
            const auto steps = walk({b.car, b.catalogue});
            QVERIFY2(steps.size() > 8, car.name.c_str());
            std::set<std::string> keys;
            for (const auto &s : steps) {
                QVERIFY2(keys.insert(s.key).second, s.key.c_str());
                QVERIFY2(!s.title.empty() && !s.text.empty() && !s.fails.empty(), s.key.c_str());
                QVERIFY2(s.measure == Measure::Look || s.low || s.high, s.key.c_str());
                QCOMPARE(s.measure == Measure::Look, s.expected.empty());
            }
        }
    }

    void ohmsBeforePowerAndMotorsAfterVolts()
    {
        const Bench b;
        const auto steps = walk({b.car, b.catalogue});
        bool powered = false;
        for (const auto &s : steps) {
            QVERIFY(s.powered || !powered); // power does not go off again
            powered = s.powered;
            QVERIFY(s.measure != Measure::Ohms || !s.powered);
            QVERIFY(s.measure != Measure::Volts || s.powered);
        }
        const auto position = [&](const char *key) { return step(steps, key) - steps.data(); };
        QVERIFY(position("volts:board.5V") < position("look:motor:left"));
        QVERIFY(position("look:motor:left") < position("length:ranger"));
        QVERIFY(!step(steps, "look:cells-in")->caution.empty());
        QVERIFY(
            english(step(steps, "look:motor:right")->text).find("clockwise seen from outside") !=
            std::string::npos);
    }

    void expectedVolts()
    {
        const Bench b;
        const auto steps = walk({b.car, b.catalogue});
        const auto *rail = step(steps, "volts:board.5V");
        COMPARE_NEAR(*rail->low, 4.75, 1e-9);
        COMPARE_NEAR(*rail->high, 5.25, 1e-9);
        const auto *jack = step(steps, "volts:board.VIN");
        COMPARE_NEAR(*jack->low, 7.0, 1e-9); // its own window, above the near-empty pack
        QVERIFY(*jack->high > 8.3 && *jack->high < 9.0);
        QVERIFY(*jack->high <= 12.0);
    }

    void judging()
    {
        const Bench b;
        const auto steps = walk({b.car, b.catalogue});
        const auto &rail = *step(steps, "volts:board.5V");
        QVERIFY(firstpower::judge(rail, nullptr) == Verdict::Open);
        const auto with = [&](double v) {
            const auto e = entry(rail.key, v);
            return firstpower::judge(rail, &e);
        };
        QVERIFY(with(4.97) == Verdict::Right && with(4.75) == Verdict::Right);
        QVERIFY(with(4.74) == Verdict::Wrong && with(5.4) == Verdict::Wrong);
        const auto &look = *step(steps, "look:polarity");
        const auto good = entry(look.key, {}, true);
        const auto bad = entry(look.key, {}, false);
        QVERIFY(firstpower::judge(look, &good) == Verdict::Right &&
                firstpower::judge(look, &bad) == Verdict::Wrong);
        const auto &ohms = *step(steps, "ohms:short:board.VIN");
        const auto over = entry(ohms.key, overRange_ohm);
        const auto dead = entry(ohms.key, 0.4);
        QVERIFY(firstpower::judge(ohms, &over) == Verdict::Right &&
                firstpower::judge(ohms, &dead) == Verdict::Wrong);
        const auto &ground = *step(steps, "ohms:ground:ranger");
        QVERIFY(firstpower::judge(ground, &over) == Verdict::Wrong &&
                firstpower::judge(ground, &dead) == Verdict::Right);
    }

    void aWrongStepStopsTheWalk()
    {
        Bench b;
        const auto steps = walk({b.car, b.catalogue});
        QCOMPARE(progress(b.car, steps).at, 0);
        b.car.walk.push_back(entry("look:cells-out", {}, true));
        QCOMPARE(progress(b.car, steps).at, 1);
        b.car.walk.push_back(entry("volts:board.5V", 3.1));
        auto p = progress(b.car, steps);
        QCOMPARE(p.right, 1);
        QCOMPARE(p.wrong, 1);
        QCOMPARE(steps[size_t(p.at)].key, std::string("volts:board.5V"));
        // Measured with other wires it counts no more.
        b.car.wiringRevision = 4;
        p = progress(b.car, steps);
        QCOMPARE(p.right + p.wrong, 0);
        QVERIFY(!entryOf(b.car, "volts:board.5V"));
    }

    void withoutWiresThereIsNoWalk()
    {
        Bench b;
        b.car.wires.clear();
        QVERIFY(walk({b.car, b.catalogue}).empty());
        QVERIFY(walk({{}, b.catalogue}).empty());
        QCOMPARE(progress(b.car, {}).at, -1);
    }

    void whatEachCarAsksFor()
    {
        const auto has = [](const char *car, const char *key) {
            const Bench b(car);
            return step(walk({b.car, b.catalogue}), key) != nullptr;
        };
        QVERIFY(has("Curlew", "look:servo:servo"));
        QVERIFY(has("Dunlin", "look:emitter:left-eye"));
        QVERIFY(has("Dunlin", "look:surfaces:right-eye"));
        QVERIFY(has("Plover", "look:surfaces:strip"));
        QVERIFY(has("Ruff", "look:motor:left")); // a continuous servo
        QVERIFY(!has("Avocet", "look:servo:servo"));
        QVERIFY(has("Redshank", "ohms:ground:driver"));
    }
};

BADGER_TEST(TestWalk)
#include "test_walk.moc"
