// SPDX-License-Identifier: GPL-3.0-or-later
#include "bench/campaign/facts.h"

#include <algorithm>
#include <cmath>

namespace badger::campaign
{

using circuit::Answer;
using circuit::Conditions;
using circuit::Level;
using circuit::What;
using parts::Role;

namespace
{

std::vector<Level> levelsOf(const circuit::CarNetwork &net, const Pattern &pattern)
{
    std::vector<Level> levels;
    for (const auto &o : net.outputs()) {
        const auto it = pattern.find(net.nets().all()[o.member].name);
        levels.push_back(it == pattern.end() ? Level::Low : it->second);
    }
    return levels;
}

const Conditions told{kit::Charge::Nominal, circuit::Moving::Running, circuit::Figures::Typical,
                      true, false};
const Conditions fresh{kit::Charge::Fresh, circuit::Moving::Idle, circuit::Figures::Typical, true,
                       false};

std::vector<double> motorVolts(const circuit::CarNetwork &net, const Answer &a)
{
    std::vector<double> volts;
    for (const auto &e : net.elements())
        if (e.what == What::Motor)
            volts.push_back(net.volts_V(a, e.from).value_or(0) - net.volts_V(a, e.to).value_or(0));
    return volts;
}

double limit(const parts::Part &part, const std::string &key, double otherwise)
{
    const auto *f = part.figure(key);
    return f ? f->typical : otherwise;
}

class Reader
{
public:
    Reader(const circuit::CarNetwork &net, Facts &facts)
        : m_net(net), m_all(net.nets().all()), m_facts(facts)
    {
    }

    void amps(const Answer &a, bool atRest)
    {
        for (size_t i = 0; i < m_net.elements().size(); ++i) {
            const auto &e = m_net.elements()[i];
            const double amps = a.solution.amps_A[i];
            const auto over = [&](size_t at, double most) {
                if (std::abs(amps) > most)
                    m_facts.over.insert("amps " + m_all[at].name);
            };
            switch (e.what) {
            case What::Source: {
                const double most =
                    limit(*e.part, e.part->kind == parts::Kind::Cell ? "advised_A" : "limit_A", 1) *
                    std::max(1, e.fitted->cellsInParallel);
                if (amps > 0.05)
                    m_facts.over.insert("charged " + m_all[e.from].name);
                if (atRest)
                    over(e.from, std::max(0.6, 3.0 * most));
                break;
            }
            case What::PinHigh:
            case What::PinLow:
                over(m_net.outputs()[e.output].member, limit(*e.part, "pin_absolute_A", 0.04));
                break;
            case What::SensorHigh:
            case What::SensorLow:
                over(m_net.outputs()[e.output].member, 0.006);
                break;
            case What::Link:
                over(e.from, limit(*e.part, "limit_A", 1e9));
                break;
            case What::Upper:
                over(e.to, limit(*e.part, "peak_A", 1e9));
                break;
            case What::Lower:
                over(e.from, limit(*e.part, "peak_A", 1e9));
                break;
            case What::Light:
                over(e.from, 3.0 * limit(*e.part, "running_A", 0.012));
                break;
            case What::Own:
                if (amps < -0.02)
                    m_facts.over.insert("backwards " + m_all[e.from].name);
                break;
            default:
                break;
            }
        }
        for (size_t i = 0; i < m_net.regulators().size(); ++i)
            if (const auto to = m_net.regulators()[i].to; to != circuit::noMember)
                if (a.solution.regulators_A[i] >
                    limit(*m_all[to].part, "limit_" + m_all[to].terminal->name + "_A", 1e9))
                    m_facts.over.insert("amps " + m_all[to].name);
    }

    void volts(const Answer &a)
    {
        for (size_t i = 0; i < m_all.size(); ++i) {
            const auto &t = *m_all[i].terminal;
            const auto v = m_net.ownVolts_V(a, i);
            if (!v)
                continue;
            const bool rail = t.role == Role::SupplyOut;
            if ((t.role == Role::SupplyIn || rail) &&
                (*v < -0.7 || (t.window && *v > t.window->high_V + 0.01) ||
                 (rail && !t.window && *v > t.source_V + 0.5)) &&
                bothHeld(a, i))
                m_facts.over.insert("volts " + m_all[i].name);
            if ((t.role == Role::Direction || t.role == Role::Enable || t.role == Role::Trigger) &&
                bothHeld(a, i)) {
                const auto own = m_net.logicOf(i);
                const double logic =
                    own == circuit::noMember ? 5.0 : m_net.ownVolts_V(a, own).value_or(5.0);
                if (logic > 2.0 && *v > logic + 0.6)
                    m_facts.over.insert("volts " + m_all[i].name);
            }
            if (t.role == Role::Pin && bothHeld(a, i)) {
                const double most = m_all[i].part->figure("pin_high_V")
                                        ? m_all[i].part->figure("pin_high_V")->high
                                        : 5.5;
                if (*v > most + 0.01 || *v < -0.7)
                    m_facts.over.insert("volts " + m_all[i].name);
            }
        }
    }

