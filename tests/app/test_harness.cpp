// SPDX-License-Identifier: GPL-3.0-or-later
// The drawing of the harness: its layout, what is lit and faded, and how it goes to paper.
#include "app/wire/harness_view.h"
#include "app/wire/wire_card.h"
#include "core/edit/kit_edits.h"
#include "core/wiring/check.h"
#include "support/desk.h"

#include <QPainter>

using namespace badger;
using app::HarnessLayout;
using app::HarnessView;
using test::Bench;

namespace
{

/// The harness of a demo car alone, as large as the window gives it.
struct Drawn {
    app::Theme theme;
    Bench bench;
    HarnessView view{theme};

    explicit Drawn(const std::string &car) : bench(car)
    {
        app::Theme::loadFonts();
        view.resize(800, 620);
        view.show(bench.car, bench.catalogue, {});
        view.QWidget::show();
        QApplication::processEvents();
        view.resize(800, std::max(620, view.minimumHeight()));
        QApplication::processEvents();
    }
    QImage picture() { return view.grab().toImage(); }
    /// The colour in the middle of a wire, in widget pixels.
    QPoint middle(size_t wire) const
    {
        for (const auto &w : view.layoutOfHarness().wires)
            if (w.index == wire)
                return (w.path.pointAtPercent(0.24) + QPointF(26, 2)).toPoint();
        qFatal("no wire %zu", wire);
    }
    size_t wireAt(const std::string &end) const
    {
        for (size_t i = 0; i < bench.car.wires.size(); ++i)
            if (bench.car.wires[i].from == end || bench.car.wires[i].to == end)
                return i;
        qFatal("no wire at %s", end.c_str());
    }
};

int distance(QColor a, QColor b)
{
    return std::abs(a.red() - b.red()) + std::abs(a.green() - b.green()) +
           std::abs(a.blue() - b.blue());
}

/// The upright stretch of a wire that runs beside its column, and none for one that crosses over.
std::optional<QLineF> lane(const app::HarnessWire &w)
{
    for (int i = 1; i < w.path.elementCount(); ++i) {
        const auto a = w.path.elementAt(i - 1);
        const auto b = w.path.elementAt(i);
        if (b.isLineTo() && std::abs(a.x - b.x) < 0.01)
            return QLineF(a.x, std::min(a.y, b.y), b.x, std::max(a.y, b.y));
    }
    return std::nullopt;
}

} // namespace

class TestHarness final : public QObject
{
    Q_OBJECT

    static void eachCar()
    {
        QTest::addColumn<std::string>("car");
        for (const auto &c : test::demo().cars)
            QTest::newRow(c.name.c_str()) << c.name;
    }

private slots:
    void partsLieApart_data() { eachCar(); }
    void partsLieApart()
    {
        QFETCH(std::string, car);
        const Bench b(car);
        for (const qreal width : {560.0, 760.0, 1100.0}) {
            const auto l = app::layOut(b.car, b.catalogue, width, 18);
            QCOMPARE(l.wires.size(), b.car.wires.size());
            for (size_t i = 0; i < l.parts.size(); ++i) {
                QVERIFY(QRectF(0, 0, width + 0.5, l.height).contains(l.parts[i].area));
                for (size_t k = 0; k < i; ++k)
                    QVERIFY(!l.parts[i].area.intersects(l.parts[k].area));
            }
            for (size_t i = 0; i < l.wires.size(); ++i) {
                QCOMPARE(l.wires[i].index, i); // in the car's order
                const auto &w = b.car.wires[i];
                const QPointF ends[] = {l.terminal(w.from)->at, l.terminal(w.to)->at};
                const auto begin = l.wires[i].path.pointAtPercent(0);
                const auto end = l.wires[i].path.pointAtPercent(1);
                QVERIFY((begin == ends[0] && end == ends[1]) ||
                        (begin == ends[1] && end == ends[0]));
            }
        }
    }

    /// Wires beside a column do not lie on each other: each can be followed.
    void everyWireHasItsLane_data() { eachCar(); }
    void everyWireHasItsLane()
    {
        QFETCH(std::string, car);
        const Bench b(car);
        const auto l = app::layOut(b.car, b.catalogue, 760, 18);
        std::vector<QLineF> lanes;
        for (const auto &w : l.wires)
            if (const auto line = lane(w))
                lanes.push_back(*line);
        for (size_t i = 0; i < lanes.size(); ++i)
            for (size_t k = 0; k < i; ++k)
                if (std::abs(lanes[i].x1() - lanes[k].x1()) < 3.0)
                    QVERIFY2(lanes[i].y2() <= lanes[k].y1() || lanes[k].y2() <= lanes[i].y1(),
                             "two wires lie on each other");
    }

    void fewerCrossingsThanTheOrderOfTheParts()
    {
        // What the arrangement is for: the picked order beats the car's own order of parts.
        int better = 0;
        for (const auto &car : test::demo().cars) {
            const Bench b(car.name);
            const auto l = app::layOut(b.car, b.catalogue, 760, 18);
            QVERIFY(l.crossings >= 0);
            better += l.crossings < int(b.car.wires.size());
        }
        QVERIFY(better >= 8);
    }

