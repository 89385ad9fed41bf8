// SPDX-License-Identifier: GPL-3.0-or-later
// A program of any sensors in the window: sentences, limits, states, readings to try.
#include "app/rule/code_sheet.h"
#include "app/rule/program_page.h"
#include "app/widgets/picture_button.h"
#include "core/io/templates.h"
#include "core/kit/roles.h"
#include "support/desk.h"

#include <QComboBox>
#include <QFile>
#include <QMenu>
#include <QRegularExpression>

using namespace badger;
using judge::Station;
using test::Desk;

class TestProgramPage final : public QObject
{
    Q_OBJECT

    /// The car at hand runs a template.
    static void run(Desk &d, const QString &car, const std::string &name,
                    const io::Choices &choices)
    {
        d.session.selectCar(car);
        d.go(Station::Rule);
        auto program =
            io::fromTemplate(name, choices, kit::roles({*d.session.car(), d.session.catalogue()}),
                             {"made"}, "made " + name);
        if (!program)
            qFatal("%s", english(program.error().text()).c_str());
        QVERIFY(d.session.edit("run", [&](workshop::Workshop &w) {
            w.programs.push_back(*program);
            for (auto &c : w.cars)
                if (c.id == d.session.carId())
                    c.program = {"made"};
        }));
        QApplication::processEvents();
    }
    static io::Choices station(const std::string &compare)
    {
        return {{"near", "18cm"},         {"far", "45cm"},     {"near-compare", compare},
                {"far-compare", compare}, {"no-echo", "stop"}, {"limit", "400cm"},
                {"air", "20C"},           {"speed", "140"},    {"wait", "60ms"}};
    }
    template <class W> static W *in(Desk &d)
    {
        return d.rule()->findChild<app::ProgramPage *>()->findChild<W *>();
    }

private slots:
    void aNumberIsTypedOver()
    {
        Desk d;
        run(d, "Sanderling", "keep-station", station("le"));
        auto *page = in<app::SentencePage>(d);
        QVERIFY(page->isVisible());
        page->open("value:far");
        auto *field = page->findChild<QLineEdit *>("typeOver");
        QVERIFY(field->isVisible());
        QCOMPARE(field->text(), QStringLiteral("45 cm"));
        field->setText("0,6 m");
        QTest::keyClick(field, Qt::Key_Return);
        COMPARE_NEAR(*d.session.program()->value("far")->si, 0.6, 1e-9);
        QVERIFY(!field->isVisible());
        d.document.undoStack().undo();
        COMPARE_NEAR(*d.session.program()->value("far")->si, 0.45, 1e-9);
    }

    void whatCannotBeReadChangesNothing()
    {
        Desk d;
        run(d, "Sanderling", "keep-station", station("le"));
        QSignalSpy said(&d.session, &app::Session::said);
        auto *page = in<app::SentencePage>(d);
        for (const char *text : {"60 ms", "sixty", "60", "nan cm", "900 m"}) {
            const auto count = said.count();
            page->open("value:far");
            auto *field = page->findChild<QLineEdit *>("typeOver");
            field->setText(text);
            QTest::keyClick(field, Qt::Key_Return);
            QVERIFY2(said.count() > count, text);
            COMPARE_NEAR(*d.session.program()->value("far")->si, 0.45, 1e-9);
        }
        page->open("value:far");
        QTest::keyClick(page->findChild<QLineEdit *>("typeOver"), Qt::Key_Escape);
        QVERIFY(!page->findChild<QLineEdit *>("typeOver")->isVisible());
    }

    /// Choosing <= closes the holes that < leaves, and the headline says so.
    void aWordIsChosenAndTheHoleIsGone()
    {
        Desk d;
        run(d, "Sanderling", "keep-station", station("lt"));
        QVERIFY2(d.headline().contains("no rule says what to do"), qPrintable(d.headline()));
        auto *page = in<app::SentencePage>(d);
        emit page->chosen("compare:0:0:", 0);
        emit page->chosen("compare:1:1:", 0);
        QVERIFY2(!d.headline().contains("no rule"), qPrintable(d.headline()));
        d.document.undoStack().undo();
        QVERIFY(d.headline().contains("45"));
    }

