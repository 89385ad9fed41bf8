// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/regions/check_look.h"

#include <algorithm>
#include <cmath>
#include <set>

namespace badger::regions
{

using rules::Act;
using rules::Source;
using units::quantity;
using units::Unit;

int turnOf(const Mode &mode)
{
    if (mode.follows == rules::Follows::Scan)
        return 0;
    const int l = mode.left.counts;
    const int r = mode.right.counts;
    return r > l ? 1 : l > r ? -1 : 0;
}

namespace
{

/// Modes that turn for a fixed time, by side.
std::vector<int> timedTurns(const Look &look, int side)
{
    std::vector<int> all;
    for (size_t m = 0; m < look.machine.modes.size(); ++m) {
        const auto &mode = look.machine.modes[m];
        if (look.can[m] && turnOf(mode) == side && look.act(static_cast<int>(m)) == Act::Turn &&
            mode.hold.is && mode.hold.length == rules::Length::Fixed)
            all.push_back(static_cast<int>(m));
    }
    return all;
}

Say ms(std::uint64_t us)
{
    return quantity(static_cast<double>(us) * 1e-6, Unit::Millisecond, 1);
}

Say degrees(double deg)
{
    return Say(units::number(deg, 0)) + Say("°");
}

} // namespace

/// "620 ms right, 240 ms left at 150 degrees a second: 93 and 36 degrees."
Found turnsUnequal(const Look &look, const char *code)
{
    const auto left = timedTurns(look, 1);
    const auto right = timedTurns(look, -1);
    if (left.size() != 1 || right.size() != 1)
        return {}; // none to a side, or turns that are meant to differ
    const auto &l = look.machine.modes[static_cast<size_t>(left.front())];
    const auto &r = look.machine.modes[static_cast<size_t>(right.front())];
    const auto target = at::state(look.state(right.front()).name);
    const auto where = look.place(say("turns"));
    if (!look.around.leftTurn_deg_s || !look.around.rightTurn_deg_s) {
        if (l.hold.time_us == r.hold.time_us)
            return {};
        return {
            {code, Severity::Warning, where,
             say("It turns left for {} and right for {}.", ms(l.hold.time_us), ms(r.hold.time_us)),
             say("One way it turns much farther, unless the car was found to need it."),
             say("Measure its turns at Tune; equal turns take equal times unless the car is "
                 "trimmed."),
             target}};
    }
    const double leftAngle =
        *look.around.leftTurn_deg_s * static_cast<double>(l.hold.time_us) * 1e-6;
    const double rightAngle =
        *look.around.rightTurn_deg_s * static_cast<double>(r.hold.time_us) * 1e-6;
    constexpr double alike_deg = 10.0; // about what a hand-timed turn repeats to
    if (std::abs(leftAngle - rightAngle) <= alike_deg)
        return {};
    const double wanted = std::round((leftAngle + rightAngle) / 20.0) * 10.0;
    const auto time = [&](double rate) { return quantity(wanted / rate, Unit::Millisecond, 0); };
    return {{code, Severity::Warning, where,
             say("It turns left for {}, {}, and right for {}, {}.", ms(l.hold.time_us),
                 degrees(leftAngle), ms(r.hold.time_us), degrees(rightAngle)),
             say("One way it turns much farther than the other."),
             say("For {} to both sides: {} left and {} right.", degrees(wanted),
                 time(*look.around.leftTurn_deg_s), time(*look.around.rightTurn_deg_s)),
             target}};
}

Found alwaysSameSide(const Look &look, const char *code)
{
    std::set<int> sides;
    int first = -1;
    for (size_t m = 0; m < look.machine.modes.size(); ++m) {
        const auto &mode = look.machine.modes[m];
        if (!look.can[m])
            continue;
        if (mode.follows != rules::Follows::Nothing)
            return {};
        if (look.act(static_cast<int>(m)) == Act::Turn) {
            sides.insert(turnOf(mode));
            first = static_cast<int>(m);
        }
    }
    if (sides.size() != 1)
        return {};
    const bool left = *sides.begin() > 0;
    return {{code, Severity::Advice, look.place(Say("'" + look.state(first).name + "'")),
             left ? say("It always turns left.") : say("It always turns right."),
             say("In a corner that is open to the other side it goes back and forth."),
             say("Look to both sides, take turns, or turn for a random time."),
             at::state(look.state(first).name)}};
}

Found tiesPreferASide(const Look &look, const char *code)
{
    Found found;
    for (const auto &r : look.program.readings) {
        if (r.source != Source::Scan || !r.swivel || r.swivel->angles_deg.size() < 2)
            continue;
        const bool last = r.choice && r.choice->lastOfTies;
        const auto &angles = r.swivel->angles_deg;
        const double wins = last ? angles.back() : angles.front();
        if (wins == ahead_deg)
            continue;
        const bool right = wins < ahead_deg;
        Finding f{code,
                  Severity::Advice,
                  look.place("reading " + r.name),
                  right ? say("Of equal looks the {} wins: '{}' prefers the right.",
                              last ? say("last") : say("first"), r.name)
                        : say("Of equal looks the {} wins: '{}' prefers the left.",
                              last ? say("last") : say("first"), r.name),
                  say("In the open every look is the limit, and it always goes to that side."),
                  say("Begin the looks ahead, or take turns in which end is first."),
                  at::reading(r.name)};
        f.readings = {"at-" + units::plain(angles.front(), 1) + " = at-" +
                      units::plain(angles.back(), 1)};
        found.push_back(f);
    }
    return found;
}

/// Dwell of each move between two angles that can follow each other; the long way back is the one
/// that is forgotten.
Found dwellTooShort(const Look &look, const char *code)
{
    Found found;
    for (const auto &r : look.program.readings) {
        if (!r.swivel || r.swivel->angles_deg.empty())
            continue;
        const auto facts = look.around.servos.find(r.swivel->servo);
        const auto *dwell = look.program.value(r.swivel->dwell);
        if (facts == look.around.servos.end() || !dwell || !dwell->si)
            continue;
        // From where another reading of the same servo leaves it, and between its own.
        double from = ahead_deg;
        double to = ahead_deg;
        const auto farther = [&](double a, double b) {
            if (std::abs(b - a) > std::abs(to - from)) {
                from = a;
                to = b;
            }
        };
        const auto &own = r.swivel->angles_deg;
        for (const auto &other : look.program.readings)
            if (other.swivel && other.swivel->servo == r.swivel->servo &&
                !other.swivel->angles_deg.empty())
                for (const double end : other.source == Source::Scan || &other == &r
                                            ? std::vector{other.swivel->angles_deg.back()}
                                            : other.swivel->angles_deg)
                    for (const double start :
                         r.source == Source::Scan ? std::vector{own.front()} : own)
                        farther(end, start);
        for (size_t i = 1; i < own.size(); ++i)
            farther(own[i - 1], own[i]);
        const double need_s =
            std::abs(to - from) * facts->second.sPerDegree_s + facts->second.settle_s;
        if (from == to || need_s <= *dwell->si)
            continue;
        Finding f{code,
                  Severity::Warning,
                  look.place("reading " + r.name),
                  say("From {} to {} the servo needs {}; '{}' waits {}.", degrees(from),
                      degrees(to), quantity(need_s, Unit::Millisecond, 0), r.name,
                      quantity(*dwell->si, Unit::Millisecond, 0)),
                  say("The ping leaves while the servo is still moving: the reading is of another "
                      "angle."),
                  say("Let '{}' be {} or more, or bring the servo back in steps.", r.swivel->dwell,
                      quantity(need_s, Unit::Millisecond, 0)),
                  at::value(r.swivel->dwell)};
        f.readings = {"at-" + units::plain(to, 1)};
        found.push_back(f);
    }
    return found;
}

Found neverLookedAt(const Look &look, const char *code)
{
    Found found;
    bool looks[2] = {false, false}; // left, right
    for (const auto &r : look.program.readings) {
        if (r.source != Source::Ranger && r.source != Source::Scan)
            return found.empty() ? Found{} : found; // lines and keys say where to turn
        if (const auto facts = look.around.rangers.find(r.name);
            facts != look.around.rangers.end()) {
            looks[0] |= facts->second.looks_rad > facts->second.halfAngle_rad;
            looks[1] |= facts->second.looks_rad < -facts->second.halfAngle_rad;
        }
        if (r.swivel)
            for (const double a : r.swivel->angles_deg) {
                looks[0] |= a > ahead_deg + 15.0;
                looks[1] |= a < ahead_deg - 15.0;
            }
    }
    for (size_t m = 0; m < look.machine.modes.size(); ++m) {
        const int side = turnOf(look.machine.modes[m]);
        if (!look.can[m] || side == 0 || look.act(static_cast<int>(m)) != Act::Turn ||
            looks[side > 0 ? 0 : 1] || !look.machine.modes[m].hold.is)
            continue;
        found.push_back({code, Severity::Advice,
                         look.place(Say("'" + look.state(static_cast<int>(m)).name + "'")),
                         side > 0 ? say("It turns left without having looked left.")
                                  : say("It turns right without having looked right."),
                         say("What stands there is met by the corner of the car."),
                         say("Look there first, or keep the turn short and look again."),
                         at::state(look.state(static_cast<int>(m)).name)});
        break;
    }
    return found;
}

/// The waits from a mode on in which no rule is asked, until one that looks again.
Found blindStretch(const Look &look, const char *code)
{
    std::uint64_t longest_us = 0;
    std::uint64_t backward_us = 0;
    std::uint64_t forward_us = 0;
    int worst = -1;
    for (size_t m = 0; m < look.machine.modes.size(); ++m) {
        if (!look.can[m])
            continue;
        std::uint64_t sum_us = 0;
        std::uint64_t back_us = 0;
        std::uint64_t go_us = 0;
        std::set<size_t> way;
        for (size_t at = m; look.machine.modes[at].hold.is && way.insert(at).second;
             at = static_cast<size_t>(look.machine.modes[at].hold.then)) {
            const auto &hold = look.machine.modes[at].hold;
            const auto time_us = hold.length == rules::Length::Random      ? hold.most_us
                                 : hold.length == rules::Length::PerDegree ? std::uint64_t{0}
                                                                           : hold.time_us;
            sum_us += time_us;
            const auto act = look.act(static_cast<int>(at));
            back_us += act == Act::Back ? time_us : 0;
            go_us += act == Act::Go ? time_us : 0;
        }
        if (sum_us > longest_us) {
            longest_us = sum_us;
            backward_us = back_us;
            forward_us = go_us;
            worst = static_cast<int>(m);
        }
    }
    constexpr std::uint64_t noticeable_us = 500'000;
    if (worst < 0 || longest_us < noticeable_us)
        return {};
    const auto seconds = [](std::uint64_t us) {
        return quantity(static_cast<double>(us) * 1e-6, Unit::Second, 2);
    };
    const auto way = [&](std::uint64_t us) {
        return quantity(*look.around.speed_mps * static_cast<double>(us) * 1e-6, Unit::Centimetre,
                        0);
    };
    Say what =
        say("From '{}' on it decides nothing for {}.", look.state(worst).name, seconds(longest_us));
    if (backward_us > 0)
        what += look.around.speed_mps ? say(" It backs for {} of it, about {}.",
                                            seconds(backward_us), way(backward_us))
                                      : say(" It backs for {} of it.", seconds(backward_us));
    if (forward_us > 0)
        what += look.around.speed_mps ? say(" It drives on for {} of it, about {}.",
                                            seconds(forward_us), way(forward_us))
                                      : say(" It drives on for {} of it.", seconds(forward_us));
    return {{code, forward_us > 0 ? Severity::Warning : Severity::Advice,
             look.place(Say("'" + look.state(worst).name + "'")), what,
             say("Whatever comes near meanwhile is hit: there is no look behind, and none aside."),
             say("Keep the waits short, and look again after each."),
             at::state(look.state(worst).name)}};
}

Found noWayOut(const Look &look, const char *code)
{
    Found found;
    for (size_t m = 0; m < look.machine.modes.size(); ++m) {
        const auto &mode = look.machine.modes[m];
        if (!look.can[m] || mode.hold.is || mode.follows != rules::Follows::Nothing)
            continue;
        bool leaves = false;
        for (const auto &range : {look.machine.everywhere, mode.branches})
            for (int b = range.first; b < range.end(); ++b)
                leaves |= look.machine.branches[static_cast<size_t>(b)].go != static_cast<int>(m);
        if (leaves)
            continue;
        found.push_back({code, Severity::Error,
                         look.place(Say("'" + look.state(static_cast<int>(m)).name + "'")),
                         say("Nothing leads out of '{}'.", look.state(static_cast<int>(m)).name),
                         say("Once it is in it, nothing that the car sees changes what it does."),
                         say("Give it a rule, or a wait with an end."),
                         at::state(look.state(static_cast<int>(m)).name)});
    }
    return found;
}

Finding buttonOpposite(const Look &look, const char *code, const rules::Reading &r, int level)
{
    Finding f{code,
              Severity::Error,
              look.place("reading " + r.name),
              say("'{}' puts out {} while it is pressed by its part; the program expects {}.",
                  r.instance, level, *r.lightLevel),
              say("It takes the button for pressed while nobody touches it, and goes off at once."),
              say("Let '{}' expect {}.", r.name, level),
              at::reading(r.name)};
    f.readings = {r.name + " 1"};
    return f;
}

Found senseOpposite(const Look &look, const char *code)
{
    Found found;
    for (const auto &r : look.program.readings) {
        const auto it = look.around.lightLevels.find(r.name);
        if (r.source == Source::Button && r.lightLevel && it != look.around.lightLevels.end() &&
            it->second.light != *r.lightLevel)
            found.push_back(buttonOpposite(look, code, r, it->second.light));
        if (r.source != Source::Digital || !r.lightLevel || it == look.around.lightLevels.end() ||
            it->second.light == *r.lightLevel)
            continue;
        Finding f{code,
                  Severity::Error,
                  look.place("reading " + r.name),
                  it->second.measured
                      ? say("'{}' was measured to put out {} on light; the program expects {}.",
                            r.instance, it->second.light, *r.lightLevel)
                      : say("'{}' puts out {} on light by its part; the program expects {}.",
                            r.instance, it->second.light, *r.lightLevel),
                  r.seeks == rules::Shade::Dark
                      ? say("It takes the floor for the line: the car acts on light and turns the "
                            "wrong way.")
                      : say("It takes the dark for the light: the car turns the wrong way."),
                  say("Let '{}' expect {}, or flip the module's selector and measure again.",
                      r.name, it->second.light),
                  at::reading(r.name)};
        f.readings = {r.name + (r.seeks == rules::Shade::Dark ? " light" : " dark")};
        found.push_back(f);
    }
    return found;
}

Found timeOverflows(const Look &look, const char *code)
{
    constexpr std::uint32_t greatest_us = 32'767;
    constexpr std::uint32_t held_us = 38'000; // how long a ranger holds its line without an echo
    Found found;
    for (size_t i = 0; i < look.machine.sensors.size(); ++i) {
        const auto &s = look.machine.sensors[i];
        const auto &r = look.program.readings[i];
        if (!s.shortTime || s.timeOut_us <= greatest_us)
            continue;
        const auto at_us = std::min(held_us, s.timeOut_us);
        const auto number = numberOf(look.machine, s, at_us);
        Finding f{code,
                  Severity::Error,
                  look.place("reading " + r.name),
                  say("'{}' keeps its echo time in 16 bits, which end at {}: {} becomes {}, {} {}.",
                      r.name, quantity(greatest_us * 1e-6, Unit::Microsecond, 0),
                      quantity(at_us * 1e-6, Unit::Microsecond, 0),
                      quantity((static_cast<double>(at_us) - 65536.0) * 1e-6, Unit::Microsecond, 0),
                      units::number(number.value_or(0.0), 1), units::info(r.unit).symbol),
                  say("The farthest echo of all is then the nearest of all."),
                  say("Keep the time in 32 bits, or stop waiting below {}.",
                      quantity(greatest_us * 1e-6, Unit::Microsecond, 0)),
                  at::reading(r.name)};
        f.readings = {r.name + " wild"};
        found.push_back(f);
    }
    return found;
}

} // namespace badger::regions
