// SPDX-License-Identifier: GPL-3.0-or-later
// Nothing lost, nothing injected, nothing dies: what the window does with hostile names, with files
// that are none, with failures inside itself, and with work that is not saved.
#include "app/kit/make_page.h"
#include "app/shell/application.h"
#include "app/shell/car_list.h"
#include "app/wire/wire_card.h"
#include "core/io/shipped.h"
#include "core/io/storage.h"
#include "support/desk.h"

#include <QAction>
#include <QDir>
#include <QToolTip>
#include <QXmlStreamReader>
#include <stdexcept>
#include <sys/stat.h>

using namespace badger;
using judge::Station;
using test::Desk;

namespace
{

const std::string picture =
    "<img src=\"file:///dev/zero\"><b>Bird</b> & \"co\"\x1b\n</title><script>";

/// Every text of the workshop that a person or a file chooses, made hostile.
workshop::Workshop hostileWorkshop()
{
    auto w = test::demo();
    w.name = w.bench = picture;
    for (auto &car : w.cars) {
        car.name = picture.substr(0, 60) + car.name;
        car.team = picture;
        const auto rename = [&](std::string &end) {
            if (!end.empty())
                end = "<i>" + end;
        };
        for (auto &i : car.parts) {
            for (auto *id : {&i.id, &i.carriedBy, &i.drivenBy})
                rename(*id);
            for (auto &f : i.feeds)
                rename(f.from);
            i.label = i.label.empty() ? "" : "<b>" + i.label;
        }
        const auto wires = [&](std::vector<kit::Wire> &all) {
            for (auto &wire : all) {
                rename(wire.from);
                rename(wire.to);
                wire.colour = "=<b>" + wire.colour;
            }
        };
        const auto pins = [&](std::map<std::string, std::string> &all) {
            std::map<std::string, std::string> renamed;
            for (auto &[end, pin] : all)
                renamed["<i>" + end] = pin;
            all = renamed;
        };
        wires(car.wires);
        pins(car.programPins);
        for (auto &r : car.history) {
            wires(r.wires);
            pins(r.programPins);
            for (auto &j : r.jumpers)
                rename(j);
            r.reason = picture;
        }
    }
    for (auto &p : w.programs)
        for (auto &v : p.values)
            v.meaning = picture;
    for (auto &t : w.trials)
        t.note = t.floorName = t.programName = picture;
    return w;
}

bool isXml(const QByteArray &text)
{
    QXmlStreamReader reader(text);
    bool script = false;
    while (!reader.atEnd()) {
        reader.readNext();
        script |= reader.name() == QLatin1String("script") || reader.name() == QLatin1String("img");
    }
    return !reader.hasError() && !script;
}

void everyPage(Desk &d, const std::function<void()> &visit)
{
    using KitPage = app::KitStation::Page;
    using WirePage = app::WireStation::Page;
    for (const auto s : judge::stations) {
        d.go(s);
        visit();
        if (s == Station::Kit)
            for (const auto p : {KitPage::Make, KitPage::Parts, KitPage::Compare, KitPage::Car}) {
                d.kit()->showPage(p);
                QApplication::processEvents();
                visit();
            }
        if (s == Station::Wire)
            for (const auto p :
                 {WirePage::Motion, WirePage::Changes, WirePage::Bench, WirePage::Harness}) {
                d.wire()->showPage(p);
                QApplication::processEvents();
                visit();
            }
    }
}

/// Throws from the event that a slot runs in.
class Thrower final : public QObject
{
public:
    bool event(QEvent *event) override
    {
        if (event->type() == QEvent::User)
            throw std::runtime_error("the test threw");
        return QObject::event(event);
    }
};

QByteArray savedText(const std::string &name)
{
    auto w = test::demo();
    w.name = name;
    return QByteArray::fromStdString(io::writeWorkshop(w));
}

void write(const QString &path, const QByteArray &bytes)
{
    QFile f(path);
    QVERIFY(f.open(QIODevice::WriteOnly));
    f.write(bytes);
}

} // namespace

