// SPDX-License-Identifier: GPL-3.0-or-later
// A program is written by hand: sentences added, moved, taken out; compared; stepped through.
#include "app/rule/program_page.h"
#include "core/io/templates.h"
#include "core/kit/roles.h"
#include "support/desk.h"

#include <QComboBox>
#include <QFileDialog>
#include <QMenu>
#include <QMessageBox>
#include <QTimer>

using namespace badger;
using judge::Station;
using test::Desk;

class TestProgramEdits final : public QObject
{
    Q_OBJECT

    /// Sanderling keeps its station by the reading ahead alone.
    struct Station3 {
        Desk d;
        app::ProgramPage *page = nullptr;
        app::SentencePage *sentences = nullptr;
        explicit Station3(const io::Choices &more = {})
        {
            d.session.selectCar(QStringLiteral("Sanderling"));
            d.go(Station::Rule);
            io::Choices choices = {{"near", "18cm"},   {"far", "45cm"}, {"no-echo", "stop"},
                                   {"limit", "400cm"}, {"air", "20C"},  {"speed", "140"},
                                   {"wait", "60ms"}};
            choices.insert(more.begin(), more.end());
            auto program = io::fromTemplate("keep-station", choices,
                                            kit::roles({*d.session.car(), d.session.catalogue()}),
                                            {"made"}, "made station");
            if (!program)
                qFatal("%s", english(program.error().text()).c_str());
            d.session.edit("run", [&](workshop::Workshop &w) {
                w.programs.push_back(*program);
                for (auto &c : w.cars)
                    if (c.id == d.session.carId())
                        c.program = {"made"};
            });
            QApplication::processEvents();
            page = d.rule()->findChild<app::ProgramPage *>();
            sentences = page->findChild<app::SentencePage *>();
        }
        const rules::Program &program() const { return *d.session.program(); }
        template <class W> W *in(const char *name = "") const
        {
            return name[0] ? page->findChild<W *>(name) : page->findChild<W *>();
        }
        QMenu *menu(const char *name) const
        {
            QMenu *found = nullptr;
            for (auto *m : page->findChildren<QMenu *>(name))
                found = m->isVisible() ? m : found;
            return found;
        }
        static QAction *action(QMenu *menu, const QString &words)
        {
            for (auto *a : menu->actions())
                if (a->text().startsWith(words))
                    return a;
            return nullptr;
        }
    };

private slots:
    void rulesByTheKeys()
    {
        Station3 s;
        const auto before = s.program();
        const auto rules = before.everywhere.size();
        s.sentences->goTo("go:0:");
        QTest::keyClick(s.sentences, Qt::Key_Insert);
        QCOMPARE(s.program().everywhere.size(), rules + 1);
        QVERIFY2(s.d.headline().contains("not complete"), qPrintable(s.d.headline()));
        // The keys stand at the new rule: it is typed and moved from there.
        s.sentences->open("value:limit");
        auto *field = s.sentences->findChild<QLineEdit *>("typeOver");
        QVERIFY(field->isVisible());
        field->setText("30 cm");
        QTest::keyClick(field, Qt::Key_Return);
        QVERIFY2(!s.d.headline().contains("not complete"), qPrintable(s.d.headline()));
        const auto name = s.program().everywhere[1].name;
        QTest::keyClick(s.sentences, Qt::Key_Down, Qt::AltModifier);
        QCOMPARE(s.program().everywhere[2].name, name);
        QTest::keyClick(s.sentences, Qt::Key_Up, Qt::AltModifier);
        QTest::keyClick(s.sentences, Qt::Key_Up, Qt::AltModifier);
        QCOMPARE(s.program().everywhere[0].name, name);
        QTest::keyClick(s.sentences, Qt::Key_Up, Qt::AltModifier); // it is the first
        QCOMPARE(s.program().everywhere[0].name, name);
        QTest::keyClick(s.sentences, Qt::Key_Delete);
        QCOMPARE(s.program().everywhere, before.everywhere);
        QCOMPARE(s.program().values, before.values);
        const int steps = s.d.document.undoStack().count();
        for (int i = 0; i < 6; ++i)
            s.d.document.undoStack().undo();
        QCOMPARE(s.d.document.undoStack().count(), steps);
        QCOMPARE(s.program().everywhere, before.everywhere);
    }

