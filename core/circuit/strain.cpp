// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/circuit/strain.h"

#include "core/base/limit.h"

#include <algorithm>
#include <cmath>

namespace badger::circuit
{

using kit::Charge;
using parts::Kind;
using parts::Role;

namespace
{

// Choices of ours.
constexpr double shortTimes = 3.0; ///< what a source should give, taken while nothing moves
constexpr double leastShort_A = 0.5;
constexpr double charging_A = 0.02; ///< more than meters and cells differ by
constexpr double lightTimes = 2.5;
constexpr size_t mostOutputs = 24; ///< of drivers, that are tried one by one
constexpr double slack = 0.98;     ///< volts: less than what cells and meters differ by
constexpr double aboveRail_V = 0.5;
constexpr double belowGround_V = 0.6;
constexpr double sensorOutput_A = 0.006; ///< a sensor's output that works against something

class Looker
{
public:
    explicit Looker(const CarNetwork &net) : m_net(net), m_all(net.nets().all()) {}

    Looked go(Patterns patterns)
    {
        const std::vector<Level> low(m_net.outputs().size(), Level::Low);
        m_at = {Charge::Fresh, Moving::Idle, Figures::Typical, true, false};
        m_looked.rest = solve(low, nullptr);
        atRest(m_looked.rest);
        m_first = false;
        const Answer *before = &m_looked.rest;
        Answer last;
        const size_t outputs = m_net.outputs().size();
        if (patterns != Patterns::Rest)
            for (const auto &levels :
                 patterns == Patterns::Every ? everyPattern(outputs) : opposed(outputs)) {
                last = solve(levels, before);
                before = &last;
                atRest(last);
                signals(last);
            }
        if (patterns != Patterns::Rest)
            eachMotorOutput();
        m_at = {Charge::Nominal, Moving::Running, Figures::Typical, true, true};
        // Outputs are high, so that an enable on a pin is on; directions are told from outside.
        const std::vector<Level> high(m_net.outputs().size(), Level::High);
        m_looked.running = solve(high, &m_looked.rest);
        underway(m_looked.running);
        m_at.moving = Moving::Stalled;
        m_looked.stalled = solve(high, &m_looked.running);
        m_stalled = true;
        underway(m_looked.stalled);
        return std::move(m_looked);
    }

private:
    Answer solve(const std::vector<Level> &levels, const Answer *before)
    {
        auto a = m_net.solve(m_at, levels, before);
        m_looked.solved &= a.solved;
        return a;
    }

    /// Each motor output of a driver that lives, high against all others and low against them.
    void eachMotorOutput()
    {
        const auto &outs = m_net.motorOutputs();
        if (outs.size() > mostOutputs)
            return alternating();
        const std::vector<Level> low(m_net.outputs().size(), Level::Low);
        for (size_t o = 0; o < outs.size(); ++o) {
            const auto logic = m_net.logicOf(outs[o]);
            if (m_all[outs[o]].wires == 0 || logic == noMember ||
                m_net.ownVolts_V(m_looked.rest, logic).value_or(0.0) < alive_V)
                continue;
            for (const auto level : {Level::High, Level::Low}) {
                std::vector<Level> halves(outs.size(),
                                          level == Level::High ? Level::Low : Level::High);
                halves[o] = level;
                const auto a = m_net.solveWith(m_at, low, halves, &m_looked.rest);
                m_looked.solved &= a.solved;
                motorOutputs(a);
                signals(a);
            }
        }
    }

    /// More drivers than a car carries: each output against every other, in few patterns.
    void alternating()
    {
        const std::vector<Level> low(m_net.outputs().size(), Level::Low);
        for (const auto &halves : opposed(m_net.motorOutputs().size())) {
            const auto a = m_net.solveWith(m_at, low, halves, &m_looked.rest);
            m_looked.solved &= a.solved;
            motorOutputs(a);
            signals(a);
        }
    }

    /// What only the outputs themselves and what hangs on them can pass.
    void motorOutputs(const Answer &a)
    {
        for (size_t i = 0; i < m_net.elements().size(); ++i)
            if (const auto &e = m_net.elements()[i]; e.what == What::Upper || e.what == What::Lower)
                motorOutput(e, a.solution.amps_A[i]);
        supplies(a);
    }

    void add(Harm harm, size_t member, double value, double limit)
    {
        for (auto &s : m_looked.strains)
            if (s.harm == harm && s.member == member) {
                if (s.stalled == m_stalled && std::abs(value) > std::abs(s.value)) {
                    s.value = value;
                    s.limit = limit;
                }
                return;
            }
        m_looked.strains.push_back({harm, member, value, limit, m_stalled, m_first});
    }

