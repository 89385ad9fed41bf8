// SPDX-License-Identifier: GPL-3.0-or-later
// The safe window at the Floor station: searched while it is in view, dragged without a search.
#include "app/floor/row_dialog.h"
#include "app/floor/window_page.h"
#include "app/floor/window_sheet.h"
#include "app/widgets/text.h"
#include "core/window/words.h"
#include "support/desk.h"

#include <QComboBox>
#include <QPushButton>

using namespace badger;
using judge::Station;
using test::Desk;

namespace
{

struct WindowDesk : Desk {
    explicit WindowDesk(const QString &car, const std::string &on = "Slipway")
    {
        session.selectCar(car);
        session.selectFloor(test::floorCalled(on));
        go(Station::Floor);
        floor()->showPageAt(app::FloorStation::Page::Window);
    }
    app::WindowPage &page() { return *floor()->window(); }
    void click(const char *name) { child<QPushButton>(name)->click(); }
    app::WindowView &view() { return *child<app::WindowView>("windowView"); }
};

} // namespace

class TestWindowPage final : public QObject
{
    Q_OBJECT
private slots:
    void itSaysFromWhereToWhere()
    {
        WindowDesk d("Avocet");
        const auto w = d.page().finished();
        QVERIFY(w && w->done && w->low);
        QCOMPARE(d.child<QLabel>("headline")->text(),
                 app::together(app::str(window::headline(*w))));
        QVERIFY(d.child<QLabel>("conditions")->text().contains("349"));
        QVERIFY(d.child<QLabel>("windowLimits")->text().contains("Not simulated"));
        QVERIFY(!d.view().accessibleDescription().isEmpty());
        QVERIFY(d.view().picked() >= 0);
        const auto sum = d.floor()->sum();
        QVERIFY(!sum.result.isEmpty() && sum.parts.size() >= 2);
    }

    /// The value itself changes nothing of its window: no run is driven for it.
    void aDragAsksForNothing()
    {
        WindowDesk d("Avocet");
        const auto before = d.page().finished();
        const auto &places = before->handle.at;
        const auto from = d.view().xOf(*before->handle.now);
        const auto to = d.view().xOf(places[40]);
        const auto y = d.view().rowBox(1).center().y();
        const auto point = [y](qreal x) { return QPoint(qRound(x), qRound(y)); };
        QTest::mousePress(&d.view(), Qt::LeftButton, {}, point(from));
        QTest::mouseMove(&d.view(), point((from + to) / 2));
        QTest::mouseMove(&d.view(), point(to));
        QTest::mouseRelease(&d.view(), Qt::LeftButton, {}, point(to));
        const auto *v = d.session.program()->value(before->handle.value);
        COMPARE_NEAR(*v->si, places[40], 1e-9);
        QCOMPARE(d.page().finished().get(), before.get());
        d.document.undoStack().undo(); // one drag is one step
        COMPARE_NEAR(*d.session.program()->value(before->handle.value)->si, *before->handle.now,
                     1e-9);
        // What is under it does: it is searched anew.
        QVERIFY(app::changeProgram(d.document, "median", d.session.program()->id,
                                   [](rules::Program &p) { p.readings[0].medianOf = 3; }));
        QVERIFY(d.page().finished().get() != before.get());
    }

    void keysMoveTheValueAndPickRows()
    {
        WindowDesk d("Avocet");
        const auto w = d.page().finished();
        d.view().setFocus();
        const double was = *w->handle.now;
        QTest::keyClick(&d.view(), Qt::Key_Right);
        COMPARE_NEAR(*d.session.program()->value(w->handle.value)->si, was + 0.01, 1e-9);
        d.view().pick(0);
        QTest::keyClick(&d.view(), Qt::Key_Down);
        QCOMPARE(d.view().picked(), 1);
        QTest::keyClick(&d.view(), Qt::Key_Space); // switched out
        QVERIFY(d.page().finished()->rows[1].row.off);
        QVERIFY(!d.page().finished()->rows[1].counts());
        QTest::keyClick(&d.view(), Qt::Key_Space);
        QVERIFY(!d.page().finished()->rows[1].row.off);
    }

