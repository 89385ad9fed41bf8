// SPDX-License-Identifier: GPL-3.0-or-later
// The bench of the Wire station, and what is saved and read there.
#include "app/wire/wire_card.h"
#include "app/wire_desk.h"
#include "core/wiring/wire_list.h"

#include <QRegularExpression>
#include <QXmlStreamReader>

using namespace badger;
using app::WireStation;
using test::contents;
using test::Desk;
using test::WireDesk;
using Page = app::WireStation::Page;
using judge::Station;

class TestWireBench final : public QObject
{
    Q_OBJECT
private slots:
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

BADGER_TEST(TestWireBench)
#include "test_wire_bench.moc"
