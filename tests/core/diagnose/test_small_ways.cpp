// SPDX-License-Identifier: GPL-3.0-or-later
// One more small part, a free hole, another colour, another note: each was tried and mends what it
// is offered for.
#include "core/diagnose/all_findings.h"
#include "core/diagnose/diagnose.h"
#include "core/edit/fixed_car.h"
#include "core/edit/kit_edits.h"
#include "core/nets/drive_map.h"
#include "core/nets/nets.h"
#include "core/wiring/check.h"
#include "support/fixture.h"

#include <map>
#include <set>

using namespace badger;

namespace
{

size_t countOf(const std::vector<Finding> &all, const std::string &code)
{
    return static_cast<size_t>(
        std::count_if(all.begin(), all.end(), [&](const Finding &f) { return f.code == code; }));
}

/// The car after the first way out of the first finding with this code, having seen that it mends;
/// the car itself where there is none.
kit::Car mended(const kit::Assembly &car, const std::string &code, std::string *words = nullptr)
{
    const auto before = test::allOf(car);
    const auto *finding = test::find(before, code);
    if (finding == nullptr)
        return car.car();
    const auto ways = diagnose::waysOut(car, *finding);
    if (ways.empty())
        return car.car();
    auto after = edit::applied(car, ways.front());
    if (countOf(test::allOf({after, car.catalogue()}), code) >= countOf(before, code))
        return car.car();
    if (words != nullptr)
        *words = english(edit::words(car, ways.front()));
    return after;
}

std::string colourOf(const kit::Car &car, const kit::Wire &wire)
{
    for (const auto &w : car.wires)
        if (w.from == wire.from && w.to == wire.to)
            return w.colour;
    return {};
}

/// Every wire of this end goes to another one.
void lead(kit::Car &car, const std::string &from, const std::string &to)
{
    for (auto &w : car.wires) {
        if (w.from == from)
            w.from = to;
        if (w.to == from)
            w.to = to;
    }
}

} // namespace

class TestSmallWays final : public QObject
{
    Q_OBJECT
private slots:
    /// Each wire of each demo car in a wrong colour gets one that its net asks for.
    void aWireGetsItsColour()
    {
        const auto w = test::demo();
        const auto catalogue = io::catalogueOf(w);
        int tried = 0;
        for (const auto &car : w.cars)
            for (size_t i = 0; i < car.wires.size(); i += 3) {
                auto wrong = car;
                const auto right = car.wires[i].colour;
                wrong.wires[i].colour = right == "red" ? "black" : "red";
                if (countOf(test::allOf({wrong, catalogue}), "wire-colour") <=
                    countOf(test::allOf({car, catalogue}), "wire-colour"))
                    continue; // a motor's lead
                std::string words;
                const auto after = mended({wrong, catalogue}, "wire-colour", &words);
                const auto colour = colourOf(after, car.wires[i]);
                if (right == "red" || right == "black")
                    QCOMPARE(colour, right);
                else
                    QVERIFY(colour != "red" && colour != "black");
                QCOMPARE(words, colour + " from " + car.wires[i].from + " to " + car.wires[i].to);
                ++tried;
            }
        QVERIFY(tried >= 40);
    }

    void signalsOfOneColourAreToldApart()
    {
        test::Bench b;
        const nets::Nets nets({b.car, b.catalogue});
        int coloured = 0;
        for (auto &w : b.car.wires)
            if (w.colour != "red" && w.colour != "black" && ++coloured <= 4)
                w.colour = "green";
        const kit::Assembly car(b.car, b.catalogue);
        QVERIFY(test::find(test::allOf(car), "wire-colour-shared"));
        const auto after = mended(car, "wire-colour-shared");
        QVERIFY(!test::find(test::allOf({after, b.catalogue}), "wire-colour-shared"));
        for (size_t i = 0; i < after.wires.size(); ++i) { // and the others keep theirs
            const auto &was = b.car.wires[i];
            QVERIFY(was.colour == "green" || after.wires[i] == was);
        }
    }