    void theWorstRunIsDriven()
    {
        WindowDesk d("Avocet");
        const auto w = d.page().finished();
        int row = -1;
        for (size_t i = 0; i < w->rows.size(); ++i)
            if (w->rows[i].below && w->rows[i].below->touch)
                row = int(i);
        QVERIFY(row >= 0);
        d.view().pick(row);
        QTest::mouseClick(d.child<QPushButton>("driveWorst"), Qt::LeftButton);
        QCOMPARE(d.floor()->pageIndex(), int(app::FloorStation::Page::Drive));
        QVERIFY(!d.floor()->shownRun().trace().touches.empty());
        QVERIFY(d.child<QLabel>("verdict")->text().startsWith(
            app::str(w->rows[size_t(row)].row.label)));
    }

    void anotherValue()
    {
        WindowDesk d("Avocet");
        d.page().finished();
        auto *values = d.child<QComboBox>("windowValue");
        const int speed = values->findText("speed");
        QVERIFY(speed >= 0);
        values->setCurrentIndex(speed);
        emit values->activated(speed);
        const auto w = d.page().finished();
        QCOMPARE(w->handle.value, std::string("speed"));
    }

    /// Rule shows it, with its day, until anything but the value itself changes.
    void itStandsOnTheRulerUntilItIsStale()
    {
        WindowDesk d("Avocet");
        QVERIFY(d.session.keptWindow("halt") == nullptr);
        const auto w = d.page().finished();
        const auto *kept = d.session.keptWindow("halt");
        QVERIFY(kept != nullptr);
        QCOMPARE(kept->when, QDate::currentDate());
        QCOMPARE(kept->window->low, w->low);
        QVERIFY(!d.session.isStale(*kept));
        d.session.editProgram("another threshold", [](rules::Program &p) {
            for (auto &v : p.values)
                if (v.name == "halt")
                    v.si = 0.5;
        });
        QVERIFY(!d.session.isStale(*kept));
        d.go(Station::Rule);
        const auto withWindow = d.rule()->grab().toImage();
        d.session.editCar("wider", [](kit::Car &c) { c.geometry.width_m += 0.02; });
        QVERIFY(d.session.isStale(*kept));
        QVERIFY(d.rule()->grab().toImage() != withWindow);
        d.document.undoStack().undo();
        QVERIFY(!d.session.isStale(*kept));
        d.session.selectFloor(test::floorCalled("Boathouse boards"));
        QVERIFY(d.session.isStale(*kept));
        d.session.selectCar(QString("Curlew"));
        QVERIFY(d.session.keptWindow("halt") == nullptr);
    }

    void otherSchoolsOnTheSameRuns()
    {
        WindowDesk d("Avocet");
        d.page().finished();
        auto *schools = d.child<QPushButton>("windowSchools");
        schools->click();
        auto *limits = d.child<QLabel>("windowLimits");
        QTRY_VERIFY_WITH_TIMEOUT(limits->text().contains("Coasting in place of braking"), 60000);
        QVERIFY(limits->text().contains("as it is"));
        schools->click();
        QVERIFY(limits->text().contains("Not simulated"));
        d.session.editCar("wider", [](kit::Car &c) { c.geometry.width_m += 0.02; });
        QVERIFY(!schools->isVisible());
    }

