// SPDX-License-Identifier: GPL-3.0-or-later
// What a bench measurement means for the car and its program.
#include "core/judge/bench_looks.h"
#include "core/judge/demo_cars.h"
#include "core/judge/program_around.h"
#include "core/judge/take_over.h"
#include "core/judge/tune_sums.h"
#include "core/sense/ultrasonic.h"

#include <cmath>
#include <numbers>

using namespace badger;
using test::DemoCars;
using test::found;
using tune::What;

namespace
{

/// The condition as a board works it out: echo time, assumed air, whole numbers cut.
bool holds(double true_m, double air_degC, const rules::Reading &r, rules::Compare compare,
           double threshold_m)
{
    const double time_us = sense::echoTime_us(true_m, *sense::speedOfSound_mps(air_degC));
    double read =
        time_us * 1e-6 * *sense::speedOfSound_mps(*r.air_degC) / 2.0 / units::toSi(1.0, r.unit);
    if (r.number == rules::NumberType::Whole)
        read = std::trunc(read + 1e-9);
    const double asked = threshold_m / units::toSi(1.0, r.unit);
    switch (compare) {
    case rules::Compare::Less:
        return read < asked - 1e-9;
    case rules::Compare::LessOrEqual:
        return read <= asked + 1e-9;
    case rules::Compare::Greater:
        return read > asked + 1e-9;
    case rules::Compare::GreaterOrEqual:
        break;
    }
    return read >= asked - 1e-9;
}

} // namespace

class TestBenchLooks final : public QObject
{
    Q_OBJECT
private slots:
    /// Where a condition turns is found again by walking up to it a tenth of a millimetre at a
    /// time.
    void aConditionTurnsWhereItIsSaid()
    {
        using rules::Compare;
        DemoCars d;
        auto &program = d.programOf("Avocet");
        auto &reading = program.readings.front();
        const auto value = program.states.front().rules.empty()
                               ? program.everywhere.front().when.front().value
                               : program.states.front().rules.front().when.front().value;
        int seen = 0;
        for (const auto number : {rules::NumberType::Whole, rules::NumberType::Fraction})
            for (const double air : {4.0, 20.0, 33.0})
                for (const auto compare : {Compare::Less, Compare::LessOrEqual, Compare::Greater,
                                           Compare::GreaterOrEqual})
                    for (const double threshold : {0.20, 0.305, 0.45}) {
                        reading.number = number;
                        reading.air_degC = 20.0;
                        for (auto &v : program.values)
                            if (v.name == value)
                                v.si = threshold;
                        for (auto &s : program.states)
                            for (auto &rule : s.rules)
                                for (auto &c : rule.when)
                                    c.compare = c.value == value ? compare : c.compare;
                        const auto look =
                            judge::echoLook(d.assembly("Avocet"), &program, "ranger", air);
                        QVERIFY(look && !look->marks.empty());
                        for (const auto &mark : look->marks) {
                            if (mark.value != value)
                                continue;
                            const auto at = [&](double m) {
                                return holds(m, air, reading, mark.compare, threshold);
                            };
                            double turns = 0.0;
                            for (double m = 0.05; m < 1.0 && turns == 0.0; m += 1e-4)
                                if (at(m) != at(m + 1e-4))
                                    turns = m + 0.5e-4;
                            COMPARE_NEAR(mark.turns_m, turns, 1.1e-4);
                            COMPARE_NEAR(
                                mark.echo_s * 1e6,
                                sense::echoTime_us(threshold, *sense::speedOfSound_mps(air)), 1e-6);
                            ++seen;
                        }
                    }
        QVERIFY(seen >= 72);
        QVERIFY(!judge::echoLook(d.assembly("Avocet"), &program, "pack", 20.0));
        QVERIFY(!judge::echoLook(d.assembly("Avocet"), &program, "ranger", -300.0));
        QVERIFY(judge::echoLook(d.assembly("Avocet"), nullptr, "ranger", 20.0)->marks.empty());
    }

