// SPDX-License-Identifier: GPL-3.0-or-later
// How fast is core where it is asked most? See docs/performance.md.
#include "core/circuit/car_network.h"
#include "core/io/shipped.h"
#include "core/io/storage.h"
#include "core/io/workshop_file.h"
#include "core/judge/judge.h"
#include "core/pins/planner.h"
#include "core/power/check.h"
#include "core/regions/number_line.h"
#include "core/wiring/check.h"

#include <benchmark/benchmark.h>
#include <filesystem>

namespace
{

using namespace badger;

const workshop::Workshop &demo()
{
    static const auto w = *io::readWorkshop(io::demoWorkshop());
    return w;
}

const parts::Catalogue &catalogue()
{
    static const auto c = io::catalogueOf(demo());
    return c;
}

/// A start so far from the board that the approach lasts 10 s and a little more.
floor::Floor longSlipway()
{
    auto f = demo().floors.front();
    f.start.nose.x_m = f.walls.front().from.x_m - 2.55;
    f.width_m += 3.0;
    f.start.nose.x_m += 3.0;
    for (auto *p : {&f.walls.front().from, &f.walls.front().to})
        p->x_m += 3.0;
    return f;
}

/// `simulated_per_real` is the ratio of simulated to real time.
void approach(benchmark::State &state)
{
    const auto floor = longSlipway();
    const auto drive =
        judge::Drive::make({std::make_shared<kit::Car>(demo().cars.front()),
                            std::make_shared<rules::Program>(demo().programs.front()),
                            std::make_shared<floor::Floor>(floor),
                            {},
                            catalogue()},
                           {});
    double simulated_s = 0.0;
    for (auto _ : state) {
        const auto run = (*drive)->run(1);
        simulated_s += double(run.trace.end_us) * 1e-6;
    }
    state.counters["simulated_s"] =
        benchmark::Counter(simulated_s, benchmark::Counter::kAvgIterations);
    state.counters["simulated_per_real"] =
        benchmark::Counter(simulated_s, benchmark::Counter::kIsRate);
}
BENCHMARK(approach)->Unit(benchmark::kMillisecond);

void load(benchmark::State &state)
{
    for (auto _ : state)
        benchmark::DoNotOptimize(io::readWorkshop(io::demoWorkshop()));
}
BENCHMARK(load)->Unit(benchmark::kMicrosecond);

void save(benchmark::State &state)
{
    const auto path = (std::filesystem::temp_directory_path() / "swift-badger-bench.json").string();
    for (auto _ : state)
        benchmark::DoNotOptimize(io::saveFile(path, io::writeWorkshop(demo())));
    std::filesystem::remove(path);
}
BENCHMARK(save)->Unit(benchmark::kMicrosecond);

void writeText(benchmark::State &state)
{
    for (auto _ : state)
        benchmark::DoNotOptimize(io::writeWorkshop(demo()));
}
BENCHMARK(writeText)->Unit(benchmark::kMicrosecond);

void wiringChecks(benchmark::State &state)
{
    for (auto _ : state)
        benchmark::DoNotOptimize(wiring::check({demo().cars.front(), catalogue()}));
}
BENCHMARK(wiringChecks)->Unit(benchmark::kMicrosecond);

/// The wiring of a whole class.
void wiringOfTheClass(benchmark::State &state)
{
    for (auto _ : state)
        for (const auto &car : demo().cars)
            benchmark::DoNotOptimize(wiring::check({car, catalogue()}));
}
BENCHMARK(wiringOfTheClass)->Unit(benchmark::kMillisecond);

/// The largest board, every pin asked for and none where it is: a plan that moves all wires.
pins::PinProblem fullBoard(int more)
{
    pins::PinProblem problem;
    problem.board = catalogue().find("computer-3v3");
    problem.boardId = "computer";
    problem.libraries = {"servo", "tone"};
    int pins = more;
    for (const auto &t : problem.board->terminals)
        pins += t.role == parts::Role::Pin && !t.serial;
    for (int i = 0; i < pins; ++i) {
        pins::PinNeed need;
        need.terminal = "part" + std::to_string(i) + ".X";
        need.role = i % 3 ? parts::Role::Enable : parts::Role::DigitalOut;
        need.on = problem.board->terminals[size_t(pins - i) % problem.board->terminals.size()].name;
        problem.needs.push_back(need);
    }
    return problem;
}

void planFullBoard(benchmark::State &state)
{
    const auto problem = fullBoard(0);
    for (auto _ : state)
        benchmark::DoNotOptimize(pins::planPins(problem));
}
BENCHMARK(planFullBoard)->Unit(benchmark::kMicrosecond);

/// Two functions too many: the proof, and every pair of ways out is tried.
void proveImpossible(benchmark::State &state)
{
    const auto problem = fullBoard(2);
    for (auto _ : state)
        benchmark::DoNotOptimize(pins::planPins(problem));
}
BENCHMARK(proveImpossible)->Unit(benchmark::kMillisecond);

void table(benchmark::State &state)
{
    for (auto _ : state)
        benchmark::DoNotOptimize(
            regions::numberLine(demo().programs.front(), *machine::lower(demo().programs.front())));
}
BENCHMARK(table)->Unit(benchmark::kMicrosecond);

void powerTree(benchmark::State &state)
{
    for (auto _ : state)
        benchmark::DoNotOptimize(power::report({demo().cars.front(), catalogue()}));
}
BENCHMARK(powerTree)->Unit(benchmark::kMicrosecond);

void judgeKits(benchmark::State &state)
{
    for (auto _ : state)
        for (const auto &car : demo().cars)
            benchmark::DoNotOptimize(judge::judgeKit({car, catalogue()}, 0.3));
}
BENCHMARK(judgeKits)->Unit(benchmark::kMillisecond);

/// Everything that is asked again after each edit.
void judgeCar(benchmark::State &state)
{
    for (auto _ : state)
        benchmark::DoNotOptimize(judge::judge(demo(), {demo().cars.front(), catalogue()}));
}
BENCHMARK(judgeCar)->Unit(benchmark::kMillisecond);

} // namespace

