// SPDX-License-Identifier: GPL-3.0-or-later
// Motion, Changes and Bench of the Wire station, and what is saved and read.
#include "app/wire/wire_card.h"
#include "core/wiring/wire_list.h"
#include "support/desk.h"

#include <QRegularExpression>
#include <QXmlStreamReader>

using namespace badger;
using app::WireStation;
using test::contents;
using test::Desk;
using Page = app::WireStation::Page;
using judge::Station;

namespace
{

struct WireDesk : Desk {
    explicit WireDesk(const QString &car, Page page = Page::Harness)
    {
        session.selectCar(car);
        go(Station::Wire);
        wire()->showPage(page);
        settle();
    }
    static void settle()
    {
        QCoreApplication::sendPostedEvents(nullptr, QEvent::DeferredDelete);
        QApplication::processEvents();
    }
    void click(const char *name)
    {
        now<QPushButton>(name)->click();
        settle();
    }
    app::BenchView *bench() const { return now<app::BenchView>("benchView"); }
    void press(int key)
    {
        auto *view = bench();
        view->setFocus();
        QTest::keyClick(view, Qt::Key(key));
        settle();
    }
    const app::BenchItem &item() const
    {
        return wire()->benchPage().items()[size_t(wire()->benchPage().at())];
    }
    bool finds(const char *code) const
    {
        return test::find(session.current()->wire.findings, code) != nullptr;
    }
    /// The bench is at its first step of the walk.
    void wireAll()
    {
        while (item().hand)
            press(Qt::Key_Space);
    }
};

} // namespace

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

    // ---- bench

    void oneWireAtATime()
    {
        WireDesk d("Avocet", Page::Bench);
        auto &page = d.wire()->benchPage();
        QCOMPARE(page.at(), 0);
        QVERIFY(d.item().hand && d.item().hand->wire.from == "ranger.TRIG");
        d.press(Qt::Key_Space);
        QCOMPARE(page.at(), 1);
        QCOMPARE(d.session.car()->ticks.back(), std::string("wire:ranger.TRIG>board.D8"));
        d.press(Qt::Key_Backspace); // one back, and it is to do again
        QCOMPARE(page.at(), 0);
        QVERIFY(d.item().state == firstpower::Verdict::Open);
        d.press(Qt::Key_Right);
        QCOMPARE(page.at(), 1); // only looked at
        QVERIFY(page.items()[0].state == firstpower::Verdict::Open);
    }

    void itGoesOnWhereItWasLeft()
    {
        WireDesk d("Avocet", Page::Bench);
        for (int i = 0; i < 5; ++i)
            d.press(Qt::Key_Space);
        d.session.selectCar("Curlew");
        WireDesk::settle();
        QCOMPARE(d.wire()->benchPage().at(), 0);
        d.session.selectCar("Avocet");
        WireDesk::settle();
        QCOMPARE(d.wire()->benchPage().at(), 5);
        // A wire that is moved is to do again, the others are not.
        QVERIFY(app::changeCar(d.document, "move", test::carCalled("Avocet"), [](kit::Car &c) {
            for (auto &w : c.wires)
                if (w.from == "ranger.TRIG")
                    w.to = "board.D9";
        }));
        WireDesk::settle();
        int done = 0;
        for (const auto &i : d.wire()->benchPage().items())
            done += i.state == firstpower::Verdict::Right;
        QCOMPARE(done, 4);
    }

    void groundsComeLastWithTheirCaution()
    {
        WireDesk d("Avocet", Page::Bench);
        const auto items = d.wire()->benchPage().items();
        const app::BenchItem *last = nullptr;
        for (const auto &i : items)
            if (i.hand)
                last = &i;
        QCOMPARE(last->hand->stays, std::string("pack.MINUS"));
        QVERIFY(last->caution.contains("last ground"));
        for (const auto &i : items)
            QVERIFY(!i.hand || !i.caution.isEmpty());
    }

    void theTroubleStandsAtItsWire()
    {
        WireDesk d("Curlew", Page::Bench);
        while (d.item().hand->wire.from != "driver.BIN2")
            d.press(Qt::Key_Right);
        auto *trouble = d.now<QLabel>("benchTrouble");
        QVERIFY(trouble->isVisible() && trouble->text().contains("timer T1"));
        d.press(Qt::Key_Right);
        QVERIFY(!d.now<QLabel>("benchTrouble")->isVisible());
    }

    void theWalkJudgesWhatIsTyped()
    {
        WireDesk d("Avocet", Page::Bench);
        d.wireAll();
        QCOMPARE(d.item().key, QString("look:cells-out"));
        d.press(Qt::Key_Space);
        QCOMPARE(d.item().key, QString("ohms:short:board.VIN"));
        const int at = d.wire()->benchPage().at();
        Desk::type(d.now<QLineEdit>("benchValue"), "12 ohm");
        QCOMPARE(d.wire()->benchPage().at(), at); // wrong: it stays and says what it means
        QVERIFY(d.item().state == firstpower::Verdict::Wrong);
        d.click("benchOver");
        QCOMPARE(d.wire()->benchPage().at(), at + 1);
        QVERIFY(d.wire()->benchPage().items()[size_t(at)].state == firstpower::Verdict::Right);
        QCOMPARE(d.session.car()->walk.back().revision, 3);
        Desk::type(d.now<QLineEdit>("benchValue"), "4 V"); // a wrong kind of unit
        QCOMPARE(d.wire()->benchPage().at(), at + 1);
        QVERIFY(d.now<QLineEdit>("benchValue")->property("wrong").toBool());
    }

    void notSoIsSaid()
    {
        WireDesk d("Avocet", Page::Bench);
        d.wireAll();
        d.click("benchWrong");
        QVERIFY(d.item().state == firstpower::Verdict::Wrong);
        QVERIFY(d.wire()->sum().parts.back().caption.contains("not as expected"));
        d.click("benchBack");
        QVERIFY(d.item().state == firstpower::Verdict::Open);
    }

    void aCarWithoutWires()
    {
        WireDesk d("Avocet", Page::Bench);
        QVERIFY(app::changeCar(d.document, "bare", test::carCalled("Avocet"),
                               [](kit::Car &c) { c.wires.clear(), c.history.clear(); }));
        for (const auto page : {Page::Bench, Page::Changes, Page::Motion, Page::Harness}) {
            d.wire()->showPage(page);
            WireDesk::settle();
            QVERIFY(!d.window->grab().isNull());
        }
        d.wire()->showPage(Page::Bench);
        d.press(Qt::Key_Space); // nothing to do, nothing happens
        QVERIFY(d.session.car()->wires.empty());
    }

    void everyPageOfEveryCar()
    {
        WireDesk d("Avocet");
        for (const auto &car : d.session.workshop().cars) {
            d.session.selectCar(QString::fromStdString(car.name));
            for (const auto page : {Page::Motion, Page::Changes, Page::Bench, Page::Harness}) {
                d.wire()->showPage(page);
                WireDesk::settle();
                QVERIFY(!d.wire()->sum().result.isEmpty());
                QVERIFY(!d.window->grab().isNull());
            }
        }
    }

    // ---- files

    void theCardIsOnePage()
    {
        WireDesk d("Avocet");
        for (const auto &car : d.session.workshop().cars) {
            const auto path = d.folder.filePath("card.pdf");
            VERIFY_OK(app::saveCardPdf(path, {car, d.session.catalogue(), "Saltmarsh Sheds"}));
            const auto pdf = contents(path);
            QVERIFY(pdf.startsWith("%PDF-"));
            const QRegularExpression page(R"(/Type\s*/Page\b)");
            QCOMPARE(QString::fromLatin1(pdf).count(page), qsizetype(1));
        }
        const auto refused = app::saveCardPdf("/no/such/folder/x.pdf",
                                              {*d.session.car(), d.session.catalogue(), "Sheds"});
        QVERIFY(!refused && !refused.error().mend.empty());
    }

    void theHarnessAsSvg()
    {
        WireDesk d("Redshank");
        const auto path = d.folder.filePath("h.svg");
        VERIFY_OK(app::saveHarnessSvg(path, {*d.session.car(), d.session.catalogue(), "Sheds"}));
        const auto svg = contents(path);
        QXmlStreamReader xml(svg);
        int paths = 0;
        while (!xml.atEnd()) {
            xml.readNext();
            paths += xml.isStartElement() && xml.name() == u"path";
        }
        QVERIFY2(!xml.hasError(), qPrintable(xml.errorString()));
        QVERIFY(paths >= 2 * int(d.session.car()->wires.size())); // outline and colour
        QVERIFY(svg.contains("half-bridge chip") && svg.contains("EN9"));
    }

    void partTestsAreWritten()
    {
        WireDesk d("Curlew");
        QTemporaryDir folder;
        d.wire()->writePartTests(folder.path());
        QVERIFY(d.message().contains("curlew_test_motors.cpp"));
        QVERIFY(contents(folder.filePath("curlew_test_servo.cpp")).contains("SIGNAL = 4"));
        QVERIFY(QFile::exists(folder.filePath("board_support.h")));
        d.session.selectCar("Turnstone");
        d.wire()->writePartTests(folder.path());
        QVERIFY(d.message().contains("no board"));
        d.session.selectCar("Avocet");
        d.wire()->writePartTests("/no/such/folder");
        QVERIFY(!d.message().contains("Written"));
    }

    void theProgramsActionsAreNamed()
    {
        WireDesk d("Avocet", Page::Motion);
        auto *view = d.now<app::MotionView>("motion");
        const auto before = view->grab().toImage();
        view->show(view->table(), {}); // without a program
        QVERIFY(view->grab().toImage() != before);
    }

    void aListIsReadAndWhatIsWrongIsSaid()
    {
        WireDesk d("Avocet");
        d.wire()->importList("from,to,colour\nranger.ECHO,board.D9,pink\nsonar.X,board.D3,red\n");
        QVERIFY(d.message().contains("1 wires added") &&
                d.message().contains("'sonar' is no part"));
        QCOMPARE(d.session.car()->wires.size(), size_t(20));
        d.document.undoStack().undo();
        QCOMPARE(d.session.car()->wires.size(), size_t(19));
        QByteArray junk = "from,to,colour\n";
        for (int i = 0; i < 5000; ++i)
            junk += "a,b,c\n";
        d.wire()->importList(junk);
        QVERIFY(d.message().contains("and 4988 rows more") && d.message().size() < 3000);
        d.wire()->importList("nonsense");
        QVERIFY(d.message().contains("from,to,colour"));
        // Its own list brings nothing new and leaves no step.
        const int steps = d.document.undoStack().count();
        d.wire()->importList(QByteArray::fromStdString(wiring::wireListCsv(*d.session.car())));
        QCOMPARE(d.document.undoStack().count(), steps);
    }
};

BADGER_TEST(TestWireStation)
#include "test_wire_station.moc"