    void windows(const Answer &a)
    {
        for (size_t i = 0; i < m_all.size(); ++i) {
            const auto &t = *m_all[i].terminal;
            if (t.role != Role::SupplyIn || !t.window || otherwiseFed(a, i))
                continue;
            if (m_net.ownVolts_V(a, i).value_or(0.0) < 0.97 * t.window->low_V)
                m_facts.under.insert(m_all[i].name);
        }
        for (size_t i = 0; i < m_all.size(); ++i) // a rail that others live on
            if (m_all[i].terminal->role == Role::SupplyOut && m_all[i].terminal->window &&
                m_net.ownVolts_V(a, i).value_or(0.0) < 0.97 * m_all[i].terminal->window->low_V)
                m_facts.under.insert(m_all[i].name);
    }

    void reach(const Answer &rest)
    {
        for (size_t o = 0; o < m_net.outputs().size(); ++o) {
            std::vector<Level> levels(m_net.outputs().size(), Level::Low);
            levels[o] = Level::High;
            const auto a = m_net.solve(fresh, levels, &rest);
            m_facts.solved &= a.solved;
            auto &reached = m_facts.reach[m_all[m_net.outputs()[o].member].name];
            for (size_t i = 0; i < m_all.size(); ++i) {
                if (i == m_net.outputs()[o].member || !listens(i))
                    continue;
                if (m_all[i].terminal->role == Role::Pin
                        ? std::abs(m_net.ownVolts_V(a, i).value_or(0) -
                                   m_net.ownVolts_V(rest, i).value_or(0)) > 1.5
                        : m_net.seen(a, i) != m_net.seen(rest, i))
                    reached.insert(m_all[i].name);
            }
            for (size_t i = 0; i < m_net.elements().size(); ++i)
                if (m_net.elements()[i].what == What::Light &&
                    (a.solution.amps_A[i] > 1e-3) != (rest.solution.amps_A[i] > 1e-3))
                    reached.insert(m_all[m_net.elements()[i].from].name);
        }
    }

    void motors(const std::vector<Pattern> &patterns, const Answer &rest)
    {
        std::vector<std::string> names;
        for (const auto &e : m_net.elements())
            if (e.what == What::Motor)
                names.push_back(e.fitted->id);
        const bool board = m_net.nets().car().first(parts::Kind::Board) != nullptr;
        Answer before = rest;
        for (const auto &p : patterns) {
            before = m_net.solve(told, levelsOf(m_net, p), &before);
            m_facts.solved &= before.solved;
            volts(before);
            const auto across = motorVolts(m_net, before);
            std::vector<int> does;
            for (size_t i = 0; i < names.size(); ++i) {
                does.push_back(across[i] > 0.5 ? 1 : across[i] < -0.5 ? -1 : 0);
                auto &most = m_facts.most_V[names[i]];
                most = std::max(most, std::abs(across[i]));
                if (!board)
                    m_facts.motors_V[names[i]].push_back(across[i]);
            }
            m_facts.repertoire.insert(does);
        }
        // Each output high alone, whatever the inputs say.
        for (size_t o = 0; o < m_net.motorOutputs().size(); ++o) {
            std::vector<Level> halves(m_net.motorOutputs().size(), Level::Low);
            halves[o] = Level::High;
            const auto a = m_net.solveWith(
                told, std::vector<Level>(m_net.outputs().size(), Level::Low), halves);
            volts(a);
            const auto across = motorVolts(m_net, a);
            for (size_t i = 0; i < names.size(); ++i)
                if (std::abs(across[i]) > 0.5)
                    m_facts.drives[names[i]].insert((board           ? ""
                                                     : across[i] > 0 ? "+"
                                                                     : "-") +
                                                    m_all[m_net.motorOutputs()[o]].name);
        }
    }

