// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/repair/repair.h"

#include "core/power/check.h"
#include "core/repair/candidates.h"
#include "core/wiring/check.h"

#include <algorithm>
#include <set>
#include <tuple>

namespace badger::repair
{

namespace
{

/// Limits that are passed, and where.
using Limits = std::set<std::pair<circuit::Harm, std::string>>;

Limits limitsOf(const kit::Assembly &car, circuit::Patterns patterns = circuit::Patterns::Opposed)
{
    const nets::Nets nets(car);
    const circuit::CarNetwork network(nets);
    const auto looked = circuit::look(network, patterns);
    Limits limits;
    for (const auto &s : looked.strains)
        if (!s.stalled)
            limits.emplace(s.harm, nets.all()[s.member].name);
    return limits;
}

/// What is said of a car.
struct Verdict {
    std::vector<Finding> findings;
    bool ahead = false; ///< for some pattern of its inputs the car goes straight ahead

    explicit Verdict(const kit::Assembly &car)
    {
        auto judged = wiring::judged(nets::Nets(car));
        findings = std::move(judged.findings.findings);
        ahead = motion::rowFor(judged.motion, motion::Path::Ahead) != nullptr;
        for (auto &f : power::check(car, power::report(car)).findings)
            findings.push_back(std::move(f));
    }

    bool has(const Finding &f) const
    {
        return std::any_of(findings.begin(), findings.end(), [&](const Finding &g) {
            return g.code == f.code && english(g.where) == english(f.where);
        });
    }
    /// A channel that is too weak counts by its driver: with its motor back the other one is, too.
    bool hasOf(const Finding &f) const
    {
        if (!f.code.starts_with("channel-over"))
            return false;
        const auto part = [](const Say &where) {
            const auto text = english(where);
            return text.substr(0, text.find_first_of(", "));
        };
        return std::any_of(findings.begin(), findings.end(), [&](const Finding &g) {
            return g.code == f.code && g.severity <= f.severity && part(g.where) == part(f.where);
        });
    }
    size_t count(Severity severity) const
    {
        return static_cast<size_t>(
            std::count_if(findings.begin(), findings.end(),
                          [&](const Finding &f) { return f.severity == severity; }));
    }
};

bool stands(const Verdict &before, const Verdict &after, const Finding &finding)
{
    // Another place of the same fault is the same fault.
    const auto same = [&](const Verdict &v) {
        return std::count_if(v.findings.begin(), v.findings.end(), [&](const Finding &f) {
            return f.code == finding.code && f.severity == finding.severity;
        });
    };
    if (after.has(finding) || same(after) >= same(before) || (before.ahead && !after.ahead))
        return false;
    for (const auto &f : after.findings)
        if (!before.has(f) && !before.hasOf(f) &&
            (f.severity <= finding.severity || f.code == "link-bypassed" || f.code == "fuse-idle"))
            return false;
    return true;
}

/// A wire leads to a supply input from another supply than the kit names for it.
bool isMeantOtherwise(const nets::Nets &nets, const std::string &input, const std::string &from)
{
    const auto *m = nets.member(input);
    const auto *source = nets.member(from);
    if (m == nullptr || source == nullptr || m->terminal->role != parts::Role::SupplyIn ||
        (source->terminal->role != parts::Role::Plus &&
         source->terminal->role != parts::Role::SupplyOut))
        return false;
    return std::any_of(m->fitted->feeds.begin(), m->fitted->feeds.end(), [&](const kit::Feed &f) {
        const auto *meant = nets.member(f.from);
        return f.to == m->terminal->name && meant != nullptr && meant->fitted != source->fitted;
    });
}

/// A hand would not do it, whatever the checks say of the outcome: a supply input led to a motor's
/// wires, which are alive as soon as the next fault is mended, to a sensor's output, or to another
/// supply than the kit names for it; or a supply taken off a part that the finding does not speak
/// of.
bool isAbsurd(const kit::Assembly &after, const Fix &fix, const Finding &finding)
{
    using parts::Role;
    const nets::Nets nets(after);
    for (const auto &w : fix.in) {
        const int net = nets.of(w.from);
        const auto any = [&](std::initializer_list<Role> roles) {
            return std::any_of(roles.begin(), roles.end(),
                               [&](Role role) { return nets.has(net, role); });
        };
        if (nets.has(net, Role::SupplyIn) &&
            any({Role::MotorOut, Role::Lead, Role::DigitalOut, Role::AnalogueOut, Role::Echo}))
            return true;
        if (isMeantOtherwise(nets, w.from, w.to) || isMeantOtherwise(nets, w.to, w.from))
            return true;
    }
    const auto where = english(finding.where);
    for (const auto &w : fix.out)
        for (const auto &end : {w.from, w.to}) {
            const auto *m = nets.member(end);
            if (m && m->terminal->role == Role::SupplyIn && m->wires == 0 &&
                where.find(end) == std::string::npos)
                return true;
        }
    return false;
}

size_t changes(const Fix &fix)
{
    if (!fix.exchanged.empty())
        return 1;
    return fix.cells.size() + std::max(fix.out.size(), fix.in.size()) + fix.jumpers.size() +
           fix.pulled.size() + (fix.out.empty() && fix.in.empty() ? fix.pins.size() : 0);
}

class Search
{
public:
    explicit Search(const kit::Assembly &car) : m_car(car), m_before(car), m_limits(limitsOf(car))
    {
    }

