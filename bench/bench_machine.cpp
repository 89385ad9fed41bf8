// SPDX-License-Identifier: GPL-3.0-or-later
// What does a decision of the machine cost beside the same decisions written by hand, and what do
// the cells, checks and sentences of the largest programs cost?
#include "core/io/shipped.h"
#include "core/io/templates.h"
#include "core/io/workshop_file.h"
#include "core/judge/program_around.h"
#include "core/regions/check.h"
#include "core/sentences/sentences.h"

#include <benchmark/benchmark.h>
#include <cstdio>
#include <cstdlib>
#include <random>

using namespace badger;

namespace
{

rules::Program made(const std::string &name, const io::Choices &choices)
{
    auto p = io::fromTemplate(name, choices, {}, {"bench"}, name);
    if (!p) {
        std::fprintf(stderr, "%s\n", english(p.error().text()).c_str());
        std::abort();
    }
    return *p;
}

const io::Choices ranger = {
    {"no-echo", "clear"}, {"limit", "400cm"}, {"air", "20C"}, {"speed", "140"}};

io::Choices with(io::Choices more)
{
    more.insert(ranger.begin(), ranger.end());
    return more;
}

rules::Program station()
{
    return made("keep-station", with({{"near", "18cm"}, {"far", "45cm"}}));
}
rules::Program fan()
{
    return made("fan", with({{"threshold", "30cm"},
                             {"sweep-angles", "80,90,100"},
                             {"sweep-dwell", "60ms"},
                             {"angles", "40,50,60,70,80,90,100,110,120,130,140"},
                             {"dwell", "250ms"},
                             {"per-degree", "9ms"},
                             {"back-time", "400ms"},
                             {"turn-speed", "120"}}));
}

std::vector<double> someReadings()
{
    std::mt19937 random(1);
    std::vector<double> all;
    for (int i = 0; i < 1024; ++i)
        all.push_back(1.0 + static_cast<double>(random() % 400));
    return all;
}

int decide(const machine::Machine &m, machine::Mind &mind, int sensor, double number)
{
    machine::hear(m, mind, sensor, number);
    machine::Walk walk{mind.mode, 0, 0};
    const int b = machine::next(m, mind, walk);
    if (b >= 0)
        mind.mode = m.branches[static_cast<std::size_t>(b)].go;
    return mind.mode;
}

void stepStation(benchmark::State &state)
{
    const auto m = *machine::lower(station());
    auto mind = machine::freshMind(m);
    const auto readings = someReadings();
    std::size_t i = 0;
    for (auto _ : state)
        benchmark::DoNotOptimize(decide(m, mind, 0, readings[i++ & 1023U]));
}
BENCHMARK(stepStation);

[[gnu::noinline]] int stationByHand(int mode, double reading)
{
    if (reading <= 18.0)
        return 2;
    if (reading > 18.0 && reading <= 45.0)
        return 0;
    if (reading > 45.0)
        return 1;
    return mode;
}
void handStation(benchmark::State &state)
{
    const auto readings = someReadings();
    std::size_t i = 0;
    int mode = 0;
    for (auto _ : state)
        benchmark::DoNotOptimize(mode = stationByHand(mode, readings[i++ & 1023U]));
}
BENCHMARK(handStation);

void stepFan(benchmark::State &state)
{
    const auto m = *machine::lower(fan());
    auto mind = machine::freshMind(m);
    const auto readings = someReadings();
    machine::ScanLook looks[11];
    std::size_t i = 0;
    for (auto _ : state) {
        for (int k = 0; k < 11; ++k)
            looks[k] = {readings[i++ & 1023U], 40.0 + 10.0 * k};
        machine::hearScan(m, mind, 1, looks, 11);
        mind.mode = 2; // it looks
        machine::Walk walk{mind.mode, 0, 0};
        benchmark::DoNotOptimize(machine::next(m, mind, walk));
    }
}
BENCHMARK(stepFan);

struct Best {
    double distance;
    double angle;
    int go;
};
[[gnu::noinline]] Best fanByHand(const double *distances)
{
    Best best{-1.0, 0.0, 0};
    for (int k = 0; k < 11; ++k) {
        const double d = distances[k] > 400.0 ? 400.0 : distances[k];
        if (d > best.distance)
            best = {d, 40.0 + 10.0 * k, 0};
    }
    best.go = best.distance <= 30.0 ? 4 : 3;
    return best;
}
void handFan(benchmark::State &state)
{
    const auto readings = someReadings();
    std::size_t i = 0;
    double distances[11];
    for (auto _ : state) {
        for (double &d : distances)
            d = readings[i++ & 1023U];
        benchmark::DoNotOptimize(fanByHand(distances));
    }
}
BENCHMARK(handFan);

/// Five rangers, each with a limit of its own, in rules that name them together.
void regionsOfFive(benchmark::State &state)
{
    auto p = station();
    const auto first = p.readings.front();
    for (int i = 1; i < 5; ++i) {
        auto r = first;
        r.name = "r" + std::to_string(i);
        p.readings.push_back(r);
        const auto limit = "l" + std::to_string(i);
        p.values.push_back({limit, "", rules::ValueKind::Distance, 0.1 * i});
        p.everywhere.insert(p.everywhere.begin(),
                            {r.name, {{r.name, rules::Compare::LessOrEqual, limit}}, "stands"});
    }
    const auto m = *machine::lower(p);
    std::size_t cells = 0;
    for (auto _ : state)
        cells = regions::of(p, m, 0)->cells.size();
    state.counters["cells"] = static_cast<double>(cells);
}
BENCHMARK(regionsOfFive)->Unit(benchmark::kMillisecond);

void checksAndSentences(benchmark::State &state, const rules::Program &p)
{
    regions::Around around;
    around.servos["servo"] = {0.002, 0.05};
    for (auto _ : state) {
        benchmark::DoNotOptimize(regions::check(p, around));
        benchmark::DoNotOptimize(sentences::sentences(p));
    }
}
BENCHMARK_CAPTURE(checksAndSentences, fan, fan())->Unit(benchmark::kMillisecond);
BENCHMARK_CAPTURE(checksAndSentences, fixedRangers,
                  made("fixed-rangers", with({{"threshold", "30cm"},
                                              {"tolerance", "3cm"},
                                              {"tie", "left"},
                                              {"turn-speed", "120"}})))
    ->Unit(benchmark::kMillisecond);
BENCHMARK_CAPTURE(checksAndSentences, lane,
                  made("lane", {{"light-level", "1"}, {"turn-speed", "120"}, {"speed", "120"}}))
    ->Unit(benchmark::kMillisecond);

/// The text of the fan on a car of the demo, for its board.
void boardProgram(benchmark::State &state)
{
    const auto workshop = io::readWorkshop(std::string(io::demoWorkshop()));
    const auto catalogue = io::catalogueOf(*workshop);
    const auto *car = workshop->car("Redshank");
    const kit::Assembly assembly(*car, catalogue);
    auto p = fan();
    for (auto &r : p.readings) {
        r.instance = "ranger";
        if (r.swivel)
            r.swivel->servo = "servo";
    }
    const auto writing = judge::writing(*workshop, assembly, p);
    if (!boardcode::boardCode(p, assembly, writing))
        state.SkipWithError("it cannot be written");
    for (auto _ : state)
        benchmark::DoNotOptimize(boardcode::boardCode(p, assembly, writing));
}
BENCHMARK(boardProgram)->Unit(benchmark::kMillisecond);

} // namespace

BENCHMARK_MAIN();
