// SPDX-License-Identifier: GPL-3.0-or-later
// Measurements that are more than one fit, against the laws that they stand for.
#include "core/tune/looks.h"
#include "core/tune/records.h"
#include "support/fixture.h"

#include <cmath>
#include <numbers>
#include <random>

using namespace badger;
using namespace badger::tune;
using test::contains;
using test::record;
using test::said;

namespace
{

/// Counts of a light resistor above its partner: brighter, less resistance, more volts.
double countsOf(double resistor_ohm, double partner_ohm)
{
    return 1023.0 * partner_ohm / (resistor_ohm + partner_ohm);
}

std::vector<double> about(double counts)
{
    return {counts - 2.0, counts - 1.0, counts, counts + 1.0, counts + 2.0};
}

Record lamp(double light_ohm, double dark_ohm, double partner_ohm, bool above)
{
    const auto c = [&](double ohm) {
        const double counts = countsOf(ohm, partner_ohm);
        return above ? counts : 1023.0 - counts;
    };
    return record(What::Lamp, {{"light", {}, about(c(light_ohm)), {}},
                               {"dark", {}, about(c(dark_ohm)), {}},
                               {"partner", {}, {partner_ohm}, {}}});
}

} // namespace

class TestLooks final : public QObject
{
    Q_OBJECT
private slots:
    /// The resistances come back out of the counts, whichever way round the divider is.
    void aLightResistorsOhmsComeBack()
    {
        for (const bool above : {true, false})
            for (const auto &[light, dark, partner] :
                 {std::tuple(500.0, 9000.0, 2200.0), std::tuple(1200.0, 40000.0, 10000.0)}) {
                const auto look = lampOf(lamp(light, dark, partner, above));
                QVERIFY(look);
                QCOMPARE(look->clouds.lightReadsHigh, above);
                COMPARE_NEAR(*look->light_ohm, light, 1e-6 * light);
                COMPARE_NEAR(*look->dark_ohm, dark, 1e-6 * dark);
            }
    }

    /// No other partner parts bright and shaded farther than the one that is named.
    void theBestPartnerPartsWidest()
    {
        const double light = 640.0;
        const double dark = 21000.0;
        const double fitted = 1000.0;
        const auto look = lampOf(lamp(light, dark, fitted, true));
        const double best = *look->bestPartner * fitted;
        const auto apart = [&](double partner) {
            return countsOf(light, partner) - countsOf(dark, partner);
        };
        double widest = 0.0;
        for (double partner = 100.0; partner < 50000.0; partner *= 1.001)
            widest = std::max(widest, apart(partner));
        COMPARE_NEAR(apart(best), widest, 1e-3);
        // 3666 ohm, to two figures.
        QVERIFY(
            contains(english(verdictOf(lamp(light, dark, fitted, true)).toDo), "about 3700 ohm"));
        // With that partner fitted nothing is left to advise.
        QVERIFY(verdictOf(lamp(light, dark, best, true)).toDo.empty());
    }

    void theRoomStandsOnOneSideOfTheLine()
    {
        auto r = lamp(500.0, 9000.0, 2200.0, true); // 833.5 and 200.9
        r.stretches.push_back({"room", {}, {640.0, 655.0}, {}});
        auto look = lampOf(r);
        QVERIFY(look->roomIsLight);
        COMPARE_NEAR(*look->roomMargin, 640.0 - look->clouds.threshold, 1e-9);
        QVERIFY(verdictOf(r).good && contains(said(r), "The room reads as bright"));
        // Later in the day: now on the other side, and so it reads both ways.
        r.stretches.push_back({"room", {}, {430.0}, {}});
        look = lampOf(r);
        QVERIFY(*look->roomMargin < 0.0);
        QVERIFY(!verdictOf(r).good);
        r.chosen = 400.0; // the hand draws the line below both
        QVERIFY(verdictOf(r).good);
        COMPARE_NEAR(*lampOf(r)->roomMargin, 30.0, 1e-9);
    }

