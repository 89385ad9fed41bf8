// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/window/claim.h"

#include <algorithm>
#include <array>
#include <cmath>

namespace badger::window
{

namespace
{

constexpr std::array<double, 4> spent = {0.6, 0.2, 0.12, 0.08};
/// A limit so small that nobody can drive so often.
constexpr int mostRuns = 2000000;

/// How the events are spread after each run, as long as no look has ended it.
class Walk
{
public:
    explicit Walk(double rate) : m_rate(rate) { m_with[0] = 1.0; }

    void run()
    {
        for (size_t k = m_with.size(); k-- > 0;)
            m_with[k] = m_with[k] * (1.0 - m_rate) + (k > 0 ? m_with[k - 1] * m_rate : 0.0);
    }
    /// Of so many events or fewer; what a look with them would take.
    double upTo(size_t events) const
    {
        double sum = 0.0;
        for (size_t k = 0; k <= events; ++k)
            sum += m_with[k];
        return sum;
    }
    void end(size_t events)
    {
        for (size_t k = 0; k <= events; ++k)
            m_with[k] = 0.0;
    }

private:
    double m_rate;
    std::array<double, spent.size()> m_with{};
};

/// The probability of at most `events` in `runs`.
double atMost(int events, int runs, double rate)
{
    if (events >= runs)
        return 1.0;
    double sum = 0.0;
    double term = std::lgamma(runs + 1.0);
    for (int k = 0; k <= events; ++k)
        sum += std::exp(term - std::lgamma(k + 1.0) - std::lgamma(runs - k + 1.0) +
                        k * std::log(rate) + (runs - k) * std::log1p(-rate));
    return sum;
}

} // namespace

Looks looks(double limit, double confidence)
{
    Looks l{limit, confidence, {}};
    if (!(limit > 0.0 && limit < 1.0 && confidence >= 0.5 && confidence <= 0.999))
        return l;
    Walk walk(limit);
    int runs = 0;
    for (size_t k = 0; k < spent.size(); ++k) {
        const double share = spent[k] * (1.0 - confidence);
        do {
            walk.run();
            ++runs;
        } while (walk.upTo(k) > share && runs < mostRuns);
        walk.end(k);
        l.after.push_back(runs);
    }
    return l;
}

double shownAt(const Looks &looks, double rate)
{
    Walk walk(rate);
    double sum = 0.0;
    int runs = 0;
    for (size_t k = 0; k < looks.after.size(); ++k) {
        for (; runs < looks.after[k]; ++runs)
            walk.run();
        sum += walk.upTo(k);
        walk.end(k);
    }
    return sum;
}

Shown shown(const Looks &looks, int runs, int events)
{
    if (events >= static_cast<int>(looks.after.size()))
        return Shown::Never;
    return runs >= looks.after[static_cast<size_t>(events)] ? Shown::Yes : Shown::Open;
}

int mostMisses(int runs, double share, double confidence)
{
    const double error = 1.0 - confidence;
    int misses = -1;
    while (misses + 1 < runs && atMost(misses + 1, runs, 1.0 - share) <= error)
        ++misses;
    return misses;
}

double lowerBound(int events, int runs, double confidence)
{
    if (events <= 0)
        return 0.0;
    // The rate at which that many or more have the probability 1 - confidence.
    double low = 0.0;
    double high = double(events) / runs;
    for (int i = 0; i < 60; ++i) {
        const double middle = 0.5 * (low + high);
        (1.0 - atMost(events - 1, runs, middle) > 1.0 - confidence ? high : low) = middle;
    }
    return low;
}

} // namespace badger::window
