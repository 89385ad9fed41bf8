// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/judge/stale.h"

#include <algorithm>
#include <array>

namespace badger::judge
{

namespace
{

using tune::What;

Place whereTo(What what)
{
    switch (what) {
    case What::Neutral:
    case What::Horn:
        return Place::Blocks;
    case What::Ruler:
    case What::NoEcho:
    case What::Reflectance:
    case What::Air:
        return Place::Bench;
    case What::Surfaces:
    case What::Trimmer:
    case What::Lamp:
    case What::Line:
        return Place::Surfaces;
    default:
        return Place::Floor;
    }
}

void calibrations(std::vector<StaleThing> &all, const Judgement &j)
{
    for (const auto &i : j.tune.items)
        if (i.record && !i.stale.empty())
            all.push_back({StaleThing::Kind::Calibration, placeOf(i), i.stale, whereTo(i.what)});
}

/// What was measured while driving holds for the floor on which it was.
void drives(std::vector<StaleThing> &all, const kit::Car &car, const std::string &floorName)
{
    const auto elsewhere = [&](const kit::Circumstances &under) {
        return !floorName.empty() && !under.floor.empty() && under.floor != floorName;
    };
    const auto add = [&](Say what, const kit::Circumstances &under) {
        all.push_back({StaleThing::Kind::Calibration,
                       std::move(what),
                       {say("on {}, not on {}", under.floor, floorName)},
                       Place::Floor});
    };
    for (const auto &s : car.calibrations.speeds)
        if (elsewhere(s.under))
            add(say("speed at {} counts", s.pwm_counts), s.under);
    for (const auto &r : car.calibrations.rollOuts)
        if (elsewhere(r.under))
            add(r.brake ? say("roll-out, braking") : say("roll-out, coasting"), r.under);
}

void partTests(std::vector<StaleThing> &all, const kit::Assembly &car)
{
    long old = 0;
    int revision = 0;
    for (const auto &entry : car->walk)
        if (entry.revision != car->wiringRevision) {
            ++old;
            revision = std::max(revision, entry.revision);
        }
    if (old > 0)
        all.push_back(
            {StaleThing::Kind::PartTest,
             say("first power: {0} {0|step|steps}", old),
             {say("with wiring revision {}, now it is {}", revision, car->wiringRevision)},
             Place::Blocks});
}

void program(std::vector<StaleThing> &all, const Judgement &j)
{
    for (const auto &f : j.wire.findings)
        if (f.code == "program-pin-not-wired")
            all.push_back({StaleThing::Kind::Program, f.where, {f.what}, Place::Blocks});
}

/// What the program took from a measurement: looked at where that is done again.
void thresholds(std::vector<StaleThing> &all, const Judgement &j)
{
    for (const auto &f : j.rule.findings)
        for (const auto &i : j.tune.items)
            if (f.code == "rests-on-stale" && f.places.front() == targetOf(i))
                all.push_back({StaleThing::Kind::Program, f.where, {f.what}, whereTo(i.what)});
}

void trials(std::vector<StaleThing> &all, const Judgement &j)
{
    if (j.older.empty())
        return;
    all.push_back({StaleThing::Kind::Trial,
                   say("{0} {0|trial|trials}", static_cast<long>(j.older.size())),
                   {say("with another program version, threshold or speed")},
                   Place::Floor});
}

} // namespace

const char *name(Place place)
{
    constexpr std::array<const char *, 4> names = {"blocks", "bench", "surfaces", "floor"};
    return names[static_cast<size_t>(place)];
}

const char *name(StaleThing::Kind kind)
{
    constexpr std::array<const char *, 4> names = {"calibration", "part-test", "program", "trial"};
    return names[static_cast<size_t>(kind)];
}

std::vector<StaleThing> staleThings(const Judgement &j, const kit::Assembly &car,
                                    const std::string &floorName)
{
    std::vector<StaleThing> all;
    partTests(all, car);
    program(all, j);
    calibrations(all, j);
    thresholds(all, j);
    drives(all, car.car(), floorName);
    trials(all, j);
    std::stable_sort(all.begin(), all.end(), [](const StaleThing &a, const StaleThing &b) {
        return static_cast<int>(a.place) < static_cast<int>(b.place);
    });
    return all;
}

} // namespace badger::judge