    void aPickedWireFadesTheRest()
    {
        Drawn d("Avocet");
        const auto trig = d.wireAt("ranger.TRIG");
        const auto green = d.wireAt("driver.IN1");
        const auto plain = d.picture();
        QVERIFY(distance(plain.pixelColor(d.middle(green)), d.theme.wire("green")) < 40);
        d.view.pickWire(int(trig));
        const auto lit = d.picture();
        QVERIFY(distance(lit.pixelColor(d.middle(trig)), d.theme.wire("white")) < 40);
        QVERIFY(distance(lit.pixelColor(d.middle(green)), d.theme.wire("green")) > 80);
        QVERIFY(d.view.accessibleDescription().contains("ranger.TRIG"));
        d.view.pickWire(-1);
        QCOMPARE(d.picture(), plain);
    }

    void hoveringDoesTheSame()
    {
        Drawn d("Avocet");
        const auto trig = d.wireAt("ranger.TRIG");
        const auto green = d.wireAt("driver.IN1");
        const auto plain = d.picture();
        QTest::mouseMove(&d.view, d.middle(trig));
        QApplication::processEvents();
        QVERIFY(distance(d.picture().pixelColor(d.middle(green)),
                         plain.pixelColor(d.middle(green))) > 80);
        QTest::mouseMove(&d.view, QPoint(2, d.view.height() - 2));
        QApplication::processEvents();
        QCOMPARE(d.picture(), plain);
    }

    void changesAreNumberedAndTheRestFades()
    {
        Drawn d("Avocet");
        const auto trig = d.wireAt("ranger.TRIG");
        const auto green = d.wireAt("driver.IN1");
        app::HarnessChanges changes;
        changes.numbers["board.D8\nranger.TRIG"] = 1; // the other way round counts, too
        changes.gone.push_back({"ranger.TRIG", "board.D9", "white", {}});
        changes.gone.push_back({"nobody.X", "board.D9", "white", {}}); // not in this drawing
        const auto plain = d.picture();
        d.view.showChanges(changes);
        const auto shown = d.picture();
        QVERIFY(distance(shown.pixelColor(d.middle(green)), d.theme.wire("green")) > 80);
        QVERIFY(distance(shown.pixelColor(d.middle(trig)), d.theme.wire("white")) < 40);
        d.view.show(d.bench.car, d.bench.catalogue, {});
        QCOMPARE(d.picture(), plain);
    }

    void findingsSitOnTheirTerminal()
    {
        Drawn d("Curlew");
        const auto plain = d.picture();
        d.view.show(d.bench.car, d.bench.catalogue,
                    wiring::check({d.bench.car, d.bench.catalogue}).findings);
        const auto marked = d.picture();
        const auto at = d.view.layoutOfHarness().terminal("driver.BIN2")->at + QPointF(26 - 12, 2);
        bool differs = false;
        for (int dx = -5; dx <= 5; ++dx)
            differs |= plain.pixel(at.toPoint() + QPoint(dx, 0)) !=
                       marked.pixel(at.toPoint() + QPoint(dx, 0));
        QVERIFY(differs);
    }

    void arrowsGoFromWireToWire()
    {
        Drawn d("Avocet");
        QSignalSpy picked(&d.view, &HarnessView::wirePicked);
        QTest::keyClick(&d.view, Qt::Key_Down);
        QTest::keyClick(&d.view, Qt::Key_Up);
        QCOMPARE(d.view.pickedWire(), int(d.bench.car.wires.size()) - 1);
        QCOMPARE(picked.count(), qsizetype(2));
    }

    void plainForPaper()
    {
        Drawn d("Redshank");
        const auto whole = d.view.plainSize();
        QImage sheet(600, 900, QImage::Format_RGB32);
        sheet.fill(Qt::white);
        QPainter p(&sheet);
        const auto used = d.view.paintPlain(p, {600, 900});
        p.end();
        QVERIFY(used.width() <= 600.5 && used.height() <= 900.5);
        COMPARE_NEAR(used.width() / used.height(), whole.width() / whole.height(), 0.01);
        int ink = 0;
        for (int y = 0; y < sheet.height(); ++y)
            for (int x = 0; x < sheet.width(); ++x)
                ink += sheet.pixelColor(x, y).lightness() < 128;
        QVERIFY(ink > 3000);
        // The view itself is as it was.
        QCOMPARE(d.view.layoutOfHarness().wires.size(), d.bench.car.wires.size());
    }

    void whatDoesNotFitOnAPageIsRefused()
    {
        Bench b;
        for (int i = 0; i < 160; ++i) {
            const auto led = edit::addPart(b.car, b.catalogue, "led-red");
            b.car.wires.push_back({led + ".PLUS", "board.D9", "pink", {}});
        }
        QTemporaryDir folder;
        const auto path = folder.filePath("card.pdf");
        const auto saved = app::saveCardPdf(path, {b.car, b.catalogue, "Sheds"});
        QVERIFY(!saved && english(saved.error().mend).find("CSV") != std::string::npos);
        QVERIFY(!QFile::exists(path)); // no half-finished page
        VERIFY_OK(app::saveHarnessSvg(folder.filePath("h.svg"), {b.car, b.catalogue, "Sheds"}));
    }

    void theCardOfABareCar()
    {
        Bench b;
        b.car.wires.clear();
        b.car.history.clear();
        QTemporaryDir folder;
        VERIFY_OK(app::saveCardPdf(folder.filePath("card.pdf"), {b.car, b.catalogue, "Sheds"}));
    }
};

BADGER_TEST(TestHarness)
#include "test_harness.moc"
