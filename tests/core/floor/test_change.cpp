// SPDX-License-Identifier: GPL-3.0-or-later
// A floor changed by hand: what is under the pointer, what goes along, what stays.
#include "core/arena/arena.h"
#include "core/base/angle.h"
#include "core/base/noise.h"
#include "core/floor/change.h"
#include "core/floor/generate.h"
#include "support/fixture.h"

using namespace badger;
using floor::Handle;
using floor::Kind;

namespace
{

/// A room, a box, a post, a line, a mover, a shade and an edge.
floor::Floor full()
{
    auto f = *floor::generate("room", {{"boxes", "0"}}, "Room");
    Handle made;
    for (const auto &[what, x, y] : {std::tuple(floor::NewThing::Box, 1.0, 1.0),
                                     {floor::NewThing::Post, 1.5, 0.5},
                                     {floor::NewThing::Line, 2.0, 1.5},
                                     {floor::NewThing::Mover, 2.2, 0.6}})
        f = floor::with(f, what, {x, y}, made);
    f.patches.push_back({"shade", {0.2, 0.2}, {0.5, 0.4}});
    f.edge = {{0.1, 0.1}, {0.1, 0.9}, {0.9, 0.9}};
    return f;
}

std::vector<Handle> things(const floor::Floor &f)
{
    std::vector<Handle> all = {{Kind::Start, 0, {}}, {Kind::Edge, 0, {}}};
    const auto add = [&](Kind kind, size_t count) {
        for (size_t i = 0; i < count; ++i)
            all.push_back({kind, i, {}});
    };
    add(Kind::Wall, f.walls.size());
    add(Kind::Post, f.posts.size());
    add(Kind::Line, f.lines.size());
    add(Kind::Mover, f.movers.size());
    add(Kind::Patch, f.patches.size());
    return all;
}

} // namespace

class TestChange final : public QObject
{
    Q_OBJECT
private slots:
    void boxesAndJoints()
    {
        const auto f = full();
        QCOMPARE(f.walls.size(), size_t(8));
        QCOMPARE(floor::wallsOf(f, 5).size(), size_t(4));
        QCOMPARE(floor::wallsOf(f, 0).size(), size_t(1)); // a room's walls have names of their own
        QCOMPARE(floor::gripsOf(f, {Kind::Wall, 5, {}}).size(), size_t(4));
        const auto box = floor::moved(f, {Kind::Wall, 6, {}}, 0.2, -0.1);
        for (size_t i = 0; i < 4; ++i)
            QCOMPARE(box.walls[i], f.walls[i]);
        for (size_t i = 4; i < 8; ++i) {
            QVERIFY(std::abs(box.walls[i].from.x_m - f.walls[i].from.x_m - 0.2) < 1e-9);
            QVERIFY(std::abs(box.walls[i].to.y_m - f.walls[i].to.y_m + 0.1) < 1e-9);
        }
        // A room's corner is one point of two walls.
        const auto grips = floor::gripsOf(f, {Kind::Wall, 0, {}});
        auto corner = floor::pointPut(f, grips[1].handle, {0.3, 1.7});
        int there = 0;
        for (const auto &w : corner.walls)
            for (const auto *p : {&w.from, &w.to})
                there += p->x_m == 0.3 && p->y_m == 1.7;
        QCOMPARE(there, 2);
        // A room's wall takes its neighbours' ends along.
        const auto in = floor::moved(f, {Kind::Wall, 2, {}}, -0.5, 0.0);
        QVERIFY(in.walls[1].to.x_m == in.walls[2].from.x_m);
        QVERIFY(std::abs(in.walls[2].from.x_m - f.walls[2].from.x_m + 0.5) < 1e-9);
    }

