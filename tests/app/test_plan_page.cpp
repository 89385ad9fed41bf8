// SPDX-License-Identifier: GPL-3.0-or-later
// The floor plan at the Floor station: drawn by hand and by numbers, read and written.
#include "app/floor/plan_page.h"
#include "app/floor/take_drawing.h"
#include "support/desk.h"

#include <QComboBox>
#include <QLineEdit>

using namespace badger;
using judge::Station;
using test::Desk;

namespace
{

struct PlanDesk : Desk {
    explicit PlanDesk(const QString &car = "Avocet", const std::string &on = "Boathouse boards")
    {
        session.selectCar(car);
        session.selectFloor(test::floorCalled(on));
        go(Station::Floor);
        floor()->showPageAt(app::FloorStation::Page::Plan);
    }
    app::PlanPage &page() { return *floor()->plan(); }
    app::PlanView &view() { return *page().view(); }
    const floor::Floor &shown() { return *session.floor(); }
    QPoint at(const floor::Point &p) { return view().placeOnScreen(p).toPoint(); }
    void drag(const floor::Point &from, const floor::Point &to,
              Qt::KeyboardModifiers keys = Qt::NoModifier)
    {
        QTest::mousePress(&view(), Qt::LeftButton, keys, at(from));
        QMouseEvent move(QEvent::MouseMove, at(to), view().mapToGlobal(at(to)), Qt::NoButton,
                         Qt::LeftButton, keys);
        QApplication::sendEvent(&view(), &move);
        QTest::mouseRelease(&view(), Qt::LeftButton, keys, at(to));
    }
    void type(const char *number, const QString &text)
    {
        auto *field = child<QLineEdit>(number);
        field->selectAll();
        QTest::keyClicks(field, text);
        QTest::keyClick(field, Qt::Key_Return);
    }
};

} // namespace

class TestPlanPage final : public QObject
{
    Q_OBJECT
private slots:
    void aThingIsDrawnElsewhereAndBack()
    {
        PlanDesk d;
        const auto before = d.shown();
        const auto post = before.posts[0].at;
        d.drag(post, {post.x_m + 0.303, post.y_m - 0.2});
        // Whole centimetres, nothing else moved, one step, and the car is driven on it.
        QVERIFY(std::abs(d.shown().posts[0].at.x_m * 100 -
                         std::round(d.shown().posts[0].at.x_m * 100)) < 1e-6);
        QVERIFY(std::abs(d.shown().posts[0].at.x_m - post.x_m - 0.3) < 0.02);
        QCOMPARE(d.shown().walls, before.walls);
        QCOMPARE(d.document.undoStack().undoText(), QString("Move bench leg"));
        const auto &run = d.floor()->shownRun();
        QCOMPARE(run.drive->course().floor->posts[0].at, d.shown().posts[0].at);
        d.document.undoStack().undo();
        QCOMPARE(d.shown(), before);
        QVERIFY(!d.document.undoStack().canUndo());
    }

    /// While it is drawn the run is driven on what it would become, and nothing is kept.
    void theRunFollowsTheHand()
    {
        PlanDesk d;
        const auto before = d.shown();
        const auto post = before.posts[0].at;
        const floor::Point to{post.x_m + 0.4, post.y_m};
        QTest::mousePress(&d.view(), Qt::LeftButton, {}, d.at(post));
        QMouseEvent move(QEvent::MouseMove, d.at(to), d.view().mapToGlobal(d.at(to)), Qt::NoButton,
                         Qt::LeftButton, Qt::NoModifier);
        QApplication::sendEvent(&d.view(), &move);
        const auto run = d.floor()->shownRun();
        QVERIFY(std::abs(run.drive->course().floor->posts[0].at.x_m - to.x_m) < 0.02);
        QCOMPARE(d.shown(), before);
        QVERIFY(!d.document.undoStack().canUndo());
        // Back where it was: no step, and the run of what is kept.
        QMouseEvent back(QEvent::MouseMove, d.at(post), d.view().mapToGlobal(d.at(post)),
                         Qt::NoButton, Qt::LeftButton, Qt::NoModifier);
        QApplication::sendEvent(&d.view(), &back);
        QTest::mouseRelease(&d.view(), Qt::LeftButton, {}, d.at(post));
        QVERIFY(!d.document.undoStack().canUndo());
        QCOMPARE(d.floor()->shownRun().drive->course().floor->posts[0].at, post);
    }

    void byKeysAndNumbers()
    {
        PlanDesk d;
        d.view().setFocus();
        QTest::keyClick(&d.view(), Qt::Key_PageDown);
        QCOMPARE(d.view().picked()->kind, floor::Kind::Start);
        const auto nose = d.shown().start.nose;
        for (int i = 0; i < 3; ++i)
            QTest::keyClick(&d.view(), Qt::Key_Right);
        QTest::keyClick(&d.view(), Qt::Key_Up, Qt::ShiftModifier);
        QVERIFY(std::abs(d.shown().start.nose.x_m - nose.x_m - 0.03) < 1e-9);
        QVERIFY(std::abs(d.shown().start.nose.y_m - nose.y_m - 0.10) < 1e-9);
        d.type("number-looks", "45 deg");
        QVERIFY(std::abs(d.shown().start.heading_rad - 0.785398) < 1e-5);
        d.document.undoStack().undo();
        d.document.undoStack().undo(); // the arrow keys on one thing are one step
        QCOMPARE(d.shown().start.nose, nose);
        // A number outside the plan changes nothing and says its range.
        QSignalSpy said(&d.session, &app::Session::said);
        QTest::keyClick(&d.view(), Qt::Key_PageDown);
        QTest::keyClick(&d.view(), Qt::Key_PageUp);
        d.type("number-nose, right", "9000 cm");
        QVERIFY(said.last().first().toString().contains("0 cm to 360 cm"));
        QCOMPARE(d.shown().start.nose, nose);
    }

