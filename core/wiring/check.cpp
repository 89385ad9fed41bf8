// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/wiring/check.h"

namespace badger::wiring
{

std::vector<Fitted> fittedParts(const Look &look)
{
    std::vector<Fitted> all;
    for (const auto &fitted : look.car.parts)
        if (const auto *part = look.catalogue.find(fitted.partId))
            all.push_back({&fitted, part});
    return all;
}

Findings check(const kit::Car &car, const parts::Catalogue &catalogue)
{
    Findings result;
    if (car.parts.empty())
        return result;
    const Nets nets(car, catalogue);
    const Look look{car, catalogue, nets};
    for (const auto *rules : {&supplyRules(), &signalRules()})
        for (const auto &rule : *rules) {
            auto found = rule.find(look, rule.code);
            if (found.empty())
                result.fine.emplace_back(rule.fine);
            std::move(found.begin(), found.end(), std::back_inserter(result.findings));
        }
    return result;
}

} // namespace badger::wiring
