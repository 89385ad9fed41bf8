// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/edit/kit_edits.h"

#include "core/power/feeds.h"
#include "core/revisions/history.h"

#include <algorithm>
#include <fmt/format.h>
#include <fmt/ranges.h>

namespace badger::edit
{

using parts::Kind;

namespace
{

std::string baseId(const parts::Part &part)
{
    switch (part.kind) {
    case Kind::Cell:
        return "pack";
    case Kind::Infrared:
    case Kind::Reflectance:
        return "eye";
    case Kind::DriveServo:
    case Kind::Motor:
        return "motor";
    case Kind::Link: // switch, fuse, diode
        return part.shape.empty() ? "link" : part.shape;
    default:
        return parts::name(part.kind);
    }
}

std::string freeId(const kit::Car &car, const std::string &wish)
{
    auto id = wish;
    for (int i = 2; car.instance(id) != nullptr; ++i)
        id = fmt::format("{}-{}", wish, i);
    return id;
}

bool drives(const parts::Part *p)
{
    return p && (p->kind == Kind::Motor || p->kind == Kind::DriveServo);
}

/// The side that has fewer motors, left first.
kit::Side freeSide(const kit::Assembly &car)
{
    int left = 0;
    int right = 0;
    for (const auto &i : car->parts)
        if (drives(car.part(i))) {
            left += i.side == kit::Side::Left;
            right += i.side == kit::Side::Right;
        }
    return left <= right ? kit::Side::Left : kit::Side::Right;
}

/// The channel of the motors on this side, else one that drives nothing.
std::string freeChannel(const kit::Assembly &car, kit::Side side)
{
    for (const auto &i : car->parts)
        if (i.side == side && !i.drivenBy.empty())
            return i.drivenBy;
    for (const auto &c : power::channels(car))
        if (std::none_of(car->parts.begin(), car->parts.end(),
                         [&](const kit::Instance &i) { return i.drivenBy == c; }))
            return c;
    return {};
}

} // namespace

std::string addPart(kit::Car &car, const parts::Catalogue &catalogue, const std::string &partId)
{
    const auto *part = catalogue.find(partId);
    if (part == nullptr)
        return {};
    kit::Instance fitted;
    fitted.partId = partId;
    auto wish = baseId(*part);
    if (drives(part)) {
        fitted.side = freeSide({car, catalogue});
        wish = fitted.side == kit::Side::Left ? "left" : "right";
        if (part->kind == Kind::Motor)
            fitted.drivenBy = freeChannel({car, catalogue}, fitted.side);
    }
    fitted.id = freeId(car, wish);
    if (part->kind == Kind::Cell) {
        fitted.cellsInSeries = 1;
        fitted.cellsInParallel = 1;
    }
    fitted.feeds = power::proposedFeeds({car, catalogue}, fitted);
    car.parts.push_back(fitted);
    if (part->kind == Kind::Driver)
        for (auto &i : car.parts) { // motors that were waiting for a driver
            const auto *p = catalogue.find(i.partId);
            if (p && p->kind == Kind::Motor && i.drivenBy.empty())
                i.drivenBy = freeChannel({car, catalogue}, i.side);
        }
    return fitted.id;
}

namespace
{

bool belongs(const std::string &terminal, const std::string &instance)
{
    return kit::splitTerminal(terminal).instance == instance;
}

/// Takes off what names a terminal for which `gone` holds.
template <class Gone> Taken takeOff(kit::Car &car, Gone gone)
{
    Taken t;
    t.wires = static_cast<int>(
        std::erase_if(car.wires, [&](const kit::Wire &w) { return gone(w.from) || gone(w.to); }));
    if (t.wires > 0)
        revisions::edited(car);
    t.pins = static_cast<int>(
        std::erase_if(car.programPins, [&](const auto &pin) { return gone(pin.first); }));
    for (auto &i : car.parts)
        t.feeds += static_cast<int>(
            std::erase_if(i.feeds, [&](const kit::Feed &f) { return gone(f.from); }));
    return t;
}

/// Program pins that the board, whichever it is now, does not have.
int dropLostPins(kit::Car &car, const parts::Catalogue &catalogue)
{
    const auto *board = kit::Assembly(car, catalogue).first(Kind::Board);
    const auto *part = board ? catalogue.find(board->partId) : nullptr;
    return static_cast<int>(std::erase_if(car.programPins, [&](const auto &pin) {
        const auto *t = part ? part->terminal(pin.second) : nullptr;
        return t == nullptr || t->role != parts::Role::Pin;
    }));
}

} // namespace

Taken removePart(kit::Car &car, const parts::Catalogue &catalogue, const std::string &instance)
{
    auto t = takeOff(car, [&](const std::string &name) { return belongs(name, instance); });
    std::erase_if(car.parts, [&](const kit::Instance &i) { return i.id == instance; });
    for (auto &i : car.parts) {
        if (belongs(i.drivenBy, instance))
            i.drivenBy.clear();
        if (i.carriedBy == instance)
            i.carriedBy.clear();
    }
    t.pins += dropLostPins(car, catalogue);
    return t;
}

Taken exchangePart(kit::Car &car, const parts::Catalogue &catalogue, const std::string &instance,
                   const std::string &partId)
{
    const auto *part = catalogue.find(partId);
    const auto it = std::find_if(car.parts.begin(), car.parts.end(),
                                 [&](const kit::Instance &i) { return i.id == instance; });
    if (part == nullptr || it == car.parts.end() || it->partId == partId)
        return {};
    it->partId = partId;
    std::erase_if(it->jumpers, [&](const std::string &j) {
        const auto *t = part->terminal(j);
        return t == nullptr || !t->jumper;
    });
    std::erase_if(it->feeds, [&](const kit::Feed &f) { return part->terminal(f.to) == nullptr; });
    if (part->kind == Kind::Cell && it->cellsInSeries < 1)
        it->cellsInSeries = it->cellsInParallel = 1;
    auto taken = takeOff(car, [&](const std::string &name) {
        return belongs(name, instance) &&
               part->terminal(kit::splitTerminal(name).terminal) == nullptr;
    });
    taken.pins += dropLostPins(car, catalogue);
    for (auto &i : car.parts) // a channel that the new driver names otherwise
        if (belongs(i.drivenBy, instance) &&
            std::none_of(part->terminals.begin(), part->terminals.end(),
                         [&](const parts::Terminal &t) {
                             return t.channel == kit::splitTerminal(i.drivenBy).terminal;
                         }))
            i.drivenBy.clear();
    for (const auto &feed : power::proposedFeeds({car, catalogue}, *it))
        if (std::none_of(it->feeds.begin(), it->feeds.end(),
                         [&](const kit::Feed &f) { return f.to == feed.to; }))
            it->feeds.push_back(feed);
    return taken;
}

Say words(const Taken &t)
{
    std::vector<Say> all;
    if (t.wires > 0)
        all.push_back(say("{0} {0|wire|wires}", t.wires));
    if (t.pins > 0)
        all.push_back(say("{0} {0|pin|pins} of the program", t.pins));
    if (t.feeds > 0)
        all.push_back(say("{0} {0|feed|feeds}", t.feeds));
    return all.empty() ? Say() : say("{} came off with it", joined(all, ", "));
}

} // namespace badger::edit
