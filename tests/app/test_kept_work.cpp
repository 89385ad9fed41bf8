// SPDX-License-Identifier: GPL-3.0-or-later
// Work that is not saved is kept, and the window says what is so and no longer than it is.
#include "core/io/shipped.h"
#include "core/io/storage.h"
#include "support/desk.h"

#include <QAction>
#include <QDir>
#include <sys/stat.h>

using namespace badger;
using judge::Station;
using test::Desk;
using test::write;

namespace
{

QByteArray savedText(const std::string &name)
{
    auto w = test::demo();
    w.name = name;
    return QByteArray::fromStdString(io::writeWorkshop(w));
}

} // namespace

class TestKeptWork final : public QObject
{
    Q_OBJECT
private slots:
    void saveAsAsksAboutTheNameItReallyTakes()
    {
        Desk d;
        const auto there = d.folder.filePath("class.badger.json");
        write(there, savedText("Somebody's"));
        QVERIFY(!d.window->saveTo(d.folder.filePath("class")));
        QVERIFY2(d.message().contains("class.badger.json is there already"),
                 qPrintable(d.message()));
        QCOMPARE(test::contents(there), savedText("Somebody's"));
        QVERIFY(d.window->messages().choose("Replace it"));
        QVERIFY(test::contents(there).contains("Saltmarsh"));
        QVERIFY(d.window->saveTo(d.folder.filePath("other")));
        QVERIFY(QFile::exists(d.folder.filePath("other.badger.json")));
    }

    void rescuedWorkDoesNotReplaceUnsavedWork()
    {
        Desk d;
        QDir().mkpath(d.folder.filePath("recovery"));
        write(d.folder.filePath("recovery/a.recovery.json"), savedText("Rescued"));
        d.say("value:halt", "40 cm");
        d.window->offerRecovered();
        QVERIFY(d.window->messages().choose("Open it"));
        QCOMPARE(d.document.title(), QString("Saltmarsh Sheds"));
        QVERIFY(d.message().contains("unsaved changes"));
        QVERIFY(QFile::exists(d.folder.filePath("recovery/a.recovery.json")));
        QVERIFY(d.window->messages().choose("Open it without saving"));
        QCOMPARE(d.document.title(), QString("Rescued"));
        QVERIFY(!QFile::exists(d.folder.filePath("recovery/a.recovery.json")));
    }

    /// "Open without saving", and then the file is none: the work and its copy are still there.
    void aFailedOpenLosesNothing()
    {
        Desk d;
        d.recovery.start();
        d.say("value:halt", "40 cm");
        d.recovery.writeNow();
        const auto bad = d.folder.filePath("bad.json");
        write(bad, "{");
        d.window->openFile(bad);
        QVERIFY(d.window->messages().choose("Open without saving"));
        QVERIFY(d.message().startsWith("Not opened"));
        COMPARE_NEAR(d.threshold_m(), 0.40, 1e-12);
        QVERIFY(d.document.isModified());
        QCOMPARE(QDir(d.folder.filePath("recovery")).entryList({"*.recovery.json"}).size(),
                 qsizetype(1));
        // What is rescued is offered once that was read.
        write(d.folder.filePath("recovery/b.recovery.json"), savedText("Rescued"));
        d.window->offerRecovered();
        QVERIFY(d.message().startsWith("Not opened"));
        d.window->messages().close();
        QTRY_VERIFY_WITH_TIMEOUT(d.message().contains("Rescued was rescued"), test::patience_ms);
    }

    void theMessageLiesOverThePageAndGoesWhenItIsUntrue()
    {
        Desk d;
        d.go(Station::Kit);
        const auto before = d.kit()->mapTo(d.window.get(), QPoint());
        const auto size = d.kit()->size();
        d.window->newCar(0);
        QApplication::processEvents();
        QVERIFY(d.message().contains("F2 gives it a name"));
        QCOMPARE(d.kit()->mapTo(d.window.get(), QPoint()).y(), before.y());
        QCOMPARE(d.kit()->size(), size);
        QApplication::processEvents(); // the longer list settles
        // The class is not covered, and the new car is in view.
        const auto bar = d.window->messages().geometry();
        auto *cars = d.window->findChild<app::CarList *>();
        QVERIFY(bar.left() >= cars->width());
        for (const auto &car : d.session.workshop().cars) {
            auto *tag = d.child<app::CarTag>(("car:" + car.name).c_str());
            const QRect area(tag->mapTo(cars, QPoint()), tag->size());
            QVERIFY2(cars->rect().contains(area),
                     qPrintable(QString("%1: %2 to %3 of %4")
                                    .arg(QString::fromStdString(car.name))
                                    .arg(area.top())
                                    .arg(area.bottom())
                                    .arg(cars->height())));
        }
        auto *add = d.child<QPushButton>("newCar");
        QVERIFY(cars->rect().contains(QRect(add->mapTo(cars, QPoint()), add->size())));
        d.document.undoStack().undo();
        QCOMPARE(d.message(), QString());
    }

