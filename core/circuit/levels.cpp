// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/circuit/levels.h"

namespace badger::circuit
{

using parts::Role;

std::vector<InputLevel> inputLevels(const CarNetwork &net)
{
    std::vector<InputLevel> all;
    const auto &members = net.nets().all();
    const Conditions quiet{kit::Charge::Nominal, Moving::Idle, Figures::Typical, true, false};
    std::vector<Level> levels(net.outputs().size(), Level::Low);
    const auto rest = net.solve(quiet, levels);
    for (size_t i = 0; i < members.size(); ++i) {
        const auto role = members[i].terminal->role;
        if ((role == Role::Direction || role == Role::Enable || role == Role::Trigger ||
             role == Role::Signal) &&
            members[i].part->kind != parts::Kind::Divider)
            all.push_back({i, net.seen(rest, i), {}});
    }
    for (size_t o = 0; o < levels.size(); ++o) {
        levels[o] = Level::High;
        const auto a = net.solve(quiet, levels, &rest);
        levels[o] = Level::Low;
        for (auto &input : all)
            if (net.seen(a, input.member) == Seen::High && input.rest != Seen::High)
                input.follows.push_back(o);
    }
    return all;
}

} // namespace badger::circuit
