// SPDX-License-Identifier: GPL-3.0-or-later
// The car and its power tree, driven by clicks, drags and keys.
#include "support/desk.h"

#include <QPushButton>

using namespace badger;
using judge::Station;
using test::Desk;

namespace
{

struct KitDesk : Desk {
    explicit KitDesk(const QString &car = "Avocet")
    {
        session.selectCar(car);
        go(Station::Kit);
    }
    app::CarPlan *plan() const { return child<app::CarPlan>("carPlan"); }
    app::PowerView *tree() const { return child<app::PowerView>("powerTree"); }
    const kit::Instance &part(const char *id) const { return *session.car()->instance(id); }
    double setBack_mm(const char *id) const { return part(id).mount->setBack_m * 1000.0; }
    void pick(const char *id)
    {
        QTest::mouseClick(plan(), Qt::LeftButton, {}, plan()->blockOf(id).center().toPoint());
        QApplication::processEvents();
    }
    bool finds(const char *code) const
    {
        return test::find(session.current()->kit.findings.findings, code) != nullptr;
    }
    QString result() const { return kit()->sum().result; }
};

} // namespace

class TestKitStation final : public QObject
{
    Q_OBJECT
private slots:
    void theFirstStation()
    {
        KitDesk d;
        QCOMPARE(d.headline(),
                 QString("Avocet's parts go together: 0.52 m/s at full duty, 2.7 hours on one "
                         "charge."));
        QCOMPARE(d.result(), QString("5.05 V")); // and its sum stands below
        QCOMPARE(d.kit()->sum().parts.size(), size_t(2));
    }

    void draggingMovesAPart()
    {
        KitDesk d;
        const auto before = d.setBack_mm("board");
        const auto from = d.plan()->blockOf("board").center().toPoint();
        const int steps = d.document.undoStack().count();
        QTest::mousePress(d.plan(), Qt::LeftButton, {}, from);
        for (int i = 1; i <= 4; ++i)
            QTest::mouseMove(d.plan(), from + QPoint(-5 * i, 3 * i));
        QTest::mouseRelease(d.plan(), Qt::LeftButton, {}, from + QPoint(-20, 12));
        QVERIFY(d.setBack_mm("board") > before + 10.0); // left on the screen is towards the tail
        QVERIFY(d.part("board").mount->offset_m < 0.0); // down is right
        COMPARE_NEAR(d.setBack_mm("board"), std::round(d.setBack_mm("board")), 1e-6); // whole mm
        QCOMPARE(d.document.undoStack().count(), steps + 1); // one drag, one step
        d.document.undoStack().undo();
        COMPARE_NEAR(d.setBack_mm("board"), before, 1e-9);
        d.document.undoStack().redo();
        QVERIFY(d.setBack_mm("board") > before + 10.0);
    }

    void arrowsMoveAPart()
    {
        KitDesk d;
        d.pick("pack");
        QCOMPARE(d.plan()->picked(), QString("pack"));
        const auto before = d.setBack_mm("pack");
        QTest::keyClick(d.plan(), Qt::Key_Right);
        COMPARE_NEAR(d.setBack_mm("pack"), before - 1.0, 1e-9);
        QTest::keyClick(d.plan(), Qt::Key_Left, Qt::ShiftModifier);
        COMPARE_NEAR(d.setBack_mm("pack"), before + 9.0, 1e-9);
        QTest::keyClick(d.plan(), Qt::Key_Up);
        COMPARE_NEAR(d.part("pack").mount->offset_m, 0.001, 1e-9);
    }

    void pagesThroughThePartsByKey()
    {
        KitDesk d;
        QStringList seen;
        for (int i = 0; i < 12; ++i) {
            QTest::keyClick(d.plan(), Qt::Key_PageDown);
            if (seen.contains(d.plan()->picked()))
                break;
            seen << d.plan()->picked();
        }
        for (const auto *id : {"board", "driver", "pack", "ranger", "switch", "support", "left"})
            QVERIFY2(seen.contains(id), id);
    }