class TestSafety final : public QObject
{
    Q_OBJECT
private slots:
    /// A label that reads markup can open local files; only one holds links, and it escapes names.
    void noNameIsReadAsMarkup()
    {
        Desk d;
        const auto path = d.folder.filePath("hostile.json");
        VERIFY_OK(io::saveFile(path.toStdString(), io::writeWorkshop(hostileWorkshop())));
        d.window->openFile(path);
        QVERIFY2(d.document.title().contains("img"), qPrintable(d.message()));
        int labels = 0;
        for (const size_t i : {0, 1, 5}) { // a program, a servo, no board
            d.session.selectCar(QString::fromStdString(d.session.workshop().cars[i].name));
            everyPage(d, [&] {
                for (const auto *label : d.window->findChildren<QLabel *>()) {
                    if (!label->isVisible())
                        continue;
                    ++labels;
                    const bool links = label->property("links").toBool();
                    QVERIFY2(links || label->textFormat() == Qt::PlainText,
                             qPrintable(label->objectName() + ": " + label->text()));
                    QVERIFY(!links || !label->text().contains("<img"));
                }
            });
        }
        QVERIFY(labels > 300);
        // A tooltip is a label, too.
        QToolTip::showText({10, 10}, QString::fromStdString(picture), d.window.get());
        QTRY_VERIFY(QToolTip::isVisible());
        int tips = 0;
        for (auto *w : QApplication::topLevelWidgets())
            if (auto *tip = qobject_cast<QLabel *>(w); tip && tip->inherits("QTipLabel")) {
                QCOMPARE(tip->textFormat(), Qt::PlainText);
                ++tips;
            }
        QVERIFY(tips > 0);
    }

    void drawingsAreXmlWithoutStrangers()
    {
        Desk d;
        const auto w = hostileWorkshop();
        const auto catalogue = io::catalogueOf(w);
        for (const auto &car : w.cars) {
            const auto svg = d.folder.filePath("harness.svg");
            VERIFY_OK(app::saveHarnessSvg(svg, {car, catalogue, QString::fromStdString(w.name)}));
            QVERIFY2(isXml(test::contents(svg)), test::contents(svg).left(400).constData());
            const auto drilling =
                mechanics::templateSvg(mechanics::templateOf({car, catalogue}), car.name);
            QVERIFY(isXml(QByteArray::fromStdString(drilling)));
        }
    }

    /// A template with a control character in its title was a blank sheet.
    void theTemplateOfAHostileNameIsNotBlank()
    {
        Desk d;
        const auto save = [&](const QString &name) {
            auto *page = d.kit()->findChild<app::MakePage *>();
            const auto path = d.folder.filePath(name);
            if (const auto ok = page->savePdf(path); !ok)
                qFatal("%s", english(ok.error().text()).c_str());
            return test::contents(path).size();
        };
        d.kit()->showPage(app::KitStation::Page::Make);
        const auto plain = save("plain.pdf");
        QVERIFY(app::changeCar(d.document, "rename", test::carCalled("Avocet"),
                               [](kit::Car &c) {
                                   c.name = "Avo\x01"
                                            "cet";
                               }) ||
                true);
        QVERIFY(app::change(d.document, "rename",
                            [](workshop::Workshop &w) { w.name = "Sheds \x01\x1b"; }));
        QApplication::processEvents();
        QVERIFY(save("hostile.pdf") > plain * 9 / 10);
        // A full disk is said.
        auto *page = d.kit()->findChild<app::MakePage *>();
        QVERIFY(!page->savePdf("/dev/full"));
        QVERIFY(!page->savePdf("/proc/none/x.pdf"));
    }

    void anExceptionIsSaidAndTheWorkIsSafe()
    {
        Desk d;
        d.recovery.start();
        Desk::type(d.child<QLineEdit>("threshold"), "40 cm");
        Thrower thrower;
        QCoreApplication::postEvent(&thrower, new QEvent(QEvent::User));
        QApplication::processEvents();
        QVERIFY2(d.message().contains("the test threw"), qPrintable(d.message()));
        QVERIFY(d.message().contains("rescue copy"));
        QCOMPARE(QDir(d.folder.filePath("recovery")).entryList({"*.recovery.json"}).size(),
                 qsizetype(1));
        Desk::type(d.child<QLineEdit>("threshold"), "41 cm"); // and the window goes on
        COMPARE_NEAR(d.threshold_m(), 0.41, 1e-12);
    }

