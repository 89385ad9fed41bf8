// SPDX-License-Identifier: GPL-3.0-or-later
// The shell: cars, stations, files, messages, palettes.
#include "app/tour/tour.h"
#include "core/io/storage.h"
#include "support/desk.h"

#include <QDir>
#include <QFile>
#include <QInputDialog>
#include <QMenuBar>

using namespace badger;
using judge::GateState;
using judge::Station;
using test::Desk;

namespace
{

QAction *action(const Desk &d, const QString &text)
{
    for (auto *menu : d.window->menuBar()->actions())
        for (auto *a : menu->menu()->actions())
            if (a->text().remove('&') == text)
                return a;
    qFatal("there is no command %s", qPrintable(text));
}

} // namespace

class TestWindow final : public QObject
{
    Q_OBJECT
private slots:
    void opensJudgedOnTheDemo()
    {
        Desk d;
        QCOMPARE(d.session.carName(), QString("Avocet"));
        QCOMPARE(d.headline(),
                 QString("Avocet halts at 32 cm or nearer; at worst 25.9 cm are left at rest."));
        QVERIFY(d.window->windowTitle().startsWith("Saltmarsh Sheds"));
        QVERIFY(!d.window->isWindowModified());
    }

    void stationsByKeyAndClick()
    {
        Desk d;
        for (const auto s : judge::stations) {
            QTest::keyClick(d.window.get(), Qt::Key(Qt::Key_1 + int(s)), Qt::ControlModifier);
            QCOMPARE(d.session.station(), s);
        }
        auto *stop = d.window->findChildren<app::WorkStop *>()[0];
        QTest::mouseClick(stop, Qt::LeftButton);
        QCOMPARE(d.session.station(), Station::Kit);
    }

    void titleShowsUnsavedChanges()
    {
        Desk d;
        d.say("value:halt", "40 cm");
        QVERIFY(d.window->isWindowModified());
        d.document.undoStack().undo();
        QVERIFY(!d.window->isWindowModified());
    }

    void undoAndRedoByKey()
    {
        Desk d;
        d.say("value:halt", "40 cm");
        d.window->setFocus();
        QTest::keyClick(d.window.get(), Qt::Key_Z, Qt::ControlModifier);
        COMPARE_NEAR(d.threshold_m(), 0.32, 0.0);
        QTest::keyClick(d.window.get(), Qt::Key_Z, Qt::ControlModifier | Qt::ShiftModifier);
        COMPARE_NEAR(d.threshold_m(), 0.40, 1e-12);
    }

    void aNewCarFromTheStartingKit()
    {
        Desk d;
        const auto before = d.session.workshop().cars.size();
        d.window->newCar();
        QCOMPARE(d.session.carName(), QString("New car"));
        QCOMPARE(d.session.station(), Station::Kit);
        QVERIFY2(d.headline().startsWith("New car's parts go together"), qPrintable(d.headline()));
        d.go(Station::Wire);
        QCOMPARE(d.headline(), QString("New car is not wired yet."));
        QVERIFY(d.session.current()->wire.findings.empty()); // there is nothing to check yet
        QVERIFY(d.session.current()->gate(Station::Rule).state == GateState::Blocked);
        d.window->newCar();
        QCOMPARE(d.session.carName(), QString("New car 2"));
        QCOMPARE(d.session.workshop().cars.size(), before + 2);
        QApplication::processEvents(); // the new tags appear
        QTest::keyClick(d.window.get(), Qt::Key_1, Qt::AltModifier);
        QTRY_COMPARE_WITH_TIMEOUT(d.session.carName(), QString("Avocet"),
                                  test::patience_ms); // a button goes down before it acts
        // The station is kept when the car changes.
        QCOMPARE(d.session.station(), Station::Kit);
        d.document.undoStack().undo();
        d.document.undoStack().undo();
        QCOMPARE(d.session.workshop().cars.size(), before);
    }

