// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/wiring/wire_list.h"
#include "support/fixture.h"

using namespace badger;
using namespace badger::wiring;
using test::Bench;

class TestWireList final : public QObject
{
    Q_OBJECT
private slots:
    void outAndInAgain()
    {
        for (const auto &car : test::demo().cars) {
            const Bench b(car.name);
            auto bare = b.car;
            bare.wires.clear();
            const auto read = readWireList(wireListCsv(b.car), {bare, b.catalogue});
            VERIFY_OK(read);
            QVERIFY(read->problems.empty() && read->known == 0);
            QVERIFY(withImported(bare, *read).wires == b.car.wires);
            // On the car itself nothing is new.
            const auto again = readWireList(wireListCsv(b.car), {b.car, b.catalogue});
            VERIFY_OK(again);
            QCOMPARE(size_t(again->known), b.car.wires.size());
            QVERIFY(withImported(b.car, *again) == b.car);
        }
    }

    void coloursWithCommasAndQuotes()
    {
        Bench b;
        b.car.wires[0].colour = "red, with a \"white\" stripe";
        auto bare = b.car;
        bare.wires.clear();
        const auto read = readWireList(wireListCsv(b.car), {bare, b.catalogue});
        VERIFY_OK(read);
        QCOMPARE(read->wires[0].colour, b.car.wires[0].colour);
    }

    void eachRowsProblemIsNamed()
    {
        const Bench b;
        const auto read = readWireList("from,to,colour\n"
                                       "ranger.TRIG,board.D9,white\n"  // good
                                       "sonar.TRIG,board.D10,white\n"  // unknown part
                                       "ranger.PING,board.D10,white\n" // unknown terminal
                                       "ranger,board.D10,white\n"      // no terminal
                                       ",board.D10,white\n"            // no end
                                       "ranger.TRIG,ranger.TRIG,white\n"
                                       "board.D9,ranger.TRIG,white\n" // the first one again
                                       "ranger.ECHO,board.D3,\n"
                                       "ranger.ECHO,board.D12,yellow\n" // the car has it
                                       "driver.IN1,board.D2,pink\n"     // in another colour
                                       "driver.IN1\n",
                                       {b.car, b.catalogue});
        VERIFY_OK(read);
        QCOMPARE(read->wires.size(), size_t(1));
        QCOMPARE(read->known, 1);
        QCOMPARE(read->recoloured.size(), size_t(1));
        std::vector<int> rows;
        for (const auto &p : read->problems)
            rows.push_back(p.row);
        QCOMPARE(rows, (std::vector<int>{3, 4, 5, 6, 7, 8, 9, 12}));
        const auto says = [&](size_t i, const char *what) {
            QVERIFY2(english(read->problems[i].what).find(what) != std::string::npos,
                     english(read->problems[i].what).c_str());
        };
        says(0, "'sonar' is no part of Avocet");
        says(1, "has no terminal 'PING'");
        says(2, "write it as part.terminal");
        says(3, "an end is missing");
        says(4, "the same terminal");
        says(5, "stands above already");
        says(6, "colour is missing");
        QCOMPARE(read->problems[0].text, std::string("sonar.TRIG,board.D10,white"));
        // Nothing the car had is lost.
        const auto after = withImported(b.car, *read);
        QCOMPARE(after.wires.size(), b.car.wires.size() + 1);
        QVERIFY(std::any_of(after.wires.begin(), after.wires.end(), [](const kit::Wire &w) {
            return w.from == "driver.IN1" && w.colour == "pink";
        }));
    }

    void spreadsheetsOfOtherKinds()
    {
        const Bench b;
        for (const auto *text : {"\xEF\xBB\xBF"
                                 "from,to,colour\r\nranger.TRIG,board.D9,white\r\n",
                                 "colour;note;to;from\nwhite;\"by; hand\";board.D9;ranger.TRIG\n",
                                 "from,to,colour\nranger.TRIG,board.D9,white"}) {
            const auto read = readWireList(text, {b.car, b.catalogue});
            VERIFY_OK(read);
            QVERIFY(read->problems.empty());
            QCOMPARE(read->wires.size(), size_t(1));
            QCOMPARE(read->wires[0].from, std::string("ranger.TRIG"));
        }
    }

    void whatIsNoTable()
    {
        const Bench b;
        for (const auto *text : {"", "\n\n", "a,b,c\n1,2,3\n", "from,to\na.b,c.d\n"}) {
            const auto read = readWireList(text, {b.car, b.catalogue});
            QVERIFY2(!read, text);
            QVERIFY(english(read.error().text()).find("from,to,colour") != std::string::npos);
        }
        std::string noise;
        for (int i = 0; i < 5000; ++i)
            noise += char(i * 37 % 251);
        QVERIFY(!readWireList(noise, {b.car, b.catalogue}));
    }
};

BADGER_TEST(TestWireList)
#include "test_wire_list.moc"
