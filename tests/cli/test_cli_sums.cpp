// SPDX-License-Identifier: GPL-3.0-or-later
// The small sums of the command line: distances, budgets, the calculators of a kit.
#include "cli/run_cli.h"
#include "core/io/storage.h"
#include "support/fixture.h"

#include <QDir>
#include <QFile>
#include <QJsonArray>
#include <QTemporaryDir>

using badger::test::cli;
using badger::test::demoFile;

class TestCliSums final : public QObject
{
    Q_OBJECT
private slots:
    void echo()
    {
        const auto r = cli({"echo", "--time", "1740us", "--air", "22C", "--json"});
        QCOMPARE(r.status, 0);
        COMPARE_NEAR(r.json()["distance_cm"].toDouble(), 29.96, 0.005);
        COMPARE_NEAR(r.json()["speed_of_sound_m_s"].toDouble(), 344.38, 0.005);
        const auto plain = cli({"echo", "--time", "1740us", "--air", "22C"});
        QVERIFY(plain.out.startsWith("29.96 cm"));
        const auto why = cli({"echo", "--time", "1740us", "--air", "22C", "--why"});
        QVERIFY(why.out.contains("331.3"));
    }

    void stopBudget()
    {
        const QStringList base = {"stop-budget", "--threshold", "32cm", "--speed",
                                  "0.24m/s",     "--loop",      "65ms", "--roll",
                                  "3.5cm",       "--error",     "1cm",  "--json"};
        const auto r = cli(base + QStringList{"--want", "15cm"});
        QCOMPARE(r.status, 0);
        COMPARE_NEAR(r.json()["gap_cm"].toDouble(), 25.94, 1e-9);
        COMPARE_NEAR(r.json()["typical_gap_cm"].toDouble(), 26.72, 1e-9);
        COMPARE_NEAR(r.json()["least_threshold_for_gap_cm"].toDouble(), 21.06, 1e-9);
        QCOMPARE(r.json()["terms"].toArray().size(), qsizetype(4));
        QVERIFY(cli(base).json()["least_threshold_for_gap_cm"].isNull());
        const auto back = cli(base + QStringList{"--set-back", "3cm"});
        COMPARE_NEAR(back.json()["gap_cm"].toDouble(), 22.94, 1e-9);
        const auto median = cli(base + QStringList{"--median", "3"});
        COMPARE_NEAR(median.json()["gap_cm"].toDouble(), 24.38, 1e-9);
    }

    void kitCalculators()
    {
        auto r =
            cli({"beam", "--half-angle", "7.5deg", "--width", "170mm", "--at", "40cm", "--json"});
        QCOMPARE(r.status, 0);
        COMPARE_NEAR(r.json()["full_cover_at_mm"].toDouble(), 646.0, 0.5);
        COMPARE_NEAR(r.json()["covered_width_mm"].toDouble(), 105.0, 0.5);
        COMPARE_NEAR(r.json()["blind_strip_mm"].toDouble(), 32.0, 0.5);
        r = cli(
            {"beam", "--half-angle", "7.5deg", "--sweep", "9deg", "--width", "170mm", "--json"});
        COMPARE_NEAR(r.json()["full_cover_at_mm"].toDouble(), 287.0, 0.5);
        QVERIFY(r.json()["covered_width_mm"].isNull());
        r = cli({"horn", "--teeth", "21", "--error", "20deg", "--json"});
        QCOMPARE(r.json()["teeth_to_move"].toInt(), 1);
        COMPARE_NEAR(r.json()["trim_deg"].toDouble(), 2.857, 0.001);
        r = cli({"horn", "--teeth", "25", "--error", "20deg", "--json"});
        COMPARE_NEAR(r.json()["trim_deg"].toDouble(), 5.6, 1e-9);
        r = cli({"led", "--supply", "5V", "--forward", "3.1V", "--current", "12mA", "--json"});
        COMPARE_NEAR(r.json()["exact_ohm"].toDouble(), 158.33, 0.01);
        COMPARE_NEAR(r.json()["standard_ohm"].toDouble(), 180.0, 1e-9);
        COMPARE_NEAR(r.json()["real_current_mA"].toDouble(), 10.56, 0.01);
        COMPARE_NEAR(r.json()["resistor_power_mW"].toDouble(), 20.06, 0.01);
        QVERIFY(cli({"led", "--supply", "5V", "--forward", "3.1V", "--current", "12mA"})
                    .out.contains("27.8 mA"));
        r = cli({"divider", "--in", "5V", "--top", "1kohm", "--bottom", "2kohm", "--json"});
        COMPARE_NEAR(r.json()["out_V"].toDouble(), 3.333, 0.001);
        r = cli({"duty", "--supply", "7.2V", "--drop", "2V", "--rated", "4.5V", "--json"});
        QCOMPARE(r.json()["max_duty_count"].toInt(), 220);
        COMPARE_NEAR(r.json()["mean_V_at_max"].toDouble(), 4.486, 0.001);
        r = cli({"duty", "--supply", "3V", "--drop", "2V", "--rated", "4.5V", "--json"});
        QCOMPARE(r.json()["max_duty_count"].toInt(), 255); // never above
    }

    void regulatorStatus_data()
    {
        QTest::addColumn<QString>("in");
        QTest::addColumn<QString>("current");
        QTest::addColumn<double>("watts");
        QTest::addColumn<QString>("severity");
        QTest::addColumn<int>("status");
        QTest::newRow("fine") << "7.2V"
                              << "120mA" << 0.18 << "" << 0;
        QTest::newRow("warm") << "7.2V"
                              << "570mA" << 0.855 << "warning" << 0;
        QTest::newRow("hot") << "9V"
                             << "570mA" << 1.881 << "error" << 1;
    }

    void regulatorStatus()
    {
        QFETCH(QString, in);
        QFETCH(QString, current);
        QFETCH(double, watts);
        QFETCH(QString, severity);
        QFETCH(int, status);
        const auto r = cli({"regulator", "--in", in, "--out", "5V", "--current", current, "--drop",
                            "0.7V", "--json"});
        QCOMPARE(r.status, status);
        COMPARE_NEAR(r.json()["heat_W"].toDouble(), watts, 1e-9);
        const auto findings = r.json()["findings"].toArray();
        QCOMPARE(findings.isEmpty() ? QString() : findings[0].toObject()["severity"].toString(),
                 severity);
    }
};

BADGER_TEST(TestCliSums)
#include "test_cli_sums.moc"
