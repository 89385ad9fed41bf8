// SPDX-License-Identifier: GPL-3.0-or-later
#include "cli/calls.h"
#include "core/io/shipped.h"

namespace badger::cli
{

void Calls::recording()
{
    auto *record = add("record", "Readings of a board, as they come",
                       [this] { return cli::record(m_record); });
    record->add_option("port", m_record.port, "the port's path")->required();
    record->add_option("--baud", m_record.baud, "115200")->check(CLI::Range(300, 4000000));
    record->add_option("--csv", m_record.csv, "the file they are written to")->required();
    record->add_option("--for", m_record.lasts, "as 10s; without it until it is interrupted");
    record->add_flag("--replace", m_record.replace, "a file that is there may be replaced");
}

void Calls::addReplace(CLI::App *sub)
{
    sub->add_flag("--replace", m_replace, "replace a file that is there already");
}

void Calls::onPrograms()
{
    add("templates", "Every behaviour template with its choices", [] { return cli::templates(); });
    auto *program = addForCar("program", "Give a car a program, or change its own", [this] {
        return cli::program(m_file, m_car, m_making, {m_out, m_replace});
    });
    program->add_option("--from", m_making.from, "a template");
    program->add_option("--set", m_making.set, "a choice, as near=18cm; may be repeated");
    program->add_flag("--propose", m_making.propose,
                      "take what suits the car for what is left open; it is listed, not measured");
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
}

void Calls::onBoardsAndFloors()
{
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
    auto *trial = addForCar("trial", "One simulated run of any program", [this] {
        m_driving.trace.replace = m_replace;
        return cli::trial(m_file, m_car, m_driving);
    });
    trial->add_option("--floor", m_driving.floor, "name of the floor")->required();
    trial->add_option("--seed", m_driving.seed, "the same seed gives the same run")
        ->check(CLI::NonNegativeNumber);
    trial->add_option("--for", m_driving.lasts, "100ms to 600s; 20s where it is not said");
    trial->add_flag("--no-noise", m_driving.noNoise, "take every spread and jitter away");
    trial->add_option("--on-contact", m_driving.onContact, "end or go-on")
        ->check(CLI::IsMember({"end", "go-on"}));
    trial->add_option("--keys", m_driving.keys, "CSV of a person's keys: time_ms,key");
    trial->add_flag("--reverse", m_driving.reverse, "start looking the other way");
    trial->add_option("--task", m_driving.task,
                      "what it is judged by: stops, keeps-moving, holds, line, table");
    trial->add_flag_callback(
        "--faults",
        [] {
            fmt::print("{}", cli::faultList()->text);
            throw CLI::Success(); // asked for nothing else
        },
        "list the faults and end");
    trial->add_option("--fault", m_driving.faults, "a fault put in on purpose; may be repeated");
    trial->add_option("--trace", m_driving.trace.path, "write the trace as CSV");
    addReplace(trial);
    auto *window = addForCar("window", "From where to where a value is safe", [this] {
        m_searching.csv = {m_csv, m_replace};
        return cli::window(m_file, m_car, m_searching);
    });
    window->add_option("--floor", m_searching.floor, "name of the floor")->required();
    window->add_option("--value", m_searching.value,
                       "a value of the program; without it the distance that stops the car");
    window->add_option("--limit", m_searching.limit, "of runs that touch, 1%");
    window->add_option("--confidence", m_searching.confidence, "95");
    window->add_option("--share", m_searching.share, "of runs that do the job, 90%");
    window->add_option("--want", m_searching.want, "a gap: nearer counts as touching");
    window->add_option("--row", m_searching.rows,
                       "a condition, as straight:angle=0deg..18deg; may be repeated");
    window->add_option("--step", m_searching.step,
                       "between the places that are tried: 1mm, 5ms or a count");
    window->add_option("--seed", m_searching.seed, "the same seed gives the same window")
        ->check(CLI::NonNegativeNumber);
    window->add_option("--threads", m_searching.threads, "as many as the machine has")
        ->check(CLI::Range(1, 64));
    window->add_flag("--no-noise", m_searching.noNoise, "take every spread and jitter away");
    window->add_flag("--schools", m_searching.schools,
                     "drive other schools on the same runs: brake, median, no echo");
    window->add_option("--grid", m_searching.grid,
                       "a second value: a rough map of the two together");
    window->add_option("--csv", m_csv, "write every place of every row to this file");
    addReplace(window);
    auto *floors = add("floors", "Floors and mats", [this] { return cli::floors(m_file); });
    floors->add_option("FILE", m_file, "workshop file")->required();
    auto *floor = add("floor", "A new floor, or one that is there as a drawing", [this] {
        for (auto *output : {&m_makingFloor.out, &m_makingFloor.svg, &m_makingFloor.write})
            output->replace = m_replace;
        return cli::floor(m_file, m_makingFloor);
    });
    floor->add_option("FILE", m_file, "workshop file")->required();
    floor->add_option("--from", m_makingFloor.from, "a new one of this kind");
    floor->add_option("--read", m_makingFloor.read,
                      "a new one from an SVG drawing or a floor's JSON");
    floor->add_option("--set", m_makingFloor.set,
                      "a number of the kind, as distance=1.8m, or what a colour of the drawing is, "
                      "as wall=#1e2629; may be repeated");
    floor->add_option("--name", m_makingFloor.name, "its name")->required();
    floor->add_option("--out", m_makingFloor.out.path, "workshop file to write the new one to");
    floor->add_option("--svg", m_makingFloor.svg.path, "draw the floor of that name as SVG, 1:1");
    floor->add_option("--write", m_makingFloor.write.path, "write the floor of that name as JSON");
    addReplace(floor);
}

void Calls::onWorkshop()
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
    auto *between =
        wiring->add_option("--between", m_revisions, "two wiring revisions, as 1 3")->expected(2);
    wiring->add_option("--csv", m_csv, "write the wire list to this file")->excludes(between);
    addReplace(wiring);
    addForCar("pins", "A pin map without conflicts, or why none exists", [this] {
        return cli::pins(m_file, m_car, m_adding);
    })->add_option("--add", m_adding, "a part of the catalogue to be added; may be repeated");
    auto *wire = addForCar("wire", "The harness that kit and program ask for", [this] {
        return cli::wire(m_file, m_car, m_module, {m_out, m_replace});
    });
    wire->add_option("--module", m_module, "the wires of this part alone, as ranger");
    wire->add_option("--out", m_out, "workshop file to write")->required();
    addReplace(wire);
    addForCar("motion", "What the car does for each pattern of its inputs",
              [this] { return cli::motion(m_file, m_car); });
    addForCar("table", "What every reading does", [this] {
        return cli::table(m_file, m_car, m_sensor);
    })->add_option("--sensor", m_sensor, "a reading of the program");
    onPrograms();
    addForCar("budget", "The stopping budget of a car",
              [this] { return cli::budget(m_file, m_car); });
    onBoardsAndFloors();
    add("schema", "The JSON Schema of the workshop file", [] {
        Answer a;
        a.text = std::string(io::workshopSchema());
        a.json = cli::Json::parse(io::workshopSchema());
        return Result<Answer>(a);
    });
}

} // namespace badger::cli