    void typingPlacesAPart()
    {
        KitDesk d;
        d.pick("ranger");
        Desk::type(d.now<QLineEdit>("setBack"), "3 cm");
        COMPARE_NEAR(d.setBack_mm("ranger"), 30.0, 1e-9);
        Desk::type(d.now<QLineEdit>("tilt"), "2deg");
        COMPARE_NEAR(d.part("ranger").mount->tilt_rad, 0.0349, 1e-4);
        // The budget knows of it at once.
        COMPARE_NEAR(d.session.current()->budget->setup.setBack_m, 0.030, 1e-9);
    }

    void whatCannotBeIsRefused()
    {
        KitDesk d;
        Desk::type(d.now<QLineEdit>("carWidth"), "2000 m");
        COMPARE_NEAR(d.session.car()->geometry.width_m, 0.150, 1e-12);
        QVERIFY(!d.message().isEmpty());
        QCOMPARE(d.now<QLineEdit>("carWidth")->text(), QString("150 mm"));
        d.pick("ranger");
        Desk::type(d.now<QLineEdit>("setBack"), "30");
        QVERIFY2(d.message().contains("has no unit"), qPrintable(d.message()));
        COMPARE_NEAR(d.setBack_mm("ranger"), 0.0, 1e-9);
    }

    void exchangingAPart()
    {
        KitDesk d("Redshank");
        QVERIFY(d.finds("channel-over-peak"));
        d.pick("driver");
        d.choose("partChoice", "dual bridge module");
        QVERIFY(!d.finds("channel-over-peak"));
        QVERIFY(d.headline().startsWith("Redshank's parts go together"));
        d.document.undoStack().undo();
        QVERIFY(d.finds("channel-over-peak"));
    }

    void exchangingSaysWhatComesOff()
    {
        KitDesk d;
        d.pick("driver");
        d.choose("partChoice", "MOSFET dual bridge");
        QVERIFY2(d.message().contains("wires") && d.message().contains("Undo"),
                 qPrintable(d.message()));
    }

    void cellsFeedsAndChannels()
    {
        KitDesk d;
        d.pick("pack");
        auto *cells = d.now<QSpinBox>("cellsInSeries");
        QCOMPARE(cells->minimum(), 1); // no pack of none
        cells->setValue(3);
        QVERIFY(d.finds("supply-outside-window"));
        d.document.undoStack().undo();
        d.session.reveal("kit:ranger");
        d.choose("feed:VCC", "nothing said");
        // Its wires still say it.
        QVERIFY(d.session.current()->kit.power.tree.node("ranger.VCC")->fromWires);
        d.session.reveal("kit:left");
        d.choose("drivenBy", "driver.B");
        QCOMPARE(d.part("left").drivenBy, std::string("driver.B"));
    }

    void addingByName()
    {
        KitDesk d;
        auto *field = d.child<QLineEdit>("addPart");
        Desk::type(field, "white led");
        QVERIFY(d.session.car()->instance("led"));
        QVERIFY(d.finds("led-resistor"));
        QCOMPARE(d.plan()->picked(), QString("led"));
        Desk::type(d.now<QLineEdit>("resistor"), "180 ohm");
        QVERIFY(!d.finds("led-resistor"));
        // Its resistor is a number that unfolds.
        QTest::mouseClick(d.now<QPushButton>("number:led:led"), Qt::LeftButton);
        QCOMPARE(d.result(), QString("180 ohm"));
        QVERIFY(d.kit()->sum().aside.contains("27.8 mA"));
        Desk::type(field, "spoon");
        QVERIFY(d.message().contains("No part is called 'spoon'"));
        Desk::type(field, "ranger");
        QVERIFY(d.message().contains("type more"));
    }

    void takingOff()
    {
        KitDesk d;
        d.pick("ranger");
        const auto wires = d.session.car()->wires.size();
        QTest::keyClick(d.plan(), Qt::Key_Delete);
        QVERIFY(!d.session.car()->instance("ranger"));
        QVERIFY(d.session.car()->wires.size() < wires);
        QVERIFY(d.finds("mission-gap"));
        d.document.undoStack().undo();
        QVERIFY(d.session.car()->instance("ranger"));
        QCOMPARE(d.session.car()->wires.size(), wires);
    }