    /// What mends a finding stands under it; taking it is one step back.
    void aMendIsTaken()
    {
        Desk d;
        auto choices = station("le");
        choices["near-compare"] = "lt";
        run(d, "Sanderling", "keep-station", choices);
        QVERIFY2(d.headline().contains("no rule says what to do"), qPrintable(d.headline()));
        auto *page = in<app::SentencePage>(d);
        const auto &findings = d.session.current()->rule.findings;
        int hole = -1;
        for (size_t i = 0; i < findings.size(); ++i)
            if (findings[i].code == "reading-without-action")
                hole = static_cast<int>(i);
        QTRY_VERIFY_WITH_TIMEOUT(page->areaOfMend(hole, 0).isValid(),
                                 test::patience_ms); // they are looked for meanwhile
        const auto link = page->areaOfMend(hole, 0);
        const auto steps = d.document.undoStack().count();
        QTest::mouseClick(page, Qt::LeftButton, {}, link.center());
        QVERIFY2(!d.headline().contains("no rule"), qPrintable(d.headline()));
        QCOMPARE(d.document.undoStack().count(), steps + 1);
        d.document.undoStack().undo();
        QVERIFY(d.headline().contains("no rule"));
    }

    void theKeysGoFromChoiceToChoice()
    {
        Desk d;
        run(d, "Sanderling", "keep-station", station("le"));
        auto *page = in<app::SentencePage>(d);
        page->setFocus();
        auto *field = page->findChild<QLineEdit *>("typeOver");
        for (int i = 0; i < 40 && !field->isVisible(); ++i) {
            QTest::keyClick(page, Qt::Key_Right);
            QTest::keyClick(page, Qt::Key_Return);
            if (field->isVisible())
                break;
            for (auto *menu : page->findChildren<QMenu *>())
                menu->close();
            page->setFocus();
            QCoreApplication::sendPostedEvents(nullptr, QEvent::DeferredDelete);
        }
        QVERIFY(field->isVisible());
    }

    void aLimitIsDragged()
    {
        Desk d;
        run(d, "Sanderling", "keep-station", station("le"));
        auto *cells = in<app::CellsPicture>(d);
        const auto from = cells->handleOf("near");
        const auto far = cells->handleOf("far");
        QVERIFY(from.x() > 0 && far.x() > from.x());
        const auto steps = d.document.undoStack().count();
        QTest::mousePress(cells, Qt::LeftButton, {}, from);
        for (int x = from.x(); x <= from.x() + 40; x += 5)
            QTest::mouseMove(cells, {x, from.y()});
        QTest::mouseRelease(cells, Qt::LeftButton, {}, {from.x() + 40, from.y()});
        const double near = *d.session.program()->value("near")->si;
        QVERIFY(near > 0.19 && near < 0.45);
        QCOMPARE(d.document.undoStack().count(), steps + 1);
        QVERIFY(cells->handleOf("near").x() > from.x());
        // Beside the handles nothing is moved.
        QTest::mousePress(cells, Qt::LeftButton, {}, {far.x() + 120, far.y()});
        QTest::mouseMove(cells, {far.x() + 160, far.y()});
        QCOMPARE(*d.session.program()->value("near")->si, near);
    }

    void readingsAreTried()
    {
        Desk d;
        run(d, "Sanderling", "keep-station", station("le"));
        auto *row = in<app::TryRow>(d);
        auto *text = row->findChild<QLineEdit *>("tryReadings");
        QVERIFY(!text->text().isEmpty()); // something is tried from the beginning
        text->setText("60, 30, 10, none");
        QCOMPARE(row->said(), QStringLiteral("60: stands > advances; 30: stands; 10: backs; "
                                             "none: stands"));
        text->setText("60, sixty");
        QVERIFY(row->said().startsWith("60:"));
        text->setText("60 20");
        QVERIFY(row->said().isEmpty());
    }

