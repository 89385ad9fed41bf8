// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/kit/check.h"
#include "core/kit/mission.h"
#include "support/kits.h"

#include <set>

using namespace badger;
using kit::Want;
using test::Kit;

class TestMission final : public QObject
{
    Q_OBJECT
private slots:
    void everyBehaviour_data()
    {
        QTest::addColumn<QString>("key");
        for (const auto &b : kit::behaviours())
            QTest::newRow(b.key) << QString(b.key);
    }
    void everyBehaviour()
    {
        QFETCH(QString, key);
        const auto *b = kit::behaviour(key.toStdString());
        QVERIFY(b);
        QVERIFY(std::string(b->line).ends_with("."));
        QVERIFY(!std::string(b->floor).empty() && !b->wants.empty());
        // An empty car lacks every want, each with its reason and what would fill it.
        kit::Car car;
        car.mission = kit::Mission{key.toStdString(), {}, {}};
        for (const auto &n : kit::needs({car, io::shippedCatalogue()})) {
            QVERIFY2(n.met == (n.want == Want::NoBoard), english(n.what).c_str());
            QVERIFY(!n.what.empty() && !n.reason.empty());
            QCOMPARE(n.gap.empty(), n.met);
            for (const auto &id : n.partIds)
                QVERIFY2(io::shippedCatalogue().find(id), id.c_str());
        }
    }

    void nineteenByName()
    {
        QCOMPARE(kit::behaviours().size(), size_t(19));
        std::set<std::string> keys;
        for (const auto &b : kit::behaviours())
            QVERIFY(keys.insert(b.key).second);
        QVERIFY(!kit::behaviour("levitate"));
    }

    void kitsMeetTheirMissions()
    {
        for (const auto &k : io::startingKits())
            for (const auto &n : kit::needs({k.car, io::shippedCatalogue()}))
                QVERIFY2(n.met, english(n.gap).c_str());
        for (const auto &car : test::demo().cars)
            for (const auto &n : kit::needs({car, io::shippedCatalogue()}))
                QVERIFY2(n.met, english(n.gap).c_str());
    }

    void gapIsSaid()
    {
        Kit k;
        k.car.mission->behaviour = "glance";
        auto found = kit::checkMission({k.car, k.catalogue()}).findings;
        const auto *f = test::find(found, "mission-gap");
        QVERIFY(f && f->severity == Severity::Error);
        QCOMPARE(english(f->what),
                 std::string("To glance, the car needs a ranger on a pan servo: a pan "
                             "servo is missing."));
        QCOMPARE(english(f->why),
                 std::string("Because it looks to both sides before it chooses one."));
        k.fit("pan-servo-21");
        found = kit::checkMission({k.car, k.catalogue()}).findings;
        QVERIFY(english(test::find(found, "mission-gap")->what).find("no ranger is said to ride") !=
                std::string::npos);
        k.part("ranger").carriedBy = "servo";
        QVERIFY(!test::find(kit::checkMission({k.car, k.catalogue()}).findings, "mission-gap"));
    }

    void counts()
    {
        Kit k("Straddle a line");
        k.take("left-eye");
        const auto found = kit::checkMission({k.car, k.catalogue()}).findings;
        QVERIFY(english(test::find(found, "mission-gap")->what).find("1 of 2") !=
                std::string::npos);
    }

    void aBoardTooMany()
    {
        Kit k("Straddle a line");
        k.car.mission->behaviour = "direct";
        const auto found = kit::checkMission({k.car, k.catalogue()}).findings;
        QVERIFY(test::find(found, "mission-gap")->severity == Severity::Advice);
    }

    void unsetAndUnknown()
    {
        Kit k;
        k.car.mission.reset();
        QVERIFY(test::find(kit::checkMission({k.car, k.catalogue()}).findings, "mission-unset"));
        QVERIFY(kit::needs({k.car, k.catalogue()}).empty());
        k.car.mission = kit::Mission{"levitate", {}, {}};
        QVERIFY(test::find(kit::checkMission({k.car, k.catalogue()}).findings, "mission-unknown"));
    }

    void pins()
    {
        // Dual bridge with PWM enables: 6; ranger: 2.
        Kit k;
        auto b = kit::pinBudget({k.car, k.catalogue()});
        QCOMPARE(b.needed, 8);
        QCOMPARE(b.pwmNeeded, 2);
        QCOMPARE(b.has, 18); // without the two serial ones
        k.part("driver").jumpers = {"ENA", "ENB"};
        b = kit::pinBudget({k.car, k.catalogue()});
        QCOMPARE(b.needed, 6);
        QCOMPARE(b.pwmNeeded, 0);
    }

    void pinsShort()
    {
        Kit k("Keep a lane");
        for (int i = 0; i < 3; ++i)
            k.fit("reflectance-analogue"); // 7 analogue outputs for 6 pins
        const auto found = kit::checkMission({k.car, k.catalogue()}).findings;
        const auto *f = test::find(found, "pins-short");
        QVERIFY(f && f->severity == Severity::Error);
        QCOMPARE(english(f->what), std::string("7 analogue pins are asked for, the board has 6."));
    }
};

BADGER_TEST(TestMission)
#include "test_mission.moc"
