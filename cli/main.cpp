// SPDX-License-Identifier: GPL-3.0-or-later
// swift-badger-cli: every computation without a window.
//
// Exit status: 0 fine; 1 done, and a finding is an error; 2 the request or a file could not be
// used.
#include "cli/calculators.h"
#include "cli/kit_calculators.h"
#include "cli/program_commands.h"
#include "cli/record.h"
#include "cli/tune_calculators.h"
#include "cli/workshop_commands.h"
#include "core/base/medium.h"
#include "core/io/shipped.h"

#include <CLI/CLI.hpp>
#include <fmt/format.h>
#include <functional>
#include <iostream>
#include <sstream>

namespace
{

using namespace badger;
using badger::Result;
using cli::Answer;

constexpr int statusFinding = 1;
constexpr int statusUnusable = 2;

struct Flags {
    bool json = false;
    bool why = false;
};

/// Everything that leaves for a person's terminal goes through here: names come from files.
void complain(const std::string &text)
{
    std::cerr << "swift-badger-cli: " << medium::terminal(text) << '\n';
}

int deliver(const Result<Answer> &answer, const Flags &flags)
{
    if (!answer) {
        complain(cli::words(answer.error().text()));
        return statusUnusable;
    }
    if (flags.json)
        std::cout << medium::terminalJson(answer->json.dump(2)) << '\n';
    else
        std::cout << medium::terminal(answer->text)
                  << (flags.why ? medium::terminal(answer->why) : "");
    std::cout.flush();
    if (!std::cout) {
        complain("the output could not be written");
        return statusUnusable;
    }
    return answer->hasError ? statusFinding : 0;
}

void takeUnits(const std::string &symbol)
{
    for (const auto &u : units::allUnits())
        if (symbol == u.symbol)
            cli::display().length = u.unit;
}

/// The subcommands and where their options go. One function adds one call.
class Calls
{
public:
    explicit Calls(CLI::App &app) : m_app(app)
    {
        calculators();
        kitCalculators();
        benchCalculators();
        lineCalculators();
        recording();
        onWorkshop();
        refuseEmptyValues();
    }

    int run() const { return deliver(m_chosen(), m_flags); }

private:
    CLI::App *add(const char *name, const char *help, std::function<Result<Answer>()> call)
    {
        auto *sub = m_app.add_subcommand(name, help);
        sub->add_flag("--json", m_flags.json, "print one JSON object");
        sub->add_flag("--why", m_flags.why, "show the arithmetic");
        sub->add_option_function<std::string>(
               "--units", [](const std::string &symbol) { takeUnits(symbol); },
               "unit of lengths for people: cm, mm or in")
            ->check(CLI::IsMember({"cm", "mm", "in"}));
        sub->callback([this, call = std::move(call)] { m_chosen = call; });
        return sub;
    }

    /// An option that is given has a value: an empty one is a mistake, not the default.
    void refuseEmptyValues()
    {
        for (auto *sub : m_app.get_subcommands([](const CLI::App *) { return true; }))
            for (auto *option : sub->get_options())
                if (option->get_expected_min() > 0)
                    option->check(
                        [](const std::string &value) {
                            return value.find_first_not_of(" \t") == std::string::npos
                                       ? std::string("no value is given")
                                       : std::string();
                        },
                        "");
    }

    void calculators()
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

    void benchCalculators()
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

        auto *dwell =
            add("dwell", "How long a servo takes", [this] { return cli::dwell(m_dwell); });
        dwell->add_option("--angle", m_dwell.angle, "of the step, as 100deg")->required();
        dwell->add_option("--speed", m_dwell.speed, "as 0.12s/60deg")->required();
        dwell->add_option("--settle", m_dwell.settle, "as 50ms");

        auto *straight = add("straightness", "How a drift is trimmed away",
                             [this] { return cli::straightness(m_straight); });
        straight->add_option("--drift", m_straight.drift, "aside at the end, as 8cm")->required();
        straight->add_option("--drift-half", m_straight.driftHalf, "aside half way");
        straight->add_option("--length", m_straight.length, "of the run, as 200cm")->required();
        straight->add_option("--track", m_straight.track, "between the wheels, as 13cm")
            ->required();

        auto *turn = add("turn", "How fast it turns", [this] { return cli::turn(m_turn); });
        turn->add_option("--time", m_turn.time, "of a turn, as 400ms")->required();
        turn->add_option("--angle", m_turn.angle, "that it turned, as 70deg")->required();
        turn->add_option("--time2", m_turn.time2, "of a second turn");
        turn->add_option("--angle2", m_turn.angle2, "that it turned then");

        auto *runs =
            add("runs", "What a count of contacts says", [this] { return cli::runs(m_runs); });
        runs->add_option("--contacts", m_runs.contacts, "seen")->required();
        runs->add_option("--of", m_runs.of, "runs")->required();
        runs->add_option("--confidence", m_runs.confidence, "in per cent, 95");
    }

