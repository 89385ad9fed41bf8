// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/judge/check_program_on_car.h"

#include "core/boardcode/board_code.h"
#include "core/judge/check_bench.h"
#include "core/judge/check_way.h"
#include "core/judge/rule_walk.h"

#include <algorithm>
#include <cmath>

namespace badger::judge
{

using units::quantity;
using units::Unit;

namespace
{

using Found = std::vector<Finding>;

/// Speeds that the program asks for, chosen ones only.
template <class Visit> void eachSpeed(const ProgramLook &look, Visit visit)
{
    for (const auto &v : look.program.values)
        if (v.kind == rules::ValueKind::Speed && v.si)
            visit(v, static_cast<int>(std::lround(*v.si)));
}

/// May a part be read so? A digital reading wants a yes or no, an analogue one a voltage.
bool canBeRead(const kit::Assembly &car, const rules::Reading &r)
{
    const auto name = kit::splitTerminal(r.instance);
    const auto *fitted = car.find(name.instance.empty() ? r.instance : name.instance);
    if (fitted == nullptr)
        return false;
    const auto kind = fitted->part->kind;
    if (!name.terminal.empty() && car.terminal(r.instance) == nullptr)
        return false;
    if (r.source == rules::Source::Analogue)
        return kind == parts::Kind::Reflectance || kind == parts::Kind::Light;
    if (r.source == rules::Source::Button)
        return kind == parts::Kind::Button;
    return kind == parts::Kind::Infrared || kind == parts::Kind::Strip;
}

Found withoutSensor(const ProgramLook &look, const char *code)
{
    Found found;
    for (const auto &r : look.program.readings)
        if ((r.source == rules::Source::Digital || r.source == rules::Source::Analogue ||
             r.source == rules::Source::Button) &&
            !canBeRead(look.car, r))
            found.push_back(
                {code, Severity::Error, say("program '{}', reading {}", look.program.name, r.name),
                 r.source == rules::Source::Button
                     ? say("'{}' reads '{}', which is no button of this car.", r.name, r.instance)
                 : r.source == rules::Source::Digital
                     ? say("'{}' reads '{}', which is no sensor of this car that says yes or no.",
                           r.name, r.instance)
                     : say("'{}' reads '{}', which is no sensor of this car that gives a count.",
                           r.name, r.instance),
                 say("The program has nothing to decide by."),
                 say("Fit a sensor of that name, or let the program read another."),
                 at::reading(r.name)});
    return found;
}

Found withoutRanger(const ProgramLook &look, const char *code)
{
    Found found;
    for (const auto &r : look.program.readings)
        if (const auto part = rangerOf(look.car, r); isEcho(r) && !part)
            found.push_back(
                {code, Severity::Error, say("program '{}', reading {}", look.program.name, r.name),
                 say("'{}' reads '{}', which is no mounted ranger of this car.", r.name,
                     r.instance),
                 say("The program cannot be run, simulated or written for this car."),
                 say("Fit a ranger of that name and say where it sits."), at::reading(r.name)});
    return found;
}

Found otherAction(const ProgramLook &look, const char *code)
{
    Found found;
    std::optional<size_t> first; // of those that the wires do otherwise
    for (const auto &a : look.actions) {
        const auto where = say("program '{}', {}", look.program.name, a.state);
        if (!a.possible)
            found.push_back({code, Severity::Error, where,
                             say("'{}' means: {}. The driver of this car cannot do that.", a.state,
                                 motion::words(a.wanted)),
                             say("Its truth table has no row for it."),
                             say("Let the state do something the driver can."),
                             at::state(a.state)});
        else if (a.path != a.wanted && a.path != motion::Path::Unsure) {
            auto what = say("'{}' means: {}. The wires make of it: {}.", a.state,
                            motion::words(a.wanted), motion::words(a.path));
            if (first) // the same wires do it
                found[*first].then.push_back(std::move(what));
            else
                found.push_back(
                    {code, Severity::Error, where, std::move(what),
                     say("The program switches its pins rightly; the wires lead elsewhere."),
                     say("The motion page of Wire shows which lead or pin it is."),
                     at::state(a.state)});
            if (!first)
                first = found.size() - 1;
        }
    }
    return found;
}

/// Where the program's pins are not those of the wires, that is said, and nothing follows from it.
bool actionsKnown(const ProgramLook &look)
{
    return !look.actions.empty() && look.pinsAsWired;
}

/// What is said of each speed that a wheel whose speed line is held high does not keep.
std::vector<Say> heldLines(const ProgramLook &look, const pins::SpeedReach &wheel)
{
    std::vector<Say> lines;
    if (wheel.by == pins::SpeedBy::Full)
        eachSpeed(look, [&](const rules::Value &v, int counts) {
            if (counts < 255)
                lines.push_back(
                    say("'{}' is {} of 255, but {} is held high.", v.name, counts, wheel.line));
        });
    return lines;
}

/// The first speed of which the wires make different ones at the two wheels; null where they do
/// not.
const rules::Value *unevenSpeed(const ProgramLook &look)
{
    const rules::Value *uneven = nullptr;
    eachSpeed(look, [&](const rules::Value &v, int counts) {
        if (uneven == nullptr && pins::actingCounts(look.reach[0].by, counts) !=
                                     pins::actingCounts(look.reach[1].by, counts))
            uneven = &v;
    });
    return uneven;
}

Found speedHeld(const ProgramLook &look, const char *code)
{
    Found found;
    if (unevenSpeed(look) != nullptr)
        return found; // that is said, with this as its reason
    for (const auto &wheel : look.reach) {
        auto lines = heldLines(look, wheel);
        if (lines.empty())
            continue;
        found.push_back({code, Severity::Warning, wheel.line, lines.front(),
                         say("That wheel runs at full speed whatever the program asks for; the "
                             "budget reckons with it."),
                         say("A speed line needs a pin with PWM, and no jumper or supply on it."),
                         at::terminal(wheel.line)});
        found.back().then.assign(lines.begin() + 1, lines.end());
    }
    return found;
}

Found speedUneven(const ProgramLook &look, const char *code)
{
    const auto *v = unevenSpeed(look);
    const bool said =
        look.wires && std::any_of(look.wires->begin(), look.wires->end(),
                                  [](const Finding &f) { return f.code == "speed-line-no-pwm"; });
    if (v == nullptr || said)
        return {};
    const int counts = static_cast<int>(std::lround(*v->si));
    const auto &[left, right] = look.reach;
    Finding f{
        code,
        Severity::Error,
        say("speed"),
        say("At '{}' the left wheel gets {} of 255, the right {}.", v->name,
            pins::actingCounts(left.by, counts), pins::actingCounts(right.by, counts)),
        say("The car goes round in a circle where it should go straight."),
        say("Both speed lines have to be on pins with PWM, with no jumper or supply on them."),
        at::value(v->name)};
    for (const auto &wheel : look.reach)
        for (auto &line : heldLines(look, wheel))
            f.then.push_back(std::move(line));
    return {f};
}

/// The motors on a driver with nominal and with fresh cells; null where the report knows none.
const power::MotorAnswer *firstMotor(const ProgramLook &look, kit::Charge charge)
{
    const auto &all = look.power.at(charge);
    return all.empty() || all.front().servo ? nullptr : &all.front();
}

/// Without a board nothing sets a count: the motors get what the supply gives, which Kit judges.
bool capsKnown(const ProgramLook &look)
{
    return look.car.first(parts::Kind::Board) && firstMotor(look, kit::Charge::Nominal) &&
           firstMotor(look, kit::Charge::Fresh);
}

Found overCap(const ProgramLook &look, const char *code)
{
    const int cap = firstMotor(look, kit::Charge::Nominal)->cap.count;
    const int freshCap = firstMotor(look, kit::Charge::Fresh)->cap.count;
    Found found;
    eachSpeed(look, [&](const rules::Value &v, int counts) {
        if (counts <= freshCap)
            return;
        found.push_back({code, counts > cap ? Severity::Warning : Severity::Advice, v.name,
                         say("'{}' is {} of 255; the motors' rated volts are reached at {} "
                             "with fresh cells, at {} with nominal ones.",
                             v.name, counts, freshCap, cap),
                         say("The motors get hot and wear out, and a stalled one draws more "
                             "than its sheet says."),
                         say("Keep it at {} or under.", freshCap), at::value(v.name)});
    });
    return found;
}

Spot atThreshold(const ProgramLook &look)
{
    return at::value(look.budget->valueName);
}

Found tooLate(const ProgramLook &look, const char *code)
{
    const double gap = look.budget->budget.worstGap_m;
    if (gap >= 0.0)
        return {};
    return {{code, Severity::Error, say("stopping budget"),
             say("At worst the car is {} past the obstacle.", cm(-gap)),
             say("It hits what it should stop for."),
             say("Raise the threshold, slow down, or look more often."), atThreshold(look)}};
}

Found underWanted(const ProgramLook &look, const char *code)
{
    const double gap = look.budget->budget.worstGap_m;
    if (gap < 0.0 || !look.car->wantedGap_m || gap >= *look.car->wantedGap_m)
        return {};
    return {{code, Severity::Warning, say("stopping budget"),
             say("At worst {} are left; {} are wanted.", cm(gap), cm(*look.car->wantedGap_m)),
             say("The car stops, but nearer than it should."),
             say("The least threshold for that gap is {}.", cm(*look.budget->leastThreshold_m)),
             atThreshold(look)}};
}

Found inDeadBand(const ProgramLook &look, const char *code)
{
    if (look.budget->speed.value > 0.0 || look.budget->slows)
        return {};
    return {{code, Severity::Error, say("speed"),
             say("At {} of 255 the wheels do not turn.", look.budget->acts_counts),
             say("The motors hum, heat up and stand still."), say("Raise the PWM count."),
             at::value("speed")}};
}

Found notMeasured(const ProgramLook &look, const char *code)
{
    const bool speed = look.budget->speed.measured;
    const bool roll = look.budget->roll.measured;
    if (speed && roll)
        return {};
    return {{code, Severity::Advice, say("stopping budget"),
             say("{} not measured on this car.", !speed && !roll ? say("Speed and roll-out are")
                                                 : speed         ? say("The roll-out is")
                                                         : say("The speed at this count is")),
             say("The budget rests on the parts' data, which vary from car to car."),
             say("Measure it once and note battery and floor."), atThreshold(look)}};
}

/// A speed measured on a pack that was not full: with fresh cells the car is faster.
Found fasterWhenFresh(const ProgramLook &look, const char *code)
{
    const auto &b = *look.budget;
    const auto *motor = firstMotor(look, kit::Charge::Nominal);
    const auto *fresh = firstMotor(look, kit::Charge::Fresh);
    const double fresh_V = fresh ? fresh->supply_V : 0.0; // at the driver, without sag
    const auto &speeds = look.car->calibrations.speeds;
    const auto at = std::find_if(speeds.begin(), speeds.end(),
                                 [&](const auto &s) { return s.pwm_counts == b.acts_counts; });
    if (!b.speed.measured || !motor || at == speeds.end() || at->under.battery_V <= motor->drop_V ||
        fresh_V <= at->under.battery_V)
        return {};
    auto setup = b.setup;
    setup.speed_mps *= (fresh_V - motor->drop_V) / (at->under.battery_V - motor->drop_V);
    setup.rollOut_m = drive::rollOut_m(b.roll.curve, setup.speed_mps);
    const auto faster = drive::stopBudget(setup);
    const double wanted_m = look.car->wantedGap_m.value_or(0.0);
    if (!faster || faster->worstGap_m >= wanted_m || b.budget.worstGap_m < wanted_m)
        return {};
    return {{code, Severity::Warning, say("stopping budget"),
             say("With fresh cells about {} are left at worst; {} are wanted.",
                 cm(faster->worstGap_m), cm(wanted_m)),
             say("The speed was measured at {}; a fresh pack of {} drives it at about {}.",
                 quantity(at->under.battery_V, Unit::Volt, 2), quantity(fresh_V, Unit::Volt, 2),
                 quantity(setup.speed_mps, Unit::MetrePerSecond)),
             say("Measure the speed with a fresh pack."), atThreshold(look)}};
}

bool isComplete(const ProgramLook &look)
{
    return look.car.first(parts::Kind::Board) && rules::unset(look.program).empty() &&
           !look.car->wires.empty();
}

/// Do the wires say what is wrong at this place, "left.A"?
bool isSaidOfWires(const ProgramLook &look, const std::string &place)
{
    if (place.empty())
        return false;
    const auto part = kit::splitTerminal(place).instance;
    return look.wires != nullptr &&
           std::any_of(look.wires->begin(), look.wires->end(), [&](const Finding &f) {
               return f.severity == Severity::Error &&
                      std::any_of(f.places.begin(), f.places.end(), [&](const Spot &spot) {
                          return spot.name == place || (!part.empty() && spot.name == part);
                      });
           });
}

Found notWritten(const ProgramLook &look, const char *code)
{
    const auto possible = boardcode::boardCodePossible(look.program, look.car);
    if (possible || isSaidOfWires(look, possible.error().place))
        return {};
    return {{code, Severity::Warning, possible.error().where,
             say("No board program can be written: {}.", possible.error().what),
             say("The prediction holds, but this program does not get it onto the car."),
             say("{}.", capitalised(possible.error().mend)), at::value({})}};
}

const std::vector<Check<ProgramLook>> &table()
{
    static const std::vector<Check<ProgramLook>> checks{
        {"reading-without-ranger", noPraise, withoutRanger, "error",
         "a reading's ranger is not on the car, or has no place"},
        {"reading-without-sensor", noPraise, withoutSensor, "error",
         "a reading's light sensor is not on the car, or cannot be read so"},
        {"action-not-done", source("every action does what the program means"), otherAction,
         "error", "the wires make something else of a state's action, or the driver cannot do it",
         actionsKnown},
        {"stops-too-late", source("stops short of the obstacle"), tooLate, "error",
         "at worst the car is past the obstacle", hasBudget},
        {"gap-under-wanted", noPraise, underWanted, "warning",
         "at worst less than the wanted gap is left", hasBudget},
        {"fresh-cells-faster", noPraise, fasterWhenFresh, "warning",
         "the speed was measured with less than fresh cells, and with those the gap is too small",
         hasBudget},
        {"below-dead-band", noPraise, inDeadBand, "error", "at this count the wheels do not turn",
         hasBudget},
        {"not-measured", noPraise, notMeasured, "advice",
         "speed or roll-out rest on the parts' data", hasBudget},
        {"speed-over-cap", source("speeds keep within the motors' rated volts"), overCap,
         "warning above the nominal, advice above the fresh count",
         "a speed gives the motors more than they are made for", capsKnown},
        {"speed-line-held", noPraise, speedHeld, "warning",
         "a jumper, a wire or a resistor holds the speed line of a slower wheel high"},
        {"wheels-uneven", noPraise, speedUneven, "error",
         "the wires make different speeds of one count at the two wheels"},
        {"no-board-program", noPraise, notWritten, "warning; advice for what is not written yet",
         "no program text can be written for this program, this board or these wires", isComplete},
    };
    return checks;
}

} // namespace

void checkProgramOnCar(Findings &out, const ProgramLook &look)
{
    run<ProgramLook>(table(), look, out);
    run<ProgramLook>(benchChecks(), look, out);
    run<ProgramLook>(wayChecks(), look, out);
}

std::vector<CheckLine> checkLines()
{
    std::vector<CheckLine> lines;
    addLines<ProgramLook>(table(), lines);
    addLines<ProgramLook>(benchChecks(), lines);
    addLines<ProgramLook>(wayChecks(), lines);
    return lines;
}

} // namespace badger::judge
