// SPDX-License-Identifier: GPL-3.0-or-later
// Bench records in files: what is written reads back, and what cannot be is named.
#include "core/io/workshop_file.h"
#include "support/fixture.h"

#include <nlohmann/json.hpp>

using namespace badger;
using Json = nlohmann::ordered_json;
using test::Bench;

namespace
{

std::string refusal(const Json &json)
{
    const auto read = io::readWorkshop(json.dump());
    return read ? std::string("it was read") : english(read.error().text());
}

bool refuses(const std::function<void(Json &)> &bend, const char *place)
{
    auto json = Json::parse(io::demoWorkshop());
    bend(json);
    const auto why = refusal(json);
    if (why.find(place) == 0)
        return true;
    qWarning("%s", why.c_str());
    return false;
}

} // namespace

class TestRecords final : public QObject
{
    Q_OBJECT
private slots:
    void whatIsWrittenReadsBack()
    {
        Bench b;
        tune::Record r;
        r.id = {"mine"};
        r.car = b.car.id;
        r.what = tune::What::NoEcho;
        r.instance = "ranger";
        r.stretches = {{"open", std::nullopt, {38000, tune::nothingCame, 0, 190000.5}, {}},
                       {"", 0.25, {}, {}}};
        r.chosen = 12.5;
        r.basis = tune::basisOf({b.car, b.catalogue}, r.what, r.instance);
        r.basis.light = "lamps on";
        r.basis.air_degC = -3.5;
        r.note = "a \"note\"";
        r.extra["later"] = "[1,2]";
        b.workshop.records.push_back(r);
        const auto back = io::readWorkshop(io::writeWorkshop(b.workshop));
        VERIFY_OK(back);
        QVERIFY(std::as_const(back->records).back() == r);
        QVERIFY(*back == b.workshop);
        // Nothing came back is kept apart from a reading of 0.
        const auto burst = tune::burstOf(r.stretches[0]);
        QVERIFY(!burst[1] && burst[2] && *burst[2] == 0.0);
    }

    void whatCannotBeIsNamedWithItsPlace()
    {
        QVERIFY(refuses([](Json &j) { j["records"][0]["car"] = "nobody"; }, "/records/0/car"));
        QVERIFY(
            refuses([](Json &j) { j["records"][1]["id"] = j["records"][0]["id"]; }, "/records"));
        QVERIFY(refuses([](Json &j) { j["records"][2]["what"] = "colour"; }, "/records/2/what"));
        QVERIFY(refuses([](Json &j) { j["records"][0].erase("basis"); }, "/records/0"));
        QVERIFY(refuses([](Json &j) { j["records"][0]["stretches"][3]["readings"][5] = "x"; },
                        "/records/0/stretches/3/readings/5"));
        QVERIFY(refuses([](Json &j) { j["records"][0]["stretches"][0]["readings"][0] = 1e9; },
                        "/records/0/stretches/0/readings/0"));
        QVERIFY(refuses([](Json &j) { j["records"][0]["basis"]["air_degC"] = 99; },
                        "/records/0/basis/air_degC"));
        QVERIFY(refuses([](Json &j) { j["records"] = 5; }, "/records"));
    }

    /// An edit is held to the same limits, and only what it touches is asked.
    void anEditIsHeldToTheSameLimits()
    {
        const auto before = test::demo();
        auto after = before;
        after.records[0].basis.air_degC = 300.0;
        const auto catalogue = io::catalogueOf(before);
        const auto taken = io::takesBack(after, before, catalogue);
        QVERIFY(!taken);
        QVERIFY(english(taken.error().where).find("air_degC") != std::string::npos);
        after = before;
        after.records[0].stretches[0].readings.assign(100000, 1700.0);
        VERIFY_OK(io::takesBack(after, before, catalogue));
        after.records[0].stretches[0].readings.assign(200001, 1700.0);
        QVERIFY(!io::takesBack(after, before, catalogue));
        // A record of a car that is gone.
        after = before;
        after.cars.eraseIf([](const kit::Car &c) { return c.name == "Dunlin"; });
        QVERIFY(!io::takesBack(after, before, catalogue));
        after.records.eraseIf(
            [](const tune::Record &r) { return r.car == test::carCalled("Dunlin"); });
        VERIFY_OK(io::takesBack(after, before, catalogue));
    }
};

BADGER_TEST(TestRecords)
#include "test_records.moc"
