// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/judge/check_program_on_car.h"

#include "core/nets/drive_map.h"
#include "core/sense/ultrasonic.h"

#include <cmath>

namespace badger::judge
{

using units::quantity;
using units::Unit;

namespace
{

units::Quantity cm(double m)
{
    return quantity(m, Unit::Centimetre, 1);
}

} // namespace

void checkStop(Findings &out, const kit::Car &car, const CarBudget &b)
{
    const auto target = "value:" + b.valueName;
    const double gap = b.budget.worstGap_m;
    if (gap < 0.0) {
        out.findings.push_back({"stops-too-late", Severity::Error, say("stopping budget"),
                                say("At worst the car is {} past the obstacle.", cm(-gap)),
                                say("It hits what it should stop for."),
                                say("Raise the threshold, slow down, or look more often."),
                                target});
    } else if (car.wantedGap_m && gap < *car.wantedGap_m) {
        out.findings.push_back(
            {"gap-under-wanted", Severity::Warning, say("stopping budget"),
             say("At worst {} are left; {} are wanted.", cm(gap), cm(*car.wantedGap_m)),
             say("The car stops, but nearer than it should."),
             say("The least threshold for that gap is {}.", cm(*b.leastThreshold_m)), target});
    } else {
        out.fine.emplace_back(say("stops short of the obstacle"));
    }
    if (b.speed.value <= 0.0)
        out.findings.push_back({"below-dead-band", Severity::Error, "speed",
                                say("At {} of 255 the wheels do not turn.", b.pwm_counts),
                                say("The motors hum, heat up and stand still."),
                                say("Raise the PWM count."), "value:speed"});
    if (!b.speed.measured || !b.roll.measured)
        out.findings.push_back(
            {"not-measured", Severity::Advice, say("stopping budget"),
             say("{} not measured on this car.",
                 !b.speed.measured && !b.roll.measured ? say("Speed and roll-out are")
                 : b.speed.measured                    ? say("The roll-out is")
                                                       : say("The speed at this count is")),
             say("The budget rests on the parts' data, which vary from car to car."),
             say("Measure it once and note battery and floor."), target});
}

void checkProgramOnCar(Findings &out, const kit::Assembly &car, const rules::Program &program,
                       const floor::Floor *floor)
{
    for (const auto side : {kit::Side::Left, kit::Side::Right}) {
        const auto drive = nets::wheelDrive(car, side);
        if (!drive || !drive->jumpered)
            continue;
        for (const auto &v : program.values)
            if (v.kind == rules::ValueKind::Speed && v.si && *v.si < 255.0)
                out.findings.push_back(
                    {"speed-line-jumpered", Severity::Warning, drive->enable,
                     say("'{}' is {} of 255, but a jumper holds {} high.", v.name,
                         units::number(*v.si, 0), drive->enable),
                     say("That wheel runs at full speed whatever the program asks for."),
                     say("Remove the jumper and wire the enable to a PWM pin."),
                     "terminal:" + drive->enable});
    }
    for (const auto &r : program.readings)
        if (const auto part = rangerOf(car, r); !part)
            out.findings.push_back(
                {"reading-without-ranger", Severity::Error,
                 say("program '{}', reading {}", program.name, r.name),
                 say("'{}' reads '{}', which is no mounted ranger of this car.", r.name,
                     r.instance),
                 say("The program cannot be run, simulated or written for this car."),
                 say("Fit a ranger of that name and say where it sits."), "reading:" + r.name});
    constexpr double noticeable_degC = 5.0; // about 1 % of the distance
    for (const auto &r : program.readings) {
        if (floor == nullptr || !r.air_degC ||
            std::abs(*r.air_degC - floor->air_degC) < noticeable_degC)
            continue;
        const auto here = sense::speedOfSound_mps(floor->air_degC);
        const auto assumed = sense::speedOfSound_mps(*r.air_degC);
        if (!here || !assumed)
            continue;
        const double at_m = 0.5;
        out.findings.push_back({"air-differs", Severity::Advice, floor->name,
                                say("The program assumes {}, the air is at {}.",
                                    quantity(*r.air_degC, Unit::Celsius, 1),
                                    quantity(floor->air_degC, Unit::Celsius, 1)),
                                say("At {} the reading is off by {}.", cm(at_m),
                                    quantity(at_m * (*assumed / *here - 1.0), Unit::Millimetre, 1)),
                                say("Set the program's air temperature to the room's."),
                                "reading:" + r.name});
    }
}

void checkSpeedsUnderCap(Findings &out, const power::Report &power, const rules::Program &program)
{
    const auto &nominal = power.at(kit::Charge::Nominal);
    const auto &fresh = power.at(kit::Charge::Fresh);
    if (nominal.empty() || fresh.empty() || nominal.front().servo)
        return;
    const int cap = nominal.front().cap.count;
    const int freshCap = fresh.front().cap.count;
    bool any = false;
    for (const auto &v : program.values) {
        if (v.kind != rules::ValueKind::Speed || !v.si || *v.si <= freshCap)
            continue;
        any = true;
        out.findings.push_back({"speed-over-cap",
                                *v.si > cap ? Severity::Warning : Severity::Advice, v.name,
                                say("'{}' is {} of 255; the motors' rated volts are reached at {} "
                                    "with fresh cells, at {} with nominal ones.",
                                    v.name, units::number(*v.si, 0), freshCap, cap),
                                say("The motors get hot and wear out, and a stalled one draws more "
                                    "than its sheet says."),
                                say("Keep it at {} or under.", freshCap), "value:" + v.name});
    }
    if (!any)
        out.fine.emplace_back(say("speeds keep within the motors' rated volts"));
}

std::vector<CheckLine> checkLines()
{
    return {
        {"reading-without-ranger", "error",
         "a reading's ranger is not on the car, or has no place"},
        {"stops-too-late", "error", "at worst the car is past the obstacle"},
        {"gap-under-wanted", "warning", "at worst less than the wanted gap is left"},
        {"below-dead-band", "error", "at this count the wheels do not turn"},
        {"not-measured", "advice", "speed or roll-out rest on the parts' data"},
        {"speed-over-cap", "warning above the nominal, advice above the fresh count",
         "a speed gives the motors more than they are made for"},
        {"speed-line-jumpered", "warning", "a jumper holds the enable of a slower wheel high"},
        {"air-differs", "advice", "the program assumes another air temperature than the floor has"},
    };
}

} // namespace badger::judge