    void aListThatIsNoneIsRefused()
    {
        Desk d("Avocet");
        d.go(Station::Wire);
        const auto latin = d.folder.filePath("latin.csv");
        write(latin, "from,to,colour\nboard.D3,ranger.ECHO,gr\xfcn\n");
        d.wire()->importFile(latin);
        QVERIFY2(d.message().contains("not UTF-8"), qPrintable(d.message()));
        const auto pipe = d.folder.filePath("pipe");
        QCOMPARE(::mkfifo(qPrintable(pipe), 0600), 0);
        d.wire()->importFile(pipe); // would wait for ever
        QVERIFY2(d.message().contains("is not a file"), qPrintable(d.message()));
        d.wire()->importFile("/dev/zero");
        QVERIFY(d.message().contains("is not a file"));
        d.wire()->importFile(d.folder.path());
        QVERIFY(d.message().contains("is not a file"));
    }

    /// Its ruler is a kilometre of hatching.
    void aHugeDeadZoneIsPainted()
    {
        Desk d;
        QVERIFY(app::change(d.document, "own ranger", [&](workshop::Workshop &w) {
            auto part = *d.document.catalogue().find(d.session.car()->instance("ranger")->partId);
            part.id = "own-ranger";
            auto &dead = part.figures["dead_zone_m"];
            dead.low = dead.typical = dead.high = 1e6;
            w.parts.push_back(part);
            for (auto &i : w.cars[0].parts)
                if (i.id == "ranger")
                    i.partId = "own-ranger";
        }));
        everyPage(d, [&] { (void)d.window->grab(); });
    }

    void aBoardWithOtherPinsOpens()
    {
        Desk d;
        auto w = test::demo();
        auto own = *io::shippedCatalogue().find("board-5v-8bit");
        own.id = "own-board";
        for (auto &t : own.terminals)
            if (t.name == "D3")
                t.name = "GPIO5";
        w.parts.push_back(own);
        for (auto &i : w.cars[0].parts)
            if (i.partId == "board-5v-8bit")
                i.partId = "own-board";
        const auto path = d.folder.filePath("own.json");
        VERIFY_OK(io::saveFile(path.toStdString(), io::writeWorkshop(w)));
        d.window->openFile(path);
        QCOMPARE(d.document.path(), path);
        everyPage(d, [&] { (void)d.window->grab(); });
    }

    void saveAsAsksAboutTheNameItReallyTakes()
    {
        Desk d;
        const auto there = d.folder.filePath("class.badger.json");
        write(there, savedText("Somebody's"));
        QVERIFY(!d.window->saveTo(d.folder.filePath("class")));
        QVERIFY2(d.message().contains("class.badger.json is there already"),
                 qPrintable(d.message()));
        QCOMPARE(test::contents(there), savedText("Somebody's"));
        QVERIFY(d.window->messages().choose("Replace it"));
        QVERIFY(test::contents(there).contains("Saltmarsh"));
        QVERIFY(d.window->saveTo(d.folder.filePath("other")));
        QVERIFY(QFile::exists(d.folder.filePath("other.badger.json")));
    }

    void rescuedWorkDoesNotReplaceUnsavedWork()
    {
        Desk d;
        QDir().mkpath(d.folder.filePath("recovery"));
        write(d.folder.filePath("recovery/a.recovery.json"), savedText("Rescued"));
        Desk::type(d.child<QLineEdit>("threshold"), "40 cm");
        d.window->offerRecovered();
        QVERIFY(d.window->messages().choose("Open it"));
        QCOMPARE(d.document.title(), QString("Saltmarsh Sheds"));
        QVERIFY(d.message().contains("unsaved changes"));
        QVERIFY(QFile::exists(d.folder.filePath("recovery/a.recovery.json")));
        QVERIFY(d.window->messages().choose("Open it without saving"));
        QCOMPARE(d.document.title(), QString("Rescued"));
        QVERIFY(!QFile::exists(d.folder.filePath("recovery/a.recovery.json")));
    }

