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
using units::quantity;
using units::Unit;

namespace
{

units::Quantity mm(double m)
{
    return quantity(m, Unit::Millimetre, 0);
}

/// What the balance cannot rest on.
void checkKnown(Findings &out, const Balance &b)
{
    if (!b.withoutMass.empty())
        out.findings.push_back(
            {"mass-unknown", Severity::Advice, say("{}", joined(b.withoutMass, ", ")),
             say("The mass of {} is not known.", joined(b.withoutMass, ", ")),
             say("The centre of mass leaves it out."), say("Weigh it and add it to the part."),
             "kit:" + b.withoutMass.front()});
    if (!b.withoutPlace.empty())
        out.findings.push_back(
            {"place-unknown", Severity::Advice, say("{}", joined(b.withoutPlace, ", ")),
             say("Where {} sits is not said; the centre of mass lies between {} and {} {} the "
                 "axle.",
                 joined(b.withoutPlace, ", "), mm(std::abs(b.rearmost_m)),
                 mm(std::abs(b.foremost_m)), b.foremost_m < 0.0 ? "behind" : "about"),
             say("Balance and tipping are a range only."), say("Drag it to its place, or type it."),
             "kit:" + b.withoutPlace.front()});
}

void checkTipping(Findings &out, const Balance &b, const std::string &target)
{
    const auto certain = b.rearmost_m == b.foremost_m;
    const double reach = std::abs(*b.support_m);
    const double least = 1.0 - std::max(b.rearmost_m / *b.support_m, b.foremost_m / *b.support_m);
    const double most = 1.0 - std::min(b.rearmost_m / *b.support_m, b.foremost_m / *b.support_m);
    if (*b.axleShare > 1.0 || *b.axleShare < 0.0) {
        out.findings.push_back(
            {"car-tips", Severity::Error, "balance",
             say("The centre of mass lies {} {} the axle, the support {} {} it: the car tips.",
                 mm(std::abs(b.centre.x_m)), b.centre.x_m < 0.0 ? "behind" : say("ahead of"),
                 mm(reach), *b.support_m < 0.0 ? "behind" : say("ahead of")),
             say("The car lies on its deck, and every height and angle is wrong."),
             say("Move the pack over to the support's side of the axle."), target});
    } else if (!certain && (least < 0.0 || most > 1.0)) {
        out.findings.push_back({"car-may-tip", Severity::Warning, "balance",
                                say("With a part whose place is not said the car may tip."),
                                say("The centre of mass can lie outside of wheels and support."),
                                say("Say where every part sits."), target});
    } else if (*b.axleShare > 0.95) {
        out.findings.push_back(
            {"car-tips-easily", Severity::Warning, "balance",
             say("Only {} % of the weight is on the support.",
                 units::number((1.0 - *b.axleShare) * 100.0, 0)),
             say("The car nods at every start or stop, and a ranger looks up and down with it."),
             say("Move the pack a little towards the support."), target});
    } else if (*b.axleShare < 0.55) {
        out.findings.push_back(
            {"axle-light", Severity::Warning, "balance",
             say("Only {} % of the weight is on the drive wheels.",
                 units::number(*b.axleShare * 100.0, 0)),
             say("Wheels slip, and a support that carries much drags or steers the car."),
             say("Move the pack towards the axle."), target});
    } else {
        out.fine.emplace_back(say("the car stands on wheels and support"));
    }
}

void checkBalance(Findings &out, const Assembly &car)
{
    const auto b = balance(car);
    checkKnown(out, b);
    if (b.mass_kg <= 0.0)
        return;
    const auto *support = car.first(Kind::Support);
    if (support == nullptr || !b.support_m) {
        const bool fourWheels =
            std::count_if(car->parts.begin(), car->parts.end(), [&](const auto &i) {
                const auto *p = car.part(i);
                return p && p->kind == Kind::Motor;
            }) >= 4;
        if (support == nullptr && !fourWheels)
            out.findings.push_back({"support-missing", Severity::Warning, "build",
                                    say("There is no third support."),
                                    say("On two wheels the car falls on its nose or its tail."),
                                    say("Fit a skid or a caster."), "kit:"});
        return;
    }
    checkTipping(out, b, "kit:" + support->id);
    const auto *part = car.part(*support);
    if (part->figure("trail_m") && *b.axleShare >= 0.0 && *b.axleShare < 0.85)
        out.findings.push_back(
            {"caster-carries", Severity::Advice, labelOf(*support),
             say("The swivel caster carries {} % of the weight.",
                 units::number((1.0 - *b.axleShare) * 100.0, 0)),
             say("After each turn it drags until it lines up, and bends the path."),
             say("Put more weight on the axle, or take a fixed skid on a smooth floor."),
             "kit:" + support->id});
}

void checkPlaces(Findings &out, const Assembly &car)
{
    const auto &g = car->geometry;
    constexpr double slack_m = 0.001;
    bool found = false;
    for (const auto &fitted : car->parts) {
        const auto place = placeOf(car, fitted);
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
             say("{} sits outside the car's {} × {}.", labelOf(fitted), mm(g.length_m),
                 mm(g.width_m)),
             say("It touches first, and the set-backs are counted from the wrong point."),
             say("Move it, or measure length and width with it on."), "kit:" + fitted.id});
    }
    if (!found)
        out.fine.emplace_back(say("every placed part is within the car"));
}

