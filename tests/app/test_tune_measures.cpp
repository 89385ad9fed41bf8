// SPDX-License-Identifier: GPL-3.0-or-later
// Measurements that a hand types, tables that are looked at before they are kept, and the stand-in
// that is started from the window.
#include "app/tune_desk.h"
#include "core/tune/looks.h"

#include <QClipboard>
#include <QComboBox>
#include <QSlider>
#include <QTest>

using namespace badger;
using app::TuneStation;
using judge::Station;
using test::TuneDesk;

namespace
{

std::string servoOf(const kit::Car &car)
{
    for (const auto &p : car.parts)
        if (!p.carriedBy.empty())
            return p.carriedBy;
    return {};
}

} // namespace

class TestTuneMeasures final : public QObject
{
    Q_OBJECT
private slots:
    /// What the horn lacks goes from the bench to Kit with one key, and back with undo.
    void aHornIsMeasuredAndUsed()
    {
        TuneDesk d("Redshank");
        const auto servo = servoOf(*d.session.car());
        d.station->pick(QString("horn:%1").arg(QString::fromStdString(servo)));
        const auto before = d.session.car()->instance(servo)->hornError_rad;
        d.typeIn("-12");
        QCOMPARE(*d.last().chosen, -12.0);
        d.typeIn("90 ms 92 ms");
        d.typeIn("250");
        QCOMPARE(d.last().stretches.size(), size_t(2));
        QCOMPARE(*d.last().stretches[1].truth, 100.0);
        QVERIFY(tune::dwellOf(d.last())->settle_s);
        QVERIFY(d.button("useInCar")->isVisible());
        QTest::keyClick(d.window.get(), Qt::Key_F7);
        const auto now = d.session.car()->instance(servo)->hornError_rad;
        QVERIFY(now && std::abs(*now * 57.29578 + 12.0) < 1e-3);
        QVERIFY(!d.button("useInCar")->isVisible()); // it is what the car says already
        d.document.undoStack().undo();
        QVERIFY(d.session.car()->instance(servo)->hornError_rad == before);
    }

    void theAirGoesIntoTheProgram()
    {
        TuneDesk d("Avocet");
        d.station->pick("air:ranger");
        d.typeIn("85 C");
        QVERIFY(d.message().contains("write a temperature"));
        d.typeIn("27.5");
        QCOMPARE(*d.last().chosen, 27.5);
        QTest::keyClick(d.window.get(), Qt::Key_F7);
        QCOMPARE(*d.session.program()->readings.front().air_degC, 27.5);
        QVERIFY(!d.button("useInCar")->isVisible());
    }

    void sensorsAndLineAreTyped()
    {
        TuneDesk d("Plover");
        d.station->pick("line:");
        d.typeIn("30 mm 12 mm -12 mm -30 mm");
        d.typeIn("15 mm");
        d.typeIn("42 mm");
        const auto look = tune::lineOf(d.last());
        QVERIFY(look && look->kind == tune::LineLook::Kind::Lane);
        QVERIFY(std::abs(*look->slack_m - 0.009) < 1e-12);
        // A bare number could be anything.
        d.typeIn("10");
        QVERIFY(d.message().contains("unit"));
        QCOMPARE(d.last().stretches.size(), size_t(3));
    }

    /// Rows of a file stand in the picture first, with those that are left out; nothing is kept
    /// until the hand says so.
    void aTableIsLookedAtBeforeItIsKept()
    {
        TuneDesk d("Avocet");
        d.station->pick("ruler:ranger");
        QFile file(d.folder.filePath("pairs.csv"));
        QVERIFY(file.open(QIODevice::WriteOnly));
        file.write("true_cm;reading_cm\n6;5,8\n12;11,7\n25;x\n25;24,5\n40;39,3\n80;78,6\n120;\n");
        file.close();
        const auto before = d.records();
        d.station->takeFile(file.fileName());
        QCOMPARE(d.records(), before);
        QVERIFY(d.text("stepText").startsWith("6 rows can be used."));
        QVERIFY(d.text("stepText").contains("1 row cannot:") &&
                d.text("stepText").contains("row 4"));
        d.button("discard")->click();
        QCOMPARE(d.records(), before);
        QVERIFY(d.text("stepText").startsWith("Stand the flat board"));
        d.station->takeFile(file.fileName());
        d.button("keep")->click();
        QCOMPARE(d.records(), before + 1);
        const auto fit = tune::rulerFitOf(d.last());
        QVERIFY(fit && fit->used.size() == 5 && fit->rejected.size() == 1);
        QVERIFY(std::abs(fit->slope - 1.0169) < 1e-3);
        // One step of undo for the whole table.
        d.document.undoStack().undo();
        QCOMPARE(d.records(), before);
    }

