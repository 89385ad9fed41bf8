// SPDX-License-Identifier: GPL-3.0-or-later
// Rules about weight, places and what fits on what.
#include "core/kit/check.h"

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

struct BuildLook {
    const Assembly &car;
    Balance b = balance(car);
    const Instance *support = car.first(Kind::Support);

    /// Whether the weight is known, and what it stands on: without, nothing is said of its share.
    bool stands() const { return b.mass_kg > 0.0 && support && b.support_m && b.axleShare; }
    bool certain() const { return b.rearmost_m == b.foremost_m; }
    bool tips() const { return *b.axleShare > 1.0 || *b.axleShare < 0.0; }
    /// With a part whose place is not said, the share on the axle is anything between two.
    bool mayTip() const
    {
        const double least =
            1.0 - std::max(b.rearmost_m / *b.support_m, b.foremost_m / *b.support_m);
        const double most =
            1.0 - std::min(b.rearmost_m / *b.support_m, b.foremost_m / *b.support_m);
        return !tips() && !certain() && (least < 0.0 || most > 1.0);
    }
    /// What is said of the share on the axle is said where nothing worse is.
    bool keepsStanding() const { return !tips() && !mayTip(); }
    Spot target() const { return at::part(support->id); }
};

using Found = std::vector<Finding>;

bool standing(const BuildLook &look)
{
    return look.stands();
}

Found massUnknown(const BuildLook &look, const char *code)
{
    const auto &without = look.b.withoutMass;
    if (without.empty())
        return {};
    return {{code, Severity::Advice, joined(without, ", "),
             say("The mass of {} is not known.", joined(without, ", ")),
             say("The centre of mass leaves it out."), say("Weigh it and add it to the part."),
             at::part(without.front())}};
}

Found placeUnknown(const BuildLook &look, const char *code)
{
    const auto &b = look.b;
    if (b.withoutPlace.empty())
        return {};
    return {{code, Severity::Advice, joined(b.withoutPlace, ", "),
             say("Where {} sits is not said; the centre of mass lies between {} and {} {} the "
                 "axle.",
                 joined(b.withoutPlace, ", "), mm(std::abs(b.rearmost_m)),
                 mm(std::abs(b.foremost_m)), b.foremost_m < 0.0 ? say("behind") : say("about")),
             say("Balance and tipping are a range only."), say("Drag it to its place, or type it."),
             at::part(b.withoutPlace.front())}};
}

Found supportMissing(const BuildLook &look, const char *code)
{
    if (look.b.mass_kg <= 0.0 || look.support != nullptr)
        return {};
    const bool fourWheels =
        std::count_if(look.car->parts.begin(), look.car->parts.end(), [&](const auto &i) {
            const auto *p = look.car.part(i);
            return p && p->kind == Kind::Motor;
        }) >= 4;
    if (fourWheels)
        return {};
    return {{code, Severity::Warning, say("build"), say("There is no third support."),
             say("On two wheels the car falls on its nose or its tail."),
             say("A skid or a caster carries the third point."), at::part({})}};
}

Found carTips(const BuildLook &look, const char *code)
{
    const auto &b = look.b;
    if (!look.tips())
        return {};
    return {
        {code, Severity::Error, say("balance"),
         say("The centre of mass lies {} {} the axle, the support {} {} it: the car tips.",
             mm(std::abs(b.centre.x_m)), b.centre.x_m < 0.0 ? say("behind") : say("ahead of"),
             mm(std::abs(*b.support_m)), *b.support_m < 0.0 ? say("behind") : say("ahead of")),
         say("The car lies on its deck, and every height and angle is wrong."),
         say("Look where the pack and the support sit: the centre of mass belongs between wheels "
             "and support."),
         look.target()}};
}

Found carMayTip(const BuildLook &look, const char *code)
{
    if (!look.mayTip())
        return {};
    return {{code, Severity::Warning, say("balance"),
             say("With a part whose place is not said the car may tip."),
             say("The centre of mass can lie outside of wheels and support."),
             say("Say where every part sits."), look.target()}};
}

Found tipsEasily(const BuildLook &look, const char *code)
{
    const double share = *look.b.axleShare;
    if (!look.keepsStanding() || share <= 0.95)
        return {};
    return {
        {code, Severity::Warning, say("balance"),
         say("Only {} % of the weight is on the support.", units::number((1.0 - share) * 100.0, 0)),
         say("The car nods at every start or stop, and a ranger looks up and down with it."),
         say("Look where the heaviest part sits, and how far the support is from the axle."),
         look.target()}};
}

