// SPDX-License-Identifier: GPL-3.0-or-later
// Floors as drawings: there and back, and what a colour is said to be.
#include "core/floor/as_svg.h"
#include "core/floor/from_drawing.h"
#include "core/floor/generate.h"
#include "support/fixture.h"

using namespace badger;

namespace
{

Result<floor::FromDrawing> take(const std::string &body, floor::Taking taking,
                                const std::string &head = {})
{
    const auto d =
        drawing::readSvg("<svg viewBox='0 0 300 200'" + head + ">" + body + "</svg>", "x.svg");
    return d ? floor::fromDrawing(*d, taking, "X") : tl::unexpected(d.error());
}

floor::Taking wall()
{
    floor::Taking t;
    t.colours = {{"wall", "#111111"}};
    t.unitsPerCm = 1.0;
    return t;
}

std::string problem(const Result<floor::FromDrawing> &r)
{
    return r ? std::string() : english(r.error().text());
}

} // namespace

class TestDrawing final : public QObject
{
    Q_OBJECT
private slots:
    /// Every kind of floor, drawn and read again without a word said about it, is the same to a
    /// micrometre.
    void thereAndBack()
    {
        for (const auto &g : floor::generators()) {
            const auto made = floor::generate(g.name, {}, g.name);
            VERIFY_OK(made);
            if (!floor::notInSvg(*made).empty())
                continue; // what moves has no word in SVG
            auto f = *made;
            f.surface = "planks & \"tar\" <old>";
            f.air_degC = 17.25;
            f.rough = true;
            if (!f.walls.empty())
                f.walls.back().face = floor::Face::Foam;
            const auto d = drawing::readSvg(floor::asSvg(f), "x.svg");
            VERIFY_OK(d);
            QVERIFY(d->leftOut.empty());
            const auto back = floor::fromDrawing(*d, floor::takingOf(*d), f.name);
            VERIFY_OK(back);
            QVERIFY2(back->said.empty(), g.name.c_str());
            const auto same = [](const floor::Point &a, const floor::Point &b) {
                return std::hypot(a.x_m - b.x_m, a.y_m - b.y_m) < 2e-6;
            };
            const auto &b = back->floor;
            QCOMPARE(b.walls.size(), f.walls.size());
            QCOMPARE(b.posts.size(), f.posts.size());
            QCOMPARE(b.lines.size(), f.lines.size());
            QCOMPARE(b.edge.size(), f.edge.size());
            for (size_t i = 0; i < f.walls.size(); ++i) {
                QVERIFY(same(b.walls[i].from, f.walls[i].from) &&
                        same(b.walls[i].to, f.walls[i].to));
                QCOMPARE(b.walls[i].name, f.walls[i].name);
                QCOMPARE(b.walls[i].face, f.walls[i].face);
            }
            for (size_t i = 0; i < f.posts.size(); ++i) {
                QVERIFY(same(b.posts[i].at, f.posts[i].at));
                QVERIFY(std::abs(b.posts[i].radius_m - f.posts[i].radius_m) < 1e-6);
            }
            for (size_t i = 0; i < f.lines.size(); ++i) {
                QCOMPARE(b.lines[i].points.size(), f.lines[i].points.size());
                for (size_t k = 0; k < f.lines[i].points.size(); ++k)
                    QVERIFY(same(b.lines[i].points[k], f.lines[i].points[k]));
                QVERIFY(std::abs(b.lines[i].width_m - f.lines[i].width_m) < 1e-6);
                QCOMPARE(b.lines[i].closed, f.lines[i].closed);
                QCOMPARE(b.lines[i].light, f.lines[i].light);
            }
            QVERIFY(same(b.start.nose, f.start.nose));
            QCOMPARE(b.start.heading_rad, f.start.heading_rad);
            QCOMPARE(b.surface, f.surface);
            QCOMPARE(b.air_degC, f.air_degC);
            QCOMPARE(b.albedo, f.albedo);
            QCOMPARE(b.rough, true);
        }
    }

    void whatSvgHasNoWordFor()
    {
        floor::Floor f;
        QVERIFY(floor::notInSvg(f).empty());
        f.movers.resize(2);
        f.patches.resize(1);
        QCOMPARE(floor::notInSvg(f).size(), size_t(2));
    }

