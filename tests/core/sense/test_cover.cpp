// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/sense/cover.h"
#include "support/kits.h"

using namespace badger;
using test::Kit;

class TestCover final : public QObject
{
    Q_OBJECT
private slots:
    void servoCarriesItsRanger()
    {
        const Kit k("Look both ways");
        const auto all = sense::covers({k.car, k.catalogue()});
        QCOMPARE(all.size(), size_t(1));
        const auto &c = all.front();
        COMPARE_NEAR(c.setBack_m, 0.022, 1e-9); // where the servo sits
        COMPARE_NEAR(c.height_m, 0.070, 1e-9);
        COMPARE_NEAR(c.swept.sweep_rad, 0.1571, 1e-9);
        QVERIFY(c.fixed.sweep_rad == 0.0 && c.ahead);
    }

    void sidewaysIsNotAhead()
    {
        const Kit k("Three rangers");
        const auto all = sense::covers({k.car, k.catalogue()});
        QCOMPARE(all.size(), size_t(3));
        QVERIFY(all[0].ahead && !all[1].ahead && !all[2].ahead);
    }

    void spots()
    {
        const Kit k("Keep a lane");
        const auto all = sense::spots({k.car, k.catalogue()});
        QCOMPARE(all.size(), size_t(4));
        // Left to right, one pitch of 12 mm apart, the middle of the strip between them.
        COMPARE_NEAR(all[0].place.y_m, 0.018, 1e-9);
        COMPARE_NEAR(all[3].place.y_m, -0.018, 1e-9);
    }

    void blindStripsAreSaid()
    {
        const Kit k;
        const auto c = k.catalogue();
        const auto near = sense::checkSight({k.car, c}, 0.32);
        const auto *f = test::find(near.findings, "beam-narrower-than-car");
        QVERIFY(f && f->severity == Severity::Advice);
        // 2 x 320 x tan 7.5 = 84 mm of 150 mm.
        QVERIFY2(english(f->what).find("covers 84 mm; 33 mm on each side") != std::string::npos,
                 english(f->what).c_str());
        QVERIFY(english(f->why).find("570 mm") != std::string::npos);
        QVERIFY(!test::find(sense::checkSight({k.car, c}, 0.6).findings, "beam-narrower-than-car"));
        QVERIFY(!test::find(sense::checkSight({k.car, c}, std::nullopt).findings,
                            "beam-narrower-than-car"));
    }

    void lowBeamMeetsTheFloor()
    {
        Kit k;
        k.part("ranger").mount->height_m = 0.05;
        const auto found = sense::checkSight({k.car, k.catalogue()}, std::nullopt).findings;
        QVERIFY(english(test::find(found, "beam-meets-floor")->what).find("380 mm") !=
                std::string::npos);
        k.part("ranger").mount->tilt_rad = 0.05;
        QVERIFY(!test::find(sense::checkSight({k.car, k.catalogue()}, std::nullopt).findings,
                            "beam-meets-floor"));
    }

    void rideHeight()
    {
        Kit k("Straddle a line");
        k.part("left-eye").mount->height_m = 0.040;
        const auto found = sense::checkSight({k.car, k.catalogue()}, std::nullopt).findings;
        QCOMPARE(test::codes(found), std::vector<std::string>{"ride-height"});
        QVERIFY(english(found.front().what).find("3 mm to 15 mm") != std::string::npos);
    }

    void turnedRangerHasNoBudget()
    {
        test::Bench b;
        b.car.parts[1].mount->yaw_rad = 0.6;
        const auto budget = judge::budgetOf({b.car, b.catalogue}, b.program);
        QVERIFY(!budget);
        QVERIFY(english(budget.error().what).find("34 deg to the side") != std::string::npos);
    }
};

BADGER_TEST(TestCover)
#include "test_cover.moc"
