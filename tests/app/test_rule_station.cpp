// SPDX-License-Identifier: GPL-3.0-or-later
#include "app/rule/code_view.h"
#include "app/rule/reading_grid.h"
#include "app/rule/state_loop.h"
#include "support/desk.h"

#include <QDir>

using namespace badger;
using judge::Station;
using test::Desk;

class TestRuleStation final : public QObject
{
    Q_OBJECT
private slots:
    void draggingTheHandleMovesTheThreshold()
    {
        Desk d;
        auto *ruler = d.rule()->findChild<app::DistanceRuler *>();
        const auto from = ruler->pointOf(0.32).toPoint();
        const auto to = ruler->pointOf(0.50).toPoint();
        QTest::mousePress(ruler, Qt::LeftButton, {}, from);
        for (int x = from.x(); x <= to.x(); x += 7)
            QTest::mouseMove(ruler, {x, from.y()});
        QTest::mouseMove(ruler, to);
        QTest::mouseRelease(ruler, Qt::LeftButton, {}, to);
        COMPARE_NEAR(d.threshold_m(), 0.50, 1e-9);
        QCOMPARE(d.headline(),
                 QString("Avocet halts at 50 cm or nearer; at worst 43.9 cm are left at rest."));
        QCOMPARE(d.document.undoStack().count(), 1); // the whole drag is one step
        d.document.undoStack().undo();
        COMPARE_NEAR(d.threshold_m(), 0.32, 1e-9);
        QCOMPARE(d.headline(),
                 QString("Avocet halts at 32 cm or nearer; at worst 25.9 cm are left at rest."));
    }

    void aPressBesideTheHandleMovesNothing()
    {
        Desk d;
        auto *ruler = d.rule()->findChild<app::DistanceRuler *>();
        const auto beside = ruler->pointOf(0.60).toPoint();
        QTest::mousePress(ruler, Qt::LeftButton, {}, beside);
        QTest::mouseMove(ruler, ruler->pointOf(0.80).toPoint());
        QTest::mouseRelease(ruler, Qt::LeftButton, {}, beside);
        COMPARE_NEAR(d.threshold_m(), 0.32, 1e-9);
    }

    void arrowsMoveIt()
    {
        Desk d;
        auto *ruler = d.rule()->findChild<app::DistanceRuler *>();
        ruler->setFocus();
        QTest::keyClick(ruler, Qt::Key_Right);
        COMPARE_NEAR(d.threshold_m(), 0.33, 1e-9);
        QTest::keyClick(ruler, Qt::Key_PageDown);
        COMPARE_NEAR(d.threshold_m(), 0.28, 1e-9);
        for (int i = 0; i < 200; ++i)
            QTest::keyClick(ruler, Qt::Key_Left);
        COMPARE_NEAR(d.threshold_m(), 0.01, 1e-9); // and stops at the scale's end
    }

    void typingInchesSetsIt()
    {
        Desk d;
        d.say("value:halt", "11.5in");
        COMPARE_NEAR(d.threshold_m(), 0.2921, 1e-12);
        QVERIFY(d.headline().startsWith("Avocet halts at 29.21 cm or nearer"));
        d.say("value:halt", "29 cm");
        COMPARE_NEAR(d.threshold_m(), 0.29, 1e-12);
    }

    void nonsenseIsSaidAndChangesNothing()
    {
        Desk d;
        d.say("value:halt", "29");
        COMPARE_NEAR(d.threshold_m(), 0.32, 0.0);
        QVERIFY(d.window->messages().message().contains("has no unit"));
        QCOMPARE(d.document.undoStack().count(), 0);
    }

    void theProgramFollowsLive()
    {
        Desk d;
        auto *code = d.rule()->findChild<app::CodeView *>();
        QVERIFY(code->text().contains("const int HALT_CM = 32;"));
        d.say("value:halt", "41 cm");
        QVERIFY(code->text().contains("const int HALT_CM = 41;"));
        QVERIFY(code->text().contains("version 8"));
    }

    void withoutAPolicyThereIsNoProgram()
    {
        Desk d;
        d.session.editProgram(
            "open", [](rules::Program &p) { p.readings[0].noEcho = rules::NoEcho::Unset; });
        auto *code = d.rule()->findChild<app::CodeView *>();
        QVERIFY(code->text().contains("No board program is written yet."));
        QVERIFY(code->text().contains("what no echo means for 'ahead'"));
        QCOMPARE(d.headline(), QString("Avocet's program 'halt' is not complete."));
        QVERIFY(test::find(d.session.current()->rule.findings, "no-echo-policy-unset"));
        d.take("policy:ahead", 0);
        QVERIFY(code->text().contains("HALT_CM"));
    }