    void aStatePicksItsCellsAndItsSentence()
    {
        Desk d;
        run(d, "Curlew", "glance",
            {{"threshold", "30cm"},
             {"angles", "30,150"},
             {"dwell", "300ms"},
             {"tolerance", "3cm"},
             {"tie", "right"},
             {"turn-time-left", "400ms"},
             {"turn-time-right", "400ms"},
             {"turn-speed", "120"},
             {"no-echo", "clear"},
             {"limit", "400cm"},
             {"air", "20C"},
             {"speed", "140"}});
        auto *cells = in<app::CellsPicture>(d);
        QVERIFY(cells->accessibleDescription().contains("drives"));
        emit in<app::StateLoop>(d)->picked("looks");
        QVERIFY2(cells->accessibleDescription().contains("turns right"),
                 qPrintable(cells->accessibleDescription()));
        emit in<app::StateLoop>(d)->picked("turns left");
        QVERIFY(cells->accessibleDescription().isEmpty()); // it waits there
    }

    void patternsOfALineCar()
    {
        Desk d;
        run(d, "Plover", "lane", {{"light-level", "1"}, {"turn-speed", "120"}, {"speed", "140"}});
        QVERIFY(in<app::CellsPicture>(d)->accessibleDescription().contains("turns left"));
        QVERIFY2(d.headline().contains("one action for every reading"), qPrintable(d.headline()));
        for (const auto palette : {app::Theme::Palette::Dark, app::Theme::Palette::Projector}) {
            d.window->setPalette(palette);
            QApplication::processEvents();
            QVERIFY(!in<app::CellsPicture>(d)->grab().isNull());
        }
    }

    /// What nobody has chosen is named, and nothing is drawn as if it were.
    void anOpenProgramSaysWhatIsMissing()
    {
        Desk d;
        run(d, "Godwit", "edge-zigzag", {{"edge", "left"}});
        QVERIFY2(d.headline().contains("not complete"), qPrintable(d.headline()));
        QVERIFY(in<app::CellsPicture>(d)->accessibleDescription().contains("threshold"));
        QVERIFY(in<app::TryRow>(d)->said().isEmpty());
        auto *page = in<app::SentencePage>(d);
        for (const auto &[value, text] : {std::pair{"threshold", "530"}, {"speed", "120"}}) {
            page->open(QStringLiteral("value:") + value);
            auto *field = page->findChild<QLineEdit *>("typeOver");
            QVERIFY(field->text().isEmpty());
            field->setText(text);
            QTest::keyClick(field, Qt::Key_Return);
        }
        QVERIFY2(d.headline().contains("one action"), qPrintable(d.headline()));
    }

    void aTemplateIsTakenFromTheStart()
    {
        Desk d;
        d.session.selectCar(QStringLiteral("Dunlin"));
        d.session.editCar("none", [](kit::Car &c) { c.program = {}; });
        d.go(Station::Rule);
        QVERIFY(d.rule()->findChild<app::PictureButton *>("template:straddle"));
        QVERIFY(!d.rule()->findChild<app::PictureButton *>("template:lane")); // it has no strip
        QVERIFY(!d.rule()->findChild<app::PictureButton *>("template:fan"));
        auto *button = d.rule()->findChild<app::PictureButton *>("template:straddle");
        button->click();
        // Its shape hangs on one word, which is asked for.
        auto *menu = button->findChild<QMenu *>();
        QVERIFY(menu);
        QVERIFY(d.session.program() == nullptr);
        QCOMPARE(menu->actions().first()->text(), QString("where both see the line?"));
        QVERIFY(!menu->actions().first()->isEnabled());
        menu->actions().last()->trigger();
        QVERIFY(d.session.program());
        QCOMPARE(d.session.program()->from->name, std::string("straddle"));
        QVERIFY(in<app::SentencePage>(d)->isVisible());
    }

