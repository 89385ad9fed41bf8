// SPDX-License-Identifier: GPL-3.0-or-later
// One car of each of the nineteen families on each floor of the demo, twenty seeds each: no run may
// fail or hang, and the table says how often each does its task.
//
//     badger_floors [seconds a run]
#include "core/io/shipped.h"
#include "core/io/workshop_file.h"
#include "support/families.h"

#include <chrono>
#include <cstdlib>
#include <fmt/format.h>

using namespace badger;

namespace
{

constexpr int seeds = 20;

} // namespace

int main(int count, char **words)
{
    const auto read = io::readWorkshop(io::demoWorkshop());
    const auto &workshop = *read;
    world::Conditions how;
    how.lasts_s = count > 1 ? std::atof(words[1]) : 20.0;
    using rules::Command;
    how.keys = {{0, Command::Ahead},      {4000000, Command::Left},  {4800000, Command::Ahead},
                {9000000, Command::Back}, {10000000, Command::None}, {12000000, Command::Ahead}};
    int failed = 0;
    fmt::print("{:18}", "did its task of 20");
    for (const auto &f : workshop.floors)
        fmt::print("{:>18}", f.name);
    fmt::print("{:>12}\n", "runs a s");
    for (const auto &family : test::families()) {
        fmt::print("{:18}", family.name);
        const auto begin = std::chrono::steady_clock::now();
        int runs = 0;
        for (size_t i = 0; i < workshop.floors.size(); ++i) {
            const auto drive =
                judge::Drive::make(test::courseOf(family, workshop.floors.piece(i)), how);
            if (!drive) {
                fmt::print("{:>18}", "refused");
                ++failed;
                continue;
            }
            int good = 0;
            for (std::uint64_t seed = 1; seed <= seeds; ++seed, ++runs) {
                const auto run = (*drive)->run(seed);
                good += run.score.good;
                failed += run.trace.end_us > static_cast<std::uint64_t>(how.lasts_s * 1e6);
            }
            fmt::print("{:>18}", good);
        }
        const std::chrono::duration<double> took = std::chrono::steady_clock::now() - begin;
        fmt::print("{:>12.0f}\n", runs / took.count());
    }
    fmt::print("{}\n", failed == 0 ? "No run failed." : fmt::format("{} failed.", failed));
    return failed == 0 ? 0 : 1;
}
