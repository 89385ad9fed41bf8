// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/diagnose/causes.h"

#include "core/diagnose/safe.h"
#include "core/edit/fixed_car.h"
#include "core/wiring/observe.h"

#include <algorithm>
#include <array>
#include <cmath>
#include <map>
#include <optional>
#include <set>
#include <string>
#include <tuple>

namespace badger::diagnose
{

namespace
{

// What a worker does in a second.
constexpr size_t mostCauses = 5;
constexpr size_t mostAsked = 6;   ///< complaints whose slips are compared
constexpr size_t mostTried = 150; ///< verdicts a cause: a look at the resting network is a tenth
constexpr size_t mostPaired = 40; ///< slips of which each two are looked at together
constexpr size_t mostPairsTried = 20;

/// How much is wrong: what hides other faults first, since nothing behind it shows.
using Wrong = std::array<size_t, 3>;

/// What only shows while motors are held, and what a thin lead carries, is of the parts: no slip of
/// a hand brings it.
bool isOfParts(const Finding &f)
{
    return f.code == "wire-over-current" || (f.evidence && f.evidence->in == Evidence::In::Stalled);
}

Wrong wrongIn(const std::vector<Finding> &complaints)
{
    Wrong wrong{};
    for (const auto &f : complaints) {
        if (isOfParts(f))
            continue;
        wrong[0] += static_cast<size_t>(wiring::hides(f));
        wrong[1] += f.severity == Severity::Error;
        wrong[2] += f.severity == Severity::Warning;
    }
    return wrong;
}

size_t changes(const Fix &fix)
{
    return std::max(fix.out.size(), fix.in.size()) + fix.jumpers.size() + fix.pulled.size() +
           fix.pins.size();
}

/// One slip or two, undone on a copy.
struct Undone {
    std::vector<const Slip *> slips;
    kit::Car car;
    size_t cutOff = 0; ///< inputs that were on a source's conductors and are not any more
    Wrong atRest{};
    int cost = 0;
    size_t many = 0;
};

class Search
{
public:
    Search(const kit::Assembly &car, const std::vector<kit::Wire> &drawn,
           const std::function<bool()> &stop)
        : m_catalogue(car.catalogue()), m_drawn(drawn), m_stop(stop), m_car(car.car()),
          m_now(verdictOf(car, Of::Wires))
    {
    }

    Causes go()
    {
        Causes all;
        const auto first = m_now;
        while (all.causes.size() < mostCauses && !isStopped()) {
            auto found = next();
            if (!found)
                break;
            Cause cause{std::move(found->slips), {}, std::move(found->others), true};
            for (const auto &f : m_now.complaints)
                if (found->after.find(f) == nullptr) {
                    cause.vanished.push_back(f);
                    cause.behind = cause.behind && first.find(f) == nullptr;
                }
            if (cause.vanished.empty()) // fewer of a kind, and none that is named
                break;
            m_car = std::move(found->car);
            m_now = std::move(found->after);
            all.causes.push_back(std::move(cause));
        }
        for (auto &f : m_now.complaints)
            if (f.severity != Severity::Advice || first.find(f) != nullptr)
                all.unexplained.push_back(std::move(f));
        return all;
    }

private:
    struct Found {
        /// What is left, whether it may not be offered, how far a hand went astray.
        std::tuple<Wrong, bool, int, size_t> rank;
        std::vector<Slip> slips;
        kit::Car car;
        Verdict after;
        std::vector<Slip> others{};
    };

    bool isStopped() const { return m_stop && m_stop(); }

    /// Errors first, the worst of each code before the next worst of any.
    std::vector<const Finding *> worthAsking() const
    {
        std::vector<const Finding *> all;
        for (const auto &f : m_now.complaints)
            if (f.severity != Severity::Advice && !isOfParts(f))
                all.push_back(&f);
        const auto over = [](const Finding *f) {
            return f->evidence ? std::abs(f->evidence->value - f->evidence->limit) : 0.0;
        };
        std::stable_sort(all.begin(), all.end(),
                         [&](const Finding *a, const Finding *b) { return over(a) > over(b); });
        std::map<std::string, int> before;
        std::map<const Finding *, int> turn;
        for (const auto *f : all)
            turn[f] = before[f->code]++;
        std::sort(all.begin(), all.end(), [&](const Finding *a, const Finding *b) {
            return std::tuple(a->severity, turn[a], a) < std::tuple(b->severity, turn[b], b);
        });
        all.resize(std::min(all.size(), mostAsked));
        return all;
    }

    std::optional<Found> next()
    {
        const kit::Assembly car(m_car, m_catalogue);
        const auto all = slips(car, worthAsking(), m_drawn);
        const nets::Nets nets(car);
        m_fed = fedInputs(nets);
        const auto now = atRest(nets);
        std::vector<Undone> undone;
        for (const auto &slip : all) {
            if (isStopped())
                return std::nullopt;
            auto one = undo({&slip});
            if (one.cutOff == 0 && one.atRest <= now)
                undone.push_back(std::move(one));
        }
        sort(undone);
        auto found = best(undone, mostTried);
        // Where none explains anything, or something is still hidden, two may explain more.
        if (found ? std::get<0>(found->rank)[0] == 0 : m_now.count(Severity::Error) == 0)
            return found;
        auto two = pairs(undone, now);
        return two && (!found || two->rank < found->rank) ? std::move(two) : std::move(found);
    }

