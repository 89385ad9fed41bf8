// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/judge/demo_cars.h"
#include "core/judge/tune_sums.h"

using namespace badger;
using judge::GateState;
using judge::Station;
using test::DemoCars;
using tune::What;

namespace
{

const Finding *inTune(const judge::Judgement &j, const std::string &code)
{
    return test::find(j.tune.findings.findings, code);
}

kit::Instance &part(kit::Car &car, const std::string &id)
{
    return *std::find_if(car.parts.begin(), car.parts.end(),
                         [&](const kit::Instance &p) { return p.id == id; });
}

} // namespace

class TestTuneJudgement final : public QObject
{
    Q_OBJECT
private slots:
    /// The basis that the demo's script writes down is the one that the window would.
    void theDemosRecordsRestOnItsCars()
    {
        DemoCars d;
        QVERIFY(d.w.records.size() >= 8);
        for (const auto &r : std::as_const(d.w.records)) {
            const auto &car = *d.w.car(r.car);
            const kit::Assembly assembly(car, io::catalogueOf(d.w));
            const auto changed =
                tune::changedSince(r, assembly, workshop::missionFloorName(d.w, car));
            QVERIFY2(changed.empty(), changed.empty() ? "" : english(changed.front()).c_str());
            const auto now = tune::basisOf(assembly, r.what, r.instance);
            QCOMPARE(r.basis.part, now.part);
            QCOMPARE(r.basis.pins, now.pins);
            QCOMPARE(r.basis.pack, now.pack);
            QCOMPARE(r.basis.wheels, now.wheels);
            QVERIFY(r.sample);
        }
    }

    void theirStories()
    {
        DemoCars d;
        QVERIFY(d.judged("Avocet").gate(Station::Tune).state == GateState::Passed);
        const auto fit = tune::rulerFitOf(d.record("Avocet", What::Ruler));
        QVERIFY(fit && std::abs(fit->slope - 1.0) < 0.01 && fit->maxResidual_m < 0.006);
        // 18 degrees by thermometer lie within what the readings say.
        QVERIFY(std::abs(*fit->air_degC - 18.0) < *fit->airError_K);
        const auto dunlin = d.judged("Dunlin");
        const auto *mixed = inTune(dunlin, "senses-mixed");
        QVERIFY(mixed && mixed->severity == Severity::Advice);
        QVERIFY(english(mixed->what).find("left-eye gives 1 and right-eye gives 0") !=
                std::string::npos);
        QVERIFY(!inTune(dunlin, "sense-differs"));
        const auto godwit = tune::surfacesOf(d.record("Godwit", What::Surfaces));
        QVERIFY(godwit && godwit->isSeparable && godwit->margin > 100.0);
        // Ruff's right wheel was never measured.
        const auto ruff = d.judged("Ruff");
        QVERIFY(ruff.gate(Station::Tune).state == GateState::Open);
    }

    /// Each change makes stale what rests on it and nothing else.
    void aChangeMakesStaleWhatRestsOnIt()
    {
        const auto names = [](const std::vector<judge::StaleThing> &things) {
            std::string all;
            for (const auto &t : things)
                if (t.kind == judge::StaleThing::Kind::Calibration)
                    all += english(t.what) + ";";
            return all;
        };
        const std::string ruler = "ranger: ranger against ruler;";
        const std::string noEcho = "ranger: what it gives for no echo;";
        const std::string eye = "eye: both surfaces;";
        const std::string straight = "straightness;";
        {
            DemoCars d;
            QCOMPARE(names(d.stale("Avocet")), std::string());
            part(d.car("Avocet"), "ranger").mount->tilt_rad += 0.05;
            QCOMPARE(names(d.stale("Avocet")), ruler + noEcho);
            QVERIFY(d.judged("Avocet").gate(Station::Tune).state == GateState::Stale);
            const auto j = d.judged("Avocet");
            QVERIFY(inTune(j, "measurement-stale"));
        }
        {
            DemoCars d;
            d.car("Avocet").wires.erase(std::find_if(
                d.car("Avocet").wires.begin(), d.car("Avocet").wires.end(), [](const kit::Wire &w) {
                    return w.from == "ranger.ECHO" || w.to == "ranger.ECHO";
                }));
            QCOMPARE(names(d.stale("Avocet")), ruler + noEcho);
        }
        {
            DemoCars d; // a new wheel bends the way, and says nothing of the sensor
            part(d.car("Godwit"), "wheel").partId = "wheel-80mm";
            QCOMPARE(names(d.stale("Godwit")), straight);
        }
        {
            DemoCars d; // the surface is what the sensor and the way rest on
            d.car("Godwit").mission->floor = test::floorCalled("Twin-line mat");
            QCOMPARE(names(d.stale("Godwit")), eye + straight);
        }
        {
            DemoCars d;
            part(d.car("Godwit"), "pack").cellsInSeries = 5;
            QCOMPARE(names(d.stale("Godwit")), straight);
        }
        {
            DemoCars d;
            part(d.car("Godwit"), "eye").mount->height_m += 0.004;
            const auto things = d.stale("Godwit");
            QCOMPARE(names(things), eye);
            QVERIFY(english(things.front().reasons.front()).find("over the floor, not") !=
                    std::string::npos);
        }
        {
            DemoCars d; // its name and its ticks are nothing that a measurement rests on
            d.car("Godwit").ticks.push_back("x");
            d.car("Godwit").name = "Godwit the second";
            QCOMPARE(names(d.stale("Godwit the second")), std::string());
        }
    }