    /// "Open without saving", and then the file is none: the work and its copy are still there.
    void aFailedOpenLosesNothing()
    {
        Desk d;
        d.recovery.start();
        Desk::type(d.child<QLineEdit>("threshold"), "40 cm");
        d.recovery.writeNow();
        const auto bad = d.folder.filePath("bad.json");
        write(bad, "{");
        d.window->openFile(bad);
        QVERIFY(d.window->messages().choose("Open without saving"));
        QVERIFY(d.message().startsWith("Not opened"));
        COMPARE_NEAR(d.threshold_m(), 0.40, 1e-12);
        QVERIFY(d.document.isModified());
        QCOMPARE(QDir(d.folder.filePath("recovery")).entryList({"*.recovery.json"}).size(),
                 qsizetype(1));
        // What is rescued is offered once that was read.
        write(d.folder.filePath("recovery/b.recovery.json"), savedText("Rescued"));
        d.window->offerRecovered();
        QVERIFY(d.message().startsWith("Not opened"));
        d.window->messages().close();
        QTRY_VERIFY(d.message().contains("Rescued was rescued"));
    }

    void theMessageLiesOverThePageAndGoesWhenItIsUntrue()
    {
        Desk d;
        d.go(Station::Kit);
        const auto before = d.kit()->mapTo(d.window.get(), QPoint());
        const auto size = d.kit()->size();
        d.window->newCar(0);
        QApplication::processEvents();
        QVERIFY(d.message().contains("F2 gives it a name"));
        QCOMPARE(d.kit()->mapTo(d.window.get(), QPoint()).y(), before.y());
        QCOMPARE(d.kit()->size(), size);
        QApplication::processEvents(); // the longer list settles
        // The class is not covered, and the new car is in view.
        const auto bar = d.window->messages().geometry();
        auto *cars = d.window->findChild<app::CarList *>();
        QVERIFY(bar.left() >= cars->width());
        for (const auto &car : d.session.workshop().cars) {
            auto *tag = d.child<app::CarTag>(("car:" + car.name).c_str());
            const QRect area(tag->mapTo(cars, QPoint()), tag->size());
            QVERIFY2(cars->rect().contains(area),
                     qPrintable(QString("%1: %2 to %3 of %4")
                                    .arg(QString::fromStdString(car.name))
                                    .arg(area.top())
                                    .arg(area.bottom())
                                    .arg(cars->height())));
        }
        auto *add = d.child<QPushButton>("newCar");
        QVERIFY(cars->rect().contains(QRect(add->mapTo(cars, QPoint()), add->size())));
        d.document.undoStack().undo();
        QCOMPARE(d.message(), QString());
    }

    void aCarWithoutAProgramShowsNoneOfAnothers()
    {
        Desk d;
        d.go(Station::Rule);
        Desk::type(d.child<QLineEdit>("tryReading"), "29 cm");
        QVERIFY(!d.child<QLabel>("tried")->text().isEmpty());
        d.session.selectCar("Curlew");
        QApplication::processEvents();
        for (const auto *label : d.rule()->findChildren<QLabel *>())
            if (label->isVisible())
                QVERIFY2(!label->text().contains("32"), qPrintable(label->text()));
        QVERIFY(!d.child<QLineEdit>("threshold")->isVisible());
        QVERIFY(!d.child<QLineEdit>("tryReading")->isVisible());
        // It offers what to begin with.
        d.now<QAbstractButton>("start:Halt, new")->click();
        QApplication::processEvents();
        QCOMPARE(QString::fromStdString(d.session.program()->name), QString("halt Curlew"));
        QVERIFY(d.child<QLineEdit>("threshold")->isVisible());
        QVERIFY(d.child<QLineEdit>("threshold")->text().isEmpty());
        QVERIFY(d.child<QLineEdit>("tryReading")->text().isEmpty());
        d.document.undoStack().undo();
        d.now<QAbstractButton>("start:halt")->click();
        QCOMPARE(d.session.program()->name, std::string("halt"));
    }