    /// 0.12 s for 60 degrees and 50 ms to settle: 20 degrees take 90 ms, 100 degrees 250 ms.
    void stepsTellRateAndSettling()
    {
        auto r = record(What::Horn, {{"step", 20.0, {90.0}, {}}});
        r.chosen = 0.0;
        auto fit = dwellOf(r);
        QVERIFY(fit && !fit->settle_s);
        COMPARE_NEAR(fit->for60_s, 0.27, 1e-9); // all of it in the rate
        r.stretches.push_back({"step", 100.0, {250.0}, {}});
        fit = dwellOf(r);
        COMPARE_NEAR(fit->for60_s, 0.12, 1e-9);
        COMPARE_NEAR(*fit->settle_s, 0.05, 1e-9);
        COMPARE_NEAR(stepTime_s(*fit, std::numbers::pi / 3.0), 0.17, 1e-9);
        QVERIFY(contains(said(r), "straight ahead"));
        r.chosen = 20.0;
        QVERIFY(contains(said(r), "20° to the right of ahead"));
        r.stretches[1].readings = {60.0}; // the longer way in less time
        QVERIFY(!dwellOf(r) && !verdictOf(r).good);
        r.stretches[1].readings = {0.0};
        QCOMPARE(dwellOf(r).error().kind, Error::Kind::OutOfRange);
    }

    void sensorsOverTheirLine()
    {
        const auto line = [](std::vector<double> sensors_m, double line_m) {
            return record(What::Line,
                          {{"sensors", {}, std::move(sensors_m), {}}, {"line", {}, {line_m}, {}}});
        };
        // Two at 40 mm round a line of 19: 10.5 mm to either side.
        auto look = lineOf(line({-0.020, 0.020}, 0.019));
        QCOMPARE(look->kind, LineLook::Kind::Straddle);
        COMPARE_NEAR(*look->slack_m, 0.0105, 1e-12);
        // The same two sitting 4 mm to the left: the same slack, and it is said.
        const auto aside = line({0.024, -0.016}, 0.019);
        COMPARE_NEAR(*lineOf(aside)->slack_m, 0.0105, 1e-12);
        COMPARE_NEAR(lineOf(aside)->skew_m, 0.004, 1e-12);
        QVERIFY(contains(english(verdictOf(aside).toDo), "4.0 mm to the right"));
        // Four between two lines.
        auto lane = line({0.030, 0.012, -0.012, -0.030}, 0.015);
        lane.stretches.push_back({"room", {}, {0.042}, {}});
        look = lineOf(lane);
        QCOMPARE(look->kind, LineLook::Kind::Lane);
        COMPARE_NEAR(*look->slack_m, 0.009, 1e-12);
        COMPARE_NEAR(*look->wrongLineBeyond_m, 0.033, 1e-12);
        QVERIFY(contains(said(lane), "Beyond 33.0 mm"));
        // Without the room between them it is one line under the strip.
        QCOMPARE(lineOf(line({0.030, 0.012, -0.012, -0.030}, 0.015))->kind, LineLook::Kind::Single);
        // One sensor is an edge, and its spot has to be known.
        auto edge = line({0.0}, 0.019);
        QVERIFY(!verdictOf(edge).good);
        edge.stretches.push_back({"spot", {}, {0.010}, {}});
        QVERIFY(verdictOf(edge).good && contains(said(edge), "5.0 mm to either side"));
        // Refused: no gap for the line, no line, too many sensors.
        QCOMPARE(lineOf(line({-0.005, 0.005}, 0.019)).error().kind, Error::Kind::Conflict);
        QVERIFY(!lineOf(record(What::Line, {{"sensors", {}, {0.01}, {}}})));
        QVERIFY(!lineOf(line({0.04, 0.02, 0.0, -0.02, -0.04}, 0.019)));
    }

    void theTrimmerBelongsHalfWay()
    {
        auto r =
            record(What::Trimmer, {{"light", {}, {1.0, 1.0}, {}}, {"dark", {}, {0.0, 0.0}, {}}});
        QVERIFY(!trimmerSettingOf(r));
        r.stretches.push_back({"turn light", {}, {0.35}, {}});
        r.stretches.push_back({"turn dark", {}, {0.55}, {}});
        COMPARE_NEAR(trimmerSettingOf(r)->position, 0.45, 1e-12);
        COMPARE_NEAR(trimmerSettingOf(r)->margin, 0.10, 1e-12);
        QVERIFY(contains(said(r), "at 45 % of its way, 10 % to either side"));
        QVERIFY(verdictOf(r).toDo.empty());
        r.stretches.back().readings = {0.37};
        QVERIFY(verdictOf(r).good && !verdictOf(r).toDo.empty());
        r.stretches.push_back({"lift", {}, {0.014}, {}});
        QVERIFY(contains(said(r), "goes out 14 mm above the floor"));
    }

