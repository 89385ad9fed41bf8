// SPDX-License-Identifier: GPL-3.0-or-later
// Make it, Parts and Compare.
#include "support/desk.h"

#include <QListWidget>
#include <QMenu>
#include <QRegularExpression>

using namespace badger;
using app::KitStation;
using judge::Station;
using test::contents;
using test::Desk;

namespace
{

struct PageDesk : Desk {
    PageDesk(const QString &car, KitStation::Page page)
    {
        session.selectCar(car);
        go(Station::Kit);
        kit()->showPage(page);
        QApplication::processEvents();
    }
    void choosePart(const QString &name)
    {
        const auto found = child<QListWidget>("partsList")->findItems(name, Qt::MatchExactly);
        QVERIFY2(found.size() == 1, qPrintable(name));
        child<QListWidget>("partsList")->setCurrentItem(found.front());
    }
};

} // namespace

class TestKitPages final : public QObject
{
    Q_OBJECT
private slots:
    void aGateBeforeEachStep()
    {
        PageDesk d("Curlew", KitStation::Page::Make);
        QVERIFY(!d.now<QCheckBox>("step:drill")->isEnabled());
        for (const auto *item : {"drill:line", "drill:laid-out", "drill:balance", "drill:cells"}) {
            QVERIFY(!d.now<QCheckBox>("step:drill")->isEnabled());
            d.now<QCheckBox>(item)->click();
        }
        QVERIFY(d.now<QCheckBox>("step:drill")->isEnabled());
        d.now<QCheckBox>("step:drill")->click();
        QVERIFY(d.now<QCheckBox>("step:drill")->isChecked());
        QCOMPARE(d.session.car()->ticks.size(), size_t(5));
        // Everything ticked can be taken back, and undone.
        d.now<QCheckBox>("step:drill")->click();
        QCOMPARE(d.session.car()->ticks.size(), size_t(4));
        d.document.undoStack().undo();
        QCOMPARE(d.session.car()->ticks.size(), size_t(5));
    }

    void theHandLeadsThroughTheSteps()
    {
        PageDesk d("Godwit", KitStation::Page::Make);
        QCOMPARE(english(d.session.current()->next.title), std::string("Lay everything out."));
        d.now<QCheckBox>("step:layout")->click();
        QCOMPARE(english(d.session.current()->next.title),
                 std::string("Drill and cut: look first."));
        QVERIFY(english(d.session.current()->next.caution).find("eye protection") !=
                std::string::npos);
    }

    void fastenersAreTicked()
    {
        PageDesk d("Avocet", KitStation::Page::Make);
        d.now<QCheckBox>("have:screw-m3-6")->click();
        QVERIFY(std::count(d.session.car()->ticks.begin(), d.session.car()->ticks.end(),
                           "have:screw-m3-6") == 1);
    }

    void templateAsSvg()
    {
        PageDesk d("Avocet", KitStation::Page::Make);
        const auto path = d.folder.filePath("avocet.svg");
        VERIFY_OK(d.kit()->makePage().saveSvg(path));
        const auto svg = contents(path);
        QVERIFY(svg.contains("width=\"174.00mm\"") && svg.contains("Avocet, Saltmarsh Sheds"));
        const auto refused = d.kit()->makePage().saveSvg("/no/such/folder/x.svg");
        QVERIFY(!refused && !refused.error().text().empty());
    }

    void templateAsPdfIsFullSize()
    {
        PageDesk d("Avocet", KitStation::Page::Make);
        const auto path = d.folder.filePath("avocet.pdf");
        VERIFY_OK(d.kit()->makePage().savePdf(path));
        const auto pdf = contents(path);
        QVERIFY(pdf.startsWith("%PDF-"));
        // 210 mm of car fit on A4: 595 by 842 points of 1/72 inch.
        const QRegularExpression box(R"(/MediaBox \[0 0 ([0-9.]+) ([0-9.]+)\])");
        const auto m = box.match(QString::fromLatin1(pdf));
        QVERIFY(m.hasMatch());
        COMPARE_NEAR(m.captured(1).toDouble(), 595.0, 1.0);
        COMPARE_NEAR(m.captured(2).toDouble(), 842.0, 1.0);
        QVERIFY(!d.kit()->makePage().savePdf("/no/such/folder/x.pdf"));
    }

