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
using test::write;

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
        QTRY_VERIFY_WITH_TIMEOUT(QToolTip::isVisible(), test::patience_ms);
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
        d.say("value:halt", "40 cm");
        Thrower thrower;
        QCoreApplication::postEvent(&thrower, new QEvent(QEvent::User));
        QApplication::processEvents();
        QVERIFY2(d.message().contains("the test threw"), qPrintable(d.message()));
        QVERIFY(d.message().contains("rescue copy"));
        QCOMPARE(QDir(d.folder.filePath("recovery")).entryList({"*.recovery.json"}).size(),
                 qsizetype(1));
        d.say("value:halt", "41 cm"); // and the window goes on
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
};

BADGER_TEST(TestSafety)
#include "test_safety.moc"