    void lineCalculators()
    {
        auto *lane = add("lane", "Four sensors between two lines, or over one",
                         [this] { return cli::lane(m_lane); });
        lane->add_option("--inner", m_lane.inner, "inner sensors from the middle")->required();
        lane->add_option("--outer", m_lane.outer, "outer sensors from the middle")->required();
        lane->add_option("--line", m_lane.line, "width of a line")->required();
        lane->add_option("--lane-width", m_lane.laneWidth, "between the lines");
        lane->add_flag("--single", m_lane.single, "one line under the strip");

        auto *straddle = add("straddle", "Two sensors outside a line",
                             [this] { return cli::straddle(m_straddle); });
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

    void recording()
    {
        auto *record = add("record", "Readings of a board, as they come",
                           [this] { return cli::record(m_record); });
        record->add_option("port", m_record.port, "the port's path")->required();
        record->add_option("--baud", m_record.baud, "115200")->check(CLI::Range(300, 4000000));
        record->add_option("--csv", m_record.csv, "the file they are written to")->required();
        record->add_option("--for", m_record.lasts, "as 10s; without it until it is interrupted");
        record->add_flag("--replace", m_record.replace, "a file that is there may be replaced");
    }

    void kitCalculators()
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

        auto *divider = add("divider", "Volts between two resistors",
                            [this] { return cli::divider(m_divider); });
        divider->add_option("--in", m_divider.in, "as 5V")->required();
        divider->add_option("--top", m_divider.top, "from the signal, as 1kohm")->required();
        divider->add_option("--bottom", m_divider.bottom, "to ground, as 2kohm")->required();

        auto *duty =
            add("duty", "Greatest PWM count for a motor", [this] { return cli::duty(m_duty); });
        duty->add_option("--supply", m_duty.supply, "as 7.2V")->required();
        duty->add_option("--drop", m_duty.drop, "of the driver, as 2V")->required();
        duty->add_option("--rated", m_duty.rated, "of the motor, as 4.5V")->required();
    }

    CLI::App *addForCar(const char *name, const char *help, std::function<Result<Answer>()> call,
                        bool carRequired = true)
    {
        auto *sub = add(name, help, std::move(call));
        sub->add_option("FILE", m_file, "workshop file")->required();
        sub->add_option("--car", m_car, "name of the car")->required(carRequired);
        return sub;
    }

    void addReplace(CLI::App *sub)
    {
        sub->add_flag("--replace", m_replace, "replace a file that is there already");
    }

    void onWorkshop()
    {
        auto *list =
            add("list", "Cars, floors, programs, trials", [this] { return cli::list(m_file); });
        list->add_option("FILE", m_file, "workshop file")->required();
        addForCar(
            "check", "Every finding", [this] { return cli::check(m_file, m_car); }, false);
        addForCar(
            "stale", "What was measured and no longer rests on what is there",
            [this] { return cli::stale(m_file, m_car); }, false);
        addForCar(
            "measured", "What was measured at the bench, and what it comes to",
            [this] { return cli::measured(m_file, m_car); }, false);
        addForCar("power", "The power tree of a car", [this] { return cli::power(m_file, m_car); });
        auto *wiring =
            addForCar("wiring", "The wire list, or what moves between two revisions", [this] {
                return cli::wiring(m_file, m_car, m_revisions, {m_csv, m_replace});
            });
        auto *between = wiring->add_option("--between", m_revisions, "two wiring revisions, as 1 3")
                            ->expected(2);
        wiring->add_option("--csv", m_csv, "write the wire list to this file")->excludes(between);
        addReplace(wiring);
        addForCar("pins", "A pin map without conflicts, or why none exists", [this] {
            return cli::pins(m_file, m_car, m_adding);
        })->add_option("--add", m_adding, "a part of the catalogue to be added; may be repeated");
        addForCar("motion", "What the car does for each pattern of its inputs",
                  [this] { return cli::motion(m_file, m_car); });
        addForCar("table", "What every reading does", [this] {
            return cli::table(m_file, m_car, m_sensor);
        })->add_option("--sensor", m_sensor, "a reading of the program");
        add("templates", "Every behaviour template with its choices",
            [] { return cli::templates(); });
        auto *program = addForCar("program", "Give a car a program, or change its own", [this] {
            return cli::program(m_file, m_car, m_making, {m_out, m_replace});
        });
        program->add_option("--from", m_making.from, "a template");
        program->add_option("--set", m_making.set, "a choice, as near=18cm; may be repeated");
        program->add_option("--out", m_out, "workshop file to write")->required();
        addReplace(program);
        auto *runProgram =
            addForCar("run-program", "Readings in, actions with their times out", [this] {
                return cli::runProgram(m_file, m_car, m_readings, {m_csv, m_replace});
            });
        runProgram->add_option("--readings", m_readings, "CSV: time_ms and one column a sensor")
            ->required();
        runProgram->add_option("--csv", m_csv, "write the actions to this file");
        addReplace(runProgram);
        auto *compare = addForCar("compare", "Where two programs act differently",
                                  [this] { return cli::compare(m_file, m_car, m_comparing); });
        compare->add_option("--with", m_comparing.with, "a program, or a car that runs one");
        compare->add_option("--template", m_comparing.templates, "two templates, in place of it");
        compare->add_option("--set", m_comparing.set, "a choice for both; may be repeated");
        addForCar("budget", "The stopping budget of a car",
                  [this] { return cli::budget(m_file, m_car); });
        auto *code = addForCar("code", "Write the board program", [this] {
            m_coding.folder = {m_out, m_replace};
            return cli::code(m_file, m_car, m_coding);
        });
        code->add_option("--out", m_out, "folder to write to")->required();
        addReplace(code);
        code->add_flag("--part-tests", m_coding.partTests,
                       "the programs that try one part each instead");
        code->add_option("--style", m_coding.style, "how states wait: blocking or timed")
            ->check(CLI::IsMember({"blocking", "timed"}));
        code->add_flag("--despite-errors", m_coding.despiteErrors,
                       "write it although the check finds errors; its head names them");
        auto *trial = addForCar("trial", "One simulated run", [this] {
            return cli::trial(m_file, m_car, m_floor, m_seed, {m_trace, m_replace});
        });
        trial->add_option("--floor", m_floor, "name of the floor")->required();
        trial->add_option("--seed", m_seed, "the same seed gives the same run")
            ->check(CLI::NonNegativeNumber);
        trial->add_option("--trace", m_trace, "write the trace as CSV");
        addReplace(trial);
        add("schema", "The JSON Schema of the workshop file", [] {
            Answer a;
            a.text = std::string(io::workshopSchema());
            a.json = cli::Json::parse(io::workshopSchema());
            return Result<Answer>(a);
        });
    }

