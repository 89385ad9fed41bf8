// SPDX-License-Identifier: GPL-3.0-or-later
// The Tune station, with the stand-in on a real pseudo-terminal.
#include "app/tune_desk.h"
#include "core/tune/fits_of.h"
#include "support/standin.h"

#include <QProcess>
#include <QTest>
#include <fcntl.h>
#include <sys/file.h>
#include <unistd.h>

using namespace badger;
using app::TuneStation;
using judge::Station;
using test::Standin;
using test::TuneDesk;

namespace
{

/// With a board on its line.
struct BoardDesk : TuneDesk {
    using TuneDesk::TuneDesk;
    QString port() const { return folder.filePath("board"); }
    /// Records until so many readings have come, and keeps them.
    void record(int readings)
    {
        QTRY_VERIFY_WITH_TIMEOUT(button("record")->isEnabled(), test::patience_ms);
        button("record")->click();
        QVERIFY(station->live().isRecording());
        int seen = 0;
        const auto counting =
            QObject::connect(&station->live().listener(), &app::PortListener::heard, window.get(),
                             [&](const app::Heard &heard) {
                                 for (const auto &e : heard.events)
                                     seen += std::holds_alternative<link::SampleCame>(e) ? 1 : 0;
                             });
        QTRY_VERIFY_WITH_TIMEOUT(seen >= readings, test::patience_ms);
        QObject::disconnect(counting);
        button("record")->click();
    }
};

} // namespace

class TestTuneStation final : public QObject
{
    Q_OBJECT
private slots:
    /// From the board into the workshop: both surfaces, recorded and kept.
    void twoSurfacesAreRecordedFromABoard()
    {
        BoardDesk d("Godwit");
        d.station->pick("surfaces:eye");
        Standin board(d.port(), {"--rate", "200"});
        d.station->live().listen(d.port(), 115200);
        QTRY_VERIFY_WITH_TIMEOUT(d.text("liveNumber").contains("counts"), test::patience_ms);
        const auto before = d.session.workshop().records.size();
        d.record(60);
        // Recorded is not kept.
        QCOMPARE(d.session.workshop().records.size(), before);
        d.button("discard")->click();
        QCOMPARE(d.session.workshop().records.size(), before);
        d.record(60);
        d.button("keep")->click();
        QCOMPARE(d.session.workshop().records.size(), before + 1);
        QCOMPARE(d.last().stretches.size(), size_t(1));
        QCOMPARE(d.last().stretches[0].label, std::string("light"));
        QVERIFY(d.last().sample); // it was the stand-in that spoke
        // The board says the pack's volts by itself.
        QVERIFY(d.last().basis.battery_V && std::abs(*d.last().basis.battery_V - 7.2) < 0.05);
        QCOMPARE(d.last().basis.floor, std::string("Loft mat"));
        board.say("surface dark");
        QTRY_VERIFY_WITH_TIMEOUT(d.text("liveNumber").split(' ')[0].toInt() < 400,
                                 test::patience_ms);
        d.record(60);
        d.button("keep")->click();
        QCOMPARE(d.session.workshop().records.size(), before + 1);
        const auto found = tune::surfacesOf(d.last());
        QVERIFY(found && found->isSeparable);
        QVERIFY(std::abs(found->light.mean - 806) < 6 && std::abs(found->dark.mean - 213) < 6);
        QVERIFY(d.headline().contains("it holds"));
        // One step of undo a stretch.
        d.document.undoStack().undo();
        QCOMPARE(d.last().stretches.size(), size_t(1));
    }

    void aWrongRateIsSaidAndOneClickMendsIt()
    {
        BoardDesk d("Avocet");
        Standin board(d.port());
        d.station->live().listen(d.port(), 9600);
        QTRY_VERIFY_WITH_TIMEOUT(d.text("hearing").contains("115200"), test::patience_ms);
        QVERIFY(d.text("hearing").startsWith("Baud mismatch"));
        QVERIFY(d.button("takeRate")->isVisible());
        d.button("takeRate")->click();
        QTRY_VERIFY_WITH_TIMEOUT(d.text("liveNumber").contains("us"), test::patience_ms);
        QVERIFY(!d.button("takeRate")->isVisible());
    }

