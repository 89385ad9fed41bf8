// SPDX-License-Identifier: GPL-3.0-or-later
// The subcommands and where their options go: calculator_calls.cpp and workshop_calls.cpp.
#pragma once

#include "cli/answer.h"
#include "cli/calculators.h"
#include "cli/floor_commands.h"
#include "cli/window_command.h"
#include "cli/kit_calculators.h"
#include "cli/program_commands.h"
#include "cli/record.h"
#include "cli/tune_calculators.h"
#include "cli/workshop_commands.h"

#include <CLI/CLI.hpp>
#include <functional>

namespace badger::cli
{

struct Flags {
    bool json = false;
    bool why = false;
};

/// One function adds one call or several of a kind.
class Calls
{
public:
    explicit Calls(CLI::App &app);

    int run() const;

private:
    CLI::App *add(const char *name, const char *help, std::function<Result<Answer>()> call);

    /// An option that is given has a value: an empty one is a mistake, not the default.
    void refuseEmptyValues();

    void calculators();

    void benchCalculators();

    void lineCalculators();

    void recording();

    void kitCalculators();

    CLI::App *addForCar(const char *name, const char *help, std::function<Result<Answer>()> call,
                        bool carRequired = true);

    void addReplace(CLI::App *sub);

    void onWorkshop();
    void onPrograms();
    void onBoardsAndFloors();

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
    std::string m_file, m_car, m_sensor, m_out, m_csv, m_module, m_readings;
    cli::Making m_making;
    cli::Comparing m_comparing;
    cli::Coding m_coding;
    bool m_replace = false;
    std::vector<int> m_revisions;
    std::vector<std::string> m_adding;
    Driving m_driving;
    Searching m_searching;
    MakingFloor m_makingFloor;
    std::function<Result<Answer>()> m_chosen;
};

} // namespace badger::cli
