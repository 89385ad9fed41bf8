// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/machine/runner.h"
#include "core/regions/check_look.h"

#include <algorithm>
#include <cmath>
#include <fmt/format.h>
#include <fmt/ranges.h>

namespace badger::regions
{

namespace
{

using rules::Source;

/// A world that stands still: at each angle of the servo one distance, in the reading's unit.
class Standing final : public Board
{
public:
    Standing(const Machine &machine, std::map<double, double> distances, double elsewhere)
        : m_machine(machine), m_distances(std::move(distances)), m_elsewhere(elsewhere)
    {
    }

    std::uint64_t now_us() const override { return m_now_us; }
    void wait_us(std::uint64_t time_us) override
    {
        m_now_us += time_us;
        const bool turns = m_orders.left.counts != m_orders.right.counts;
        const bool backs = m_orders.left.counts < 0 && m_orders.right.counts < 0;
        if (turns || backs)
            m_moved_us += time_us;
        if (m_orders.left.counts > 0 && m_orders.right.counts > 0)
            m_ahead_us += time_us;
    }
    Echo ping(int sensor, double angle_deg) override
    {
        wait_us(1000);
        const auto it = m_distances.find(angle_deg);
        const double d = it == m_distances.end() ? m_elsewhere : it->second;
        (void)sensor;
        return {1, d};
    }
    int level(int) override { return 0; }
    int count(int) override { return 0; }
    rules::Command key(int) override { return rules::Command::None; }
    bool await(int) override { return true; }
    void drive(const Orders &orders) override { m_orders = orders; }
    void servo(int, double) override {}
    void beep(std::uint64_t time_us) override { wait_us(time_us); }
    void print(std::string_view, int) override {}
    void entered(const Mind &mind, const Cause &) override { m_entered.push_back(mind.mode); }

    std::uint64_t moved_us() const { return m_moved_us; }
    std::uint64_t ahead_us() const { return m_ahead_us; }
    const std::vector<int> &entries() const { return m_entered; }

private:
    const Machine &m_machine;
    std::map<double, double> m_distances;
    double m_elsewhere;
    std::uint64_t m_now_us = 0;
    std::uint64_t m_moved_us = 0;
    std::uint64_t m_ahead_us = 0;
    Orders m_orders;
    std::vector<int> m_entered;
};

/// The constants that a sensor is compared with.
std::vector<double> constantsOf(const Machine &machine, int sensor)
{
    std::vector<double> all;
    for (const auto &a : machine.asks)
        if (a.test == rules::Test::Number && a.sensor == sensor)
            all.push_back(a.constant);
    return all;
}

/// The same, waiting for all that takes time: it goes the same way round in fewer passes.
Machine blocking(Machine machine)
{
    machine.timedDoings = false;
    for (auto &mode : machine.modes)
        mode.hold.kind = rules::WaitKind::Blocking;
    return machine;
}

/// Goes round without turning or backing: how many times a mode was entered, in so many passes.
std::optional<std::vector<int>> loopOf(const Machine &machine, Standing &board)
{
    constexpr int passes = 200;
    const auto waiting = blocking(machine);
    Runner runner(waiting, board);
    runner.start();
    for (int i = 0; i < passes; ++i)
        runner.pass();
    const auto &way = board.entries();
    if (board.moved_us() > 0 || way.size() < 6)
        return std::nullopt;
    return way;
}

} // namespace

/// What stops the car at the side of a sweep, while the look round finds the way ahead longest:
/// then it stops, looks and goes on for ever on one spot. For each angle that can stop it and each
/// that can win the look, the program is played before that one standing world.
Found endlessLoop(const Look &look, const char *code)
{
    const auto &sensors = look.machine.sensors;
    for (size_t scan = 0; scan < sensors.size(); ++scan) {
        if (sensors[scan].source != Source::Scan)
            continue;
        for (size_t drive = 0; drive < sensors.size(); ++drive) {
            const auto &d = sensors[drive];
            if (d.source != Source::Ranger || !d.everyPass || d.servo != sensors[scan].servo)
                continue;
            for (const double limit : constantsOf(look.machine, static_cast<int>(drive)))
                for (int i = d.angles.first; i < d.angles.end(); ++i)
                    for (int w = sensors[scan].angles.first; w < sensors[scan].angles.end(); ++w) {
                        const double side = look.machine.angles_deg[static_cast<size_t>(i)];
                        const double best = look.machine.angles_deg[static_cast<size_t>(w)];
                        const double near = std::max(1.0, std::floor(limit) - 1.0);
                        const double middle = std::floor(limit) + 1.0;
                        const double far = std::min(sensors[scan].limit, 2.0 * middle);
                        if (side == best || far <= middle)
                            continue;
                        Standing board(look.machine, {{side, near}, {best, far}}, middle);
                        const auto way = loopOf(look.machine, board);
                        if (!way)
                            continue;
                        const auto unit = units::info(look.program.readings[drive].unit).symbol;
                        std::vector<Say> names;
                        for (size_t k = way->size() - 3; k < way->size(); ++k)
                            names.emplace_back(look.state((*way)[k]).name);
                        Finding f{
                            code,
                            Severity::Error,
                            look.place("reading " + look.program.readings[scan].name),
                            say("With {} {} at {}° and {} {} at {}°, the rest at {}, it goes "
                                "round for ever: {}.",
                                units::number(near, 1), unit, units::number(side, 1),
                                units::number(far, 1), unit, units::number(best, 1),
                                units::number(middle, 1), joined(names, ", ")),
                            say("What stopped it stands at the side; the look round finds the "
                                "longest way straight ahead, so it does not turn."),
                            say("Turn away from what stopped it, or leave out of the look what "
                                "lies beside it."),
                            at::reading(look.program.readings[scan].name)};
                        f.readings = {fmt::format("at {} {}, at {} {}, elsewhere {}",
                                                  units::plain(side, 1), units::plain(near, 1),
                                                  units::plain(best, 1), units::plain(far, 1),
                                                  units::plain(middle, 1))};
                        return {f};
                    }
        }
    }
    return {};
}

} // namespace badger::regions
