// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/io/workshop_file.h"
#include "support/fixture.h"

#include <nlohmann/json.hpp>

#include <functional>
#include <random>

using namespace badger;
using Json = nlohmann::ordered_json;
using test::Bench;

namespace
{

struct Bad {
    const char *name;
    const char *where;
    const char *what; ///< part of the message
    std::function<void(Json &)> bend;
};

const std::vector<Bad> &bads()
{
    static const std::vector<Bad> all = {
        {"wrong type", "/cars/0/geometry/track_m", "\"wide\" does not fit",
         [](Json &j) { j["cars"][0]["geometry"]["track_m"] = "wide"; }},
        {"out of range", "/cars/0/geometry/track_m", "2000 m does not fit",
         [](Json &j) { j["cars"][0]["geometry"]["track_m"] = 2000; }},
        {"negative cells", "/cars/0/parts/7/cells_in_series", "-6 does not fit",
         [](Json &j) { j["cars"][0]["parts"][7]["cells_in_series"] = -6; }},
        {"missing key", "/cars/0", "the key 'geometry' is missing",
         [](Json &j) { j["cars"][0].erase("geometry"); }},
        {"missing part", "/cars/0/parts/0/part", "there is no part 'nope'",
         [](Json &j) { j["cars"][0]["parts"][0]["part"] = "nope"; }},
        {"future version", "/version", "the file is of version 9",
         [](Json &j) { j["version"] = 9; }},
        {"version 0", "/version", "0 is not a version", [](Json &j) { j["version"] = 0; }},
        {"version as text", "/version", "no whole version", [](Json &j) { j["version"] = "1"; }},
        {"another format", "the file", "not a workshop", [](Json &j) { j["format"] = "poem"; }},
        {"duplicate car", "/cars/10", "a second 'Avocet'",
         [](Json &j) { j["cars"].push_back(j["cars"][0]); }},
        {"duplicate program", "/programs/10", "a second 'halt'",
         [](Json &j) { j["programs"].push_back(j["programs"][0]); }},
        {"duplicate part of a car", "/cars/0/parts/10", "a second 'board'",
         [](Json &j) { j["cars"][0]["parts"].push_back(j["cars"][0]["parts"][0]); }},
        {"empty name", "/cars/0/name", "does not fit", [](Json &j) { j["cars"][0]["name"] = ""; }},
        {"wire to a pin the board lacks", "/cars/0/wires/7/to",
         "the board 'board' has no terminal 'D99'",
         [](Json &j) { j["cars"][0]["wires"][7]["to"] = "board.D99"; }},
        {"wire to nowhere", "/cars/0/wires/7/to", "'moon' names no part of 'Avocet'",
         [](Json &j) { j["cars"][0]["wires"][7]["to"] = "moon"; }},
        {"wire to itself", "/cars/0/wires/7", "from a terminal to itself",
         [](Json &j) { j["cars"][0]["wires"][7]["to"] = j["cars"][0]["wires"][7]["from"]; }},
        {"the same wire twice, turned round", "/cars/0/wires/19", "a second wire",
         [](Json &j) {
             auto w = j["cars"][0]["wires"][7];
             std::swap(w["from"], w["to"]);
             j["cars"][0]["wires"].push_back(w);
         }},
        {"program pin that is none", "/cars/0/program_pins/ranger.TRIG", "no pin 'D77'",
         [](Json &j) { j["cars"][0]["program_pins"]["ranger.TRIG"] = "D77"; }},
        {"two revisions of one number", "/cars/0/wiring_history/2", "a second '2'",
         [](Json &j) { j["cars"][0]["wiring_history"][2]["number"] = 2; }},
        {"a revision without a reason", "/cars/0/wiring_history/0", "reason",
         [](Json &j) { j["cars"][0]["wiring_history"][0].erase("reason"); }},
        {"two readings of one step", "/cars/0/first_power/1", "a second 'look:polarity'",
         [](Json &j) {
             j["cars"][0]["first_power"] =
                 Json::array({{{"key", "look:polarity"}}, {{"key", "look:polarity"}}});
         }},
        {"a bus line that is none", "/parts/0/terminals/0/bus", "does not fit",
         [](Json &j) {
             j["parts"] = Json::parse(R"([{"id": "x", "name": "x", "kind": "light", "terminals":
                 [{"name": "A", "role": "pin", "bus": "sideways"}]}])");
         }},
        {"unknown program", "/cars/0/program", "there is no program with the id 'dance'",
         [](Json &j) { j["cars"][0]["program"] = "dance"; }},
        {"unknown word", "/programs/0/readings/0/unit", "\"furlong\" does not fit",
         [](Json &j) { j["programs"][0]["readings"][0]["unit"] = "furlong"; }},
        {"PWM 300", "/programs/0/values/1/value_pwm", "300 does not fit",
         [](Json &j) { j["programs"][0]["values"][1]["value_pwm"] = 300; }},
        {"even median", "/programs/0/readings/0/median_of", "has no middle",
         [](Json &j) { j["programs"][0]["readings"][0]["median_of"] = 4; }},
        {"rule to nowhere", "/programs/0", "goes to the state 'x'",
         [](Json &j) { j["programs"][0]["everywhere"][0]["go"] = "x"; }},
        {"trial of nobody", "/trials/0/car", "there is no car with the id 'Dodo'",
         [](Json &j) { j["trials"][0]["car"] = "Dodo"; }},
        {"jumper that is none", "/cars/0/parts/2/jumpers/0", "has no jumper 'IN1'",
         [](Json &j) { j["cars"][0]["parts"][2]["jumpers"] = Json::array({"IN1"}); }},
        {"no cells", "/cars/0/parts/7/cells_in_series", "0 does not fit",
         [](Json &j) { j["cars"][0]["parts"][7]["cells_in_series"] = 0; }},
        {"2 km wide", "/cars/0/geometry/width_m", "2000 m does not fit",
         [](Json &j) { j["cars"][0]["geometry"]["width_m"] = 2000; }},
        {"a board among the cells", "/cars/0/parts/7/other_cells/0/part", "there is no cell",
         [](Json &j) {
             j["cars"][0]["parts"][7]["other_cells"] =
                 Json::array({{{"part", "board-5v-8bit"}, {"cells", 2}}});
         }},
        {"carried by nobody", "/cars/0/parts/1/carried_by", "rides on 'ghost'",
         [](Json &j) { j["cars"][0]["parts"][1]["carried_by"] = "ghost"; }},
        {"carried by itself", "/cars/0/parts/1/carried_by", "rides on 'ranger'",
         [](Json &j) { j["cars"][0]["parts"][1]["carried_by"] = "ranger"; }},
        {"a car's id twice", "/cars/3", "a second '03980017ad3007ad'",
         [](Json &j) { j["cars"][3]["id"] = j["cars"][0]["id"]; }},
        {"a run's id twice", "/trials/1", "a second 'd1a34e1af719e99d'",
         [](Json &j) { j["trials"][1]["id"] = j["trials"][0]["id"]; }},
        {"a floor without an id", "/floors/1", "the key 'id' is missing",
         [](Json &j) { j["floors"][1].erase("id"); }},
        {"mission on no floor", "/cars/0/mission/floor", "there is no floor with the id 'Moon'",
         [](Json &j) { j["cars"][0]["mission"]["floor"] = "Moon"; }},
        {"a disc of no size", "/cars/0/geometry", "without its radius",
         [](Json &j) { j["cars"][0]["geometry"]["deck"] = "disc"; }},
        {"a supply input without its window", "/parts/0/terminals/VCC", "without a window",
         [](Json &j) {
             j["parts"] = Json::parse(R"([{"id": "x", "name": "x", "kind": "light", "terminals":
                 [{"name": "VCC", "role": "supply-in"}]}])");
         }},
        {"an empty window", "/parts/0/terminals/VCC", "its window is empty",
         [](Json &j) {
             j["parts"] = Json::parse(R"([{"id": "x", "name": "x", "kind": "light", "terminals":
                 [{"name": "VCC", "role": "supply-in", "window": {"low_V": 6, "high_V": 5}}]}])");
         }},
        {"an output without a feed", "/parts/0/terminals/OUT", "without its volts or its feed",
         [](Json &j) {
             j["parts"] = Json::parse(R"([{"id": "x", "name": "x", "kind": "regulator",
                 "terminals": [{"name": "OUT", "role": "supply-out", "source_V": 5}]}])");
         }},
        {"a motor for 0 V", "/parts/0/figures/rated_V", "is not above 0",
         [](Json &j) {
             auto f = R"({"typical": 0, "low": 0, "high": 0, "source": "x"})";
             j["parts"] = Json::parse(R"([{"id": "x", "name": "x", "kind": "motor"}])");
             for (const auto *key : {"rated_V", "no_load_rpm", "rise_s"})
                 j["parts"][0]["figures"][key] = Json::parse(f);
         }},
        {"a mass below 0", "/parts/0/figures/mass_kg", "is below 0",
         [](Json &j) {
             j["parts"] = Json::parse(R"([{"id": "x", "name": "x", "kind": "support", "figures":
                 {"mass_kg": {"typical": 1, "low": -1, "high": 1, "source": "x"}}}])");
         }},
        {"axle outside the car", "/cars/0/geometry", "outside the car",
         [](Json &j) { j["cars"][0]["geometry"]["axle_to_nose_m"] = 0.5; }},
        {"dot in an id", "/cars/0/parts/8/id", "has a dot",
         [](Json &j) { j["cars"][0]["parts"][8]["id"] = "a.b"; }},
        {"own part without its figures", "/parts/0/figures", "has no figure 'diameter_m'",
         [](Json &j) {
             j["parts"] =
                 Json::parse(R"([{"id": "w", "name": "w", "kind": "wheel", "figures": {}}])");
         }},
        {"figure out of order", "/parts/0/figures/diameter_m", "is not between",
         [](Json &j) {
             j["parts"] = Json::parse(R"([{"id": "w", "name": "w", "kind": "wheel", "figures":
               {"diameter_m": {"typical": 3, "low": 1, "high": 2, "source": "x"}}}])");
         }},
        {"cars as an object", "/cars", "does not fit", [](Json &j) { j["cars"] = Json::object(); }},
    };
    return all;
}