    void missionNamesItsGaps()
    {
        KitDesk d;
        d.choose("behaviour", "glance");
        QCOMPARE(d.session.car()->mission->behaviour, std::string("glance"));
        QCOMPARE(d.session.car()->mission->floor.text, test::floorCalled("Slipway").text); // kept
        QVERIFY(d.headline().contains("needs a ranger on a pan servo"));
        d.choose("missionFloor", "Rope walk");
        QCOMPARE(d.session.car()->mission->floor.text, test::floorCalled("Rope walk").text);
        d.choose("behaviour", "choose what it shall do");
        QVERIFY(!d.session.car()->mission);
    }

    void gapsAreFilledFromTheirLine()
    {
        KitDesk d;
        d.choose("behaviour", "glance");
        auto *needs = d.child<QLabel>("needs");
        QVERIFY2(needs->text().contains("fit:pan-servo-21"), qPrintable(needs->text()));
        emit needs->linkActivated("fit:pan-servo-21");
        QVERIFY(d.session.car()->instance("servo"));
        QVERIFY(needs->text().contains("ride:"));
        emit needs->linkActivated("ride:");
        QCOMPARE(d.part("ranger").carriedBy, std::string("servo"));
        QVERIFY(!d.finds("mission-gap"));
        QVERIFY(!needs->text().contains("href"));
        d.choose("behaviour", "direct");
        emit needs->linkActivated("off:");
        QVERIFY2(!d.session.car()->instance("board"), qPrintable(d.message()));
        d.document.undoStack().undo();
        QVERIFY(d.session.car()->instance("board"));
    }

    void aDividerUnfolds()
    {
        KitDesk d("Whimbrel");
        Desk::type(d.child<QLineEdit>("addPart"), "level divider");
        d.session.reveal("kit:divider");
        d.choose("feed:IN", "ranger.ECHO");
        QVERIFY(!d.finds("signal-over-volts"));
        QTest::mouseClick(d.now<QPushButton>("number:divider:divider"), Qt::LeftButton);
        QCOMPARE(d.result(), QString("3.33 V"));
        QVERIFY(d.kit()->sum().aside.contains("5 V"));
    }

    void aWholeCarByKeyboard()
    {
        // From the menu to a fed, driven, placed pan servo without the mouse.
        KitDesk d;
        d.window->newCar(0);
        d.choose("behaviour", "glance");
        auto *add = d.child<QLineEdit>("addPart");
        Desk::type(add, "pan servo, 21");
        QCOMPARE(d.plan()->picked(), QString("servo"));
        QTest::keyClick(d.plan(), Qt::Key_Up); // the first step puts it on the deck
        QVERIFY(d.part("servo").mount);
        d.session.reveal("kit:ranger");
        d.choose("carriedBy", "servo");
        QVERIFY(!d.finds("mission-gap"));
        QCOMPARE(d.part("servo").feeds.size(), size_t(1));
        QVERIFY(d.finds("servo-on-regulator")); // it was proposed a rail, and that is said
    }

    void statesOfTheTree()
    {
        KitDesk d;
        const auto press = [&](const char *group, const QString &text) {
            for (auto *b : d.child<QWidget>(group)->findChildren<QPushButton *>())
                if (b->text() == text)
                    QTest::mouseClick(b, Qt::LeftButton);
        };
        QTest::mouseClick(d.tree(), Qt::LeftButton, {},
                          d.tree()->boxOf("driver.A").center().toPoint() - QPoint(20, -4));
        QCOMPARE(d.tree()->picked(), QString("driver.A"));
        QCOMPARE(d.result(), QString("4.93 V"));
        press("load", "stalled");
        QCOMPARE(d.result(), QString("3.96 V"));
        press("charge", "near empty");
        QCOMPARE(d.result(), QString("3.07 V"));
        press("case", "worst");
        QVERIFY(d.kit()->sum().aside.startsWith("typical case 3.07 V"));
        press("load", "running");
        press("case", "typical");
        press("charge", "nominal");
        QTest::keyClick(d.tree(), Qt::Key_A);
        QCOMPARE(d.result(), QString("250 mA"));
        QTest::keyClick(d.tree(), Qt::Key_H);
        QCOMPARE(d.result(), QString("0.54 W"));
        QTest::keyClick(d.tree(), Qt::Key_Left); // to what feeds it
        QCOMPARE(d.tree()->picked(), QString("driver.VS"));
        QTest::keyClick(d.tree(), Qt::Key_Right);
        QCOMPARE(d.tree()->picked(), QString("driver.A"));
    }

