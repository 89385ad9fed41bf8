// SPDX-License-Identifier: GPL-3.0-or-later
#include "app/document/document.h"
#include "app/document/edits.h"
#include "core/motion/motion.h"
#include "core/revisions/history.h"
#include "core/wiring/check.h"
#include "support/desk.h"

#include <QFile>
#include <QSignalSpy>
#include <QTemporaryDir>
#include <random>

using namespace badger;
using app::Document;
using app::Edit;
using test::write;

namespace
{

std::string bytes(const Document &d)
{
    return io::writeWorkshop(d.workshop());
}

Result<void> setHalt(Document &d, double m, int drag = Edit::noDrag)
{
    return app::changeProgram(
        d, "Move the threshold", test::programCalled("halt"),
        [m](rules::Program &p) { p.values.front().si = m; }, drag);
}

double halt(const Document &d)
{
    return *d.workshop().programs.front().values.front().si;
}

/// Puts a wire in, takes one off or moves an end, now and then to nobody.
void editAWire(kit::Car &car, std::mt19937 &engine, const std::vector<std::string> &names)
{
    const auto any = [&] { return names[engine() % names.size()]; };
    const auto at = car.wires.empty() ? 0 : engine() % car.wires.size();
    switch (engine() % 4) {
    case 0:
        car.wires.push_back({any(), any(), "pink", {}});
        break;
    case 1:
        if (!car.wires.empty())
            car.wires.erase(car.wires.begin() + long(at));
        break;
    case 2:
        if (!car.wires.empty())
            car.wires[at].to = any();
        break;
    default:
        if (!car.wires.empty())
            car.wires[at].from = engine() % 9 ? any() : "nobody.X";
    }
}

} // namespace

class TestDocument final : public QObject
{
    Q_OBJECT
private slots:
    void beginsEmptyAndUnmodified()
    {
        Document d;
        QVERIFY(d.workshop().cars.empty());
        QVERIFY(!d.isModified());
        QCOMPARE(d.title(), QString("New workshop"));
        QVERIFY(!d.save()); // it has no file yet
    }

    void saveAndOpen()
    {
        QTemporaryDir dir;
        const auto path = dir.filePath("w.badger.json");
        Document d;
        d.startDemo();
        QVERIFY(d.path().isEmpty());
        VERIFY_OK(setHalt(d, 0.4));
        QVERIFY(d.isModified());
        VERIFY_OK(d.saveAs(path));
        QVERIFY(!d.isModified());
        QCOMPARE(d.path(), path);
        Document other;
        VERIFY_OK(other.open(path));
        QVERIFY(other.workshop() == d.workshop());
        QVERIFY(!other.isModified());
    }

    void savedStateFollowsUndo()
    {
        QTemporaryDir dir;
        Document d;
        d.startDemo();
        VERIFY_OK(setHalt(d, 0.4));
        VERIFY_OK(d.saveAs(dir.filePath("w.json")));
        QSignalSpy title(&d, &Document::titleChanged);
        VERIFY_OK(setHalt(d, 0.5));
        QVERIFY(d.isModified());
        QVERIFY(title.count() > 0);
        d.undoStack().undo();
        QVERIFY(!d.isModified());
        d.undoStack().undo();
        QVERIFY(d.isModified());
    }

    void aBadFileChangesNothing()
    {
        QTemporaryDir dir;
        const auto path = dir.filePath("bad.json");
        write(path, "{ no");
        Document d;
        d.startDemo();
        VERIFY_OK(setHalt(d, 0.4));
        const auto before = bytes(d);
        const auto r = d.open(path);
        QVERIFY(!r);
        QVERIFY(english(r.error().where).starts_with("bad.json, line 1"));
        QCOMPARE(bytes(d), before);
        QVERIFY(d.isModified());
        QVERIFY(!d.open(dir.filePath("none.json")));
        QCOMPARE(bytes(d), before);
    }

    void anotherProgramsChange()
    {
        QTemporaryDir dir;
        const auto path = dir.filePath("w.json");
        Document d;
        d.startDemo();
        VERIFY_OK(d.saveAs(path));
        QVERIFY(!d.changedOnDisk());
        write(path, "theirs");
        QVERIFY(d.changedOnDisk());
        VERIFY_OK(setHalt(d, 0.4));
        const auto r = d.save();
        QVERIFY(!r);
        QVERIFY(r.error().kind == Error::Kind::Conflict);
        QVERIFY(d.isModified());
        QCOMPARE(*io::readFile(path.toStdString()), std::string("theirs"));
        VERIFY_OK(d.save(Document::IfChanged::Overwrite));
        QVERIFY(!d.isModified());
        QVERIFY(io::readWorkshop(*io::readFile(path.toStdString())));
    }

