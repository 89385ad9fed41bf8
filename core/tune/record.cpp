// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/tune/record.h"

#include "core/base/angle.h"

#include <algorithm>
#include <array>
#include <cmath>
#include <fmt/format.h>

namespace badger::tune
{

using units::quantity;
using units::Unit;

namespace
{

/// Beyond this a charge is another one: a choice of ours, as the log takes it.
constexpr double sameCharge_V = 0.3;
constexpr double sameLength_m = 0.002;
constexpr double sameAngle_rad = 0.02;

bool isOfLine(What what)
{
    return what == What::Surfaces || what == What::Trimmer || what == What::Reflectance ||
           what == What::Lamp || what == What::Line;
}

std::string kindsOf(const kit::Assembly &car, std::initializer_list<parts::Kind> kinds, bool cells)
{
    std::vector<std::string> found;
    for (const auto &fitted : car->parts) {
        const auto *part = car.part(fitted);
        if (part == nullptr || std::find(kinds.begin(), kinds.end(), part->kind) == kinds.end())
            continue;
        found.push_back(
            cells && fitted.cellsInSeries > 0
                ? fmt::format("{} x{}", part->id,
                              fitted.cellsInSeries * std::max(1, fitted.cellsInParallel))
                : part->id);
    }
    std::sort(found.begin(), found.end());
    return fmt::format("{}", fmt::join(found, ", "));
}

/// Whatever looks at the floor: modules, strips, reflectance sensors.
std::vector<std::string> placesOf(const kit::Assembly &car)
{
    using parts::Kind;
    std::vector<std::string> places;
    for (const auto &f : car.fitted()) {
        const auto kind = f.part->kind;
        if (kind != Kind::Infrared && kind != Kind::Strip && kind != Kind::Reflectance)
            continue;
        const auto *mount = kit::mountOf(car.car(), *f.instance);
        places.push_back(
            mount ? fmt::format("{} at {:.0f} mm", f.instance->id, mount->offset_m * 1000.0)
                  : f.instance->id);
    }
    std::sort(places.begin(), places.end());
    return places;
}

bool moved(const kit::Mount &a, const kit::Mount &b)
{
    return std::abs(a.setBack_m - b.setBack_m) > sameLength_m ||
           std::abs(a.offset_m - b.offset_m) > sameLength_m ||
           std::abs(a.height_m - b.height_m) > sameLength_m ||
           std::abs(a.yaw_rad - b.yaw_rad) > sameAngle_rad ||
           std::abs(a.tilt_rad - b.tilt_rad) > sameAngle_rad;
}

} // namespace

const char *key(What what)
{
    constexpr std::array<const char *, whatCount> keys = {
        "ruler",        "no-echo", "surfaces", "trimmer", "reflectance", "neutral", "turn",
        "straightness", "speed",   "air",      "lamp",    "horn",        "line"};
    return keys[static_cast<size_t>(what)];
}

Say words(What what)
{
    switch (what) {
    case What::Ruler:
        return say("ranger against ruler");
    case What::NoEcho:
        return say("what it gives for no echo");
    case What::Surfaces:
        return say("both surfaces");
    case What::Trimmer:
        return say("trimmer and sense");
    case What::Reflectance:
        return say("reflectance to distance");
    case What::Neutral:
        return say("neutral pulse");
    case What::Turn:
        return say("turn rate");
    case What::Speed:
        return say("speed");
    case What::Air:
        return say("air and echo");
    case What::Lamp:
        return say("bright and shaded");
    case What::Horn:
        return say("horn and dwell");
    case What::Line:
        return say("over the line");
    case What::Straightness:
        break;
    }
    return say("straightness");
}

Say shortWords(What what)
{
    switch (what) {
    case What::Ruler:
        return say("ruler");
    case What::NoEcho:
        return say("no echo");
    case What::Reflectance:
        return say("distance");
    case What::Trimmer:
        return say("trimmer");
    case What::Neutral:
        return say("neutral");
    default:
        return words(what);
    }
}

bool isOfDrive(What what)
{
    return what == What::Turn || what == What::Straightness || what == What::Speed;
}

bool isOfAPart(What what)
{
    return !isOfDrive(what) && what != What::Line;
}

Burst burstOf(const Stretch &stretch)
{
    Burst burst;
    burst.reserve(stretch.readings.size());
    for (const double r : stretch.readings)
        burst.push_back(r == nothingCame ? std::nullopt : std::optional(r));
    return burst;
}

Basis basisOf(const kit::Assembly &car, What what, const std::string &instance)
{
    using parts::Kind;
    Basis b;
    if (const auto *fitted = car->instance(instance)) {
        b.part = fitted->partId;
        if (const auto *mount = kit::mountOf(car.car(), *fitted))
            b.mount = *mount;
        for (const auto &w : car->wires)
            for (const auto &[mine, other] : {std::pair(w.from, w.to), std::pair(w.to, w.from)}) {
                const auto name = kit::splitTerminal(mine);
                if (name.instance == instance)
                    b.pins.push_back(name.terminal + " " + other);
            }
        std::sort(b.pins.begin(), b.pins.end());
        if (const auto *carrier = car->instance(fitted->carriedBy);
            carrier && carrier->hornError_rad)
            b.horn = fmt::format("{:.1f}", *carrier->hornError_rad / degree);
    }
    if (isOfDrive(what) || what == What::Neutral)
        b.pack = kindsOf(car, {Kind::Cell, Kind::Supply}, true);
    if (isOfDrive(what))
        b.wheels = kindsOf(car, {Kind::Wheel, Kind::Support}, false);
    if (what == What::Line)
        b.places = placesOf(car);
    return b;
}

std::vector<Say> changedSince(const Record &record, const kit::Assembly &car,
                              const std::string &floorNow)
{
    std::vector<Say> changes;
    const auto &then = record.basis;
    if (isOfAPart(record.what) && car->instance(record.instance) == nullptr)
        return {say("before {} went off the car", record.instance)};
    const auto now = basisOf(car, record.what, record.instance);
    if (then.part != now.part)
        changes.push_back(say("with another part, {}", then.part));
    if (then.mount && now.mount && moved(*then.mount, *now.mount)) {
        if (std::abs(then.mount->height_m - now.mount->height_m) > sameLength_m)
            changes.push_back(say("at {} over the floor, not {}",
                                  quantity(then.mount->height_m, Unit::Millimetre, 0),
                                  quantity(now.mount->height_m, Unit::Millimetre, 0)));
        else
            changes.push_back(say("before its mount was moved"));
    }
    if (then.mount.has_value() != now.mount.has_value())
        changes.push_back(say("before its place was said"));
    if (then.pins != now.pins)
        changes.push_back(say("with other wires"));
    if (then.horn != now.horn && record.what == What::Ruler)
        changes.push_back(say("before the servo's horn was set"));
    if (then.pack != now.pack)
        changes.push_back(say("with another pack, {}", then.pack));
    if (then.wheels != now.wheels)
        changes.push_back(say("on other wheels, {}", then.wheels));
    if (then.places != now.places)
        changes.push_back(say("before its line sensors were moved"));
    const bool onFloor = isOfLine(record.what) || isOfDrive(record.what);
    if (onFloor && !floorNow.empty() && !then.floor.empty() && then.floor != floorNow)
        changes.push_back(say("on {}, not on {}", then.floor, floorNow));
    return changes;
}

} // namespace badger::tune