    std::optional<Fix> fixFor(const Finding &finding) const
    {
        std::vector<Standing> all;
        for (auto &fix : candidates(m_car, finding, m_before.findings)) {
            const auto car = applied(m_car.car(), fix);
            if (isAbsurd({car, m_car.catalogue()}, fix, finding))
                continue;
            // The quicker half of the test.
            if (!within(limitsOf({car, m_car.catalogue()}), m_limits))
                continue;
            const Verdict after({car, m_car.catalogue()});
            if (!stands(m_before, after, finding))
                continue;
            const auto rank = rankOf(fix, after);
            all.push_back({rank, std::move(fix)});
            if (std::get<0>(rank) == 0 && std::get<1>(rank) <= m_before.count(Severity::Warning) &&
                std::get<2>(rank) == 1)
                break; // nothing better comes
        }
        std::stable_sort(all.begin(), all.end(),
                         [](const Standing &a, const Standing &b) { return a.rank < b.rank; });
        // The second look takes longer, so it is for those that would be offered.
        for (auto &candidate : all) {
            const auto car = applied(m_car.car(), candidate.fix);
            if (!m_everyLimit)
                m_everyLimit = limitsOf(m_car, circuit::Patterns::Every);
            if (within(limitsOf({car, m_car.catalogue()}, circuit::Patterns::Every), *m_everyLimit))
                return std::move(candidate.fix);
        }
        return std::nullopt;
    }

    /// What follows from another fault is mended with that: of the fixes that were found for the
    /// others the one that mends this finding, too, and leaves less that is wrong.
    void preferRoot(Finding &finding, const std::vector<Fix> &all) const
    {
        if (!finding.fix)
            return;
        const auto own = *finding.fix;
        auto least = rankOf(own, verdictOf(own));
        for (const auto &fix : all) {
            if (fix == *finding.fix)
                continue;
            const auto after = verdictOf(fix);
            const auto rank = rankOf(fix, after);
            if (rank < least && stands(m_before, after, finding)) {
                least = rank;
                finding.fix = fix;
            }
        }
    }

private:
    using Rank = std::tuple<size_t, size_t, size_t, size_t>;
    Verdict verdictOf(const Fix &fix) const
    {
        const auto car = applied(m_car.car(), fix);
        return Verdict({car, m_car.catalogue()});
    }
    static Rank rankOf(const Fix &fix, const Verdict &after)
    {
        return {after.count(Severity::Error), after.count(Severity::Warning), changes(fix),
                after.findings.size()};
    }
    struct Standing {
        Rank rank;
        Fix fix;
    };
    static bool within(const Limits &after, const Limits &before)
    {
        return std::includes(before.begin(), before.end(), after.begin(), after.end());
    }