    /// Whatever is moved wherever, by hand or by its numbers: it stays on the plan, everything else
    /// stays where it is, there and back is the same, and it can be driven on.
    void anywhere()
    {
        Noise noise(5);
        const auto f = full();
        for (const auto &h : things(f)) {
            for (int n = 0; n < 30; ++n) {
                const double dx = (noise.uniform() - 0.5) * 6, dy = (noise.uniform() - 0.5) * 6;
                const auto after = floor::moved(f, h, dx, dy);
                QVERIFY(arena::compile(after).has_value());
                for (const auto &other : things(after))
                    for (const auto &g : floor::gripsOf(after, other)) {
                        if (g.handle.kind == Kind::Start && g.handle.point == 1U)
                            continue;
                        QVERIFY(g.at.x_m >= 0 && g.at.x_m <= f.width_m);
                        QVERIFY(g.at.y_m >= 0 && g.at.y_m <= f.depth_m);
                    }
                if (h.kind != Kind::Wall) {
                    QVERIFY(after.walls == f.walls);
                    QCOMPARE(after.start == f.start, h.kind != Kind::Start || after == f);
                }
            }
            for (const auto &number : floor::numbersOf(f, h)) {
                auto same = f;
                number.put(same, number.si);
                QVERIFY2(same == f || h.kind == Kind::Patch || h.kind == Kind::Wall, number.name);
                QVERIFY2(number.low <= number.si + 1e-9 && number.si <= number.high + 1e-9,
                         number.name);
                for (const double end : {number.low, number.high}) {
                    auto put = f;
                    number.put(put, end);
                    bool found = false;
                    for (const auto &again : floor::numbersOf(put, h))
                        found |= std::string(again.name) == number.name &&
                                 std::abs(again.si - end) < 1e-9;
                    QVERIFY2(found || std::string(number.name) == "wide" ||
                                 std::string(number.name) == "deep",
                             number.name);
                }
            }
            for (const auto &g : floor::gripsOf(f, h)) {
                const auto there = floor::pointPut(f, g.handle, {0.77, 0.33});
                const bool turns = h.kind == Kind::Start && g.handle.point == 1U;
                bool found = turns;
                for (const auto &again : floor::gripsOf(there, h))
                    found |= again.at.x_m == 0.77 && again.at.y_m == 0.33;
                QVERIFY(found);
            }
        }
    }

    void underThePointer()
    {
        const auto f = full();
        const auto at = [&](double x, double y, std::optional<Handle> picked = {}) {
            return floor::handleAt(f, {x, y}, 0.03, picked);
        };
        QVERIFY(!at(2.6, 1.9));
        QCOMPARE(at(1.51, 0.51)->kind, Kind::Post);
        QCOMPARE(at(2.0, 1.5)->kind, Kind::Line);
        QCOMPARE(at(2.2, 0.62)->kind, Kind::Mover);
        QCOMPARE(at(0.4, 0.25)->kind, Kind::Patch);
        QCOMPARE(at(0.1, 0.5)->kind, Kind::Edge);
        QCOMPARE(at(f.start.nose.x_m, f.start.nose.y_m)->kind, Kind::Start);
        QCOMPARE(at(0.9, 1.0)->kind, Kind::Wall);
        QVERIFY(!at(0.9, 0.9)->point); // a corner is a point only of what is picked
        QVERIFY(at(0.9, 0.9, Handle{Kind::Wall, 4, {}})->point.has_value());
    }

    void turningTheStart()
    {
        const auto f = full();
        const auto turned = floor::pointPut(f, {Kind::Start, 0, 1},
                                            {f.start.nose.x_m + 0.001, f.start.nose.y_m + 1.0});
        QCOMPARE(turned.start.nose, f.start.nose);
        QCOMPARE(turned.start.heading_rad, 90.0 * degree);
    }

    void addedNamedAndTakenAway()
    {
        auto f = full();
        Handle made;
        const auto before = f;
        for (const auto what : {floor::NewThing::Wall, floor::NewThing::Box, floor::NewThing::Post,
                                floor::NewThing::Line, floor::NewThing::Mover}) {
            // At the very corner, too, it lies on the plan and can be driven on.
            const auto more = floor::with(f, what, {0.0, 0.0}, made);
            QVERIFY(arena::compile(more).has_value());
            QVERIFY(!floor::nameOf(more, made).empty());
            QVERIFY(floor::nameOf(more, made) != floor::nameOf(f, {Kind::Wall, 4, {}}));
            const auto named = floor::renamed(more, made, "gate");
            QCOMPARE(floor::nameOf(named, made), std::string("gate"));
            QVERIFY(floor::without(named, made) == before);
        }
        QVERIFY(floor::without(f, {Kind::Start, 0, {}}) == f);
        QVERIFY(floor::without(f, {Kind::Edge, 0, {}}).edge.empty());
    }

    /// The plan's own size never leaves out what stands on it.
    void extent()
    {
        const auto f = full();
        for (const auto &n : floor::numbersOf(f)) {
            auto least = f;
            n.put(least, n.low);
            QVERIFY2(arena::compile(least).has_value(), n.name);
            for (const auto &h : things(least))
                for (const auto &g : floor::gripsOf(least, h))
                    QVERIFY((g.handle.kind == Kind::Start && g.handle.point == 1U) ||
                            (g.at.x_m <= least.width_m && g.at.y_m <= least.depth_m));
        }
    }
};

BADGER_TEST(TestChange)
#include "test_change.moc"
