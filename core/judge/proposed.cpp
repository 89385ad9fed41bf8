// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/judge/proposed.h"

#include "core/judge/budget.h"
#include "core/power/report.h"

#include <algorithm>
#include <cmath>
#include <set>

namespace badger::judge
{

using rules::ValueKind;
using units::quantity;
using units::Unit;

namespace
{

class Proposer
{
public:
    Proposer(const kit::Assembly &car, const rules::Program &program)
        : m_car(car), m_program(program), m_stop(stopRule(program, car))
    {
    }

    std::vector<ProposedValue> all()
    {
        speeds();
        dwells();
        readings();
        pause();
        threshold();
        return std::move(m_all);
    }

private:
    void speeds()
    {
        const auto report = power::report(m_car);
        int dead = -1;
        int cap = 255;
        bool servo = false;
        for (const auto &m : report.at(kit::Charge::Nominal)) {
            dead = std::max(dead, m.deadBand_counts);
            servo |= m.servo;
        }
        for (const auto &m : report.at(kit::Charge::Fresh))
            if (!m.servo)
                cap = std::min(cap, m.cap.count);
        if (dead < 0 && !servo)
            return; // no motor is reached by a supply
        constexpr int half = 128;
        constexpr int step = 5;
        const int wished = dead < 0 ? half : (2 * dead + step / 2) / step * step;
        const int count = std::min(wished, cap);
        if (count <= dead)
            return;
        const auto speed = drive::speedAt(m_car, count);
        const auto fast =
            speed ? say(": {}", quantity(speed->value, Unit::MetrePerSecond, 2)) : Say();
        const auto why =
            dead < 0 ? say("half of full speed{}", fast)
            : wished > cap
                ? say("the greatest count that fresh cells allow the motors, {} of 255{}", count,
                      fast)
                : say("twice the {} counts up to which the wheels do not turn{}", dead, fast);
        for (const auto &v : m_program.values)
            if (!v.si && v.kind == ValueKind::Speed)
                m_all.push_back({ProposedValue::What::Value, v.name, static_cast<double>(count),
                                 say("{}", count), why});
    }

    void dwells()
    {
        constexpr double settle_s = 0.05;
        constexpr double ahead_deg = 90.0;
        std::set<std::string> done;
        for (const auto &r : m_program.readings) {
            const auto *v = r.swivel ? m_program.value(r.swivel->dwell) : nullptr;
            const auto *servo = r.swivel ? m_car.find(r.swivel->servo) : nullptr;
            const auto *per60 = servo ? servo->part->figure("s_per_60deg") : nullptr;
            if (v == nullptr || v->si || per60 == nullptr || !done.insert(v->name).second)
                continue;
            double least_deg = ahead_deg;
            double most_deg = ahead_deg;
            for (const auto &other : m_program.readings)
                if (other.swivel && other.swivel->servo == r.swivel->servo)
                    for (const double a : other.swivel->angles_deg) {
                        least_deg = std::min(least_deg, a);
                        most_deg = std::max(most_deg, a);
                    }
            const double way_deg = most_deg - least_deg;
            const double s =
                std::ceil((way_deg / 60.0 * per60->high + settle_s) * 100.0 - 1e-6) / 100.0;
            const auto ms = [](double x) { return quantity(x, Unit::Millisecond, 0); };
            constexpr double degree = 3.14159265358979323846 / 180.0;
            m_all.push_back(
                {ProposedValue::What::Value, v->name, s, ms(s),
                 say("{} at {} for 60 degrees, and {} to settle",
                     quantity(way_deg * degree, Unit::Degree, 0), ms(per60->high), ms(settle_s))});
        }
    }

