// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/logbook/measured.h"

#include <algorithm>
#include <boost/math/distributions/binomial.hpp>
#include <boost/math/distributions/students_t.hpp>
#include <cmath>
#include <fmt/format.h>
#include <fmt/ranges.h>

namespace badger::logbook
{

std::optional<GapStatistics> statistics(const Pieces<MeasuredTrial> &trials)
{
    std::vector<double> gaps;
    GapStatistics s;
    for (const auto &t : trials) {
        if (t.contact)
            ++s.contacts;
        if (t.contact || t.gap_m)
            gaps.push_back(t.contact ? 0.0 : *t.gap_m);
    }
    if (gaps.empty())
        return std::nullopt;
    const double n = double(gaps.size());
    s.runs = static_cast<int>(gaps.size());
    s.least_m = *std::min_element(gaps.begin(), gaps.end());
    s.most_m = *std::max_element(gaps.begin(), gaps.end());
    for (const double g : gaps)
        s.mean_m += g / n;
    if (gaps.size() > 1) {
        double squares = 0.0;
        for (const double g : gaps)
            squares += (g - s.mean_m) * (g - s.mean_m);
        s.spread_m = std::sqrt(squares / (n - 1.0));
    }
    return s;
}

std::vector<Say> differences(const Pieces<MeasuredTrial> &trials)
{
    constexpr double sameBattery_V = 0.3; // about 4 % of six cells: a choice of ours
    std::vector<Say> found;
    const auto differs = [&](SourceText<> name, auto get) {
        if (std::any_of(trials.begin(), trials.end(),
                        [&](const auto &t) { return get(t) != get(trials.front()); }))
            found.emplace_back(name);
    };
    differs(source("threshold"), [](const MeasuredTrial &t) { return t.threshold_m; });
    differs(source("speed"), [](const MeasuredTrial &t) { return t.pwm_counts; });
    differs(source("floor"), [](const MeasuredTrial &t) { return t.floor; });
    differs(source("program version"), [](const MeasuredTrial &t) { return t.programVersion; });
    const auto [low, high] =
        std::minmax_element(trials.begin(), trials.end(),
                            [](const auto &a, const auto &b) { return a.battery_V < b.battery_V; });
    if (!trials.empty() && high->battery_V - low->battery_V > sameBattery_V)
        found.emplace_back(say("battery by more than 0.3 V"));
    return found;
}

Result<Proposal> propose(const Pieces<MeasuredTrial> &trials, double wantedGap_m)
{
    const auto stats = statistics(trials);
    if (!stats)
        return fail(Error::Kind::Missing, "trials", say("no gap has been measured yet"),
                    say("run the car and enter what the ruler says"));
    if (const auto mixed = differences(trials); !mixed.empty())
        return fail(Error::Kind::Conflict, "trials",
                    say("the trials differ in {}", joined(mixed, ", ")),
                    say("compare trials in which one thing was changed"));
    if (stats->contacts > 0)
        return fail(Error::Kind::Conflict, "trials",
                    say("{} of {} runs ended in contact", stats->contacts, stats->runs),
                    say("raise the threshold until the car stops short, then measure the gap"));
    Proposal p;
    p.runs = stats->runs;
    p.threshold_m = trials.front().threshold_m;
    p.meanGap_m = stats->mean_m;
    p.overshoot_m = p.threshold_m - p.meanGap_m;
    p.wantedGap_m = wantedGap_m;
    if (stats->spread_m) {
        const boost::math::students_t t(p.runs - 1);
        p.margin_m =
            boost::math::quantile(t, 0.95) * *stats->spread_m * std::sqrt(1.0 + 1.0 / p.runs);
    }
    p.exact_m = wantedGap_m + p.overshoot_m + p.margin_m.value_or(0.0);
    // A hair below a whole centimetre is that centimetre, not the next one.
    p.next_m = std::ceil(p.exact_m * 100.0 - 1e-6) / 100.0;
    return p;
}

Result<double> contactRateBound(int contacts, int runs, double confidence)
{
    if (runs < 1 || contacts < 0 || contacts > runs)
        return fail(Error::Kind::OutOfRange, "runs",
                    say("{} contacts in {} runs cannot be", contacts, runs),
                    say("give at least one run and no more contacts than runs"));
    if (!(confidence >= 0.5 && confidence <= 0.999))
        return fail(Error::Kind::OutOfRange, "confidence",
                    say("{} is outside 0.5 to 0.999", units::number(confidence, 6)),
                    say("use 0.95"));
    if (contacts == runs)
        return 1.0;
    return boost::math::binomial::find_upper_bound_on_p(runs, contacts, 1.0 - confidence);
}

Result<Interval> wilson(int contacts, int runs)
{
    if (runs < 1 || contacts < 0 || contacts > runs)
        return fail(Error::Kind::OutOfRange, "runs",
                    say("{} contacts in {} runs cannot be", contacts, runs),
                    say("give at least one run and no more contacts than runs"));
    constexpr double z = 1.959963984540054; // 97.5 % of a normal scatter lie below it
    const double n = runs;
    const double p = contacts / n;
    const double middle = p + z * z / (2.0 * n);
    const double half = z * std::sqrt(p * (1.0 - p) / n + z * z / (4.0 * n * n));
    const double all = 1.0 + z * z / n;
    return Interval{std::max(0.0, (middle - half) / all), std::min(1.0, (middle + half) / all)};
}

Result<int> runsToClaim(int contacts, double rate, double confidence)
{
    if (!(rate > 0.0 && rate < 1.0))
        return fail(Error::Kind::OutOfRange, "rate",
                    say("{} is not between 0 and 1", units::number(rate, 6)),
                    say("use 0.01 for 1 %"));
    // The bound falls as runs are added: double until it holds, then halve the interval.
    int high = contacts + 1;
    for (;; high *= 2) {
        const auto bound = contactRateBound(contacts, high, confidence);
        if (!bound)
            return tl::unexpected(bound.error());
        if (*bound <= rate)
            break;
        if (high > 100'000'000)
            return fail(Error::Kind::OutOfRange, "rate", say("it would take too many runs"),
                        say("claim a higher rate"));
    }
    int low = contacts;
    while (high - low > 1) {
        const int middle = low + (high - low) / 2;
        (*contactRateBound(contacts, middle, confidence) <= rate ? high : low) = middle;
    }
    return high;
}

} // namespace badger::logbook
