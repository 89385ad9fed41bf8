// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/arena/arena.h"
#include "core/floor/generate.h"
#include "support/drive.h"

using namespace badger;

class TestGenerate final : public QObject
{
    Q_OBJECT
private slots:
    /// Every kind as it is at first, and at both ends of each of its ranges alone, is a floor that
    /// compiles, or is refused in words.
    void everyKindAtItsEnds()
    {
        int made = 0;
        for (const auto &g : floor::generators()) {
            std::vector<test::Choices> all = {{}};
            for (const auto &k : g.keys) {
                for (const auto &w : k.words)
                    all.push_back({{k.name, w}});
                if (!k.words.empty())
                    continue;
                for (const double end : {k.low, k.high}) {
                    const auto unit = k.unit == units::Unit::Radian ? units::Unit::Degree : k.unit;
                    all.push_back(
                        {{k.name, k.count
                                      ? std::to_string(long(end))
                                      : english(Say(say("{}", units::quantity(end, unit, 6))))}});
                }
            }
            for (const auto &set : all) {
                const auto f = floor::generate(g.name, set, g.name);
                if (!f) {
                    QVERIFY2(f.error().kind == Error::Kind::Conflict,
                             english(f.error().text()).c_str());
                    continue;
                }
                const auto a = arena::compile(*f);
                VERIFY_OK(a);
                QVERIFY(f->start.nose.x_m > 0.0 && f->start.nose.x_m < f->width_m);
                QVERIFY(f->start.nose.y_m > 0.0 && f->start.nose.y_m < f->depth_m);
                ++made;
            }
        }
        QVERIFY(made > 60);
    }

    void whatIsTypedIsWhatStands()
    {
        const auto f = test::floorOf(
            "straight",
            {{"distance", "90cm"}, {"angle", "30deg"}, {"width", "40cm"}, {"air", "11C"}});
        const auto &w = f.walls.front();
        const double y = f.start.nose.y_m;
        // Positive: the left end is nearer.
        COMPARE_NEAR(w.from.x_m - f.start.nose.x_m, 0.9 - 0.2 * 0.5, 1e-9);
        COMPARE_NEAR(w.from.y_m - y, 0.2 * std::sqrt(0.75), 1e-9);
        COMPARE_NEAR(w.to.x_m - f.start.nose.x_m, 0.9 + 0.2 * 0.5, 1e-9);
        COMPARE_NEAR(f.air_degC, 11.0, 1e-12);
        const auto post =
            test::floorOf("post", {{"ahead", "70cm"}, {"left", "-5cm"}, {"diameter", "12mm"}});
        COMPARE_NEAR(post.posts[0].at.x_m - post.start.nose.x_m, 0.7, 1e-12);
        COMPARE_NEAR(post.posts[0].at.y_m - post.start.nose.y_m, -0.05, 1e-12);
        COMPARE_NEAR(post.posts[0].radius_m, 0.006, 1e-12);
    }

    /// Everywhere along a lane its two lines are as far apart as was asked.
    void aLaneHasOneWidth()
    {
        const auto f = test::floorOf("lane", {{"inner", "42mm"}, {"line", "15mm"}});
        const auto a = *arena::compile(f);
        arena::Arena outer = a;
        outer.tracks = {a.tracks[0]};
        for (const auto &p : a.tracks[1].points)
            COMPARE_NEAR(std::abs(arena::onTrack(outer, p).away_m), 0.057, 3e-4);
    }

    void boxesKeepClear()
    {
        for (int seed = 1; seed <= 30; ++seed) {
            const auto f = test::floorOf("room", {{"boxes", "6"}, {"seed", std::to_string(seed)}});
            for (size_t i = 4; i < f.walls.size(); ++i)
                QVERIFY(std::hypot(f.walls[i].from.x_m - f.start.nose.x_m,
                                   f.walls[i].from.y_m - f.start.nose.y_m) > 0.29);
            QVERIFY(test::floorOf("room", {{"boxes", "6"}, {"seed", std::to_string(seed)}}) == f);
        }
    }

    void refusals_data()
    {
        QTest::addColumn<QString>("kind");
        QTest::addColumn<QString>("key");
        QTest::addColumn<QString>("value");
        QTest::addColumn<QString>("said");
        QTest::newRow("no such kind") << "moon"
                                      << ""
                                      << ""
                                      << "use one of: straight, room";
        QTest::newRow("no such key") << "ring"
                                     << "angle"
                                     << "3deg"
                                     << "use one of: diameter, air, surface";
        QTest::newRow("no unit") << "straight"
                                 << "distance"
                                 << "180"
                                 << "unit";
        QTest::newRow("wrong unit") << "straight"
                                    << "distance"
                                    << "3deg"
                                    << "use one of: cm, mm, in, m";
        QTest::newRow("too far") << "straight"
                                 << "angle"
                                 << "70deg"
                                 << "70 deg is outside -60 deg to 60 deg";
        QTest::newRow("no word") << "straight"
                                 << "soft"
                                 << "butter"
                                 << "use one of: no, cloth, foam";
        QTest::newRow("no whole number") << "room"
                                         << "boxes"
                                         << "2.5"
                                         << "is no whole number";
        QTest::newRow("two that don't go") << "corridor"
                                           << "doorway"
                                           << "2m"
                                           << "wider than the corridor";
    }
    void refusals()
    {
        QFETCH(QString, kind);
        QFETCH(QString, key);
        QFETCH(QString, value);
        QFETCH(QString, said);
        test::Choices set;
        if (!key.isEmpty())
            set[key.toStdString()] = value.toStdString();
        const auto f = floor::generate(kind.toStdString(), set, "x");
        QVERIFY(!f);
        QVERIFY2(english(f.error().text()).find(said.toStdString()) != std::string::npos,
                 english(f.error().text()).c_str());
    }

    void aNewWorkshopHasThree()
    {
        const auto all = floor::firstFloors();
        QCOMPARE(all.size(), size_t(3));
        for (const auto &f : all)
            QVERIFY(arena::compile(f).has_value());
    }
};

BADGER_TEST(TestGenerate)
#include "test_generate.moc"
