// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/units/quantity.h"
#include "support/fixture.h"

#include <random>

using namespace badger;
using units::Dimension;
using units::Unit;

class TestQuantity final : public QObject
{
    Q_OBJECT
private slots:
    void parses_data()
    {
        QTest::addColumn<QString>("text");
        QTest::addColumn<int>("dimension");
        QTest::addColumn<double>("si");
        const auto row = [](const char *text, Dimension d, double si) {
            QTest::newRow(text) << QString::fromUtf8(text) << int(d) << si;
        };
        row("29 cm", Dimension::Length, 0.29);
        row("29cm", Dimension::Length, 0.29);
        row("  29   cm ", Dimension::Length, 0.29);
        row("11.5in", Dimension::Length, 0.2921);
        row("11,5in", Dimension::Length, 0.2921);
        row("0,24 m/s", Dimension::Speed, 0.24);
        row("0,240 m/s", Dimension::Speed, 0.24);
        row("1234,500 mm", Dimension::Length, 1.2345);
        row("-,5 cm", Dimension::Length, -0.005);
        row("1 inch", Dimension::Length, 0.0254);
        row("12\"", Dimension::Length, 0.3048);
        row("170mm", Dimension::Length, 0.17);
        row("1.2 m", Dimension::Length, 1.2);
        row("-3 cm", Dimension::Length, -0.03);
        row("+3 cm", Dimension::Length, 0.03);
        row(".5 cm", Dimension::Length, 0.005);
        row("1740us", Dimension::Time, 0.00174);
        row("1740 µs", Dimension::Time, 0.00174);
        row("65 ms", Dimension::Time, 0.065);
        row("2s", Dimension::Time, 2.0);
        row("0.24m/s", Dimension::Speed, 0.24);
        row("24 cm/s", Dimension::Speed, 0.24);
        row("22C", Dimension::Temperature, 22.0);
        row("22 °C", Dimension::Temperature, 22.0);
        row("-5 degC", Dimension::Temperature, -5.0);
        row("7.2V", Dimension::Voltage, 7.2);
        row("350 mV", Dimension::Voltage, 0.35);
        row("350mA", Dimension::Current, 0.35);
        row("1.2 A", Dimension::Current, 1.2);
        row("180deg", Dimension::Angle, 3.14159265358979);
        row("180 °", Dimension::Angle, 3.14159265358979);
        row("140", Dimension::PwmCounts, 140.0);
        row("140 pwm", Dimension::PwmCounts, 140.0);
    }
    void parses()
    {
        QFETCH(QString, text);
        QFETCH(int, dimension);
        QFETCH(double, si);
        const auto value = units::parse(text.toStdString(), Dimension(dimension));
        VERIFY_OK(value);
        COMPARE_NEAR(*value, si, 1e-12 * std::max(1.0, std::abs(si)) + 1e-13);
    }

    void refuses_data()
    {
        QTest::addColumn<QString>("text");
        QTest::addColumn<int>("dimension");
        QTest::addColumn<QString>("what");
        const auto row = [](const char *text, Dimension d, const char *what) {
            QTest::newRow(*text ? text : "empty")
                << QString::fromUtf8(text) << int(d) << QString::fromUtf8(what);
        };
        row("", Dimension::Length, "no value is given");
        row("   ", Dimension::Length, "no value is given");
        row("29", Dimension::Length, "'29' has no unit");
        row("cm", Dimension::Length, "'cm' does not start with a number");
        row("29 furlongs", Dimension::Length, "'furlongs' is not a unit here");
        row("29 kg", Dimension::Length, "'kg' is the wrong kind of unit");
        row("29 ms", Dimension::Length, "'ms' is the wrong kind of unit");
        row("29 cm", Dimension::Time, "'cm' is the wrong kind of unit");
        row("3.2,5 cm", Dimension::Length, "'3.2,5 cm' has more than one point or comma");
        row("3,2,5 cm", Dimension::Length, "'3,2,5 cm' has more than one point or comma");
        row("1,200.5 mm", Dimension::Length, "'1,200.5 mm' has more than one point or comma");
        row("1,200 mm", Dimension::Length, "'1,200 mm' may mean thousands or a fraction");
        row("-12,000 us", Dimension::Time, "'-12,000 us' may mean thousands or a fraction");
        row(",", Dimension::Time, "',' does not start with a number");
        row("nan cm", Dimension::Length, "'nan cm' does not start with a number");
        row("inf cm", Dimension::Length, "'inf cm' does not start with a number");
        row("--3 cm", Dimension::Length, "'--3 cm' does not start with a number");
        row("1e5 cm", Dimension::Length, "'e5 cm' is not a unit here");
        row("3 4 cm", Dimension::Length, "'4 cm' is not a unit here");
        row("140 cm", Dimension::PwmCounts, "'cm' is the wrong kind of unit");
    }
    void refuses()
    {
        QFETCH(QString, text);
        QFETCH(int, dimension);
        QFETCH(QString, what);
        const auto value = units::parse(text.toStdString(), Dimension(dimension), "--here");
        QVERIFY(!value);
        QCOMPARE(QString::fromStdString(english(value.error().what)), what);
        QCOMPARE(english(value.error().where), std::string("--here"));
        QVERIFY(!value.error().mend.empty());
    }

