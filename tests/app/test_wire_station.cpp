// SPDX-License-Identifier: GPL-3.0-or-later
// Motion and Changes of the Wire station.
#include "app/wire/wire_card.h"
#include "app/wire_desk.h"
#include "core/base/noise.h"
#include "core/nets/drive_map.h"
#include "core/wiring/wire_list.h"

#include <QCheckBox>

#include <QRegularExpression>
#include <QXmlStreamReader>

using namespace badger;
using app::WireStation;
using test::contents;
using test::Desk;
using test::WireDesk;
using Page = app::WireStation::Page;
using judge::Station;

class TestWireStation final : public QObject
{
    Q_OBJECT
private slots:
    // ---- adding by keyboard

    void echoAndD7()
    {
        WireDesk d("Avocet");
        for (const auto *end : {"ranger.ECHO", "ranger.TRIG"})
            QVERIFY(
                app::changeCar(d.document, "unplug", test::carCalled("Avocet"), [&](kit::Car &c) {
                    std::erase_if(c.wires, [&](const kit::Wire &w) { return w.from == end; });
                }));
        auto *from = d.child<QLineEdit>("wireFrom");
        auto *to = d.child<QLineEdit>("wireTo");
        from->clear();
        to->clear();
        from->setFocus();
        QTest::keyClicks(from, "echo");
        QTest::keyClick(from, Qt::Key_Return);
        QVERIFY(to->hasFocus());
        QTest::keyClicks(to, "D12");
        QTest::keyClick(to, Qt::Key_Return);
        const auto &w = d.session.car()->wires.back();
        QCOMPARE(w.from, std::string("ranger.ECHO"));
        QCOMPARE(w.to, std::string("board.D12"));
        QCOMPARE(w.colour, std::string("yellow"));           // one that no other signal has
        QVERIFY(from->text().isEmpty() && from->hasFocus()); // ready for the next
    }

    // ---- the harness that kit and program ask for

    void everyKitIsWiredWithTwoClicks()
    {
        for (size_t kit = 0; kit < io::startingKits().size(); ++kit) {
            Desk d;
            d.window->newCar(kit);
            d.go(Station::Wire);
            const auto bare = *d.session.car();
            d.now<QPushButton>("proposeHarness")->click();
            QVERIFY(d.now<QLabel>("proposalWords")->text().contains("wires more"));
            QCOMPARE(*d.session.car(), bare); // it is only looked at
            QCOMPARE(d.child<app::HarnessView>("harness")->layoutOfHarness().wires.size(),
                     wireup::proposal(bare, d.session.catalogue()).wires.size());
            d.now<QPushButton>("proposalAll")->click();
            QVERIFY(d.session.current()->wire.findings.empty());
            QVERIFY(!d.session.car()->wires.empty());
            QVERIFY(!d.now<QLabel>("proposalWords")->isVisible());
            d.document.undoStack().undo(); // one step
            QCOMPARE(*d.session.car(), bare);
        }
    }

    void moduleByModuleAndWireByWire()
    {
        Desk d;
        d.window->newCar(0);
        d.go(Station::Wire);
        d.wire()->propose();
        const auto all = wireup::proposal(*d.session.car(), d.session.catalogue()).wires.size();
        d.now<QPushButton>("proposalNext")->click();
        QCOMPARE(d.session.car()->wires.size(), size_t(1));
        QVERIFY(d.now<QLabel>("proposalWords")->text().contains(QString::number(all - 1)));
        auto *modules = d.now<QComboBox>("proposalModule");
        const int left = modules->findText("left", Qt::MatchStartsWith);
        QVERIFY(left > 0);
        modules->setCurrentIndex(left);
        emit modules->activated(left);
        QCOMPARE(d.session.car()->wires.size(), size_t(3));
        // A wire that is picked says why; an end that is dragged there changes nothing.
        auto *harness = d.now<app::HarnessView>("harness");
        emit harness->wirePicked(int(harness->layoutOfHarness().wires.size()) - 1);
        QVERIFY(d.now<QLabel>("proposalWhy")->text().contains("board."));
        const auto before = *d.session.car();
        emit harness->endMoved(0, true, "board.D9");
        QCOMPARE(*d.session.car(), before);
        // Another car: the proposal is gone, and it is none for that car.
        d.session.selectCar(QString("Avocet"));
        WireDesk::settle();
        QVERIFY(!d.now<QPushButton>("proposalAll")->isVisible());
        d.wire()->propose();
        QVERIFY(d.message().contains("Nothing to do"));
    }