    /// Unplugged in mid-line and plugged in again: recording goes on, and no half line is a
    /// reading.
    void aBoardThatGoesAwayComesBack()
    {
        BoardDesk d("Avocet");
        d.station->pick("ruler:ranger");
        auto board = std::make_unique<Standin>(d.port(), QStringList{"--rate", "200"});
        d.station->live().listen(d.port(), 115200);
        QTRY_VERIFY_WITH_TIMEOUT(d.button("record")->isEnabled(), test::patience_ms);
        d.button("record")->click();
        QTRY_VERIFY_WITH_TIMEOUT(!d.text("liveNumber").isEmpty(), test::patience_ms);
        board.reset();
        QTRY_VERIFY_WITH_TIMEOUT(d.text("hearing").contains("gone"), test::patience_ms);
        QVERIFY(d.station->live().isRecording());
        board = std::make_unique<Standin>(d.port(), QStringList{"--rate", "200", "--seed", "4"});
        int seen = 0;
        connect(&d.station->live().listener(), &app::PortListener::heard, d.window.get(),
                [&](const app::Heard &heard) {
                    for (const auto &e : heard.events)
                        seen += std::holds_alternative<link::SampleCame>(e) ? 1 : 0;
                });
        QTRY_VERIFY_WITH_TIMEOUT(seen > 50, test::patience_ms);
        d.button("record")->click();
        d.button("keep")->click();
        QVERIFY(d.last().stretches[0].readings.size() > 50);
        for (const double us : d.last().stretches[0].readings)
            QVERIFY(us > 2280 && us < 2370);
    }

    void aPortThatCannotBeOpenedSaysWhy()
    {
        BoardDesk d("Avocet");
        d.station->live().listen(d.folder.filePath("nothing"), 9600);
        QTRY_VERIFY_WITH_TIMEOUT(d.text("hearing").contains("There is no port"), test::patience_ms);
        QVERIFY(!d.station->live().isListening());
        d.station->live().listen("  ", 9600);
        QVERIFY(!d.station->live().isListening());
    }

    void aPortThatAnotherProgramHoldsIsSaid()
    {
        BoardDesk d("Avocet");
        Standin board(d.port());
        const int other = open(d.port().toUtf8().constData(), O_RDWR | O_NOCTTY | O_NONBLOCK);
        QVERIFY(other >= 0 && flock(other, LOCK_EX | LOCK_NB) == 0);
        d.station->live().listen(d.port(), 115200);
        QTRY_VERIFY_WITH_TIMEOUT(d.text("hearing").contains("held by another program"),
                                 test::patience_ms);
        QVERIFY(!d.station->live().isListening());
        close(other);
        d.station->live().listen(d.port(), 115200);
        QTRY_VERIFY_WITH_TIMEOUT(d.text("liveNumber").contains("us"), test::patience_ms);
    }

    void readingsAreTypedWithTheirUnits()
    {
        BoardDesk d("Avocet");
        d.station->pick("ruler:ranger");
        for (const auto *read : {"5.8 cm", "11,7cm", "24.5 cm", "15.47 in", "786 mm"})
            d.typeIn(read);
        d.typeIn("117.9 cm");
        QCOMPARE(d.last().stretches.size(), size_t(6));
        const auto fit = tune::rulerFitOf(d.last());
        QVERIFY(fit && std::abs(fit->slope - 1.0169) < 1e-3);
        // Into the budget with one key: the greatest difference was 2.1 cm.
        const double before = d.session.current()->budget->budget.worstGap_m;
        QVERIFY(d.button("useInCar")->isVisible());
        QTest::keyClick(d.window.get(), Qt::Key_F7);
        COMPARE_NEAR(d.session.car()->calibrations.ruler->error_m, 0.021, 1e-3);
        COMPARE_NEAR(d.session.current()->budget->budget.worstGap_m, before - 0.011, 1e-3);
        // Nonsense changes nothing.
        const auto kept = d.last();
        d.typeIn("24");
        d.typeIn("abc");
        QVERIFY(d.last() == kept);
        QVERIFY(d.window->messages().isVisible());
    }

