// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/edit/way_candidates.h"

#include "core/edit/fixed_car.h"
#include "core/edit/kit_edits.h"
#include "core/edit/noted_ways.h"
#include "core/edit/wire_ways.h"
#include "core/kit/check.h"
#include "core/kit/mission.h"
#include "core/nets/drive_map.h"

#include <algorithm>
#include <cmath>
#include <map>
#include <set>

namespace badger::edit
{

namespace
{

using parts::Kind;

/// Which parts are worth another try, by what is wrong.
const std::map<std::string, std::vector<Kind>> &worthATry()
{
    static const std::map<std::string, std::vector<Kind>> kinds = {
        {"channel-over-peak", {Kind::Driver, Kind::Motor}},
        {"channel-over-steady", {Kind::Driver, Kind::Motor}},
        {"bridge-hot", {Kind::Driver, Kind::Motor}},
        {"supply-below-drop", {Kind::Driver}},
        {"motor-too-weak", {Kind::Motor}},
        {"source-over-limit", {Kind::Cell, Kind::Link, Kind::Regulator, Kind::Motor}},
        {"pack-sags", {Kind::Cell, Kind::Motor}},
        {"logic-browns-out", {Kind::Cell, Kind::Motor}},
        {"regulator-over-volts", {Kind::Driver, Kind::Regulator}},
        {"regulator-hot", {Kind::Regulator}},
        {"link-over-limit", {Kind::Link}},
        {"wheel-does-not-fit", {Kind::Wheel, Kind::Motor}},
        {"caster-carries", {Kind::Support}},
        {"pins-short", {Kind::Board, Kind::Driver}}};
    return kinds;
}

/// Parts of one kind that are alike, as they are exchanged: each by itself but for motors and
/// wheels.
std::vector<std::vector<std::string>> placesOf(const kit::Assembly &car, Kind kind)
{
    std::map<std::string, std::vector<std::string>> alike;
    std::vector<std::vector<std::string>> places;
    for (const auto &f : car.fitted()) {
        if (f.part->kind != kind)
            continue;
        if (kind == Kind::Motor || kind == Kind::Wheel)
            alike[f.instance->partId].push_back(f.instance->id);
        else
            places.push_back({f.instance->id});
    }
    for (auto &[part, all] : alike)
        places.push_back(std::move(all));
    return places;
}

/// Another part in each of these places; of no part they come off.
Fix exchange(const kit::Assembly &car, const std::vector<std::string> &places,
             const std::string &part)
{
    Fix fix;
    for (const auto &id : places)
        fix.parts.push_back({id, car->instance(id)->partId, part});
    return fix;
}

/// Of each channel all motors but the first.
std::vector<std::string> furtherMotors(const kit::Assembly &car)
{
    std::vector<std::string> further;
    std::set<std::string> driven;
    const nets::Nets nets(car);
    for (const auto &f : car.fitted()) {
        if (f.part->kind != Kind::Motor)
            continue;
        auto channel = f.instance->drivenBy;
        if (const auto drive = nets::motorDrive(nets, *f.instance))
            if (const auto *input = car.terminal(drive->forward))
                channel = kit::splitTerminal(drive->forward).instance + "." + input->channel;
        if (!channel.empty() && !driven.insert(channel).second)
            further.push_back(f.instance->id);
    }
    return further;
}

/// Every other part of a kind in each place of it.
void addExchanges(const kit::Assembly &car, Kind kind, std::vector<WayCandidates> &all)
{
    WayCandidates to;
    for (const auto &places : placesOf(car, kind))
        for (const auto &part : car.catalogue().parts()) {
            const auto &old = *car.find(places.front())->part;
            const bool shipped = car.catalogue().find(part.id) == &part;
            if (part.kind == kind && part.id != old.id && shipped &&
                (kind != Kind::Link || part.shape == old.shape))
                to.fixes.push_back(exchange(car, places, part.id));
        }
    all.push_back(std::move(to));
}

/// The parts that a finding of places is about.
std::vector<std::string> movable(const kit::Assembly &car, const Finding &finding)
{
    std::vector<std::string> ids;
    const bool balance = finding.code == "car-tips" || finding.code == "car-tips-easily" ||
                         finding.code == "axle-light" || finding.code == "caster-carries";
    for (const auto &f : car.fitted()) {
        const bool named = std::find(finding.places.begin(), finding.places.end(),
                                     at::part(f.instance->id)) != finding.places.end();
        if (f.instance->mount && (balance ? f.part->kind == Kind::Cell : named))
            ids.push_back(f.instance->id);
    }
    return ids;
}

/// Moves along the car and, where that helps, across it, the shortest first.
void addMoves(const kit::Assembly &car, const Finding &finding, std::vector<WayCandidates> &all)
{
    constexpr double step_m = 0.005;
    constexpr int most = 30;
    static const std::set<std::string> codes = {"car-tips",      "car-tips-easily",
                                                "axle-light",    "caster-carries",
                                                "parts-overlap", "part-outside-car"};
    if (codes.count(finding.code) == 0)
        return;
    const auto ids = movable(car, finding);
    const bool across = finding.code.starts_with("part");
    WayCandidates to{{}, 1};
    for (int n = 1; n <= most; ++n)
        for (const auto &id : ids) {
            const double way_m = n * step_m;
            const auto add = [&](double back_m, double left_m) {
                const auto at_m = car->instance(id)->mount->setBack_m + back_m;
                if (at_m < 0.0 || at_m > car->geometry.length_m)
                    return;
                Fix fix;
                fix.moves.push_back({id, back_m, left_m});
                to.fixes.push_back(std::move(fix));
            };
            add(way_m, 0.0);
            add(-way_m, 0.0);
            if (across) {
                add(0.0, way_m);
                add(0.0, -way_m);
            }
        }
    all.push_back(std::move(to));
}

/// Where a sensor's height is wrong: the least shim, and for a beam the least tilt.
void addHeights(const kit::Assembly &car, const Finding &finding, std::vector<WayCandidates> &all)
{
    const bool beam = finding.code == "beam-meets-floor";
    if (!beam && finding.code != "ride-height")
        return;
    const auto *sensor = car->instance(finding.places.front().name);
    if (sensor && !sensor->carriedBy.empty())
        sensor = car->instance(sensor->carriedBy);
    if (sensor == nullptr || !sensor->mount)
        return;
    const auto add = [&](WayCandidates &to, double up_m, double tilt_rad) {
        if (sensor->mount->height_m + up_m < 0.0)
            return;
        Fix fix;
        fix.moves.push_back({sensor->id, 0.0, 0.0, up_m, tilt_rad});
        to.fixes.push_back(std::move(fix));
    };
    WayCandidates heights{{}, 1};
    WayCandidates tilts{{}, 1};
    for (int n = 1; n <= 30; ++n) { // millimetres of washers, centimetres of a bracket
        const double step_m = beam ? 0.005 : 0.001;
        add(heights, n * step_m, 0.0);
        if (!beam)
            add(heights, -n * step_m, 0.0);
    }
    constexpr double degree = 3.14159265358979323846 / 180.0;
    for (int n = 1; beam && n <= 6; ++n)
        add(tilts, 0.0, n * degree);
    all.push_back(std::move(heights));
    all.push_back(std::move(tilts));
}

/// What would fill the gaps of a mission, and a board that has none to fill.
void addMissing(const kit::Assembly &car, std::vector<WayCandidates> &all)
{
    WayCandidates to;
    for (const auto &need : kit::needs(car)) {
        if (need.met)
            continue;
        if (need.want == kit::Want::NoBoard)
            for (const auto &id : need.by)
                to.fixes.push_back(exchange(car, {id}, {}));
        else
            for (const auto &part : need.partIds) {
                Fix fix;
                fix.parts.push_back({{}, {}, part});
                to.fixes.push_back(std::move(fix));
            }
    }
    all.push_back(std::move(to));
}

/// Each support of the catalogue, as near to an end of the deck as it stands the test.
void addSupports(const kit::Assembly &car, std::vector<WayCandidates> &all)
{
    constexpr double step_m = 0.01;
    for (const auto &part : car.catalogue().parts()) {
        if (part.kind != Kind::Support || car.catalogue().find(part.id) != &part)
            continue;
        auto copy = car.car();
        const auto id = addPart(copy, car.catalogue(), part.id);
        WayCandidates to{{}, 1};
        for (double in_m = step_m; in_m < car->geometry.length_m / 2.0; in_m += step_m)
            for (const double setBack_m : {in_m, car->geometry.length_m - in_m}) {
                Fix fix;
                fix.parts.push_back({{}, {}, part.id});
                fix.moves.push_back({id, setBack_m, 0.0});
                to.fixes.push_back(std::move(fix));
            }
        all.push_back(std::move(to));
    }
}

} // namespace

std::vector<WayCandidates> wayCandidates(const kit::Assembly &car, const Finding &finding)
{
    std::vector<WayCandidates> all;
    if (finding.code == "mission-gap")
        addMissing(car, all);
    if (finding.code == "support-missing")
        addSupports(car, all);
    if (finding.code.starts_with("channel-over"))
        if (auto fix = exchange(car, furtherMotors(car), {}); !fix.parts.empty())
            all.push_back({{std::move(fix)}, 1});
    addMoves(car, finding, all);
    addHeights(car, finding, all);
    if (const auto kinds = worthATry().find(finding.code); kinds != worthATry().end())
        for (const auto kind : kinds->second)
            addExchanges(car, kind, all);
    for (const auto &ways : {notedWays(car, finding), wireWays(car, finding)})
        all.insert(all.end(), ways.begin(), ways.end());
    return all;
}

} // namespace badger::edit