    void addedNamedTakenAway()
    {
        PlanDesk d;
        const auto before = d.shown();
        for (const auto *name : {"addWall", "addBox", "addPost", "addLine", "addMover"}) {
            d.child<QPushButton>(name)->click();
            QVERIFY2(d.view().picked(), name);
            d.child<QLineEdit>("planName")->setText("gate");
            QTest::keyClick(d.child<QLineEdit>("planName"), Qt::Key_Return);
            QCOMPARE(floor::nameOf(d.shown(), *d.view().picked()), std::string("gate"));
            QTest::keyClick(&d.view(), Qt::Key_Delete);
            QVERIFY2(d.shown() == before, name);
        }
        QVERIFY(!d.child<QPushButton>("removeThing")->isEnabled());
        // The floor's own numbers and name.
        d.type("number-air", "31 C");
        QCOMPARE(d.shown().air_degC, 31.0);
        d.child<QLineEdit>("planName")->setText("Slipway"); // there is one
        QTest::keyClick(d.child<QLineEdit>("planName"), Qt::Key_Return);
        QCOMPARE(d.shown().name, std::string("Boathouse boards"));
    }

    void writtenAndRead()
    {
        PlanDesk d;
        QTemporaryDir folder;
        const auto before = d.shown();
        d.page().saveJson(folder.filePath("f.json"));
        d.page().saveSvg(folder.filePath("f.svg"));
        d.page().readFile(folder.filePath("f.json"));
        QCOMPARE(d.shown().name, std::string("Boathouse boards 2"));
        QCOMPARE(d.shown().walls, before.walls);
        d.page().readFile(folder.filePath("f.svg"));
        auto *dialog = d.window->findChild<app::TakeDrawing *>();
        QVERIFY(dialog);
        auto *take = dialog->findChild<QPushButton *>("drawingTake");
        QVERIFY(take->isEnabled()); // its own drawing says what its colours are
        auto *wall = dialog->findChild<QComboBox *>("meaning-#1e2629");
        QCOMPARE(wall->currentText(), QString("wall"));
        dialog->findChild<QLineEdit *>("drawingScale")->clear();
        emit dialog->findChild<QLineEdit *>("drawingScale")->textEdited({});
        QVERIFY(!take->isEnabled());
        QVERIFY(dialog->findChild<QLabel *>("drawingSaid")->text().contains("centimetre"));
        dialog->findChild<QLineEdit *>("drawingScale")->setText("5");
        emit dialog->findChild<QLineEdit *>("drawingScale")->textEdited({});
        QVERIFY(take->isEnabled());
        dialog->findChild<QLineEdit *>("drawingName")->setText("Twice");
        take->click();
        QCOMPARE(d.shown().name, std::string("Twice"));
        QVERIFY(std::abs(d.shown().width_m - 2 * before.width_m) < 1e-6);
        // Nonsense is refused in words.
        QSignalSpy said(&d.session, &app::Session::said);
        test::write(folder.filePath("bad.svg"), "<html/>");
        d.page().readFile(folder.filePath("bad.svg"));
        QVERIFY(said.last().first().toString().contains("no SVG"));
        d.page().readFile(folder.filePath("missing.svg"));
        QCOMPARE(said.size(), 2);
    }

    /// A mat over sheets: as many as its size takes, each line at its own width.
    void matAtItsOwnSize()
    {
        PlanDesk d("Plover", "Loft mat");
        QTemporaryDir folder;
        QSignalSpy said(&d.session, &app::Session::said);
        const auto path = folder.filePath("mat.pdf");
        d.page().saveMat(path);
        QVERIFY(said.last().first().toString().contains("sheets"));
        const auto bytes = test::contents(path);
        QVERIFY(bytes.startsWith("%PDF"));
        // 2.4 m by 1.8 m on 186 by 273 mm less 1 cm: 14 columns of 7 rows at most.
        const int pages = int(bytes.count("/Type /Page\n"));
        QCOMPARE(said.last().first().toString().section(' ', 0, 0).toInt(), pages);
        QVERIFY(pages > 20 && pages < 98);
    }

    void withoutAFloor()
    {
        PlanDesk d;
        d.session.edit("x", [](workshop::Workshop &w) {
            w = {};
            w.name = "Empty";
        });
        QVERIFY(d.child<QLabel>("planVerdict")->text().contains("no floor"));
        QVERIFY(!d.child<QPushButton>("addWall")->isEnabled());
        QVERIFY(d.child<QPushButton>("readFloor")->isEnabled());
        QTest::mouseClick(&d.view(), Qt::LeftButton);
        QTest::keyClick(&d.view(), Qt::Key_Delete);
    }
};

BADGER_TEST(TestPlanPage)
#include "test_plan_page.moc"
