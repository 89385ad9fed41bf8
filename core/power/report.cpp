// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/power/report.h"

#include "core/drive/bridge.h"
#include "core/drive/speed.h"
#include "core/power/amounts.h"
#include "core/units/quantity.h"

#include <algorithm>
#include <fmt/format.h>
#include <numbers>

namespace badger::power
{

using kit::Bound;
using kit::Charge;
using parts::Kind;
using units::fixed;
using units::quantity;
using units::Unit;

namespace
{

const parts::Part *partAt(const kit::Assembly &car, const Node &node)
{
    return car.catalogue().find(car->instance(node.instance)->partId);
}

void addSpeeds(MotorAnswer &m, const parts::Part &motor, const kit::Assembly &car)
{
    const auto *band = motor.figure("dead_band");
    if (band != nullptr)
        m.deadBand_counts = static_cast<int>(band->typical * 255.0);
    const auto share = drive::loadShare(motor);
    const auto *wheel = car.first(Kind::Wheel);
    if (!share || wheel == nullptr || band == nullptr)
        return;
    drive::MotorLine line;
    line.supply_V = m.running_V;
    line.rated_V = m.rated_V;
    line.noLoad_rpm = motor.figure("no_load_rpm")->typical;
    line.loadShare = *share;
    line.wheelDiameter_m = car.part(*wheel)->figure("diameter_m")->typical;
    line.deadBand = band->typical;
    m.speedFull_mps = drive::groundSpeed_mps(line, 1.0);
    m.speedCap_mps = drive::groundSpeed_mps(line, m.cap.count / 255.0);
    m.wheel_rpm = *m.speedFull_mps * 60.0 / (std::numbers::pi * line.wheelDiameter_m);
}

/// A continuous servo that drives: its speed without load, in proportion to its volts.
std::optional<MotorAnswer> driveServoAt(const Tree &tree, const kit::Assembly &car, size_t index,
                                        Charge charge)
{
    const auto &node = tree.nodes[index];
    const auto &part = *partAt(car, node);
    const auto *rated = part.figure("rated_V");
    const auto *rpm = part.figure("no_load_rpm");
    const auto &v = tree.at(static_cast<int>(index), {charge, Load::Running, Case::Typical});
    if (!rated || !rpm || rated->typical <= 0.0 || !v.voltsKnown)
        return std::nullopt;
    MotorAnswer m;
    m.servo = true;
    m.motor = node.instance;
    m.name = node.name;
    m.supply_V = v.ceiling_V;
    m.rated_V = rated->typical;
    m.cap = {255, v.ceiling_V, v.ceiling_V};
    m.running_V = v.volts_V;
    m.wheel_rpm = rpm->typical * m.running_V / rated->typical;
    if (const auto *wheel = car.first(Kind::Wheel))
        m.speedFull_mps = *m.wheel_rpm / 60.0 * std::numbers::pi *
                          car.part(*wheel)->figure("diameter_m")->typical;
    return m;
}

std::vector<MotorAnswer> motorsAt(const Tree &tree, const kit::Assembly &car, Charge charge)
{
    std::vector<MotorAnswer> all;
    for (size_t i = 0; i < tree.nodes.size(); ++i) {
        const auto &node = tree.nodes[i];
        if (partAt(car, node)->kind == Kind::DriveServo)
            if (auto servo = driveServoAt(tree, car, i, charge))
                all.push_back(std::move(*servo));
        if (node.kind != NodeKind::Motor)
            continue;
        const auto &channel = tree.nodes[static_cast<size_t>(node.parent)];
        const State running{charge, Load::Running, Case::Typical};
        const auto &input = tree.at(channel.parent, running);
        const auto &motor = *partAt(car, node);
        const auto drop =
            drive::bridgeDrop(*partAt(car, channel), tree.at(node.parent, running).amps_A);
        if (!drop || !input.voltsKnown)
            continue;
        MotorAnswer m;
        m.motor = node.id;
        m.channel = channel.id;
        m.name = node.name;
        m.supply_V = input.ceiling_V;
        m.running_V = tree.at(static_cast<int>(i), running).volts_V;
        m.drop_V = drop->volts_V;
        if (!drop->how.empty())
            m.dropHow = say("= {}", drop->how);
        m.rated_V = motor.figure("rated_V")->typical;
        const auto cap = dutyCap(m.supply_V, m.drop_V, m.rated_V);
        if (!cap)
            continue; // said by the check: the driver keeps everything
        m.cap = *cap;
        addSpeeds(m, motor, car);
        all.push_back(std::move(m));
    }
    return all;
}

/// From the source that has a charge to lose and gives most of the current.
std::optional<RunTime> runTimeOf(const Tree &tree, const kit::Assembly &car)
{
    const State typical{Charge::Nominal, Load::Running, Case::Typical};
    const State worst{Charge::Nominal, Load::Running, Case::Worst};
    std::optional<RunTime> least;
    for (size_t i = 0; i < tree.nodes.size(); ++i) {
        const auto &node = tree.nodes[i];
        const auto &part = *partAt(car, node);
        const auto *capacity = part.figure("capacity_Ah");
        const auto *usable = part.figure("usable_share");
        const auto &amps = tree.at(static_cast<int>(i), typical);
        if (node.kind != NodeKind::Source || !capacity || !usable || amps.atLeast)
            continue;
        const int parallel = std::max(1, car->instance(node.instance)->cellsInParallel);
        const auto hours = [&](Bound bound, const Values &v) {
            return runTime_h(kit::at(*capacity, bound) * parallel, kit::at(*usable, bound),
                             v.amps_A);
        };
        const auto t = hours(Bound::Typical, amps);
        const auto low = hours(Bound::Low, tree.at(static_cast<int>(i), worst));
        const auto high = hours(Bound::High, amps);
        if (!t || !low || !high || (least && least->typical_h <= *t))
            continue;
        RunTime r{*t, *low, *high, {}};
        r.why.title = say("run time");
        r.why.result = units::number(*t, 1) + " h";
        r.why.steps = {
            {node.name, quantity(capacity->typical * parallel, Unit::AmpereHour, 2),
             parallel > 1
                 ? say("{} × {}", parallel, quantity(capacity->typical, Unit::AmpereHour, 2))
                 : std::string{},
             say("{} to {}; {}", quantity(capacity->low, Unit::AmpereHour, 2),
                 quantity(capacity->high, Unit::AmpereHour, 2), capacity->source)},
            {say("usable share"), "× " + units::number(usable->typical, 2), {}, usable->source},
            {say("mean current"), "÷ " + ampsText(amps), {}, say("everything running, as drawn")}};
        r.why.aside = say("{} to {} h", units::number(*low, 1), units::number(*high, 1));
        least = std::move(r);
    }
    return least;
}

std::vector<LedLook> ledsOf(const Tree &tree, const kit::Assembly &car)
{
    std::vector<LedLook> all;
    for (const auto &node : tree.nodes) {
        const auto &part = *partAt(car, node);
        if (part.kind != Kind::Led || node.parent < 0)
            continue;
        const auto *logic =
            partAt(car, tree.nodes[static_cast<size_t>(node.parent)])->figure("logic_V");
        const auto *forward = part.figure("forward_V");
        const auto *current = part.figure("running_A");
        if (!logic || !forward || !current)
            continue;
        const auto answer = ledResistor(logic->typical, forward->typical, current->typical);
        if (answer)
            all.push_back(
                {node.instance, logic->typical, forward->typical, current->typical, *answer});
    }
    return all;
}

std::vector<DividerLook> dividersOf(const Tree &tree, const kit::Assembly &car)
{
    std::vector<DividerLook> all;
    for (const auto &fitted : car->parts) {
        const auto *part = car.part(fitted);
        if (part == nullptr || part->kind != Kind::Divider || fitted.feeds.empty())
            continue;
        const auto &signal = fitted.feeds.front().from;
        const auto in = signal_V(tree, car, kit::splitTerminal(signal).instance);
        DividerLook d{fitted.id,
                      signal,
                      in.value_or(0.0),
                      part->figure("top_ohm")->typical,
                      part->figure("bottom_ohm")->typical,
                      0.0};
        const auto out = in ? dividerOut_V(*in, d.top_ohm, d.bottom_ohm) : Result<double>(0.0);
        if (!in || !out)
            continue;
        d.out_V = *out;
        all.push_back(d);
    }
    return all;
}

} // namespace

Report report(const kit::Assembly &car)
{
    Report r;
    r.tree = solve(car);
    for (const auto charge : kit::charges)
        r.motors[static_cast<size_t>(charge)] = motorsAt(r.tree, car, charge);
    r.runTime = runTimeOf(r.tree, car);
    r.leds = ledsOf(r.tree, car);
    r.dividers = dividersOf(r.tree, car);
    return r;
}

Derivation whyCap(const MotorAnswer &m, Charge charge)
{
    Derivation d;
    d.title = say("greatest count for {}, {} cells", m.name, name(charge));
    d.result = say("{} of 255", m.cap.count);
    d.steps = {
        {"supply", volts(m.supply_V), {}, say("{}, without sag", name(charge))},
        {say("drop of the driver"), "− " + volts(m.drop_V), m.dropHow, say("at running current")},
        {say("at full duty"), "= " + volts(m.cap.fullDutyMean_V), {}, say("mean at the motor")},
        {say("rated volts"),
         say("255 × {} ÷ {}", volts(m.rated_V), volts(m.cap.fullDutyMean_V)),
         {},
         say("rounded down, never above 255")}};
    d.aside = say("{} at that count", volts(m.cap.mean_V));
    return d;
}

Derivation whyFullDuty(const MotorAnswer &m, Charge charge)
{
    Derivation d;
    d.title = say("mean volts of {} at full duty, {} cells", m.name, name(charge));
    d.result = volts(m.cap.fullDutyMean_V);
    d.steps = {{"supply", volts(m.supply_V), {}, say("{}, without sag", name(charge))}};
    if (!m.servo)
        d.steps.push_back({say("drop of the driver"), "− " + volts(m.drop_V), m.dropHow,
                           say("at running current")});
    d.aside = say("made for {}", volts(m.rated_V));
    return d;
}

Derivation whySpeed(const MotorAnswer &m, const kit::Assembly &car)
{
    Derivation d;
    d.title = say("speed over the floor at full duty");
    if (!m.speedFull_mps)
        return d;
    const auto &motor = *car.catalogue().find(car->instance(m.motor)->partId);
    const auto &wheel = *car.catalogue().find(car.first(Kind::Wheel)->partId);
    d.result = fixed(*m.speedFull_mps, Unit::MetrePerSecond, 2);
    if (m.servo) {
        const auto *rpm = motor.figure("no_load_rpm");
        d.steps = {{say("no-load speed"),
                    say("{} rpm", units::number(rpm->typical, 0)),
                    {},
                    say("at {}; {}", volts(m.rated_V), rpm->source)},
                   {"volts",
                    say("× {} ÷ {}", volts(m.running_V), volts(m.rated_V)),
                    {},
                    say("speed goes with the volts that reach it while everything runs")},
                   {"circumference",
                    say("× π × {} ÷ 60",
                        quantity(wheel.figure("diameter_m")->typical, Unit::Millimetre, 1)),
                    {},
                    wheel.name}};
        d.aside = say("without load: its own torque line is not known");
        return d;
    }
    d.steps = {
        {say("no-load speed"),
         say("{} rpm", units::number(motor.figure("no_load_rpm")->typical, 0)),
         {},
         say("at {}; {}", volts(m.rated_V), motor.figure("no_load_rpm")->source)},
        {"volts",
         say("× {} ÷ {}", volts(m.running_V), volts(m.rated_V)),
         {},
         say("speed goes with the volts that reach it while everything runs")},
        {"load",
         say("− {} rpm",
             units::number(motor.figure("no_load_rpm")->typical * *drive::loadShare(motor), 0)),
         {},
         say("running against stall current, along the torque line")},
        {"wheel", say("= {} rpm", units::number(*m.wheel_rpm, 0)), {}, say("at the wheel")},
        {"circumference",
         say("× π × {} ÷ 60", quantity(wheel.figure("diameter_m")->typical, Unit::Millimetre, 1)),
         {},
         wheel.name}};
    if (m.deadBand_counts >= 0)
        d.steps.push_back({say("dead band"),
                           say("{} of 255", m.deadBand_counts),
                           {},
                           say("up to there the wheel hums and does not turn")});
    d.aside = m.speedCap_mps ? say("{} at {} counts",
                                   fixed(*m.speedCap_mps, Unit::MetrePerSecond, 2), m.cap.count)
                             : std::string{};
    return d;
}

Derivation whyLed(const LedLook &led)
{
    const auto &a = led.answer;
    Derivation d;
    d.title = say("resistor of ") + led.instance;
    d.result = quantity(a.standard_ohm, Unit::Ohm, 1);
    d.steps = {{"supply", volts(led.supply_V), {}, say("a pin that is high")},
               {say("forward volts"), "− " + volts(led.forward_V), {}, say("kept by the LED")},
               {say("wanted current"), "÷ " + quantity(led.wanted_A, Unit::Milliampere, 1), {}, ""},
               {"exact",
                "= " + quantity(a.exact_ohm, Unit::Ohm, 1),
                {},
                say("next standard value up: E12")},
               {say("real current"),
                quantity(a.real_A, Unit::Milliampere, 1),
                {},
                say("{} in the resistor", quantity(a.resistor_W, Unit::Milliwatt, 0))}};
    d.aside = say("leaving the forward volts out would claim {}",
                  quantity(a.naive_A, Unit::Milliampere, 1));
    return d;
}

Derivation whyDivider(const DividerLook &d)
{
    Derivation why;
    why.title = say("volts behind {}", d.instance);
    why.result = volts(d.out_V);
    why.steps = {
        {d.signal, volts(d.in_V), {}, say("what the sensor is fed with")},
        {say("resistor to ground"), "× " + quantity(d.bottom_ohm, Unit::Ohm, 0), {}, ""},
        {say("both resistors"), say("÷ {}", quantity(d.top_ohm + d.bottom_ohm, Unit::Ohm, 0)),
         say("{} + {}", quantity(d.top_ohm, Unit::Ohm, 0), quantity(d.bottom_ohm, Unit::Ohm, 0)),
         say("without load")}};
    why.aside = say("straight in it would be {}", volts(d.in_V));
    return why;
}

std::optional<double> signal_V(const Tree &tree, const kit::Assembly &car,
                               const std::string &instance)
{
    const auto *fitted = car->instance(instance);
    const auto *part = fitted ? car.part(*fitted) : nullptr;
    const auto *own = part ? ownSupply(*part) : nullptr;
    const int index = own ? tree.indexOf(instance + "." + own->name) : -1;
    if (index < 0)
        return std::nullopt;
    const auto &v = tree.at(index, {Charge::Fresh, Load::Idle, Case::Typical});
    return v.voltsKnown ? std::optional(v.ceiling_V) : std::nullopt;
}

std::optional<double> leastSource_V(const Report &r, const kit::Assembly &car, int output,
                                    State state)
{
    const auto &node = r.tree.nodes[static_cast<size_t>(output)];
    const auto &part = *partAt(car, node);
    const auto *dropout = part.figure("dropout_V");
    if (node.kind != NodeKind::Output || dropout == nullptr)
        return std::nullopt;
    const auto *t = part.terminal(kit::splitTerminal(node.id).terminal);
    const auto &v = r.tree.at(output, state);
    int source = output;
    while (r.tree.nodes[static_cast<size_t>(source)].kind != NodeKind::Source &&
           r.tree.nodes[static_cast<size_t>(source)].parent >= 0)
        source = r.tree.nodes[static_cast<size_t>(source)].parent;
    const double lost_V = r.tree.at(source, state).feed_V - v.feed_V;
    return regulatorNeeds_V(t->source_V, dropout->typical, v.fixed_V) + lost_V;
}

} // namespace badger::power
