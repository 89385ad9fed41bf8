// SPDX-License-Identifier: GPL-3.0-or-later
// The worked examples of what can be wrong with a program, and programs of which nothing is.
#include "core/machine/made.h"
#include "core/regions/check.h"
#include "core/regions/compare.h"
#include "support/fixture.h"

using namespace badger;
using regions::Around;
using test::made;

namespace
{

Around usual()
{
    Around a;
    a.servos[std::string("servo")] = {0.002, 0.05};
    a.speed_mps = 0.22;
    return a;
}

const Finding *of(const Findings &all, const std::string &code)
{
    for (const auto &f : all.findings)
        if (f.code == code)
            return &f;
    return nullptr;
}

QString said(const Finding *f)
{
    return f ? QString::fromStdString(english(f->what) + " " + english(f->mend)) : QString();
}

} // namespace

class TestMachineCheck final : public QObject
{
    Q_OBJECT

    static Findings check(const std::string &name, const io::Choices &more = {},
                          const Around &around = usual())
    {
        return regions::check(made(name, more), around);
    }
    /// The finding is there, at these readings and with these words.
    static void finds(const Findings &all, const std::string &code, Severity severity,
                      const std::vector<std::string> &readings, const QString &words)
    {
        const auto *f = of(all, code);
        QVERIFY2(f, code.c_str());
        QVERIFY(f->severity == severity);
        QCOMPARE(f->readings, readings);
        QVERIFY2(said(f).contains(words), qPrintable(said(f)));
        QVERIFY(!f->why.empty() && !f->mend.empty() && !f->target().empty());
    }

private slots:
    void aHoleIsNamedWithItsReadings()
    {
        const io::Choices strict = {{"near-compare", "lt"}, {"far-compare", "lt"}};
        finds(check("keep-station", strict), "reading-without-action", Severity::Error,
              {"ahead 18 cm", "ahead 45 cm"}, "no rule says what to do");
        QVERIFY(!of(check("keep-station"), "reading-without-action"));
    }

    void aHoleOfTheDemoHasItsStretch()
    {
        test::Bench b;
        b.program.values.push_back({"far", "", rules::ValueKind::Distance, 0.4});
        b.program.everywhere[1].when[0].value = "far";
        const auto all = regions::check(b.program, {});
        finds(all, "reading-without-action", Severity::Error, {"ahead 33..40 cm"}, "33..40 cm");
        QCOMPARE(of(all, "reading-without-action")->target(), std::string("reading:ahead"));
    }

    void twoActionsForOneReading()
    {
        test::Bench b;
        b.program.values.push_back({"far", "", rules::ValueKind::Distance, 0.25});
        b.program.everywhere[1].when[0].value = "far";
        finds(regions::check(b.program, {}), "reading-with-two-actions", Severity::Warning,
              {"ahead 26..32 cm"}, "two rules with different actions");
        finds(check("keep-station",
                    {{"near", "10cm"}, {"far", "20cm"}, {"ends-pass", "no"}, {"otherwise", "go"}}),
              "reading-with-two-actions", Severity::Warning, {"ahead 11..20 cm"},
              "acts twice in one pass");
    }

    /// Near and far exchanged: nothing gets to the rule that follows.
    void aRuleThatIsNeverMet()
    {
        const auto all = check("hand-follow", {{"near", "200"}, {"far", "700"}});
        QVERIFY2(said(of(all, "rule-never-met")).contains("'hand'"),
                 qPrintable(said(of(all, "rule-never-met"))));
        QVERIFY(said(of(check("keep-station", {{"far", "18cm"}}), "rule-never-met"))
                    .contains("'between'"));
        for (const auto &t : io::templates())
            QVERIFY2(!of(check(t.name), "rule-never-met"),
                     qPrintable(said(of(check(t.name), "rule-never-met"))));
    }