    void onPaperAndAsATable()
    {
        WindowDesk d("Avocet");
        const auto w = d.page().finished();
        QTemporaryDir folder;
        d.page().save(folder.filePath("w.pdf"));
        d.page().save(folder.filePath("w.csv"));
        QVERIFY(test::contents(folder.filePath("w.pdf")).startsWith("%PDF"));
        QCOMPARE(test::contents(folder.filePath("w.pdf")).count("/Type /Page\n"), 1);
        const auto lines = test::contents(folder.filePath("w.csv")).split('\n');
        QCOMPARE(lines.size(), qsizetype(w->rows.size() * w->handle.at.size() + 2));
        QVERIFY(lines[0].startsWith("row,halt_cm,state"));
        const auto said = app::windowLines(*w);
        QVERIFY(said.size() >= int(w->rows.size()) + 2);
        QVERIFY(said.last().contains("no licence"));
        QSignalSpy bar(&d.session, &app::Session::said);
        d.page().save(folder.filePath("no/such/folder/w.pdf"));
        QVERIFY(bar.last().at(1).toBool());
    }

    /// A condition is typed, seen at both ends, taken in, changed, taken out and undone.
    void aConditionOfOnesOwn()
    {
        WindowDesk d("Avocet");
        const auto proposed = d.page().finished();
        const auto dialog = [&] { return d.child<app::RowDialog>("rowDialog"); };
        d.click("windowAdd");
        dialog()->pickKind("doorway");
        auto *gap = dialog()->findChild<QLineEdit *>("row-gap");
        test::Desk::type(gap, "30cm..wide");
        QVERIFY(!dialog()->findChild<QPushButton *>("rowTake")->isEnabled());
        gap->clear();
        test::Desk::type(gap, "30cm..50cm");
        QCOMPARE(dialog()->text(), std::string("doorway:gap=30cm..50cm"));
        const auto take = [&] {
            dialog()->findChild<QPushButton *>("rowTake")->click();
            QCoreApplication::sendPostedEvents(nullptr, QEvent::DeferredDelete);
        };
        take();
        QCOMPARE(d.session.car()->conditions, std::vector<std::string>{"doorway:gap=30cm..50cm"});
        const auto with = d.page().finished();
        QCOMPARE(with->rows.size(), proposed->rows.size() + 1);
        QVERIFY(with->rows.back().row.asked);
        for (size_t i = 0; i < proposed->rows.size(); ++i)
            QCOMPARE(with->rows[i].runs, proposed->rows[i].runs); // taken over

        d.view().pick(int(with->rows.size()) - 1);
        QVERIFY(d.child<QPushButton>("windowRemove")->isVisibleTo(&d.page()));
        d.click("windowChange");
        QCOMPARE(dialog()->findChild<QLineEdit *>("row-gap")->text(), QString("30cm..50cm"));
        auto *changed = dialog()->findChild<QLineEdit *>("row-gap");
        changed->clear();
        test::Desk::type(changed, "60cm");
        take();
        QCOMPARE(d.session.car()->conditions, std::vector<std::string>{"doorway:gap=60cm"});
        const auto now = d.page().finished();
        d.view().pick(int(now->rows.size()) - 1);
        d.click("windowRemove");
        QVERIFY(d.session.car()->conditions.empty());
        d.document.undoStack().undo();
        QCOMPARE(d.session.car()->conditions.size(), size_t(1));
        // A dialog that is still open when another car is selected takes nothing in there.
        d.click("windowAdd");
        d.session.selectCar(QString("Curlew"));
        const auto before = *d.session.car();
        QSignalSpy bar(&d.session, &app::Session::said);
        take();
        QVERIFY(*d.session.car() == before);
        QVERIFY(bar.last().at(0).toString().contains("Another car"));
    }

