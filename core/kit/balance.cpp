// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/kit/balance.h"

#include "core/units/quantity.h"

#include <algorithm>
#include <cmath>
#include <fmt/format.h>
#include <numbers>

namespace badger::kit
{

using parts::Kind;

namespace
{

const Instance *carrierOf(const Car &car, const Instance &fitted)
{
    const auto *carrier = fitted.carriedBy.empty() ? nullptr : car.instance(fitted.carriedBy);
    return carrier == &fitted ? nullptr : carrier;
}

std::optional<Place> placeWithin(const Assembly &car, const Instance &fitted, int depth)
{
    constexpr int deepest = 4; // who carries whom may be a ring
    const auto &g = car->geometry;
    if (fitted.mount)
        return Place{g.axleToNose_m - fitted.mount->setBack_m, fitted.mount->offset_m,
                     fitted.mount->yaw_rad};
    if (const auto *carrier = carrierOf(car, fitted); carrier && depth < deepest)
        return placeWithin(car, *carrier, depth + 1);
    const auto *part = car.part(fitted);
    if (part == nullptr)
        return std::nullopt;
    const double middle_m = g.axleToNose_m - g.length_m / 2.0;
    switch (part->kind) {
    case Kind::Motor:
    case Kind::DriveServo:
        if (fitted.side != Side::None) {
            // The motor's body lies inside of its wheel.
            const auto *length = part->figure("width_m");
            const double inside_m = length ? length->typical : 0.0;
            return Place{
                0.0, (fitted.side == Side::Left ? 1.0 : -1.0) * (g.track_m / 2.0 - inside_m), 0.0};
        }
        return std::nullopt;
    case Kind::Wheel:
        return Place{0.0, 0.0, 0.0};
    case Kind::Deck:
        return Place{middle_m, 0.0, 0.0};
    default:
        return std::nullopt;
    }
}

} // namespace

std::optional<Place> placeOf(const Assembly &car, const Instance &fitted)
{
    return placeWithin(car, fitted, 0);
}

int howMany(const Assembly &car, const Instance &fitted)
{
    const auto *part = car.part(fitted);
    if (part == nullptr)
        return 0;
    if (part->kind == Kind::Cell) {
        int cells = fitted.cellsInSeries * fitted.cellsInParallel;
        for (const auto &g : fitted.otherCells)
            cells += g.cells;
        return cells;
    }
    if (part->kind != Kind::Wheel)
        return 1;
    int motors = 0;
    int wheels = 0;
    for (const auto &i : car->parts) {
        const auto *p = car.part(i);
        motors += p && (p->kind == Kind::Motor || p->kind == Kind::DriveServo);
        wheels += p && p->kind == Kind::Wheel;
    }
    return wheels > 1 ? 1 : std::max(1, motors);
}

std::optional<Footprint> footprintOf(const Assembly &car, const Instance &fitted)
{
    const auto *part = car.part(fitted);
    const auto *length = part ? part->figure("length_m") : nullptr;
    const auto *width = part ? part->figure("width_m") : nullptr;
    if (length == nullptr || width == nullptr)
        return std::nullopt;
    Footprint f{length->typical, width->typical};
    if (part->kind == Kind::Cell) {
        const int cells = std::max(1, howMany(car, fitted));
        const double across = f.width_m * cells;
        const int rows = std::max(
            1, static_cast<int>(std::ceil(across / std::max(0.02, car->geometry.width_m))));
        f.width_m = f.width_m * std::ceil(static_cast<double>(cells) / rows);
        f.length_m *= rows;
    }
    return f;
}

double bodyBehind_m(const parts::Part &part)
{
    const auto *length = part.figure("length_m");
    if (length == nullptr)
        return 0.0;
    constexpr double spotBehindEnd_m = 0.005; // emitter and receiver sit at the module's end
    if (part.kind == Kind::Ranger)
        return length->typical / 2.0;
    if (part.kind == Kind::Infrared || part.kind == Kind::Reflectance)
        return length->typical / 2.0 - spotBehindEnd_m;
    return 0.0;
}

double deckArea_m2(const Geometry &g)
{
    const double disc = std::numbers::pi * g.discRadius_m * g.discRadius_m;
    switch (g.deck) {
    case DeckShape::Disc:
        return disc;
    case DeckShape::TwoDiscs:
        return 2.0 * disc; // they lie over each other where they overlap
    case DeckShape::Rectangle:
        break;
    }
    return g.length_m * g.width_m;
}

std::optional<double> massOf_kg(const Assembly &car, const Instance &fitted, Bound bound)
{
    const auto *part = car.part(fitted);
    if (part == nullptr)
        return std::nullopt;
    if (part->kind == Kind::Deck) {
        const auto *sheet = part->figure("area_kg_m2");
        return sheet ? std::optional(at(*sheet, bound) * deckArea_m2(car->geometry)) : std::nullopt;
    }
    const auto *mass = part->figure("mass_kg");
    if (mass == nullptr)
        return std::nullopt;
    if (part->kind != Kind::Cell)
        return at(*mass, bound) * howMany(car, fitted);
    double all = at(*mass, bound) * fitted.cellsInSeries * fitted.cellsInParallel;
    for (const auto &g : fitted.otherCells) {
        const auto *cell = car.catalogue().find(g.partId);
        const auto *other = cell ? cell->figure("mass_kg") : nullptr;
        if (other == nullptr)
            return std::nullopt;
        all += at(*other, bound) * g.cells;
    }
    return all;
}

namespace
{

/// Weightless in this sum: wires, fasteners, resistors; and what hangs on a cable beside the car.
bool countsInBalance(const parts::Part &part)
{
    switch (part.kind) {
    case Kind::Jumper:
    case Kind::Fastener:
    case Kind::Resistor:
    case Kind::Divider:
    case Kind::Led:
        return false;
    case Kind::Supply:
        return part.figure("mass_kg") != nullptr;
    case Kind::Rail:
        return !part.figures.empty();
    default:
        return true;
    }
}

} // namespace

Balance balance(const Assembly &car)
{
    Balance b;
    const auto &g = car->geometry;
    const double nose_m = g.axleToNose_m;
    const double tail_m = nose_m - g.length_m;
    double momentX = 0.0;
    double momentY = 0.0;
    double loose_kg = 0.0;
    for (const auto &fitted : car->parts) {
        const auto *part = car.part(fitted);
        if (part == nullptr || !countsInBalance(*part))
            continue;
        const auto place = placeOf(car, fitted);
        if (part->kind == Kind::Support && place)
            b.support_m = place->x_m;
        const auto mass = massOf_kg(car, fitted);
        if (!mass) {
            b.withoutMass.push_back(fitted.id);
            continue;
        }
        b.mass_kg += *mass;
        b.low_kg += *massOf_kg(car, fitted, Bound::Low);
        b.high_kg += *massOf_kg(car, fitted, Bound::High);
        if (!place) {
            b.withoutPlace.push_back(fitted.id);
            loose_kg += *mass;
            continue;
        }
        momentX += *mass * place->x_m;
        momentY += *mass * place->y_m;
    }
    if (b.mass_kg <= 0.0)
        return b;
    b.centre = {(momentX + loose_kg * (nose_m + tail_m) / 2.0) / b.mass_kg, momentY / b.mass_kg,
                0.0};
    b.rearmost_m = (momentX + loose_kg * tail_m) / b.mass_kg;
    b.foremost_m = (momentX + loose_kg * nose_m) / b.mass_kg;
    if (b.support_m && *b.support_m != 0.0) {
        b.axleShare = 1.0 - b.centre.x_m / *b.support_m;
        // The support lifts when m a h exceeds the moment of the weight about the axle. The height
        // of the centre is taken as that of the axle, half a wheel: a choice of ours.
        const auto *wheel = car.first(Kind::Wheel);
        constexpr double g_mps2 = 9.81;
        if (wheel != nullptr && *b.axleShare > 0.0 && *b.axleShare < 1.0)
            b.tipsAt_mps2 = g_mps2 * std::abs(b.centre.x_m) /
                            car.part(*wheel)->figure("diameter_m")->typical * 2.0;
    }
    return b;
}

Derivation whyBalance(const Assembly &car)
{
    using units::quantity;
    using units::Unit;
    const auto b = balance(car);
    const auto mm = [](double m) { return quantity(m, Unit::Millimetre, 1); };
    Derivation d;
    d.title = say("weight on the drive wheels");
    d.result = b.axleShare ? say("{} %", units::number(*b.axleShare * 100.0, 0))
                           : quantity(b.mass_kg, Unit::Gram, 0);
    if (b.axleShare)
        d.steps = {{"whole", "1", {}, say("axle and support carry it together")},
                   {say("centre of mass"), "− " + mm(b.centre.x_m), {}, say("ahead of the axle")},
                   {"support", "÷ " + mm(*b.support_m), {}, say("ahead of the axle")}};
    for (const auto &fitted : car->parts) {
        const auto mass = massOf_kg(car, fitted);
        const auto place = placeOf(car, fitted);
        const auto *part = car.part(fitted);
        if (part == nullptr || !countsInBalance(*part))
            continue;
        d.steps.push_back({labelOf(fitted), mass ? Say(quantity(*mass, Unit::Gram, 0)) : Say("? g"),
                           place ? "× " + mm(place->x_m) : "× ?", part->name});
    }
    if (b.tipsAt_mps2)
        d.aside = say("it nods at about {} m/s²", units::number(*b.tipsAt_mps2, 1));
    return d;
}

} // namespace badger::kit
