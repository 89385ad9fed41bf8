// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/base/finding.h"

namespace badger
{

namespace
{

const char *word(Spot::Kind kind)
{
    using Kind = Spot::Kind;
    switch (kind) {
    case Kind::Terminal:
        return "terminal";
    case Kind::Part:
        return "kit";
    case Kind::Node:
        return "node";
    case Kind::Mission:
        return "mission";
    case Kind::Make:
        return "make";
    case Kind::Bench:
        return "bench";
    case Kind::Value:
        return "value";
    case Kind::State:
        return "state";
    case Kind::Policy:
        return "policy";
    case Kind::Reading:
        return "reading";
    case Kind::Motion:
        return "motion";
    case Kind::Rule:
        return "rule";
    case Kind::Prints:
        break;
    }
    return "prints";
}

} // namespace

std::string key(const Spot &spot)
{
    return word(spot.kind) + (spot.kind == Spot::Kind::Prints ? "" : ":" + spot.name);
}

const char *unit(Evidence::Of of)
{
    static constexpr const char *units[] = {"V", "A", "W"};
    return units[static_cast<size_t>(of)];
}

const char *name(Evidence::In in)
{
    switch (in) {
    case Evidence::In::Rest:
        return "rest";
    case Evidence::In::Levels:
        return "levels";
    case Evidence::In::Running:
        return "running";
    case Evidence::In::Stalled:
        break;
    }
    return "stalled";
}

} // namespace badger
