// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/circuit/levels.h"

namespace badger::circuit
{

using parts::Role;

namespace
{

constexpr size_t mostAlone = 48; ///< outputs that are tried one by one

/// Each output has a number; for each bit of it those that have it are high. An input that follows
/// one output is high for the bits of its number; with more outputs than a car has, one that
/// follows several is not told apart.
void byCode(const CarNetwork &net, std::vector<InputLevel> &inputs, const Conditions &quiet,
            const Answer &rest)
{
    const size_t count = net.outputs().size();
    std::vector<size_t> code(inputs.size(), 0);
    for (size_t bit = 1; bit <= count; bit *= 2) {
        std::vector<Level> levels(count);
        for (size_t o = 0; o < count; ++o)
            levels[o] = ((o + 1) & bit) != 0 ? Level::High : Level::Low;
        const auto a = net.solve(quiet, levels, &rest);
        for (size_t i = 0; i < inputs.size(); ++i)
            if (inputs[i].rest != Seen::High && net.seen(a, inputs[i].member) == Seen::High)
                code[i] |= bit;
    }
    for (size_t i = 0; i < inputs.size(); ++i)
        if (code[i] > 0 && code[i] <= count)
            inputs[i].follows.push_back(code[i] - 1);
}

} // namespace

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
    if (levels.size() > mostAlone) {
        byCode(net, all, quiet, rest);
        return all;
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