    void errorListsTheUnits()
    {
        const auto value = units::parse("3", Dimension::Time);
        QCOMPARE(english(value.error().mend), std::string("use one of: us, ms, s"));
        QCOMPARE(english(value.error().text()),
                 std::string("'3' has no unit; use one of: us, ms, s"));
    }

    void hugeNumberIsRefused()
    {
        const std::string digits(400, '9');
        const auto value = units::parse(digits + " cm", Dimension::Length);
        QVERIFY(!value);
        QVERIFY(value.error().kind == Error::Kind::OutOfRange);
    }

    void formats()
    {
        QCOMPARE(units::format(0.259405, Unit::Centimetre, 2), std::string("25.94 cm"));
        QCOMPARE(units::format(0.2921, Unit::Inch, 1), std::string("11.5 in"));
        QCOMPARE(units::format(-0.00001, Unit::Centimetre, 1), std::string("0.0 cm"));
        QCOMPARE(units::format(-0.011, Unit::Centimetre, 1), std::string("-1.1 cm"));
        QCOMPARE(units::formatShort(0.32, Unit::Centimetre), std::string("32 cm"));
        QCOMPARE(units::formatShort(0.2921, Unit::Centimetre), std::string("29.21 cm"));
        QCOMPARE(units::formatShort(0.065, Unit::Millisecond), std::string("65 ms"));
        QCOMPARE(units::formatShort(22.0, Unit::Celsius), std::string("22 °C"));
        QCOMPARE(units::plain(100.0, 0), std::string("100"));
        QCOMPARE(units::plain(0.5, 3), std::string("0.5"));
        QCOMPARE(units::plain(-0.0001, 2), std::string("0"));
    }

    void everyUnitIsListedOnceAndReadsBack()
    {
        std::vector<std::string> symbols;
        for (const auto &u : units::allUnits()) {
            symbols.emplace_back(u.symbol);
            const auto text = units::format(units::toSi(3.0, u.unit), u.unit, 1);
            const auto back = units::parse(text, u.dimension);
            VERIFY_OK(back);
            COMPARE_NEAR(*back, 3.0 * u.inSi, 1e-9);
            for (const auto &other : u.also)
                VERIFY_OK(units::parse("3 " + std::string(other), u.dimension));
        }
        std::sort(symbols.begin(), symbols.end());
        QVERIFY(std::adjacent_find(symbols.begin(), symbols.end()) == symbols.end());
    }

    void roundTripOverRandomNumbers()
    {
        const unsigned seed = 20261119;
        qInfo("seed %u", seed);
        std::mt19937 engine(seed);
        std::uniform_real_distribution<double> metres(0.0, 20.0);
        for (int i = 0; i < 2000; ++i) {
            const double m = metres(engine);
            for (const auto unit : {Unit::Centimetre, Unit::Millimetre, Unit::Inch, Unit::Metre}) {
                const auto back = units::parse(units::format(m, unit, 6), Dimension::Length);
                VERIFY_OK(back);
                COMPARE_NEAR(*back, m, 1e-6);
                COMPARE_NEAR(units::toSi(units::fromSi(m, unit), unit), m, 1e-12);
            }
        }
    }
};

BADGER_TEST(TestQuantity)
#include "test_quantity.moc"