    /// What the fit makes of a surface with another albedo is what the law says it will.
    void anotherSurfaceReadsAsTheLawSays()
    {
        auto r = record(What::Reflectance, {});
        for (int cm = 2; cm <= 20; ++cm)
            r.stretches.push_back(
                {{}, cm / 100.0, {std::round(std::pow(60.0 / (cm + 0.9), 2.0))}, {}});
        const auto alone = reflectanceOf(r);
        // Half of the light from 6 cm away.
        r.stretches.push_back({"other", 0.06, {std::round(std::pow(60.0 / 6.9, 2.0) / 2.0)}, {}});
        const auto fit = reflectanceOf(r);
        COMPARE_NEAR(fit->maxResidual_m, alone->maxResidual_m, 1e-12); // it is not fitted
        const auto other = otherSurfaceOf(r, *fit);
        QCOMPARE(other.size(), size_t(1));
        COMPARE_NEAR(*other.front().read_m, seenAt_m(*fit, 0.06, 0.5), 0.001);
        QVERIFY(contains(said(r), "too far"));
    }

    void aMedianDropsWhatIsWild()
    {
        Burst burst;
        for (int i = 0; i < 40; ++i)
            burst.push_back(i % 10 == 4 ? 9000.0 : 1740.0 + (i * 7) % 5);
        burst[20] = std::nullopt;
        const auto lines = mediansOf(burst);
        QCOMPARE(lines.size(), size_t(3));
        QCOMPARE(lines[0].wild, 4);
        QCOMPARE(lines[0].none, 1);
        QCOMPARE(lines[1].wild + lines[1].none, 0);
        QVERIFY(lines[2].jitter <= lines[0].jitter);
        burst.resize(9);
        QVERIFY(mediansOf(burst).empty());
    }

    void aLowPackIsSaidBesideTheFreshOne()
    {
        auto r = record(What::Turn, {{"left", 400.0, {58.0}, {}},
                                     {"left", 800.0, {134.0}, {}},
                                     {"right", 400.0, {58.0}, {}},
                                     {"right", 800.0, {134.0}, {}}});
        const auto fresh = said(r);
        QVERIFY(verdictOf(r).good && fresh.find("low pack") == std::string::npos);
        r.stretches.push_back({"left low", 800.0, {107.2}, {}});
        QVERIFY(contains(said(r), "With a low pack it turns 80 % of that to the left"));
        auto s = record(What::Straightness, {{{}, 2.0, {0.08}, {}}, {"low", 2.0, {-0.04}, {}}});
        QVERIFY(contains(said(s), "bends to the left") &&
                contains(said(s), "With a low pack it bends to the right"));
        COMPARE_NEAR(straightnessOf(s, 0.13, "low")->curvature_1_m, -0.02, 1e-9);
    }

