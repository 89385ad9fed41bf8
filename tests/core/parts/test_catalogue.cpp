// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/parts/catalogue.h"
#include "support/fixture.h"

#include <set>

using namespace badger;
using parts::Kind;
using parts::Role;

class TestCatalogue final : public QObject
{
    Q_OBJECT
private slots:
    void everyEntry_data()
    {
        QTest::addColumn<QString>("id");
        for (const auto &p : io::shippedCatalogue().parts())
            QTest::newRow(p.id.c_str()) << QString::fromStdString(p.id);
    }
    void everyEntry()
    {
        QFETCH(QString, id);
        const auto *part = io::shippedCatalogue().find(id.toStdString());
        QVERIFY(part);
        QVERIFY(!part->name.empty());
        for (const auto &key : parts::requiredFigures(part->kind))
            QVERIFY2(part->figure(key), key.data());
        for (const auto &[key, f] : part->figures) {
            QVERIFY2(f.low <= f.typical && f.typical <= f.high, key.c_str());
            QVERIFY2(!f.source.empty(), key.c_str());
        }
        std::set<std::string> names;
        for (const auto &t : part->terminals) {
            QVERIFY2(names.insert(t.name).second, t.name.c_str());
            if (t.role == Role::SupplyIn)
                QVERIFY(t.window && t.window->low_V < t.window->high_V);
            if (t.role == Role::SupplyOut)
                QVERIFY(t.source_V > 0.0 && part->terminal(t.fedBy));
            if (t.role == Role::Direction)
                QVERIFY(part->terminal(t.output) &&
                        part->terminal(t.output)->role == Role::MotorOut);
        }
        if (part->kind == Kind::Driver)
            for (const auto *does : {"drive", "brake", "coast"})
                QVERIFY(std::any_of(part->truth.begin(), part->truth.end(),
                                    [&](const parts::TruthRow &r) { return r.does == does; }));
    }

    void idsAreUnique()
    {
        std::set<std::string> ids;
        for (const auto &p : io::shippedCatalogue().parts())
            QVERIFY(ids.insert(p.id).second);
    }

    void boardPins()
    {
        const auto *board = io::shippedCatalogue().find("board-5v-8bit");
        std::set<std::string> pwm;
        int pins = 0;
        for (const auto &t : board->terminals) {
            pins += t.role == Role::Pin;
            if (t.pwm)
                pwm.insert(t.name);
        }
        QCOMPARE(pins, 20);
        QVERIFY((pwm == std::set<std::string>{"D3", "D5", "D6", "D9", "D10", "D11"}));
        QVERIFY(board->terminal("D0")->serial && board->terminal("D1")->serial);
        QVERIFY(board->terminal("D13")->bootLight);
    }

    void wordsGoBothWays()
    {
        for (int i = 0; i < parts::kindCount; ++i)
            QVERIFY(parts::kindNamed(parts::name(Kind(i))) == Kind(i));
        for (int i = 0; i < parts::roleCount; ++i)
            QVERIFY(parts::roleNamed(parts::name(Role(i))) == Role(i));
        QVERIFY(!parts::kindNamed("spoon"));
        QVERIFY(!parts::roleNamed(""));
    }

    void ownPartsHideShippedOnes()
    {
        parts::Part own = *io::shippedCatalogue().find("wheel-65mm");
        own.name = "our wheel";
        const auto c = io::shippedCatalogue().with({own});
        QCOMPARE(c.find("wheel-65mm")->name, std::string("our wheel"));
        QVERIFY(c.find("skid"));
        QVERIFY(!c.find("nothing"));
    }

    /// What the boards' timers and serial pins are, pin by pin.
    void boardsAsTheyAre()
    {
        const auto &all = io::shippedCatalogue();
        const auto *chip = all.find("chip-14-pin");
        for (const auto &[pin, timer] : std::map<std::string, std::string>{
                 {"P5", "T1"}, {"P6", "T1"}, {"P7", "T0"}, {"P8", "T0"}}) {
            QVERIFY2(chip->terminal(pin)->pwm, pin.c_str());
            QCOMPARE(chip->terminal(pin)->timer, timer);
        }
        QCOMPARE(std::count_if(chip->terminals.begin(), chip->terminals.end(),
                               [](const auto &t) { return t.pwm; }),
                 std::ptrdiff_t(4));
        // Servo and tone want the same timer on the small chip.
        for (const auto &taking : chip->libraries)
            QCOMPARE(taking.timer, std::string("T1"));
        // Nothing is loaded through a pin of the Linux computer.
        for (const auto &t : all.find("computer-3v3")->terminals)
            QVERIFY2(!t.serial, t.name.c_str());
    }
};

BADGER_TEST(TestCatalogue)
#include "test_catalogue.moc"