    /// Speed and roll-out were measured while driving: another floor, another speed.
    void whatWasDrivenRestsOnItsFloor()
    {
        DemoCars d;
        QVERIFY(d.stale("Avocet").empty());
        d.car("Avocet").mission->floor = test::floorCalled("Rope walk");
        const auto things = d.stale("Avocet");
        QCOMPARE(things.size(), size_t(3)); // one speed, two ways to stop
        QVERIFY(english(things[0].reasons[0]).find("on Slipway, not on Rope walk") == 0);
    }

    void whatIsDoneAgainComesInTheOrderThatMovesTheCarLeast()
    {
        DemoCars d;
        auto &car = d.car("Godwit");
        part(car, "eye").mount->height_m += 0.004;
        part(car, "wheel").partId = "wheel-80mm";
        car.walk.push_back({"volts:board.5V", 5.0, false, 0, "2026-11-01", {}});
        car.wiringRevision = 3;
        const auto things = d.stale("Godwit");
        QCOMPARE(things.size(), size_t(4));
        QVERIFY(things[0].place == judge::Place::Blocks);
        QVERIFY(things[1].place == judge::Place::Surfaces);
        // What the program took from it is looked at once it is measured again.
        QVERIFY(things[2].place == judge::Place::Surfaces);
        QVERIFY(things[2].kind == judge::StaleThing::Kind::Program);
        QVERIFY(things[3].place == judge::Place::Floor);
    }

    void whatCannotBeUsedIsAWarning()
    {
        DemoCars d;
        auto &r = d.record("Godwit", What::Surfaces);
        r.stretches[1].readings.push_back(900.0);
        auto j = d.judged("Godwit");
        const auto *f = inTune(j, "measurement-unusable");
        QVERIFY(f && f->severity == Severity::Warning);
        QVERIFY(english(f->mend).find("One reading, 900 on dark") == 0);
        QVERIFY(j.gate(Station::Tune).state == GateState::Warning);
        QVERIFY(judge::stationOf(f->target()) == Station::Tune);

        auto &module = d.record("Dunlin", What::Trimmer, "left-eye");
        for (auto &s : module.stretches)
            for (auto &v : s.readings)
                v = s.label == "light" ? 0.0 : 1.0;
        j = d.judged("Dunlin");
        QVERIFY(inTune(j, "sense-differs"));
        for (auto &s : module.stretches)
            std::fill(s.readings.begin(), s.readings.end(), 1.0);
        j = d.judged("Dunlin");
        QVERIFY(inTune(j, "measurement-unusable") && !inTune(j, "sense-differs"));
    }

    void whatIsMissingIsTheNextStep()
    {
        DemoCars d;
        d.w.records.clear();
        d.w.trials.clear();
        const auto j = d.judged("Avocet");
        QVERIFY(j.gate(Station::Tune).state == GateState::Open);
        QVERIFY(english(j.gate(Station::Tune).why).find("ranger against ruler") !=
                std::string::npos);
        for (const auto &item : j.tune.items)
            QVERIFY(!item.record && !item.isDone());
    }

    /// Every sentence that can be said of a record, on none, one and all of the demo's readings.
    void everyRecordHasWords()
    {
        DemoCars d;
        for (const auto &kept : std::as_const(d.w.records))
            for (int cut = 0; cut < 3; ++cut) {
                auto r = kept;
                if (cut > 0)
                    r.stretches.resize(std::min<size_t>(r.stretches.size(), size_t(cut - 1)));
                if (cut == 1)
                    r.chosen.reset();
                QVERIFY(!tune::verdictOf(r).sentence.empty());
                QVERIFY(tune::verdictOf(r).good || !tune::verdictOf(r).toDo.empty());
                const auto &car = *d.w.car(r.car);
                (void)judge::whyRecord(r, {car, io::catalogueOf(d.w)}, d.w.program(car.program));
                for (const auto &s : r.stretches)
                    QVERIFY(!english(judge::wordsOf(r.what, s)).empty());
                QVERIFY(!english(judge::wordsOf(r)).empty());
                QVERIFY(!tune::protocolOf(r.what).empty());
            }
    }
};

BADGER_TEST(TestTuneJudgement)
#include "test_tune_judgement.moc"
