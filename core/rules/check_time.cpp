// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/rules/check_look.h"
#include "core/rules/ping_spacing.h"
#include "core/sense/ultrasonic.h"

#include <algorithm>
#include <cmath>
#include <fmt/format.h>

namespace badger::rules
{

using units::quantity;
using units::Unit;

namespace
{

/// The program with the readings alone that ping in every pass always the same way.
Program pinging(Program program)
{
    std::erase_if(program.readings, [](const Reading &r) {
        return r.source != Source::Ranger || !r.everyPass ||
               (r.swivel && r.swivel->angles_deg.size() > 1);
    });
    return program;
}

Say after(const PingGap &gap)
{
    return say("{} after '{}'; {} is the least", quantity(gap.gap_s, Unit::Millisecond, 1),
               gap.first, quantity(gap.least_s, Unit::Millisecond, 1));
}

/// Within a pass nothing waits: the next ranger is fired as soon as this one has answered.
Finding tooSoonInPass(const Look &look, const char *code, const PingGap &gap)
{
    Finding f{code,
              gap.beamsMeet ? Severity::Warning : Severity::Advice,
              place(look, "reading " + gap.second),
              say("'{}' may ping {}.", gap.second, after(gap)),
              say("A late echo of the first is taken for a near one by the second; a simulated run "
                  "does not hear that."),
              say("Read only one of the two in a program, or turn the rangers so far apart that "
                  "their beams do not meet."),
              at::reading(gap.second)};
    if (gap.sameRanger) {
        f.why = say("A late echo of the first ping is taken for a near one of the second.");
        f.mend = say("Read each ranger once a pass, and compare that reading with every value.");
    } else if (!gap.beamsMeet) {
        f.why = say("Their beams do not meet, but in a small room a late echo can come round by a "
                    "second wall; a simulated run does not hear that.");
        f.mend = say("Try it where it will drive, with something near on one side only.");
    }
    return f;
}

Finding tooSoonInNextPass(const Look &look, const char *code, const PingSpacing &spacing)
{
    const auto &gap = spacing.nextPass;
    const auto pause = quantity(*spacing.pause_s, Unit::Millisecond, 0);
    return {code,
            gap->beamsMeet ? Severity::Warning : Severity::Advice,
            place(look, "pause"),
            gap->sameRanger ? say("Pings follow each other in {}; {} is the least.",
                                  quantity(gap->gap_s, Unit::Millisecond, 1),
                                  quantity(gap->least_s, Unit::Millisecond, 1))
                            : say("'{}' may ping {}.", gap->second, after(*gap)),
            say("A late echo of one ping is taken for a near one of the next."),
            look.program.passWait.empty()
                ? say("Wait {} or more at the end of a pass.", pause)
                : say("Set '{}' to {} or more.", look.program.passWait, pause),
            at::value(look.program.passWait)};
}

/// From angle to angle only the dwell parts two pings, and in a sweep from pass to pass the pause.
std::optional<Finding> tooSoonInSweep(const Look &look, const char *code, const Reading &r)
{
    const auto *facts = look.facts(r);
    const auto *dwell = r.swivel ? look.program.value(r.swivel->dwell) : nullptr;
    if (facts == nullptr || dwell == nullptr || !isEcho(r) || r.swivel->angles_deg.size() < 2)
        return std::nullopt;
    const auto sound = sense::speedOfSound_mps(*r.air_degC);
    if (!sound)
        return std::nullopt;
    const auto *pause = look.program.value(look.program.passWait);
    const double rest_s = r.source == Source::Scan || pause == nullptr ? 0.0 : *pause->si;
    const double gap_s = *dwell->si + rest_s + sense::echoTime_us(facts->deadZone_m, *sound) * 1e-6;
    const double least_s = sense::leastPingSpacing_s(facts->range_m, 0.0, *sound);
    if (gap_s >= least_s)
        return std::nullopt;
    const double enough_s = std::ceil((least_s - gap_s + *dwell->si) * 1000.0 - 1e-6) / 1000.0;
    return Finding{code,
                   Severity::Warning,
                   place(look, "reading " + r.name),
                   say("'{}' pings again after {}; {} is the least.", r.name,
                       quantity(gap_s, Unit::Millisecond, 1),
                       quantity(least_s, Unit::Millisecond, 1)),
                   say("A late echo from one angle is taken for a near one at the next: the wrong "
                       "side looks blocked."),
                   say("Let the servo dwell for {}.", quantity(enough_s, Unit::Millisecond, 0)),
                   at::value(dwell->name)};
}

} // namespace

Found pingsTooSoon(const Look &look, const char *code)
{
    Found found;
    const auto spacing = pingSpacing(pinging(look.program), look.rangers);
    for (const auto &gap : spacing.inPass)
        found.push_back(tooSoonInPass(look, code, gap));
    if (spacing.nextPass)
        found.push_back(tooSoonInNextPass(look, code, spacing));
    for (const auto &r : look.program.readings)
        if (auto finding = tooSoonInSweep(look, code, r))
            found.push_back(std::move(*finding));
    return found;
}

Found printsSlow(const Look &look, const char *code)
{
    Found found;
    if (!look.program.prints.on)
        return found;
    for (const auto &t : look.passTime().terms)
        if (t.name == "prints")
            found.push_back({code, Severity::Warning, place(look, "prints"),
                             say("{} characters a pass at {} baud slow the pass by up to {}.",
                                 printedCharacters(look.program), look.program.prints.baud,
                                 quantity(t.shortest_s, Unit::Millisecond, 1)),
                             say("The car looks less often while it drives on."),
                             say("Print less, or at a higher baud rate."), at::prints()});
    return found;
}

} // namespace badger::rules