    void linksAtTheEndsOfLists()
    {
        Station3 s;
        const auto rules = s.program().everywhere.size();
        const auto rule = s.sentences->areaOfAdd("rule:");
        QVERIFY(rule.isValid());
        QTest::mouseClick(s.sentences, Qt::LeftButton, {}, rule.center());
        QCOMPARE(s.program().everywhere.size(), rules + 1);
        const auto states = s.program().states.size();
        const auto state = s.sentences->areaOfAdd("state");
        QVERIFY(state.isValid());
        QTest::mouseClick(s.sentences, Qt::LeftButton, {}, state.center());
        QCOMPARE(s.program().states.size(), states + 1);
        QCOMPARE(rules::actOf(s.program().states.back().motion), rules::Act::Stand);
        const auto reading = s.sentences->areaOfAdd("reading");
        QTest::mouseClick(s.sentences, Qt::LeftButton, {}, reading.center());
        auto *menu = s.menu("readingMenu");
        QVERIFY(menu);
        QCOMPARE(menu->actions().size(), 3); // its three rangers
        s.action(menu, "port")->trigger();
        QCOMPARE(s.program().readings.back().name, std::string("port"));
        QVERIFY2(s.d.headline().contains("not complete"), qPrintable(s.d.headline()));
    }

    void theMenuOfASentence()
    {
        Station3 s;
        s.sentences->goTo("motion:stands");
        QContextMenuEvent asked(QContextMenuEvent::Keyboard, {}, {});
        QApplication::sendEvent(s.sentences, &asked);
        auto *menu = s.menu("sentenceMenu");
        QVERIFY(menu);
        QSignalSpy said(&s.d.session, &app::Session::said);
        s.action(menu, "Take it out")->trigger(); // rules lead to it: it stays, and why
        QCOMPARE(said.count(), 1);
        QVERIFY(said.back().front().toString().contains("leads to it"));
        QVERIFY(s.program().state("stands"));
        s.action(menu, "Rename it")->trigger();
        auto *field = s.sentences->findChild<QLineEdit *>("typeOver");
        QVERIFY(field->isVisible());
        QCOMPARE(field->text(), QStringLiteral("stands"));
        field->setText("waits");
        QTest::keyClick(field, Qt::Key_Return);
        QVERIFY(s.program().state("waits"));
        QVERIFY(!s.program().state("stands"));
        QVERIFY2(!s.d.headline().contains("not complete"), qPrintable(s.d.headline()));
    }

    void everyReadingLineByLine()
    {
        Station3 s(io::Choices{{"lost-after", "3"}});
        auto *aside = s.in<app::Choice>("aside");
        emit aside->chosen(1);
        auto *rows = s.in<app::RowsSheet>();
        QVERIFY(rows->isVisible());
        QVERIFY(!s.in<app::StateLoop>()->isVisible());
        QVERIFY(!s.in<app::ReadingGrid>()->isVisible());
        QVERIFY(rows->count() >= 4); // 1..18, 19..45, 46.., none
        auto *text = s.in<QLineEdit>("tryReadings");
        text->setText("60");
        QTest::mouseClick(rows, Qt::LeftButton, {}, rows->lineArea(0).center().toPoint());
        QCOMPARE(text->text().section(", ", 0, 0), QStringLiteral("60"));
        QVERIFY(s.in<app::TryRow>()->said().endsWith("backs"));
        QTest::keyClick(rows, Qt::Key_Down);
        QVERIFY(s.in<app::TryRow>()->said().endsWith("stands"));
    }

    void comparedWithAnotherWord()
    {
        Station3 s;
        emit s.in<app::Choice>("aside")->chosen(2);
        auto *sheet = s.in<app::CompareSheet>();
        auto *with = s.in<QComboBox>("compareWith");
        auto *lines = s.in<QWidget>("compared");
        const auto pick = [&](const QString &words) {
            const int at = with->findText(words);
            if (at < 0)
                qFatal("no %s", qPrintable(words));
            with->setCurrentIndex(at);
            emit with->activated(at);
            return lines->accessibleDescription();
        };
        QVERIFY(sheet->isVisible());
        const auto strict = pick("rule 1: <");
        QVERIFY2(strict.contains("ahead 18"), qPrintable(strict));
        const auto clear = pick("ahead: clear");
        QVERIFY2(clear.contains("none"), qPrintable(clear));
        QVERIFY2(clear.contains("left at worst: "), qPrintable(clear));
        const auto fewer = pick("ahead: as the median of 3");
        QVERIFY2(!fewer.contains("ahead 1"), qPrintable(fewer)); // it acts alike
        const auto gaps = fewer.section("left at worst: ", 1).split(" / ");
        QVERIFY(gaps[0].section(' ', 0, 0) != gaps[1].section(' ', 0, 0)); // but later
        auto *take = s.in<QPushButton>("takeIt");
        QVERIFY(take->isVisible());
        take->click();
        QCOMPARE(s.program().reading("ahead")->medianOf, 3);
        const auto other = pick("program 'lane'");
        QVERIFY2(other.contains("Only this one reads ahead"), qPrintable(other));
        QVERIFY(!take->isVisible());
    }