    void aNewCarIsCompletedByChoosing()
    {
        Desk d;
        d.window->newCar();
        d.go(Station::Rule);
        d.say("value:halt", "32 cm");
        d.say("value:speed", "140");
        d.say("value:pause", "58 ms");
        d.say("air:ahead", "22 C");
        d.say("limit:ahead", "120 cm");
        d.take("policy:ahead", 0);
        QVERIFY(d.session.current()->budget);
        // Nothing is measured on it, and that is said.
        QVERIFY(test::find(d.session.current()->rule.findings, "not-measured"));
        QVERIFY(d.headline().startsWith("New car halts at 32 cm or nearer"));
    }

    void anEmptyWorkshopSaysWhatToDo()
    {
        Desk d;
        d.document.startEmpty();
        QVERIFY(d.headline().startsWith("No car is in this workshop yet"));
        for (const auto s : judge::stations) {
            d.go(s);
            QVERIFY(!d.window->grab().isNull());
        }
        d.window->newCar();
        QCOMPARE(d.session.workshop().cars.size(), size_t(1));
    }

    void removingACarAndItsUndo()
    {
        Desk d;
        action(d, "Remove the car")->trigger();
        QVERIFY(!d.session.workshop().car("Avocet"));
        QVERIFY(d.session.workshop().trials.empty());
        QVERIFY(d.window->messages().choose("Undo"));
        QCOMPARE(d.session.workshop().cars.size(), size_t(10));
        QCOMPARE(d.session.workshop().trials.size(), size_t(3));
    }

    void aBadFileIsSaidAndNothingIsLost()
    {
        Desk d;
        const auto path = d.folder.filePath("bad.json");
        QFile f(path);
        QVERIFY(f.open(QIODevice::WriteOnly));
        f.write("{\n oops");
        f.close();
        d.window->openFile(path);
        QVERIFY(d.window->messages().message().startsWith("Not opened. bad.json, line 2"));
        QCOMPARE(d.session.carName(), QString("Avocet"));
    }

    void openingAsksAboutUnsavedWork()
    {
        Desk d;
        const auto path = d.folder.filePath("other.json");
        auto other = test::demo();
        other.name = "Other Sheds";
        QVERIFY(io::saveFile(path.toStdString(), io::writeWorkshop(other)));
        d.say("value:halt", "40 cm");
        d.window->openFile(path);
        QVERIFY(d.window->messages().message().contains("has unsaved changes"));
        QCOMPARE(d.document.title(), QString("Saltmarsh Sheds")); // still here, still to be seen
        QVERIFY(d.window->messages().choose("Open without saving"));
        QCOMPARE(d.document.title(), QString("Other Sheds"));
    }

    void closingAsksAboutUnsavedWork()
    {
        Desk d;
        VERIFY_OK(d.document.saveAs(d.folder.filePath("w.json")));
        d.say("value:halt", "40 cm");
        d.window->close();
        QVERIFY(d.window->isVisible());
        QVERIFY(d.window->messages().choose("Save, then close"));
        QVERIFY(!d.window->isVisible());
        app::Document saved;
        VERIFY_OK(saved.open(d.folder.filePath("w.json")));
        COMPARE_NEAR(*saved.workshop().programs[0].values[0].si, 0.40, 1e-12);
    }

    void savingOverAnotherProgramsChangeOffersWaysOut()
    {
        Desk d;
        const auto path = d.folder.filePath("w.json");
        VERIFY_OK(d.document.saveAs(path));
        d.say("value:halt", "40 cm");
        auto theirs = test::demo();
        theirs.name = "Theirs";
        QVERIFY(io::saveFile(path.toStdString(), io::writeWorkshop(theirs)));
        action(d, "Save")->trigger();
        QVERIFY(d.window->messages().message().contains("another program has changed the file"));
        QVERIFY(d.document.isModified());
        QVERIFY(d.window->messages().choose("Open what is there now"));
        QCOMPARE(d.document.title(), QString("Theirs"));
    }

