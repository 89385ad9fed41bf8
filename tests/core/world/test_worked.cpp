// SPDX-License-Identifier: GPL-3.0-or-later
// Lines, edges and followers on a floor against the formulas of a textbook or a sum by hand.
#include "core/oncar/program_on_car.h"
#include "core/task/outcome.h"
#include "support/drive.h"

using namespace badger;
using test::Bench;
using test::Bent;
using test::driven;
using test::floorOf;
using test::quiet;

namespace
{

floor::Floor mat(double width_m, double depth_m, arena::Vec nose)
{
    floor::Floor f;
    f.name = "mat";
    f.width_m = width_m;
    f.depth_m = depth_m;
    f.air_degC = 20.0;
    f.start.nose = {nose.x, nose.y};
    return f;
}

/// Four sensors at 12 and 30 mm between two lines of 15 mm, 42 mm apart within: what does the car
/// do first, so far to the left of the middle? Positive: to the left.
double laneTurns_deg(double off_m)
{
    static Bent b("Plover", "lane",
                  {{"speed", "110"}, {"turn-speed", "110"}, {"light-level", "1"}, {"wait", "5ms"}});
    auto &eyes = b.on.changeModel().eyes;
    const double at[] = {0.030, 0.012, -0.012, -0.030};
    for (size_t i = 0; i < 4; ++i) {
        eyes[i].at.y = at[i];
        eyes[i].spot_m = 0.002;
    }
    auto f = mat(4.0, 1.0, {0.5, 0.5 + off_m});
    for (const double y : {0.5 + 0.0285, 0.5 - 0.0285})
        f.lines.push_back({"line", {{0.05, y}, {3.95, y}}, 0.015, false, false, {}});
    return test::heading_deg(b.drive(f, 0.3), 0.3);
}

/// The speed up to which an edge is followed without growing swings.
double steadyUpTo_mps(double ahead_m, double lag_s, const char *wait, const char *gain)
{
    Bent b("Godwit", "edge-glide",
           {{"edge", "left"},
            {"light", "807"},
            {"dark", "215"},
            {"speed", "150"},
            {"gain", gain},
            {"wait", wait}});
    auto &model = b.on.changeModel();
    model.wheels.rise_s = lag_s;
    for (auto &e : model.eyes) {
        e.at = {ahead_m, 0.0};
        e.spot_m = 0.02;
        e.light_counts = 807;
        e.dark_counts = 215;
    }
    const auto was = model.wheels.speed_mps;
    double low = 0.1, high = 0.8;
    for (int i = 0; i < 9; ++i) {
        const double v = (low + high) / 2.0;
        // A speed that is in proportion to its count: what the formula is for.
        for (auto &wheel : model.wheels.speed_mps)
            for (size_t n = 0; n < wheel.size(); ++n)
                wheel[n] = v * double(n) / 150.0;
        auto f = mat(90.0, 4.0, {0.5, 2.003});
        // The dark field's left edge is the line to follow.
        f.lines.push_back({"field", {{0.05, 1.0}, {89.9, 1.0}}, 2.0, false, false, {}});
        const double lasts_s = std::min(60.0, 85.0 / v);
        const auto t = b.drive(f, lasts_s);
        const auto swing = [&](double from_s, double to_s) {
            double most = 0.0;
            for (const auto &m : t.path)
                if (double(m.time_us) * 1e-6 >= from_s && double(m.time_us) * 1e-6 < to_s)
                    most = std::max(most, std::abs(m.pose.at.y + ahead_m * m.pose.looks.y - 2.0));
            return most;
        };
        // It begins 3 mm off; whole counts leave a tenth of one.
        const bool steady = swing(lasts_s * 0.85, lasts_s) < 0.001;
        (steady ? low : high) = v;
    }
    model.wheels.speed_mps = was;
    return low;
}

/// The same by the open loop K (L s + v) e^(-s delay) / (s^2 (lag s + 1)): where its phase margin
/// is used up.
double greatestSteady_mps(double gain)
{
    const double ahead = 0.06, lag = 0.15, delay = 0.03, wide = 0.12, spot = 0.02;
    const auto margin = [&](double v) {
        const double k = 2.0 * v / wide * gain * 8.0 / (M_PI * spot);
        double low = 1e-4, high = 1e4; // where its amplitude is 1
        for (int i = 0; i < 200; ++i) {
            const double w = std::sqrt(low * high);
            (k * std::hypot(ahead * w, v) / (w * w * std::hypot(1.0, lag * w)) > 1.0 ? low : high) =
                w;
        }
        return std::atan(ahead * low / v) - low * delay - std::atan(low * lag);
    };
    double low = 0.01, high = 2.0;
    for (int i = 0; i < 60; ++i) {
        const double v = (low + high) / 2.0;
        (margin(v) > 0.0 ? low : high) = v;
    }
    return low;
}

} // namespace

