// SPDX-License-Identifier: GPL-3.0-or-later
#include "support/kits.h"

#include "core/edit/kit_edits.h"
#include "core/power/check.h"

namespace badger::test
{

Kit::Kit(const std::string &name)
{
    for (const auto &k : io::startingKits())
        if (k.name == name)
            car = k.car;
    if (car.parts.empty())
        qFatal("no kit is called %s", name.c_str());
    car.name = "Knot";
}

Kit::~Kit() = default;

parts::Catalogue Kit::catalogue() const
{
    return io::shippedCatalogue().with(own);
}

kit::Instance &Kit::part(const std::string &id)
{
    for (auto &i : car.parts)
        if (i.id == id)
            return i;
    qFatal("no part %s", id.c_str());
}

void Kit::take(const std::string &id)
{
    edit::removePart(car, catalogue(), id);
}

kit::Instance &Kit::fit(const std::string &partId)
{
    return part(edit::addPart(car, catalogue(), partId));
}

parts::Part &Kit::bend(const std::string &partId)
{
    for (auto &p : own)
        if (p.id == partId)
            return p;
    own.push_back(*io::shippedCatalogue().find(partId));
    return own.back();
}

void Kit::forget(const std::string &partId, const std::string &figure)
{
    bend(partId).figures.erase(figure);
}

void Kit::set(const std::string &partId, const std::string &figure, double value)
{
    bend(partId).figures[figure] = {value, value, value, "test", {}};
}

power::Report Kit::report() const
{
    return power::report({car, catalogue()});
}

std::vector<Finding> Kit::power() const
{
    const auto c = catalogue();
    return power::check({car, c}, power::report({car, c})).findings;
}

std::vector<std::string> Kit::trouble() const
{
    auto found = power();
    std::erase_if(found, [](const Finding &f) { return f.severity == Severity::Advice; });
    return codes(found);
}

} // namespace badger::test