    void anotherProgramsChangeIsNoticedOnReturn()
    {
        Desk d;
        const auto path = d.folder.filePath("w.json");
        VERIFY_OK(d.document.saveAs(path));
        const auto comeBack = [&] {
            QEvent activated(QEvent::ActivationChange);
            d.window->activateWindow();
            QApplication::processEvents();
            QApplication::sendEvent(d.window.get(), &activated);
        };
        comeBack();
        QCOMPARE(d.window->messages().message(), QString());
        auto theirs = test::demo();
        theirs.name = "Theirs";
        QVERIFY(io::saveFile(path.toStdString(), io::writeWorkshop(theirs)));
        comeBack();
        QVERIFY(d.window->messages().message().startsWith("Another program has changed w.json."));
        d.window->messages().close();
        comeBack(); // said once
        QCOMPARE(d.window->messages().message(), QString());
    }

    void aReadOnlyPlaceIsSaidInWords()
    {
        Desk d;
        const auto r = d.document.saveAs("/proc/w.json");
        QVERIFY(!r);
        QVERIFY(!r.error().mend.empty());
        QVERIFY(d.document.path().isEmpty());
    }

    void recentFiles()
    {
        Desk d;
        const auto path = d.folder.filePath("recent.json");
        QVERIFY(io::saveFile(path.toStdString(), io::writeWorkshop(test::demo())));
        d.window->openFile(path);
        QCOMPARE(QSettings().value("recent").toStringList().first(), path);
        auto *recent = action(d, "Open recent");
        QVERIFY(recent->menu()->actions().first()->text().startsWith("recent.json"));
        QFile::remove(path);
        d.document.startDemo();
        recent->menu()->actions().first()->trigger(); // gone: said, not crashed
        QVERIFY(d.window->messages().message().contains("No such file"));
    }

    void recoveredWorkIsOffered()
    {
        Desk d;
        QDir().mkpath(d.folder.filePath("recovery"));
        auto w = test::demo();
        w.name = "Rescued";
        QVERIFY(io::saveFile(d.folder.filePath("recovery/a.recovery.json").toStdString(),
                             io::writeWorkshop(w)));
        d.window->offerRecovered();
        QVERIFY(d.window->messages().message().contains("Rescued"));
        QVERIFY(d.window->messages().choose("Open it"));
        QCOMPARE(d.document.title(), QString("Rescued"));
        QVERIFY(d.document.isModified());
        QVERIFY(!QFile::exists(d.folder.filePath("recovery/a.recovery.json")));
        // It is kept safe under this program's own name until it is saved.
        QVERIFY(QDir(d.folder.filePath("recovery")).entryList({"*.recovery.json"}).size() == 1);
    }

    void theFinderFinds_data()
    {
        QTest::addColumn<QString>("typed");
        QTest::addColumn<int>("station");
        QTest::newRow("a pin") << "ranger.ECHO" << int(Station::Wire);
        QTest::newRow("a value") << "value halt" << int(Station::Rule);
        QTest::newRow("a station") << "station Log" << int(Station::Log);
        QTest::newRow("a finding") << "No echo counts" << int(Station::Rule);
    }
    void theFinderFinds()
    {
        QFETCH(QString, typed);
        QFETCH(int, station);
        Desk d;
        d.go(Station(station) == Station::Floor ? Station::Rule : Station::Floor);
        auto *finder = d.child<QLineEdit>("finder");
        Desk::type(finder, typed);
        QCOMPARE(int(d.session.station()), station);
        QVERIFY(finder->text().isEmpty());
    }