    /// A threshold is no better than the measurement that it was taken from: "rests-on-stale".
    void whatRestsOnSomethingStaleIsSaid()
    {
        DemoCars d;
        QVERIFY(found(d.judged("Avocet").rule.findings, "rests-on-stale").empty());
        for (auto &p : d.car("Avocet").parts)
            if (p.id == "ranger")
                p.mount->height_m += 0.02;
        const auto all = found(d.judged("Avocet").rule.findings, "rests-on-stale");
        QCOMPARE(all.size(), size_t(1));
        QVERIFY(english(all.front().what).find("ranger: ranger against ruler") !=
                std::string::npos);
        QCOMPARE(all.front().target(), std::string("bench:ruler:ranger"));
        // With no record there is nothing to rest on.
        d.w.records.clear();
        QVERIFY(found(d.judged("Avocet").rule.findings, "rests-on-stale").empty());
    }

    /// The air that was measured goes before the floor's: "air-differs".
    void theProgramsAirIsComparedWithWhatWasMeasured()
    {
        DemoCars d;
        auto &reading = d.programOf("Avocet").readings.front();
        reading.air_degC = 20.0;
        auto &air = d.add("Avocet", What::Air, "ranger");
        air.chosen = 22.0;
        QVERIFY(found(d.judged("Avocet").rule.findings, "air-differs").empty());
        air.chosen = 31.0;
        const auto all = found(d.judged("Avocet").rule.findings, "air-differs");
        QCOMPARE(all.size(), size_t(1));
        QVERIFY(english(all.front().where).find("air and echo") != std::string::npos);
        QVERIFY(tune::changedSince(air, d.assembly("Avocet"), "Rope walk").empty());
    }

    /// A servo that was timed is slower than its sheet: the fan's dwell is judged by that.
    void aTimedServoIsWhatTheDwellIsJudgedBy()
    {
        DemoCars d;
        std::string servo;
        for (const auto &r : d.programOf("Redshank").readings)
            if (r.swivel)
                servo = r.swivel->servo;
        QVERIFY(!servo.empty());
        const auto before = judge::around(d.assembly("Redshank"), d.programOf("Redshank"), {});
        auto &record = d.add("Redshank", What::Horn, servo);
        record.chosen = -6.0;
        record.stretches = {{"step", 20.0, {150.0}, {}}, {"step", 100.0, {470.0}, {}}};
        const auto records = judge::recordsOf(d.w, *std::as_const(d.w).car("Redshank"));
        const auto after = judge::around(d.assembly("Redshank"), d.programOf("Redshank"), records);
        COMPARE_NEAR(before.servos.at(servo).sPerDegree_s, 0.12 / 60.0, 1e-9);
        COMPARE_NEAR(after.servos.at(servo).sPerDegree_s, 0.24 / 60.0, 1e-9);
        COMPARE_NEAR(after.servos.at(servo).settle_s, 0.07, 1e-9);
        const auto looks =
            judge::sweepLooks(d.assembly("Redshank"), &d.programOf("Redshank"), servo, record);
        QVERIFY(!looks.empty());
        for (const auto &look : looks) {
            const auto &at = d.programOf("Redshank").reading(look.reading)->swivel->angles_deg;
            double sum = 0.0;
            for (size_t i = 1; i < at.size(); ++i)
                sum += std::abs(at[i] - at[i - 1]) * 0.24 / 60.0 + 0.07;
            const double back =
                at.size() > 1 ? std::abs(at.back() - at.front()) : std::abs(at.front() - 90.0);
            COMPARE_NEAR(look.needed.flyBack_s, back * 0.24 / 60.0 + 0.07, 1e-9);
            COMPARE_NEAR(look.needed.wholeSweep_s, sum + look.needed.flyBack_s, 1e-9);
        }
        const auto why = judge::whyRecord(record, d.assembly("Redshank"), &d.programOf("Redshank"));
        QVERIFY(why.steps.size() >= 4);
    }

