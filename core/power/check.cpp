// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/power/check.h"

#include "core/power/grouped.h"

namespace badger::power
{

Findings check(const kit::Assembly &car, const Report &report)
{
    Findings result;
    if (car->parts.empty())
        return result;
    const Look look{car, report};
    for (const auto *rules : {&sourceRules(), &motorRules(), &partRules()})
        run<Look>(*rules, look, result);
    result.findings = grouped(std::move(result.findings), report);
    return result;
}

std::vector<CheckLine> checkLines()
{
    std::vector<CheckLine> lines;
    for (const auto *checks : {&sourceRules(), &motorRules(), &partRules()})
        addLines<Look>(*checks, lines);
    return lines;
}

} // namespace badger::power