    void oneDragIsOneStep()
    {
        Document d;
        d.startDemo();
        const int drag = app::nextDrag();
        for (int cm = 33; cm <= 60; ++cm)
            VERIFY_OK(setHalt(d, cm / 100.0, drag));
        QCOMPARE(d.undoStack().count(), 1);
        QCOMPARE(d.undoStack().undoText(), QString("Move the threshold"));
        d.undoStack().undo();
        COMPARE_NEAR(halt(d), 0.32, 0.0);
        d.undoStack().redo();
        COMPARE_NEAR(halt(d), 0.60, 0.0);
    }

    void aDragBackToItsStartLeavesNoStep()
    {
        Document d;
        d.startDemo();
        const auto before = bytes(d);
        const int drag = app::nextDrag();
        // The version grows with the first edit, and the way back must take that back as well.
        VERIFY_OK(setHalt(d, 0.4, drag));
        VERIFY_OK(app::change(
            d, "Move the threshold",
            [](workshop::Workshop &w) {
                w.programs.front().values.front().si = 0.32;
                w.programs.front().version = 7;
            },
            drag));
        QCOMPARE(d.undoStack().count(), 0);
        QCOMPARE(bytes(d), before);
        QVERIFY(!d.isModified());
    }

    void separateDragsAreSeparateSteps()
    {
        Document d;
        d.startDemo();
        VERIFY_OK(setHalt(d, 0.4, app::nextDrag()));
        VERIFY_OK(setHalt(d, 0.5, app::nextDrag()));
        VERIFY_OK(setHalt(d, 0.6));
        VERIFY_OK(setHalt(d, 0.7));
        QCOMPARE(d.undoStack().count(), 4);
    }

    void noDifferenceIsNoStep()
    {
        Document d;
        d.startDemo();
        VERIFY_OK(setHalt(d, 0.32));
        QCOMPARE(d.undoStack().count(), 0);
        VERIFY_OK(
            app::changeCar(d, "x", test::carCalled("Nobody"), [](kit::Car &c) { c.team = "x"; }));
        QCOMPARE(d.undoStack().count(), 0);
    }

    void whatTheFileCouldNotHoldIsRefused()
    {
        Document d;
        d.startDemo();
        const auto before = bytes(d);
        const auto r = app::changeCar(d, "Move a wire", test::carCalled("Avocet"),
                                      [](kit::Car &c) { c.wires[0].to = "board.D99"; });
        QVERIFY(!r);
        QVERIFY(english(r.error().what).find("no terminal 'D99'") != std::string::npos);
        QCOMPARE(bytes(d), before);
        QCOMPARE(d.undoStack().count(), 0);
    }

    void whatIsTakenCanBeOpenedAgain_data()
    {
        QTest::addColumn<int>("kind");
        QTest::addColumn<QString>("says");
        QTest::newRow("air") << 0 << "99 °C does not fit; it should be a number from -40 to 60 °C";
        QTest::newRow("limit") << 1 << "20 m does not fit; it should be a number from 0.05 to 10 m";
        QTest::newRow("speed") << 2
                               << "300 does not fit; it should be a whole number from 0 to 255";
        QTest::newRow("half a count") << 3 << "it should be a whole number";
        QTest::newRow("long name") << 4 << "it should be a text of at most 80 characters";
        QTest::newRow("nameless") << 5 << "does not fit";
    }
    void whatIsTakenCanBeOpenedAgain()
    {
        QFETCH(int, kind);
        QFETCH(QString, says);
        Document d;
        d.startDemo();
        const auto r = app::change(d, "edit", [&](workshop::Workshop &w) {
            auto &p = w.programs.front();
            if (kind == 0)
                p.readings.front().air_degC = 99.0;
            if (kind == 1)
                p.readings.front().limit_m = 20.0;
            if (kind == 2)
                p.values[1].si = 300.0;
            if (kind == 3)
                p.values[1].si = 140.5;
            if (kind == 4)
                w.cars.front().team = w.cars.front().name = std::string(81, 'x');
            if (kind == 5)
                w.cars.front().name.clear();
        });
        QVERIFY(!r);
        QVERIFY2(QString::fromStdString(english(r.error().text())).contains(says),
                 english(r.error().text()).c_str());
        QVERIFY(!d.isModified());
    }

