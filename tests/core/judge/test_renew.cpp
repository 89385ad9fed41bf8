// SPDX-License-Identifier: GPL-3.0-or-later
// A judgement that is brought up to date is the one that is made anew.
#include "support/fixture.h"

#include "core/mechanics/build.h"

#include <random>

using namespace badger;
using judge::Asked;
using judge::Grounds;
using judge::Station;

namespace
{

/// Everything a judgement says, as one text.
std::string told(const judge::Judgement &j, const workshop::Workshop &w)
{
    std::string all;
    for (const auto &f : j.all())
        all += f.code + ": " + english(f.what) + " " + english(f.mend) + "\n";
    for (const auto *findings : {&j.kit.findings, &j.wire, &j.rule})
        for (const Say &fine : findings->fine)
            all += "fine: " + english(fine) + "\n";
    for (const auto &g : j.gates)
        all += english(g.why) + "\n";
    all += english(j.next.title) + english(j.next.text) + "\n";
    for (const auto &way : j.otherWays)
        all += english(way.name) + std::to_string(way.worstGap_m) + "\n";
    for (const auto &run : j.runs)
        all += std::to_string(run.fingerprint) + english(run.verdict) + "\n";
    for (const auto *list : {&j.measured, &j.older})
        for (const auto &t : *list)
            all += t.id.text + ";";
    for (const auto s : judge::stations)
        all += english(judge::headline(s, w, {w.cars.front(), io::catalogueOf(w)}, j).sentence);
    return all;
}

Grounds groundsOf(const workshop::Workshop &w)
{
    const auto &car = w.cars.front();
    Grounds on{w.cars.piece(0),
               nullptr,
               w.floors.empty() ? nullptr : w.floors.piece(0),
               {},
               w.parts,
               {},
               {}};
    for (size_t i = 0; i < w.programs.size(); ++i)
        if (w.programs[i].id == car.program)
            on.program = w.programs.piece(i);
    for (size_t i = 0; i < w.trials.size(); ++i)
        if (w.trials[i].car == car.id)
            on.trials.share(w.trials, i);
    for (size_t i = 0; i < w.records.size(); ++i)
        if (w.records[i].car == car.id)
            on.records.share(w.records, i);
    on.floorName = workshop::missionFloorName(w, car);
    for (size_t i = 0; car.mission && i < w.floors.size(); ++i)
        if (w.floors[i].id == car.mission->floor)
            on.missionFloor = w.floors.piece(i);
    return on;
}

/// Edits of every kind that a workshop has, each on the first car or on what it uses.
using Edit = std::function<void(workshop::Workshop &, std::mt19937 &)>;
const std::vector<Edit> &edits()
{
    static const std::vector<Edit> all = {
        [](auto &w, auto &r) { w.programs[0].values[0].si = 0.2 + 0.01 * double(r() % 40); },
        [](auto &w, auto &r) { w.programs[0].values[1].si = double(60 + r() % 190); },
        [](auto &w, auto &) { w.programs[0].values[0].si.reset(); },
        [](auto &w, auto &) { w.programs[0].version += 1; },
        [](auto &w, auto &r) {
            w.programs[0].readings[0].noEcho = static_cast<rules::NoEcho>(r() % 3);
        },
        [](auto &w, auto &r) {
            auto &wires = w.cars[0].wires;
            if (!wires.empty())
                wires.erase(wires.begin() + long(r() % wires.size()));
        },
        [](auto &w, auto &r) {
            if (!w.cars[0].wires.empty())
                w.cars[0].wires[r() % w.cars[0].wires.size()].to =
                    "board.D" + std::to_string(2 + r() % 11);
        },
        [](auto &w, auto &) { w.cars[0].programPins["ranger.TRIG"] = "D12"; },
        [](auto &w, auto &r) { w.cars[0].ticks.push_back("have:" + std::to_string(r() % 9)); },
        [](auto &w, auto &) {
            for (const auto &s : mechanics::buildSteps({w.cars[0], io::catalogueOf(w)}))
                if (!s.done)
                    return w.cars[0].ticks.push_back(s.key);
        },
        [](auto &w, auto &) { w.cars[0].walk.clear(); },
        [](auto &w, auto &) { w.cars[0].history.clear(); },
        [](auto &w, auto &r) { w.cars[0].wantedGap_m = 0.05 + 0.01 * double(r() % 30); },
        [](auto &w, auto &r) {
            auto &speeds = w.cars[0].calibrations.speeds;
            if (!speeds.empty())
                speeds[r() % speeds.size()].speed_mps *= 1.1;
        },
        [](auto &w, auto &) { w.cars[0].calibrations.ruler.reset(); },
        [](auto &w, auto &r) { w.cars[0].name = "Car " + std::to_string(r() % 5); },
        [](auto &w, auto &r) {
            w.cars[0].mission = kit::Mission{r() % 2 ? "halt" : "glance", {}, {}};
        },
        [](auto &w, auto &) { w.cars[0].geometry.width_m *= 1.05; },
        [](auto &w, auto &r) {
            auto &parts = w.cars[0].parts;
            parts[r() % parts.size()].jumpers.clear();
        },
        [](auto &w, auto &r) {
            if (auto &p = w.cars[0].parts[r() % w.cars[0].parts.size()]; p.mount)
                p.mount->yaw_rad += 0.1;
        },
        [](auto &w, auto &) {
            for (auto &p : w.cars[0].parts)
                if (p.cellsInSeries > 0)
                    p.cellsInSeries = p.cellsInSeries == 6 ? 4 : 6;
        },
        [](auto &w, auto &) { w.cars[0].program = {}; },
        [](auto &w, auto &) { w.cars[0].program = w.programs[0].id; },
        [](auto &w, auto &) { w.floors[0].air_degC += 3.0; },
        [](auto &w, auto &) { w.floors[0].start.nose.x_m += 0.05; },
        [](auto &w, auto &r) {
            if (!w.trials.empty())
                w.trials[r() % w.trials.size()].gap_m = 0.01 * double(5 + r() % 30);
        },
        [](auto &w, auto &) {
            if (!w.trials.empty())
                w.trials.pop_back();
        },
        [](auto &w, auto &) {
            if (!w.parts.empty())
                return;
            auto own = *io::shippedCatalogue().find("dual-bridge-module");
            own.figures["drop_V"].typical = own.figures["drop_V"].low;
            w.parts.push_back(own); // hides the shipped one
        },
        [](auto &w, auto &) { w.parts.clear(); },
        [](auto &w, auto &) { w.cars[1].team = "others"; },
        [](auto &w, auto &) { w.name += "!"; },
        [](auto &w, auto &r) {
            tune::Record record;
            record.id = {"record-" + std::to_string(r())};
            record.car = w.cars[0].id;
            record.instance = "ranger";
            for (int i = 1; i <= 6; ++i)
                record.stretches.push_back({{}, 0.1 * i, {580.0 * i}, {}});
            record.basis = tune::basisOf({w.cars[0], io::catalogueOf(w)}, record.what, "ranger");
            w.records.push_back(std::move(record));
        },
        [](auto &w, auto &r) {
            for (size_t i = 0; i < w.records.size(); ++i)
                if (!w.records[i].stretches.empty() && r() % 3 == 0)
                    w.records[i].stretches.pop_back();
        },
        [](auto &w, auto &r) {
            if (auto &p = w.cars[0].parts[r() % w.cars[0].parts.size()]; p.mount)
                p.mount->height_m += 0.01;
        },
    };
    return all;
}

} // namespace

