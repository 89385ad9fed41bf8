// SPDX-License-Identifier: GPL-3.0-or-later
// Drawings: every element, transforms against the same done by hand, and what is refused.
#include "core/base/exact_math.h"
#include "core/drawing/drawing.h"
#include "support/fixture.h"

#include <cmath>

using namespace badger;
using drawing::Place;

namespace
{

Result<drawing::Drawing> read(const std::string &body, const std::string &head = {})
{
    return drawing::readSvg("<svg xmlns=\"http://www.w3.org/2000/svg\" viewBox=\"0 0 300 200\"" +
                                head + ">" + body + "</svg>",
                            "x.svg");
}

std::string path(const std::string &d, const std::string &more = {})
{
    return "<path stroke=\"#112233\" fill=\"none\" d=\"" + d + "\" " + more + "/>";
}

double length(const drawing::Shape &s)
{
    double sum = 0.0;
    for (size_t i = 0; i + 1 < s.points.size(); ++i)
        sum += std::hypot(s.points[i + 1].x - s.points[i].x, s.points[i + 1].y - s.points[i].y);
    return sum;
}

bool isNear(Place a, double x, double y, double by = 1e-6)
{
    return std::abs(a.x - x) < by && std::abs(a.y - y) < by;
}

} // namespace

class TestReadSvg final : public QObject
{
    Q_OBJECT
private slots:
    void everyElement_data()
    {
        QTest::addColumn<QString>("element");
        QTest::addColumn<int>("points");
        QTest::addColumn<bool>("closed");
        QTest::addColumn<double>("lastX");
        QTest::addColumn<double>("lastY");
        QTest::newRow("rect") << "<rect x='1' y='2' width='30' height='40'/>" << 4 << true << 1.0
                              << 42.0;
        QTest::newRow("percent") << "<rect width='100%' height='50%'/>" << 4 << true << 0.0
                                 << 100.0;
        QTest::newRow("line") << "<line x1='1' y1='2' x2='3px' y2='4'/>" << 2 << false << 3.0
                              << 4.0;
        QTest::newRow("polyline") << "<polyline points='1,2 3 4,5,6'/>" << 3 << false << 5.0 << 6.0;
        QTest::newRow("polygon") << "<polygon points='1,2 3 4,5,6'/>" << 3 << true << 5.0 << 6.0;
        QTest::newRow("circle") << "<circle cx='9' cy='8' r='3'/>" << 1 << true << 9.0 << 8.0;
        QTest::newRow("relative") << "<path d='M10,10 l5 0 0 5h-2v3z'/>" << 5 << true << 13.0
                                  << 18.0;
        QTest::newRow("more pairs") << "<path d='m1 1 2 2 3 3'/>" << 3 << false << 6.0 << 6.0;
        QTest::newRow("no spaces") << "<path d='M1-2.5.5.5L3-4'/>" << 3 << false << 3.0 << -4.0;
        QTest::newRow("arc's flags")
            << "<path d='M0 0a5 5 0 01.5.5'/>" << 25 << false << 0.5 << 0.5;
        QTest::newRow("in a group") << "<g transform='translate(10)'><g fill='red'>"
                                       "<line x1='1' y1='2' x2='3' y2='4'/></g></g>"
                                    << 2 << false << 13.0 << 4.0;
        QTest::newRow("of a class") << "<style>.a,.b{fill:#000}</style><line class='z b' x1='1' "
                                       "y1='2' x2='3' y2='4'/>"
                                    << 2 << false << 3.0 << 4.0;
    }
    void everyElement()
    {
        QFETCH(QString, element);
        QFETCH(int, points);
        QFETCH(bool, closed);
        QFETCH(double, lastX);
        QFETCH(double, lastY);
        const auto d = read(element.toStdString());
        VERIFY_OK(d);
        QCOMPARE(d->shapes.size(), size_t(1));
        const auto &s = d->shapes.front();
        QCOMPARE(int(s.points.size()), points);
        QCOMPARE(s.closed, closed);
        QVERIFY(isNear(s.points.back(), lastX, lastY));
    }

