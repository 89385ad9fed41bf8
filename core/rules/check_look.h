// SPDX-License-Identifier: GPL-3.0-or-later
// What the checks of a program's figures look at. Private to them.
#pragma once

#include "core/base/check.h"
#include "core/rules/board_numbers.h"
#include "core/rules/check.h"
#include "core/rules/pass_time.h"

namespace badger::rules
{

struct Look {
    const Program &program;
    const std::map<std::string, RangerFacts> &rangers; ///< by reading

    const RangerFacts *facts(const Reading &reading) const
    {
        const auto it = rangers.find(reading.name);
        return it == rangers.end() ? nullptr : &it->second;
    }
    PassTime passTime() const
    {
        std::map<std::string, PingFigures> figures;
        for (const auto &[reading, facts] : rangers)
            figures[reading] = {facts.deadZone_m, facts.noEchoHold_s};
        return rules::passTime(program, figures);
    }
};

using Found = std::vector<Finding>;

inline Say place(const Look &look, const Say &thing)
{
    return say("program '{}', {}", look.program.name, thing);
}

// In check_time.cpp: what takes time in a pass.
Found pingsTooSoon(const Look &look, const char *code);
Found printsSlow(const Look &look, const char *code);

} // namespace badger::rules