class TestRenew final : public QObject
{
    Q_OBJECT
private slots:
    void afterAnyEditItIsTheNewJudgement()
    {
        std::mt19937 random(11);
        int kept = 0;
        for (int round = 0; round < 8; ++round) {
            auto w = test::demo();
            judge::Judgement j;
            std::optional<Grounds> was;
            for (int step = 0; step < 40; ++step) {
                edits()[random() % edits().size()](w, random);
                const auto catalogue = io::catalogueOf(w);
                const auto on = groundsOf(w);
                const auto asked = judge::renew(j, was, on, catalogue, judge::Runs::Now);
                was = on;
                kept += !asked.kit;
                const auto &car = std::as_const(w).cars.front();
                const auto anew = judge::judge(w, {car, catalogue});
                QCOMPARE(QString::fromStdString(told(j, w)), QString::fromStdString(told(anew, w)));
            }
        }
        QVERIFY(kept > 50); // and it was not all asked again
    }

    void onlyWhatChangedIsAsked_data()
    {
        QTest::addColumn<int>("edit");
        QTest::addColumn<QString>("expected"); // k, w, t, p, l
        QTest::newRow("a threshold") << 0 << "pl";
        QTest::newRow("a wire") << 5 << "kwtpl";
        QTest::newRow("a tick") << 8 << "";
        QTest::newRow("the walk") << 10 << "";
        QTest::newRow("the wanted gap") << 12 << "pl";
        QTest::newRow("a calibration") << 13 << "pl";
        QTest::newRow("the air") << 23 << "pl";
        QTest::newRow("a run") << 26 << "l";
        QTest::newRow("an own part") << 27 << "kwtpl";
        QTest::newRow("another car") << 29 << "";
        QTest::newRow("the workshop's name") << 30 << "";
        QTest::newRow("a bench record") << 31 << "tpl";
    }
    void onlyWhatChangedIsAsked()
    {
        QFETCH(int, edit);
        QFETCH(QString, expected);
        std::mt19937 random(3);
        auto w = test::demo();
        judge::Judgement j;
        const auto was = groundsOf(w);
        QVERIFY(judge::renew(j, std::nullopt, was, io::catalogueOf(w), judge::Runs::Later) ==
                (Asked{true, true, true, true, true}));
        edits()[size_t(edit)](w, random);
        const auto a = judge::renew(j, was, groundsOf(w), io::catalogueOf(w), judge::Runs::Later);
        const QString asked = QString(a.kit ? "k" : "") + (a.wire ? "w" : "") +
                              (a.tune ? "t" : "") + (a.program ? "p" : "") + (a.log ? "l" : "");
        QCOMPARE(asked, expected);
    }

    void theSameContentInAnotherPieceIsTheSame()
    {
        auto w = test::demo();
        judge::Judgement j;
        const auto was = groundsOf(w);
        judge::renew(j, std::nullopt, was, io::catalogueOf(w), judge::Runs::Later);
        w.programs[0].version += 1;
        w.programs[0].version -= 1; // a piece of its own by now
        const auto on = groundsOf(w);
        QVERIFY(on.program != was.program);
        QVERIFY(!judge::renew(j, was, on, io::catalogueOf(w), judge::Runs::Later).any());
    }
};

BADGER_TEST(TestRenew)
#include "test_renew.moc"
