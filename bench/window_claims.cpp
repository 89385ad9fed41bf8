// SPDX-License-Identifier: GPL-3.0-or-later
// badger_window_claims [REPEATS [RUNS]]: how often is the lower end of a window wrong, and what
// does a window cost?
//
// Drives RUNS runs at each place (numbers that no search has) to know the true rates, then repeats
// the whole search, stopping rule and all, with REPEATS seeds; a claim is wrong where the true rate
// at the lower end is above the limit. Then the demo's window on one thread and on two, beside a
// loop of arithmetic alone on one and on two.
#include "core/io/shipped.h"
#include "core/window/scene_run.h"
#include "support/fixture.h"

#include <chrono>
#include <fmt/format.h>
#include <thread>

using namespace badger;
using namespace badger::window;

namespace
{

double seconds(const std::function<void()> &act)
{
    const auto from = std::chrono::steady_clock::now();
    act();
    return std::chrono::duration<double>(std::chrono::steady_clock::now() - from).count();
}

/// So much arithmetic that nothing but the processor is asked.
void reckon()
{
    volatile double sum = 0.0;
    for (int i = 1; i < 150'000'000; ++i)
        sum = sum + 1.0 / i;
}

std::vector<double> trueRates(const Question &question, int runs)
{
    const auto handle = *handleOf(*question.course.program, question.value);
    const auto places = *Places::make(question, handle);
    std::vector<double> rates;
    constexpr std::uint64_t unseen = 500'000'000;
    for (size_t place = 0; place < 40; ++place) {
        SceneRuns drive(*places, question.rows.front(), task::Kind::Stops);
        if (!drive.begin())
            break;
        int events = 0;
        for (int i = 0; i < runs; ++i)
            events += drive.drive(place, unseen + std::uint64_t(i))->event;
        rates.push_back(double(events) / runs);
    }
    return rates;
}

} // namespace

int main(int argc, char **argv)
{
    const int repeats = argc > 1 ? std::atoi(argv[1]) : 200;
    const int runs = argc > 2 ? std::atoi(argv[2]) : 20000;
    test::Bench b;
    Question q;
    q.course = test::courseOf(b);
    q.value = "halt";
    q.rows = {*rowOf("post:ahead=1.2m,diameter=25mm")};
    const auto rates = trueRates(q, runs);
    for (size_t i = 0; i < rates.size(); ++i)
        if (rates[i] > 0.0 && rates[i] < 1.0)
            fmt::print("{} cm: {:.4f}\n", i + 1, rates[i]);
    int wrong = 0, none = 0;
    long driven = 0;
    for (int seed = 1; seed <= repeats; ++seed) {
        q.seed = std::uint64_t(seed) + 1000;
        const auto w = search(q);
        driven += w->runs;
        if (!w->low)
            ++none;
        else
            wrong += *w->low < rates.size() && rates[*w->low] > q.limit;
    }
    fmt::print("{} searches, {} runs each: {} wrong ({:.1f} %), {} without a window\n", repeats,
               driven / std::max(1, repeats), wrong, 100.0 * wrong / std::max(1, repeats), none);

    for (const auto *floor : {"Slipway", "Boathouse boards"}) {
        b.floor = *b.workshop.floor(floor);
        Question whole;
        whole.course = test::courseOf(b);
        std::array<double, 2> took{}, control{};
        std::optional<double> rough;
        for (const int threads : {1, 2}) {
            whole.threads = threads;
            std::optional<Window> w;
            double first = 0.0;
            const auto from = std::chrono::steady_clock::now();
            took[size_t(threads - 1)] = seconds([&] {
                w = *search(whole, [&](const Window &now) {
                    const bool all = std::all_of(now.rows.begin(), now.rows.end(),
                                                 [](const auto &r) { return r.runs > 0; });
                    if (all && first == 0.0)
                        first =
                            std::chrono::duration<double>(std::chrono::steady_clock::now() - from)
                                .count();
                    return true;
                });
            });
            control[size_t(threads - 1)] = seconds([&] {
                std::vector<std::thread> all;
                for (int t = 0; t < threads; ++t)
                    all.emplace_back(reckon);
                for (auto &t : all)
                    t.join();
            });
            const double map =
                double(w->rows.size() * w->handle.at.size()) * double(w->looks.after.front());
            fmt::print("{}, {} thread(s): first rough picture {:.2f} s, all {:.2f} s, {} runs, "
                       "{:.2f} of a full map\n",
                       floor, threads, first, took[size_t(threads - 1)], w->runs, w->runs / map);
        }
        const double gain = took[0] / took[1];
        const double possible = 2.0 * control[0] / control[1];
        fmt::print("{}: two threads {:.2f} times one; arithmetic {:.2f}; share {:.2f}\n", floor,
                   gain, possible, gain / possible);
    }
}
