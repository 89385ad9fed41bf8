// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/mechanics/build.h"
#include "core/mechanics/template.h"
#include "support/kits.h"

#include <QRegularExpression>
#include <QXmlStreamReader>

using namespace badger;
using mechanics::BuildStep;
using test::Kit;

namespace
{

const BuildStep *step(const std::vector<BuildStep> &steps, const char *key)
{
    for (const auto &s : steps)
        if (s.key == key)
            return &s;
    return nullptr;
}

} // namespace

class TestBuild final : public QObject
{
    Q_OBJECT
private slots:
    void whatCannotBeUndoneIsShut()
    {
        for (const auto &k : io::startingKits())
            for (const auto &s : mechanics::buildSteps({k.car, io::shippedCatalogue()})) {
                if (!s.irreversible)
                    continue;
                QVERIFY2(!s.before.empty() && !s.open(), s.key.c_str());
                QVERIFY2(!s.caution.empty(), s.key.c_str());
            }
    }

    void opensItemByItem()
    {
        Kit k;
        const auto drill = [&] {
            return *step(mechanics::buildSteps({k.car, k.catalogue()}), "drill");
        };
        for (const auto &item : drill().before) {
            QVERIFY(!drill().open());
            k.car.ticks.push_back(item.key);
        }
        QVERIFY(drill().open() && !drill().done);
        k.car.ticks.push_back("step:drill");
        QVERIFY(drill().done);
    }

    void doneBeforeLooked()
    {
        Kit k;
        QVERIFY(mechanics::checkSteps({k.car, k.catalogue()}).findings.empty());
        k.car.ticks = {"step:glue", "glue:fits"};
        const auto found = mechanics::checkSteps({k.car, k.catalogue()}).findings;
        QCOMPARE(found.size(), size_t(1));
        QCOMPARE(found.front().code, std::string("done-before-looked"));
        QCOMPARE(found.front().target(), std::string("make:glue"));
    }

    void stepsFollowTheParts()
    {
        const auto &c = io::shippedCatalogue();
        QVERIFY(!step(mechanics::buildSteps({Kit().car, c}), "horn"));
        const auto servos = mechanics::buildSteps({Kit("Two servos").car, c});
        QVERIFY(!step(servos, "solder")); // no motor leads
        auto w = test::demo();
        const auto redshank = mechanics::buildSteps({*w.car("Redshank"), c});
        const auto *horn = step(redshank, "horn");
        QVERIFY(horn);
        QVERIFY2(english(horn->text)
                         .find("move the horn 1 tooth, 17.14 deg each, and let the program add "
                               "2.86 deg") != std::string::npos,
                 english(horn->text).c_str());
    }

    void lithiumHasItsCaution()
    {
        Kit k;
        k.part("pack").partId = "cell-lithium";
        const auto steps = mechanics::buildSteps({k.car, k.catalogue()});
        const auto *cells = step(steps, "cells");
        for (const auto *word : {"charger for the chemistry", "fire-safe", "storage", "fuse"})
            QVERIFY2(english(cells->caution).find(word) != std::string::npos, word);
    }

    void senseMarks()
    {
        const auto marks = mechanics::senseMarks({Kit().car, io::shippedCatalogue()});
        QCOMPARE(marks.size(), size_t(2));
        QVERIFY(marks[0].side == kit::Side::Left && marks[0].counterClockwise);
        QVERIFY(marks[1].side == kit::Side::Right && !marks[1].counterClockwise);
    }

    void fastenersAreCounted()
    {
        const auto list = mechanics::fastenerList({Kit().car, io::shippedCatalogue()});
        const auto count = [&](const char *key) {
            for (const auto &s : list)
                if (s.key == key)
                    return s.count;
            return -1;
        };
        QCOMPARE(count("have:standoff-m3-10"), 7); // board 3, driver 4
        QCOMPARE(count("have:screw-m3-6"), 6 + 8 + 2 + 2);
        QCOMPARE(count("have:motor-bracket"), 2);
        QCOMPARE(count("have:cell-holder-6"), 1);
        QCOMPARE(count("have:tool-iron"), 0);
        QCOMPARE(count("have:horn-screw"), -1);
    }

