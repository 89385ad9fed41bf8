// SPDX-License-Identifier: GPL-3.0-or-later
// Wire, Floor and Log, with clicks and keys.
#include "support/desk.h"

#include <QAction>

using namespace badger;
using judge::GateState;
using judge::Station;
using test::Desk;

namespace
{

QPushButton *button(QWidget *in, const QString &text)
{
    for (auto *b : in->findChildren<QPushButton *>())
        if (b->text() == text && b->isVisible())
            return b;
    return nullptr;
}

} // namespace

class TestStations final : public QObject
{
    Q_OBJECT
private slots:
    void aWireIsPickedChangedAndPutBack()
    {
        Desk d;
        d.go(Station::Wire);
        auto *harness = d.child<app::HarnessView>("harness");
        harness->setFocus();
        QTest::keyClick(harness, Qt::Key_Down);
        QCOMPARE(harness->pickedWire(), 0);
        QCOMPARE(d.child<QLineEdit>("wireFrom")->text(), QString("pack.PLUS"));
        d.session.reveal("terminal:driver.ENA");
        QCOMPARE(d.child<QLineEdit>("wireTo")->text(), QString("board.D5"));
        Desk::type(d.child<QLineEdit>("wireTo"), "board.D4");
        QVERIFY(test::find(d.session.current()->wire.findings, "pin-two-functions"));
        QVERIFY(!test::find(d.session.current()->wire.findings, "pin-two-functions")->then.empty());
        QVERIFY(d.session.current()->gate(Station::Wire).state == GateState::Blocked);
        QCOMPARE(d.session.car()->wiringRevision, 4);
        d.document.undoStack().undo();
        QVERIFY(d.session.current()->gate(Station::Wire).state == GateState::Passed);
        QCOMPARE(d.session.car()->wiringRevision, 3);
    }

    void clickOnAFindingGoesThere()
    {
        Desk d;
        QVERIFY(app::changeCar(d.document, "unplug", test::carCalled("Avocet"), [](kit::Car &c) {
            std::erase_if(c.wires, [](const kit::Wire &w) { return w.from == "ranger.ECHO"; });
        }));
        d.go(Station::Wire);
        auto *go = d.window->findChild<QPushButton *>("finding:signal-unwired");
        QVERIFY(go);
        QTest::mouseClick(go, Qt::LeftButton);
        QCOMPARE(d.child<QLineEdit>("wireFrom")->text(), QString("ranger.ECHO"));
        // Typing the short names is enough, and heals it.
        auto *harness = d.child<app::HarnessView>("harness");
        harness->pickWire(-1);
        d.child<QLineEdit>("wireFrom")->setText("echo");
        d.child<QLineEdit>("wireTo")->setText("D12");
        QTest::mouseClick(d.child<QPushButton>("wireAdd"), Qt::LeftButton);
        QCOMPARE(d.session.car()->wires.back().from, std::string("ranger.ECHO"));
        QCOMPARE(d.session.car()->wires.back().to, std::string("board.D12"));
        QVERIFY(d.session.current()->gate(Station::Wire).state == GateState::Passed);
    }

    void wiresToNowhereAreRefusedInWords()
    {
        Desk d;
        d.go(Station::Wire);
        d.session.reveal("terminal:driver.ENA");
        Desk::type(d.child<QLineEdit>("wireTo"), "board.D99");
        QVERIFY(d.window->messages().message().contains("no terminal 'D99'"));
        QCOMPARE(d.document.undoStack().count(), 0);
        // An ambiguous short name is not guessed.
        Desk::type(d.child<QLineEdit>("wireTo"), "GND");
        QVERIFY(d.window->messages().message().contains("'GND' names no part"));
    }

    void takingAWireOff()
    {
        Desk d;
        d.go(Station::Wire);
        d.session.reveal("terminal:ranger.GND");
        QTest::mouseClick(d.child<QPushButton>("wireRemove"), Qt::LeftButton);
        QCOMPARE(d.session.car()->wires.size(), size_t(18));
        QVERIFY(test::find(d.session.current()->wire.findings, "module-ungrounded"));
        d.document.undoStack().undo();
        QCOMPARE(d.session.car()->wires.size(), size_t(19));
    }