Json demoJson()
{
    return Json::parse(io::demoWorkshop());
}

} // namespace

class TestWorkshopFile final : public QObject
{
    Q_OBJECT
private slots:
    void theDemoComesBackByteForByte()
    {
        Bench b;
        QCOMPARE(
            QString::fromStdString(io::writeWorkshop(b.workshop)),
            QString::fromUtf8(io::demoWorkshop().data(), qsizetype(io::demoWorkshop().size())));
    }

    void readWriteReadIsTheSame()
    {
        Bench b;
        const auto again = io::readWorkshop(io::writeWorkshop(b.workshop));
        VERIFY_OK(again);
        QVERIFY(*again == b.workshop);
    }

    void everyOptionalThingComesBack()
    {
        Bench b;
        b.car.parts[2].jumpers = {"ENA"};
        b.car.parts[1].mount->yaw_rad = 0.1;
        b.car.parts[1].mount->tilt_rad = 0.05;
        b.car.parts[1].mount->play_rad = 0.02;
        b.car.parts[1].label = "nose";
        b.car.parts[1].sweep_rad = 0.2;
        b.car.parts[1].hornError_rad = -0.1;
        b.car.parts[1].resistor_ohm = 180.0;
        b.car.parts[1].feeds.push_back({"VCC", "driver.5V", {}});
        b.car.parts[1].carriedBy = "board";
        b.car.parts[7].otherCells = {{"cell-alkaline", 2, {}}};
        b.car.geometry.deck = kit::DeckShape::TwoDiscs;
        b.car.geometry.discRadius_m = 0.075;
        b.car.geometry.discsApart_m = 0.06;
        b.car.ticks.push_back("have:tape-pad");
        auto eye = *b.catalogue.find("infrared-light-low");
        eye.id = "own-eye";
        eye.terminals.front().analogue = true;
        eye.terminals.front().motors = true;
        b.workshop.parts.push_back(eye);
        b.reading().medianOf = 3;
        b.reading().noEcho = rules::NoEcho::HoldLast;
        b.program.prints = {true, 115200};
        b.program.passWaitKind = rules::WaitKind::Timed;
        b.program.values.push_back({"away", "", rules::ValueKind::Duration, 0.2});
        b.program.states.push_back({"backs",
                                    {rules::Wheels::Drive, {-1, "speed"}, {0, ""}},
                                    rules::Wait{"away", rules::WaitKind::Blocking, "stands"},
                                    {}});
        b.program.states[0].rules = {
            {"r", {{"ahead", rules::Compare::GreaterOrEqual, "halt"}}, "backs", false}};
        b.value("halt").si.reset();
        auto own = *b.catalogue.find("wheel-65mm");
        own.id = "our-wheel";
        b.workshop.parts = {own};
        b.workshop.trials[0].contact = true;
        b.workshop.trials[0].gap_m.reset();
        b.workshop.trials[0].note = "naïve \"quote\" \n second line";
        const auto again = io::readWorkshop(io::writeWorkshop(b.workshop));
        VERIFY_OK(again);
        QVERIFY(*again == b.workshop);
    }

