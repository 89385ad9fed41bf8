// SPDX-License-Identifier: GPL-3.0-or-later
// Cars that are built part by part, for tests of the kit.
#pragma once

#include "core/edit/kit_edits.h"
#include "core/power/check.h"
#include "support/fixture.h"

namespace badger::test
{

/// A starting kit by its name, with the shipped catalogue and parts that can be bent.
struct Kit {
    kit::Car car;
    Pieces<parts::Part> own; ///< bent copies; they hide the shipped parts

    explicit Kit(const std::string &name = "Stop ahead")
    {
        for (const auto &k : io::startingKits())
            if (k.name == name)
                car = k.car;
        if (car.parts.empty())
            qFatal("no kit is called %s", name.c_str());
        car.name = "Knot";
    }

    parts::Catalogue catalogue() const { return io::shippedCatalogue().with(own); }
    kit::Instance &part(const std::string &id)
    {
        for (auto &i : car.parts)
            if (i.id == id)
                return i;
        qFatal("no part %s", id.c_str());
    }
    void take(const std::string &id) { edit::removePart(car, catalogue(), id); }
    kit::Instance &fit(const std::string &partId)
    {
        return part(edit::addPart(car, catalogue(), partId));
    }
    /// The catalogue part, to bend: from then on this kit's own copy is used.
    parts::Part &bend(const std::string &partId)
    {
        for (auto &p : own)
            if (p.id == partId)
                return p;
        own.push_back(*io::shippedCatalogue().find(partId));
        return own.back();
    }
    void forget(const std::string &partId, const std::string &figure)
    {
        bend(partId).figures.erase(figure);
    }
    void set(const std::string &partId, const std::string &figure, double value)
    {
        bend(partId).figures[figure] = {value, value, value, "test", {}};
    }

    power::Report report() const { return power::report({car, catalogue()}); }
    std::vector<Finding> power() const
    {
        const auto c = catalogue();
        return power::check({car, c}, power::report({car, c})).findings;
    }
    /// What is an error or a warning.
    std::vector<std::string> trouble() const
    {
        auto found = power();
        std::erase_if(found, [](const Finding &f) { return f.severity == Severity::Advice; });
        return codes(found);
    }
};

} // namespace badger::test