    void aLongCarTakesALargerSheet()
    {
        PageDesk d("Avocet", KitStation::Page::Make);
        QVERIFY(app::changeCar(d.document, "t", test::carCalled("Avocet"),
                               [](kit::Car &car) { car.geometry.length_m = 0.6; }));
        const auto path = d.folder.filePath("long.pdf");
        VERIFY_OK(d.kit()->makePage().savePdf(path));
        const QRegularExpression box(R"(/MediaBox \[0 0 ([0-9.]+) ([0-9.]+)\])");
        const auto m = box.match(QString::fromLatin1(contents(path)));
        COMPARE_NEAR(m.captured(2).toDouble(), 654.0 / 25.4 * 72.0, 1.5); // its own page
    }

    void shippedPartsAreReadOnly()
    {
        PageDesk d("Avocet", KitStation::Page::Parts);
        d.choosePart("plastic gear motor");
        QVERIFY(d.child<QLineEdit>("partsName")->isReadOnly());
        QVERIFY(!d.window->findChild<QLineEdit *>("figure:stall_A:typical"));
    }

    void copyEditDelete()
    {
        PageDesk d("Avocet", KitStation::Page::Parts);
        d.choosePart("plastic gear motor");
        d.child<QPushButton>("partsCopy")->click();
        QCOMPARE(d.session.workshop().parts.size(), size_t(1));
        const auto id = d.session.workshop().parts.front().id;
        QCOMPARE(id, std::string("gear-motor-plastic-own"));
        Desk::type(d.now<QLineEdit>("figure:stall_A:typical"), "1.1 A");
        const auto *stall = d.session.workshop().parts.front().figure("stall_A");
        COMPARE_NEAR(stall->typical, 1.1, 1e-12);
        // Low and high follow where they would contradict.
        Desk::type(d.now<QLineEdit>("figure:stall_A:typical"), "2 A");
        stall = d.session.workshop().parts.front().figure("stall_A");
        COMPARE_NEAR(stall->high, 2.0, 1e-12);
        Desk::type(d.now<QLineEdit>("source:stall_A"), "measured on the bench");
        QCOMPARE(d.session.workshop().parts.front().figure("stall_A")->source,
                 std::string("measured on the bench"));
        Desk::type(d.now<QLineEdit>("partsName"), "shed motor");
        QCOMPARE(d.session.workshop().parts.front().name, std::string("shed motor"));
        d.child<QPushButton>("partsDelete")->click();
        QVERIFY(d.session.workshop().parts.empty());
        d.document.undoStack().undo();
        QCOMPARE(d.session.workshop().parts.front().name, std::string("shed motor"));
    }

    void figuresOutOfOrderAreRefused()
    {
        PageDesk d("Avocet", KitStation::Page::Parts);
        d.choosePart("plastic gear motor");
        d.child<QPushButton>("partsCopy")->click();
        Desk::type(d.now<QLineEdit>("figure:stall_A:low"), "3 A"); // above the typical 0.9 A
        COMPARE_NEAR(d.session.workshop().parts.front().figure("stall_A")->low, 0.8, 1e-12);
        QVERIFY2(d.message().contains("between"), qPrintable(d.message()));
        Desk::type(d.now<QLineEdit>("figure:rated_V:typical"), "0 V");
        COMPARE_NEAR(d.session.workshop().parts.front().figure("rated_V")->typical, 4.5, 1e-12);
    }

    void aPartOfTwoCars()
    {
        PageDesk d("Avocet", KitStation::Page::Parts);
        d.choosePart("plastic gear motor");
        d.child<QPushButton>("partsCopy")->click();
        const auto own = d.session.workshop().parts.front().id;
        // Both cars take it.
        QVERIFY(app::change(d.document, "t", [&](workshop::Workshop &w) {
            for (auto &car : w.cars)
                for (auto &i : car.parts)
                    if (i.partId == "gear-motor-plastic")
                        i.partId = own;
        }));
        d.kit()->showPage(KitStation::Page::Parts);
        auto *here = d.child<QPushButton>("partsCopyHere");
        QVERIFY(here->isVisible());
        bool said = false;
        for (auto *label : d.kit()->findChildren<QLabel *>())
            said |= label->text().contains("an edit changes all of them");
        QVERIFY(said);
        // It cannot be deleted while it is fitted.
        d.child<QPushButton>("partsDelete")->click();
        QVERIFY(d.message().contains("exchange it there first"));
        QCOMPARE(d.session.workshop().parts.size(), size_t(1));
        // A copy for this car only leaves the others as they are.
        here->click();
        QCOMPARE(d.session.workshop().parts.size(), size_t(2));
        QCOMPARE(d.session.car()->instance("left")->partId, d.session.workshop().parts[1].id);
        QCOMPARE(d.session.workshop().car("Redshank")->instance("left")->partId, own);
    }

