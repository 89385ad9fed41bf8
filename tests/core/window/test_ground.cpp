// SPDX-License-Identifier: GPL-3.0-or-later
// What a window rests on: what changes it, what leaves it, and what is taken over.
#include "core/io/fingerprint.h"
#include "core/io/workshop_file.h"
#include "core/window/ground.h"
#include "support/families.h"
#include "support/fixture.h"

using namespace badger;
using namespace badger::window;
using test::Bench;

namespace
{

judge::Grounds restsOn(const Bench &b)
{
    const auto course = test::courseOf(b);
    judge::Grounds on;
    on.car = course.car;
    on.program = course.program;
    on.floor = course.floor;
    on.records = course.records;
    on.parts = b.workshop.parts;
    return on;
}

/// A change of a workshop, and whether a window of 'halt' is another after it.
struct Change {
    const char *name;
    std::function<void(Bench &)> make;
    bool counts;
};

} // namespace

class TestGround final : public QObject
{
    Q_OBJECT
private slots:
    void whatChangesIt()
    {
        const std::vector<Change> changes = {
            {"nothing", [](Bench &) {}, false},
            {"the value itself", [](Bench &b) { b.value("halt").si = 0.31; }, false},
            {"a tick", [](Bench &b) { b.car.ticks.push_back("wheels on"); }, false},
            {"what was looked at", [](Bench &b) { b.car.walk.clear(); }, false},
            {"the program's name", [](Bench &b) { b.program.name = "Other"; }, false},
            {"its version", [](Bench &b) { ++b.program.version; }, false},
            {"a kept window", [](Bench &b) { b.car.windows.push_back({}); }, false},
            {"another value", [](Bench &b) { b.value("speed").si = 99.0; }, true},
            {"no echo", [](Bench &b) { b.reading().noEcho = rules::NoEcho::Stop; }, true},
            {"the width", [](Bench &b) { b.car.geometry.width_m += 0.01; }, true},
            {"a wire", [](Bench &b) { b.car.wires.pop_back(); }, true},
            {"a measured speed", [](Bench &b) { b.car.calibrations.speeds.clear(); }, true},
            {"the floor", [](Bench &b) { b.floor.walls.front().from.x_m += 0.01; }, true},
            {"the air", [](Bench &b) { b.floor.air_degC += 1.0; }, true}};
        const Bench as;
        const auto print = io::fingerprintOf(restsOn(as), "halt");
        QCOMPARE(print.size(), size_t(16));
        for (const auto &c : changes) {
            Bench b;
            c.make(b);
            QVERIFY2(sameGround(restsOn(as), restsOn(b), "halt") == !c.counts, c.name);
            QVERIFY2((io::fingerprintOf(restsOn(b), "halt") == print) == !c.counts, c.name);
        }
        QVERIFY(!sameGround(restsOn(as), {}, "halt"));
    }

    /// A file that was written and read again has the same fingerprint, and the window itself.
    void itOutlivesTheFile()
    {
        Bench b;
        b.car.conditions = {"straight:angle=0deg..18deg"};
        const auto print = io::fingerprintOf(restsOn(b), "halt");
        kit::FoundWindow w;
        w.value = "halt";
        w.low = 0.39;
        w.runs = 50604;
        w.date = "2026-11-19";
        w.floor = "Slipway";
        w.ground = print;
        b.car.windows = {w};
        auto again = io::readWorkshop(io::writeWorkshop(b.workshop));
        VERIFY_OK(again);
        const auto *car = again->car(b.car.id);
        QCOMPARE(car->windows.size(), size_t(1));
        QVERIFY(car->windows.front() == w);
        QCOMPARE(car->conditions, b.car.conditions);
        auto on = restsOn(b);
        on.car = std::make_shared<kit::Car>(*car);
        QCOMPARE(io::fingerprintOf(on, "halt"), print);
        QVERIFY(io::fingerprintOf(on, "speed") != print);
    }

    void aConditionThatCannotBeIsRefusedAtItsPlace()
    {
        for (const auto *text : {"stairs", "straight:angle=5deg..99deg", "charge:2", "post:left"}) {
            Bench b;
            b.car.conditions = {"charge:0.9..1", text};
            const auto ok = io::verify(b.workshop);
            QVERIFY2(!ok, text);
            QVERIFY(english(ok.error().text()).find("conditions/1") != std::string::npos);
        }
    }