    void theLimitIsInclusiveInOnePlace()
    {
        Desk d;
        // The rules inside the states, and the limit itself stops the car.
        QVERIFY(app::changeProgram(d.document, "move the rules", test::programCalled("halt"),
                                   [](rules::Program &p) {
                                       for (auto &s : p.states)
                                           s.rules = p.everywhere;
                                       p.everywhere.clear();
                                   }));
        d.go(Station::Rule);
        QVERIFY2(d.headline().startsWith("Avocet halts at 32 cm or nearer"),
                 qPrintable(d.headline()));
        const auto choose = [&](const QString &text) {
            for (auto *b : d.rule()->findChildren<QPushButton *>())
                if (b->text() == text)
                    b->click();
            QApplication::processEvents();
        };
        choose("<");
        QVERIFY2(d.headline().startsWith("Avocet halts nearer than 32 cm"),
                 qPrintable(d.headline()));
        choose("≤");
        QVERIFY(d.headline().startsWith("Avocet halts at 32 cm or nearer"));
    }

    void noSentenceHasAnEmptySlot()
    {
        Desk d;
        // A word that wants something after it and gets a stop instead; a stop after a stop.
        const QRegularExpression hole(
            "\\b(on|of|at|to|from|by|for|with) +[,.;:]|, *,|: *[.,]|\\(\\)|''|, *$|^ *,");
        for (const auto &car : d.session.workshop().cars) {
            d.session.selectCar(QString::fromStdString(car.name));
            everyPage(d, [&] {
                const auto sum =
                    qobject_cast<app::StationView *>(d.window->station(d.session.station()))->sum();
                for (const auto &line : sum.derivation)
                    for (const auto &text : {line.name, line.value, line.how, line.from})
                        QVERIFY2(!hole.match(text).hasMatch(),
                                 qPrintable(QString::fromStdString(car.name) + ": " + text));
            });
        }
    }

    void findLooksEverywhereAndSaysWhenThereIsNothing()
    {
        Desk d;
        auto *finder = d.window->findChild<app::Finder *>();
        const auto servo = finder->matches("servo.SIG");
        QVERIFY(!servo.isEmpty());
        QVERIFY2(servo.first().startsWith("Curlew: "), qPrintable(servo.first()));
        const auto echo = finder->matches("ranger.ECHO"); // the present car's first
        QVERIFY2(echo.size() > 2 && echo.first().startsWith("wire ranger.ECHO"),
                 qPrintable(echo.join('\n')));
        QVERIFY(finder->matches("pin D13").first().contains("free"));
        d.session.judgement(test::carCalled("Curlew"));
        QVERIFY(!finder->matches("Curlew: error").isEmpty());
        Desk::type(finder, "Curlew: wire servo.SIG");
        QCOMPARE(d.session.carName(), QString("Curlew"));
        QVERIFY(d.session.station() == Station::Wire);
        finder->setFocus();
        QTest::keyClicks(finder, "no such thing");
        QVERIFY(d.child<QLabel>("findNothing")->isVisible());
        QVERIFY(d.child<QLabel>("findNothing")->text().contains("no such thing"));
        QTest::keyClick(finder, Qt::Key_Escape);
        QVERIFY(!d.child<QLabel>("findNothing")->isVisible());
    }

    void anEmptyWorkshopOffersItsKits()
    {
        Desk d;
        d.document.startEmpty();
        d.go(Station::Kit);
        for (const auto &kit : io::startingKits())
            QVERIFY(d.child<QAbstractButton>(("kit:" + kit.name).c_str())->isVisible());
        // Floor and Log say what they wait for, and lead back.
        d.go(Station::Log);
        QVERIFY(d.child<QLabel>("waits")->text().startsWith("Log waits"));
        d.go(Station::Floor);
        QVERIFY(d.child<QLabel>("waits")->text().startsWith("Floor waits"));
        d.child<QPushButton>("chooseFirstCar")->click();
        QApplication::processEvents();
        d.child<QAbstractButton>("kit:Straddle a line")->click();
        QApplication::processEvents();
        QCOMPARE(d.session.workshop().cars.size(), size_t(1));
        QVERIFY(d.session.car()->mission->behaviour == "straddle");
        QVERIFY(d.kit()->isVisible());
    }