    CLI::App &m_app;
    Flags m_flags;
    cli::EchoOptions m_echo;
    cli::StopBudgetOptions m_stop;
    cli::RulerFitOptions m_ruler;
    cli::SurfacesOptions m_surfaces;
    cli::ReflectanceFitOptions m_reflectance;
    cli::TrimmerOptions m_trimmer;
    cli::DwellOptions m_dwell;
    cli::StraightnessOptions m_straight;
    cli::TurnOptions m_turn;
    cli::LaneOptions m_lane;
    cli::StraddleOptions m_straddle;
    cli::EdgeOptions m_edge;
    cli::RunsOptions m_runs;
    cli::RecordOptions m_record;
    cli::BeamOptions m_beam;
    cli::HornOptions m_horn;
    cli::LedOptions m_led;
    cli::RegulatorOptions m_regulator;
    cli::DividerOptions m_divider;
    cli::DutyOptions m_duty;
    std::string m_file, m_car, m_sensor, m_out, m_floor, m_trace, m_csv, m_readings;
    cli::Making m_making;
    cli::Comparing m_comparing;
    cli::Coding m_coding;
    bool m_replace = false;
    std::vector<int> m_revisions;
    std::vector<std::string> m_adding;
    std::uint64_t m_seed = 1;
    std::function<Result<Answer>()> m_chosen;
};

} // namespace

int main(int argc, char **argv)
{
    CLI::App app{
        "Swift Badger without a window: thresholds, wiring and stopping distances of small "
        "robot cars.",
        "swift-badger-cli"};
    app.set_version_flag("--version", BADGER_VERSION);
    app.require_subcommand(1);
    app.failure_message(CLI::FailureMessage::simple);
    const Calls calls(app);
    // The library says only that a call is needed; a person wants to know which ones there are.
    std::string names;
    bool known = argc < 2 || argv[1][0] == '-';
    for (const auto *sub : app.get_subcommands([](const CLI::App *) { return true; })) {
        names += (names.empty() ? "" : ", ") + sub->get_name();
        known |= argc > 1 && sub->get_name() == argv[1];
    }
    if (!known) {
        complain(fmt::format("there is no call '{}'; use one of: {}", argv[1], names));
        return statusUnusable;
    }
    try {
        app.parse(argc, argv);
        return calls.run();
    } catch (const CLI::ParseError &e) {
        std::ostringstream out;
        std::ostringstream err;
        const int status = app.exit(e, out, err);
        std::cout << out.str();
        std::cerr << medium::terminal(err.str());
        return status == 0 ? 0 : statusUnusable;
    } catch (const std::exception &e) {
        complain(fmt::format("something went wrong inside the program ({}); nothing was written",
                             e.what()));
        return statusUnusable;
    }
}