    void everyNumberOfTheRowUnfolds()
    {
        KitDesk d;
        const std::vector<std::pair<const char *, QString>> numbers = {
            {"number:motor", "5.05 V"},   {"number:cap", "227 of 255"},
            {"number:speed", "0.52 m/s"}, {"number:run-time", "2.7 h"},
            {"number:balance", "90 %"},   {"number:cover", "570 mm"}};
        for (const auto &[name, result] : numbers) {
            QTest::mouseClick(d.now<QPushButton>(name), Qt::LeftButton);
            QCOMPARE(d.result(), result);
            QVERIFY2(d.kit()->sum().derivation.size() >= 3, name);
        }
    }

    void findingsLeadToTheirPlace()
    {
        KitDesk d("Whimbrel");
        d.go(Station::Rule);
        d.session.reveal("node:ranger.ECHO");
        QCOMPARE(d.session.station(), Station::Kit);
        QCOMPARE(d.plan()->picked(), QString("ranger"));
        d.session.reveal("mission:");
        QVERIFY(d.child<QComboBox>("behaviour")->hasFocus());
        d.session.reveal("make:drill");
        QCOMPARE(d.kit()->page(), app::KitStation::Page::Make);
        d.session.reveal("kit:bank");
        QCOMPARE(d.kit()->page(), app::KitStation::Page::Car);
        QCOMPARE(d.plan()->picked(), QString("bank"));
    }

    void errorsElsewhereAreSaid()
    {
        KitDesk d("Redshank");
        d.go(Station::Wire);
        bool said = false;
        for (auto *b : d.window->findChildren<QPushButton *>())
            said |= b->text() == "and 1 error at Kit";
        QVERIFY(said);
    }

    void unknownFigureIsShown()
    {
        KitDesk d;
        auto motor = *io::shippedCatalogue().find("gear-motor-plastic");
        motor.figures.erase("stall_A");
        QVERIFY(app::change(d.document, "t", [&](workshop::Workshop &w) {
            w.parts.push_back(motor); // hides the shipped one
        }));
        QVERIFY(d.finds("figure-missing"));
        QTest::keyClick(d.tree(), Qt::Key_Down);
        for (auto *b : d.child<QWidget>("load")->findChildren<QPushButton *>())
            if (b->text() == "stalled")
                QTest::mouseClick(b, Qt::LeftButton);
        QTest::keyClick(d.tree(), Qt::Key_A);
        QVERIFY2(d.result().startsWith("≥ "), qPrintable(d.result()));
    }

    void everyCarCanBeSeen_data()
    {
        QTest::addColumn<QString>("car");
        for (const auto &c : test::demo().cars)
            QTest::newRow(c.name.c_str()) << QString::fromStdString(c.name);
    }
    void everyCarCanBeSeen()
    {
        QFETCH(QString, car);
        KitDesk d(car);
        // Each placed part's block lies within the picture, each node within the tree.
        for (const auto &i : d.session.car()->parts)
            if (i.mount)
                QVERIFY2(d.plan()->rect().toRectF().contains(
                             d.plan()->blockOf(QString::fromStdString(i.id)).center()),
                         i.id.c_str());
        for (const auto &n : d.session.current()->kit.power.tree.nodes) {
            const auto box = d.tree()->boxOf(QString::fromStdString(n.id));
            QVERIFY2(box.width() > 60 && box.right() <= d.tree()->width(), n.id.c_str());
        }
        for (int page = 0; page < 4; ++page) {
            d.kit()->showPage(app::KitStation::Page(page));
            QVERIFY(!d.window->grab().isNull());
        }
    }
};

BADGER_TEST(TestKitStation)
#include "test_kit_station.moc"