    /// Timed, kept, used: the budget reckons with it, and says so.
    void theSpeedIsTimedAndUsed()
    {
        BoardDesk d("Curlew");
        d.station->pick("speed:");
        d.typeIn("5.0 5,0 5.0");                                        // 1.5 m: 0.3 m/s
        QCOMPARE(d.last().stretches.front().label, std::string("140")); // the program's count
        QVERIFY(!d.session.current()->budget->speed.measured);
        QVERIFY(!d.station->sum().result.isEmpty());
        d.button("useInCar")->click();
        const auto &budget = *d.session.current()->budget;
        QVERIFY(budget.speed.measured);
        COMPARE_NEAR(budget.speed.value, 0.3, 1e-12);
        QVERIFY(d.window->messages().message().contains("0.3 m/s"));
        QVERIFY(!d.window->grab().isNull());
        d.session.editCar("none", [](kit::Car &car) { car.program = {}; });
        const auto records = d.session.workshop().records.size();
        d.typeIn("5.0");
        QCOMPARE(d.session.workshop().records.size(), records);
        QVERIFY(d.window->messages().message().contains("No program says at which count"));
    }

    void theLineIsDraggedAndItsErrorsFollow()
    {
        BoardDesk d("Godwit");
        d.station->pick("surfaces:eye");
        auto *picture = d.child<app::BenchPicture>("benchPicture");
        picture->setFocus();
        const auto record = [&]() -> const tune::Record & {
            for (const auto &r : d.session.workshop().records)
                if (r.car == d.session.carId() && r.what == tune::What::Surfaces)
                    return r;
            return d.last();
        };
        QVERIFY(!record().chosen);
        const double computed = tune::surfacesOf(record())->threshold;
        QTest::keyClick(picture, Qt::Key_Right);
        COMPARE_NEAR(*record().chosen, computed + 1.0, 1e-9);
        // With the mouse: from the line to the middle of the picture.
        const int y = picture->height() / 2;
        int x = -1;
        for (int i = 0; i < picture->width() && x < 0; ++i) {
            QSignalSpy moved(picture, &app::BenchPicture::thresholdMoved);
            QTest::mousePress(picture, Qt::LeftButton, {}, {i, y});
            QTest::mouseMove(picture, {i + 1, y});
            QTest::mouseRelease(picture, Qt::LeftButton, {}, {i + 1, y});
            if (!moved.isEmpty())
                x = i;
        }
        QVERIFY(x > 0);
        QTest::mousePress(picture, Qt::LeftButton, {}, {x + 8, y});
        QTest::mouseMove(picture, {x + 60, y});
        QTest::mouseRelease(picture, Qt::LeftButton, {}, {x + 60, y});
        QVERIFY(*record().chosen > computed + 40.0);
        QVERIFY(d.button("useInCar")->isVisible());
        d.button("useInCar")->click();
        QVERIFY(!record().chosen);
    }

    void whatChangedUnderAMeasurementIsSaidThere()
    {
        BoardDesk d("Godwit");
        d.session.editCar("raise it", [](kit::Car &car) {
            for (auto &p : car.parts)
                if (p.id == "eye")
                    p.mount->height_m += 0.01;
        });
        d.station->pick("surfaces:eye");
        QVERIFY(d.text("staleBecause").contains("over the floor"));
        QVERIFY(d.headline().contains("has changed"));
        QVERIFY(d.session.current()->gate(Station::Tune).state == judge::GateState::Stale);
        d.document.undoStack().undo();
        QVERIFY(!d.child<QLabel>("staleBecause")->isVisible());
    }

    void everyItemOfEveryCarIsShown()
    {
        for (const auto &car : test::demo().cars) {
            BoardDesk d(QString::fromStdString(car.name));
            for (const auto &i : d.session.current()->tune.items) {
                d.station->pick(
                    QString("%1:%2").arg(tune::key(i.what), QString::fromStdString(i.instance)));
                QVERIFY(!d.text("stepText").isEmpty());
                d.window->grab();
            }
        }
    }

    /// The chart is given no more points than it has pixels, and keeps no more than it shows.
    void theLivePlotStaysSmall()
    {
        app::Theme theme;
        app::LivePlot plot(theme);
        plot.resize(600, 100);
        plot.show();
        for (int i = 0; i < 200 * 120; ++i)
            plot.add(i / 200.0, i % 50 == 0 ? std::nullopt : std::optional(2300.0 + i % 37));
        plot.advance(120.0);
        QVERIFY(plot.points() > 300);
        QVERIFY2(plot.points() <= 2 * 600, qPrintable(QString::number(plot.points())));
    }
};

BADGER_TEST(TestTuneStation)

#include "test_tune_station.moc"
