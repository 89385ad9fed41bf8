// SPDX-License-Identifier: GPL-3.0-or-later
#include "cli/calls.h"

namespace badger::cli
{

void Calls::calculators()
{
    auto *echo = add("echo", "Distance of an echo time", [this] { return cli::echo(m_echo); });
    echo->add_option("--time", m_echo.time, "echo time, as 1740us")->required();
    echo->add_option("--air", m_echo.air, "air temperature, as 22C")->required();

    auto *stop = add("stop-budget", "Gap at rest from a threshold",
                     [this] { return cli::stopBudget(m_stop); });
    stop->add_option("--threshold", m_stop.threshold, "as 32cm or 11.5in")->required();
    stop->add_option("--speed", m_stop.speed, "closing speed, as 0.24m/s")->required();
    stop->add_option("--loop", m_stop.loop, "ping to ping, as 65ms")->required();
    stop->add_option("--roll", m_stop.roll, "roll-out at that speed, as 3.5cm")->required();
    stop->add_option("--error", m_stop.error, "sensor error, as 1cm")->required();
    stop->add_option("--set-back", m_stop.setBack, "sensor behind the foremost point");
    stop->add_option("--age", m_stop.age, "age of the reading when it is used");
    stop->add_option("--actuation", m_stop.actuation, "from the command to the motors' answer");
    stop->add_option("--median", m_stop.medianOf, "median of this many readings");
    stop->add_option("--want", m_stop.want, "wanted gap: gives the least threshold");
}

void Calls::benchCalculators()
{
    auto *ruler = add("ruler-fit", "What a ranger's readings mean, by ruler",
                      [this] { return cli::rulerFit(m_ruler); });
    ruler->add_option("--csv", m_ruler.csv, "columns true_cm,reading_cm; - is the input")
        ->required();
    ruler->add_option("--air", m_ruler.air, "with which the readings were made, as 20C");

    auto *surfaces = add("surfaces", "The line between two surfaces",
                         [this] { return cli::surfaces(m_surfaces); });
    surfaces->add_option("--csv", m_surfaces.csv, "columns surface,reading; - is the input")
        ->required();

    auto *reflectance = add("reflectance-fit", "Distance of a reflectance reading",
                            [this] { return cli::reflectanceFit(m_reflectance); });
    reflectance
        ->add_option("--csv", m_reflectance.csv, "columns distance_cm,reading; - is the input")
        ->required();
    reflectance->add_option("--dark", m_reflectance.dark, "counts with nothing before it")
        ->check(CLI::Range(0, 1022));

    auto *trimmer = add("trimmer", "How a digital module's trimmer is turned",
                        [this] { return cli::trimmer(m_trimmer); });
    trimmer->add_option("--on-light", m_trimmer.onLight, "its light over light: on or off")
        ->required()
        ->check(CLI::IsMember({"on", "off"}));
    trimmer->add_option("--on-dark", m_trimmer.onDark, "its light over dark: on or off")
        ->required()
        ->check(CLI::IsMember({"on", "off"}));

    auto *dwell = add("dwell", "How long a servo takes", [this] { return cli::dwell(m_dwell); });
    dwell->add_option("--angle", m_dwell.angle, "of the step, as 100deg")->required();
    dwell->add_option("--speed", m_dwell.speed, "as 0.12s/60deg")->required();
    dwell->add_option("--settle", m_dwell.settle, "as 50ms");

    auto *straight = add("straightness", "How a drift is trimmed away",
                         [this] { return cli::straightness(m_straight); });
    straight->add_option("--drift", m_straight.drift, "aside at the end, as 8cm")->required();
    straight->add_option("--drift-half", m_straight.driftHalf, "aside half way");
    straight->add_option("--length", m_straight.length, "of the run, as 200cm")->required();
    straight->add_option("--track", m_straight.track, "between the wheels, as 13cm")->required();

    auto *turn = add("turn", "How fast it turns", [this] { return cli::turn(m_turn); });
    turn->add_option("--time", m_turn.time, "of a turn, as 400ms")->required();
    turn->add_option("--angle", m_turn.angle, "that it turned, as 70deg")->required();
    turn->add_option("--time2", m_turn.time2, "of a second turn");
    turn->add_option("--angle2", m_turn.angle2, "that it turned then");

    auto *runs = add("runs", "What a count of contacts says", [this] { return cli::runs(m_runs); });
    runs->add_option("--contacts", m_runs.contacts, "seen")->required();
    runs->add_option("--of", m_runs.of, "runs")->required();
    runs->add_option("--confidence", m_runs.confidence, "in per cent, 95");
}

void Calls::lineCalculators()
{
    auto *lane = add("lane", "Four sensors between two lines, or over one",
                     [this] { return cli::lane(m_lane); });
    lane->add_option("--inner", m_lane.inner, "inner sensors from the middle")->required();
    lane->add_option("--outer", m_lane.outer, "outer sensors from the middle")->required();
    lane->add_option("--line", m_lane.line, "width of a line")->required();
    lane->add_option("--lane-width", m_lane.laneWidth, "between the lines");
    lane->add_flag("--single", m_lane.single, "one line under the strip");

    auto *straddle =
        add("straddle", "Two sensors outside a line", [this] { return cli::straddle(m_straddle); });
    straddle->add_option("--line", m_straddle.line, "its width, as 19mm")->required();
    straddle->add_option("--gap", m_straddle.gap, "between the sensors, as 40mm")->required();

    auto *edge =
        add("edge", "Following an edge in proportion", [this] { return cli::edge(m_edge); });
    edge->add_option("--ahead", m_edge.ahead, "sensor before the axle, as 60mm")->required();
    edge->add_option("--spot", m_edge.spot, "its spot's diameter, as 10mm")->required();
    edge->add_option("--track", m_edge.track, "between the wheels, as 130mm")->required();
    edge->add_option("--speed", m_edge.speed, "as 0.2m/s")->required();
    edge->add_option("--share", m_edge.share, "by which the wheels differ at most, 0 to 1")
        ->required();
    edge->add_option("--lag", m_edge.lag, "of the motors, as 0.15s");
    edge->add_option("--delay", m_edge.delay, "of the loop, as 30ms");
}

void Calls::kitCalculators()
{
    auto *beam = add("beam", "What a ranger's beam covers of the car's width",
                     [this] { return cli::beam(m_beam); });
    beam->add_option("--half-angle", m_beam.halfAngle, "of the beam, as 7.5deg")->required();
    beam->add_option("--sweep", m_beam.sweep, "of its servo to each side, as 9deg");
    beam->add_option("--width", m_beam.width, "of the car, as 170mm")->required();
    beam->add_option("--at", m_beam.at, "distance from the ranger, as 40cm");

    auto *horn =
        add("horn", "How a servo's horn is set straight", [this] { return cli::horn(m_horn); });
    horn->add_option("--teeth", m_horn.teeth, "of the spline, as 21")->required();
    horn->add_option("--error", m_horn.error, "turn missing to straight ahead, as 20deg")
        ->required();

    auto *led = add("led", "The resistor of an LED", [this] { return cli::led(m_led); });
    led->add_option("--supply", m_led.supply, "as 5V")->required();
    led->add_option("--forward", m_led.forward, "forward volts, as 2V")->required();
    led->add_option("--current", m_led.current, "wanted, as 12mA")->required();

    auto *regulator = add("regulator", "Heat of a linear regulator",
                          [this] { return cli::regulator(m_regulator); });
    regulator->add_option("--in", m_regulator.in, "as 7.4V")->required();
    regulator->add_option("--out", m_regulator.out, "as 5V")->required();
    regulator->add_option("--current", m_regulator.current, "as 500mA")->required();
    regulator->add_option("--drop", m_regulator.drop, "of a diode in this path, as 0.7V");

    auto *divider =
        add("divider", "Volts between two resistors", [this] { return cli::divider(m_divider); });
    divider->add_option("--in", m_divider.in, "as 5V")->required();
    divider->add_option("--top", m_divider.top, "from the signal, as 1kohm")->required();
    divider->add_option("--bottom", m_divider.bottom, "to ground, as 2kohm")->required();

    auto *duty =
        add("duty", "Greatest PWM count for a motor", [this] { return cli::duty(m_duty); });
    duty->add_option("--supply", m_duty.supply, "as 7.2V")->required();
    duty->add_option("--drop", m_duty.drop, "of the driver, as 2V")->required();
    duty->add_option("--rated", m_duty.rated, "of the motor, as 4.5V")->required();
}

} // namespace badger::cli
