// SPDX-License-Identifier: GPL-3.0-or-later
// Files of earlier versions open, always alike.
#include "core/io/storage.h"
#include "support/fixture.h"
#include "support/places.h"

#include <nlohmann/json.hpp>
#include <set>

using namespace badger;
using Json = nlohmann::ordered_json;
using Spoil = std::function<void(Json &)>;

namespace
{

Json version1()
{
    const auto text = io::readFile(std::string(test::places::fixtures) + "/version-1.badger.json");
    if (!text)
        qFatal("no fixture: %s", english(text.error().text()).c_str());
    return Json::parse(*text);
}

Result<workshop::Workshop> read(const Json &json)
{
    return io::readWorkshop(json.dump());
}

class TestUpgrade final : public QObject
{
    Q_OBJECT
private slots:
    void aFileOfVersion1IsTheDemoOfToday()
    {
        const auto w = read(version1());
        VERIFY_OK(w);
        auto demo = test::demo();
        demo.records.clear(); // bench records came later, and most programs
        for (auto &car : demo.cars) {
            if (car.name != "Avocet")
                car.program = {};
            // Its skid was moved back since: the edge sensor saw the edge too late.
            if (car.name == "Whimbrel")
                for (auto &part : car.parts)
                    if (part.id == "support")
                        part.mount->setBack_m = 0.025;
        }
        while (demo.programs.size() > 1)
            demo.programs.pop_back();
        // Lines, posts, edges and soft things came later: of floors what was there then.
        QCOMPARE(w->floors.size(), demo.floors.size());
        for (size_t i = 0; i < demo.floors.size(); ++i) {
            const auto &then = std::as_const(w->floors)[i];
            const auto &now = std::as_const(demo.floors)[i];
            QVERIFY(then.id == now.id && then.name == now.name && then.width_m == now.width_m &&
                    then.air_degC == now.air_degC);
            for (const auto &wall : then.walls) // the bench leg is a post now
                QVERIFY(wall.name == "bench leg" ||
                        std::find(now.walls.begin(), now.walls.end(), wall) != now.walls.end());
        }
        demo.floors = w->floors;
        QVERIFY(*w == demo);
        // What refers was a name and is the thing.
        const auto &avocet = *w->car("Avocet");
        QCOMPARE(w->program(avocet.program)->name, std::string("halt"));
        QCOMPARE(w->floor(avocet.mission->floor)->name, std::string("Slipway"));
        for (const auto &t : w->trials)
            QCOMPARE(w->car(t.car)->name, std::string("Avocet"));
    }

    void anIdIsOfItsKindAndName()
    {
        // Worked out by a script in another language.
        QCOMPARE(derivedIdText("car", "Avocet"), std::string("03980017ad3007ad"));
        QCOMPARE(derivedIdText("floor", "Slipway"), std::string("44a849e2fd77b832"));
        QVERIFY(derivedIdText("program", "Avocet") != derivedIdText("car", "Avocet"));
        QCOMPARE(idText(0xabc), std::string("0000000000000abc"));
    }

    void newIdsComeFromTheCaller()
    {
        std::uint64_t next = 41;
        const IdSource counter = [&] { return ++next; };
        QCOMPARE(newId<kit::Car>(counter).text, std::string("000000000000002a"));
        QCOMPARE(newId<kit::Car>(counter).text, std::string("000000000000002b"));
        std::set<std::string> seen;
        for (int i = 0; i < 1000; ++i)
            seen.insert(newId<kit::Car>(randomBits).text);
        QCOMPARE(seen.size(), size_t(1000));
    }

    void openedTwiceIsTheSame()
    {
        auto json = version1();
        json["trials"].push_back(json["trials"][0]); // two runs that are alike to the last digit
        json["trials"].push_back(json["trials"][0]);
        const auto once = read(json);
        const auto twice = read(json);
        VERIFY_OK(once);
        QVERIFY(*once == *twice);
        std::set<std::string> ids;
        for (const auto &t : once->trials)
            ids.insert(t.id.text);
        QCOMPARE(ids.size(), once->trials.size());
    }