    void theVersionGrowsOnceAfterWriting()
    {
        Document d;
        d.startDemo(); // version 7 is written
        const auto version = [&] { return d.workshop().programs.front().version; };
        VERIFY_OK(setHalt(d, 0.4));
        QCOMPARE(version(), 8);
        VERIFY_OK(setHalt(d, 0.5));
        QCOMPARE(version(), 8);
        d.undoStack().undo();
        d.undoStack().undo();
        QCOMPARE(version(), 7);
    }

    void randomEditsUndoToTheBytes()
    {
        const unsigned seed = 31;
        qInfo("seed %u", seed);
        std::mt19937 engine(seed);
        Document d;
        d.startDemo();
        std::vector<std::string> history = {bytes(d)};
        for (int i = 0; i < 300; ++i) {
            const auto pick = engine() % 5;
            (void)app::change(d, "edit", [&](workshop::Workshop &w) {
                auto &car = w.cars.front();
                if (pick == 0)
                    w.programs.front().values.front().si = double(engine() % 100 + 5) / 100.0;
                else if (pick == 1 && !car.wires.empty())
                    car.wires.erase(car.wires.begin() + long(engine() % car.wires.size()));
                else if (pick == 2)
                    car.wires.push_back({"board.D" + std::to_string(engine() % 14),
                                         "board.A" + std::to_string(engine() % 6), "pink"});
                else if (pick == 3)
                    car.team = std::to_string(engine());
                else
                    w.trials.push_back(w.trials.front());
            });
            if (d.undoStack().count() + 1 > int(history.size()))
                history.push_back(bytes(d));
        }
        QVERIFY(history.size() > 200);
        for (size_t i = history.size() - 1; i > 0; --i) {
            QCOMPARE(bytes(d), history[i]);
            d.undoStack().undo();
        }
        QCOMPARE(bytes(d), history.front());
        while (d.undoStack().canRedo())
            d.undoStack().redo();
        QCOMPARE(bytes(d), history.back());
    }

    /// A thousand random edits of a harness: what is taken can be saved, the nets do not depend on
    /// the order of the wires, and undo goes back to the first byte.
    void aThousandWiresLater()
    {
        std::mt19937 engine(12);
        Document d;
        auto demo = test::demo();
        const auto avocet = *demo.car("Avocet");
        QVERIFY(app::change(d, "begin", [&](workshop::Workshop &w) {
            w.cars = {avocet};
            w.cars.front().program = {};
            w.cars.front().mission.reset();
            w.cars.front().history.clear();
        }));
        const auto first = bytes(d);
        const auto &catalogue = d.catalogue();
        std::vector<std::string> names;
        for (const auto &i : avocet.parts)
            for (const auto &t : catalogue.find(i.partId)->terminals)
                names.push_back(i.id + "." + t.name);
        int taken = 0;
        for (int n = 0; n < 1000; ++n) {
            const auto ok =
                app::changeCar(d, "wire", test::carCalled("Avocet"), [&](kit::Car &car) {
                    editAWire(car, engine, names);
                    revisions::edited(car);
                });
            taken += ok.has_value();
            if (!ok)
                QVERIFY(!ok.error().mend.empty());
            if (n % 50 != 0)
                continue;
            const auto &car = d.workshop().cars.front();
            auto shuffled = car;
            std::shuffle(shuffled.wires.begin(), shuffled.wires.end(), engine);
            const nets::Nets a({car, catalogue});
            const nets::Nets b({shuffled, catalogue});
            QCOMPARE(a.count(), b.count());
            for (const auto &name : names)
                QVERIFY(a.members(a.of(name)) == b.members(b.of(name)));
            (void)wiring::check({car, catalogue});
            (void)motion::motion({car, catalogue});
        }
        QVERIFY2(taken > 500 && taken < 1000, qPrintable(QString::number(taken)));
        const auto last = bytes(d);
        while (d.undoStack().index() > 1)
            d.undoStack().undo();
        QCOMPARE(bytes(d), first);
        while (d.undoStack().canRedo())
            d.undoStack().redo();
        QCOMPARE(bytes(d), last);
    }
};

BADGER_TEST(TestDocument)
#include "test_document.moc"
