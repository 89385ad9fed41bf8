// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/judge/measured_roll.h"

#include "core/drive/speed.h"
#include "core/judge/amounts.h"
#include "core/units/quantity.h"

#include <cmath>
#include <set>

namespace badger::judge
{

using units::fixed;
using units::number;
using units::quantity;
using units::Unit;

namespace
{

Error no(Error::Kind kind, Say what, Say mend)
{
    return {kind, say("roll-out"), std::move(what), std::move(mend)};
}

/// What the budget's reaction takes at its speed.
double reactionOf(const CarBudget &b)
{
    for (const auto &t : b.budget.terms)
        if (t.key == "latency")
            return t.typical_m;
    return 0.0;
}

/// One parameter by least squares, rest = parameter · v^power, and what it leaves.
std::pair<double, double> oneTerm(const std::vector<tune::StopRun> &rests, int power)
{
    double top = 0.0;
    double bottom = 0.0;
    for (const auto &r : rests) {
        const double x = std::pow(r.speed_mps, power);
        top += x * r.taken_m;
        bottom += x * x;
    }
    const double parameter = top / bottom;
    double squares = 0.0;
    for (const auto &r : rests) {
        const double left = r.taken_m - parameter * std::pow(r.speed_mps, power);
        squares += left * left;
    }
    return {parameter, std::sqrt(squares / static_cast<double>(rests.size()))};
}

/// What each run took beside the set-back, with its speed: those that can be taken together.
Result<std::vector<tune::StopRun>> stopsOf(const kit::Assembly &car, const CarBudget &b,
                                           const Pieces<logbook::MeasuredTrial> &trials)
{
    constexpr double sameCharge_V = 0.3; // as the log takes it
    std::vector<tune::StopRun> stops;
    double least_V = 1e9;
    double most_V = 0.0;
    for (const auto &t : trials) {
        const auto speed = drive::speedAt(car, t.pwm_counts);
        if (t.contact || !t.gap_m || t.floorName != trials.back().floorName || !speed ||
            !speed->measured)
            continue;
        stops.push_back({speed->value, t.threshold_m - *t.gap_m - b.setup.setBack_m});
        least_V = std::min(least_V, t.battery_V);
        most_V = std::max(most_V, t.battery_V);
    }
    if (stops.size() < 3)
        return tl::unexpected(no(Error::Kind::Missing,
                                 say("three runs with a measured speed are needed"),
                                 say("time both speeds at Tune, and run it at each")));
    if (most_V - least_V > sameCharge_V)
        return tl::unexpected(no(Error::Kind::Conflict,
                                 say("the pack differed by {} between the runs",
                                     quantity(most_V - least_V, Unit::Volt, 2)),
                                 say("run it again with one charge")));
    return stops;
}

Derivation whyLaw(const MeasuredLaw &m, double reaction_s)
{
    const auto ms = [](double s) { return quantity(s, Unit::Millisecond, 0); };
    const auto plusMinus = [](Say value, const std::optional<double> &error, auto words) {
        return error ? say("{} ± {}", std::move(value), words(*error)) : value;
    };
    const auto perSquare = [](double v) { return say("{} s²/m", number(v, 3)); };
    Derivation d{say("how rolling grows with speed"),
                 m.law == kit::RollLaw::Friction ? say("with v²") : say("with v"),
                 {},
                 {}};
    d.steps.push_back({say("reaction that is known"), ms(reaction_s),
                       say("half a loop + age + actuation"), say("the budget")});
    d.steps.push_back({say("rest as v τ"),
                       ms(m.electrical_s),
                       say("misses by {}", fixed(m.missesElectrical_m, Unit::Millimetre, 1)),
                       {}});
    d.steps.push_back({say("rest as v² / (2a)"),
                       perSquare(m.friction_s2_m),
                       say("misses by {}", fixed(m.missesFriction_m, Unit::Millimetre, 1)),
                       {}});
    d.steps.push_back(
        {say("both at once, v t"), plusMinus(ms(m.fit.reaction_s), m.fit.reactionError_s, ms),
         say("taken = v t + v² / (2a)"), say("{0} runs at {1} speeds", m.fit.runs, m.speeds)});
    d.steps.push_back(
        {say("both at once, 1 / (2a)"),
         plusMinus(perSquare(m.fit.perSquare_s2_m), m.fit.perSquareError_s2_m, perSquare),
         {},
         {}});
    return d;
}

} // namespace

Result<MeasuredLaw> measuredLaw(const kit::Assembly &car, const CarBudget &b,
                                const Pieces<logbook::MeasuredTrial> &trials)
{
    if (b.act != rules::Act::Stand || b.slows)
        return tl::unexpected(no(Error::Kind::Conflict, say("the program does not drive and stand"),
                                 say("measure it with a program that halts")));
    const auto stops = stopsOf(car, b, trials);
    if (!stops)
        return tl::unexpected(stops.error());
    auto fit = tune::fitStopping(*stops);
    if (!fit)
        return tl::unexpected(fit.error());
    MeasuredLaw m;
    m.fit = *fit;
    std::set<double> speeds;
    const double reaction_s = reactionOf(b) / b.speed.value;
    auto rests = *stops;
    for (auto &r : rests) {
        speeds.insert(r.speed_mps);
        r.taken_m -= r.speed_mps * reaction_s;
    }
    m.speeds = static_cast<int>(speeds.size());
    std::tie(m.electrical_s, m.missesElectrical_m) = oneTerm(rests, 1);
    std::tie(m.friction_s2_m, m.missesFriction_m) = oneTerm(rests, 2);
    m.law = m.missesFriction_m <= m.missesElectrical_m ? kit::RollLaw::Friction
                                                       : kit::RollLaw::Electrical;
    const double better = std::min(m.missesFriction_m, m.missesElectrical_m);
    m.isPlain = std::max(m.missesFriction_m, m.missesElectrical_m) > 2.0 * better;
    const double v = b.speed.value;
    m.roll_m = m.law == kit::RollLaw::Friction ? m.friction_s2_m * v * v : m.electrical_s * v;
    m.why = whyLaw(m, reaction_s);
    return m;
}

Result<MeasuredRoll> measuredRoll(const CarBudget &b, const Pieces<logbook::MeasuredTrial> &trials)
{
    constexpr int runsWanted = 3;
    const auto stats = logbook::statistics(trials);
    if (!stats || stats->runs < runsWanted)
        return tl::unexpected(no(Error::Kind::Missing, say("three runs are needed"),
                                 say("run it and read the ruler")));
    if (stats->contacts > 0)
        return tl::unexpected(no(Error::Kind::Conflict,
                                 say("a run ended in a contact: it says only that more was taken"),
                                 say("raise the threshold and run it again")));
    if (const auto apart = logbook::differences(trials); !apart.empty())
        return tl::unexpected(no(Error::Kind::Conflict,
                                 say("the runs differ in {}", joined(apart, ", ")),
                                 say("take runs that were made alike")));
    if (b.act != rules::Act::Stand || b.slows)
        return tl::unexpected(no(Error::Kind::Conflict, say("the program does not drive and stand"),
                                 say("measure it with a program that halts")));
    if (!b.speed.measured)
        return tl::unexpected(no(Error::Kind::Missing,
                                 say("the speed was not measured at {} of 255", b.acts_counts),
                                 say("time it over a measured length at Tune")));
    const double reaction_m = reactionOf(b);
    MeasuredRoll m;
    m.spread_m = stats->spread_m.value_or(0.0);
    auto &roll = m.roll;
    roll.distance_m = b.setup.threshold_m - stats->mean_m - reaction_m - b.setup.setBack_m;
    if (roll.distance_m < 0.0)
        return tl::unexpected(no(Error::Kind::Malformed,
                                 say("{} were taken, and the reaction alone takes {}",
                                     cmInSum(b.setup.threshold_m - stats->mean_m),
                                     cmInSum(reaction_m + b.setup.setBack_m)),
                                 say("measure the speed and the loop's pause again")));
    roll.brake = b.brakes;
    roll.speed_mps = b.speed.value;
    roll.law = b.roll.measured ? b.roll.curve.law : kit::RollLaw::Friction;
    roll.trials = stats->runs;
    const auto &last = trials.back();
    roll.under = {last.date, last.floorName, last.battery_V, {}};
    m.why = {
        b.brakes ? say("roll-out, braked") : say("roll-out, coasting"),
        cmInSum(roll.distance_m),
        {{say("threshold"), cmInSum(b.setup.threshold_m), {}, say("of the runs")},
         {say("− mean gap"), cmInSum(stats->mean_m), {}, say("{} runs", stats->runs)},
         {say("− reaction"), cmInSum(reaction_m),
          say("{} × half a loop", quantity(b.speed.value, Unit::MetrePerSecond)), b.speed.from},
         {say("− set-back"),
          cmInSum(b.setup.setBack_m),
          {},
          say("where the ranger sits behind the foremost point")}},
        say("at {}, on {}", quantity(b.speed.value, Unit::MetrePerSecond), last.floorName)};
    return m;
}

} // namespace badger::judge