    void aCarWithoutAProgramShowsNoneOfAnothers()
    {
        Desk d;
        d.go(Station::Rule);
        Desk::type(d.child<QLineEdit>("tryReadings"), "29 cm");
        QVERIFY(!d.rule()->findChild<app::TryRow *>()->said().isEmpty());
        d.session.selectCar("Curlew");
        QVERIFY(d.session.editCar("none", [](kit::Car &car) { car.program = {}; }));
        QApplication::processEvents();
        for (const auto *label : d.rule()->findChildren<QLabel *>())
            if (label->isVisible())
                QVERIFY2(!label->text().contains("32"), qPrintable(label->text()));
        QVERIFY(!d.sentences()->isVisible());
        QVERIFY(!d.child<QLineEdit>("tryReadings")->isVisible());
        // It offers what to begin with.
        d.now<QAbstractButton>("template:halt")->click();
        QApplication::processEvents();
        QCOMPARE(QString::fromStdString(d.session.program()->name), QString("halt Curlew"));
        QVERIFY(d.sentences()->isVisible());
        QVERIFY(d.rule()->findChild<app::TryRow *>()->said().isEmpty()); // nothing is chosen yet
        d.document.undoStack().undo();
        d.now<QAbstractButton>("start:halt")->click();
        QCOMPARE(d.session.program()->name, std::string("halt"));
    }

    void theLimitIsInclusiveInOnePlace()
    {
        Desk d;
        // The rules inside the states, and the limit itself stops the car.
        QVERIFY(app::changeProgram(d.document, "move the rules", test::programCalled("halt"),
                                   [](rules::Program &p) {
                                       for (auto &s : p.states)
                                           s.rules = p.everywhere;
                                       p.everywhere.clear();
                                   }));
        d.go(Station::Rule);
        QVERIFY2(d.headline().startsWith("Avocet halts at 32 cm or nearer"),
                 qPrintable(d.headline()));
        d.take("compare:0:0:drives", 1);
        QVERIFY2(d.headline().startsWith("Avocet halts nearer than 32 cm"),
                 qPrintable(d.headline()));
        d.take("compare:0:0:drives", 0);
        QVERIFY(d.headline().startsWith("Avocet halts at 32 cm or nearer"));
    }

    void findLooksEverywhereAndSaysWhenThereIsNothing()
    {
        Desk d;
        auto *finder = d.window->findChild<app::Finder *>();
        const auto servo = finder->matches("servo.SIG");
        QVERIFY(!servo.isEmpty());
        QVERIFY2(servo.first().startsWith("Curlew: "), qPrintable(servo.first()));
        const auto echo = finder->matches("ranger.ECHO"); // the present car's first
        QVERIFY2(echo.size() > 2 && echo.first().startsWith("wire ranger.ECHO"),
                 qPrintable(echo.join('\n')));
        QVERIFY(finder->matches("pin D13").first().contains("free"));
        d.session.judgement(test::carCalled("Curlew"));
        QVERIFY(!finder->matches("Curlew: error").isEmpty());
        Desk::type(finder, "Curlew: wire servo.SIG");
        QCOMPARE(d.session.carName(), QString("Curlew"));
        QVERIFY(d.session.station() == Station::Wire);
        finder->setFocus();
        QTest::keyClicks(finder, "no such thing");
        QVERIFY(d.child<QLabel>("findNothing")->isVisible());
        QVERIFY(d.child<QLabel>("findNothing")->text().contains("no such thing"));
        QTest::keyClick(finder, Qt::Key_Escape);
        QVERIFY(!d.child<QLabel>("findNothing")->isVisible());
    }

