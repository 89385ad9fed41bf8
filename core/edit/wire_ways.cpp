// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/edit/wire_ways.h"

#include "core/edit/fixed_car.h"
#include "core/edit/kit_edits.h"
#include "core/kit/check.h"
#include "core/nets/nets.h"
#include "core/pins/planner.h"

#include <algorithm>
#include <cmath>
#include <map>

namespace badger::edit
{

using parts::Kind;
using parts::Role;

std::optional<Fix::Move> placeBeside(const kit::Assembly &car, const std::string &id,
                                     const std::string &partId, const kit::Instance &other)
{
    constexpr double step_m = 0.01;
    constexpr int most = 11;
    if (!other.mount)
        return std::nullopt;
    const auto faults = [&](const kit::Car &on) {
        return kit::checkBuild({on, car.catalogue()}).findings.size();
    };
    const auto &from = *other.mount;
    std::vector<Fix::Move> places;
    for (int back = -most; back <= most; ++back)
        for (int left = -most; left <= most; ++left) {
            const Fix::Move place{id, from.setBack_m + back * step_m,
                                  from.offset_m + left * step_m};
            if (place.back_m >= 0.0 && place.back_m <= car->geometry.length_m &&
                std::abs(place.left_m) <= car->geometry.width_m / 2.0)
                places.push_back(place);
        }
    const auto far = [&](const Fix::Move &m) {
        return std::hypot(m.back_m - from.setBack_m, m.left_m - from.offset_m);
    };
    std::stable_sort(places.begin(), places.end(),
                     [&](const auto &a, const auto &b) { return far(a) < far(b); });
    const auto before = faults(car.car());
    for (const auto &place : places) {
        Fix fix;
        fix.parts.push_back({{}, {}, partId});
        fix.moves.push_back(place);
        if (faults(applied(car, fix)) <= before)
            return place;
    }
    return std::nullopt;
}

namespace
{

/// Is it what its id stands for? A workshop's own part hides a shipped one of its name.
bool isCurrent(const kit::Assembly &car, const parts::Part &part)
{
    return car.catalogue().find(part.id) == &part;
}

/// One more part in a fix, as near to another as there is room; its id.
std::string addBeside(const kit::Assembly &car, const parts::Part &part, const kit::Instance &other,
                      Fix &fix)
{
    auto copy = car.car();
    auto id = addPart(copy, car.catalogue(), part.id);
    fix.parts.push_back({{}, {}, part.id});
    if (const auto place = placeBeside(car, id, part.id, other))
        fix.moves.push_back(*place);
    return id;
}

const kit::Instance &partAt(const kit::Assembly &car, const std::string &terminal)
{
    return *car->instance(kit::splitTerminal(terminal).instance);
}

/// A ground near by: of the board, else of any part that has one on the car's ground.
std::string groundOf(const kit::Assembly &car, const nets::Nets &nets)
{
    const auto *board = car.first(Kind::Board);
    std::string ground;
    for (const auto &m : nets.all()) {
        const bool is = m.terminal->role == Role::Ground || m.terminal->role == Role::Minus;
        if (is && nets.isGround(m.net) && (ground.empty() || m.fitted == board))
            ground = m.name;
        if (is && nets.isGround(m.net) && m.fitted == board)
            break;
    }
    return ground;
}

/// The terminals that a finding names, the first first.
std::vector<std::string> terminalsOf(const nets::Nets &nets, const Finding &finding)
{
    std::vector<std::string> all;
    for (const auto &place : finding.places)
        if (nets.member(place.name) != nullptr &&
            std::find(all.begin(), all.end(), place.name) == all.end())
            all.push_back(place.name);
    return all;
}

/// A finding that stands at one wire names its two ends.
bool isWire(const kit::Wire &wire, const Finding &finding)
{
    return finding.places.size() == 2 && finding.places[0].name == wire.from &&
           finding.places[1].name == wire.to;
}

/// One more link behind a source, or behind the fuse that is there: the wires of that place go
/// through it.
void addLinks(const kit::Assembly &car, const Finding &finding, const std::string &sort,
              std::vector<WayCandidates> &all)
{
    std::string at;
    for (const auto &f : car.fitted())
        for (const auto &t : f.part->terminals)
            if (t.role == parts::Role::Plus && finding.places.front() == at::part(f.instance->id))
                at = f.instance->id + "." + t.name;
    const auto wiresAt = [&] {
        std::vector<std::pair<Fix::Wire, std::string>> found; // and the other end
        for (const auto &w : car->wires)
            if (w.from == at || w.to == at)
                found.push_back({{w.from, w.to, w.colour}, w.from == at ? w.to : w.from});
        return found;
    };
    auto wires = wiresAt();
    if (wires.size() == 1) {
        const auto far = kit::splitTerminal(wires.front().second);
        const auto fuse = car.find(far.instance);
        if (fuse && fuse->part->kind == Kind::Link && fuse->part->shape == "fuse")
            for (const auto &t : fuse->part->terminals)
                if (t.name != far.terminal)
                    at = far.instance + "." + t.name;
        wires = wiresAt();
    }
    if (wires.empty())
        return;
    WayCandidates to;
    for (const auto &part : car.catalogue().parts()) {
        if (part.kind != Kind::Link || part.shape != sort || part.terminals.size() != 2 ||
            !isCurrent(car, part))
            continue;
        Fix fix;
        const auto source = finding.places.front().name;
        const auto id = addBeside(car, part, *car->instance(source), fix);
        fix.in.push_back({at, id + "." + part.terminals[0].name, wires.front().first.colour});
        for (const auto &[wire, far] : wires) {
            fix.out.push_back(wire);
            const auto end = id + "." + part.terminals[1].name;
            fix.in.push_back({end, far, wire.colour});
            const auto input = kit::splitTerminal(far);
            for (const auto &feed : car->instance(input.instance)->feeds)
                if (feed.to == input.terminal)
                    fix.feeds.push_back({far, end});
        }
        to.fixes.push_back(std::move(fix));
    }
    all.push_back(std::move(to));
}

/// A divider in a wire of the signal that is too high.
void addDividers(const kit::Assembly &car, const Finding &finding, std::vector<WayCandidates> &all)
{
    const nets::Nets nets(car);
    const auto ground = groundOf(car, nets);
    WayCandidates to;
    const auto ends = terminalsOf(nets, finding);
    const auto isHere = [&](const std::string &end) {
        return std::find(ends.begin(), ends.end(), end) != ends.end();
    };
    for (const auto &w : car->wires) {
        if (!isHere(w.from) && !isHere(w.to))
            continue;
        // The signal comes from its sensor, whichever end is named first.
        const bool fromFirst = nets.member(w.from)->terminal->role != Role::Pin;
        const auto &from = fromFirst ? w.from : w.to;
        const auto &pin = fromFirst ? w.to : w.from;
        for (const auto &part : car.catalogue().parts()) {
            if (part.kind != Kind::Divider || !isCurrent(car, part) || ground.empty())
                continue;
            Fix fix;
            const auto id = addBeside(car, part, partAt(car, pin), fix);
            fix.out.push_back({w.from, w.to, w.colour});
            fix.in = {{from, id + ".IN", w.colour},
                      {id + ".OUT", pin, w.colour},
                      {id + ".GND", ground, "black"}};
            to.fixes.push_back(std::move(fix));
        }
    }
    all.push_back(std::move(to));
}

/// A resistor from an input to ground.
void addPullDowns(const kit::Assembly &car, const Finding &finding, std::vector<WayCandidates> &all)
{
    const nets::Nets nets(car);
    const auto ground = groundOf(car, nets);
    WayCandidates to{{}, 1};
    for (const auto &input : terminalsOf(nets, finding))
        for (const auto &part : car.catalogue().parts()) {
            if (part.kind != Kind::Resistor || !isCurrent(car, part) || ground.empty() ||
                part.terminals.size() != 2)
                continue;
            Fix fix;
            const auto id = addBeside(car, part, partAt(car, input), fix);
            fix.in = {
                {input, id + "." + part.terminals[0].name, pins::colourFor(car, input, input)},
                {ground, id + "." + part.terminals[1].name, "black"}};
            to.fixes.push_back(std::move(fix));
        }
    // The largest is a pull-down; a small one loads what drives the input.
    std::reverse(to.fixes.begin(), to.fixes.end());
    all.push_back(std::move(to));
}

/// Every open ground of the part to the ground that it has.
void addGrounds(const kit::Assembly &car, const Finding &finding, std::vector<WayCandidates> &all)
{
    const nets::Nets nets(car);
    const auto here = terminalsOf(nets, finding);
    if (here.empty())
        return;
    const auto &fitted = partAt(car, here.front());
    std::string joinedOne;
    Fix fix;
    for (const auto &m : nets.all())
        if (m.fitted->id == fitted.id && m.terminal->role == Role::Ground && m.wires > 0)
            joinedOne = m.name;
    for (const auto &m : nets.all())
        if (m.fitted->id == fitted.id && m.terminal->role == Role::Ground && m.wires == 0)
            fix.in.push_back({m.name, joinedOne, "black"});
    if (!joinedOne.empty())
        all.push_back({{std::move(fix)}, 1});
}

/// Free holes on a conductor, as often as each takes a wire more.
std::vector<std::string> freeHoles(const nets::Nets &nets, const nets::Member &full)
{
    std::vector<std::string> free;
    for (const auto &m : nets.all()) {
        const bool takes = m.part->kind == Kind::Board || m.part->kind == Kind::Rail;
        if (m.net != full.net || m.name == full.name || !takes || m.terminal->role == Role::Pin)
            continue;
        constexpr int ofRail = 10; // a row that says no number takes many
        const int holes = m.terminal->holes > 0        ? m.terminal->holes
                          : m.part->kind == Kind::Rail ? ofRail
                                                       : 1;
        for (int n = m.wires; n < holes; ++n)
            free.push_back(m.name);
    }
    return free;
}

Fix::Wire moved(const Fix::Wire &w, const std::string &from, const std::string &to)
{
    return w.from == from ? Fix::Wire{to, w.to, w.colour} : Fix::Wire{w.from, to, w.colour};
}

/// The wires that are too many to free holes of their conductor, or all of them to a column of a
/// breadboard.
void addHoles(const kit::Assembly &car, const Finding &finding, std::vector<WayCandidates> &all)
{
    const nets::Nets nets(car);
    const auto *full = nets.member(finding.places.front().name);
    if (full == nullptr)
        return;
    std::vector<Fix::Wire> wires;
    for (const auto &w : car->wires)
        if (w.from == full->name || w.to == full->name)
            wires.push_back({w.from, w.to, w.colour});
    const size_t holes = static_cast<size_t>(std::max(1, full->terminal->holes));
    if (wires.size() <= holes)
        return;
    const auto free = freeHoles(nets, *full);
    if (free.size() >= wires.size() - holes) {
        Fix fix;
        for (size_t i = holes; i < wires.size(); ++i) {
            fix.out.push_back(wires[i]);
            fix.in.push_back(moved(wires[i], full->name, free[i - holes]));
        }
        all.push_back({{std::move(fix)}, 1});
    }
    const char *row = nets.isGround(full->net) ? "MINUS" : nets.isSupply(full->net) ? "PLUS" : "-";
    WayCandidates to{{}, 1};
    for (const auto &part : car.catalogue().parts()) {
        const auto column =
            std::find_if(part.terminals.begin(), part.terminals.end(), [&](const auto &t) {
                return t.holes > static_cast<int>(wires.size()) ||
                       (t.holes == 0 && t.name.starts_with(row));
            });
        if (part.kind != Kind::Rail || !isCurrent(car, part) || column == part.terminals.end())
            continue;
        Fix fix;
        const auto end = addBeside(car, part, *full->fitted, fix) + "." + column->name;
        fix.in.push_back({full->name, end, wires.front().colour});
        for (const auto &w : wires) {
            fix.out.push_back(w);
            fix.in.push_back(moved(w, full->name, end));
        }
        to.fixes.push_back(std::move(fix));
    }
    all.push_back(std::move(to));
}

/// Black, red or a colour that is free for one wire.
void addColour(const kit::Assembly &car, const Finding &finding, std::vector<WayCandidates> &all)
{
    WayCandidates to{{}, 1};
    for (const auto &w : car->wires)
        if (isWire(w, finding))
            for (const auto &colour :
                 {std::string("black"), std::string("red"), pins::freeColour(car.car())}) {
                if (colour == w.colour)
                    continue;
                Fix fix;
                fix.out.push_back({w.from, w.to, w.colour});
                fix.in.push_back({w.from, w.to, colour});
                to.fixes.push_back(std::move(fix));
            }
    all.push_back(std::move(to));
}

/// A colour for each signal but the first of those that share one.
void addColours(const kit::Assembly &car, const Finding &finding, std::vector<WayCandidates> &all)
{
    const nets::Nets nets(car);
    const auto second = std::find_if(car->wires.begin(), car->wires.end(),
                                     [&](const kit::Wire &w) { return isWire(w, finding); });
    if (second == car->wires.end())
        return;
    auto copy = car.car();
    Fix fix;
    std::map<int, std::string> colourOf; // of a line
    const auto shared = second->colour;
    for (auto &w : copy.wires) {
        if (w.colour != shared)
            continue;
        const int line = nets.line(nets.of(w.from)).front();
        const bool first = colourOf.empty();
        auto &colour = colourOf[line];
        if (colour.empty())
            colour = first ? w.colour : pins::freeColour(copy);
        if (colour == w.colour)
            continue;
        fix.out.push_back({w.from, w.to, w.colour});
        fix.in.push_back({w.from, w.to, colour});
        w.colour = colour; // it is no longer free
    }
    all.push_back({{std::move(fix)}, 1});
}

} // namespace

std::vector<WayCandidates> wireWays(const kit::Assembly &car, const Finding &finding)
{
    const auto &code = finding.code;
    std::vector<WayCandidates> all;
    if (car->wires.empty())
        return all;
    if (code == "switch-missing" || code == "fuse-missing")
        addLinks(car, finding, code.substr(0, code.find('-')), all);
    if (code == "signal-over-volts")
        addDividers(car, finding, all);
    if (code == "pull-down-missing" || code == "input-floats")
        addPullDowns(car, finding, all);
    if (code == "chip-ground-open")
        addGrounds(car, finding, all);
    if (code == "hole-crowded")
        addHoles(car, finding, all);
    if (code == "wire-colour")
        addColour(car, finding, all);
    if (code == "wire-colour-shared")
        addColours(car, finding, all);
    return all;
}

} // namespace badger::edit