    void whereThereIsNoHarnessTheProofStands()
    {
        WireDesk d("Curlew");
        d.wire()->propose();
        QVERIFY(d.now<QLabel>("proposalWords")->text().startsWith("No harness: 5 functions"));
        QVERIFY(d.now<QLabel>("proposalSmall")
                    ->text()
                    .contains("What would free it: move driver.BIN2 from D10 to D11, and "
                              "ranger.ECHO from D11 to D10"));
        QVERIFY(!d.now<QPushButton>("proposalAll")->isEnabled());
        d.now<QPushButton>("proposalLeave")->click();
        QVERIFY(d.now<QPushButton>("proposeHarness")->isVisible());
    }

    /// Every click on a terminal makes the layout anew, while the click is still being handled.
    void anyTerminalCanBeClicked()
    {
        for (const auto *car : {"Avocet", "Curlew", "Plover"}) {
            WireDesk d(car);
            auto *harness = d.child<app::HarnessView>("harness");
            std::vector<std::string> names;
            for (const auto &part : harness->layoutOfHarness().parts)
                for (const auto &t : part.terminals)
                    names.push_back(t.name);
            QVERIFY(names.size() > 30);
            Noise noise(11);
            for (int click = 0; click < 300; ++click) {
                const auto &name = names[size_t(noise.uniform() * double(names.size()))];
                const auto *t = harness->layoutOfHarness().terminal(name);
                QVERIFY2(t, name.c_str());
                QTest::mouseClick(harness, Qt::LeftButton, {}, (t->at + QPointF(26, 2)).toPoint());
                WireDesk::settle();
            }
            QVERIFY(harness->pickedWire() < int(d.session.car()->wires.size()));
        }
    }

    void coloursFollowTheEnds()
    {
        WireDesk d("Avocet");
        const auto add = [&](const QString &from, const QString &to) {
            d.child<app::HarnessView>("harness")->pickWire(-1);
            d.child<QLineEdit>("wireFrom")->setText(from);
            d.child<QLineEdit>("wireTo")->setText(to);
            d.click("wireAdd");
            return d.session.car()->wires.back().colour;
        };
        QCOMPARE(add("board.GND3", "pack.MINUS"), std::string("black"));
        QCOMPARE(add("switch.OUT", "driver.5V"), std::string("red"));
        d.choose("wireColour", "orange"); // a person's choice is kept
        QCOMPARE(add("board.D9", "board.D10"), std::string("orange"));
    }

    // ---- meter

    void theMeterFollowsTheHand()
    {
        WireDesk d("Avocet");
        auto *harness = d.child<app::HarnessView>("harness");
        auto *meter = d.window->findChild<app::MeterBar *>();
        QVERIFY(!meter->isVisible() && !meter->shown());
        d.click("meterOn");
        QVERIFY(meter->isVisible());
        QCOMPARE(meter->shown()->parts.at("left"), QString("stands"));
        const auto &pins = d.session.car()->programPins;
        const auto left =
            nets::wheelDrive({*d.session.car(), d.session.catalogue()}, kit::Side::Left);
        const auto twice = [&](const std::string &terminal) {
            const auto *t = harness->layoutOfHarness().terminal("board." + pins.at(terminal));
            QTest::mouseDClick(harness, Qt::LeftButton, {},
                               (t->at + QPointF(26 - 20, 2)).toPoint());
        };
        twice(left->enable);
        QCOMPARE(meter->shown()->parts.at("left"), QString("stands")); // braked
        twice(left->forward);
        QVERIFY2(meter->shown()->parts.at("left").startsWith("forward, 0.25 A"),
                 qPrintable(meter->shown()->parts.at("left")));
        QVERIFY(meter->shown()->set.at("board." + pins.at(left->forward)));
        // A wire's current stands in the bar below, with the volts of its ends.
        for (size_t i = 0; i < d.session.car()->wires.size(); ++i)
            if (d.session.car()->wires[i].to == "driver.VS") {
                harness->pickWire(int(i));
                emit harness->wirePicked(int(i));
            }
        QVERIFY2(d.wire()->sum().result.endsWith(" A"), qPrintable(d.wire()->sum().result));
        d.child<QCheckBox>("meterOpen")->click();
        QCOMPARE(meter->shown()->parts.at("left"), QString("stands"));
        QCOMPARE(d.wire()->sum().result, QString("0 mA"));
        d.child<QCheckBox>("meterOpen")->click();
        d.child<QCheckBox>("meterHeld")->click();
        QVERIFY(meter->shown()->parts.at("left").startsWith("held, 0.8"));
        // An edit is measured at once; levels stay as they were set.
        d.session.editCar("x", [](kit::Car &car) {
            std::erase_if(car.wires, [](const kit::Wire &w) { return w.to == "driver.VS"; });
        });
        WireDesk::settle();
        QCOMPARE(meter->shown()->parts.at("left"), QString("stands"));
        d.click("meterOn");
        QVERIFY(!meter->shown() && !meter->isVisible());
        QVERIFY(d.wire()->sum().result.endsWith("wires") || d.wire()->sum().result == "red");
    }