/// The car with the most branches in 36 states: charge, load, typical or worst, switch.
void states(benchmark::State &state)
{
    const kit::Car *largest = nullptr;
    size_t most = 0;
    for (const auto &car : demo().cars) {
        const kit::Assembly assembly(car, catalogue());
        const nets::Nets nets(assembly);
        if (const auto n = circuit::CarNetwork(nets).elements().size(); n > most) {
            most = n;
            largest = &car;
        }
    }
    const kit::Assembly assembly(*largest, catalogue());
    const nets::Nets nets(assembly);
    const circuit::CarNetwork net(nets);
    const std::vector<circuit::Level> low(net.outputs().size(), circuit::Level::Low);
    using circuit::Figures;
    using circuit::Moving;
    for (auto _ : state)
        for (const auto charge : {kit::Charge::Fresh, kit::Charge::Nominal, kit::Charge::NearEmpty})
            for (const auto moving : {Moving::Idle, Moving::Running, Moving::Stalled})
                for (const auto figures : {Figures::Typical, Figures::Least})
                    for (const bool on : {true, false})
                        benchmark::DoNotOptimize(
                            net.solve({charge, moving, figures, on, moving != Moving::Idle}, low));
}
BENCHMARK(states)->Unit(benchmark::kMillisecond);

/// The checks of wires and supply of the ten demo cars, solves included.
void checks(benchmark::State &state)
{
    for (auto _ : state)
        for (const auto &car : demo().cars) {
            const kit::Assembly assembly(car, catalogue());
            benchmark::DoNotOptimize(wiring::check(assembly));
            benchmark::DoNotOptimize(power::check(assembly, power::report(assembly)));
        }
}
BENCHMARK(checks)->Unit(benchmark::kMillisecond);

BENCHMARK_MAIN();