    void unknownKeysAreKeptAtEveryLevel()
    {
        auto j = demoJson();
        int planted = 0;
        // Plants a key into every object but those whose keys are names.
        const std::function<void(Json &, const std::string &)> plant =
            [&](Json &at, const std::string &name) {
                if (at.is_object() && name != "program_pins" && name != "figures" &&
                    name != "choices") {
                    for (auto &[key, value] : at.items())
                        plant(value, key);
                    at["x_later"] = {{"deep", {1, 2.5, "three", nullptr}}};
                    ++planted;
                } else if (at.is_array()) {
                    for (auto &value : at)
                        plant(value, name);
                }
            };
        plant(j, "");
        QVERIFY(planted > 60);
        const auto w = io::readWorkshop(j.dump());
        VERIFY_OK(w);
        const auto back = Json::parse(io::writeWorkshop(*w));
        // The same content, whatever the order of keys.
        QVERIFY(nlohmann::json(back) == nlohmann::json(j));
    }

    void badFiles_data()
    {
        QTest::addColumn<int>("index");
        for (size_t i = 0; i < bads().size(); ++i)
            QTest::newRow(bads()[i].name) << int(i);
    }
    void badFiles()
    {
        QFETCH(int, index);
        const auto &bad = bads()[size_t(index)];
        auto j = demoJson();
        bad.bend(j);
        const auto w = io::readWorkshop(j.dump());
        QVERIFY(!w);
        QCOMPARE(QString::fromStdString(english(w.error().where)), QString(bad.where));
        QVERIFY2(english(w.error().what).find(bad.what) != std::string::npos,
                 english(w.error().text()).c_str());
        QVERIFY2(!w.error().mend.empty(), "no mend");
    }