    const kit::Assembly &m_car;
    Verdict m_before;
    Limits m_limits;
    mutable std::optional<Limits> m_everyLimit;
};

} // namespace

kit::Car applied(kit::Car car, const Fix &fix)
{
    // A wire that moves keeps its place in the list.
    for (size_t i = 0; i < std::max(fix.out.size(), fix.in.size()); ++i) {
        const auto in =
            i < fix.in.size()
                ? std::optional(kit::Wire{fix.in[i].from, fix.in[i].to, fix.in[i].colour, {}})
                : std::nullopt;
        auto it = car.wires.end();
        if (i < fix.out.size())
            it = std::find_if(car.wires.begin(), car.wires.end(), [&](const kit::Wire &x) {
                return x.from == fix.out[i].from && x.to == fix.out[i].to &&
                       x.colour == fix.out[i].colour;
            });
        if (it != car.wires.end() && in)
            *it = *in;
        else if (it != car.wires.end())
            car.wires.erase(it);
        else if (in)
            car.wires.push_back(*in);
    }
    for (const auto &c : fix.cells)
        for (auto &i : car.parts)
            if (i.id == c.pack) {
                i.cellsInSeries = c.after;
                if (!c.kind.empty()) {
                    i.partId = c.kind;
                    i.otherCells.clear();
                }
            }
    for (const auto &[terminal, pin] : fix.pins)
        car.programPins[terminal] = pin;
    const auto jumpersOf = [&](const std::string &terminal) -> std::vector<std::string> & {
        const auto split = kit::splitTerminal(terminal);
        return std::find_if(car.parts.begin(), car.parts.end(),
                            [&](const kit::Instance &i) { return i.id == split.instance; })
            ->jumpers;
    };
    for (const auto &j : fix.jumpers)
        jumpersOf(j).push_back(kit::splitTerminal(j).terminal);
    for (const auto &j : fix.pulled)
        std::erase(jumpersOf(j), kit::splitTerminal(j).terminal);
    return car;
}

Say words(const Fix &fix)
{
    if (fix.exchanged.size() == 2)
        return say("Change over what is wired to {} and to {}.", fix.exchanged[0],
                   fix.exchanged[1]);
    std::vector<Say> all;
    for (const auto &c : fix.cells)
        all.push_back(say("Put {0} {0|cell|cells} into {1}, not {2}.", c.after, c.pack, c.before));
    auto in = fix.in;
    for (const auto &w : fix.out) {
        const auto moved = std::find_if(in.begin(), in.end(), [&](const Fix::Wire &x) {
            return (x.from == w.from) != (x.to == w.to);
        });
        if (moved == in.end()) {
            all.push_back(say("Take off the wire from {} to {}.", w.from, w.to));
            continue;
        }
        const bool stays = moved->from == w.from;
        const auto &signal = stays ? w.from : w.to;
        if (fix.pins.count(signal) != 0) {
            all.push_back(say("Move {} from {} to {}.", signal, stays ? w.to : w.from,
                              stays ? moved->to : moved->from));
            in.erase(moved);
            continue;
        }
        all.push_back(say("Move the wire's end from {} to {}; its other end stays on {}.",
                          stays ? w.to : w.from, stays ? moved->to : moved->from,
                          stays ? w.from : w.to));
        in.erase(moved);
    }
    for (const auto &w : in)
        all.push_back(say("Join {} to {} with a {} wire.", w.from, w.to, w.colour));
    for (const auto &j : fix.jumpers)
        all.push_back(say("Put the jumper on {}.", j));
    for (const auto &j : fix.pulled)
        all.push_back(say("Take the jumper off {}.", j));
    if (!fix.pins.empty() && !fix.out.empty())
        all.push_back(say("The program's pins follow."));
    else
        for (const auto &[terminal, pin] : fix.pins)
            all.push_back(say("Let the program use {} for {}.", pin, terminal));
    return joined(all, " ");
}

std::optional<Fix> fixFor(const kit::Assembly &car, const Finding &finding)
{
    return Search(car).fixFor(finding);
}

std::vector<Finding> withFixes(const kit::Assembly &car, std::vector<Finding> findings,
                               const std::function<bool()> &stop)
{
    // A car with more than these is no car that a hand has wired; a search would take minutes.
    constexpr size_t mostWires = 120;
    constexpr size_t mostFindings = 16;
    if (car->parts.empty() || findings.empty() || car->wires.size() > mostWires ||
        findings.size() > mostFindings)
        return findings;
    const Search search(car);
    std::vector<Fix> all;
    for (auto &f : findings) {
        if (stop && stop())
            break;
        if (f.code == "tree-has-loop" || f.code == "recharge-before" ||
            f.code == "feed-not-as-wired")
            continue; // they say how something is, not that a wire is wrong
        f.fix = search.fixFor(f);
        if (f.fix)
            all.push_back(*f.fix);
    }
    for (auto &f : findings) {
        if (!(stop && stop()))
            search.preferRoot(f, all);
        if (f.fix)
            f.mend = words(*f.fix);
    }
    return findings;
}

} // namespace badger::repair
