// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/machine/quick.h"

#include "core/rules/board_numbers.h"

#include <algorithm>
#include <cmath>
#include <limits>

namespace badger::machine
{

namespace
{

/// The branches that a mode walks, in their order.
std::vector<const Branch *> walkOf(const Machine &machine, const Mode &mode)
{
    std::vector<const Branch *> walk;
    for (const auto &range : {machine.everywhere, mode.branches})
        for (int b = range.first; b < range.end(); ++b)
            walk.push_back(&machine.branches[static_cast<size_t>(b)]);
    return walk;
}

/// The one reading that all of them compare with constants; -1 where they ask anything else.
int onlySensor(const Machine &machine, const std::vector<const Branch *> &walk)
{
    int sensor = -1;
    for (const auto *branch : walk)
        for (int i = branch->asks.first; i < branch->asks.end(); ++i) {
            const auto &a = machine.asks[static_cast<size_t>(i)];
            if (a.test != rules::Test::Number || a.counter >= 0 || a.sensor < 0 ||
                !std::isfinite(a.constant) || (sensor >= 0 && a.sensor != sensor))
                return -1;
            sensor = a.sensor;
        }
    return sensor;
}

/// The first branch that is met by a number, or by none.
Cut firstMet(const Machine &machine, const std::vector<const Branch *> &walk,
             std::optional<double> number)
{
    for (size_t place = 0; place < walk.size(); ++place) {
        const auto &b = *walk[place];
        bool met = !b.any;
        for (int i = b.asks.first; i < b.asks.end() && met != b.any; ++i) {
            const auto &a = machine.asks[static_cast<size_t>(i)];
            met = number && rules::holds(*number, a.compare, a.constant);
        }
        if (met)
            return {0.0, static_cast<int>(&b - machine.branches.data()),
                    static_cast<int>(place) + 1};
    }
    return {0.0, -1, static_cast<int>(walk.size())};
}

} // namespace

void addQuick(Machine &machine)
{
    constexpr double beyond = std::numeric_limits<double>::infinity();
    constexpr size_t mostConstants = 12; // more are no faster in a row than the rules
    machine.quick.assign(machine.modes.size(), {});
    machine.cuts.clear();
    for (size_t m = 0; m < machine.modes.size(); ++m) {
        const auto walk = walkOf(machine, machine.modes[m]);
        const int sensor = onlySensor(machine, walk);
        if (sensor < 0)
            continue;
        std::vector<double> constants;
        for (const auto *b : walk)
            for (int i = b->asks.first; i < b->asks.end(); ++i)
                constants.push_back(machine.asks[static_cast<size_t>(i)].constant);
        std::sort(constants.begin(), constants.end());
        constants.erase(std::unique(constants.begin(), constants.end()), constants.end());
        if (constants.size() > mostConstants)
            continue;
        auto &quick = machine.quick[m];
        quick.sensor = sensor;
        quick.unheard = static_cast<int>(machine.cuts.size());
        machine.cuts.push_back(firstMet(machine, walk, std::nullopt));
        quick.cuts.first = static_cast<int>(machine.cuts.size());
        // Below each constant, at it, and beyond the last: what is alike is one stretch.
        const auto add = [&](double last, Cut cut) {
            cut.last = last;
            const bool goesOn = machine.cuts.size() > static_cast<size_t>(quick.cuts.first) &&
                                machine.cuts.back().branch == cut.branch;
            if (goesOn)
                machine.cuts.back() = cut;
            else
                machine.cuts.push_back(cut);
        };
        double below = constants.front() - 1.0;
        for (const double c : constants) {
            add(std::nextafter(c, -beyond), firstMet(machine, walk, below + (c - below) / 2.0));
            add(c, firstMet(machine, walk, c));
            below = c;
        }
        add(beyond, firstMet(machine, walk, below + 1.0));
        quick.cuts.count = static_cast<int>(machine.cuts.size()) - quick.cuts.first;
    }
}

} // namespace badger::machine
