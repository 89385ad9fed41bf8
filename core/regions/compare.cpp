// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/regions/compare.h"

#include "core/regions/atom_words.h"

#include <algorithm>
#include <fmt/format.h>
#include <fmt/ranges.h>
#include <set>

namespace badger::regions
{

namespace
{

using rules::Act;

Act actIn(const rules::Program &program, int mode)
{
    return rules::actOf(program.states[static_cast<size_t>(mode)].motion);
}

/// The mode that drives ahead and looks; the first where there is none.
int drives(const rules::Program &program, const Machine &machine)
{
    const auto can = reachable(machine);
    for (size_t m = 0; m < machine.modes.size(); ++m)
        if (can[m] && !machine.modes[m].hold.is && actIn(program, static_cast<int>(m)) == Act::Go)
            return static_cast<int>(m);
    return 0;
}

/// Modes to be compared: those that drive, and others of one name.
std::vector<std::pair<int, int>> pairsOf(const rules::Program &a, const Machine &ma,
                                         const rules::Program &b, const Machine &mb)
{
    std::vector<std::pair<int, int>> pairs = {{drives(a, ma), drives(b, mb)}};
    const auto canA = reachable(ma);
    const auto canB = reachable(mb);
    for (size_t i = 0; i < a.states.size(); ++i)
        for (size_t k = 0; k < b.states.size(); ++k) {
            const std::pair pair(static_cast<int>(i), static_cast<int>(k));
            if (a.states[i].name == b.states[k].name && canA[i] && canB[k] &&
                !ma.modes[i].hold.is && !mb.modes[k].hold.is && pair != pairs.front())
                pairs.push_back(pair);
        }
    return pairs;
}

/// What it does at last: where the mode only waits its turn to look, that is what it does.
Say doing(const rules::Program &program, Outcome outcome, int to)
{
    const auto &state = program.states[static_cast<size_t>(to)];
    if (outcome == Outcome::Hole)
        return say("goes on as before ({})", rules::words(state.motion));
    auto text = rules::words(state.motion);
    if (!state.actions.empty() || state.wait)
        text += say(" ('{}')", state.name);
    return text;
}

/// The same wheels, and the same that follows.
bool alike(const rules::Program &a, int inA, const rules::Program &b, int inB)
{
    const auto &x = a.states[static_cast<size_t>(inA)];
    const auto &y = b.states[static_cast<size_t>(inB)];
    const auto count = [](const rules::Program &p, const rules::Wheel &w) {
        const auto *v = p.value(w.speed);
        return w.sense * (v ? v->si.value_or(0.0) : 0.0);
    };
    return x.motion.wheels == y.motion.wheels &&
           count(a, x.motion.left) == count(b, y.motion.left) &&
           count(a, x.motion.right) == count(b, y.motion.right) &&
           x.actions.empty() == y.actions.empty() && x.wait.has_value() == y.wait.has_value();
}

std::string whereOf(const rules::Program &program, const Machine &machine, const Regions &r,
                    const Row &row)
{
    const auto parts = rowWords(program, machine, r, row);
    return fmt::format("{}: {}", program.states[static_cast<size_t>(r.mode)].name,
                       parts.empty() ? "always" : fmt::format("{}", fmt::join(parts, ", ")));
}

std::vector<std::string> notIn(const rules::Program &a, const rules::Program &b)
{
    std::vector<std::string> names;
    for (const auto &r : a.readings)
        if (b.reading(r.name) == nullptr)
            names.push_back(r.name);
    return names;
}

double look_s(const Machine &machine, const Sensor &s)
{
    constexpr double trigger_s = 12e-6;
    const bool echo = s.source == rules::Source::Ranger || s.source == rules::Source::Scan;
    if (!echo)
        return 0.0;
    const double ping_s = trigger_s + s.timeOut_us * 1e-6;
    const int looks = s.source == rules::Source::Scan ? s.angles.count : 1;
    (void)machine;
    return looks *
           (ping_s +
            (s.servo >= 0 && s.angles.count > 0 ? static_cast<double>(s.dwell_us) * 1e-6 : 0.0));
}

} // namespace

Costs costsOf(const rules::Program &program, const Machine &machine, const Around &around)
{
    Costs c;
    c.states = static_cast<int>(program.states.size());
    c.rules = static_cast<int>(machine.branches.size());
    for (const auto &s : machine.sensors)
        if (s.everyPass) {
            constexpr double trigger_s = 12e-6;
            const bool echo = s.source == rules::Source::Ranger;
            // A servo that has to come back for it does so once, not in every pass.
            const bool sweeps = s.angles.count > 1;
            c.longestPass_s += (echo ? trigger_s + s.timeOut_us * 1e-6 : 0.0) +
                               (sweeps ? static_cast<double>(s.dwell_us) * 1e-6 : 0.0);
        }
    c.longestPass_s += static_cast<double>(machine.pause_us) * 1e-6;
    for (size_t m = 0; m < machine.modes.size(); ++m) {
        double looks_s = 0.0;
        const auto &doings = machine.modes[m].doings;
        for (int i = doings.first; i < doings.end(); ++i) {
            const auto &d = machine.doings[static_cast<size_t>(i)];
            if (d.does == rules::Does::Look)
                looks_s += look_s(machine, machine.sensors[static_cast<size_t>(d.what)]);
        }
        c.lookRound_s = std::max(c.lookRound_s, looks_s);
        double blind_s = 0.0;
        double driven_s = 0.0;
        std::set<size_t> way;
        for (size_t at = m; machine.modes[at].hold.is && way.insert(at).second;
             at = static_cast<size_t>(machine.modes[at].hold.then)) {
            const auto &hold = machine.modes[at].hold;
            const auto us = hold.length == rules::Length::Random ? hold.most_us
                            : hold.length == rules::Length::PerDegree
                                ? hold.time_us * 90 // a quarter turn
                                : hold.time_us;
            blind_s += static_cast<double>(us) * 1e-6;
            const auto act = actIn(program, static_cast<int>(at));
            driven_s += act == Act::Go || act == Act::Back ? static_cast<double>(us) * 1e-6 : 0.0;
        }
        if (blind_s > c.blind_s) {
            c.blind_s = blind_s;
            c.blind_m =
                around.speed_mps ? std::optional(driven_s * *around.speed_mps) : std::nullopt;
        }
    }
    return c;
}

Result<Comparison> compare(const rules::Program &a, const rules::Program &b, const Around &around)
{
    const auto ma = lower(a, around.facts);
    const auto mb = lower(b, around.facts);
    if (!ma || !mb)
        return tl::unexpected(ma ? mb.error() : ma.error());
    Comparison c;
    c.onlyA = notIn(a, b);
    c.onlyB = notIn(b, a);
    c.a = costsOf(a, *ma, around);
    c.b = costsOf(b, *mb, around);
    for (const auto &[inA, inB] : pairsOf(a, *ma, b, *mb)) {
        const Second second{b, *mb, inB};
        std::vector<std::string> missing;
        const auto r = jointRegions(a, *ma, inA, second, missing);
        if (!r)
            return tl::unexpected(r.error());
        if (!missing.empty())
            continue; // the other decides there by what this one does not read
        std::map<const Cell *, Asked> other;
        for (const auto &cell : r->cells)
            other[&cell] = askedIn(*r, cell, a, second);
        const auto same = [&](const Cell &x, const Cell &y) {
            const auto &ox = other.at(&x);
            const auto &oy = other.at(&y);
            return x.to == y.to && x.outcome == y.outcome && ox.to == oy.to &&
                   ox.outcome == oy.outcome;
        };
        for (const auto &row : rows(*r, same)) {
            const auto &here = *row.cell;
            const auto &there = other.at(row.cell);
            const bool hole = (here.outcome == Outcome::Hole) != (there.outcome == Outcome::Hole);
            if (!hole && alike(a, here.to, b, there.to))
                continue;
            c.differences.push_back({whereOf(a, *ma, *r, row), doing(a, here.outcome, here.to),
                                     doing(b, there.outcome, there.to)});
        }
    }
    return c;
}

} // namespace badger::regions