    void holesAreMirrored()
    {
        const auto t = mechanics::templateOf({Kit().car, io::shippedCatalogue()});
        std::vector<mechanics::Drill> left, right;
        for (const auto &d : t.drills) {
            if (d.part == "left")
                left.push_back(d);
            if (d.part == "right")
                right.push_back(d);
        }
        QCOMPARE(left.size(), size_t(2));
        for (size_t i = 0; i < left.size(); ++i) {
            COMPARE_NEAR(left[i].x_mm + right[i].x_mm, t.width_mm, 1e-9);
            COMPARE_NEAR(left[i].y_mm, right[i].y_mm, 1e-9);
        }
        QVERIFY(left[0].x_mm < right[0].x_mm); // the nose is up, left is left
    }

    void rangerLiesBehindItsFace()
    {
        const auto t = mechanics::templateOf({Kit().car, io::shippedCatalogue()});
        for (const auto &o : t.outlines)
            if (o.part == "ranger")
                COMPARE_NEAR(o.y_mm - o.length_mm / 2.0, 0.0, 1e-9);
        // Every hole lies on the deck.
        for (const auto &d : t.drills)
            QVERIFY2(d.x_mm > 0 && d.x_mm < t.width_mm && d.y_mm > 0 && d.y_mm < t.length_mm,
                     d.part.c_str());
    }

    void svgIsFullSize()
    {
        const auto t = mechanics::templateOf({Kit().car, io::shippedCatalogue()});
        const auto svg = QString::fromStdString(mechanics::templateSvg(t, "Knot & <Co>"));
        QXmlStreamReader xml(svg);
        double checkLine = 0.0;
        int circles = 0;
        while (!xml.atEnd()) {
            xml.readNext();
            if (!xml.isStartElement())
                continue;
            if (xml.name() == u"svg") {
                // One unit of the drawing is one millimetre on paper.
                const auto page = mechanics::pageOf(t);
                QCOMPARE(xml.attributes().value("width").toString(),
                         QString::number(page.width_mm, 'f', 2) + "mm");
                QCOMPARE(xml.attributes().value("viewBox").toString(),
                         QStringLiteral("0 0 %1 %2")
                             .arg(page.width_mm, 0, 'f', 2)
                             .arg(page.height_mm, 0, 'f', 2));
            }
            circles += xml.name() == u"circle";
            if (xml.name() == u"path") {
                const QRegularExpression line("^M([-0-9.]+) [-0-9.]+H([-0-9.]+)M\\1 ");
                const auto m = line.match(xml.attributes().value("d").toString());
                if (m.hasMatch())
                    checkLine = m.captured(2).toDouble() - m.captured(1).toDouble();
            }
        }
        QVERIFY2(!xml.hasError(), qPrintable(xml.errorString()));
        COMPARE_NEAR(checkLine, 100.0, 0.011);
        QCOMPARE(circles, int(t.drills.size()));
        QVERIFY(svg.contains("Knot &amp; &lt;Co&gt;"));
    }

    void discDecks()
    {
        Kit k;
        auto &g = k.car.geometry;
        g.deck = kit::DeckShape::TwoDiscs;
        g.discRadius_m = 0.075;
        g.discsApart_m = 0.0606; // 0.808 r
        const auto t = mechanics::templateOf({k.car, k.catalogue()});
        QCOMPARE(t.discs.size(), size_t(2));
        std::string overlap;
        for (const auto &c : t.cuts)
            if (english(c.what) == "overlap of the discs")
                overlap = english(c.size);
        QCOMPARE(overlap, std::string("50 % of one, centres 60.6 mm apart"));
    }

    void servoOpening()
    {
        const auto t = mechanics::templateOf({Kit("Look both ways").car, io::shippedCatalogue()});
        const auto it = std::find_if(t.outlines.begin(), t.outlines.end(),
                                     [](const auto &o) { return o.part == "servo"; });
        QVERIFY(it != t.outlines.end() && it->cut);
        std::string cut;
        for (const auto &c : t.cuts)
            if (english(c.what) == "opening for servo")
                cut = english(c.size);
        QVERIFY2(cut.find("half-lengths 11.4 mm and 6.1 mm") != std::string::npos, cut.c_str());
    }
};

BADGER_TEST(TestBuild)
#include "test_build.moc"