    // ---- motion

    void aRowOfMotionUnfolds()
    {
        WireDesk d("Turnstone", Page::Motion);
        auto *view = d.now<app::MotionView>("motion");
        QCOMPARE(view->table().rows.size(), size_t(4));
        view->setFocus();
        QTest::keyClick(view, Qt::Key_Up); // from none to the last
        QCOMPARE(view->picked(), 0);
        QTest::keyClick(view, Qt::Key_Up);
        QCOMPARE(view->picked(), 3);
        const auto sum = d.wire()->sum();
        QCOMPARE(sum.result, QString("straight ahead"));
        QVERIFY(sum.parts.front().text.contains("OUT3 high"));
        QVERIFY(view->accessibleDescription().contains("left-eye light"));
    }

    void theBenchTestOffersItsRemedies()
    {
        WireDesk d("Avocet", Page::Motion);
        const auto before = *d.session.car();
        QVERIFY(d.window->findChild<QPushButton *>("remedy0") == nullptr);
        d.choose("testLeft", "went backward");
        d.click("remedy1"); // the leads stay, the program follows
        const auto *car = d.session.car();
        QVERIFY(!(car->wires == before.wires));
        QCOMPARE(car->wiringRevision, 4);
        QVERIFY(d.message().contains("Load the program again"));
        QCOMPARE(d.now<QComboBox>("testLeft")->currentIndex(), 0); // answered
        d.document.undoStack().undo();
        QVERIFY(*d.session.car() == before);
    }

    void whatTheHandDoesChangesNothingHere()
    {
        // The drawing was right: the hand makes the car like it. Other differences stay as they
        // are.
        WireDesk d("Avocet", Page::Motion);
        QVERIFY(app::changeCar(d.document, "another pin", test::carCalled("Avocet"),
                               [](kit::Car &c) { c.programPins["driver.IN3"] = "D9"; }));
        const auto before = *d.session.car();
        d.choose("testRight", "went backward");
        d.click("remedy0");
        QVERIFY(*d.session.car() == before);
        QVERIFY(d.message().contains("Test both wheels again"));
    }

    void theAnswersBelongToTheirCar()
    {
        WireDesk d("Avocet", Page::Motion);
        d.choose("testRight", "did not turn");
        d.session.selectCar("Curlew");
        WireDesk::settle();
        QCOMPARE(d.now<QComboBox>("testRight")->currentIndex(), 0);
    }

    // ---- changes

    void whatChangedIsShown()
    {
        WireDesk d("Avocet", Page::Changes);
        QCOMPARE(d.wire()->sum().result, QString("1 step"));
        d.choose("revisionFrom", "revision 1");
        QCOMPARE(d.wire()->sum().result, QString("4 steps"));
        QVERIFY(!d.now<QPushButton>("takePlan")->isEnabled());
    }

    void thePlanMendsCurlew()
    {
        WireDesk d("Curlew", Page::Changes);
        QVERIFY(d.finds("pwm-taken-by-servo"));
        d.click("planPins");
        QCOMPARE(d.wire()->sum().parts.front().text, QString("2"));
        emit d.session.refreshed(); // a search that ends meanwhile leaves the plan where it is
        WireDesk::settle();
        QCOMPARE(d.wire()->sum().parts.front().text, QString("2"));
        d.click("takePlan");
        QVERIFY(!d.finds("pwm-taken-by-servo"));
        QCOMPARE(d.session.car()->wiringRevision, 3);
        QCOMPARE(d.session.car()->programPins.at("driver.BIN2"), std::string("D11"));
        // The reason is proposed, and the revision finished with the person's own words.
        auto *reason = d.now<QLineEdit>("revisionReason");
        QVERIFY(reason->isVisible() && reason->text() == "pins planned anew");
        Desk::type(reason, "motor input off the servo's timer");
        const auto &last = d.session.car()->history.back();
        QCOMPARE(last.number, 3);
        QCOMPARE(english(last.reason), std::string("motor input off the servo's timer"));
        QVERIFY(!d.now<QLineEdit>("revisionReason")->isVisible());
        while (d.document.undoStack().canUndo())
            d.document.undoStack().undo();
        QVERIFY(d.finds("pwm-taken-by-servo"));
    }

    void aRevisionNeedsItsReason()
    {
        WireDesk d("Curlew", Page::Changes);
        d.click("planPins");
        d.click("takePlan");
        d.now<QLineEdit>("revisionReason")->clear();
        d.click("finishRevision");
        QVERIFY(d.message().contains("reason"));
        QCOMPARE(d.session.car()->history.size(), size_t(2));
    }