    void missingFiguresCanBeAdded()
    {
        PageDesk d("Avocet", KitStation::Page::Parts);
        auto motor = *io::shippedCatalogue().find("gear-motor-plastic");
        motor.id = "mystery";
        motor.name = "mystery motor";
        motor.figures.erase("stall_A");
        QVERIFY(
            app::change(d.document, "t", [&](workshop::Workshop &w) { w.parts.push_back(motor); }));
        d.kit()->showPage(KitStation::Page::Parts);
        d.choosePart("mystery motor · yours");
        Desk::type(d.now<QLineEdit>("figure:stall_A:typical"), "0.7 A");
        const auto *stall = d.session.workshop().parts.front().figure("stall_A");
        QVERIFY(stall && stall->low == 0.7 && stall->high == 0.7);
        QCOMPARE(stall->source, std::string("entered at the bench"));
    }

    void fromTheCatalogueToTheCar()
    {
        PageDesk d("Avocet", KitStation::Page::Parts);
        d.choosePart("buzzer");
        d.child<QPushButton>("partsAdd")->click();
        QVERIFY(d.session.car()->instance("buzzer"));
        QCOMPARE(d.kit()->page(), KitStation::Page::Car);
    }

    void comparePacks()
    {
        PageDesk d("Avocet", KitStation::Page::Compare);
        auto *view = d.child<app::CompareView>("compareView");
        const auto row = [&](const char *name) {
            for (const auto &r : view->comparison().rows)
                if (english(r.name) == name)
                    return r;
            qFatal("no row %s", name);
        };
        d.choose("compareOther", "lithium cell");
        d.child<QSpinBox>("compareCells")->setValue(2);
        QCOMPARE(english(row("source, nominal").a), std::string("7.20 V"));
        QCOMPARE(english(row("source, nominal").b), std::string("7.40 V"));
        QVERIFY(row("source, nominal").differs);
        QVERIFY(test::find(view->comparison().onlyB, "fuse-missing"));
        d.child<QPushButton>("compareTake")->click();
        QCOMPARE(d.session.car()->instance("pack")->partId, std::string("cell-lithium"));
        QCOMPARE(d.session.car()->instance("pack")->cellsInSeries, 2);
        QCOMPARE(d.document.undoStack().undoText(), QString("Exchange pack"));
        d.document.undoStack().undo();
        QCOMPARE(d.session.car()->instance("pack")->cellsInSeries, 6);
    }

    void compareDriversFromThePart()
    {
        PageDesk d("Redshank", KitStation::Page::Car);
        d.session.reveal("kit:driver");
        d.now<QPushButton>("partCompare")->click();
        QCOMPARE(d.kit()->page(), KitStation::Page::Compare);
        d.choose("compareOther", "MOSFET dual bridge");
        auto *view = d.child<app::CompareView>("compareView");
        QVERIFY(test::find(view->comparison().onlyA, "channel-over-peak"));
        // Four held motors take more through a bridge that drops little: the board's rail dips.
        QVERIFY(test::find(view->comparison().onlyB, "logic-browns-out"));
        // 7.2 V less 0.23 ohm x 2.7 A, a diode's 0.7 V and the regulator's 1.1 V; against 4.3 A.
        QVERIFY2(view->accessibleDescription().contains(
                     "logic rail at that moment: 4.78 V against 4.40 V"),
                 qPrintable(view->accessibleDescription()));
    }

    void newCarFromTheMenu()
    {
        PageDesk d("Avocet", KitStation::Page::Car);
        d.window->askNewCar();
        auto *menu = d.window->findChild<QMenu *>("kits");
        QVERIFY(menu);
        QCOMPARE(menu->actions().size(), qsizetype(io::startingKits().size()));
        QTest::keyClick(menu, Qt::Key_Down);
        QTest::keyClick(menu, Qt::Key_Return);
        QCOMPARE(d.session.carName(), QString("New car"));
        QCOMPARE(d.session.car()->mission->behaviour, std::string("glance"));
        QVERIFY(!hasError(d.session.current()->kit.findings.findings));
    }
};

BADGER_TEST(TestKitPages)
#include "test_kit_pages.moc"
