// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/rules/ping_spacing.h"

#include "core/rules/pass_time.h"
#include "core/sense/ultrasonic.h"

#include <algorithm>
#include <cmath>
#include <numbers>
#include <set>

namespace badger::rules
{

namespace
{

/// The times of a pass from the point of view of one of its pings.
class Times
{
public:
    Times(const Program &program, const std::map<std::string, RangerFacts> &rangers)
        : m_program(program)
    {
        std::map<std::string, PingFigures> figures;
        for (const auto &[reading, facts] : rangers)
            figures[reading] = {facts.deadZone_m, 0.0};
        m_terms = passTime(program, figures).terms;
        const auto *pause = program.value(program.passWait);
        m_pause_s = pause && pause->si ? *pause->si : 0.0;
    }

    /// Ping i to a later one of the same pass.
    double within_s(size_t i, size_t j) const { return shortest_s(i, j); }

    /// Ping i to ping j of the next pass, with a pause of `pause_s` and a line that takes `line_s`
    /// for what one pass prints.
    double across_s(size_t i, size_t j, double pause_s, double line_s) const
    {
        const size_t n = m_program.readings.size();
        const double rest_s = shortest_s(i, n);
        double before_s = 0.0;
        for (size_t k = 0; k < i; ++k)
            before_s += m_terms[k].longest_s;
        const double worked_s = before_s + rest_s;
        const double paused_s = m_program.passWaitKind == WaitKind::Blocking
                                    ? pause_s
                                    : std::max(0.0, pause_s - worked_s);
        const double printed_s = std::max(0.0, line_s - worked_s - paused_s);
        return rest_s + paused_s + printed_s + shortest_s(0, j);
    }

    /// The least pause that makes across_s(i, j) last `least_s`, as if nothing were printed.
    double pauseFor_s(size_t i, size_t j, double least_s) const
    {
        const double lacks_s = least_s - across_s(i, j, 0.0, 0.0);
        if (m_program.passWaitKind == WaitKind::Blocking)
            return lacks_s;
        double before_s = 0.0;
        for (size_t k = 0; k < i; ++k)
            before_s += m_terms[k].longest_s;
        return before_s + shortest_s(i, m_program.readings.size()) + lacks_s;
    }

    double pause_s() const { return m_pause_s; }
    /// How long what one pass prints takes on the line: no pass is shorter.
    double lineTime_s() const
    {
        constexpr double bitsPerCharacter = 10.0;
        return m_program.prints.on
                   ? printedCharacters(m_program) * bitsPerCharacter / m_program.prints.baud
                   : 0.0;
    }

private:
    double shortest_s(size_t from, size_t to) const
    {
        double sum_s = 0.0;
        for (size_t k = from; k < to; ++k)
            sum_s += m_terms[k].shortest_s;
        return sum_s;
    }
    const Program &m_program;
    std::vector<PassTime::Term> m_terms; ///< the readings' come first
    double m_pause_s = 0.0;
};

double angleBetween(double a_rad, double b_rad)
{
    return std::abs(std::remainder(a_rad - b_rad, 2.0 * std::numbers::pi));
}

} // namespace

PingSpacing pingSpacing(const Program &program, const std::map<std::string, RangerFacts> &rangers)
{
    PingSpacing found;
    const Times times(program, rangers);
    const auto &readings = program.readings;
    const size_t n = readings.size();
    double most_s = 0.0;
    for (size_t i = 0; i < n; ++i) {
        const auto first = rangers.find(readings[i].name);
        if (first == rangers.end())
            continue;
        std::set<std::string> seen; // the next ping of each ranger counts
        for (size_t step = 1; step <= n; ++step) {
            const size_t j = (i + step) % n;
            const bool nextPass = i + step >= n;
            const auto second = rangers.find(readings[j].name);
            const bool same = readings[j].instance == readings[i].instance;
            if (second == rangers.end() || !seen.insert(readings[j].instance).second)
                continue;
            const auto &a = first->second;
            const auto &b = second->second;
            PingGap gap{readings[i].name, readings[j].name, 0.0, 0.0, same, true};
            gap.beamsMeet =
                same || angleBetween(a.looks_rad, b.looks_rad) <= a.halfAngle_rad + b.halfAngle_rad;
            gap.least_s = sense::leastPingSpacing_s(
                a.range_m, 0.0, *sense::speedOfSound_mps(*readings[i].air_degC));
            gap.gap_s = nextPass ? times.across_s(i, j, times.pause_s(), times.lineTime_s())
                                 : times.within_s(i, j);
            if (gap.gap_s >= gap.least_s)
                continue;
            if (!nextPass) {
                found.inPass.push_back(gap);
                continue;
            }
            const double pause_s = times.pauseFor_s(i, j, gap.least_s);
            const bool meet = gap.beamsMeet || (found.nextPass && found.nextPass->beamsMeet);
            if (!found.nextPass || pause_s > most_s)
                found.nextPass = gap;
            found.nextPass->beamsMeet = meet;
            most_s = std::max(most_s, pause_s);
            constexpr double perMillisecond = 1000.0;
            found.pause_s = std::ceil(most_s * perMillisecond - 1e-6) / perMillisecond;
        }
    }
    return found;
}

} // namespace badger::rules