Found axleLight(const BuildLook &look, const char *code)
{
    const double share = *look.b.axleShare;
    if (!look.keepsStanding() || share >= 0.55)
        return {};
    return {
        {code, Severity::Warning, say("balance"),
         say("Only {} % of the weight is on the drive wheels.", units::number(share * 100.0, 0)),
         say("Wheels slip, and a support that carries much drags or steers the car."),
         say("Look where the heaviest part sits: it belongs near the axle."), look.target()}};
}

Found casterCarries(const BuildLook &look, const char *code)
{
    const double share = *look.b.axleShare;
    const auto *part = look.car.part(*look.support);
    if (!part || !part->figure("trail_m") || share < 0.0 || share >= 0.85)
        return {};
    return {{code, Severity::Advice, labelOf(*look.support),
             say("The swivel caster carries {} % of the weight.",
                 units::number((1.0 - share) * 100.0, 0)),
             say("After each turn it drags until it lines up, and bends the path."),
             say("Look where the weight sits; a fixed skid does not swing, on a smooth floor."),
             look.target()}};
}

Found outside(const BuildLook &look, const char *code)
{
    const auto &car = look.car;
    const auto &g = car->geometry;
    constexpr double slack_m = 0.001;
    Found found;
    for (const auto &fitted : car->parts) {
        const auto place = placeOf(car, fitted);
        if (!place || !fitted.mount)
            continue;
        const bool out_x = place->x_m > g.axleToNose_m + slack_m ||
                           place->x_m < g.axleToNose_m - g.length_m - slack_m;
        const bool out_y = std::abs(place->y_m) > g.width_m / 2.0 + slack_m;
        if (!out_x && !out_y)
            continue;
        found.push_back(
            {code, Severity::Warning, labelOf(fitted),
             say("{} sits outside the car's {} × {}.", labelOf(fitted), mm(g.length_m),
                 mm(g.width_m)),
             say("It touches first, and the set-backs are counted from the wrong point."),
             say("Look at its place, or measure length and width with it on."),
             at::part(fitted.id)});
    }
    return found;
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

Found overlaps(const BuildLook &look, const char *code)
{
    constexpr double touch_m = 0.002; // less is a matter of measuring
    const auto blocks = blocksOnDeck(look.car);
    Found found;
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
            found.push_back({code, Severity::Advice, labelOf(*a.fitted) + ", " + labelOf(*b.fitted),
                             say("{} and {} lie over each other by {} × {}.", labelOf(*a.fitted),
                                 labelOf(*b.fitted), mm(along), mm(across)),
                             say("They do not both lie on one deck."),
                             say("Look at their places; boards that are stacked stand on "
                                 "standoffs, with nothing "
                                 "bare between."),
                             Spots{at::part(b.fitted->id), at::part(a.fitted->id)}});
        }
    return found;
}

/// Two round decks are one car only where they lie over each other, and are as long as it is said
/// to be.
Found discs(const BuildLook &look, const char *code)
{
    constexpr double slack_m = 0.005; // a saw's cut and a tape's end
    const auto &g = look.car->geometry;
    const double r = g.discRadius_m;
    if (g.discsApart_m >= 2.0 * r)
        return {{code, Severity::Error, say("deck"),
                 say("The two discs of {} radius do not touch: their centres are {} apart.", mm(r),
                     mm(g.discsApart_m)),
                 say("There are two decks and nothing that joins them."),
                 say("Look at radius and distance: half of each lies over the other at {}.",
                     mm(0.808 * r)),
                 at::part({})}};
    const double length_m = 2.0 * r + g.discsApart_m;
    if (std::abs(length_m - g.length_m) <= slack_m)
        return {};
    return {{code, Severity::Warning, say("deck"),
             say("The two discs together are {} long; the car is said to be {}.", mm(length_m),
                 mm(g.length_m)),
             say("What is drawn for the saw does not fit what is measured from."),
             say("Look at radius and distance, or measure the car's length again."), at::part({})}};
}

bool hasTwoDiscs(const BuildLook &look)
{
    return look.car->geometry.deck == DeckShape::TwoDiscs && look.car->geometry.discRadius_m > 0.0;
}