    /// Kept with the car it stands on Rule's ruler after the file was opened anew, and is stale
    /// there, too, once something else than the value changes.
    void itIsKeptWithTheCar()
    {
        WindowDesk d("Avocet");
        const auto w = d.page().finished();
        d.click("windowKeep");
        QCOMPARE(d.session.car()->windows.size(), size_t(1));
        QVERIFY(!d.child<QPushButton>("windowKeep")->isVisible());
        QCOMPARE(d.page().finished(), w); // nothing was driven anew
        QTemporaryDir folder;
        const auto path = folder.filePath("kept.badger.json");
        VERIFY_OK(d.document.saveAs(path));
        Desk again;
        VERIFY_OK(again.document.open(path));
        again.session.selectCar(QString("Avocet"));
        again.session.selectFloor(test::floorCalled("Slipway"));
        QVERIFY(again.session.keptWindow("halt") == nullptr);
        const auto known = again.session.knownWindow("halt");
        QVERIFY(known && !known->stale);
        QCOMPARE(known->found.low, std::optional(w->si(*w->low)));
        again.session.editProgram("another threshold", [](rules::Program &p) {
            for (auto &v : p.values)
                if (v.name == "halt")
                    v.si = 0.5;
        });
        QVERIFY(!again.session.knownWindow("halt")->stale);
        again.session.editCar("wider", [](kit::Car &c) { c.geometry.width_m += 0.02; });
        QVERIFY(again.session.knownWindow("halt")->stale);
    }

    /// A pair is picked by a key and taken in one step; the map is of the window that is shown.
    void twoNumbersTogether()
    {
        WindowDesk d("Avocet");
        d.page().finished();
        d.click("windowTwo");
        auto &panel = d.page().grid();
        QVERIFY(panel.isVisibleTo(&d.page()) && !d.view().isVisible());
        const auto grid = panel.finished();
        QVERIFY(grid && grid->done);
        QCOMPARE(grid->y.value, std::string("speed"));
        QVERIFY(d.child<QLabel>("windowLimits")->text().contains("A rough map"));
        auto *view = d.child<app::GridView>("gridView");
        QTest::mouseClick(view, Qt::LeftButton, {}, view->cellBox(2, 3).center().toPoint());
        QTest::keyClick(view, Qt::Key_Up);
        QCOMPARE(view->picked(), std::optional(std::pair(size_t(2), size_t(4))));
        QVERIFY(d.child<QLabel>("windowLimits")->text().startsWith(view->words(2, 4)));
        const auto asItIs = d.session.program()->value("halt")->si;
        QTest::mouseDClick(view, Qt::LeftButton, {}, {3, 3}); // beside the cells: nothing is taken
        QCOMPARE(d.session.program()->value("halt")->si, asItIs);
        QTest::keyClick(view, Qt::Key_Return);
        QCOMPARE(d.session.program()->value("halt")->si, std::optional(grid->x.at[2]));
        QCOMPARE(d.session.program()->value("speed")->si, std::optional(grid->y.at[4]));
        d.document.undoStack().undo();
        QVERIFY(d.session.program()->value("halt")->si != std::optional(grid->x.at[2]));
        d.page().finished();
        panel.finished();
        d.click("windowTwo");
        QVERIFY(d.view().isVisibleTo(&d.page()));
    }

    void whatCannotBeDrivenIsSaid()
    {
        WindowDesk d("Redshank"); // what no echo means is not chosen
        QVERIFY(!d.page().finished());
        QVERIFY(d.child<QLabel>("headline")->text().contains("Not to be driven yet"));
        Desk empty;
        empty.document.startEmpty();
        empty.go(Station::Floor);
        empty.floor()->showPageAt(app::FloorStation::Page::Window);
        QVERIFY(!empty.child<QLabel>("headline")->text().isEmpty());
    }

    /// Leaving ends the search; coming back begins it anew.
    void leavingAndComingBack()
    {
        WindowDesk d("Avocet", "Boathouse boards");
        d.floor()->showPageAt(app::FloorStation::Page::Drive);
        d.session.selectCar("Plover");
        d.session.selectCar("Avocet");
        d.floor()->showPageAt(app::FloorStation::Page::Window);
        d.session.selectFloor(test::floorCalled("Slipway"));
        const auto w = d.page().finished();
        QVERIFY(w && w->done);
        QCOMPARE(w->asked.course.floor->name, std::string("Slipway"));
    }
};

BADGER_TEST(TestWindowPage)
#include "test_window_page.moc"
