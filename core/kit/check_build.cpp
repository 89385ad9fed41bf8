// SPDX-License-Identifier: GPL-3.0-or-later
// Rules about weight, places and what fits on what.
#include "core/kit/balance.h"
#include "core/units/quantity.h"

#include <algorithm>
#include <cmath>
#include <fmt/format.h>
#include <fmt/ranges.h>

namespace badger::kit
{

using parts::Kind;
using units::formatShort;
using units::Unit;

namespace
{

std::string mm(double m)
{
    return formatShort(m, Unit::Millimetre, 0);
}

void checkBalance(Findings &out, const Car &car, const parts::Catalogue &catalogue)
{
    const auto b = balance(car, catalogue);
    if (!b.withoutMass.empty())
        out.findings.push_back(
            {"mass-unknown", Severity::Advice, fmt::format("{}", fmt::join(b.withoutMass, ", ")),
             fmt::format("The mass of {} is not known.", fmt::join(b.withoutMass, ", ")),
             "The centre of mass leaves it out.", "Weigh it and add it to the part.",
             "kit:" + b.withoutMass.front()});
    if (!b.withoutPlace.empty())
        out.findings.push_back(
            {"place-unknown", Severity::Advice, fmt::format("{}", fmt::join(b.withoutPlace, ", ")),
             fmt::format("Where {} sits is not said; the centre of mass lies between {} and {} {} "
                         "the axle.",
                         fmt::join(b.withoutPlace, ", "), mm(std::abs(b.rearmost_m)),
                         mm(std::abs(b.foremost_m)), b.foremost_m < 0.0 ? "behind" : "about"),
             "Balance and tipping are a range only.", "Drag it to its place, or type it.",
             "kit:" + b.withoutPlace.front()});
    if (b.mass_kg <= 0.0)
        return;
    const auto *support = firstOf(car, catalogue, Kind::Support);
    if (support == nullptr || !b.support_m) {
        const bool fourWheels =
            std::count_if(car.parts.begin(), car.parts.end(), [&](const auto &i) {
                const auto *p = catalogue.find(i.partId);
                return p && p->kind == Kind::Motor;
            }) >= 4;
        if (support == nullptr && !fourWheels)
            out.findings.push_back({"support-missing", Severity::Warning, "build",
                                    "There is no third support.",
                                    "On two wheels the car falls on its nose or its tail.",
                                    "Fit a skid or a caster.", "kit:"});
        return;
    }
    const auto certain = b.rearmost_m == b.foremost_m;
    const double reach = std::abs(*b.support_m);
    const double least = 1.0 - std::max(b.rearmost_m / *b.support_m, b.foremost_m / *b.support_m);
    const double most = 1.0 - std::min(b.rearmost_m / *b.support_m, b.foremost_m / *b.support_m);
    const auto target = "kit:" + support->id;
    if (*b.axleShare > 1.0 || *b.axleShare < 0.0) {
        out.findings.push_back(
            {"car-tips", Severity::Error, "balance",
             fmt::format("The centre of mass lies {} {} the axle, the support {} {} it: the car "
                         "tips.",
                         mm(std::abs(b.centre.x_m)), b.centre.x_m < 0.0 ? "behind" : "ahead of",
                         mm(reach), *b.support_m < 0.0 ? "behind" : "ahead of"),
             "The car lies on its deck, and every height and angle is wrong.",
             "Move the pack over to the support's side of the axle.", target});
    } else if (!certain && (least < 0.0 || most > 1.0)) {
        out.findings.push_back({"car-may-tip", Severity::Warning, "balance",
                                "With a part whose place is not said the car may tip.",
                                "The centre of mass can lie outside of wheels and support.",
                                "Say where every part sits.", target});
    } else if (*b.axleShare > 0.95) {
        out.findings.push_back(
            {"car-tips-easily", Severity::Warning, "balance",
             fmt::format("Only {} % of the weight is on the support.",
                         units::plain((1.0 - *b.axleShare) * 100.0, 0)),
             "The car nods at every start or stop, and a ranger looks up and down with it.",
             "Move the pack a little towards the support.", target});
    } else if (*b.axleShare < 0.55) {
        out.findings.push_back(
            {"axle-light", Severity::Warning, "balance",
             fmt::format("Only {} % of the weight is on the drive wheels.",
                         units::plain(*b.axleShare * 100.0, 0)),
             "Wheels slip, and a support that carries much drags or steers the car.",
             "Move the pack towards the axle.", target});
    } else {
        out.fine.emplace_back("the car stands on wheels and support");
    }
    const auto *part = catalogue.find(support->partId);
    if (part->figure("trail_m") && *b.axleShare >= 0.0 && *b.axleShare < 0.85)
        out.findings.push_back(
            {"caster-carries", Severity::Advice, labelOf(*support),
             fmt::format("The swivel caster carries {} % of the weight.",
                         units::plain((1.0 - *b.axleShare) * 100.0, 0)),
             "After each turn it drags until it lines up, and bends the path.",
             "Put more weight on the axle, or take a fixed skid on a smooth floor.", target});
}

void checkPlaces(Findings &out, const Car &car, const parts::Catalogue &catalogue)
{
    const auto &g = car.geometry;
    constexpr double slack_m = 0.001;
    bool found = false;
    for (const auto &fitted : car.parts) {
        const auto place = placeOf(car, catalogue, fitted);
        if (!place || !fitted.mount)
            continue;
        const bool out_x = place->x_m > g.axleToNose_m + slack_m ||
                           place->x_m < g.axleToNose_m - g.length_m - slack_m;
        const bool out_y = std::abs(place->y_m) > g.width_m / 2.0 + slack_m;
        if (!out_x && !out_y)
            continue;
        found = true;
        out.findings.push_back(
            {"part-outside-car", Severity::Warning, labelOf(fitted),
             fmt::format("{} sits outside the car's {} × {}.", labelOf(fitted), mm(g.length_m),
                         mm(g.width_m)),
             "It touches first, and the set-backs are counted from the wrong point.",
             "Move it, or measure length and width with it on.", "kit:" + fitted.id});
    }
    if (!found)
        out.fine.emplace_back("every placed part is within the car");
}

/// Where a block lies: its middle and half its sides.
struct Block {
    const Instance *fitted;
    const parts::Part *part;
    Place middle;
    Footprint size;
};

/// What lies on the deck and takes room there.
std::vector<Block> blocksOnDeck(const Car &car, const parts::Catalogue &catalogue)
{
    std::vector<Block> all;
    for (const auto &fitted : car.parts) {
        const auto *part = catalogue.find(fitted.partId);
        const auto place = placeOf(car, catalogue, fitted);
        const auto size = footprintOf(car, catalogue, fitted);
        const bool lies = part && (part->kind == Kind::Cell || part->kind == Kind::Board ||
                                   part->kind == Kind::Driver || part->kind == Kind::Supply ||
                                   part->kind == Kind::Servo || part->kind == Kind::Regulator ||
                                   part->kind == Kind::Rail);
        if (lies && place && size && place->yaw_rad == 0.0)
            all.push_back({&fitted, part, *place, *size});
    }
    return all;
}

void checkOverlaps(Findings &out, const Car &car, const parts::Catalogue &catalogue)
{
    constexpr double touch_m = 0.002; // less is a matter of measuring
    const auto blocks = blocksOnDeck(car, catalogue);
    bool found = false;
    for (size_t i = 0; i < blocks.size(); ++i)
        for (size_t k = i + 1; k < blocks.size(); ++k) {
            const auto &a = blocks[i];
            const auto &b = blocks[k];
            const double along =
                (a.size.length_m + b.size.length_m) / 2.0 - std::abs(a.middle.x_m - b.middle.x_m);
            const double across =
                (a.size.width_m + b.size.width_m) / 2.0 - std::abs(a.middle.y_m - b.middle.y_m);
            // A shield is as large as its board and is made to sit on it.
            const bool stacked = a.size.length_m == b.size.length_m &&
                                 a.size.width_m == b.size.width_m && a.part->kind != b.part->kind;
            if (along <= touch_m || across <= touch_m || stacked)
                continue;
            found = true;
            out.findings.push_back(
                {"parts-overlap", Severity::Advice, labelOf(*a.fitted) + ", " + labelOf(*b.fitted),
                 fmt::format("{} and {} lie over each other by {} × {}.", labelOf(*a.fitted),
                             labelOf(*b.fitted), mm(along), mm(across)),
                 "They do not both lie on one deck.",
                 "Move one, or stack them on standoffs with nothing bare between.",
                 "kit:" + b.fitted->id});
        }
    if (!found && blocks.size() > 1)
        out.fine.emplace_back("no part lies over another");
}

/// A wheel on a shaft: same shape, and a bore that is neither loose nor impossible.
void checkBores(Findings &out, const Car &car, const parts::Catalogue &catalogue)
{
    // Press fits of soft wheels: from ours, measured on nothing; wide on purpose.
    constexpr double tight_m = 0.0003;
    constexpr double loose_m = 0.00015;
    const auto *wheel = firstOf(car, catalogue, Kind::Wheel);
    const auto *wheelPart = wheel ? catalogue.find(wheel->partId) : nullptr;
    const auto *bore = wheelPart ? wheelPart->figure("bore_m") : nullptr;
    bool found = false;
    for (const auto &fitted : car.parts) {
        const auto *motor = catalogue.find(fitted.partId);
        const auto *shaft = motor ? motor->figure("shaft_m") : nullptr;
        if (shaft == nullptr || bore == nullptr || found)
            continue;
        const bool shape = motor->shape == wheelPart->shape;
        const double gap_m = bore->typical - shaft->typical;
        if (shape && gap_m > -tight_m && gap_m < loose_m)
            continue;
        found = true;
        std::string fitting;
        for (const auto &p : catalogue.parts())
            if (p.kind == Kind::Wheel && p.shape == motor->shape && p.figure("bore_m") &&
                std::abs(p.figure("bore_m")->typical - shaft->typical) < loose_m)
                fitting += (fitting.empty() ? "" : ", ") + p.name;
        out.findings.push_back(
            {"wheel-does-not-fit", Severity::Error, labelOf(*wheel),
             fmt::format("The {} has a {} bore of {}, the shaft of the {} is {} with {}.",
                         wheelPart->name, wheelPart->shape,
                         formatShort(bore->typical, Unit::Millimetre, 2), motor->name, motor->shape,
                         formatShort(shaft->typical, Unit::Millimetre, 2)),
             "It slips, or cracks when it is forced on.",
             fitting.empty() ? "Take a wheel made for this shaft."
                             : fmt::format("These fit the shaft: {}.", fitting),
             "kit:" + wheel->id});
    }
    if (!found && bore != nullptr)
        out.fine.emplace_back("the wheels fit the shafts");
}

} // namespace

Findings checkBuild(const Car &car, const parts::Catalogue &catalogue)
{
    Findings out;
    if (car.parts.empty())
        return out;
    checkBalance(out, car, catalogue);
    checkPlaces(out, car, catalogue);
    checkOverlaps(out, car, catalogue);
    checkBores(out, car, catalogue);
    return out;
}

} // namespace badger::kit