class TestWorked final : public QObject
{
    Q_OBJECT
private slots:
    void theSlackOfALane()
    {
        double low = 0.0, high = 0.015;
        for (int i = 0; i < 10; ++i) {
            const double off = (low + high) / 2.0;
            (std::abs(laneTurns_deg(off)) < 0.05 ? low : high) = off;
        }
        COMPARE_NEAR(low, 0.009, 0.0005); // min(W/2 - a, b - W/2)
        for (const double off : {0.012, 0.018, 0.022})
            QVERIFY2(laneTurns_deg(off) < -1.0, qPrintable(QString::number(off)));
        QVERIFY(laneTurns_deg(-0.012) > 1.0);
        // From W/2 - a + w = 24 mm on no inner sensor has the near line: the last turn goes on.
        QVERIFY(std::abs(laneTurns_deg(0.028)) < 0.05);
        // Beyond W/2 + a = 33 mm the inner one of the other side meets it, and the car turns out.
        QVERIFY2(laneTurns_deg(0.036) > 1.0, qPrintable(QString::number(laneTurns_deg(0.036))));
        double wrong = 0.036, right = 0.028;
        for (int i = 0; i < 8; ++i) {
            const double off = (wrong + right) / 2.0;
            (laneTurns_deg(off) > 0.5 ? wrong : right) = off;
        }
        COMPARE_NEAR(wrong, 0.033, 0.0005);
    }

    /// 60 mm ahead, lag 0.15 s, a loop delay of 30 ms (a pass of 60 ms holds its command for 60,
    /// half of which is the delay): at low gain v < L / (lag + delay) = 0.33 m/s, less with more.
    void anEdgeIsFollowedUpToASpeed_data()
    {
        QTest::addColumn<double>("gain");
        QTest::newRow("0.15") << 0.15;
        QTest::newRow("0.3") << 0.3;
        QTest::newRow("0.5") << 0.5;
    }
    void anEdgeIsFollowedUpToASpeed()
    {
        QFETCH(double, gain);
        const double least = greatestSteady_mps(1e-4);
        COMPARE_NEAR(least, 0.06 / 0.18, 1e-3);
        const double sum = greatestSteady_mps(gain);
        const double v = steadyUpTo_mps(0.06, 0.15, "60ms", QByteArray::number(gain).constData());
        QVERIFY2(std::abs(v - sum) < 0.1 * sum, qPrintable(QString("%1 %2").arg(v).arg(sum)));
    }

    void aTargetThatIsTakenAway_data()
    {
        QTest::addColumn<QString>("policy");
        QTest::addColumn<QString>("lostAfter");
        QTest::addColumn<bool>("drivesOn");
        QTest::newRow("none is the greatest: it charges") << "clear"
                                                          << "1000" << true;
        QTest::newRow("stands after 3 lost") << "clear"
                                             << "3" << false;
        QTest::newRow("hold: as the last reading said") << "hold"
                                                        << "1000" << true;
        QTest::newRow("skip: as it did") << "skip"
                                         << "1000" << true;
    }
    void aTargetThatIsTakenAway()
    {
        QFETCH(QString, policy);
        QFETCH(QString, lostAfter);
        QFETCH(bool, drivesOn);
        Bent b("Sanderling", "keep-station",
               {{"near", "18cm"},
                {"far", "45cm"},
                {"speed", "130"},
                {"no-echo", policy.toStdString()},
                {"lost-after", lostAfter.toStdString()},
                {"wait", "40ms"},
                {"limit", "200cm"},
                {"air", "20C"}});
        auto f = mat(8.0, 1.6, {0.5, 0.8});
        // It leaves as fast as the car can follow, so that the last reading is a far one.
        f.movers.push_back({"target", {1.3, 0.4}, {1.3, 1.2}, 0.25, 0, 0, 20.0, 3.0, {}});
        const auto t = b.drive(f, 6.0);
        const auto x = [&](double s) {
            return world::at(t, static_cast<std::uint64_t>(s * 1e6)).pose.at.x;
        };
        QVERIFY(x(3.0) - x(1.0) > 0.2); // it follows
        const double after = x(6.0) - x(3.3);
        QVERIFY2((after > 0.3) == drivesOn, qPrintable(QString::number(after)));
    }

    /// What it rolls at the end of backing is away from the board: its nearest is where it turned
    /// round, and the wheels' own lag is all that is between the decision and that.
    void backingRollsAway()
    {
        Bent b("Avocet", "retreat",
               {{"threshold", "30cm"},
                {"speed", "140"},
                {"wait", "40ms"},
                {"no-echo", "clear"},
                {"limit", "200cm"},
                {"air", "20C"}});
        auto f = mat(4.0, 1.6, {2.0, 0.8}); // a board comes on and stops
        f.movers.push_back({"board", {3.3, 0.4}, {3.3, 1.2}, -0.3, 0, 0, 3.6, {}, {}});
        const auto t = b.drive(f, 12.0);
        const auto &steps = t.steps;
        const auto backs = std::find_if(steps.begin(), steps.end(), [&](const world::Step &s) {
            return rules::actOf(b.on.program().states[size_t(s.mind.mode)].motion) ==
                   rules::Act::Back;
        });
        QVERIFY(backs != steps.end() && backs + 1 != steps.end());
        const auto ends_us = (backs + 1)->time_us;
        const double turned = world::at(t, ends_us).pose.at.x;
        const double later = world::at(t, ends_us + 200000).pose.at.x;
        QVERIFY2(later < turned, qPrintable(QString("%1 %2").arg(turned).arg(later)));
        QVERIFY(t.touches.empty());
    }

    /// With the brake on no wheel turns faster than before.
    void aBrakeTakesSpeedAway()
    {
        for (const auto law : {world::Law::decay(0.3, 0.05), world::Law::friction(-0.3, 2.0)}) {
            double before = std::abs(law.from_mps);
            for (double s = 0.0; s < law.lasts_s; s += 1e-3) {
                const double now = std::abs(law.speed_mps(s));
                QVERIFY(now <= before);
                before = now;
            }
        }
    }
};

BADGER_TEST(TestWorked)
#include "test_worked.moc"