    /// With a go-forward else the hole at 18 is dangerous, that at 45 harmless.
    void aLimitThatFallsToTheElse()
    {
        const auto all = check(
            "keep-station", {{"near-compare", "lt"}, {"far-compare", "lt"}, {"otherwise", "go"}});
        int dangerous = 0;
        int harmless = 0;
        for (const auto &f : all.findings)
            if (f.code == "limit-in-neither-rule") {
                (f.severity == Severity::Error ? dangerous : harmless)++;
                QCOMPARE(f.readings.front(), f.severity == Severity::Error
                                                 ? std::string("ahead 18 cm")
                                                 : std::string("ahead 45 cm"));
            }
        QCOMPARE(dangerous, 1);
        QCOMPARE(harmless, 1);
        QVERIFY(!of(check("keep-station", {{"otherwise", "go"}}), "limit-in-neither-rule"));
    }

    void aFollowerDoesNotChargeAfterALostTarget()
    {
        finds(check("keep-station"), "lost-target-chased", Severity::Error, {"ahead none"},
              "advance");
        QVERIFY(!of(check("keep-station", {{"lost-after", "3"}}), "lost-target-chased"));
        QVERIFY(!of(check("keep-station", {{"no-echo", "stop"}}), "lost-target-chased"));
        // A car that only halts drives on where nothing is heard: that is what it is for.
        QVERIFY(!of(check("halt"), "lost-target-chased"));
    }

    void anOpenSideThatCountsAsNought()
    {
        finds(check("glance", {{"no-echo-look", "blocked"}}), "none-turns-to-wall",
              Severity::Warning, {"right 4, left none"}, "counts as nought");
        QVERIFY(!of(check("glance"), "none-turns-to-wall"));
    }

    void sidesAreComparedWithATolerance()
    {
        finds(check("glance", {{"tolerance", "0cm"}}), "comparison-without-tolerance",
              Severity::Warning, {"right 41, left 40"}, "without a tolerance");
        QVERIFY(!of(check("glance"), "comparison-without-tolerance"));
    }

    void theFirstFreeSideMayPassABetterOne()
    {
        finds(check("first-free-side"), "better-side-passed", Severity::Advice, {"left 50"},
              "350 cm clearer");
        QVERIFY(!of(check("glance"), "better-side-passed"));
    }

    /// 620 ms right and 240 ms left at 150 degrees a second: 93 and 36; for 60 both take 400 ms.
    void turnsToBothSidesAreAlike()
    {
        auto around = usual();
        around.leftTurn_deg_s = around.rightTurn_deg_s = 150.0;
        const io::Choices uneven = {{"turn-time-left", "240ms"}, {"turn-time-right", "620ms"}};
        const auto all = check("glance", uneven, around);
        const auto words = said(of(all, "turns-unequal"));
        for (const char *part : {"36°", "93°", "60°", "400 ms left and 400 ms right"})
            QVERIFY2(words.contains(part), qPrintable(words));
        QVERIFY(of(check("glance", uneven), "turns-unequal")); // not measured: the times differ
        QVERIFY(!of(check("glance", {}, around), "turns-unequal"));
        // A car that turns slower to one side is trimmed by its times.
        around.leftTurn_deg_s = 150.0;
        around.rightTurn_deg_s = 150.0 * 240.0 / 620.0;
        QVERIFY(!of(check("glance", uneven, around), "turns-unequal"));
    }

    void aSideThatIsAlwaysTaken()
    {
        QVERIFY(said(of(check("turn-away"), "always-same-side")).contains("left"));
        QVERIFY(said(of(check("turn-away", {{"turn-side", "right"}}), "always-same-side"))
                    .contains("right"));
        QVERIFY(!of(check("glance"), "always-same-side"));
        QVERIFY(!of(check("back-and-wander"), "always-same-side"));
    }

    void tiesOfAScanPreferOneEnd()
    {
        QVERIFY(said(of(check("fan"), "ties-prefer-one-side")).contains("right"));
        QVERIFY(said(of(check("fan", {{"tie", "last"}}), "ties-prefer-one-side")).contains("left"));
        QVERIFY(!of(check("fan", {{"angles", "90,40,140"}}), "ties-prefer-one-side"));
    }