    void comparisonIsChangedOnBothSides()
    {
        Desk d;
        d.take("compare:0:0:", 1);
        const auto &rules = d.session.program()->everywhere;
        QVERIFY(rules[0].when[0].compare == rules::Compare::Less);
        QVERIFY(rules[1].when[0].compare == rules::Compare::GreaterOrEqual);
        QVERIFY(!hasError(d.session.current()->rule.findings)); // no hole came of it
        QVERIFY(d.headline().startsWith("Avocet halts nearer than 32 cm"));
    }

    void theGridShowsAndExplainsEveryReading()
    {
        Desk d;
        emit d.child<app::Choice>("aside")->chosen(1);
        auto *grid = d.rule()->findChild<app::ReadingGrid *>();
        auto *row = d.rule()->findChild<app::TryRow *>();
        QVERIFY(grid->isVisible());
        QSignalSpy picked(grid, &app::ReadingGrid::pickedReading);
        QTest::mouseClick(grid, Qt::LeftButton, {}, grid->cellArea(29).center().toPoint());
        QCOMPARE(picked.count(), qsizetype(1));
        QVERIFY2(row->why().contains("rule 'near'"), qPrintable(row->why()));
        QVERIFY(row->said().endsWith("29: stands"));
        grid->setFocus();
        for (int i = 0; i < 4; ++i)
            QTest::keyClick(grid, Qt::Key_Right);
        QVERIFY2(row->why().contains("rule 'clear'"), qPrintable(row->why()));
        QTest::keyClick(grid, Qt::Key_End);
        QVERIFY2(row->said().endsWith("none: drives"), qPrintable(row->said()));
        // No two cells share a place.
        for (int i = 0; i < 122; ++i)
            for (int k = 0; k < i; ++k)
                QVERIFY(!grid->cellArea(i).adjusted(1, 1, -1, -1).intersects(grid->cellArea(k)));
    }

    /// With a unit or without, and as the board keeps it.
    void tryAReading()
    {
        Desk d;
        auto *field = d.child<QLineEdit>("tryReadings");
        auto *row = d.rule()->findChild<app::TryRow *>();
        const auto said = [&](const char *text) {
            field->setText(text);
            return row->said();
        };
        QCOMPARE(said("32.9 cm"), QString("32.9cm: stands"));
        QCOMPARE(said("13 in"), QString("13in: stands > drives")); // 33.02 cm
        QCOMPARE(said("none"), QString("none: stands > drives"));
        QCOMPARE(said("3 m"), QString("3m: stands > drives")); // beyond the farthest reading
        QCOMPARE(said("40, 20, 33"), QString("40: stands > drives; 20: stands; 33: drives"));
        QVERIFY(said("30 apples").isEmpty());
        QVERIFY(said("apples").isEmpty());
    }

    void pickedStateLightsItsLines()
    {
        Desk d;
        auto *loop = d.rule()->findChild<app::StateLoop *>();
        auto *code = d.rule()->findChild<app::CodeView *>();
        const auto lit = [&] {
            QStringList lines;
            for (int i = 0; i < code->lines(); ++i)
                if (code->markersAtLine(i) != 0)
                    lines << code->text(i).trimmed();
            return lines;
        };
        QVERIFY(lit().contains("turn(LEFT, SPEED);"));
        QTest::mouseClick(loop, Qt::LeftButton, {}, loop->stateArea(0).center().toPoint());
        QVERIFY(lit().contains("brake(LEFT);"));
        QVERIFY(!lit().contains("turn(LEFT, SPEED);"));
        QTest::mouseClick(loop, Qt::LeftButton, {}, loop->stateArea(1).center().toPoint());
        loop->setFocus();
        QTest::keyClick(loop, Qt::Key_Left);
        QVERIFY(lit().contains("brake(LEFT);"));
    }

    void inverseQuestionAndItsUse()
    {
        Desk d;
        const auto buttons = d.rule()->findChildren<QPushButton *>();
        const auto use = std::find_if(buttons.begin(), buttons.end(),
                                      [](auto *b) { return b->text() == "use 22 cm"; });
        QVERIFY(use != buttons.end());
        QTest::mouseClick(*use, Qt::LeftButton);
        COMPARE_NEAR(d.threshold_m(), 0.22, 1e-12);
        QVERIFY(!(*use)->isVisible());
    }

