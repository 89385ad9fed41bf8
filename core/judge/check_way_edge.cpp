// SPDX-License-Identifier: GPL-3.0-or-later
// An edge that is seen too late, and a room that is too small.
#include "core/floor/room.h"
#include "core/judge/approach.h"
#include "core/judge/check_way.h"

#include <algorithm>
#include <cmath>

namespace badger::judge
{

using rules::Act;
using units::quantity;
using units::Unit;

using Found = std::vector<Finding>;

namespace
{

/// Does a reading look down at what the car drives on?
bool looksDown(const kit::Assembly &car, const rules::Reading &reading)
{
    constexpr double overFloor_m = 0.05;
    const auto *fitted = car.find(reading.instance);
    if (fitted == nullptr || !fitted->instance->mount ||
        fitted->instance->mount->height_m > overFloor_m)
        return false;
    return (reading.source == rules::Source::Digital && reading.seeks == rules::Shade::Dark &&
            fitted->part->kind == parts::Kind::Infrared) ||
           (reading.source == rules::Source::Analogue &&
            fitted->part->kind == parts::Kind::Reflectance);
}

/// How far behind the foremost point the first wheel or support touches the table.
std::optional<double> contactSetBack_m(const kit::Assembly &car)
{
    double least_m = car->geometry.axleToNose_m;
    if (least_m <= 0.0)
        return std::nullopt;
    for (const auto &f : car.fitted())
        if (f.part->kind == parts::Kind::Support) {
            if (!f.instance->mount)
                return std::nullopt;
            least_m = std::min(least_m, f.instance->mount->setBack_m);
        }
    return least_m;
}

/// The floor that the car is meant for, else that on which it is simulated.
const floor::Floor *floorOf(const ProgramLook &look)
{
    return look.missionFloor ? look.missionFloor : look.floor;
}

} // namespace

bool maySeeAnEdge(const ProgramLook &look)
{
    const auto isOne = [](const std::string &behaviour) {
        return behaviour == "table-edge" || behaviour == "guarded-drive";
    };
    return rules::complete(look.program).has_value() &&
           ((look.car->mission && isOne(look.car->mission->behaviour)) ||
            (look.program.from && isOne(look.program.from->name)));
}

Found edgeTooLate(const ProgramLook &look, const char *code)
{
    const auto contact_m = contactSetBack_m(look.car);
    const auto &machine = look.exact.machine();
    Found found;
    for (size_t s = 0; s < look.program.readings.size(); ++s) {
        const auto &r = look.program.readings[s];
        const auto *fitted = look.car->instance(r.instance);
        if (!contact_m || !looksDown(look.car, r))
            continue;
        for (size_t m = 0; m < machine.modes.size(); ++m) {
            const auto &goes = look.program.states[m];
            if (!look.exact.isReachable(m) || machine.modes[m].hold.is ||
                rules::actOf(goes.motion) != Act::Go)
                continue;
            const auto &regions = look.exact.cells(m);
            if (!regions)
                continue;
            const auto into = regions::givesWayAtAnEnd(machine, *regions, static_cast<int>(s));
            const auto stop = into.empty()
                                  ? std::nullopt
                                  : stopOf(look.car, look.program, look.reach, goes,
                                           look.program.states[static_cast<size_t>(into.front())]);
            if (!stop)
                continue;
            const double overhang_m = *contact_m - fitted->mount->setBack_m;
            const double needs_m = stop->latency_m + stop->rollOut_m;
            if (overhang_m >= needs_m)
                continue;
            found.push_back(
                {code, stop->measured ? Severity::Error : Severity::Warning,
                 place(look, "reading " + r.name),
                 say("'{}' sees the edge {} before the first wheel or support is over it; the car "
                     "needs {} to stop.",
                     r.name, cm(std::max(0.0, overhang_m)), cm(needs_m)),
                 say("{} until the motors answer and {} of roll-out{}: it falls.",
                     cm(stop->latency_m), cm(stop->rollOut_m),
                     stop->measured ? Say() : say(" by the parts' data")),
                 stop->measured
                     ? say("Drive slower, look more often, or carry the sensor farther ahead.")
                     : say("Measure speed and roll-out; drive slower, or carry the sensor farther "
                           "ahead."),
                 at::state(goes.name)});
        }
    }
    return found;
}

bool hasRoom(const ProgramLook &look)
{
    return look.budget && floorOf(look) && floor::room(*floorOf(look)).shortest_m();
}

Found widerThanRoom(const ProgramLook &look, const char *code)
{
    const auto room = floor::room(*floorOf(look));
    const auto longest_m = room.longest_m();
    const double shortest_m = *room.shortest_m();
    const double threshold_m = look.budget->setup.threshold_m;
    const auto &value = look.budget->valueName;
    // What a ranger reads before a wall is that much less than the room is long.
    const double behind_m = look.car->geometry.length_m - look.budget->setup.setBack_m;
    if (longest_m && threshold_m >= *longest_m - behind_m)
        return {{code, Severity::Error, place(look, value),
                 say("'{}' is {}; between the walls of {} it never reads more than {}.", value,
                     cm(threshold_m), floorOf(look)->name, cm(*longest_m - behind_m)),
                 say("The way is never free: the car does not drive at all."),
                 say("Take a nearer limit, or a larger floor."), at::value(value)}};
    if (threshold_m >= shortest_m - behind_m)
        return {{code, Severity::Warning, place(look, value),
                 say("'{}' is {}; across {} it never reads more than {}.", value, cm(threshold_m),
                     floorOf(look)->name, cm(shortest_m - behind_m)),
                 say("Turned across, the way is never free there."),
                 say("Take a nearer limit, or start it along the room."), at::value(value)}};
    return {};
}

} // namespace badger::judge
