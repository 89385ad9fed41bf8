// SPDX-License-Identifier: GPL-3.0-or-later
// What runs cost: events against steps of a millisecond, and against the operations they are made
// of; few walls and many; one cone against one ray of a general library.
//
//     badger_bench --benchmark_filter=floor
#include "bench/ms_world.h"
#include "core/task/outcome.h"
#include "support/families.h"

#include <algorithm>
#include <benchmark/benchmark.h>
#include <box2d/box2d.h>
#include <memory>
#include <random>

using namespace badger;

namespace
{

/// A room with so many walls: four round it, the others as boards that stand about, and a mat with
/// a closed line in its middle that nothing stands on.
floor::Floor room(int walls, bool onLine)
{
    const double side_m = walls <= 250 ? 6.0 : 6.0 * std::sqrt(walls / 250.0);
    floor::Floor f;
    f.name = "room";
    f.width_m = f.depth_m = side_m;
    const auto wall = [&](double ax, double ay, double bx, double by) {
        f.walls.push_back({"wall", {ax, ay}, {bx, by}});
    };
    wall(0, 0, side_m, 0);
    wall(side_m, 0, side_m, side_m);
    wall(side_m, side_m, 0, side_m);
    wall(0, side_m, 0, 0);
    std::mt19937 random(7);
    const auto some = [&](double low, double high) {
        return low + (high - low) * double(random() >> 8) / double(1U << 24U);
    };
    const double middle = side_m / 2.0;
    while (static_cast<int>(f.walls.size()) < walls) {
        const double x = some(0.3, side_m - 0.3), y = some(0.3, side_m - 0.3);
        if ((std::abs(x - middle) < 1.1 && std::abs(y - middle) < 0.9) ||
            (x > side_m - 2.5 && std::abs(y - middle) < 0.5))
            continue;
        const double turn = some(0.0, 3.14), l = some(0.1, 0.3);
        wall(x, y, x + l * std::cos(turn), y + l * std::sin(turn));
    }
    floor::Line line;
    line.name = "line";
    line.width_m = 0.019;
    line.closed = true;
    for (int i = 0; i < 72; ++i) {
        const double a = i * M_PI / 36.0;
        line.points.push_back({middle + 0.75 * std::cos(a), middle + 0.5 * std::sin(a)});
    }
    f.lines.push_back(line);
    f.start = {{middle + 0.8, middle + 0.05}, M_PI / 2.0};
    if (!onLine) // towards the wall in the east, the way to which is free
        f.start = {{side_m - 2.0, middle}, 0.0};
    return f;
}

struct Course {
    std::shared_ptr<const judge::Drive> drive;
    Course(std::string_view family, int walls)
    {
        const auto &all = test::families();
        const auto it = std::find_if(all.begin(), all.end(),
                                     [&](const test::Family &f) { return f.name == family; });
        world::Conditions how;
        how.lasts_s = 10.0;
        auto made = judge::Drive::make(
            test::courseOf(*it, std::make_shared<floor::Floor>(room(walls, family == "straddle"))),
            how);
        if (!made) {
            std::fprintf(stderr, "%s\n", english(made.error().text()).c_str());
            std::abort();
        }
        drive = *made;
    }
    const world::Plan &plan() const { return drive->plan(); }
};

Course halt(int walls)
{
    return {"halt", walls};
}
Course glance(int walls)
{
    return {"glance", walls};
}
Course loop(int walls)
{
    return {"straddle", walls};
}

void events(benchmark::State &state, const Course &course)
{
    task::Outcomes outcomes(course.plan());
    std::uint64_t seed = 0;
    int touches = 0;
    for (auto _ : state)
        touches += outcomes.of(++seed).touches;
    benchmark::DoNotOptimize(touches);
    state.SetItemsProcessed(state.iterations());
}
void steps(benchmark::State &state, const Course &course)
{
    const bench::WallGrid grid(course.plan().arena);
    std::uint64_t seed = 0;
    int touches = 0;
    for (auto _ : state) {
        bench::MsWorld world(course.plan(), grid, ++seed);
        world::ProgramBoard<bench::MsWorld> board(*course.plan().on, world);
        machine::Runner runner(course.plan().on->machine(), board);
        runner.start();
        while (!world.over())
            runner.pass();
        touches += world.touches();
    }
    benchmark::DoNotOptimize(touches);
    state.SetItemsProcessed(state.iterations());
}

#define BADGER_RUNS(name)                                                                          \
    void floor_events_##name(benchmark::State &s)                                                  \
    {                                                                                              \
        events(s, name(static_cast<int>(s.range(0))));                                             \
    }                                                                                              \
    void floor_steps_##name(benchmark::State &s)                                                   \
    {                                                                                              \
        steps(s, name(static_cast<int>(s.range(0))));                                              \
    }                                                                                              \
    BENCHMARK(floor_events_##name)->Arg(60)->Unit(benchmark::kMicrosecond);                        \
    BENCHMARK(floor_steps_##name)->Arg(60)->Unit(benchmark::kMicrosecond);
BADGER_RUNS(halt)
BADGER_RUNS(glance)
BADGER_RUNS(loop)
BENCHMARK(floor_events_halt)->Arg(250)->Arg(1000)->Arg(4000)->Unit(benchmark::kMicrosecond);
BENCHMARK(floor_events_glance)->Arg(250)->Arg(1000)->Arg(4000)->Unit(benchmark::kMicrosecond);

/// What a worker does for one step of a drag: everything anew, 20 s with their whole trace.
void floor_shown_run(benchmark::State &state)
{
    const auto course = glance(60);
    world::Conditions how;
    for (auto _ : state) {
        const auto drive = judge::Drive::make(course.drive->course(), how);
        benchmark::DoNotOptimize((*drive)->run(1));
    }
}
BENCHMARK(floor_shown_run)->Unit(benchmark::kMillisecond);

/// The pieces of a run, one by one, from places all over the room.
std::vector<arena::Pose> places(const arena::Arena &arena)
{
    std::vector<arena::Pose> all;
    std::mt19937 random(3);
    for (int i = 0; i < 256; ++i) {
        const double a = double(random() % 6283) * 1e-3;
        all.push_back({{0.3 + double(random() % 1000) * 1e-3 * (arena.size.x - 0.6),
                        0.3 + double(random() % 1000) * 1e-3 * (arena.size.y - 0.6)},
                       {std::cos(a), std::sin(a)}});
    }
    return all;
}
void floor_piece_hear(benchmark::State &state)
{
    const auto course = halt(static_cast<int>(state.range(0)));
    const auto &a = course.plan().arena;
    const auto &r = course.plan().on->model().rangers.front();
    const auto all = places(a);
    size_t i = 0;
    for (auto _ : state) {
        const auto &p = all[i++ & 255U];
        benchmark::DoNotOptimize(arena::hear(
            a, {p.at, p.looks, r.height_m, r.below_rad, r.figures.cosHalfAngle}, r.hearing, 0.0));
    }
}
BENCHMARK(floor_piece_hear)->Arg(60)->Arg(4000);
void floor_piece_clearance(benchmark::State &state)
{
    const auto course = halt(static_cast<int>(state.range(0)));
    const auto all = places(course.plan().arena);
    size_t i = 0;
    for (auto _ : state)
        benchmark::DoNotOptimize(arena::clearance_m(
            course.plan().arena, course.plan().on->model().outline, all[i++ & 255U], 0.0));
}
BENCHMARK(floor_piece_clearance)->Arg(60)->Arg(4000);
void floor_piece_roll(benchmark::State &state)
{
    arena::Pose pose;
    const auto left = world::Law::rise(0.0, 0.24, 0.15), right = world::Law::rise(0.0, 0.2, 0.15);
    for (auto _ : state)
        world::roll(pose, left, right, 0.13, 0.05);
    benchmark::DoNotOptimize(pose);
}
BENCHMARK(floor_piece_roll);
void floor_piece_bell(benchmark::State &state)
{
    Noise noise(1);
    double sum = 0.0;
    for (auto _ : state)
        sum += noise.bell();
    benchmark::DoNotOptimize(sum);
}
BENCHMARK(floor_piece_bell);

/// How often a run asks for each of its pieces: with what each costs, what it could cost at least.
class Counting
{
public:
    static constexpr double sampleEvery_s() { return 0.0; }
    static constexpr bool judges() { return false; }
    void moment(const world::Moment &) {}
    void rested(const world::Moment &) {}
    void ping(const world::Ping &p)
    {
        ++pings;
        // What it heard in the same place it does not ask for again.
        moved += !(p.from.at == m_last.at) || !(p.from.looks == m_last.looks);
        m_last = p.from;
    }
    void change(const world::Change &) { ++changes; }
    void told(const world::Told &) { ++told_; }
    void step(std::uint64_t, const machine::Mind &, const machine::Cause &) {}
    void touch(const world::Touch &) {}
    void touching(std::uint64_t) {}
    void fell(const world::Fell &) {}
    void nearest(double, int) { ++looks; }
    void clear(double) { ++looks; }
    void over(world::End, std::uint64_t) {}

    int pings = 0, moved = 0, changes = 0, told_ = 0, looks = 0;

private:
    arena::Pose m_last;
};
void counted(benchmark::State &state, const Course &course)
{
    Counting counts;
    world::Runs<Counting> runs(course.plan(), counts);
    std::uint64_t seed = 0;
    for (auto _ : state)
        runs.drive(++seed);
    const auto each = [&](int n) { return double(n) / double(seed); };
    state.counters["pings"] = each(counts.pings);
    state.counters["from new places"] = each(counts.moved);
    state.counters["told"] = each(counts.told_);
    state.counters["looks"] = each(counts.looks);
    state.counters["changes"] = each(counts.changes);
}
/// Hearing from the places that a run's pings are sent from.
void hearAlong(benchmark::State &state, const Course &course)
{
    const auto &plan = course.plan();
    const auto trace = world::drive(plan, 1);
    std::vector<std::pair<arena::Ear, const oncar::Ranger *>> all;
    for (const auto &p : trace.pings) {
        const auto &r = plan.on->model().rangers[static_cast<std::size_t>(p.ranger)];
        const arena::Ear ear{p.from.at, p.from.looks, r.height_m, r.below_rad,
                             r.figures.cosHalfAngle};
        if (all.empty() || !(all.back().first == ear))
            all.emplace_back(ear, &r);
    }
    std::size_t i = 0;
    arena::Listening ears;
    for (auto _ : state) {
        const auto &[ear, ranger] = all[i++ % all.size()];
        benchmark::DoNotOptimize(ears.hear(plan.arena, ear, ranger->hearing, 0.0, 1.0));
    }
}
#define BADGER_COUNTED(name)                                                                       \
    void floor_counted_##name(benchmark::State &s)                                                 \
    {                                                                                              \
        counted(s, name(60));                                                                      \
    }                                                                                              \
    BENCHMARK(floor_counted_##name)->Unit(benchmark::kMicrosecond);
BADGER_COUNTED(halt)
BADGER_COUNTED(glance)
BADGER_COUNTED(loop)
void floor_piece_hear_along_halt(benchmark::State &s)
{
    hearAlong(s, halt(60));
}
BENCHMARK(floor_piece_hear_along_halt);
void floor_piece_hear_along_glance(benchmark::State &s)
{
    hearAlong(s, glance(60));
}
BENCHMARK(floor_piece_hear_along_glance);
/// What lies under a spot.
void floor_piece_ground(benchmark::State &state)
{
    const auto course = loop(60);
    const auto trace = world::drive(course.plan(), 1);
    std::size_t i = 0;
    for (auto _ : state)
        benchmark::DoNotOptimize(arena::groundAt(
            course.plan().arena, trace.path[i++ % trace.path.size()].pose.at, 0.01));
}
BENCHMARK(floor_piece_ground);

/// What stands nearest in a beam, and one ray of a general library through the same walls.
void floor_cone(benchmark::State &state)
{
    const auto course = halt(static_cast<int>(state.range(0)));
    const auto &a = course.plan().arena;
    const auto all = places(a);
    size_t i = 0;
    for (auto _ : state) {
        const auto &p = all[i++ & 255U];
        benchmark::DoNotOptimize(
            arena::nearestInBeam(a, {p.at, p.looks, 0.0, 0.0, 0.9914448613738104}, 0.0));
    }
}
BENCHMARK(floor_cone)->Arg(60)->Arg(4000);
void floor_ray_of_a_library(benchmark::State &state)
{
    const auto course = halt(static_cast<int>(state.range(0)));
    const auto &a = course.plan().arena;
    b2World world({0.0F, 0.0F});
    for (const auto &s : a.segments) {
        b2BodyDef def;
        b2EdgeShape shape;
        shape.SetTwoSided({float(s.a.x), float(s.a.y)}, {float(s.b.x), float(s.b.y)});
        world.CreateBody(&def)->CreateFixture(&shape, 0.0F);
    }
    struct Nearest final : b2RayCastCallback {
        float share = 1.0F;
        float ReportFixture(b2Fixture *, const b2Vec2 &, const b2Vec2 &, float fraction) override
        {
            return share = fraction;
        }
    };
    const auto all = places(a);
    size_t i = 0;
    for (auto _ : state) {
        const auto &p = all[i++ & 255U];
        Nearest nearest;
        world.RayCast(&nearest, {float(p.at.x), float(p.at.y)},
                      {float(p.at.x + 4.0 * p.looks.x), float(p.at.y + 4.0 * p.looks.y)});
        benchmark::DoNotOptimize(nearest.share);
    }
}
BENCHMARK(floor_ray_of_a_library)->Arg(60)->Arg(4000);

} // namespace
