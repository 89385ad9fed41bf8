// SPDX-License-Identifier: GPL-3.0-or-later
// What a car would take for what its program leaves open.
#include "core/io/templates.h"
#include "core/judge/budget.h"
#include "core/judge/proposed.h"
#include "core/kit/roles.h"
#include "core/power/report.h"
#include "core/regions/check.h"
#include "support/fixture.h"

using namespace badger;
using namespace badger::judge;
using test::Bench;

namespace
{

rules::Program made(const kit::Assembly &car, const std::string &name, const io::Choices &choices)
{
    auto p = io::fromTemplate(name, choices, kit::roles(car), {"made"}, name);
    if (!p)
        qFatal("%s", english(p.error().text()).c_str());
    return *p;
}

const ProposedValue *find(const std::vector<ProposedValue> &all, const std::string &name,
                          ProposedValue::What what = ProposedValue::What::Value)
{
    for (const auto &p : all)
        if (p.name == name && p.what == what)
            return &p;
    return nullptr;
}

} // namespace

class TestProposed final : public QObject
{
    Q_OBJECT
private slots:
    void speedIsTwiceTheDeadBand()
    {
        const Bench b; // Avocet: 25 % of 255
        const kit::Assembly car(b.car, b.catalogue);
        const auto all = proposedValues(car, made(car, "halt", {}));
        const auto *speed = find(all, "speed");
        QVERIFY(speed);
        const int dead = power::report(car).at(kit::Charge::Nominal).front().deadBand_counts;
        QCOMPARE(dead, 63);
        QCOMPARE(speed->si, 125.0); // 126, to the next five
        QVERIFY(english(speed->why).find("63 counts") != std::string::npos);
    }

    /// Taken as proposed, the budget leaves the five centimetres, and the wanted gap besides.
    void theThresholdLeavesWhatItSays()
    {
        for (const auto &[name, behaviour] : {std::pair("Avocet", "halt"), {"Curlew", "glance"}})
            for (const double wanted_m : {0.0, 0.08}) {
                Bench b(name);
                b.car.wantedGap_m = wanted_m > 0.0 ? std::optional(wanted_m) : std::nullopt;
                const kit::Assembly car(b.car, b.catalogue);
                const auto program = made(
                    car, behaviour,
                    behaviour == std::string("glance")
                        ? io::Choices{{"no-echo", "stop"}, {"tie", "left"}, {"angles", "30,150"}}
                        : io::Choices{{"no-echo", "stop"}});
                const auto all = proposedValues(car, program);
                const auto *t = find(all, "threshold");
                QVERIFY2(t, name);
                auto taken = withProposed(program, all);
                for (auto &v : taken.values) {
                    QVERIFY(!v.si || program.value(v.name)->si || v.suggested);
                    if (!v.si) // a turn, a tie's tolerance: a person's
                        v.si = 0.4;
                }
                const auto budget = budgetOf(car, taken);
                QVERIFY2(budget, name);
                const double left_m = budget->budget.worstGap_m - wanted_m;
                QVERIFY2(left_m >= 0.05 - 1e-9 && left_m < 0.0601,
                         qPrintable(QString("%1 %2").arg(name).arg(left_m)));
            }
    }

    void theServoIsThereInTime()
    {
        const Bench b("Curlew");
        const kit::Assembly car(b.car, b.catalogue);
        const auto program = made(car, "glance", {{"angles", "30,150"}, {"tie", "left"}});
        const auto *dwell = find(proposedValues(car, program), "dwell");
        QVERIFY(dwell);
        // 120 degrees at 0.18 s for 60, and 50 ms: by hand.
        COMPARE_NEAR(dwell->si, 0.41, 1e-9);
    }

    void readingsAndAir()
    {
        const Bench b;
        const kit::Assembly car(b.car, b.catalogue);
        const auto program = made(car, "halt", {});
        const auto all = proposedValues(car, program);
        COMPARE_NEAR(find(all, "ahead", ProposedValue::What::Limit)->si, 2.0, 1e-12);
        COMPARE_NEAR(find(all, "ahead", ProposedValue::What::Air)->si, 20.0, 1e-12);
        const auto taken = withProposed(program, all);
        // What is left is the policy, which a person chooses.
        const auto open = rules::unset(taken);
        QCOMPARE(open.size(), size_t(1));
        QCOMPARE(taken.readings.front().noEcho, rules::NoEcho::Unset);
    }

    /// What is chosen stays; what nothing is known of is left open.
    void nothingIsTakenUnasked()
    {
        Bench b;
        {
            const kit::Assembly car(b.car, b.catalogue);
            const auto program =
                made(car, "halt",
                     {{"threshold", "40cm"}, {"speed", "90"}, {"limit", "1.5m"}, {"air", "18C"}});
            QVERIFY(proposedValues(car, program).empty());
        }
        b.car.parts.clear();
        b.car.wires.clear();
        const kit::Assembly bare(b.car, b.catalogue);
        const auto program = made(bare, "halt", {});
        for (const auto &p : proposedValues(bare, program))
            QVERIFY(p.what == ProposedValue::What::Air);
    }

    /// Drive servos have no dead band: half of full speed.
    void driveServos()
    {
        const Bench b("Ruff");
        const kit::Assembly car(b.car, b.catalogue);
        const auto all = proposedValues(car, made(car, "turn-away", {{"turn-side", "left"}}));
        QCOMPARE(find(all, "speed")->si, 128.0);
        QVERIFY(!find(all, "threshold")); // its corner sweeps round: no stopping sum is enough
    }
};

BADGER_TEST(TestProposed)
#include "test_proposed.moc"