    /// 2 ms a degree and 50 ms to settle: from 150 back to 30 are 290 ms, to ahead 170.
    void theServoIsThereBeforeThePing()
    {
        const auto all = check("glance", {{"dwell", "200ms"}});
        QVERIFY2(said(of(all, "dwell-too-short")).contains("290 ms"),
                 qPrintable(said(of(all, "dwell-too-short"))));
        QVERIFY(!of(check("glance", {{"dwell", "290ms"}}), "dwell-too-short"));
        auto unknown = usual();
        unknown.servos.clear();
        QVERIFY(!of(check("glance", {{"dwell", "1ms"}}, unknown), "dwell-too-short"));
    }

    void aTurnToWhereNothingLooks()
    {
        QVERIFY(of(check("back-and-turn"), "direction-not-looked-at"));
        QVERIFY(!of(check("glance"), "direction-not-looked-at"));
        QVERIFY(!of(check("straddle"), "direction-not-looked-at"));
    }

    /// 1.2 s and 0.9 s: blind for 2.1 s, 26 cm of it backward at 0.22 m/s.
    void theBlindStretchAndItsWay()
    {
        const auto all = check("back-and-turn", {{"back-time", "1.2s"}, {"turn-time", "0.9s"}});
        const auto words = said(of(all, "blind-stretch"));
        QVERIFY2(words.contains("2.1 s") && words.contains("26 cm"), qPrintable(words));
        QVERIFY(!of(check("turn-away"), "blind-stretch"));
    }

    void aStateWithoutAWayOut()
    {
        auto p = made("glance");
        for (auto &s : p.states)
            if (s.name == "looks")
                s.rules.clear();
        const auto all = regions::check(p, usual());
        QVERIFY(said(of(all, "state-without-way-out")).contains("'looks'"));
        QVERIFY(!of(check("glance"), "state-without-way-out"));
        QVERIFY(!of(check("edge-glide"), "state-without-way-out"));
    }

    void aSenseThatIsTheOpposite()
    {
        auto around = usual();
        around.lightLevels["left"] = {1, true};
        around.lightLevels["right"] = {0, true};
        finds(check("straddle", {}, around), "sensor-sense-opposite", Severity::Error,
              {"right light"}, "measured to put out 0 on light");
        around.lightLevels["right"] = {1, false};
        QVERIFY(!of(check("straddle", {}, around), "sensor-sense-opposite"));
    }

    void aTimeThatOverflows()
    {
        const io::Choices narrow = {{"time-bits", "16"}, {"limit", "700cm"}, {"air", "15C"}};
        finds(check("halt", narrow), "echo-time-overflow", Severity::Error, {"ahead wild"},
              "-468 cm");
        QVERIFY(!of(check("halt", {{"time-bits", "16"}}), "echo-time-overflow")); // 400 cm
        QVERIFY(!of(check("halt", {{"limit", "700cm"}}), "echo-time-overflow"));
    }

    void anEndlessLoopBeforeAStandingWorld()
    {
        const auto all = check("fan", {{"sweep-angles", "80,90,100"}, {"sweep-dwell", "60ms"}});
        const auto *f = of(all, "endless-loop");
        QVERIFY(f);
        QVERIFY(f->severity == Severity::Error);
        QVERIFY2(said(f).contains("29 cm at 80°"), qPrintable(said(f)));
        QVERIFY(!f->readings.empty());
        // In the style that never blocks it goes the same way round, in many more passes.
        QVERIFY(
            of(check("fan",
                     {{"sweep-angles", "80,90,100"}, {"sweep-dwell", "60ms"}, {"waits", "timed"}}),
               "endless-loop"));
        // Looking straight ahead alone, what stops it is what the look round sees.
        QVERIFY(!of(check("fan"), "endless-loop"));
        QVERIFY(!of(check("glance"), "endless-loop"));
    }