    /// What must hold in every state without motion.
    void atRest(const Answer &a)
    {
        for (size_t i = 0; i < m_net.elements().size(); ++i) {
            const auto &e = m_net.elements()[i];
            const double amps = a.solution.amps_A[i];
            if (e.what == What::Source)
                source(e, amps);
            if (e.what == What::Light && amps > lightTimes * limitOf(*e.part, "running_A", 1.0))
                add(Harm::LightAmps, e.from, amps, limitOf(*e.part, "running_A", 1.0));
            if (e.what == What::Resistor)
                resistor(e, amps, a);
            if (e.what == What::Upper || e.what == What::Lower)
                motorOutput(e, amps);
        }
        supplies(a);
        links(a);
    }

    static double limitOf(const parts::Part &part, const std::string &key, double otherwise)
    {
        const auto *f = part.figure(key);
        return f ? f->typical : otherwise;
    }

    void source(const Element &e, double amps)
    {
        const bool cells = e.part->kind == Kind::Cell;
        const double limit = limitOf(*e.part, cells ? "advised_A" : "limit_A", 1.0) *
                             (cells ? std::max(1, e.fitted->cellsInParallel) : 1);
        if (isPast(-amps, std::max(leastShort_A, (cells ? shortTimes : 1.2) * limit)))
            add(Harm::Shorted, e.from, -amps, limit);
        if (amps > charging_A)
            add(Harm::Charged, e.from, amps, 0.0);
    }

    void resistor(const Element &e, double amps, const Answer &a)
    {
        const auto *limit = e.part->figure("limit_W");
        const auto v = m_net.volts_V(a, e.from);
        const auto w = m_net.volts_V(a, e.to);
        if (limit && v && w && std::abs((*v - *w) * amps) > limit->typical)
            add(Harm::ResistorHeat, e.from, std::abs((*v - *w) * amps), limit->typical);
    }

    void motorOutput(const Element &e, double amps)
    {
        const double peak = limitOf(*e.part, "peak_A", 1e9);
        if (std::abs(amps) > peak)
            add(Harm::OutputAmps, e.what == What::Upper ? e.to : e.from, std::abs(amps), peak);
    }

    void supplies(const Answer &a)
    {
        for (size_t i = 0; i < m_all.size(); ++i) {
            const auto &t = *m_all[i].terminal;
            const auto v = m_net.ownVolts_V(a, i);
            const bool rail = t.role == Role::SupplyOut;
            if (!v || (t.role != Role::SupplyIn && !rail))
                continue;
            const bool grounded = m_net.hasGround(a, i);
            if (*v < -belowGround_V && grounded)
                add(Harm::Backwards, i, *v, 0.0);
            constexpr double aboveSet_V = 0.3;
            const double most = t.window ? t.window->high_V : rail ? t.source_V + aboveSet_V : 1e9;
            if (*v > most && grounded)
                add(Harm::OverVolts, i, *v, most);
        }
    }

    void links(const Answer &a)
    {
        for (size_t i = 0; i < m_net.elements().size(); ++i) {
            const auto &e = m_net.elements()[i];
            const auto *limit = e.what == What::Link ? e.part->figure("limit_A") : nullptr;
            if (limit && isPast(std::abs(a.solution.amps_A[i]), limit->typical))
                add(Harm::LinkAmps, e.from, std::abs(a.solution.amps_A[i]), limit->typical);
        }
        for (size_t i = 0; i < m_net.regulators().size(); ++i) {
            const auto &r = m_net.regulators()[i];
            if (r.to == noMember)
                continue;
            const auto *limit = r.part->figure("limit_" + m_all[r.to].terminal->name + "_A");
            if (limit && isPast(a.solution.regulators_A[i], limit->typical))
                add(Harm::RegulatorAmps, r.to, a.solution.regulators_A[i], limit->typical);
        }
    }

    void signals(const Answer &a)
    {
        for (size_t i = 0; i < m_net.elements().size(); ++i)
            stage(m_net.elements()[i], a.solution.amps_A[i]);
        for (size_t i = 0; i < m_all.size(); ++i)
            input(i, a);
    }

    void stage(const Element &e, double amps)
    {
        const bool sensor = e.what == What::SensorHigh || e.what == What::SensorLow;
        if (!sensor && e.what != What::PinHigh && e.what != What::PinLow)
            return;
        const double most = sensor ? sensorOutput_A : limitOf(*e.part, "pin_absolute_A", 0.04);
        if (std::abs(amps) > most)
            add(Harm::PinAmps, m_net.outputs()[e.output].member, std::abs(amps), most);
    }

