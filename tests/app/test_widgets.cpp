// SPDX-License-Identifier: GPL-3.0-or-later
// Small widgets on their own: the quantity field, the choice, the message bar, the harness layout.
#include "app/kit/figure_range.h"
#include "app/widgets/choice.h"
#include "app/wire/harness_layout.h"
#include "support/desk.h"

using namespace badger;
using app::QuantityField;
using units::Dimension;
using units::Unit;

class TestWidgets final : public QObject
{
    Q_OBJECT
private slots:
    void fieldTakesUnits_data()
    {
        QTest::addColumn<QString>("typed");
        QTest::addColumn<double>("si");
        QTest::newRow("inches") << "11.5in" << 0.2921;
        QTest::newRow("centimetres") << "29 cm" << 0.29;
        QTest::newRow("millimetres") << "290mm" << 0.29;
    }
    void fieldTakesUnits()
    {
        QFETCH(QString, typed);
        QFETCH(double, si);
        QuantityField f(Dimension::Length, Unit::Centimetre);
        f.setValue(0.32);
        f.show();
        QSignalSpy taken(&f, &QuantityField::taken);
        test::Desk::type(&f, typed);
        QCOMPARE(taken.count(), qsizetype(1));
        COMPARE_NEAR(taken[0][0].toDouble(), si, 1e-12);
    }

    void fieldRefusesAndMarks()
    {
        QuantityField f(Dimension::Length, Unit::Centimetre);
        f.setValue(0.32);
        f.show();
        QSignalSpy taken(&f, &QuantityField::taken);
        QSignalSpy refused(&f, &QuantityField::refused);
        test::Desk::type(&f, "3,2,5 cm");
        QCOMPARE(taken.count(), qsizetype(0));
        QVERIFY(refused.count() >= 1);
        QVERIFY(f.property("wrong").toBool());
        QVERIFY(f.toolTip().contains("more than one point or comma"));
        QTest::keyClick(&f, Qt::Key_Escape);
        QCOMPARE(f.text(), QString("32 cm"));
        QVERIFY(!f.property("wrong").toBool());
    }

    void leavingAFieldUntouchedDoesNotRoundIt()
    {
        QuantityField f(Dimension::Length, Unit::Centimetre);
        f.setValue(0.2105949);
        f.show();
        QCOMPARE(f.text(), QString("21.06 cm"));
        QSignalSpy taken(&f, &QuantityField::taken);
        f.setFocus();
        QTest::keyClick(&f, Qt::Key_Return);
        QCOMPARE(taken.count(), qsizetype(0));
        test::Desk::type(&f, "21.05949 cm"); // the same value, written out
        QCOMPARE(taken.count(), qsizetype(0));
    }

    void emptyFieldOfAnUnsetValueIsNoError()
    {
        QuantityField f(Dimension::Time, Unit::Millisecond);
        f.setValue(std::nullopt);
        f.show();
        QSignalSpy refused(&f, &QuantityField::refused);
        f.setFocus();
        QTest::keyClick(&f, Qt::Key_Return);
        QCOMPARE(refused.count(), qsizetype(0));
        f.setValue(0.058);
        test::Desk::type(&f, " ");
        QVERIFY(refused.count() >= 1); // a value that is there cannot be wiped out in silence
    }

    void choiceHasAtMostOne()
    {
        app::Choice c({"a", "b"});
        QCOMPARE(c.index(), -1);
        c.setIndex(1);
        QCOMPARE(c.index(), 1);
        QSignalSpy chosen(&c, &app::Choice::chosen);
        QTest::mouseClick(c.findChildren<QPushButton *>()[0], Qt::LeftButton);
        QCOMPARE(chosen.count(), qsizetype(1));
        QCOMPARE(c.index(), 0);
        c.setIndex(-1);
        QCOMPARE(c.index(), -1);
    }

    void messageBar()
    {
        app::Theme theme;
        QWidget page;
        page.resize(800, 600);
        app::MessageBar bar(theme, &page);
        using Kind = app::MessageBar::Kind;
        using Until = app::MessageBar::Until;
        QCOMPARE(bar.message(), QString());
        int acted = 0;
        bar.say("something", Kind::Error, Until::Saved, {{"do it", [&] { ++acted; }}});
        QCOMPARE(bar.message(), QString("something"));
        QVERIFY(!bar.choose("what?"));
        QVERIFY(bar.choose("do it"));
        QCOMPARE(acted, 1);
        QCOMPARE(bar.message(), QString());
        bar.say("again", Kind::Quiet, Until::NextEdit);
        QTest::keyClick(&bar, Qt::Key_Escape);
        QCOMPARE(bar.message(), QString());
    }

