// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/edit/ways_out.h"

#include "core/circuit/strain.h"
#include "core/edit/fixed_car.h"
#include "core/edit/way_candidates.h"
#include "core/judge/kit_judgement.h"
#include "core/wiring/check.h"

#include <algorithm>
#include <map>

namespace badger::edit
{

namespace
{

struct Verdict {
    std::vector<Finding> findings;
    bool ahead = false;
    /// How often each limit of the network is passed; another part's terminals have other names, so
    /// the places cannot be compared.
    std::map<circuit::Harm, int> limits;

    /// Where a part lies changes nothing of what the wires do.
    Verdict(const kit::Assembly &car, bool withWires)
    {
        findings = judge::judgeKit(car, std::nullopt).findings.findings;
        if (car->wires.empty() || !withWires)
            return;
        const nets::Nets nets(car);
        for (const auto &strain : circuit::look(circuit::CarNetwork(nets)).strains)
            if (!strain.stalled)
                ++limits[strain.harm];
        auto judged = wiring::judged(nets);
        ahead = motion::rowFor(judged.motion, motion::Path::Ahead) != nullptr;
        findings = judge::withWires(std::move(findings), judged.findings.findings);
    }
    auto count(const Finding &f) const
    {
        return std::count_if(findings.begin(), findings.end(), [&](const Finding &g) {
            return g.code == f.code && g.severity <= f.severity;
        });
    }
    /// It was said as what follows from another.
    bool isLine(const Finding &f) const
    {
        return std::any_of(findings.begin(), findings.end(), [&](const Finding &g) {
            return std::find(g.then.begin(), g.then.end(), f.what) != g.then.end();
        });
    }
    bool has(const Finding &f) const
    {
        return std::any_of(findings.begin(), findings.end(),
                           [&](const Finding &g) {
                               // A mission's gaps have one place and differ in what is missing.
                               return g.code == f.code && g.target == f.target &&
                                      g.severity <= f.severity &&
                                      (f.code != "mission-gap" || g.what == f.what);
                           }) ||
               isLine(f);
    }
};

/// A wire more in a lead carries what its others carry, and is thin if they are.
bool isOfTheLead(const Verdict &before, const Fix &fix, const Finding &f)
{
    return f.code == "wire-over-current" && fix.in.size() > fix.out.size() && before.count(f) > 0;
}

bool stands(const Verdict &before, const Verdict &after, const Finding &finding, const Fix &fix)
{
    if (after.has(finding) || after.count(finding) >= before.count(finding) ||
        (before.ahead && !after.ahead))
        return false;
    for (const auto &[harm, count] : after.limits)
        if (const auto was = before.limits.find(harm);
            was == before.limits.end() || was->second < count)
            return false;
    return std::all_of(after.findings.begin(), after.findings.end(), [&](const Finding &f) {
        return f.severity > finding.severity || before.has(f) || isOfTheLead(before, fix, f);
    });
}

bool isMoved(const Fix &fix)
{
    return !fix.moves.empty() && fix.parts.empty();
}

} // namespace

namespace
{

/// Copies of one car that are tried for all its findings together, times its parts. Each demo car
/// is through at a sixth of it; a hundred parts with a thousand findings would take minutes.
constexpr size_t mostWork = 6000;

/// Tries ways on copies of one car.
class Trier
{
public:
    explicit Trier(const kit::Assembly &car) : m_car(car) {}

    std::vector<Fix> waysOut(const Finding &finding)
    {
        std::vector<Fix> found;
        m_cutShort = false;
        for (auto &candidates : wayCandidates(m_car, finding)) {
            int named = 0;
            for (auto &fix : candidates.fixes) {
                m_cutShort = m_cutShort || m_work > mostWork;
                if (named == candidates.enough || m_cutShort)
                    break;
                if (!stands(finding, fix))
                    continue;
                found.push_back(std::move(fix));
                ++named;
            }
        }
        return found;
    }
    /// Were there ways for the last finding that could not be tried any more?
    bool wasCutShort() const { return m_cutShort; }

private:
    bool stands(const Finding &finding, const Fix &fix)
    {
        auto &before = isMoved(fix) ? m_bare : m_wired;
        if (!before)
            before.emplace(m_car, !isMoved(fix));
        m_work += m_car->parts.size();
        const auto after = applied(m_car, fix);
        return edit::stands(*before, Verdict({after, m_car.catalogue()}, !isMoved(fix)), finding,
                            fix);
    }

    const kit::Assembly &m_car;
    std::optional<Verdict> m_wired;
    std::optional<Verdict> m_bare;
    size_t m_work = 0;
    bool m_cutShort = false;
};

} // namespace

std::vector<Fix> waysOut(const kit::Assembly &car, const Finding &finding)
{
    return Trier(car).waysOut(finding);
}

std::vector<Finding> withWaysOut(const kit::Assembly &car, std::vector<Finding> findings,
                                 const std::function<bool()> &stop)
{
    Trier trier(car);
    for (auto &f : findings) {
        if (stop && stop())
            break;
        if (f.fix)
            continue;
        f.others = trier.waysOut(f);
        if (f.others.empty() && trier.wasCutShort())
            f.mend = (f.mend.empty() ? f.mend : f.mend + Say(" ")) +
                     say("Not every other part was tried: mend other findings first.");
        if (f.others.empty())
            continue;
        std::vector<Say> ways;
        for (const auto &fix : f.others)
            ways.push_back(words(car, fix));
        f.mend = say("Ways out, each tried on a copy: {}.", joined(ways, "; "));
    }
    return findings;
}

} // namespace badger::edit