    /// What a row says is typed again as it was, for every key of every kind.
    void aRowIsTypedAsItIs()
    {
        const auto again = [](const std::string &text, const std::string &key) {
            const auto row = rowOf(text);
            return row ? typedOf(*row, key) : english(row.error().text());
        };
        QCOMPARE(again("straight:angle=0deg..18deg,soft=cloth", "angle"),
                 std::string("0deg..18deg"));
        QCOMPARE(again("straight:angle=0deg..18deg,soft=cloth", "soft"), std::string("cloth"));
        QCOMPARE(again("straight:angle=0deg..18deg", "width"), std::string());
        QCOMPARE(again("charge:0.9..1", "charge"), std::string("0.9..1"));
        QCOMPARE(again("target:takes=4s..8s", "takes"), std::string("4s..8s"));
        for (const auto &g : floor::generators())
            for (const auto &k : g.keys) {
                const auto text = g.name + ":" + k.name + "=" + k.first;
                QCOMPARE(again(text, k.name), k.first);
            }
    }

    void bothEndsOfARange()
    {
        const auto row = rowOf("straight:distance=1m..2m,angle=0deg..18deg");
        VERIFY_OK(row);
        const auto low = floorAt(*row, {}, 0.0);
        const auto high = floorAt(*row, {}, 1.0);
        VERIFY_OK(low);
        VERIFY_OK(high);
        QVERIFY(low->walls.front().from.x_m == low->walls.front().to.x_m);
        QVERIFY(high->walls.front().from.x_m != high->walls.front().to.x_m);
        const auto middle = [](const floor::Floor &f) {
            return (f.walls.front().from.x_m + f.walls.front().to.x_m) / 2.0 - f.start.nose.x_m;
        };
        QVERIFY(std::abs(middle(*low) - 1.0) < 1e-9 && std::abs(middle(*high) - 2.0) < 1e-9);
    }

    /// Rows that an earlier search answered are taken over; the answer is as if driven anew.
    void oneRowMoreDrivesOneRow()
    {
        Bench b;
        const auto on = restsOn(b);
        auto q = questionOf(on, b.catalogue, "halt");
        q.rows = {*rowOf("straight:distance=1.2m"), *rowOf("post:diameter=25mm,ahead=1.2m")};
        const auto first = search(q);
        VERIFY_OK(first);
        b.car.conditions = {"straight:distance=1.2m,soft=cloth"};
        auto more = questionOf(restsOn(b), b.catalogue, "halt");
        QCOMPARE(more.more.size(), size_t(1));
        more.rows = q.rows;
        int told = 0;
        const auto both = search(
            more, [&](const Window &) { return ++told, true; }, &*first);
        VERIFY_OK(both);
        const auto anew = search(more);
        VERIFY_OK(anew);
        QCOMPARE(both->rows.size(), size_t(3));
        QCOMPARE(both->low, anew->low);
        QCOMPARE(both->high, anew->high);
        QCOMPARE(both->runs, anew->runs);
        for (size_t i = 0; i < 3; ++i)
            for (size_t k = 0; k < both->handle.at.size(); ++k) {
                QCOMPARE(both->rows[i].cells[k].runs, anew->rows[i].cells[k].runs);
                QCOMPARE(both->rows[i].cells[k].events, anew->rows[i].cells[k].events);
            }
        QVERIFY(told < 10); // the stages of one row, not of three
        // Another claim takes nothing over.
        more.limit = 0.02;
        const auto other = search(more, {}, &*first);
        VERIFY_OK(other);
        QVERIFY(other->rows[0].runs != first->rows[0].runs);
    }

    void whatIsKept()
    {
        Bench b;
        auto q = questionOf(restsOn(b), b.catalogue, "halt");
        q.rows = {*rowOf("straight:distance=1.2m")};
        const auto w = search(q);
        VERIFY_OK(w);
        const auto f = found(*w, "2026-12-02");
        QCOMPARE(f.low, std::optional(w->si(*w->low)));
        QVERIFY(!f.high); // up to the ruler's end
        QCOMPARE(f.runs, w->runs);
        QVERIFY(f.below.starts_with("straight") || f.below.starts_with("square"));
        QVERIFY(f.above.empty());
    }
};

BADGER_TEST(TestGround)
#include "test_ground.moc"