    /// A message goes when it is no longer true, and nothing moves for it.
    void messageBarKnowsWhenItIsUntrue()
    {
        app::Theme theme;
        QWidget page;
        page.resize(800, 600);
        app::MessageBar bar(theme, &page);
        using Kind = app::MessageBar::Kind;
        using Until = app::MessageBar::Until;
        bar.say("edited", Kind::Quiet, Until::NextEdit);
        bar.place(172);
        QCOMPARE(bar.geometry().left(), 172);
        QCOMPARE(bar.geometry().bottom(), 599);
        QCOMPARE(bar.geometry().right(), 799);
        bar.edited();
        QCOMPARE(bar.message(), QString());
        bar.say("unsaved", Kind::Quiet, Until::Saved);
        bar.edited();
        QCOMPARE(bar.message(), QString("unsaved"));
        bar.settled();
        QCOMPARE(bar.message(), QString());
        bar.say("note", Kind::Quiet, Until::Dismissed);
        bar.edited();
        bar.settled();
        QCOMPARE(bar.message(), QString("note"));
    }

    void harnessLayoutShowsEveryTerminalAndWireOnce()
    {
        test::Bench b;
        const auto l = app::layOut(b.car, b.catalogue, 760, 18);
        QCOMPARE(l.wires.size(), b.car.wires.size());
        size_t terminals = 0;
        for (const auto &fitted : b.car.parts)
            for (const auto &t : b.catalogue.find(fitted.partId)->terminals) {
                ++terminals;
                QVERIFY(l.terminal(fitted.id + "." + t.name));
            }
        size_t placed = 0;
        for (const auto &p : l.parts)
            placed += p.terminals.size();
        QCOMPARE(placed, terminals);
        // No two parts lie on each other, and all lie on the page.
        for (size_t i = 0; i < l.parts.size(); ++i) {
            QVERIFY(QRectF(0, 0, 760.5, l.height).contains(l.parts[i].area));
            for (size_t k = 0; k < i; ++k)
                QVERIFY(!l.parts[i].area.intersects(l.parts[k].area));
        }
        // Each wire begins and ends at its terminals.
        for (const auto &w : l.wires) {
            const auto a = l.terminal(b.car.wires[w.index].from)->at;
            const auto c = l.terminal(b.car.wires[w.index].to)->at;
            const QPointF begin = w.path.pointAtPercent(0);
            const QPointF end = w.path.pointAtPercent(1);
            QVERIFY((begin == a && end == c) || (begin == c && end == a));
        }
    }

    void harnessLayoutOfAnEmptyCar()
    {
        test::Bench b;
        const auto l = app::layOut({}, b.catalogue, 760, 18);
        QVERIFY(l.parts.empty() && l.wires.empty());
    }

    void figuresHaveTheirUnits_data()
    {
        QTest::addColumn<QString>("key");
        QTest::addColumn<double>("si");
        QTest::addColumn<QString>("text");
        QTest::newRow("volts") << "rated_V" << 4.5 << "4.5 V";
        QTest::newRow("current") << "stall_A" << 0.9 << "900 mA";
        QTest::newRow("mass") << "mass_kg" << 0.0265 << "26.5 g";
        QTest::newRow("resistance") << "internal_ohm" << 0.03 << "0.03 ohm";
        QTest::newRow("charge") << "capacity_Ah" << 2.0 << "2 Ah";
        QTest::newRow("angle") << "half_angle_rad" << 0.1308996939 << "7.5 deg";
        QTest::newRow("length") << "diameter_m" << 0.065 << "65 mm";
        QTest::newRow("time") << "no_echo_hold_s" << 0.038 << "38 ms";
        QTest::newRow("a bare number") << "spline_teeth" << 21.0 << "21";
        QTest::newRow("speed of a servo") << "s_per_60deg" << 0.12 << "0.12 s";
    }
    void figuresHaveTheirUnits()
    {
        QFETCH(QString, key);
        QFETCH(double, si);
        QTEST(app::figureText(key.toStdString(), si), "text");
    }
};

BADGER_TEST(TestWidgets)
#include "test_widgets.moc"