    void palettesAndProjector()
    {
        Desk d;
        const auto light = d.window->grab().toImage();
        // The old page goes when control is back in the event loop.
        const auto settle = [] {
            QApplication::processEvents();
            QApplication::sendPostedEvents(nullptr, QEvent::DeferredDelete);
            QApplication::processEvents();
        };
        d.sentences()->setFocus();
        d.window->setPalette(app::Theme::Palette::Dark);
        settle();
        const auto dark = d.window->grab().toImage();
        QVERIFY(qGray(light.pixel(640, 720)) > 200);
        QVERIFY(qGray(dark.pixel(640, 720)) < 80);
        d.window->setPalette(app::Theme::Palette::Projector);
        settle();
        // The panels fold away and can be called back.
        QVERIFY(!d.window->findChild<app::CarList *>()->isVisible());
        d.window->setPalette(app::Theme::Palette::Light);
        settle();
        QVERIFY(d.window->findChild<app::CarList *>()->isVisible());
        QCOMPARE(d.headline(),
                 QString("Avocet halts at 32 cm or nearer; at worst 25.9 cm are left at rest."));
        // Editing, keys and commands work on after the page was made anew.
        d.say("value:halt", "40 cm");
        COMPARE_NEAR(d.threshold_m(), 0.40, 1e-12);
        d.window->setFocus();
        QTest::keyClick(d.window.get(), Qt::Key_Z, Qt::ControlModifier);
        COMPARE_NEAR(d.threshold_m(), 0.32, 1e-12);
        QTest::keyClick(d.window.get(), Qt::Key_5, Qt::ControlModifier);
        QCOMPARE(d.session.station(), Station::Floor);
        QVERIFY(d.floor()->shownRun());
        QTest::keyClick(d.window.get(), Qt::Key_F5);
        QVERIFY(d.floor()->isPlaying());
        QCOMPARE(d.window->menuBar()->actions().size(), qsizetype(5));
    }

    void everyCommandHasAWayByKeyboard()
    {
        Desk d;
        QStringList shortcuts;
        for (auto *menu : d.window->menuBar()->actions()) {
            QVERIFY2(menu->text().contains('&'), qPrintable(menu->text()));
            for (auto *a : menu->menu()->actions())
                for (const auto &key : a->shortcuts())
                    shortcuts << key.toString();
        }
        QCOMPARE(QSet<QString>(shortcuts.begin(), shortcuts.end()).size(), shortcuts.size());
        action(d, "Shortcuts")->trigger();
        QVERIFY(d.window->messages().message().contains("Ctrl+S"));
        action(d, "About Swift Badger")->trigger();
        QVERIFY(d.window->messages().message().contains("GPL"));
    }

    void theDemoPlays()
    {
        Desk d;
        const auto folder = d.folder.filePath("pictures");
        QVERIFY(app::playDemo(*d.window, d.document, d.session, folder));
        QCOMPARE(QDir(folder).entryList({"*.png"}).size(), qsizetype(7));
        QVERIFY(!app::playDemo(*d.window, d.document, d.session, "/proc/none"));
    }

    void aNewNameTouchesTheCarAlone()
    {
        Desk d;
        d.go(Station::Log);
        const auto before = d.session.workshop();
        const auto id = d.session.carId();
        QTimer::singleShot(0, [] {
            auto *dialog = qobject_cast<QInputDialog *>(QApplication::activeModalWidget());
            dialog->setTextValue("Whimbrel the second");
            dialog->accept();
        });
        QTest::keyClick(d.window.get(), Qt::Key_F2);
        const auto &after = d.session.workshop();
        QCOMPARE(d.session.carName(), QString("Whimbrel the second"));
        QVERIFY(d.session.carId() == id);
        QVERIFY(after.trials.shares(before.trials) && after.programs.shares(before.programs) &&
                after.floors.shares(before.floors));
        QVERIFY(!d.session.current()->measured.empty()); // its runs are still its own
        for (size_t i = 0; i < after.cars.size(); ++i)
            QCOMPARE(after.cars.piece(i) == before.cars.piece(i), !(after.cars[i].id == id));
        // A name that another car has is refused, and the reason said.
        QVERIFY(!d.session.editCar("rename", [](kit::Car &c) { c.name = "Curlew"; }));
        QVERIFY2(d.message().contains("a second 'Curlew'"), qPrintable(d.message()));
    }

    void longNamesDoNotBreakThePage()
    {
        Desk d;
        QVERIFY(app::change(d.document, "rename", [](workshop::Workshop &w) {
            w.name = std::string(300, 'W');
            w.cars[0].name = std::string(80, 'M');
        }));
        QApplication::processEvents();
        QCOMPARE(d.window->width(), 1280);
        QVERIFY(d.window->findChild<app::CarList *>()->width() <= 172);
    }
};

BADGER_TEST(TestWindow)
#include "test_window.moc"