    void input(size_t i, const Answer &a)
    {
        const auto role = m_all[i].terminal->role;
        const bool takes = role == Role::Pin || role == Role::Trigger || role == Role::Direction ||
                           role == Role::Enable ||
                           (role == Role::Signal && m_all[i].part->kind != Kind::Divider &&
                            m_all[i].part->kind != Kind::Led);
        const auto v = takes ? m_net.ownVolts_V(a, i) : std::nullopt;
        // A board whose ground hangs apart from the motors' still burns on its own sensors.
        if (!v || !(m_net.isHeld(a, i) || m_net.hasGround(a, i)))
            return;
        double most = 1e9;
        if (const auto *high = m_all[i].part->figure("pin_high_V"))
            most = high->high;
        if (const auto rail = m_net.logicOf(i); rail != noMember)
            if (const auto r = m_net.ownVolts_V(a, rail); r && *r > aboveRail_V)
                most = std::min(most, std::max(*r, logicVolts(i)) + aboveRail_V);
        if (*v > most || *v < -belowGround_V)
            add(Harm::PinVolts, i, *v, *v < 0.0 ? 0.0 : most);
    }

    double logicVolts(size_t i) const
    {
        return m_all[i].part->kind == Kind::Board ? 0.0 : limitOf(*m_all[i].part, "logic_V", 5.0);
    }

    /// The part gets its volts at another terminal: a board that is fed at its rail.
    bool livesOtherwise(size_t input, const Answer &a) const
    {
        const auto own = m_net.ownSupplyOf(input);
        if (own == noMember || own == input || m_all[input].terminal->motors ||
            !m_all[own].terminal->window)
            return false;
        return m_net.ownVolts_V(a, own).value_or(0.0) >= m_all[own].terminal->window->low_V;
    }

    void underway(const Answer &a)
    {
        links(a);
        for (size_t i = 0; i < m_net.elements().size(); ++i) {
            const auto &e = m_net.elements()[i];
            const auto *limit = e.part->figure("limit_A");
            if (e.what == What::Source && e.part->kind == Kind::Supply && limit &&
                isPast(-a.solution.amps_A[i], limit->typical))
                add(Harm::SourceAmps, e.from, -a.solution.amps_A[i], limit->typical);
        }
        if (m_stalled)
            return;
        for (size_t i = 0; i < m_all.size(); ++i) {
            const auto &t = *m_all[i].terminal;
            const auto v = m_net.ownVolts_V(a, i);
            const bool isRail = t.role == Role::SupplyOut && m_all[i].part->kind == Kind::Board &&
                                m_net.ownSupplyOf(i) == i;
            if ((t.role == Role::SupplyIn || isRail) && t.window && v && m_all[i].wires > 0 &&
                *v < slack * t.window->low_V && !livesOtherwise(i, a))
                add(Harm::UnderVolts, i, *v, t.window->low_V);
        }
    }

    const CarNetwork &m_net;
    const std::vector<nets::Member> &m_all;
    Conditions m_at;
    Looked m_looked;
    bool m_stalled = false;
    bool m_first = true;
};

} // namespace

Evidence::Of unitOf(Harm harm)
{
    switch (harm) {
    case Harm::Backwards:
    case Harm::OverVolts:
    case Harm::UnderVolts:
    case Harm::PinVolts:
        return Evidence::Of::Volts;
    case Harm::ResistorHeat:
        return Evidence::Of::Watts;
    default:
        return Evidence::Of::Amps;
    }
}

std::vector<std::vector<Level>> opposed(size_t outputs)
{
    std::vector<std::vector<Level>> all;
    if (outputs == 0)
        return all;
    all.emplace_back(outputs, Level::High);
    for (size_t bit = 1; bit < outputs; bit *= 2) {
        std::vector<Level> levels(outputs);
        std::vector<Level> others(outputs);
        for (size_t i = 0; i < outputs; ++i) {
            levels[i] = (i & bit) != 0 ? Level::High : Level::Low;
            others[i] = (i & bit) != 0 ? Level::Low : Level::High;
        }
        all.push_back(std::move(levels));
        all.push_back(std::move(others));
    }
    all.emplace_back(outputs, Level::Low);
    return all;
}

std::vector<std::vector<Level>> everyPattern(size_t outputs)
{
    constexpr size_t mostBits = 8;
    std::vector<std::vector<Level>> all;
    if (outputs > mostBits) {
        all = opposed(outputs);
        for (size_t i = 0; i < outputs; ++i) {
            all.emplace_back(outputs, Level::Low);
            all.back()[i] = Level::High;
        }
        return all;
    }
    for (size_t pattern = 0; outputs > 0 && pattern < (size_t(1) << outputs); ++pattern) {
        all.emplace_back(outputs, Level::Low);
        for (size_t i = 0; i < outputs; ++i)
            if ((pattern >> i) & 1)
                all.back()[i] = Level::High;
    }
    return all;
}

Looked look(const CarNetwork &net, Patterns patterns)
{
    return Looker(net).go(patterns);
}

} // namespace badger::circuit
