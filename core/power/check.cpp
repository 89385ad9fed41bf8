// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/power/check.h"

namespace badger::power
{

Findings check(const kit::Car &car, const parts::Catalogue &catalogue, const Report &report)
{
    Findings result;
    if (car.parts.empty())
        return result;
    const Look look{car, catalogue, report};
    for (const auto *rules : {&sourceRules(), &motorRules(), &partRules()})
        for (const auto &rule : *rules) {
            auto found = rule.find(look, rule.code);
            if (found.empty())
                result.fine.emplace_back(rule.fine);
            std::move(found.begin(), found.end(), std::back_inserter(result.findings));
        }
    return result;
}

} // namespace badger::power