    void anEmptyWorkshopOffersItsKits()
    {
        Desk d;
        d.document.startEmpty();
        d.go(Station::Kit);
        for (const auto &kit : io::startingKits())
            QVERIFY(d.child<QAbstractButton>(("kit:" + kit.name).c_str())->isVisible());
        // Floor and Log say what they wait for, and lead back.
        d.go(Station::Log);
        QVERIFY(d.child<QLabel>("waits")->text().startsWith("Log waits"));
        d.go(Station::Floor);
        QVERIFY(d.child<QLabel>("waits")->text().startsWith("Floor waits"));
        d.child<QPushButton>("chooseFirstCar")->click();
        QApplication::processEvents();
        d.child<QAbstractButton>("kit:Straddle a line")->click();
        QApplication::processEvents();
        QCOMPARE(d.session.workshop().cars.size(), size_t(1));
        QVERIFY(d.session.car()->mission->behaviour == "straddle");
        QVERIFY(d.kit()->isVisible());
    }

    /// Twenty thousand honest runs: their list shows some, and an edit does not read them again.
    void thousandsOfRunsAreAFewRows()
    {
        Desk d;
        const auto path = d.folder.filePath("many.json");
        auto w = test::demo();
        const auto one = w.trials.front();
        w.trials.assign(20000, one);
        for (size_t i = 0; i < w.trials.size(); ++i)
            w.trials[i].id.text = w.trials[i].note = std::to_string(i);
        VERIFY_OK(io::saveFile(path.toStdString(), io::writeWorkshop(w)));
        d.window->openFile(path);
        d.go(Station::Log);
        int rows = 0;
        for (const auto *b : d.log()->findChildren<QPushButton *>())
            rows += b->text() == "remove";
        QVERIFY2(rows > 0 && rows <= 80, qPrintable(QString::number(rows)));
        // One that is made wrong is still seen.
        QVERIFY(!app::change(d.document, "remove the car only",
                             [](workshop::Workshop &x) { x.cars.erase(x.cars.begin()); }));
        QVERIFY(!app::change(d.document, "a wrong run",
                             [](workshop::Workshop &x) { x.trials[7].battery_V = -3.0; }));
        QCOMPARE(d.session.workshop().trials.size(), size_t(20000));
    }

    /// With a worker for the runs everything else is new at once, the newest edit wins, and the end
    /// is the same.
    void theWorkersRunsAreTheNewestEdits()
    {
        app::Document document;
        document.startDemo();
        app::Session session(document, judge::Runs::Later);
        QSignalSpy driven(&session, &app::Session::runsDriven);
        for (int cm = 20; cm <= 45; ++cm) {
            QVERIFY(app::changeProgram(document, "drag", test::programCalled("halt"),
                                       [&](rules::Program &p) { p.values[0].si = 0.01 * cm; }));
            const auto *j = session.current();
            QVERIFY(j->runsPending);
            COMPARE_NEAR(j->budget->setup.threshold_m, 0.01 * cm, 1e-12);
        }
        QTRY_VERIFY_WITH_TIMEOUT(!session.current()->runsPending, test::patience_ms);
        const auto &expected = judge::judge(
            document.workshop(), {*session.car(), document.catalogue()}, session.floor());
        QCOMPARE(session.current()->runs.size(), expected.runs.size());
        for (size_t i = 0; i < expected.runs.size(); ++i)
            QCOMPARE(session.current()->runs[i].fingerprint, expected.runs[i].fingerprint);
        QVERIFY(driven.count() >= 1);
    }

    /// A picture that is not shown keeps the catalogue's address while another file is opened.
    void whatIsHiddenOutlivesAnotherFile()
    {
        Desk d;
        d.go(Station::Kit);
        const auto *catalogue = &d.document.catalogue();
        d.go(Station::Log);
        auto w = test::demo();
        auto own = *io::shippedCatalogue().find("led-red");
        own.id = "own-led";
        w.parts.push_back(own);
        const auto path = d.folder.filePath("other.json");
        VERIFY_OK(io::saveFile(path.toStdString(), io::writeWorkshop(w)));
        d.window->openFile(path);
        QCOMPARE(&d.document.catalogue(), catalogue);
        d.window->resize(1366, 768);
        d.go(Station::Kit);
        (void)d.window->grab();
        d.document.startEmpty();
        d.window->resize(1280, 800);
        QApplication::processEvents();
        d.document.startDemo();
        d.go(Station::Wire);
        (void)d.window->grab();
    }
};

BADGER_TEST(TestKeptWork)
#include "test_kept_work.moc"