    void readings()
    {
        constexpr double usual_m = 2.0;
        constexpr double room_degC = 20.0;
        for (const auto &r : m_program.readings) {
            if (!rules::isEcho(r))
                continue;
            const auto ranger = rangerOf(m_car, r);
            const auto *range = ranger ? (*ranger)->figure("range_m") : nullptr;
            if (!r.limit_m && range != nullptr) {
                const double m = std::min(usual_m, range->low);
                m_all.push_back({ProposedValue::What::Limit, r.name, m,
                                 quantity(m, Unit::Centimetre, 0),
                                 say("within the ranger's {}; what is farther makes each look "
                                     "longer and stops nothing",
                                     quantity(range->low, Unit::Metre, 1))});
            }
            if (!r.air_degC)
                m_all.push_back({ProposedValue::What::Air, r.name, room_degC,
                                 quantity(room_degC, Unit::Celsius, 0),
                                 say("a heated room; 10 degrees more or less are 1.8 % of a "
                                     "distance")});
        }
    }

    void pause()
    {
        constexpr double usual_s = 0.06;
        const auto *v = m_program.value(m_program.passWait);
        if (v == nullptr || v->si ||
            std::none_of(m_program.readings.begin(), m_program.readings.end(), rules::isEcho))
            return;
        m_all.push_back({ProposedValue::What::Value, v->name, usual_s,
                         quantity(usual_s, Unit::Millisecond, 0),
                         say("a late echo of one ping is gone before the next leaves")});
    }

    /// The program with everything chosen somehow, for the budget alone: policies that stop, what
    /// is waited for half a second.
    rules::Program completed() const
    {
        auto p = withProposed(m_program, m_all);
        for (auto &r : p.readings) {
            if (r.noEcho == rules::NoEcho::Unset)
                r.noEcho = rules::NoEcho::Stop;
            if (r.nearest_m && r.tooNear == rules::NoEcho::Unset)
                r.tooNear = rules::NoEcho::Stop;
            if (r.farthest_m && r.wild == rules::NoEcho::Unset)
                r.wild = rules::NoEcho::Stop;
        }
        for (auto &v : p.values)
            if (!v.si)
                v.si = v.kind == ValueKind::Distance    ? 1.0
                       : v.kind == ValueKind::Duration  ? 0.5
                       : v.kind == ValueKind::PerDegree ? 0.005
                                                        : 1.0;
        return p;
    }

    void threshold()
    {
        if (m_stop.value == nullptr || m_stop.value->si)
            return;
        const auto budget = budgetOf(m_car, completed());
        // A turn's corner needs more room than stopping does, and how much is not known here.
        if (!budget || budget->valueName != m_stop.value->name || budget->act == rules::Act::Turn)
            return;
        const double wanted_m = m_car->wantedGap_m.value_or(0.0);
        const auto least_m = drive::leastThreshold_m(budget->setup, wanted_m);
        if (!least_m)
            return;
        constexpr double more_m = 0.05;
        const double m = std::ceil((*least_m + more_m) * 100.0 - 1e-6) / 100.0;
        const auto cm = [](double x) { return quantity(x, Unit::Centimetre, 1); };
        m_all.push_back({ProposedValue::What::Value, m_stop.value->name, m,
                         quantity(m, Unit::Centimetre, 0),
                         wanted_m > 0.0 ? say("at worst {} are needed to leave {}, and {} more",
                                              cm(*least_m), cm(wanted_m), cm(more_m))
                                        : say("at worst {} are needed to stop in time, and {} more",
                                              cm(*least_m), cm(more_m))});
    }

    const kit::Assembly &m_car;
    const rules::Program &m_program;
    StopRule m_stop;
    std::vector<ProposedValue> m_all;
};

} // namespace

std::vector<ProposedValue> proposedValues(const kit::Assembly &car, const rules::Program &program)
{
    return Proposer(car, program).all();
}

rules::Program withProposed(rules::Program program, const std::vector<ProposedValue> &all)
{
    for (const auto &p : all) {
        for (auto &v : program.values)
            if (p.what == ProposedValue::What::Value && v.name == p.name) {
                v.si = p.si;
                v.suggested = true;
            }
        for (auto &r : program.readings) {
            if (p.what == ProposedValue::What::Limit && r.name == p.name)
                r.limit_m = p.si;
            if (p.what == ProposedValue::What::Air && r.name == p.name)
                r.air_degC = p.si;
        }
    }
    return program;
}

} // namespace badger::judge