    /// Two slips where neither explains anything alone.
    std::optional<Found> pairs(const std::vector<Undone> &single, const Wrong &now)
    {
        std::vector<const Slip *> some;
        for (const auto &u : single)
            if (const auto *s = u.slips.front();
                some.size() < mostPaired && s->kind != Slip::Kind::Lacking &&
                s->kind != Slip::Kind::Noted && s->kind != Slip::Kind::Jumper)
                some.push_back(s);
        std::vector<Undone> undone;
        for (size_t i = 0; i < some.size() && !isStopped(); ++i)
            for (size_t k = i + 1; k < some.size(); ++k)
                if (!meet(some[i]->fix, some[k]->fix)) {
                    auto two = undo({some[i], some[k]});
                    if (two.cutOff == 0 && two.atRest < now)
                        undone.push_back(std::move(two));
                }
        sort(undone);
        return best(undone, mostPairsTried);
    }

    Undone undo(std::vector<const Slip *> slips) const
    {
        Undone u;
        u.car = m_car;
        for (const auto *s : slips) {
            u.car = edit::applied({u.car, m_catalogue}, s->fix);
            u.cost += s->cost;
            u.many += changes(s->fix);
        }
        const nets::Nets nets({u.car, m_catalogue});
        const auto fed = fedInputs(nets);
        for (const auto &input : m_fed)
            u.cutOff += fed.count(input) == 0;
        u.atRest = atRest(nets);
        u.slips = std::move(slips);
        return u;
    }

    static void sort(std::vector<Undone> &all)
    {
        std::stable_sort(all.begin(), all.end(), [](const Undone &a, const Undone &b) {
            return std::tie(a.atRest, a.cost, a.many) < std::tie(b.atRest, b.cost, b.many);
        });
    }

    /// What is wrong while nothing moves is seen in a look at the resting network.
    static Wrong atRest(const nets::Nets &nets)
    {
        const circuit::CarNetwork network(nets);
        return wrongIn(wiring::observed(network, circuit::look(network, circuit::Patterns::Rest)));
    }

    /// Both touch one wire.
    static bool meet(const Fix &a, const Fix &b)
    {
        return std::any_of(a.out.begin(), a.out.end(), [&](const Fix::Wire &w) {
            return std::find(b.out.begin(), b.out.end(), w) != b.out.end();
        });
    }

    bool isSafe(const Undone &u) const
    {
        const auto fix =
            u.slips.size() == 1 ? u.slips.front()->fix : both(u.slips[0]->fix, u.slips[1]->fix);
        return diagnose::isSafe({m_car, m_catalogue}, fix, {u.car, m_catalogue});
    }

    /// Of those that are tried the one that leaves the least.
    std::optional<Found> best(const std::vector<Undone> &all, size_t most) const
    {
        std::optional<Found> best;
        const auto now = wrongIn(m_now.complaints);
        size_t tried = 0;
        for (const auto &u : all) {
            if (tried++ == most || isStopped())
                break;
            if (best && std::get<0>(best->rank)[1] == 0 && u.cost > std::get<2>(best->rank))
                continue;
            auto after = verdictOf({u.car, m_catalogue}, Of::Wires);
            const auto left = wrongIn(after.complaints);
            std::tuple rank(left, false, u.cost, u.many);
            if (left >= now || (m_now.ahead && !after.ahead) || (best && best->rank < rank))
                continue;
            std::get<1>(rank) = !isSafe(u);
            if (best && rank == best->rank)
                best->others.push_back(*u.slips.front());
            if (best && best->rank <= rank)
                continue;
            best = Found{rank, {}, u.car, std::move(after)};
            for (const auto *s : u.slips)
                best->slips.push_back(*s);
        }
        return best;
    }

    const parts::Catalogue &m_catalogue;
    const std::vector<kit::Wire> &m_drawn;
    const std::function<bool()> &m_stop;
    kit::Car m_car;
    std::set<std::string> m_fed;
    Verdict m_now;
};

} // namespace

Causes causesOf(const kit::Assembly &car, const std::vector<kit::Wire> &drawn,
                const std::function<bool()> &stop)
{
    return Search(car, drawn, stop).go();
}

Fix both(Fix first, const Fix &second)
{
    first.exchanged.clear();
    for (const auto &w : second.out) {
        const auto put = std::find(first.in.begin(), first.in.end(), w);
        if (put == first.in.end())
            first.out.push_back(w);
        else
            first.in.erase(put);
    }
    first.in.insert(first.in.end(), second.in.begin(), second.in.end());
    first.jumpers.insert(first.jumpers.end(), second.jumpers.begin(), second.jumpers.end());
    first.pulled.insert(first.pulled.end(), second.pulled.begin(), second.pulled.end());
    for (const auto &[terminal, pin] : second.pins)
        first.pins[terminal] = pin;
    return first;
}

Fix fixOf(const Cause &cause)
{
    Fix fix = cause.slips.front().fix;
    for (size_t i = 1; i < cause.slips.size(); ++i)
        fix = both(std::move(fix), cause.slips[i].fix);
    return fix;
}

} // namespace badger::diagnose
