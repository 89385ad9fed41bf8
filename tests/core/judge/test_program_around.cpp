// SPDX-License-Identifier: GPL-3.0-or-later
// A program of any sensors on a car: what the car knows about it, and what is judged.
#include "core/io/templates.h"
#include "core/judge/judge.h"
#include "core/judge/program_around.h"
#include "core/kit/roles.h"
#include "support/fixture.h"

#include <set>

using namespace badger;

class TestProgramAround final : public QObject
{
    Q_OBJECT

    /// The car runs a template.
    static judge::Judgement judged(test::Bench &b, const std::string &name,
                                   const io::Choices &choices)
    {
        auto program =
            io::fromTemplate(name, choices, kit::roles({b.car, b.catalogue}), {"made"}, name);
        if (!program)
            qFatal("%s", english(program.error().text()).c_str());
        b.workshop.programs.push_back(*program);
        b.car.program = {"made"};
        return judge::judge(b.workshop, {b.car, b.catalogue});
    }
    static bool has(const judge::Judgement &j, const std::string &code)
    {
        return std::any_of(j.rule.findings.begin(), j.rule.findings.end(),
                           [&](const Finding &f) { return f.code == code; });
    }
    const io::Choices straddle = {
        {"light-level", "1"}, {"both-dark", "stop"}, {"turn-speed", "120"}, {"speed", "140"}};

private slots:
    void rolesFollowFromWherePartsSit()
    {
        const auto of = [](const char *car, const char *role) {
            test::Bench b(car);
            const auto all = kit::roles({b.car, b.catalogue});
            const auto it = all.find(role);
            return it == all.end() ? std::string() : it->second;
        };
        QCOMPARE(of("Sanderling", "ranger"), std::string("ahead"));
        QCOMPARE(of("Sanderling", "left-ranger"), std::string("port"));
        QCOMPARE(of("Sanderling", "right-ranger"), std::string("starboard"));
        QCOMPARE(of("Curlew", "servo"), std::string("servo"));
        QCOMPARE(of("Dunlin", "left-eye"), std::string("left-eye"));
        QCOMPARE(of("Plover", "inner-right"), std::string("strip.OUT3"));
        QCOMPARE(of("Godwit", "eye"), std::string("eye"));
        QCOMPARE(of("Whimbrel", "edge"), std::string("edge"));
        QCOMPARE(of("Avocet", "servo"), std::string());
    }

    void templatesAreOfferedToCarsThatHaveTheSensors()
    {
        const auto offered = [](const char *car) {
            test::Bench b(car);
            const auto roles = kit::roles({b.car, b.catalogue});
            std::set<std::string> names;
            for (const auto &t : io::templates())
                if (io::suits(t, roles))
                    names.insert(t.name);
            return names;
        };
        QVERIFY(offered("Curlew").contains("fan"));
        QVERIFY(!offered("Avocet").contains("fan"));
        QVERIFY(offered("Sanderling").contains("fixed-rangers"));
        QVERIFY(!offered("Curlew").contains("fixed-rangers"));
        QVERIFY(offered("Plover").contains("lane"));
        QVERIFY(!offered("Dunlin").contains("lane"));
        QVERIFY(offered("Godwit").contains("edge-glide"));
        QVERIFY(!offered("Godwit").contains("halt"));
    }

    void whatWasMeasuredStandsOverWhatAPartSays()
    {
        test::Bench b("Dunlin");
        const auto j = judged(b, "straddle", straddle);
        const auto &program = b.workshop.programs[b.workshop.programs.size() - 1];
        const auto around =
            judge::around({b.car, b.catalogue}, program, judge::recordsOf(b.workshop, b.car));
        QCOMPARE(around.lightLevels.at("left").light, 1);
        QCOMPARE(around.lightLevels.at("right").light, 0);
        QVERIFY(around.lightLevels.at("right").measured);
        QVERIFY(has(j, "sensor-sense-opposite"));
        const auto bare = judge::around({b.car, b.catalogue}, program, {});
        QVERIFY(!bare.lightLevels.at("right").measured);
        QCOMPARE(bare.lightLevels.at("right").light, 0);
    }

    void aSensorThatIsNotOnTheCar()
    {
        test::Bench b("Avocet");
        const io::Choices zigzag = {{"threshold", "530"}, {"edge", "left"}, {"speed", "100"}};
        QVERIFY(has(judged(b, "edge-zigzag", zigzag), "reading-without-sensor"));
        test::Bench there("Godwit");
        QVERIFY(!has(judged(there, "edge-zigzag", zigzag), "reading-without-sensor"));
    }

    /// Without a budget it is complete all the same; what is not written yet is no fault of it.
    void itsGateSaysWhatItsCellsSay()
    {
        test::Bench b("Plover");
        const auto j =
            judged(b, "lane", {{"light-level", "1"}, {"turn-speed", "120"}, {"speed", "140"}});
        QVERIFY(!j.budget);
        QVERIFY(j.gate(judge::Station::Rule).state == judge::GateState::Passed);
        test::Bench open("Plover");
        const auto unset = judged(open, "lane", {});
        QVERIFY(unset.gate(judge::Station::Rule).state == judge::GateState::Blocked);
        QVERIFY(has(unset, "value-unset"));
    }

    /// Counts become distances by the car's own fit; without one the program cannot be lowered.
    void distancesComeFromTheCalibration()
    {
        test::Bench b("Godwit");
        const io::Choices wall = {{"source", "distance"}, {"near", "5cm"}, {"far", "15cm"},
                                  {"edge", "left"},       {"gain", "0.5"}, {"speed", "120"}};
        judged(b, "wall-hold", wall);
        const auto &program = b.workshop.programs[b.workshop.programs.size() - 1];
        const auto none =
            machine::lower(program, judge::carFacts({b.car, b.catalogue}, program, {}));
        QVERIFY(!none);
        QVERIFY(english(none.error().text()).find("Tune") != std::string::npos);

        Pieces<tune::Record> records;
        tune::Record r;
        r.what = tune::What::Reflectance;
        r.instance = "eye";
        for (const double cm : {2.0, 3.0, 4.0, 6.0, 8.0, 12.0, 16.0})
            r.stretches.push_back({"", cm / 100.0, {std::round(40000.0 / ((cm + 4) * (cm + 4)))}});
        records.push_back(r);
        const auto facts = judge::carFacts({b.car, b.catalogue}, program, records);
        const auto machine = machine::lower(program, facts);
        VERIFY_OK(machine);
        // counts = 40000 / (d + 4)^2 with d in cm: 400 counts are 6 cm.
        const auto d = machine::numberOfCount(*machine, machine->sensors.front(), 400);
        QVERIFY(d && std::abs(*d - 6.0) <= 1.0);
    }
};

BADGER_TEST(TestProgramAround)
#include "test_program_around.moc"
