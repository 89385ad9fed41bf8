// SPDX-License-Identifier: GPL-3.0-or-later
// Cars of the demo that run templates, judged with what is said to be measured.
#pragma once

#include "core/io/templates.h"
#include "core/judge/check_way.h"
#include "core/judge/program_around.h"
#include "core/kit/roles.h"
#include "support/fixture.h"

namespace badger::test
{

/// A car of the demo that runs a template, judged with what is said to be measured.
struct Way {
    Bench b;
    rules::Program program;
    regions::Around around{};

    Way(const std::string &car, const std::string &name, const io::Choices &choices) : b(car)
    {
        auto made =
            io::fromTemplate(name, choices, kit::roles({b.car, b.catalogue}), {"made"}, name);
        if (!made)
            qFatal("%s", english(made.error().text()).c_str());
        program = std::move(*made);
    }
    kit::Assembly car() const { return {b.car, b.catalogue}; }
    Result<judge::CarBudget> budget() const { return judge::budgetOf(car(), program); }
    Findings findings()
    {
        const auto at = car();
        const auto reach = pins::speedReach(nets::Nets(at));
        const auto made = judge::budgetOf(at, program, reach);
        power::Report power;
        const auto measured = judge::around(at, program, {});
        auto all = around;
        all.rangers = measured.rangers;
        const regions::Exact exact(program, measured.facts);
        Findings found;
        judge::checkProgramOnCar(found, {at,
                                         program,
                                         exact,
                                         &b.floor,
                                         nullptr,
                                         power,
                                         reach,
                                         {},
                                         false,
                                         made ? &*made : nullptr,
                                         &all});
        return found;
    }
    const Finding *find(const std::string &code)
    {
        kept = findings();
        return test::find(kept.findings, code);
    }
    rules::Value &value(const std::string &name)
    {
        for (auto &v : program.values)
            if (v.name == name)
                return v;
        qFatal("no value %s", name.c_str());
    }
    Findings kept{};
};

inline io::Choices with(io::Choices all, const io::Choices &more)
{
    for (const auto &[key, word] : more)
        all[key] = word;
    return all;
}

const io::Choices ranger = {
    {"no-echo", "clear"}, {"limit", "200cm"}, {"air", "18C"}, {"wait", "40ms"}, {"speed", "150"}};
const io::Choices glance = with(ranger, {{"threshold", "30cm"},
                                         {"tolerance", "3cm"},
                                         {"tie", "back"},
                                         {"turn-speed", "120"},
                                         {"dwell", "260ms"},
                                         {"back-time", "500ms"},
                                         {"angles", "30,150"},
                                         {"turn-time-left", "400ms"},
                                         {"turn-time-right", "400ms"}});
const io::Choices turnAway =
    with(ranger, {{"threshold", "30cm"}, {"turn-speed", "120"}, {"turn-side", "right"}});
const io::Choices fan = with(ranger, {{"threshold", "30cm"},
                                      {"turn-speed", "120"},
                                      {"dwell", "260ms"},
                                      {"back-time", "500ms"},
                                      {"angles", "40,65,90,115,140"},
                                      {"per-degree", "9ms"},
                                      {"sweep-angles", "80,90,100"},
                                      {"sweep-dwell", "100ms"}});

} // namespace badger::test