    void theSumUnfolds()
    {
        Desk d;
        const auto sum = d.rule()->sum();
        QCOMPARE(sum.result, QString("25.9 cm"));
        QCOMPARE(sum.parts.size(), size_t(4)); // set-back is 0 and is not said
        QCOMPARE(sum.parts[1].text, QString("− 0.24 m/s × 65 ms"));
        QVERIFY(sum.derivation.size() >= 8);
        for (const auto &line : sum.derivation)
            QVERIFY2(!line.from.isEmpty(), qPrintable(line.name));
        QVERIFY(!d.window->whyBar().isOpen());
        QTest::mouseClick(d.child<QPushButton>("why"), Qt::LeftButton);
        QVERIFY(d.window->whyBar().isOpen());
    }

    void writingTheProgramMarksTheVersion()
    {
        Desk d;
        d.say("value:halt", "40 cm");
        QCOMPARE(d.session.program()->version, 8);
        d.rule()->exportTo(d.folder.path());
        QVERIFY(QFile::exists(d.folder.filePath("avocet_halt.cpp")));
        QCOMPARE(d.session.program()->writtenVersion, 8);
        QCOMPARE(d.session.program()->version, 8); // it is what was written
        QVERIFY(d.window->messages().message().contains("Version 8"));
        d.say("value:halt", "41 cm");
        QCOMPARE(d.session.program()->version, 9);
        d.rule()->exportTo("/proc/none");
        QVERIFY(d.window->messages().message().contains("cannot be made"));
        QCOMPARE(d.session.program()->writtenVersion, 8);
    }

    /// The keys stand at the choice that a finding is about: Enter opens it.
    void aFindingLeadsToItsChoice()
    {
        Desk d;
        auto *page = d.sentences();
        auto *field = page->findChild<QLineEdit *>("typeOver");
        const auto opened = [&](const QString &target) {
            d.session.reveal(target);
            if (QApplication::focusWidget() != page)
                return QString();
            QTest::keyClick(page, Qt::Key_Return);
            const auto text = field->isVisible() ? field->text() : QString();
            QTest::keyClick(field, Qt::Key_Escape);
            return text;
        };
        QCOMPARE(opened("value:pause"), QString("58 ms"));
        d.go(Station::Floor);
        QCOMPARE(opened("value:halt"), QString("32 cm"));
        QCOMPARE(d.session.station(), Station::Rule);
        d.session.reveal("policy:ahead");
        QCOMPARE(QApplication::focusWidget(), page);
    }

    void setBackTakesItsLengthFromTheGap()
    {
        Desk d;
        Desk::type(d.child<QLineEdit>("setBack"), "3 cm");
        QVERIFY(d.headline().endsWith("at worst 22.9 cm are left at rest."));
        QCOMPARE(d.rule()->sum().parts.size(), size_t(5)); // now it is said
        COMPARE_NEAR(d.session.car()->parts[1].mount->setBack_m, 0.03, 1e-12);
    }

    void slowPrintsAreFound()
    {
        Desk d;
        d.take("prints:", 1); // 1200 baud
        QVERIFY(d.session.program()->prints.on);
        QVERIFY(test::find(d.session.current()->rule.findings, "prints-slow-the-pass"));
        d.take("prints:", 4);
        QVERIFY(!test::find(d.session.current()->rule.findings, "prints-slow-the-pass"));
        d.take("prints:", 0);
        QVERIFY(!d.session.program()->prints.on);
    }

    void whatIsRefusedIsSaidAndChangesNothing()
    {
        Desk d;
        d.say("air:ahead", "99 C");
        QVERIFY2(d.window->messages().message().contains("99 °C"),
                 qPrintable(d.window->messages().message()));
        QCOMPARE(d.session.program()->readings[0].air_degC, std::optional(22.0));
        auto *gap = d.child<QLineEdit>("wantedGap");
        Desk::type(gap, "-3 cm");
        QCOMPARE(gap->text(), QString("15 cm"));
        QVERIFY(!d.document.isModified());
    }

    void brakeAndCoastSpeedAndNumbers()
    {
        Desk d;
        d.take("motion:stands", 1);
        QVERIFY(d.headline().contains("19.2 cm"));
        d.take("motion:stands", 0);
        d.take("numbers:ahead", 1);
        QVERIFY(d.session.program()->readings[0].number == rules::NumberType::Fraction);
        d.take("numbers:ahead", 0);
        d.say("value:speed", "120");
        QVERIFY(!d.headline().contains("25.9 cm"));
        QCOMPARE(d.document.undoStack().count(), 5);
        for (int i = 0; i < 5; ++i)
            d.document.undoStack().undo();
        QVERIFY(!d.document.isModified());
    }
};

BADGER_TEST(TestRuleStation)
#include "test_rule_station.moc"