    void nextExercise()
    {
        WireDesk d("Avocet", Page::Changes);
        d.choose("nextExercise", "glance");
        QVERIFY(d.now<QPushButton>("takePlan")->isEnabled());
        d.click("takePlan");
        QVERIFY(d.session.car()->instance("servo"));
        QCOMPARE(d.session.car()->mission->behaviour, std::string("glance"));
        QCOMPARE(d.now<QLineEdit>("revisionReason")->text(), QString("re-pinned for 'glance'"));
    }

    void noBoardNoPlan()
    {
        WireDesk d("Turnstone", Page::Changes);
        d.click("planPins");
        QVERIFY(d.message().contains("no board"));
    }

    /// A driver that is too small: another one with its wires led to the same jobs is seen in the
    /// harness, a support that drags less on the plan of the car; each taken in one step.
    void anotherPartIsSeenBeforeItIsTaken()
    {
        WireDesk d("Redshank");
        d.go(judge::Station::Kit);
        const auto before = *d.session.car();
        const QPushButton *bridge = nullptr;
        const auto isThere = [&] { // the search may have ended before anybody listened
            for (const auto *b : d.window->findChildren<QPushButton *>())
                if (b->objectName().startsWith("way:channel-over-peak") &&
                    b->text().contains("dual bridge module"))
                    bridge = b;
            return bridge != nullptr;
        };
        QTRY_VERIFY_WITH_TIMEOUT(isThere(), test::patience_ms);
        WireDesk::settle();
        QVERIFY(isThere());
        d.click(bridge->objectName().toUtf8().constData());
        QCOMPARE(d.session.station(), judge::Station::Wire);
        QVERIFY(d.now<QLabel>("fixWords")->text().contains("dual bridge module as driver"));
        QVERIFY(*d.session.car() == before); // only looked at
        d.click("fixTake");
        const auto &after = *d.session.car();
        QCOMPARE(after.instance("driver")->partId, std::string("dual-bridge-module"));
        QCOMPARE(after.programPins.at("driver.IN1"), before.programPins.at("driver.IN2"));
        QCOMPARE(after.wiringRevision, before.wiringRevision + 1);
        d.document.undoStack().undo();
        QVERIFY(*d.session.car() == before);
    }

    void anotherSupportIsSeenOnThePlan()
    {
        WireDesk d("Godwit");
        d.go(judge::Station::Kit);
        QTRY_VERIFY_WITH_TIMEOUT(d.window->findChild<QPushButton *>("way:caster-carries:0"),
                                 test::patience_ms);
        WireDesk::settle();
        d.click("way:caster-carries:0");
        QCOMPARE(d.session.station(), judge::Station::Kit);
        auto *words = d.now<QLabel>("kitFixWords");
        QVERIFY(words->isVisibleTo(d.kit()) && words->text().contains("as support"));
        d.click("kitFixLeave");
        QVERIFY(!d.session.tried() && !words->isVisibleTo(d.kit()));
        d.click("way:caster-carries:0");
        d.click("kitFixTake");
        QVERIFY(!test::find(d.session.current()->kit.findings.findings, "caster-carries"));
    }

    /// What mends a finding is looked for in the background, seen in the harness, and taken or
    /// left.
    void aFixIsSeenBeforeItIsTaken()
    {
        WireDesk d("Avocet");
        const auto right = d.session.car()->wires;
        QSignalSpy found(&d.session, &app::Session::fixesFound);
        d.session.editCar("Turn the pack", [](kit::Car &car) {
            for (auto &w : car.wires)
                for (auto *end : {&w.from, &w.to})
                    if (*end == "pack.PLUS")
                        *end = "pack.MINUS";
                    else if (*end == "pack.MINUS")
                        *end = "pack.PLUS";
        });
        QVERIFY(!d.finds("pack-backwards")); // that it is the pack is only known once it was tried
        QVERIFY(found.wait(test::patience_ms));
        WireDesk::settle();
        QVERIFY(d.finds("pack-backwards"));
        const auto wrong = d.session.car()->wires;
        d.click("fix:pack-backwards");
        auto *words = d.now<QLabel>("fixWords");
        QVERIFY(words->isVisibleTo(d.wire()) &&
                words->text().contains("Change over what is wired"));
        QVERIFY(d.session.car()->wires == wrong); // only looked at
        d.click("fixLeave");
        QVERIFY(!d.session.tried() && d.session.car()->wires == wrong);
        d.click("fix:pack-backwards");
        d.click("fixTake");
        QVERIFY(d.session.car()->wires == right);
        QVERIFY(!d.finds("pack-backwards") && !d.session.tried());
        d.document.undoStack().undo();
        QVERIFY(found.wait(test::patience_ms)); // it is looked for again
        QVERIFY(d.finds("pack-backwards"));
    }
};

BADGER_TEST(TestWireStation)
#include "test_wire_station.moc"
