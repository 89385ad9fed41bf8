// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/judge/measured_roll.h"

#include "core/units/quantity.h"

namespace badger::judge
{

using units::fixed;
using units::quantity;
using units::Unit;

namespace
{

Error no(Error::Kind kind, Say what, Say mend)
{
    return {kind, say("roll-out"), std::move(what), std::move(mend)};
}

Say cm(double m)
{
    return fixed(m, Unit::Centimetre, 2);
}

} // namespace

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
    double reaction_m = 0.0;
    for (const auto &t : b.budget.terms)
        if (t.key == "latency")
            reaction_m = t.typical_m;
    MeasuredRoll m;
    m.spread_m = stats->spread_m.value_or(0.0);
    auto &roll = m.roll;
    roll.distance_m = b.setup.threshold_m - stats->mean_m - reaction_m - b.setup.setBack_m;
    if (roll.distance_m < 0.0)
        return tl::unexpected(
            no(Error::Kind::Malformed,
               say("{} were taken, and the reaction alone takes {}",
                   cm(b.setup.threshold_m - stats->mean_m), cm(reaction_m + b.setup.setBack_m)),
               say("measure the speed and the loop's pause again")));
    roll.brake = b.brakes;
    roll.speed_mps = b.speed.value;
    roll.law = b.roll.measured ? b.roll.curve.law : kit::RollLaw::Friction;
    roll.trials = stats->runs;
    const auto &last = trials.back();
    roll.under = {last.date, last.floorName, last.battery_V, {}};
    m.why = {
        b.brakes ? say("roll-out, braked") : say("roll-out, coasting"),
        cm(roll.distance_m),
        {{say("threshold"), cm(b.setup.threshold_m), {}, say("of the runs")},
         {say("− mean gap"), cm(stats->mean_m), {}, say("{} runs", stats->runs)},
         {say("− reaction"), cm(reaction_m),
          say("{} × half a loop", quantity(b.speed.value, Unit::MetrePerSecond)), b.speed.from},
         {say("− set-back"),
          cm(b.setup.setBack_m),
          {},
          say("where the ranger sits behind the foremost point")}},
        say("at {}, on {}", quantity(b.speed.value, Unit::MetrePerSecond), last.floorName)};
    return m;
}

} // namespace badger::judge