    /// L / (lag + delay), with the sensor's own place and the motors' own lag.
    void anEdgeFollowersLimit()
    {
        DemoCars d;
        const auto car = d.assembly("Godwit");
        const auto edge = judge::edgeLook(car, &d.programOf("Godwit"));
        QVERIFY(edge);
        const auto *eye = car->instance("eye");
        COMPARE_NEAR(edge->ahead_m, car->geometry.axleToNose_m - eye->mount->setBack_m, 1e-12);
        COMPARE_NEAR(edge->fastest_mps, edge->ahead_m / (edge->lag_s + edge->delay_s), 1e-12);
        for (auto &p : d.car("Godwit").parts)
            if (p.id == "eye")
                p.mount->setBack_m = car->geometry.axleToNose_m + 0.01; // behind the axle
        QVERIFY(!judge::edgeLook(d.assembly("Godwit"), &d.programOf("Godwit")));
    }

    /// What is measured over a line goes stale when a sensor is moved, and not with its wires.
    void sensorsOverALineRestOnTheirPlaces()
    {
        DemoCars d;
        auto &record = d.add("Dunlin", What::Line, "");
        record.stretches = {{"sensors", {}, {0.02, -0.02}, {}}, {"line", {}, {0.019}, {}}};
        QVERIFY(!record.basis.places.empty());
        QVERIFY(tune::changedSince(record, d.assembly("Dunlin"), "").empty());
        for (auto &p : d.car("Dunlin").parts)
            if (p.id == "left-eye")
                p.mount->offset_m += 0.005;
        const auto changed = tune::changedSince(record, d.assembly("Dunlin"), "");
        QCOMPARE(changed.size(), size_t(1));
        QVERIFY(english(changed.front()).find("sensors were moved") != std::string::npos);
    }

    /// Every kind of record has its sum, and its last line says the number on top of it.
    void theSumsAreComplete()
    {
        DemoCars d;
        auto &air = d.add("Avocet", What::Air, "ranger");
        air.chosen = 24.0;
        auto &line = d.add("Plover", What::Line, "");
        line.stretches = {{"sensors", {}, {0.03, 0.012, -0.012, -0.03}, {}},
                          {"line", {}, {0.015}, {}},
                          {"room", {}, {0.042}, {}}};
        auto &trimmer = d.add("Dunlin", What::Trimmer, "left-eye");
        trimmer.stretches = {{"light", {}, {1.0}, {}},
                             {"dark", {}, {0.0}, {}},
                             {"turn light", {}, {0.3}, {}},
                             {"turn dark", {}, {0.6}, {}}};
        for (const auto &[name, record, result] :
             {std::tuple("Avocet", &air, "345.5 m/s"), std::tuple("Plover", &line, "9.0 mm"),
              std::tuple("Dunlin", &trimmer, "45 %")}) {
            const auto why = judge::whyRecord(*record, d.assembly(name), &d.programOf(name));
            QVERIFY2(english(why.result).find(result) != std::string::npos,
                     english(why.result).c_str());
            QVERIFY(!why.steps.empty());
            for (const auto &s : record->stretches)
                QVERIFY(!english(judge::wordsOf(record->what, s)).empty());
        }
    }