/// A wheel on a shaft: same shape, and a bore that is neither loose nor impossible.
Found bores(const BuildLook &look, const char *code)
{
    const auto &car = look.car;
    // Press fits of soft wheels: from ours, measured on nothing; wide on purpose.
    constexpr double tight_m = 0.0003;
    constexpr double loose_m = 0.00015;
    const auto *wheel = car.first(Kind::Wheel);
    const auto *wheelPart = wheel ? car.part(*wheel) : nullptr;
    const auto *bore = wheelPart ? wheelPart->figure("bore_m") : nullptr;
    for (const auto &fitted : car->parts) {
        const auto *motor = car.part(fitted);
        const auto *shaft = motor ? motor->figure("shaft_m") : nullptr;
        if (shaft == nullptr || bore == nullptr)
            continue;
        const bool shape = motor->shape == wheelPart->shape;
        const double gap_m = bore->typical - shaft->typical;
        if (shape && gap_m > -tight_m && gap_m < loose_m)
            continue;
        std::string fitting;
        for (const auto &p : car.catalogue().parts())
            if (p.kind == Kind::Wheel && p.shape == motor->shape && p.figure("bore_m") &&
                std::abs(p.figure("bore_m")->typical - shaft->typical) < loose_m)
                fitting += (fitting.empty() ? "" : ", ") + p.name;
        return {
            {code, Severity::Error, labelOf(*wheel),
             say("The {} has a {} bore of {}, the shaft of the {} is {} with {}.", wheelPart->name,
                 wheelPart->shape, quantity(bore->typical, Unit::Millimetre, 2), motor->name,
                 motor->shape, quantity(shaft->typical, Unit::Millimetre, 2)),
             say("It slips, or cracks when it is forced on."),
             fitting.empty() ? say("Look at both sheets: a wheel is made for one shaft.")
                             : say("These fit the shaft: {}.", fitting),
             at::part(wheel->id)}};
    }
    return {};
}

bool hasBore(const BuildLook &look)
{
    const auto *wheel = look.car.first(Kind::Wheel);
    const auto *part = wheel ? look.car.part(*wheel) : nullptr;
    return part && part->figure("bore_m");
}

bool severalBlocks(const BuildLook &look)
{
    return blocksOnDeck(look.car).size() > 1;
}

bool balanced(const BuildLook &look)
{
    return look.keepsStanding() && *look.b.axleShare <= 0.95 && *look.b.axleShare >= 0.55;
}

const std::vector<Check<BuildLook>> &buildTable()
{
    static const std::vector<Check<BuildLook>> checks{
        {"mass-unknown", noPraise, massUnknown, "advice", "the balance leaves it out"},
        {"place-unknown", noPraise, placeUnknown, "advice", "the balance is a range"},
        {"support-missing", noPraise, supportMissing, "warning", "two wheels and nothing else"},
        {"car-tips", source("the car stands on wheels and support"), carTips, "error",
         "the centre of mass lies outside of wheels and support", standing, balanced},
        {"car-may-tip", noPraise, carMayTip, "warning",
         "it may lie outside, with a part whose place is not said", standing},
        {"car-tips-easily", noPraise, tipsEasily, "warning",
         "less than 5 % of the weight is on the support", standing},
        {"axle-light", noPraise, axleLight, "warning",
         "less than 55 % of the weight is on the drive wheels", standing},
        {"caster-carries", noPraise, casterCarries, "advice",
         "a swivel caster carries much and bends the path", standing},
        {"part-outside-car", source("every placed part is within the car"), outside, "warning",
         "a part sits outside the car's length and width"},
        {"parts-overlap", source("no part lies over another"), overlaps, "advice",
         "two parts lie over each other on the deck", nullptr, severalBlocks},
        {"discs-apart", source("the two discs make one deck"), discs,
         "error where they do not touch; warning for another length",
         "two round decks do not make the deck that is said", hasTwoDiscs},
        {"wheel-does-not-fit", source("the wheels fit the shafts"), bores, "error",
         "bore and shaft differ in shape or size", nullptr, hasBore},
    };
    return checks;
}

} // namespace

Findings checkBuild(const Assembly &car)
{
    Findings out;
    if (!car->parts.empty())
        run<BuildLook>(buildTable(), {car}, out);
    return out;
}

std::vector<CheckLine> buildLines()
{
    std::vector<CheckLine> lines;
    addLines<BuildLook>(buildTable(), lines);
    return lines;
}

} // namespace badger::kit