    void draggingAnEndMovesTheWire()
    {
        Desk d;
        d.go(Station::Wire);
        d.session.reveal("terminal:driver.ENA");
        auto *harness = d.child<app::HarnessView>("harness");
        const auto &layout = harness->layoutOfHarness();
        const QPointF margin(26, 2);
        const auto from = (layout.terminal("board.D5")->at + margin).toPoint();
        const auto to = (layout.terminal("board.D9")->at + margin).toPoint();
        QTest::mousePress(harness, Qt::LeftButton, {}, from);
        QTest::mouseMove(harness, (from + to) / 2);
        QTest::mouseMove(harness, to);
        QTest::mouseRelease(harness, Qt::LeftButton, {}, to);
        QVERIFY(test::find(d.session.current()->wire.findings, "program-pin-not-wired"));
        for (auto *a : d.wire()->stationActions())
            if (a->text().contains("pins"))
                a->trigger();
        QVERIFY(!hasError(d.session.current()->wire.findings));
        QCOMPARE(d.session.car()->programPins.at("driver.ENA"), std::string("D9"));
    }

    void everyFindingOfEveryStationIsDrawn()
    {
        // Painting with errors, without wires and without parts: nothing is asserted but survival
        // and that something was painted.
        Desk d;
        d.go(Station::Wire);
        const auto before = d.wire()->grab().toImage();
        QVERIFY(app::changeCar(d.document, "strip", test::carCalled("Avocet"), [](kit::Car &c) {
            c.wires.clear();
            c.programPins.clear();
        }));
        QVERIFY(d.wire()->grab().toImage() != before);
        for (const auto s : judge::stations) {
            d.go(s);
            QVERIFY(!d.window->grab().isNull());
        }
    }

    void theFloorPlaysStepsAndScrubs()
    {
        Desk d;
        d.go(Station::Floor);
        auto *f = d.floor();
        QVERIFY(f->shownRun());
        const auto end = f->time_us();
        QVERIFY(end > 1000000); // the judged end is shown first
        QVERIFY(d.child<QLabel>("verdict")->text().startsWith("Stopped; 27.2 cm are left."));
        auto *strip = d.child<app::TimeStrip>("timeStrip");
        QTest::mouseClick(strip, Qt::LeftButton, {}, QPoint(strip->width() / 2, 60));
        QVERIFY(f->time_us() < end && f->time_us() > 0);
        const int at = strip->pingAt(f->time_us());
        strip->setFocus();
        QTest::keyClick(strip, Qt::Key_Right);
        QCOMPARE(strip->pingAt(f->time_us()), at + 1);
        QTest::keyClick(strip, Qt::Key_Left);
        QTest::keyClick(strip, Qt::Key_Left);
        QCOMPARE(strip->pingAt(f->time_us()), at - 1);
        QVERIFY(d.child<QLabel>("now")->text().contains("ranger reads "));
        f->setTime(0);
        f->play(true);
        QVERIFY(f->isPlaying());
        QTRY_VERIFY_WITH_TIMEOUT(f->time_us() > 50000, test::patience_ms);
        f->play(false);
        const auto stopped = f->time_us();
        QApplication::processEvents();
        QCOMPARE(f->time_us(), stopped);
        f->play(true);
        d.go(Station::Rule); // leaving the station stops the play
        QVERIFY(!f->isPlaying());
    }

    void theSeedChoosesTheRun()
    {
        Desk d;
        d.go(Station::Floor);
        const auto one = world::fingerprint(d.floor()->shownRun().trace());
        auto *seed = d.child<QSpinBox>("seed");
        seed->setValue(2);
        const auto two = world::fingerprint(d.floor()->shownRun().trace());
        QVERIFY(one != two);
        seed->setValue(1);
        QCOMPARE(world::fingerprint(d.floor()->shownRun().trace()), one);
    }

    void whatCannotBeDrivenIsSaid()
    {
        Desk d;
        QVERIFY(app::changeProgram(d.document, "x", test::programCalled("halt"),
                                   [](rules::Program &p) { p.values[0].si.reset(); }));
        d.go(Station::Floor);
        QVERIFY(!d.floor()->shownRun());
        QCOMPARE(d.headline(), QString("Avocet cannot be driven yet."));
        QVERIFY(d.floor()->sum().result.isEmpty());
        d.floor()->play(true); // no harm
        d.floor()->play(false);
    }

    void theFloorsSumAddsUp()
    {
        Desk d;
        d.go(Station::Floor);
        QVERIFY(d.floor()->shownRun());
        const auto sum = d.floor()->sum();
        QCOMPARE(sum.result, QString("27.2 cm"));
        QVERIFY(sum.aside.contains("25.9 cm at worst"));
        double total = 0.0;
        for (const auto &line : sum.derivation) {
            const double cm = line.value.split(' ').first().toDouble();
            if (line.name.startsWith("="))
                COMPARE_NEAR(total, cm, 0.2); // each term is rounded to a millimetre
            else
                total += line.name.startsWith(QStringLiteral("−")) ? -cm : cm;
        }
    }

