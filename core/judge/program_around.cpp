// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/judge/program_around.h"

#include "core/base/angle.h"
#include "core/boardcode/target.h"
#include "core/drive/speed.h"
#include "core/judge/budget.h"
#include "core/tune/looks.h"

#include <algorithm>
#include <cmath>

namespace badger::judge
{

namespace
{

constexpr double deg = 1.0 / degree;

using oncar::newest;

std::optional<double> turnRate(const Pieces<tune::Record> &records, const char *side)
{
    const auto *record = newest(records, tune::What::Turn, {});
    if (record == nullptr)
        return std::nullopt;
    const auto fit = tune::turnOf(*record, side);
    return fit ? std::optional(fit->rate_rad_s * deg) : std::nullopt;
}

std::optional<regions::Around::Level> lightLevel(const kit::Assembly &car,
                                                 const rules::Reading &reading,
                                                 const Pieces<tune::Record> &records)
{
    if (const auto *record = newest(records, tune::What::Trimmer, reading.instance))
        if (const auto measured = tune::trimmerOf(*record); measured && measured->steady)
            return regions::Around::Level{measured->lightLevel ? 1 : 0, true};
    const auto *fitted = car.find(kit::splitTerminal(reading.instance).instance.empty()
                                      ? reading.instance
                                      : kit::splitTerminal(reading.instance).instance);
    if (fitted == nullptr || fitted->part->sense.empty())
        return std::nullopt;
    return regions::Around::Level{fitted->part->sense.ends_with("-high") ? 1 : 0, false};
}

/// Of the first state that goes ahead.
std::optional<double> speedAhead(const kit::Assembly &car, const rules::Program &program)
{
    const auto *goes = goState(program);
    const auto *value = goes ? program.value(goes->motion.left.speed) : nullptr;
    if (value == nullptr || !value->si)
        return std::nullopt;
    const auto speed = drive::speedAt(car, static_cast<int>(std::lround(*value->si)));
    return speed ? std::optional(speed->value) : std::nullopt;
}

/// Two surfaces, or bright and shaded.
const tune::Record *cloudsOf(const Pieces<tune::Record> &records, const std::string &instance)
{
    const auto *lamp = newest(records, tune::What::Lamp, instance);
    return lamp ? lamp : newest(records, tune::What::Surfaces, instance);
}

/// Measured; else the part's figure and the usual settling.
regions::Around::Servo servoTimes(const tune::Record *record, double for60_s)
{
    if (record != nullptr)
        if (const auto fit = tune::dwellOf(*record); fit && fit->settle_s)
            return {fit->for60_s / 60.0, std::max(0.0, *fit->settle_s)};
    return {for60_s / 60.0, servoSettles_s};
}

} // namespace

std::map<std::string, rules::RangerFacts> rangerFacts(const kit::Assembly &car,
                                                      const rules::Program &program)
{
    std::map<std::string, rules::RangerFacts> facts;
    for (const auto &reading : program.readings)
        if (const auto ranger = rangerOf(car, reading)) {
            const auto &part = **ranger;
            const auto *mount = kit::mountOf(car.car(), *car->instance(reading.instance));
            facts[reading.name] = {
                part.figure("dead_zone_m")->typical, part.figure("range_m")->typical,
                part.figure("no_echo_hold_s")->typical, mount ? mount->yaw_rad : 0.0,
                part.figure("half_angle_rad")->typical};
        }
    return facts;
}

Pieces<tune::Record> recordsOf(const workshop::Workshop &workshop, const kit::Car &car)
{
    Pieces<tune::Record> records;
    for (size_t i = 0; i < workshop.records.size(); ++i)
        if (workshop.records[i].car == car.id)
            records.share(workshop.records, i);
    return records;
}

boardcode::Writing writing(const workshop::Workshop &workshop, const kit::Assembly &car,
                           const rules::Program &program)
{
    return {workshop.name, {}, {}, carFacts(car, program, recordsOf(workshop, car))};
}

std::vector<sentences::Readable> readable(const kit::Assembly &car)
{
    using rules::Source;
    std::vector<sentences::Readable> all;
    for (const auto &f : car.fitted()) {
        const auto &id = f.instance->id;
        switch (f.part->kind) {
        case parts::Kind::Ranger: {
            const auto *carrier = car.find(f.instance->carriedBy);
            const bool turned = carrier && carrier->part->kind == parts::Kind::Servo;
            all.push_back({id, Source::Ranger, turned ? carrier->instance->id : std::string()});
            break;
        }
        case parts::Kind::Infrared:
            all.push_back({id, Source::Digital});
            break;
        case parts::Kind::Strip:
            for (const auto &t : f.part->terminals)
                if (t.role == parts::Role::DigitalOut)
                    all.push_back({id + "." + t.name, Source::Digital});
            break;
        case parts::Kind::Button:
            all.push_back({id, Source::Button});
            break;
        case parts::Kind::Reflectance:
        case parts::Kind::Light:
            all.push_back({id, Source::Analogue});
            break;
        default:
            break;
        }
    }
    return all;
}

regions::Around around(const kit::Assembly &car, const rules::Program &program,
                       const Pieces<tune::Record> &records)
{
    regions::Around all;
    all.rangers = rangerFacts(car, program);
    for (const auto &f : car.fitted())
        if (const auto *figure =
                f.part->kind == parts::Kind::Servo ? f.part->figure("s_per_60deg") : nullptr)
            all.servos[f.instance->id] =
                servoTimes(newest(records, tune::What::Horn, f.instance->id), figure->typical);
    for (const auto &r : program.readings)
        if (r.source == rules::Source::Digital || r.source == rules::Source::Button)
            if (const auto level = lightLevel(car, r, records))
                all.lightLevels[r.name] = *level;
    for (const auto &r : program.readings)
        if (const auto *record =
                r.source == rules::Source::Analogue ? cloudsOf(records, r.instance) : nullptr)
            if (const auto fit = tune::surfacesOf(*record))
                all.surfaces[r.name] = {{fit->light.mean, fit->light.deviation},
                                        {fit->dark.mean, fit->dark.deviation}};
    all.leftTurn_deg_s = turnRate(records, "left");
    all.rightTurn_deg_s = turnRate(records, "right");
    all.speed_mps = speedAhead(car, program);
    all.facts = carFacts(car, program, records);
    return all;
}

} // namespace badger::judge