    void badTablesAreRefusedInWords()
    {
        TuneDesk d("Avocet");
        d.station->pick("ruler:ranger");
        const auto before = d.records();
        for (const auto &[text, words] :
             {std::pair("true,reading\n6,5\n", "unit"), std::pair("a_cm,b_cm\n6,5\n", "true"),
              std::pair("true_cm,reading_cm\nx,y\n", "row 2"),
              std::pair("true_cm,reading_cm\n", "no")}) {
            d.station->takeText(text);
            QVERIFY2(d.message().contains(words), qPrintable(d.message()));
            QVERIFY(!d.button("keep")->isVisible());
        }
        d.station->pick("turn:");
        d.station->takeText("reading\n6\n");
        QVERIFY(d.message().contains("typed, step by step"));
        QCOMPARE(d.records(), before);
    }

    /// What the workshop cannot hold is refused, and the table is still there.
    void aTableThatIsTooLongIsNotLost()
    {
        TuneDesk d("Godwit");
        d.station->pick("surfaces:eye");
        QString text = "surface,reading\ndark,200\n";
        for (int i = 0; i < 200001; ++i)
            text += "light,800\n";
        const auto before = d.records();
        d.station->takeText(text);
        QVERIFY(d.button("keep")->isVisible());
        d.button("keep")->click();
        QCOMPARE(d.records(), before);
        QVERIFY(!d.message().isEmpty());
        QVERIFY(d.button("keep")->isVisible());
    }

    /// Several lines from the clipboard are a table; one line is typed as ever.
    void aTableIsPasted()
    {
        TuneDesk d("Godwit");
        d.station->pick("surfaces:eye");
        auto *field = d.child<QLineEdit>("typed");
        QGuiApplication::clipboard()->setText("surface,reading\nlight,812\nlight,799\nlight,805\n"
                                              "light,840\nlight,826\ndark,233\ndark,251\ndark,219\n"
                                              "dark,240\ndark,262\n");
        QTest::keySequence(field, QKeySequence::Paste);
        QVERIFY(d.text("stepText").startsWith("10 rows can be used."));
        d.button("keep")->click();
        const auto found = tune::surfacesOf(d.last());
        QVERIFY(found && found->threshold == 530.5 && found->margin == 268.5);
        QGuiApplication::clipboard()->setText("812 799");
        QTest::keySequence(field, QKeySequence::Paste);
        QCOMPARE(field->text(), QString("812 799"));
        QVERIFY(!d.button("keep")->isVisible());
    }

    /// The stand-in is started, set and heard from the window, and what it says is sample data.
    void theStandInIsSetFromTheWindow()
    {
        TuneDesk d("Avocet");
        d.station->pick("ruler:ranger");
        auto &standin = d.station->live().standin();
        QVERIFY(!standin.isRunning());
        d.button("practise")->click();
        const auto number = [&] { return d.child<QLabel>("liveNumber")->text(); };
        QTRY_VERIFY_WITH_TIMEOUT(number().contains("us"), test::patience_ms);
        QVERIFY(d.station->live().isMadeUp());
        const auto us = [&] { return number().split(' ')[0].toDouble(); };
        QTRY_VERIFY_WITH_TIMEOUT(std::abs(us() - 2322) < 60,
                                 test::patience_ms); // 40 cm at 22 degrees
        d.child<QSlider>("standin distance")->setValue(80);
        QTRY_VERIFY_WITH_TIMEOUT(std::abs(us() - 4644) < 90, test::patience_ms);
        auto *fault = d.child<QComboBox>("standin fault");
        QVERIFY(fault->count() == 10);
        QTRY_VERIFY_WITH_TIMEOUT(d.button("record")->isEnabled(), test::patience_ms);
        d.button("record")->click();
        QTest::qWait(400);
        d.button("record")->click();
        QVERIFY(d.button("keep")->isVisible());
        d.button("keep")->click();
        QVERIFY(d.last().sample && !d.last().stretches.empty());
        const auto after = d.records();
        // A reading of one's own does not go on with what is made up.
        d.typeIn("24.5 cm");
        QCOMPARE(d.records(), after + 1);
        QVERIFY(!d.last().sample);
        d.button("standin stop")->click();
        QTRY_VERIFY_WITH_TIMEOUT(!standin.isRunning(), test::patience_ms);
        QVERIFY(!standin.isVisible());
    }

    /// Each thing to measure of each demo car can be looked at, at each of its steps.
    void everyStepOfEveryMeasurementIsShown()
    {
        const auto demo = test::demo();
        for (const auto &car : demo.cars) {
            TuneDesk d(QString::fromStdString(car.name));
            for (const auto &item : d.session.current()->tune.items) {
                d.station->pick(QString("%1:%2").arg(tune::key(item.what),
                                                     QString::fromStdString(item.instance)));
                QVERIFY(!d.text("stepText").isEmpty());
                QVERIFY(!d.window->grab().isNull());
            }
        }
    }
};

BADGER_TEST(TestTuneMeasures)
#include "test_tune_measures.moc"