/// Where a block lies: its middle and half its sides.
struct Block {
    const Instance *fitted;
    const parts::Part *part;
    Place middle;
    Footprint size;
};

/// What lies on the deck and takes room there.
std::vector<Block> blocksOnDeck(const Assembly &car)
{
    std::vector<Block> all;
    for (const auto &fitted : car->parts) {
        const auto *part = car.part(fitted);
        const auto place = placeOf(car, fitted);
        const auto size = footprintOf(car, fitted);
        const bool lies = part && (part->kind == Kind::Cell || part->kind == Kind::Board ||
                                   part->kind == Kind::Driver || part->kind == Kind::Supply ||
                                   part->kind == Kind::Servo || part->kind == Kind::Regulator ||
                                   part->kind == Kind::Rail);
        if (lies && place && size && place->yaw_rad == 0.0)
            all.push_back({&fitted, part, *place, *size});
    }
    return all;
}

void checkOverlaps(Findings &out, const Assembly &car)
{
    constexpr double touch_m = 0.002; // less is a matter of measuring
    const auto blocks = blocksOnDeck(car);
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
                 say("{} and {} lie over each other by {} × {}.", labelOf(*a.fitted),
                     labelOf(*b.fitted), mm(along), mm(across)),
                 say("They do not both lie on one deck."),
                 say("Move one, or stack them on standoffs with nothing bare between."),
                 "kit:" + b.fitted->id});
        }
    if (!found && blocks.size() > 1)
        out.fine.emplace_back(say("no part lies over another"));
}

/// A wheel on a shaft: same shape, and a bore that is neither loose nor impossible.
void checkBores(Findings &out, const Assembly &car)
{
    // Press fits of soft wheels: from ours, measured on nothing; wide on purpose.
    constexpr double tight_m = 0.0003;
    constexpr double loose_m = 0.00015;
    const auto *wheel = car.first(Kind::Wheel);
    const auto *wheelPart = wheel ? car.part(*wheel) : nullptr;
    const auto *bore = wheelPart ? wheelPart->figure("bore_m") : nullptr;
    bool found = false;
    for (const auto &fitted : car->parts) {
        const auto *motor = car.part(fitted);
        const auto *shaft = motor ? motor->figure("shaft_m") : nullptr;
        if (shaft == nullptr || bore == nullptr || found)
            continue;
        const bool shape = motor->shape == wheelPart->shape;
        const double gap_m = bore->typical - shaft->typical;
        if (shape && gap_m > -tight_m && gap_m < loose_m)
            continue;
        found = true;
        std::string fitting;
        for (const auto &p : car.catalogue().parts())
            if (p.kind == Kind::Wheel && p.shape == motor->shape && p.figure("bore_m") &&
                std::abs(p.figure("bore_m")->typical - shaft->typical) < loose_m)
                fitting += (fitting.empty() ? "" : ", ") + p.name;
        out.findings.push_back(
            {"wheel-does-not-fit", Severity::Error, labelOf(*wheel),
             say("The {} has a {} bore of {}, the shaft of the {} is {} with {}.", wheelPart->name,
                 wheelPart->shape, quantity(bore->typical, Unit::Millimetre, 2), motor->name,
                 motor->shape, quantity(shaft->typical, Unit::Millimetre, 2)),
             say("It slips, or cracks when it is forced on."),
             fitting.empty() ? say("Take a wheel made for this shaft.")
                             : say("These fit the shaft: {}.", fitting),
             "kit:" + wheel->id});
    }
    if (!found && bore != nullptr)
        out.fine.emplace_back(say("the wheels fit the shafts"));
}

} // namespace

Findings checkBuild(const Assembly &car)
{
    Findings out;
    if (car->parts.empty())
        return out;
    checkBalance(out, car);
    checkPlaces(out, car);
    checkOverlaps(out, car);
    checkBores(out, car);
    return out;
}

} // namespace badger::kit