    /// Each open number has a proposal with its reason; one press takes one, another all.
    void openValuesComeWithAProposal()
    {
        Desk d;
        d.window->newCar(0); // Stop ahead
        d.go(Station::Wire);
        d.wire()->propose();
        d.now<QPushButton>("proposalAll")->click();
        d.go(Station::Rule);
        const auto before = *d.session.program();
        QVERIFY(!before.value("speed") || !before.value("speed")->si);
        const auto one = d.rule()->findChildren<QPushButton *>(QRegularExpression("^propose:"));
        QVERIFY(one.size() >= 3);
        one.first()->click();
        QCOMPARE(rules::unset(*d.session.program()).size() + 1, rules::unset(before).size());
        d.now<QPushButton>("proposeAll")->click();
        const auto open = rules::unset(*d.session.program());
        QCOMPARE(open.size(), size_t(1)); // what silence means is a person's choice
        QVERIFY(std::any_of(d.session.program()->values.begin(), d.session.program()->values.end(),
                            [](const rules::Value &v) { return v.suggested; }));
        QVERIFY(!d.rule()->findChild<QPushButton *>("proposeAll"));
        d.document.undoStack().undo();
        d.document.undoStack().undo();
        QCOMPARE(*d.session.program(), before);
    }

    /// What the kit is for comes first; a car with a board is not offered to go without a program.
    void theMissionStandsFirst()
    {
        Desk d;
        for (const size_t kit : {size_t(3), size_t(5)}) { // straddle, lane
            d.window->newCar(kit);
            d.go(Station::Rule);
            QCoreApplication::sendPostedEvents(nullptr, QEvent::DeferredDelete);
            const auto offered =
                d.rule()->findChildren<app::PictureButton *>(QRegularExpression("^template:"));
            QVERIFY(!offered.isEmpty());
            QCOMPARE(offered.first()->objectName().toStdString(),
                     "template:" + d.session.car()->mission->behaviour);
            for (const auto *b : offered)
                QVERIFY(b->objectName() != "template:direct");
        }
        d.window->newCar(6); // no board
        d.go(Station::Rule);
        QCoreApplication::sendPostedEvents(nullptr, QEvent::DeferredDelete);
        QVERIFY(d.rule()->findChild<app::PictureButton *>("template:direct"));
    }

    /// The board program beside the sentences, in either style; the lines of the state are lit.
    void theBoardProgramStandsBesideIt()
    {
        Desk d;
        run(d, "Redshank", "glance",
            {{"threshold", "28cm"},
             {"no-echo", "clear"},
             {"limit", "200cm"},
             {"air", "18C"},
             {"angles", "30,150"},
             {"dwell", "300ms"},
             {"tolerance", "4cm"},
             {"tie", "right"},
             {"turn-time-left", "400ms"},
             {"turn-time-right", "400ms"},
             {"turn-speed", "120"},
             {"speed", "140"},
             {"wait", "40ms"}});
        auto *sheet = in<app::CodeSheet>(d);
        QVERIFY(sheet->isVisible());
        auto *view = sheet->findChild<app::CodeView *>();
        QVERIFY(view->text().contains("case TURNS_LEFT:"));
        QVERIFY(view->text().contains("wait_us(TURN_TIME_LEFT_US);"));
        auto *style = sheet->findChild<QComboBox *>("style");
        QVERIFY(style->isVisible());
        style->setCurrentIndex(2);
        emit style->activated(2);
        QVERIFY(!view->text().contains("wait_us(TURN_TIME_LEFT_US);"));
        QVERIFY(view->text().contains("servo_stands("));
        // What the file gets is what is shown.
        d.rule()->exportTo(d.folder.path());
        QFile file(d.folder.filePath("redshank_made_glance.cpp"));
        QVERIFY(file.open(QIODevice::ReadOnly));
        QCOMPARE(QString::fromUtf8(file.readAll()), view->text());
    }
};

BADGER_TEST(TestProgramPage)
#include "test_program_page.moc"