    /// A scale of a user's own, y turned up, and a frame that grows.
    void places()
    {
        auto t = wall();
        t.unitsPerCm = 2.0;
        const auto f = take("<line x1='20' y1='40' x2='320' y2='40' stroke='#111'/>", t);
        VERIFY_OK(f);
        QCOMPARE(f->floor.width_m, 1.6);
        QCOMPARE(f->floor.depth_m, 1.0);
        QCOMPARE(f->floor.walls[0].from.x_m, 0.1);
        QCOMPARE(f->floor.walls[0].from.y_m, 0.8);
        QCOMPARE(f->said.size(), size_t(2)); // larger than the frame; no start
        QVERIFY(f->floor.start.nose.x_m > 0.0);
    }

    void facesPostsAndRings()
    {
        auto t = wall();
        t.colours["cloth"] = "#333";
        t.colours["start"] = "#f00";
        const auto f = take("<circle cx='50' cy='50' r='5' fill='#111' stroke='none'/>"
                            "<circle cx='150' cy='100' r='60' fill='none' stroke='#111'/>"
                            "<g id='sail'><rect x='9' y='9' width='5' height='5' fill='#333333' "
                            "stroke='none'/></g>"
                            "<line x1='10' y1='100' x2='10' y2='80' stroke='red'/>"
                            "<rect width='2' height='2' fill='#abcdef'/>",
                            t);
        VERIFY_OK(f);
        QCOMPARE(f->floor.posts.size(), size_t(1));
        QCOMPARE(f->floor.posts[0].radius_m, 0.05);
        QCOMPARE(f->floor.walls.size(), size_t(4 + 2 * drawing::curvePieces));
        QCOMPARE(f->floor.walls.back().name, std::string("sail"));
        QCOMPARE(f->floor.walls.back().face, floor::Face::Cloth);
        QVERIFY(std::abs(f->floor.start.heading_rad - 1.5707963) < 1e-6);
        QCOMPARE(f->floor.start.nose.y_m, 1.2);
        QCOMPARE(f->said.size(), size_t(1)); // the shape in #abcdef
    }

    void refused()
    {
        const std::string line = "<line x1='9' y1='9' x2='90' y2='9' stroke='#111' fill='none'/>";
        const auto says = [&](const std::string &body, const floor::Taking &t, const char *word) {
            const auto said = problem(take(body, t));
            const bool right = said.find(word) != std::string::npos;
            if (!right)
                qWarning("%s", said.c_str());
            return right;
        };
        auto t = wall();
        QVERIFY(says("", t, "no shape"));
        t.unitsPerCm.reset();
        QVERIFY(says(line, t, "how large it is"));
        t = wall();
        t.unitsPerCm = 1000.0;
        QVERIFY(says(line, t, "the plan would be"));
        t.unitsPerCm = 0.0;
        QVERIFY(says(line, t, "outside"));
        t = wall();
        t.colours.clear();
        QVERIFY(says(line, t, "#111111 (1 outlined"));
        t.colours = {{"wall", "#123456"}};
        QVERIFY(says(line, t, "nothing is drawn in #123456"));
        t.colours = {{"wall", "blueish"}};
        QVERIFY(says(line, t, "is no colour"));
        t.colours = {{"moat", "#111"}};
        QVERIFY(says(line, t, "cannot mean 'moat'"));
        t.colours = {{"wall", "#111"}, {"line", "#111111"}};
        QVERIFY(says(line, t, "as well"));
        t.colours = {{"line", "#111"}};
        QVERIFY(says("<rect width='90' height='9' fill='#111'/>", t, "filled shape"));
        QVERIFY(says("<line x2='9' stroke='#111' stroke-width='60'/>", t, "wide"));
        t.colours = {{"edge", "#111"}};
        QVERIFY(says(line, t, "not closed"));
        t.colours = {{"wall", "#222"}, {"start", "#111"}};
        const std::string square = "<rect width='9' height='9' stroke='#222' fill='none'/>";
        QVERIFY(says(square + line + line, t, "two shapes"));
        QVERIFY(says(square + "<rect width='9' height='9' stroke='#111'/>", t, "straight line"));
        // A thousand walls are a floor, one more is none.
        const auto many = [&](int n) {
            std::string d = "M0 0";
            for (int i = 0; i < n; ++i)
                d += i % 2 ? " L0 " + std::to_string(i % 199) : " L9 " + std::to_string(i % 199);
            return problem(take("<path fill='none' stroke='#111' d='" + d + "'/>", wall()));
        };
        QCOMPARE(many(1000), std::string());
        QVERIFY(many(1001).find("more than 1,000") != std::string::npos ||
                many(1001).find("more than 1000") != std::string::npos);
    }
};

BADGER_TEST(TestDrawing)
#include "test_drawing.moc"