    /// Each transform against its own formula, and that they are applied from the inside out.
    void transforms()
    {
        const auto at = [](const char *transform, double x, double y) {
            const auto d = read("<line stroke='black' fill='none' x1='3' y1='5' x2='9' y2='9' "
                                "transform='" +
                                std::string(transform) + "'/>");
            return d && isNear(d->shapes.front().points.front(), x, y);
        };
        const double r = 30 * exact::pi / 180;
        QVERIFY(at("translate(7 -2)", 10, 3));
        QVERIFY(at("scale(2)", 6, 10));
        QVERIFY(at("scale(2 -1)", 6, -5));
        QVERIFY(
            at("rotate(30)", 3 * std::cos(r) - 5 * std::sin(r), 3 * std::sin(r) + 5 * std::cos(r)));
        QVERIFY(at("rotate(90, 10, 10)", 10 + 5, 10 - 7));
        QVERIFY(at("skewX(30)", 3 + 5 * std::tan(r), 5));
        QVERIFY(at("skewY(30)", 3, 5 + 3 * std::tan(r)));
        QVERIFY(at("matrix(1 2 3 4 5 6)", 3 + 15 + 5, 6 + 20 + 6));
        QVERIFY(at("translate(1,0),scale(10)", 31, 50));
        QVERIFY(at("scale(10) translate(1 0)", 40, 50));
    }

    /// Curves against their own length: a quarter of a circle as an arc, and as the usual cubic.
    void curves()
    {
        const double quarter = 50 * exact::pi;
        const auto arc = read(path("M100 0 A100 100 0 0 1 0 100"));
        VERIFY_OK(arc);
        QVERIFY(std::abs(length(arc->shapes[0]) - quarter) < quarter * 2e-4);
        for (const auto &p : arc->shapes[0].points)
            QVERIFY(std::abs(std::hypot(p.x, p.y) - 100) < 1e-9);
        const auto cubic = read(path("M100 0 C100 55.2285 55.2285 100 0 100"));
        VERIFY_OK(cubic);
        QVERIFY(std::abs(length(cubic->shapes[0]) - quarter) < quarter * 5e-4);
        // The long way round, and an ellipse whose ends lie too far apart for its radii.
        const auto large = read(path("M100 0 A100 100 0 1 0 0 100"));
        VERIFY_OK(large);
        QVERIFY(std::abs(length(large->shapes[0]) - 3 * quarter) < quarter * 6e-3);
        const auto grown = read(path("M0 0 A1 1 0 0 1 20 0"));
        VERIFY_OK(grown);
        QVERIFY(std::abs(length(grown->shapes[0]) - 10 * exact::pi) < 0.03);
        // S takes up the last handle: a smooth wave is as long as the same written out.
        const auto smooth = read(path("M0 0 C0 40 40 40 40 0 S80 -40 80 0"));
        const auto written = read(path("M0 0 C0 40 40 40 40 0 C40 -40 80 -40 80 0"));
        QCOMPARE(length(smooth->shapes[0]), length(written->shapes[0]));
        const auto t = read(path("M0 0 Q20 40 40 0 T80 0"));
        const auto q = read(path("M0 0 Q20 40 40 0 Q60 -40 80 0"));
        QCOMPARE(length(t->shapes[0]), length(q->shapes[0]));
    }

    void colours()
    {
        QCOMPARE(drawing::colourOf("#AbC"), std::string("#aabbcc"));
        QCOMPARE(drawing::colourOf(" Black "), std::string("#000000"));
        QCOMPARE(drawing::colourOf("rgb(1, 2,255)"), std::string("#0102ff"));
        for (const auto *none : {"none", "", "url(#a)", "#12345", "rgb(1,2,300)", "rgb(1,2)"})
            QVERIFY2(drawing::colourOf(none).empty(), none);
        // The element's own style before its class, that before its attribute, that before the
        // group's; nothing said is black.
        const auto d = read("<style>.k{stroke:#222222}</style><g stroke='#111111'>"
                            "<line x2='9' class='k' stroke='#333333' style='stroke:#444444'/>"
                            "<line x2='9' class='k' stroke='#333333'/><line x2='9' "
                            "stroke='#333333'/><line x2='9'/></g>");
        VERIFY_OK(d);
        const char *const expected[] = {"#444444", "#222222", "#333333", "#111111"};
        for (size_t i = 0; i < 4; ++i) {
            QCOMPARE(d->shapes[i].stroke, std::string(expected[i]));
            QCOMPARE(d->shapes[i].fill, std::string("#000000"));
        }
        QCOMPARE(drawing::coloursOf(*d).front().colour, std::string("#000000"));
        QCOMPARE(drawing::coloursOf(*d).front().filled, 4);
    }

