// SPDX-License-Identifier: GPL-3.0-or-later
// The Floor station: any car's run, its marks and keys, and floors made from kinds.
#include "app/floor/new_floor.h"
#include "support/desk.h"

#include <QComboBox>
#include <QSpinBox>

using namespace badger;
using judge::Station;
using test::Desk;

namespace
{

struct FloorDesk : Desk {
    explicit FloorDesk(const QString &car)
    {
        session.selectCar(car);
        go(Station::Floor);
        floor()->shownRun();
    }
};

} // namespace

class TestFloor final : public QObject
{
    Q_OBJECT
private slots:
    /// Every car with a complete program is driven, on the floor of its mission.
    void everyCarIsDriven()
    {
        Desk d;
        d.go(Station::Floor);
        int drove = 0;
        for (const auto &car : test::demo().cars) {
            d.session.selectCar(QString::fromStdString(car.name));
            const auto &run = d.floor()->shownRun();
            if (car.name == "Redshank") {
                QVERIFY(!run); // what no echo means is not chosen
                continue;
            }
            QVERIFY2(run, car.name.c_str());
            QCOMPARE(run.plan().on->program().id, car.program);
            QCOMPARE(d.session.floor()->id, car.mission->floor);
            QVERIFY(!d.child<QLabel>("verdict")->text().isEmpty());
            ++drove;
        }
        QCOMPARE(drove, 9);
    }

    void aFloorIsPickedForOneCar()
    {
        FloorDesk d("Avocet");
        d.session.selectFloor(test::floorCalled("Boathouse boards"));
        QCOMPARE(d.session.floor()->name, std::string("Boathouse boards"));
        d.session.selectCar("Plover");
        QCOMPARE(d.session.floor()->name, std::string("Twin-line mat"));
        d.session.selectCar("Avocet");
        QCOMPARE(d.session.floor()->name, std::string("Boathouse boards"));
    }

    void anEditDrivesAnew()
    {
        FloorDesk d("Avocet");
        const auto before = *d.floor()->shownRun().run->score.gap_m;
        QVERIFY(app::changeProgram(d.document, "drag", d.session.program()->id,
                                   [](rules::Program &p) { p.values[0].si = 0.40; }));
        const auto &run = d.floor()->shownRun();
        COMPARE_NEAR(*run.run->score.gap_m - before, 0.08, 0.02);
    }

    void wrongReadingsAndTouchesAreGoneTo()
    {
        FloorDesk d("Ruff");
        auto *f = d.floor();
        const auto &run = f->shownRun();
        QVERIFY(!run.run->score.wrong.empty() && !run.trace().touches.empty());
        f->setTime(0);
        QTest::mouseClick(d.child<QPushButton>("nextWrong"), Qt::LeftButton);
        const auto first = f->time_us();
        QCOMPARE(first, run.trace().pings[run.run->score.wrong.front()].sent_us);
        const auto words = d.child<QLabel>("now")->text();
        QVERIFY2(words.contains("none: ") || words.contains("short: ") || words.contains("long: "),
                 qPrintable(words));
        QTest::mouseClick(d.child<QPushButton>("whyTouched"), Qt::LeftButton);
        QCOMPARE(f->time_us(), run.trace().touches.front().time_us);
    }

    void aLineCarStepsFromChangeToChange()
    {
        FloorDesk d("Plover");
        auto *f = d.floor();
        QVERIFY(f->shownRun().trace().pings.empty());
        f->setTime(0);
        auto *strip = d.child<app::TimeStrip>("timeStrip");
        strip->setFocus();
        QTest::keyClick(strip, Qt::Key_Right);
        const auto one = f->time_us();
        QVERIFY(one > 0);
        QTest::keyClick(strip, Qt::Key_Right);
        QVERIFY(f->time_us() > one);
        QTest::keyClick(strip, Qt::Key_Left);
        QCOMPARE(f->time_us(), one);
        QVERIFY(!d.child<QPushButton>("nextWrong")->isVisible());
    }