    void aRunKeepsWhatItWasMadeWith()
    {
        auto json = version1();
        json["trials"][0]["program"] = "an older one";
        json["trials"][0]["floor"] = "";
        const auto w = read(json);
        VERIFY_OK(w);
        const auto &t = w->trials[0];
        QVERIFY(w->program(t.program) == nullptr);
        QCOMPARE(workshop::programName(*w, t), std::string("an older one"));
        QVERIFY(t.floor.empty() && workshop::floorName(*w, t).empty());
        QCOMPARE(workshop::floorName(*w, w->trials[1]), std::string("Slipway"));
        auto renamed = *w;
        renamed.floors[0].name = "Slip";
        QCOMPARE(workshop::floorName(renamed, renamed.trials[1]), std::string("Slip"));
    }

    void aPersonsOwnKeysStay()
    {
        auto json = version1();
        json["cars"][0]["id"] = "inventory 7";
        json["cars"][0]["id_1"] = true;
        json["trials"][0]["program_name"] = 5;
        const auto w = read(json);
        VERIFY_OK(w);
        const auto &extra = w->cars[0].extra;
        QCOMPARE(extra.at("id_1"), std::string("true"));
        QCOMPARE(extra.at("id_1_1"), std::string("\"inventory 7\""));
        QCOMPARE(w->trials[0].extra.at("program_name_1"), std::string("5"));
        QVERIFY(w->cars[0].id == test::carCalled("Avocet"));
    }

    void whatIsWrongIsSaidByItsName_data()
    {
        QTest::addColumn<std::string>("pointer");
        QTest::addColumn<std::string>("what");
        QTest::addColumn<Spoil>("spoil");
        const auto row = [](const char *name, const char *pointer, const char *what, auto spoil) {
            QTest::newRow(name) << std::string(pointer) << std::string(what) << Spoil(spoil);
        };
        row("program", "/cars/3/program", "there is no program 'nothing'",
            [](Json &j) { j["cars"][3]["program"] = "nothing"; });
        row("floor", "/cars/0/mission/floor", "there is no floor 'Moon'",
            [](Json &j) { j["cars"][0]["mission"]["floor"] = "Moon"; });
        row("car", "/trials/1/car", "there is no car 'Heron'",
            [](Json &j) { j["trials"][1]["car"] = "Heron"; });
        row("name twice", "/cars/2", "a second 'Curlew'",
            [](Json &j) { j["cars"][2]["name"] = "Curlew"; });
        row("no name", "/cars/0", "name", [](Json &j) { j["cars"][0].erase("name"); });
        row("name a number", "/floors/1/name", "does not fit",
            [](Json &j) { j["floors"][1]["name"] = 7; });
        row("program a number", "/cars/0/program", "does not fit",
            [](Json &j) { j["cars"][0]["program"] = 7; });
        row("mission a list", "/cars/0/mission", "does not fit",
            [](Json &j) { j["cars"][0]["mission"] = Json::array({1}); });
        row("cars a text", "/cars", "does not fit", [](Json &j) { j["cars"] = "none"; });
        row("a car that is null", "/cars/2", "does not fit",
            [](Json &j) { j["cars"][2] = nullptr; });
        row("trials gone", "the file", "trials", [](Json &j) { j.erase("trials"); });
    }
    void whatIsWrongIsSaidByItsName()
    {
        QFETCH(std::string, pointer);
        QFETCH(std::string, what);
        QFETCH(Spoil, spoil);
        auto json = version1();
        spoil(json);
        const auto w = read(json);
        QVERIFY(!w);
        QCOMPARE(english(w.error().where), pointer);
        QVERIFY2(english(w.error().what).find(what) != std::string::npos,
                 english(w.error().what).c_str());
    }

    void bentFilesOfVersion1NeverBreakTheReader()
    {
        // Anywhere in the file something else: the reader answers, and what it takes it gives back.
        std::mt19937 engine(7);
        const auto whole = version1();
        const std::vector<Json> others = {nullptr, 5, "x", "", Json::array(), Json::object(), true};
        int taken = 0;
        for (int i = 0; i < 300; ++i) {
            auto json = whole;
            Json *at = &json;
            while (at->is_structured() && !at->empty() && engine() % 6 != 0)
                at = &*std::next(at->begin(), long(engine() % at->size()));
            *at = others[engine() % others.size()];
            const auto w = read(json);
            if (!w)
                continue;
            ++taken;
            const auto again = io::readWorkshop(io::writeWorkshop(*w));
            VERIFY_OK(again);
            QVERIFY(*again == *w);
        }
        QVERIFY(taken > 5 && taken < 250);
    }
};

} // namespace

BADGER_TEST(TestUpgrade)

#include "test_upgrade.moc"