    void tooManyWaysAreSaid()
    {
        auto p = made("fixed-rangers");
        for (int i = 0; i < 40; ++i) {
            const auto name = "v" + std::to_string(i);
            p.values.push_back({name, "", rules::ValueKind::Distance, 0.05 + 0.07 * i});
            p.everywhere.push_back({name, {{"nearest", rules::Compare::Less, name}}, "drives"});
        }
        QVERIFY(of(regions::check(p, {}), "too-many-cells"));
    }

    /// What nobody chose is not judged.
    void whatIsUnsetIsNotJudged()
    {
        for (const auto &t : io::templates()) {
            io::Choices shape;
            for (const auto &c : t.choices)
                if (c.shapes)
                    shape[c.key] = c.words.front();
            const auto p = io::fromTemplate(t.name, shape, {}, Id<rules::Program>{"x"}, t.name);
            VERIFY_OK(p);
            for (const auto &f : regions::check(*p, usual()).findings)
                QVERIFY2(f.severity == Severity::Advice, f.code.c_str());
        }
    }

    void differencesAreReadings()
    {
        const auto near = made("halt", {{"threshold", "30cm"}});
        const auto far = made("halt", {{"threshold", "40cm"}});
        const auto c = regions::compare(near, far, usual());
        VERIFY_OK(c);
        QCOMPARE(c->differences.size(), size_t(2)); // while it drives, and while it stands
        QVERIFY(c->differences.front().where.find("31..40") != std::string::npos);
        QVERIFY(regions::compare(near, near, usual())->differences.empty());
        const auto other = made("halt", {{"no-echo", "stop"}});
        const auto d = regions::compare(made("halt"), other, usual());
        QCOMPARE(d->differences.size(), size_t(2));
        QVERIFY(d->differences.front().where.find("none") != std::string::npos);
    }

    /// Counts against the surfaces that were measured: light 820 +- 6, dark 240 +- 2.
    void countsAgainstTheSurfaces()
    {
        auto around = usual();
        const auto found = [&](const rules::Program &p, const char *code) {
            std::vector<std::string> targets;
            for (const auto &f : regions::check(p, around).findings)
                if (f.code == code)
                    targets.push_back(f.target());
            return targets;
        };
        const auto glide = [](const char *dark, const char *light) {
            return made("edge-glide", {{"dark", dark}, {"light", light}});
        };
        QVERIFY(found(glide("100", "900"), "counts-not-as-measured").empty()); // not measured
        around.surfaces["eye"] = {{820.0, 6.0}, {240.0, 2.0}};
        QVERIFY(found(glide("240", "820"), "counts-not-as-measured").empty());
        QVERIFY(found(glide("249", "837"), "counts-not-as-measured").empty()); // 10, and 3 x 6
        QCOMPARE(found(glide("251", "839"), "counts-not-as-measured"),
                 (std::vector<std::string>{"value:dark", "value:light"}));
        const auto zigzag = [](const char *threshold) {
            return made("edge-zigzag", {{"threshold", threshold}});
        };
        QVERIFY(found(zigzag("530"), "limit-tells-nothing").empty());
        QCOMPARE(found(zigzag("830"), "limit-tells-nothing"),
                 std::vector<std::string>{"value:threshold"});
        QCOMPARE(found(zigzag("200"), "limit-tells-nothing").size(), size_t(1));
    }

    void costsAreThoseOfTheWaitsAndLooks()
    {
        const auto c =
            regions::compare(made("back-and-turn", {{"back-time", "1.2s"}, {"turn-time", "0.9s"}}),
                             made("glance"), usual());
        VERIFY_OK(c);
        QVERIFY(std::abs(c->a.blind_s - 2.1) < 1e-9);
        QVERIFY(std::abs(*c->a.blind_m - 0.264) < 1e-9);
        QCOMPARE(c->a.lookRound_s, 0.0);
        // Two dwells of 300 ms and two time-outs of 4 m.
        QVERIFY(std::abs(c->b.lookRound_s - 2 * (0.3 + 0.02331)) < 1e-4);
        QCOMPARE(c->onlyB, (std::vector<std::string>{"right", "left"}));
    }
};

BADGER_TEST(TestMachineCheck)
#include "test_check.moc"
