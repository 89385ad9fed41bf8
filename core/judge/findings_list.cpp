// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/judge/findings_list.h"

#include "core/judge/check_program_on_car.h"
#include "core/judge/tune_judgement.h"
#include "core/kit/check.h"
#include "core/mechanics/build.h"
#include "core/power/check.h"
#include "core/regions/check.h"
#include "core/rules/check.h"
#include "core/sense/cover.h"
#include "core/wiring/check.h"

#include <fmt/format.h>

namespace badger::judge
{

std::vector<CheckSection> checkSections()
{
    std::vector<CheckLine> kit;
    for (const auto &lines : {kit::missionLines(), power::checkLines(), sense::checkLines(),
                              kit::buildLines(), mechanics::checkLines()})
        kit.insert(kit.end(), lines.begin(), lines.end());
    std::vector<CheckLine> program;
    for (const auto &lines : {rules::checkLines(), regions::checkLines()})
        program.insert(program.end(), lines.begin(), lines.end());
    return {
        {"Kit", std::move(kit),
         "Where the wires are there, what they say of a supply stands instead of what was meant."},
        {"Wiring", wiring::checkLines(),
         "A lead that is crossed to cancel a mirrored mounting is right and has no finding."},
        {"Measurements", tuneLines(), {}},
        {"Program", std::move(program), {}},
        {"Program on a car", checkLines(), {}}};
}

std::string findingsDocument()
{
    std::string text =
        "# Findings\n\nA finding is a verdict about a car: where, what, why, and how to "
        "mend it. Its code is a stable word.\nThis list is made from the tables of "
        "checks, and a test compares it.\n";
    for (const auto &section : checkSections()) {
        text +=
            fmt::format("\n## {}\n\n| code | severity | says |\n|---|---|---|\n", section.title);
        for (const auto &line : section.lines)
            text += fmt::format("| `{}` | {} | {} |\n", line.code, line.severity, line.says);
        if (!section.after.empty())
            text += fmt::format("\n{}\n", section.after);
    }
    return text;
}

} // namespace badger::judge