    void connections(const Answer &rest)
    {
        for (size_t i = 0; i < m_all.size(); ++i) {
            const auto &m = m_all[i];
            const auto ground = m_net.groundOf(i);
            if (m.terminal->role == Role::Pin && m.terminal->serial && m.wires > 0)
                m_facts.serial.insert(m.name);
            const bool signal = m.terminal->role != Role::Ground && m.wires > 0 &&
                                m.terminal->role != Role::SupplyIn;
            constexpr double lifted_V = 0.25;
            if (signal && ground != circuit::noMember &&
                (!m_net.isHeld(rest, ground) ||
                 std::abs(m_net.volts_V(rest, ground).value_or(0.0)) > lifted_V))
                m_facts.apart.insert(m.fitted->id);
            if ((m.terminal->role == Role::Direction || m.terminal->role == Role::Enable) &&
                m_net.seen(rest, i) == circuit::Seen::Open)
                m_facts.open.insert(m.name);
            if (m.terminal->role != Role::Pin)
                m_facts.asked.insert(m.name);
            if (m.wires > 0 && gives(rest, i))
                for (size_t k = 0; k < m_all.size(); ++k) {
                    if (k == i || m_net.nodeOf(k) != m_net.nodeOf(i))
                        continue;
                    if (gives(rest, k))
                        m_facts.over.insert("together " + m.name);
                    if (m_all[k].terminal->motors && m.terminal->role == Role::SupplyOut)
                        m_facts.over.insert("regulated " + m_all[k].name);
                }
        }
    }

private:
    /// A board's input that its regulator does not need: the rail behind is fed from outside.
    bool otherwiseFed(const Answer &a, size_t input) const
    {
        for (size_t i = 0; i < m_all.size(); ++i)
            if (m_all[i].fitted == m_all[input].fitted && m_all[i].terminal->window &&
                m_all[i].terminal->fedBy == m_all[input].terminal->name)
                return m_net.ownVolts_V(a, i).value_or(0.0) >= m_all[i].terminal->window->low_V;
        return false;
    }

    /// A pack, or a regulated output whose own input is high enough.
    bool gives(const Answer &a, size_t out) const
    {
        if (m_all[out].terminal->role == Role::Plus)
            return true;
        if (m_all[out].terminal->role != Role::SupplyOut)
            return false;
        for (size_t i = 0; i < m_all.size(); ++i)
            if (m_all[i].fitted == m_all[out].fitted &&
                m_all[i].terminal->name == m_all[out].terminal->fedBy)
                return m_net.isHeld(a, i) &&
                       m_net.ownVolts_V(a, i).value_or(0.0) >= m_all[out].terminal->needs_V;
        return false;
    }

    bool bothHeld(const Answer &a, size_t i) const
    {
        const auto ground = m_net.groundOf(i);
        return m_net.isHeld(a, i) && (ground == circuit::noMember || m_net.isHeld(a, ground));
    }

    /// An input: of a part, or a pin that is not driven itself.
    bool listens(size_t i) const
    {
        const auto role = m_all[i].terminal->role;
        if (role == Role::Pin)
            return std::none_of(m_net.outputs().begin(), m_net.outputs().end(),
                                [&](const circuit::Output &o) { return o.member == i; });
        return role == Role::Trigger || role == Role::Direction || role == Role::Enable ||
               (role == Role::Signal && m_all[i].part->kind != parts::Kind::Divider &&
                m_all[i].part->kind != parts::Kind::Led);
    }

    const circuit::CarNetwork &m_net;
    const std::vector<nets::Member> &m_all;
    Facts &m_facts;
};

} // namespace

std::vector<Pattern> drivingPatterns(const circuit::CarNetwork &net)
{
    std::vector<std::string> drivers;
    for (const auto &o : net.outputs()) {
        const auto &name = net.nets().all()[o.member].name;
        if (!net.nets().onLine(name, Role::Direction).empty() ||
            !net.nets().onLine(name, Role::Enable).empty())
            drivers.push_back(name);
    }
    constexpr size_t most = 6;
    std::vector<Pattern> all;
    for (size_t n = 0; n < (size_t{1} << std::min(most, drivers.size())); ++n) {
        const size_t bits = n ^ (n >> 1); // one changes at a time
        Pattern pattern;
        for (size_t k = 0; k < drivers.size(); ++k)
            pattern[drivers[k]] = (bits >> k & 1) != 0 ? Level::High : Level::Low;
        all.push_back(std::move(pattern));
    }
    return all;
}

Facts factsOf(const circuit::CarNetwork &net, const std::vector<Pattern> &patterns)
{
    Facts f;
    Reader read(net, f);
    const auto rest = net.solve(fresh, std::vector<Level>(net.outputs().size(), Level::Low));
    f.solved &= rest.solved;
    read.amps(rest, true);
    read.volts(rest);
    std::vector<Level> levels(net.outputs().size());
    for (size_t bit = 1; bit < 2 * levels.size(); bit *= 2)
        for (const bool other : {false, true}) {
            for (size_t o = 0; o < levels.size(); ++o)
                levels[o] = ((o & bit) != 0) != other ? Level::High : Level::Low;
            const auto a = net.solve(fresh, levels, &rest);
            f.solved &= a.solved;
            read.amps(a, true);
            read.volts(a);
        }
    auto driven = told;
    driven.driven = true;
    const auto running =
        net.solve(driven, std::vector<Level>(net.outputs().size(), Level::High), &rest);
    read.amps(running, false);
    read.windows(running);
    read.windows(rest);
    read.reach(rest);
    read.motors(patterns, rest);
    read.connections(rest);
    for (const auto &[terminal, pin] : net.nets().car()->programPins)
        for (const auto &m : net.nets().all())
            if (m.terminal->role == Role::Pin && m.terminal->name == pin)
                f.asked.insert(m.name);
    return f;
}

} // namespace badger::campaign