    void aRunIsEntered()
    {
        Desk d;
        d.go(Station::Log);
        Desk::type(d.child<QLineEdit>("trialBattery"), "7.5 V");
        Desk::type(d.child<QLineEdit>("trialGap"), "11in"); // 27.94 cm
        QTest::mouseClick(d.child<QPushButton>("trialEnter"), Qt::LeftButton);
        QCOMPARE(d.session.current()->measured.size(), size_t(4));
        const auto &t = d.session.workshop().trials.back();
        COMPARE_NEAR(*t.gap_m, 0.2794, 1e-12);
        COMPARE_NEAR(t.battery_V, 7.5, 1e-12);
        COMPARE_NEAR(*t.predictedWorst_m, 0.2594, 0.0001);
        QCOMPARE(t.programVersion, 7);
        QVERIFY(!t.sample);
        QVERIFY(d.headline().startsWith("Avocet left 27.6 cm on average in 4 runs"));
        QVERIFY(d.child<QLineEdit>("trialGap")->text().isEmpty()); // ready for the next
        d.document.undoStack().undo();
        QCOMPARE(d.session.current()->measured.size(), size_t(3));
    }

    void aRunNeedsBatteryAndGap()
    {
        Desk d;
        d.go(Station::Log);
        QTest::mouseClick(d.child<QPushButton>("trialEnter"), Qt::LeftButton);
        QVERIFY(d.window->messages().message().startsWith("Battery: no value is given"));
        Desk::type(d.child<QLineEdit>("trialBattery"), "7.5 V");
        QTest::mouseClick(d.child<QPushButton>("trialEnter"), Qt::LeftButton);
        QVERIFY(d.window->messages().message().startsWith("Gap: no value is given"));
        QCOMPARE(d.session.workshop().trials.size(), size_t(3));
        // A contact has no gap to read.
        d.log()->findChild<QCheckBox *>()->setChecked(true);
        QTest::mouseClick(d.child<QPushButton>("trialEnter"), Qt::LeftButton);
        QVERIFY(d.session.workshop().trials.back().contact);
        QVERIFY(d.session.current()->gate(Station::Log).state == GateState::Blocked);
    }

    void theProposalIsShownAndUsed()
    {
        Desk d;
        d.go(Station::Log);
        const auto sum = d.log()->sum();
        QCOMPARE(sum.result, QString("22 cm"));
        auto *use = d.child<QPushButton>("useProposal");
        QCOMPARE(use->text(), QString("Use 22 cm"));
        QTest::mouseClick(use, Qt::LeftButton);
        COMPARE_NEAR(d.threshold_m(), 0.22, 1e-12);
        // The trials belong to the old threshold now.
        QVERIFY(d.session.current()->gate(Station::Log).state == GateState::Stale);
        QVERIFY(d.log()->sum().result.isEmpty());
        QVERIFY(!use->isVisible());
    }

    /// The runs measure the roll-out; the budget takes it, and then says nothing new.
    void theRollOutIsTakenFromTheRuns()
    {
        Desk d;
        d.go(Station::Log);
        auto *use = d.child<QPushButton>("useRoll");
        QVERIFY(!use->isVisible()); // it is what the budget has, to a millimetre
        d.session.editCar("forget", [](kit::Car &car) { car.calibrations.rollOuts.clear(); });
        QApplication::processEvents();
        QVERIFY(!d.session.current()->budget->roll.measured);
        QVERIFY(use->isVisible());
        use->click();
        const auto &roll = d.session.current()->budget->roll;
        QVERIFY(roll.measured);
        const auto stats = *logbook::statistics(d.session.current()->measured);
        COMPARE_NEAR(roll.curve.distance_m, 0.32 - stats.mean_m - 0.24 * 0.0325, 1e-4);
        QVERIFY(!use->isVisible());
        d.document.undoStack().undo();
        QVERIFY(!d.session.current()->budget->roll.measured);
    }

    void howManyMoreRunsAClaimTakes()
    {
        Desk d;
        d.go(Station::Log);
        QString all;
        for (auto *l : d.log()->findChildren<QLabel *>())
            all += l->text() + "\n";
        // 0 of 3: below 63 %; 299 - 3
        QVERIFY(all.contains("0 contacts in 3 runs: the contact rate is below 63 %"));
        QVERIFY(all.contains("296 more runs"));
    }

    void aRunIsTakenOut()
    {
        Desk d;
        d.go(Station::Log);
        QTest::mouseClick(button(d.log(), "remove"), Qt::LeftButton);
        QCOMPARE(d.session.workshop().trials.size(), size_t(2));
        // The newest stands on top and goes first.
        COMPARE_NEAR(*d.session.workshop().trials.back().gap_m, 0.275, 1e-12);
    }
};

BADGER_TEST(TestStations)
#include "test_stations.moc"