    /// What shows nothing is no shape; what is not read is listed.
    void leftOut()
    {
        const auto d = read("<defs><rect width='9' height='9'/></defs><text>hi</text><use "
                            "href='#a'/><image href='file:///x'/><g display='none'><line "
                            "x2='9'/></g><line x2='9' style='visibility:hidden'/>"
                            "<rect width='5' height='5' fill='url(#g)' stroke='red' "
                            "stroke-dasharray='1 2'/>");
        VERIFY_OK(d);
        QCOMPARE(d->shapes.size(), size_t(1));
        std::map<std::string, int> left;
        for (const auto &l : d->leftOut)
            left[l.what] = l.times;
        QCOMPARE(left["text"], 1);
        QCOMPARE(left["use"], 1);
        QCOMPARE(left["image"], 1);
        QCOMPARE(left["a gradient or pattern"], 1);
        QCOMPARE(left.size(), size_t(5));
    }

    void scaleAndFrame()
    {
        QCOMPARE(*read("", " width='150mm' height='100mm'")->unitsPerCm, 20.0);
        QVERIFY(std::abs(*read("", " width='3in'")->unitsPerCm - 300 / 7.62) < 1e-9);
        QVERIFY(!read("", " width='300'")->unitsPerCm);
        QVERIFY(isNear(read("")->high, 300, 200));
        const auto bare = drawing::readSvg("<svg><circle cx='5' cy='6' r='2'/></svg>", "x");
        QVERIFY(isNear(bare->low, 3, 4) && isNear(bare->high, 7, 8));
    }

    void refused_data()
    {
        QTest::addColumn<QString>("text");
        QTest::addColumn<QString>("word");
        const QString head = "<svg viewBox='0 0 9 9'>";
        const auto row = [](const char *name, const QString &text, const char *word) {
            QTest::newRow(name) << text << QString(word);
        };
        row("nothing", "", "no XML");
        row("page", "<html/>", "its root is 'html'");
        row("entities", "<!DOCTYPE svg [<!ENTITY a 'b'>]><svg/>", "entities");
        row("deep", head + QString("<g>").repeated(100) + QString("</g>").repeated(100) + "</svg>",
            "within each other");
        row("very deep",
            head + QString("<g>").repeated(500000) + QString("</g>").repeated(500000) + "</svg>",
            "within each other");
        row("pieces", head + "<path d='M0 0" + QString(" 1 1 2 0").repeated(200000) + "'/></svg>",
            "straight pieces");
        row("large", head + QString(9000000, ' ') + "</svg>", "8 MB");
        row("flat", head + "<g transform='scale(0 1)'><line x2='9'/></g></svg>", "flat");
        row("flat matrix", head + "<line x2='9' transform='matrix(1 2 2 4 0 0)'/></svg>", "flat");
        row("transform", head + "<line x2='9' transform='spin(4)'/></svg>", "spin(4)");
        row("no number", head + "<line x2='nan'/></svg>", "'x2' of a line");
        row("far", head + "<line x2='1e300'/></svg>", "farther out");
        row("path", head + "\n\n<path d='M0 0 L5'/></svg>", "line 3");
        row("path's begin", head + "<path d='L5 5'/></svg>", "path");
        row("points", head + "<polyline points='1 2 3'/></svg>", "points");
        row("width", head + "<line x2='9' stroke='red' stroke-width='-1'/></svg>", "stroke");
    }
    void refused()
    {
        QFETCH(QString, text);
        QFETCH(QString, word);
        const auto d = drawing::readSvg(text.toStdString(), "x.svg");
        QVERIFY(!d);
        const auto said = QString::fromStdString(english(d.error().text()));
        QVERIFY2(said.contains(word) && said.contains("x.svg"), qPrintable(said));
        QVERIFY(!d.error().mend.empty());
    }
};

BADGER_TEST(TestReadSvg)
#include "test_read_svg.moc"