    /// What was measured goes into the program, and then there is nothing left to take over.
    void whatWasMeasuredIsTakenOver()
    {
        DemoCars d;
        auto &glide = d.programOf("Godwit");
        auto &clouds = d.add("Godwit", What::Surfaces, "eye");
        clouds.stretches = {{"light", {}, {810, 812, 808, 811, 809}, {}},
                            {"dark", {}, {230, 232, 228, 231, 229}, {}}};
        auto taken = judge::takenOver(clouds, glide);
        QCOMPARE(taken.changes.size(), size_t(2));
        QCOMPARE(*taken.program.value("light")->si, 810.0);
        QCOMPARE(*taken.program.value("dark")->si, 230.0);
        QVERIFY(judge::takenOver(clouds, taken.program).changes.empty());
        // A module that reads dark high puts the ends of the proportion the other way round.
        std::swap(clouds.stretches[0].readings, clouds.stretches[1].readings);
        taken = judge::takenOver(clouds, glide);
        const auto &p = *taken.program.states.front().motion.proportion;
        QVERIFY(*taken.program.value(p.low)->si < *taken.program.value(p.high)->si);
        // Clouds that overlap say nothing.
        clouds.stretches[0].readings.push_back(812);
        QVERIFY(judge::takenOver(clouds, glide).changes.empty());

        auto &straddle = d.programOf("Dunlin");
        auto &module = d.add("Dunlin", What::Trimmer, "right-eye");
        module.stretches = {{"light", {}, {0, 0}, {}}, {"dark", {}, {1, 1}, {}}};
        taken = judge::takenOver(module, straddle);
        QCOMPARE(*taken.program.reading("right")->lightLevel, 0);
        QCOMPARE(*taken.program.reading("left")->lightLevel, 1);
        module.stretches[1].readings = {1, 0};
        QVERIFY(judge::takenOver(module, straddle).changes.empty());

        // 190 degrees a second to either side: 5.26 ms a degree.
        auto &fan = d.programOf("Redshank");
        auto &turn = d.add("Redshank", What::Turn, "");
        for (const char *side : {"left", "right"})
            for (const auto &[ms, degrees] : {std::pair(400.0, 58.0), std::pair(800.0, 134.0)})
                turn.stretches.push_back({side, ms, {degrees}, {}});
        taken = judge::takenOver(turn, fan);
        QCOMPARE(taken.changes.size(), size_t(1));
        COMPARE_NEAR(*taken.program.value("per-degree")->si, 1.0 / 190.0, 1e-5);
        QVERIFY(judge::takenOver(turn, taken.program).changes.empty());
        QVERIFY(judge::takenOver(turn, glide).changes.empty()); // it does not turn by angles
    }

    /// The one count that a raw reading is compared with becomes the line; of two it is not said.
    void theLineIsTakenOverWhereItIsOne()
    {
        DemoCars d;
        auto p = d.programOf("Godwit");
        p.states.front().motion.proportion.reset();
        p.values.push_back({"line", "", rules::ValueKind::Count, 500.0});
        p.everywhere.push_back({"dark", {{"eye", rules::Compare::Less, "line"}}, "glides"});
        auto &clouds = d.add("Godwit", What::Surfaces, "eye");
        clouds.stretches = {{"light", {}, {810, 812, 808, 811, 809}, {}},
                            {"dark", {}, {230, 232, 228, 231, 229}, {}}};
        QCOMPARE(*judge::takenOver(clouds, p).program.value("line")->si, 520.0);
        clouds.chosen = 610.0;
        QCOMPARE(*judge::takenOver(clouds, p).program.value("line")->si, 610.0);
        p.values.push_back({"upper", "", rules::ValueKind::Count, 700.0});
        p.everywhere.push_back({"light", {{"eye", rules::Compare::Greater, "upper"}}, "glides"});
        QVERIFY(judge::takenOver(clouds, p).changes.empty());
    }

    /// Speed and turns drift with the charge: the last run says which it is now.
    void anotherChargeMakesADriveStale()
    {
        DemoCars d;
        auto &speed = d.add("Avocet", What::Speed, "");
        speed.stretches = {{"140", 1.5, {6.2, 6.25, 6.3}, {}}};
        speed.basis.battery_V = 7.6;
        const auto isStale = [&] {
            for (const auto &i : d.judged("Avocet").tune.items)
                if (i.what == What::Speed)
                    return !i.stale.empty();
            return true;
        };
        QVERIFY(!isStale()); // its runs had 7.6 V, too
        for (size_t i = 0; i < d.w.trials.size(); ++i)
            if (d.w.trials[i].car == std::as_const(d.w).car("Avocet")->id)
                d.w.trials[i].battery_V = 7.2;
        QVERIFY(isStale());
        d.w.trials.clear();
        QVERIFY(!isStale());
    }
};

BADGER_TEST(TestBenchLooks)
#include "test_bench_looks.moc"