    /// Twenty thousand honest runs: their list shows some, and an edit does not read them again.
    void thousandsOfRunsAreAFewRows()
    {
        Desk d;
        const auto path = d.folder.filePath("many.json");
        auto w = test::demo();
        const auto one = w.trials.front();
        w.trials.assign(20000, one);
        for (size_t i = 0; i < w.trials.size(); ++i)
            w.trials[i].id.text = w.trials[i].note = std::to_string(i);
        VERIFY_OK(io::saveFile(path.toStdString(), io::writeWorkshop(w)));
        d.window->openFile(path);
        d.go(Station::Log);
        int rows = 0;
        for (const auto *b : d.log()->findChildren<QPushButton *>())
            rows += b->text() == "remove";
        QVERIFY2(rows > 0 && rows <= 80, qPrintable(QString::number(rows)));
        // One that is made wrong is still seen.
        QVERIFY(!app::change(d.document, "remove the car only",
                             [](workshop::Workshop &x) { x.cars.erase(x.cars.begin()); }));
        QVERIFY(!app::change(d.document, "a wrong run",
                             [](workshop::Workshop &x) { x.trials[7].battery_V = -3.0; }));
        QCOMPARE(d.session.workshop().trials.size(), size_t(20000));
    }

    /// With a worker for the runs everything else is new at once, the newest edit wins, and the end
    /// is the same.
    void theWorkersRunsAreTheNewestEdits()
    {
        app::Document document;
        document.startDemo();
        app::Session session(document, judge::Runs::Later);
        QSignalSpy driven(&session, &app::Session::runsDriven);
        for (int cm = 20; cm <= 45; ++cm) {
            QVERIFY(app::changeProgram(document, "drag", test::programCalled("halt"),
                                       [&](rules::Program &p) { p.values[0].si = 0.01 * cm; }));
            const auto *j = session.current();
            QVERIFY(j->runsPending);
            COMPARE_NEAR(j->budget->setup.threshold_m, 0.01 * cm, 1e-12);
        }
        QTRY_VERIFY_WITH_TIMEOUT(!session.current()->runsPending, 20000);
        const auto &expected = judge::judge(
            document.workshop(), {*session.car(), document.catalogue()}, session.floor());
        QCOMPARE(session.current()->runs.size(), expected.runs.size());
        for (size_t i = 0; i < expected.runs.size(); ++i)
            QCOMPARE(trial::fingerprint(session.current()->runs[i]),
                     trial::fingerprint(expected.runs[i]));
        QVERIFY(driven.count() >= 1);
    }

    /// A picture that is not shown keeps the catalogue's address while another file is opened.
    void whatIsHiddenOutlivesAnotherFile()
    {
        Desk d;
        d.go(Station::Kit);
        const auto *catalogue = &d.document.catalogue();
        d.go(Station::Log);
        auto w = test::demo();
        auto own = *io::shippedCatalogue().find("led-red");
        own.id = "own-led";
        w.parts.push_back(own);
        const auto path = d.folder.filePath("other.json");
        VERIFY_OK(io::saveFile(path.toStdString(), io::writeWorkshop(w)));
        d.window->openFile(path);
        QCOMPARE(&d.document.catalogue(), catalogue);
        d.window->resize(1366, 768);
        d.go(Station::Kit);
        (void)d.window->grab();
        d.document.startEmpty();
        d.window->resize(1280, 800);
        QApplication::processEvents();
        d.document.startDemo();
        d.go(Station::Wire);
        (void)d.window->grab();
    }
};

BADGER_TEST(TestSafety)
#include "test_safety.moc"