    void steppedAndPlayed()
    {
        Station3 s;
        auto *row = s.in<app::TryRow>();
        s.in<QLineEdit>("tryReadings")->setText("60, 30, 10");
        QStringList lit;
        connect(row, &app::TryRow::picked, this, [&](const QString &state) { lit << state; });
        auto *step = s.in<QToolButton>("tryStep");
        for (int i = 0; i < 5; ++i)
            step->click();
        QCOMPARE(lit, (QStringList{"stands", "advances", "stands", "backs", "stands"}));
        QCOMPARE(s.in<app::CellsPicture>()->accessibleDescription().isEmpty(), false);
        lit.clear();
        auto *play = s.in<QToolButton>("tryPlay");
        play->click();
        QVERIFY(row->isPlaying());
        QTRY_VERIFY_WITH_TIMEOUT(!row->isPlaying(), test::patience_ms);
        QCOMPARE(lit, (QStringList{"stands", "advances", "stands", "backs"}));
        play->click();
        play->click();
        QVERIFY(!row->isPlaying());
    }

    /// A hand on the ruler is an obstacle.
    void theObstacleIsDragged()
    {
        Station3 s;
        auto *cells = s.in<app::CellsPicture>();
        auto *text = s.in<QLineEdit>("tryReadings");
        text->setText("60");
        const auto far = cells->handleOf("far");
        const auto near = cells->handleOf("near");
        const QPoint at((far.x() + near.x()) / 2, far.y() + 40);
        QTest::mousePress(cells, Qt::LeftButton, {}, at);
        QVERIFY(s.in<app::TryRow>()->said().endsWith("stands"));
        QTest::mouseMove(cells, {near.x() / 2, at.y()});
        QTest::mouseRelease(cells, Qt::LeftButton, {}, {near.x() / 2, at.y()});
        QVERIFY2(s.in<app::TryRow>()->said().endsWith("backs"),
                 qPrintable(s.in<app::TryRow>()->said()));
        QCOMPARE(text->text().count(','), 1); // one entry more, which followed the hand
        QCOMPARE(*s.program().value("near")->si, 0.18);
        // Where the row is full the oldest entry gives way to it.
        text->setText("60, 60, 60, 60, 60, 60, 60, 60, 60, 60, 60, 50");
        QTest::mousePress(cells, Qt::LeftButton, {}, {near.x() / 2, at.y()});
        QTest::mouseRelease(cells, Qt::LeftButton, {}, {near.x() / 2, at.y()});
        QCOMPARE(text->text().count(','), 11);
        QVERIFY2(s.in<app::TryRow>()->said().endsWith("backs"),
                 qPrintable(s.in<app::TryRow>()->said()));
    }

    void theScanIsAFan()
    {
        Desk d;
        d.session.selectCar(QStringLiteral("Redshank"));
        d.session.editProgram("choose", [](rules::Program &p) {
            for (auto &r : p.readings)
                r.noEcho = rules::NoEcho::Clear;
        });
        d.go(Station::Rule);
        auto *page = d.rule()->findChild<app::ProgramPage *>();
        auto *cells = page->findChild<app::CellsPicture *>();
        QVERIFY(cells->isTitled()); // the ruler, with its sweep's budget
        const int ruler = cells->sizeHint().height();
        page->reveal("state:looks");
        QApplication::processEvents();
        QVERIFY(cells->isTitled());
        QVERIFY(cells->sizeHint().height() > ruler);
        for (const auto palette : {app::Theme::Palette::Dark, app::Theme::Palette::Projector}) {
            d.window->setPalette(palette);
            QApplication::processEvents();
            QVERIFY(!cells->grab().isNull());
        }
    }

    /// A program that an error stands against is written only when somebody says so.
    void askedBeforeItIsWritten()
    {
        Desk d;
        d.session.selectCar(QStringLiteral("Dunlin")); // one eye the wrong way round
        d.go(Station::Rule);
        auto *write = d.rule()->stationActions().front();
        QStringList asked;
        bool folders = false;
        const auto answer = [&](QMessageBox::ButtonRole role) {
            QTimer::singleShot(0, this, [&, role] {
                auto *box = qobject_cast<QMessageBox *>(QApplication::activeModalWidget());
                QVERIFY(box);
                asked << box->informativeText();
                for (auto *button : box->buttons())
                    if (box->buttonRole(button) == role) {
                        QTimer::singleShot(0, this, [&] {
                            auto *dialog =
                                qobject_cast<QFileDialog *>(QApplication::activeModalWidget());
                            folders = dialog != nullptr;
                            if (dialog)
                                dialog->reject();
                        });
                        return button->click();
                    }
                QFAIL("no such button");
            });
        };
        answer(QMessageBox::RejectRole);
        write->trigger();
        QCOMPARE(asked.size(), 1);
        QVERIFY2(asked.front().contains("sensor-sense-opposite"), qPrintable(asked.front()));
        QVERIFY(!folders);
        answer(QMessageBox::AcceptRole);
        write->trigger();
        QCOMPARE(asked.size(), 2);
        QTRY_VERIFY_WITH_TIMEOUT(folders, test::patience_ms);
        QCOMPARE(d.session.program()->writtenVersion, 0); // no folder was picked
    }
};

BADGER_TEST(TestProgramEdits)
#include "test_program_edits.moc"
