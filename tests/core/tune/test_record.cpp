// SPDX-License-Identifier: GPL-3.0-or-later
// What a record says, and on what it rests.
#include "core/tune/fits_of.h"
#include "core/tune/records.h"
#include "support/fixture.h"

using namespace badger;
using namespace badger::tune;
using test::Bench;
using test::contains;
using test::record;
using test::said;

class TestRecord final : public QObject
{
    Q_OBJECT
private slots:
    /// Echo times become distances with the record's own air: 2 d / c there and back.
    void aRulerRecordReckonsWithItsAir()
    {
        auto r = record(What::Ruler, {});
        const double sound = *sense::speedOfSound_mps(4.0);
        for (const double m : {0.1, 0.2, 0.4, 0.8, 1.2})
            r.stretches.push_back(
                {{}, m, {sense::echoTime_us(m, sound), sense::echoTime_us(m, sound)}, {}});
        r.basis.air_degC = 4.0;
        COMPARE_NEAR(rulerFitOf(r)->slope, 1.0, 1e-9);
        QVERIFY(verdictOf(r).good);
        // With the usual air instead the slope is the two speeds' ratio, and says so.
        r.basis.air_degC.reset();
        const auto fit = rulerFitOf(r);
        COMPARE_NEAR(fit->slope, sound / *sense::speedOfSound_mps(usualAir_degC), 1e-9);
        COMPARE_NEAR(*fit->air_degC, 4.0, 1e-6);
    }

    /// A burst is its median; one that is more nothing than readings is no echo.
    void aBurstIsItsMedian()
    {
        auto r = record(What::Ruler, {});
        for (const double m : {0.1, 0.2, 0.4, 0.8, 1.2}) {
            const double us = sense::echoTime_us(m, *sense::speedOfSound_mps(20.0));
            r.stretches.push_back({{}, m, {us, us, us * 3.0, us, nothingCame}, {}});
        }
        COMPARE_NEAR(rulerFitOf(r)->slope, 1.0, 1e-9);
        r.stretches[4].readings = {7000, nothingCame, nothingCame, nothingCame};
        const auto fit = rulerFitOf(r);
        QCOMPARE(fit->rejected.size(), size_t(1));
        QVERIFY(fit->rejected[0].why == Rejected::NoEcho);
        QVERIFY(!verdictOf(r).good); // four are thin
        QVERIFY(contains(english(verdictOf(r).toDo), "1 more distance"));
    }

    void eachKindSaysItsNumber()
    {
        QVERIFY(
            contains(said(record(What::Surfaces, {{"light", {}, {800, 810, 805, 803, 799}, {}},
                                                  {"dark", {}, {200, 205, 210, 202, 201}, {}}})),
                     "504.5 parts light from dark, 294.5 counts to either side"));
        QVERIFY(contains(
            said(record(What::Trimmer, {{"light", {}, {0, 0}, {}}, {"dark", {}, {1, 1}, {}}})),
            "0 over light and 1 over dark"));
        QVERIFY(contains(
            said(record(What::Trimmer, {{"light", {}, {0, 1}, {}}, {"dark", {}, {1, 1}, {}}})),
            "not steady"));
        QVERIFY(
            contains(said(record(What::Turn, {{"left", 400.0, {58}, {}},
                                              {"left", 800.0, {134}, {}},
                                              {"right", 400.0, {70}, {}},
                                              {"right", 800.0, {140}, {}}})),
                     "190 degrees a second to the left and 175 to the right; 90 degrees take 568 "
                     "ms and 514 ms"));
        QVERIFY(contains(said(record(What::Straightness, {{"", 2.0, {-0.08}, {}}})),
                         "to the right with a radius of 25 m"));
        auto neutral = record(What::Neutral, {});
        QVERIFY(!verdictOf(neutral).good);
        neutral.chosen = 1488.0;
        QVERIFY(contains(said(neutral), "1488 us"));
        QVERIFY(
            contains(said(record(What::NoEcho, {{"open", {}, {0, 0, 0, 0, 0}, {}}})), "gives 0"));
        std::vector<Stretch> reflectance;
        for (const int cm : {2, 4, 6, 8, 10, 14, 20})
            reflectance.push_back(
                {{}, cm / 100.0, {std::round(std::pow(60.0 / (cm + 0.9), 2))}, {}});
        QVERIFY(contains(said(record(What::Reflectance, reflectance)), "/ √R − 0.9"));
    }

    /// 1.5 m in 6.0, 6.25 and 6.5 s: 0.25, 0.24 and 0.2308 m/s.
    void aSpeedIsTimed()
    {
        auto r = record(What::Speed, {{"140", 1.5, {6.0, 6.25, 6.5}, {}}});
        const auto all = speedsOf(r);
        QCOMPARE(all.size(), size_t(1));
        QCOMPARE(all[0].counts, 140);
        QCOMPARE(all[0].runs, 3);
        COMPARE_NEAR(all[0].mean_mps, (0.25 + 0.24 + 1.5 / 6.5) / 3.0, 1e-12);
        QVERIFY(verdictOf(r).good);
        QCOMPARE(said(r), std::string("It drives 0.24 m/s at 140 of 255 in 3 runs."));
        // A second count is thin, a third is not steady.
        r.stretches.push_back({"200", 1.5, {4.0, 4.1}, {}});
        QVERIFY(!verdictOf(r).good);
        QCOMPARE(english(verdictOf(r).toDo), std::string("Time three runs at 200."));
        r.stretches.back().readings = {4.0, 4.1, 5.0};
        QVERIFY(contains(english(verdictOf(r).toDo), "differ by more than a twentieth"));
        // What says no count, no length or no time says nothing.
        const auto none = record(What::Speed, {{"fast", 1.5, {6.0}, {}},
                                               {"140", {}, {6.0}, {}},
                                               {"140", 1.5, {0.0, -1.0}, {}},
                                               {"-5", 1.5, {6.0}, {}}});
        QVERIFY(speedsOf(none).empty());
        QVERIFY(!verdictOf(none).good);
    }

    /// What nobody has measured yet asks for the first step, and is not good.
    void anEmptyRecordAsksForItsFirstStep()
    {
        for (int i = 0; i < whatCount; ++i) {
            const auto r = record(static_cast<What>(i), {});
            const auto v = verdictOf(r);
            QVERIFY(!v.good && !v.sentence.empty() && !v.toDo.empty());
            QVERIFY(!english(words(r.what)).empty());
        }
    }

    void theBasisIsWhatThePartRestsOn()
    {
        Bench b;
        const kit::Assembly car{b.car, b.catalogue};
        const auto ranger = basisOf(car, What::Ruler, "ranger");
        QCOMPARE(ranger.part, std::string("ranger-4-pin"));
        QVERIFY(ranger.mount && ranger.pack.empty() && ranger.wheels.empty());
        QCOMPARE(ranger.pins.size(), size_t(4));
        QVERIFY(std::is_sorted(ranger.pins.begin(), ranger.pins.end()));
        const auto turn = basisOf(car, What::Turn, "");
        QCOMPARE(turn.pack, std::string("cell-nimh x6"));
        QCOMPARE(turn.wheels, std::string("skid, wheel-65mm"));
        QVERIFY(turn.part.empty() && turn.pins.empty());
        auto r = record(What::Ruler, {});
        r.instance = "gone";
        r.basis = ranger;
        QVERIFY(contains(english(changedSince(r, car, "").front()), "went off the car"));
    }
};

BADGER_TEST(TestRecord)
#include "test_record.moc"