    void notJson_data()
    {
        QTest::addColumn<QByteArray>("text");
        QTest::addColumn<QString>("where");
        QTest::newRow("second line") << QByteArray("{\"a\": 1,\n \"b\": }\n") << "line 2, column 7";
        QTest::newRow("nothing") << QByteArray() << "line 1, column 0";
        QTest::newRow("zeros") << QByteArray(1000, '\0') << "line 1, column 1";
        QTest::newRow("not UTF-8") << QByteArray("{\"a\":\"\xff\"}") << "line 1, column 7";
        QTest::newRow("cut off") << QByteArray("{\"format\": \"swift-badg") << "line 1, column 22";
        QTest::newRow("doubled key")
            << QByteArray("{\"format\": \"x\", \"format\": \"y\"}") << "the file";
        QTest::newRow("too large a number") << QByteArray("{\"format\": 1e999}") << "the file";
        QTest::newRow("deep") << QByteArray(300000, '[') + QByteArray(300000, ']') << "the file";
        QTest::newRow("a list") << QByteArray("[1, 2]") << "the file";
    }
    void notJson()
    {
        QFETCH(QByteArray, text);
        QFETCH(QString, where);
        const auto w = io::readWorkshop(std::string_view(text.data(), size_t(text.size())));
        QVERIFY(!w);
        QCOMPARE(QString::fromStdString(english(w.error().where)), where);
        QVERIFY(!w.error().what.empty());
    }

    void everyTruncationAndFlippedByteIsSurvived()
    {
        // A file that was cut off or damaged either loads or is refused; it never crashes.
        const auto text = std::string(io::demoWorkshop());
        const unsigned seed = 23;
        qInfo("seed %u", seed);
        std::mt19937 engine(seed);
        int refused = 0;
        for (int i = 0; i < 150; ++i) {
            auto cut = text.substr(0, engine() % text.size());
            refused += !io::readWorkshop(cut);
            auto damaged = text;
            for (int k = 0; k < 3; ++k)
                damaged[engine() % damaged.size()] = static_cast<char>(engine() % 256);
            if (const auto w = io::readWorkshop(damaged)) {
                const auto catalogue = io::catalogueOf(*w);
                for (const auto &car : w->cars)
                    (void)judge::judge(*w, {car, catalogue});
            }
        }
        QCOMPARE(refused, 150);
    }

    void numbersKeepEveryDigit()
    {
        Bench b;
        b.value("halt").si = 0.1 + 0.2;
        const auto again = io::readWorkshop(io::writeWorkshop(b.workshop));
        QCOMPARE(*again->programs.front().value("halt")->si, 0.1 + 0.2);
    }

    void schemaIsASchemaAndNamesEveryTopKey()
    {
        const auto schema = Json::parse(io::workshopSchema());
        const auto demo = demoJson();
        for (const auto &[key, value] : demo.items())
            QVERIFY2(schema["properties"].contains(key), key.c_str());
    }
};

BADGER_TEST(TestWorkshopFile)
#include "test_workshop_file.moc"
