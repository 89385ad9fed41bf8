// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/edit/kit_edits.h"

#include "core/edit/same_job.h"
#include "core/power/feeds.h"
#include "core/revisions/history.h"

#include <algorithm>
#include <fmt/format.h>
#include <fmt/ranges.h>
#include <map>
#include <set>

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

} // namespace

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

namespace
{

/// Lets everything that names a terminal of an instance name the one with the same job on another
/// part; what has none there comes off.
Taken renameTerminals(kit::Car &car, const std::string &instance, const parts::Part &from,
                      const parts::Part &to)
{
    // False: there is none.
    bool moved = false;
    const auto follows = [&](std::string &end) {
        const auto name = kit::splitTerminal(end);
        if (name.instance != instance)
            return true;
        const auto now = sameJob(from, name.terminal, to);
        moved |= now != name.terminal;
        end = instance + "." + now;
        return !now.empty();
    };
    Taken t;
    t.wires = static_cast<int>(
        std::erase_if(car.wires, [&](kit::Wire &w) { return !follows(w.from) || !follows(w.to); }));
    // Two grounds of a chip become one of a module: one wire between two ends is enough.
    std::set<std::pair<std::string, std::string>> known;
    std::erase_if(car.wires, [&](const kit::Wire &w) {
        return !known.insert(std::minmax(w.from, w.to)).second;
    });
    if (moved)
        revisions::edited(car);
    std::map<std::string, std::string> pins;
    for (const auto &[terminal, pin] : car.programPins) {
        auto end = terminal;
        if (follows(end))
            pins[end] = pin;
        else
            ++t.pins;
    }
    car.programPins = std::move(pins);
    for (auto &i : car.parts) {
        t.feeds += static_cast<int>(
            std::erase_if(i.feeds, [&](kit::Feed &f) { return !follows(f.from); }));
        // A channel that the new driver names otherwise.
        const auto drive = kit::splitTerminal(i.drivenBy);
        if (drive.instance == instance &&
            std::none_of(to.terminals.begin(), to.terminals.end(),
                         [&](const parts::Terminal &x) { return x.channel == drive.terminal; }))
            i.drivenBy.clear();
    }
    return t;
}

} // namespace

Taken exchangePart(kit::Car &car, const parts::Catalogue &catalogue, const std::string &instance,
                   const std::string &partId)
{
    const auto *part = catalogue.find(partId);
    const auto it = std::find_if(car.parts.begin(), car.parts.end(),
                                 [&](const kit::Instance &i) { return i.id == instance; });
    if (part == nullptr || it == car.parts.end() || it->partId == partId)
        return {};
    // Of a part that the catalogue does not have, the terminals are those of its name.
    const auto *known = catalogue.find(it->partId);
    const auto from = known ? *known : *part;
    const auto at = std::distance(car.parts.begin(), it);
    auto taken = renameTerminals(car, instance, from, *part);
    auto &fitted = car.parts[static_cast<size_t>(at)];
    fitted.partId = partId;
    std::erase_if(fitted.jumpers, [&](std::string &j) {
        j = sameJob(from, j, *part);
        const auto *t = part->terminal(j);
        return t == nullptr || !t->jumper;
    });
    std::erase_if(fitted.feeds, [&](kit::Feed &f) {
        f.to = sameJob(from, f.to, *part);
        return part->terminal(f.to) == nullptr;
    });
    if (part->kind == Kind::Cell && fitted.cellsInSeries < 1)
        fitted.cellsInSeries = fitted.cellsInParallel = 1;
    taken.pins += dropLostPins(car, catalogue);
    for (const auto &feed : power::proposedFeeds({car, catalogue}, fitted))
        if (std::none_of(fitted.feeds.begin(), fitted.feeds.end(),
                         [&](const kit::Feed &f) { return f.to == feed.to; }))
            fitted.feeds.push_back(feed);
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