    /// Three wires in one hole: two go to the board's other grounds; a fourth and a fifth need a
    /// breadboard, which takes them all.
    void crowdedWiresFindHoles()
    {
        test::Bench b;
        b.car.wires.push_back({"driver.GND", "board.GND1", "black", {}});
        std::string words;
        auto after = mended({b.car, b.catalogue}, "hole-crowded", &words);
        QVERIFY2(words.find("board.GND") != std::string::npos, words.c_str());
        QCOMPARE(after.wires.size(), b.car.wires.size());
        QVERIFY(!test::find(test::allOf({after, b.catalogue}), "hole-crowded"));

        for (int i = 0; i < 4; ++i)
            b.car.wires.push_back({"driver.GND", "board.GND1", "black", {}});
        after = mended({b.car, b.catalogue}, "hole-crowded", &words);
        QVERIFY2(words.starts_with("one more part: "), words.c_str());
        QCOMPARE(after.wires.size(), b.car.wires.size() + 1);
        std::map<std::string, int> ends;
        for (const auto &w : after.wires)
            ++ends[w.from], ++ends[w.to];
        QCOMPARE(ends["board.GND1"], 1);
    }

    /// A ranger on 5 V before pins for 3.3 V: with the divider the echo's volts are in range, and
    /// the signal still arrives where it did.
    void anEchoGetsItsDivider()
    {
        test::Bench b("Whimbrel");
        lead(b.car, "computer.3V3", "computer.5V");
        const kit::Assembly car(b.car, b.catalogue);
        const auto *over = test::find(wiring::check(car).findings, "signal-over-volts");
        QVERIFY(over);
        const auto before = test::allOf(car);
        const auto after = mended(car, "signal-over-volts");
        QVERIFY(after.instance("divider"));
        const nets::Nets nets({after, b.catalogue});
        for (const auto *signal : {"ranger.ECHO", "edge.OUT"})
            QCOMPARE(nets::wiredPin(nets, signal),
                     nets::wiredPin(nets::Nets({b.car, b.catalogue}), signal));
        QVERIFY(countOf(test::allOf({after, b.catalogue}), "signal-over-volts") <
                countOf(before, "signal-over-volts"));
    }

    void anInputGetsItsPullDown()
    {
        test::Bench b("Turnstone");
        const auto before = test::allOf({b.car, b.catalogue});
        edit::removePart(b.car, b.catalogue, "pull-down");
        QVERIFY(countOf(test::allOf({b.car, b.catalogue}), "pull-down-missing") >
                countOf(before, "pull-down-missing"));
        const auto after = mended({b.car, b.catalogue}, "pull-down-missing");
        const auto put = after.parts.back();
        QCOMPARE(put.partId, std::string("pull-down-10k"));
    }

    void everyGroundOfAChipIsJoined()
    {
        test::Bench b("Redshank");
        const kit::Assembly right(b.car, b.catalogue);
        QVERIFY(!test::find(test::allOf(right), "chip-ground-open"));
        int grounds = 0;
        std::erase_if(b.car.wires, [&](const kit::Wire &w) {
            return (w.from.starts_with("driver.GND") || w.to.starts_with("driver.GND")) &&
                   grounds++ >= 2;
        });
        QVERIFY(test::find(test::allOf({b.car, b.catalogue}), "chip-ground-open"));
        const auto after = mended({b.car, b.catalogue}, "chip-ground-open");
        QVERIFY(!test::find(test::allOf({after, b.catalogue}), "chip-ground-open"));
    }