    void typedNumbersAreReadOrRefused()
    {
        struct Case {
            const char *text;
            What what;
            Entry entry;
            std::vector<double> wanted; ///< empty: refused
        };
        const Case cases[] = {
            {"5.8 cm 6cm", What::Ruler, Entry::Board, {0.058, 0.06}},
            {"24,5cm;none", What::Ruler, Entry::Board, {0.245, nothingCame}},
            {"5.8", What::Ruler, Entry::Board, {}},
            {"-3 cm", What::Ruler, Entry::Board, {}},
            {"812 799 840", What::Surfaces, Entry::Board, {812, 799, 840}},
            {"812,5", What::Surfaces, Entry::Board, {812.5}},
            {"-1", What::Surfaces, Entry::Board, {}},
            {"1e3", What::Surfaces, Entry::Board, {}},
            {"none", What::Surfaces, Entry::Board, {}},
            {"1 0 1", What::Trimmer, Entry::Board, {1, 0, 1}},
            {"2", What::Trimmer, Entry::Board, {}},
            {"40 %", What::Trimmer, Entry::Share, {0.4}},
            {"0.4", What::Trimmer, Entry::Share, {0.4}},
            {"140 %", What::Trimmer, Entry::Share, {}},
            {"18mm", What::Trimmer, Entry::Length, {0.018}},
            {"-18mm", What::Trimmer, Entry::Length, {}},
            {"8 cm -3 cm", What::Straightness, Entry::Length, {0.08, -0.03}},
            {"8 cm \u22123 cm", What::Straightness, Entry::Length, {0.08, -0.03}},
            {"20 mm -20 mm", What::Line, Entry::Length, {0.02, -0.02}},
            {"90", What::Horn, Entry::Milliseconds, {90}},
            {"0.09 s", What::Horn, Entry::Milliseconds, {90}},
            {"-12", What::Horn, Entry::Degrees, {-12}},
            {"-200", What::Horn, Entry::Degrees, {}},
            {"58 deg 60", What::Turn, Entry::Degrees, {58, 60}},
            {"-58", What::Turn, Entry::Degrees, {}},
            {"6.2 6,3", What::Speed, Entry::Seconds, {6.2, 6.3}},
            {"2.2 kohm", What::Lamp, Entry::Ohms, {2200}},
            {"22", What::Air, Entry::Celsius, {22}},
            {"-4 C", What::Air, Entry::Celsius, {-4}},
            {"80", What::Air, Entry::Celsius, {}},
            {"1490", What::Neutral, Entry::Microseconds, {1490}},
            {"1490us", What::Neutral, Entry::Microseconds, {1490}},
            {"3000", What::Neutral, Entry::Microseconds, {}},
            {"1740 none", What::NoEcho, Entry::Board, {1740, nothingCame}},
            {"nan", What::NoEcho, Entry::Board, {}},
            {"", What::Surfaces, Entry::Board, {}},
            {"  ;; ", What::Surfaces, Entry::Board, {}},
            {"12 apples", What::Surfaces, Entry::Board, {}},
        };
        for (const auto &c : cases) {
            const auto got = typedReadings(c.text, c.what, c.entry);
            QVERIFY2(got.has_value() == !c.wanted.empty(), c.text);
            if (!got) {
                QVERIFY2(!english(got.error().mend).empty(), c.text);
                continue;
            }
            QCOMPARE(got->size(), c.wanted.size());
            for (size_t i = 0; i < got->size(); ++i)
                COMPARE_NEAR((*got)[i], c.wanted[i], 1e-9);
        }
    }

    /// Whatever is typed, it is read as numbers that the entry can be, or refused with a mend.
    void rubbishIsRefusedInWords()
    {
        std::mt19937 random(11);
        const std::vector<std::string> bits = {"1",          "2.5", "-",    "\u2212", ",",    ".",
                                               "e9",         " ",   ";",    "cm",     "mm",   "%",
                                               "none",       "us",  "kohm", "deg",    "\n",   "\t",
                                               "9999999999", "nan", "inf",  "C",      "\xff", "+"};
        int read = 0;
        for (int i = 0; i < 30000; ++i) {
            std::string text;
            for (size_t k = random() % 8; k > 0; --k)
                text += bits[random() % bits.size()];
            const auto what = static_cast<What>(random() % whatCount);
            const auto entry = static_cast<Entry>(random() % 9);
            const auto got = typedReadings(text, what, entry);
            if (!got) {
                QVERIFY2(!english(got.error().what).empty() && !english(got.error().mend).empty(),
                         text.c_str());
                continue;
            }
            ++read;
            QVERIFY(!got->empty());
            for (const double v : *got)
                QVERIFY2(std::isfinite(v) && std::abs(v) <= 1e7, text.c_str());
        }
        QVERIFY(read > 200);
    }

    /// Every step has its words, and what is typed there can be typed as its hint says.
    void everyStepTakesWhatItsHintShows()
    {
        for (int i = 0; i < whatCount; ++i) {
            const auto what = static_cast<What>(i);
            const auto steps = protocolOf(what);
            QVERIFY2(!steps.empty() && !steps.front().isOptional, key(what));
            for (const auto &s : steps) {
                QVERIFY2(!s.text.empty() && !s.hint.empty(), key(what));
                QVERIFY2(s.isChosen == (what == What::Neutral || what == What::Air ||
                                        (what == What::Horn && s.label.empty())),
                         key(what));
            }
        }
    }
};

BADGER_TEST(TestLooks)
#include "test_looks.moc"
