// SPDX-License-Identifier: GPL-3.0-or-later
// Another part, one more or less, another place, another note: tried like any other change.
#include "core/diagnose/diagnose.h"

#include "core/diagnose/safe.h"
#include "core/diagnose/verdict.h"
#include "core/edit/fixed_car.h"
#include "core/edit/way_candidates.h"

#include <optional>

namespace badger::diagnose
{

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
        for (auto &candidates : edit::wayCandidates(m_car, finding)) {
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
        // Where a part lies changes nothing of what the wires do.
        const bool moved = !fix.moves.empty() && fix.parts.empty();
        const auto of = moved ? Of::Kit : Of::Both;
        auto &before = moved ? m_bare : m_wired;
        if (!before)
            before = verdictOf(m_car, of);
        m_work += m_car->parts.size();
        const auto car = edit::applied(m_car, fix);
        const kit::Assembly copy(car, m_car.catalogue());
        const auto after = verdictOf(copy, of);
        const bool gone =
            after.find(finding) == nullptr && after.count(finding) < before->count(finding);
        return gone &&
               !isWorse(*before, after, finding.severity,
                        fix.parts.empty() ? Revealed::Nothing : Revealed::Codes) &&
               (moved || car.wires.empty() || isSafe(m_car, fix, copy));
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
            ways.push_back(edit::words(car, fix));
        f.mend = say("Ways out, each tried on a copy: {}", joined(ways, " · "));
    }
    return findings;
}

} // namespace badger::diagnose
