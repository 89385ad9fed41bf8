// SPDX-License-Identifier: GPL-3.0-or-later
// swift-badger-cli: every computation without a window.
//
// Exit status: 0 fine; 1 done, and a finding is an error; 2 the request or a file could not be
// used.
#include "cli/calls.h"
#include "core/base/medium.h"

#include <CLI/CLI.hpp>
#include <fmt/format.h>
#include <functional>
#include <iostream>
#include <sstream>

using namespace badger;

namespace
{

constexpr int statusFinding = 1;
constexpr int statusUnusable = 2;

/// Everything that leaves for a person's terminal goes through here: names come from files.
void complain(const std::string &text)
{
    std::cerr << "swift-badger-cli: " << medium::terminal(text) << '\n';
}

int deliver(const Result<cli::Answer> &answer, const cli::Flags &flags)
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

} // namespace

namespace badger::cli
{

Calls::Calls(CLI::App &app) : m_app(app)
{
    calculators();
    kitCalculators();
    benchCalculators();
    lineCalculators();
    recording();
    onWorkshop();
    refuseEmptyValues();
}

int Calls::run() const
{
    return deliver(m_chosen(), m_flags);
}

CLI::App *Calls::add(const char *name, const char *help, std::function<Result<Answer>()> call)
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

void Calls::refuseEmptyValues()
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

CLI::App *Calls::addForCar(const char *name, const char *help, std::function<Result<Answer>()> call,
                           bool carRequired)
{
    auto *sub = add(name, help, std::move(call));
    sub->add_option("FILE", m_file, "workshop file")->required();
    sub->add_option("--car", m_car, "name of the car")->required(carRequired);
    return sub;
}

} // namespace badger::cli

int main(int argc, char **argv)
{
    CLI::App app{
        "Swift Badger without a window: thresholds, wiring and stopping distances of small "
        "robot cars.",
        "swift-badger-cli"};
    app.set_version_flag("--version", BADGER_VERSION);
    app.require_subcommand(1);
    app.failure_message(CLI::FailureMessage::simple);
    const badger::cli::Calls calls(app);
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