    /// A white LED of 3.0 V on 5 V: (5 - 3.0) / I, and the least that stands is the least of the
    /// series that is enough.
    void aLightGetsItsResistor()
    {
        test::Bench b;
        const auto id = edit::addPart(b.car, b.catalogue, "led-white");
        const kit::Assembly car(b.car, b.catalogue);
        QVERIFY(test::find(test::allOf(car), "led-resistor"));
        const auto after = mended(car, "led-resistor");
        const auto ohm = after.instance(id)->resistor_ohm;
        QVERIFY(ohm.has_value());
        const auto &led = *b.catalogue.find("led-white");
        const auto &board = *b.catalogue.find("board-5v-8bit");
        const double left_V = board.figure("logic_V")->typical - led.figure("forward_V")->typical;
        // What the pin is advised to give, and what the light is made for: the less of both,
        // however far the rail sags without one.
        const double most_A =
            std::min(board.figure("pin_advised_A")->typical, led.figure("running_A")->typical);
        QVERIFY(left_V / *ohm <= most_A + 1e-12);
        QVERIFY(left_V / (*ohm / 1.25) > most_A); // two values of the series are 1.18 to 1.25 apart
    }

    void cellsOfOneHolderAreOfOneKind()
    {
        test::Bench b;
        auto &pack = b.instance("pack");
        const int all = pack.cellsInSeries;
        pack.cellsInSeries -= 2;
        pack.otherCells.push_back({"cell-alkaline", 2, {}});
        const auto after = mended({b.car, b.catalogue}, "pack-mixed");
        QVERIFY(after.instance("pack")->otherCells.empty());
        QCOMPARE(after.instance("pack")->cellsInSeries, all);
    }

    /// A line sensor that rides too high or touches, and a ranger too near to the floor: the least
    /// step in whole millimetres (of the beam: five) that stands, and none smaller does.
    void aSensorGetsItsHeight()
    {
        const auto steps = [](const char *name, const char *id, double height_m, const char *code,
                              double step_m) {
            test::Bench b(name);
            b.instance(id).mount->height_m = height_m;
            const auto after = mended({b.car, b.catalogue}, code);
            const double up_m = after.instance(id)->mount->height_m - height_m;
            if (std::abs(up_m) < 1e-9)
                return 0;
            auto less = b.car;
            for (auto &i : less.parts)
                if (i.id == id)
                    i.mount->height_m += up_m - std::copysign(step_m, up_m);
            if (!test::find(test::allOf({less, b.catalogue}), code))
                return -1;
            return static_cast<int>(std::lround(up_m / step_m));
        };
        QVERIFY(steps("Godwit", "eye", 0.060, "ride-height", 0.001) < -1);
        QVERIFY(steps("Godwit", "eye", 0.001, "ride-height", 0.001) > 0);
        QVERIFY(steps("Avocet", "ranger", 0.030, "beam-meets-floor", 0.005) > 0);
    }

    /// On each demo car without its wires, each input without its feed, and each motor without its
    /// channel, gets one that mends.
    void whatIsUnfedIsFed()
    {
        const auto w = test::demo();
        const auto catalogue = io::catalogueOf(w);
        int tried = 0;
        for (auto car : w.cars) {
            car.wires.clear();
            for (size_t i = 0; i < car.parts.size(); ++i) {
                auto copy = car;
                copy.parts[i].feeds.clear();
                copy.parts[i].drivenBy.clear();
                const auto without = test::allOf({copy, catalogue});
                const auto with = test::allOf({car, catalogue});
                if (countOf(without, "feed-missing") <= countOf(with, "feed-missing"))
                    continue;
                // Where the car that is fed has an error that the dead one cannot show, no feed
                // stands the test.
                if (std::any_of(with.begin(), with.end(), [&](const Finding &f) {
                        return f.severity == Severity::Error && countOf(without, f.code) == 0;
                    }))
                    continue;
                const auto after = mended({copy, catalogue}, "feed-missing");
                QVERIFY2(!(after == copy), (car.name + " " + copy.parts[i].id).c_str());
                ++tried;
            }
        }
        QVERIFY(tried >= 30);
    }
};

BADGER_TEST(TestSmallWays)
#include "test_small_ways.moc"