    void aPlaceOnThePathIsATime()
    {
        FloorDesk d("Avocet");
        auto *view = d.child<app::FloorView>("floorView");
        auto *f = d.floor();
        f->setTime(0);
        QTest::mouseClick(view, Qt::LeftButton, {}, QPoint(view->width() / 2, view->height() / 2));
        QVERIFY(f->time_us() > 500000);
    }

    void aLongerRun()
    {
        FloorDesk d("Sanderling");
        QCOMPARE(d.floor()->shownRun().trace().end_us, std::uint64_t(20000000));
        auto *length = d.child<QComboBox>("runLength");
        length->setCurrentIndex(length->findData(60));
        emit length->activated(length->currentIndex());
        QCOMPARE(d.floor()->shownRun().trace().end_us, std::uint64_t(60000000));
    }

    void aFloorIsMade()
    {
        FloorDesk d("Avocet");
        app::NewFloor maker(d.session, d.theme, nullptr);
        maker.setAttribute(Qt::WA_DeleteOnClose, false);
        auto *make = maker.findChild<QPushButton *>("newFloorMake");
        auto *name = maker.findChild<QLineEdit *>("newFloorName");
        maker.pickKind("corridor");
        const auto key = [&](const char *k) {
            QCoreApplication::sendPostedEvents(nullptr, QEvent::DeferredDelete);
            return maker.findChild<QLineEdit *>(QString("key-") + k);
        };
        QVERIFY(make->isEnabled());
        key("doorway")->selectAll();
        QTest::keyClicks(key("doorway"), "2m");
        QVERIFY(!make->isEnabled());
        QVERIFY(
            maker.findChild<QLabel *>("newFloorSaid")->text().contains("wider than the corridor"));
        key("doorway")->selectAll();
        QTest::keyClicks(key("doorway"), "42cm");
        QVERIFY(make->isEnabled());
        name->selectAll();
        QTest::keyClicks(name, "Slipway"); // is there already
        QVERIFY(!make->isEnabled());
        name->selectAll();
        QTest::keyClicks(name, "Hall");
        QTest::mouseClick(make, Qt::LeftButton);
        QCOMPARE(d.session.floor()->name, std::string("Hall"));
        QCOMPARE(d.session.floor()->walls.size(), size_t(6));
        QVERIFY(d.floor()->shownRun());
        d.document.undoStack().undo();
        QVERIFY(d.session.workshop().floor("Hall") == nullptr);
        QVERIFY(d.session.floor() != nullptr);
    }

    /// Whimbrel is driven by a person: ahead for a while, then let go. What was driven before a key
    /// stays as it was.
    void arrowKeysDriveWhileItPlays()
    {
        FloorDesk d("Whimbrel");
        auto *f = d.floor();
        QVERIFY(!f->shownRun().run->score.moved);
        auto *strip = d.child<app::TimeStrip>("timeStrip");
        strip->setFocus();
        f->setTime(0);
        f->play(true);
        QTest::keyPress(strip, Qt::Key_Up);
        QVERIFY(f->shownRun().run->score.moved);
        QTRY_VERIFY_WITH_TIMEOUT(f->time_us() > 400000, test::patience_ms);
        QTest::keyRelease(strip, Qt::Key_Up);
        const auto let_us = f->time_us();
        const auto &run = f->shownRun();
        QVERIFY(run.run->score.rest_s.has_value());
        QVERIFY(*run.run->score.rest_s > double(let_us) * 1e-6 - 0.05);
        QVERIFY(run.run->score.driven_m > 0.02);
        f->play(false);
        const auto at = f->time_us();
        QTest::keyClick(strip, Qt::Key_Right); // a step again
        QVERIFY(f->time_us() != at);
    }

    void anEmptyWorkshopHasFloors()
    {
        app::Document document;
        QCOMPARE(document.workshop().floors.size(), size_t(3));
        QVERIFY(document.undoStack().isClean());
    }
};

BADGER_TEST(TestFloor)
#include "test_floor.moc"
