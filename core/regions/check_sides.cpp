// SPDX-License-Identifier: GPL-3.0-or-later
// Checks of programs that compare one side with another.
#include "core/regions/atom_words.h"
#include "core/regions/check_look.h"

#include <algorithm>
#include <cmath>
#include <fmt/format.h>
#include <set>

namespace badger::regions
{

using rules::Source;
using rules::Test;

Found noneTurnsToWall(const Look &look, const char *code)
{
    Found found;
    for (size_t b = 0; b < look.machine.branches.size(); ++b) {
        const auto &branch = look.machine.branches[b];
        if (branch.asks.count == 0 || !reachableRule(look, static_cast<int>(b)))
            continue;
        const auto &a = look.machine.asks[static_cast<size_t>(branch.asks.first)];
        if (a.test != Test::Than || turnOf(look.machine.modes[static_cast<size_t>(branch.go)]) == 0)
            continue;
        const bool above =
            a.compare == rules::Compare::Greater || a.compare == rules::Compare::GreaterOrEqual;
        const int farther = above ? a.sensor : a.other;
        const int nearer = above ? a.other : a.sensor;
        const auto &gone = look.program.readings[static_cast<size_t>(nearer)];
        const auto &there = look.program.readings[static_cast<size_t>(farther)];
        if (gone.noEcho != rules::NoEcho::Blocked)
            continue;
        const double at = std::ceil(a.constant) + 1.0;
        Finding f{code,
                  Severity::Warning,
                  look.place("reading " + gone.name),
                  say("No echo of '{}' counts as nought: with '{}' at {} it turns to '{}'.",
                      gone.name, there.name, units::number(at, 0), there.name),
                  say("Open space gives no echo: it avoids the open side and turns to the wall."),
                  say("Let no echo of a standing look count as clear."),
                  at::policy(gone.name)};
        f.readings = {fmt::format("{} {}, {} none", there.name, units::plain(at, 0), gone.name)};
        found.push_back(f);
    }
    return found;
}

Found noTolerance(const Look &look, const char *code)
{
    Found found;
    std::set<std::pair<int, int>> said;
    for (size_t b = 0; b < look.machine.branches.size(); ++b) {
        const auto &asks = look.machine.branches[b].asks;
        if (!reachableRule(look, static_cast<int>(b)))
            continue;
        for (int i = asks.first; i < asks.end(); ++i) {
            const auto &a = look.machine.asks[static_cast<size_t>(i)];
            if (a.test != Test::Than || a.constant != 0.0 ||
                !said.insert(std::minmax(a.sensor, a.other)).second)
                continue;
            const auto &one = look.program.readings[static_cast<size_t>(a.sensor)].name;
            const auto &two = look.program.readings[static_cast<size_t>(a.other)].name;
            Finding f{code,
                      Severity::Warning,
                      look.place("reading " + one),
                      say("'{}' and '{}' are compared without a tolerance.", one, two),
                      say("A difference of one unit decides, and no ranger reads so exactly: the "
                          "side is chance."),
                      say("Ask for a difference of some centimetres, and say what an equal pair "
                          "does."),
                      at::reading(one)};
            f.readings = {fmt::format("{} 41, {} 40", one, two)};
            found.push_back(f);
        }
    }
    return found;
}

/// A look that is good enough decides before the other side is looked at.
Found passesBetterSide(const Look &look, const char *code)
{
    Found found;
    for (size_t m = 0; m < look.machine.modes.size(); ++m) {
        if (!look.can[m])
            continue;
        const auto &mode = look.machine.modes[m];
        const Branch *taken = nullptr;
        const Ask *by = nullptr;
        bool othersLook = false;
        for (int b = mode.branches.first; b < mode.branches.end(); ++b) {
            const auto &branch = look.machine.branches[static_cast<size_t>(b)];
            const auto &go = look.machine.modes[static_cast<size_t>(branch.go)];
            if (branch.asks.count == 1 && !taken && turnOf(go) != 0) {
                const auto &a = look.machine.asks[static_cast<size_t>(branch.asks.first)];
                if (a.test == Test::Number && (a.compare == rules::Compare::Greater ||
                                               a.compare == rules::Compare::GreaterOrEqual)) {
                    taken = &branch;
                    by = &a;
                }
            }
            for (int d = go.doings.first; d < go.doings.end(); ++d) {
                const auto &doing = look.machine.doings[static_cast<size_t>(d)];
                othersLook |= by && doing.does == rules::Does::Look && doing.what != by->sensor;
            }
        }
        if (!taken || !othersLook)
            continue;
        const auto &r = look.program.readings[static_cast<size_t>(by->sensor)];
        const auto &s = look.machine.sensors[static_cast<size_t>(by->sensor)];
        Finding f{code,
                  Severity::Advice,
                  look.place(Say("'" + look.state(static_cast<int>(m)).name + "'")),
                  say("'{}' at {} {} is enough; the other side is not looked at, and may be up to "
                      "{} {} clearer.",
                      r.name, units::number(by->constant, 2), units::info(r.unit).symbol,
                      units::number(s.limit - by->constant, 2), units::info(r.unit).symbol),
                  say("It always goes to the side it looks at first, and avoids the open one."),
                  say("Look to both sides and compare, or take turns in which is first."),
                  at::state(look.state(static_cast<int>(m)).name)};
        f.readings = {fmt::format("{} {}", r.name, units::plain(by->constant, 2))};
        found.push_back(f);
    }
    return found;
}

} // namespace badger::regions
