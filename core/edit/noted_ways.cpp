// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/edit/noted_ways.h"

#include "core/nets/nets.h"
#include "core/power/feeds.h"
#include "core/power/laws.h"

#include <algorithm>
#include <set>

namespace badger::edit
{

using parts::Kind;

double leastResistor_ohm(const kit::Assembly &car, const std::string &light)
{
    const auto &part = *car.find(light)->part;
    const auto *forward = part.figure("forward_V");
    const auto *amps = part.figure("running_A");
    double least_ohm = power::nextE12_ohm(10.0);
    const nets::Nets nets(car);
    for (const auto &f : car.fitted()) {
        const auto *logic = f.part->figure("logic_V");
        if (f.part->kind != Kind::Board || !logic || !forward || !amps)
            continue;
        // On the pins of this board, or on the one board that there is.
        bool here = f.instance == car.first(Kind::Board);
        for (const auto &t : part.terminals)
            for (const auto &pin : nets.onLine(light + "." + t.name, parts::Role::Pin))
                here |= kit::splitTerminal(pin).instance == f.instance->id;
        if (const auto law = power::ledResistor(logic->typical, forward->typical, amps->typical);
            here && law)
            least_ohm = std::max(least_ohm, law->standard_ohm);
    }
    return least_ohm;
}

namespace
{

/// The lights that a finding is about: itself, its terminal, or the pin that it hangs on.
std::vector<std::string> lightsOf(const kit::Assembly &car, const Finding &finding)
{
    std::vector<std::string> all;
    const nets::Nets nets(car);
    const auto isAt = [&](const std::string &name) {
        return std::any_of(finding.places.begin(), finding.places.end(),
                           [&](const Spot &place) { return place.name == name; });
    };
    for (const auto &f : car.fitted()) {
        if (f.part->kind != Kind::Led)
            continue;
        bool here = isAt(f.instance->id);
        for (const auto &t : f.part->terminals) {
            const auto name = f.instance->id + "." + t.name;
            here |= isAt(name);
            for (const auto &pin : nets.onLine(name, parts::Role::Pin))
                here |= isAt(pin);
        }
        if (here)
            all.push_back(f.instance->id);
    }
    return all;
}

/// The least standard resistor that stands the test.
void addResistors(const kit::Assembly &car, const Finding &finding, std::vector<WayCandidates> &all)
{
    constexpr double most_ohm = 10000.0;
    for (const auto &light : lightsOf(car, finding)) {
        const auto now = car->instance(light)->resistor_ohm;
        WayCandidates to{{}, 1};
        for (double ohm = leastResistor_ohm(car, light); ohm <= most_ohm;
             ohm = power::nextE12_ohm(ohm * 1.01)) {
            if (now && ohm <= *now)
                continue;
            Fix fix;
            fix.resistors.push_back({light, now, ohm});
            to.fixes.push_back(std::move(fix));
        }
        all.push_back(std::move(to));
    }
}

/// All cells of a holder of one of the kinds that are in it.
void addOneKind(const kit::Assembly &car, const Finding &finding, std::vector<WayCandidates> &all)
{
    WayCandidates to;
    for (const auto &f : car.fitted()) {
        const auto &pack = *f.instance;
        if (f.part->kind != Kind::Cell || pack.otherCells.empty() ||
            finding.places.front() != at::part(pack.id))
            continue;
        int cells = pack.cellsInSeries;
        std::set<std::string> kinds = {pack.partId};
        for (const auto &g : pack.otherCells) {
            cells += g.cells;
            kinds.insert(g.partId);
        }
        for (const auto &kind : kinds) {
            Fix fix;
            fix.cells.push_back({pack.id, pack.cellsInSeries, cells, kind});
            to.fixes.push_back(std::move(fix));
        }
    }
    all.push_back(std::move(to));
}

/// More or fewer cells of the same kind, the nearest numbers first.
void addCells(const kit::Assembly &car, std::vector<WayCandidates> &all)
{
    constexpr int farthest = 6;
    WayCandidates to{{}, 1};
    for (int step = 1; step <= farthest; ++step)
        for (const auto &f : car.fitted()) {
            const int now = f.instance->cellsInSeries;
            if (f.part->kind != Kind::Cell || now < 1 || !f.instance->otherCells.empty())
                continue;
            for (const int then : {now + step, now - step})
                if (then >= 1) {
                    Fix fix;
                    fix.cells.push_back({f.instance->id, now, then});
                    to.fixes.push_back(std::move(fix));
                }
        }
    all.push_back(std::move(to));
}

/// Of volts, amps or heat in the supply: another number of cells may do.
bool isAboutVolts(const std::string &code)
{
    static const std::set<std::string> codes = {
        "supply-outside-window", "regulator-over-volts", "rail-not-held", "logic-browns-out",
        "motor-too-weak",        "supply-below-drop",    "regulator-hot", "bridge-hot",
        "motor-supply-low",      "source-over-limit",    "pack-sags",     "channel-over-peak"};
    return codes.count(code) != 0;
}

/// What is proposed for the inputs that a finding names, and each supply of the car for all of
/// them.
void addFeeds(const kit::Assembly &car, const Finding &finding, std::vector<WayCandidates> &all)
{
    std::vector<std::string> inputs;
    for (const auto &[kind, name] : finding.places)
        if (kind == Spot::Kind::Terminal && car.terminal(name) != nullptr)
            inputs.push_back(name);
        else if (const auto *link = car.find(name);
                 kind == Spot::Kind::Part && link && link->part->kind == Kind::Link)
            inputs.push_back(name + "." + link->part->terminals.front().name);
    std::sort(inputs.begin(), inputs.end());
    inputs.erase(std::unique(inputs.begin(), inputs.end()), inputs.end());
    WayCandidates to;
    Fix proposed; // each input by its window
    for (const auto &input : inputs) {
        const auto name = kit::splitTerminal(input);
        for (const auto &feed : power::proposedFeeds(car, *car->instance(name.instance)))
            if (feed.to == name.terminal)
                proposed.feeds.push_back({input, feed.from});
    }
    if (inputs.size() > 1 && proposed.feeds.size() == inputs.size())
        to.fixes.push_back(std::move(proposed));
    if (!inputs.empty())
        for (const auto &supply : power::supplies(car)) {
            Fix fix;
            for (const auto &input : inputs)
                fix.feeds.push_back({input, supply});
            to.fixes.push_back(std::move(fix));
            if (inputs.size() != 1)
                continue;
            // A board may be fed past its regulator, too.
            const auto name = kit::splitTerminal(inputs.front());
            const auto *own = power::ownSupply(*car.find(name.instance)->part);
            if (own == nullptr || own->name == name.terminal)
                continue;
            Fix past;
            past.feeds.push_back({name.instance + "." + own->name, supply});
            to.fixes.push_back(std::move(past));
        }
    all.push_back(std::move(to));
}

/// The motors that a finding names on the channels of the drivers, a side on one.
void addChannels(const kit::Assembly &car, const Finding &finding, std::vector<WayCandidates> &all)
{
    const auto channels = power::channels(car);
    WayCandidates to;
    for (const auto &left : channels)
        for (const auto &right : channels) {
            Fix fix;
            for (const auto &[kind, name] : finding.places)
                if (const auto *motor = car.find(name);
                    motor && motor->part->kind == Kind::Motor &&
                    std::none_of(fix.feeds.begin(), fix.feeds.end(),
                                 [&, at = name](const Fix::Feed &f) { return f.input == at; }))
                    fix.feeds.push_back(
                        {name, motor->instance->side == kit::Side::Right ? right : left});
            if (left != right && !fix.feeds.empty())
                to.fixes.push_back(std::move(fix));
        }
    all.push_back(std::move(to));
}

} // namespace

std::vector<WayCandidates> notedWays(const kit::Assembly &car, const Finding &finding)
{
    const auto &code = finding.code;
    std::vector<WayCandidates> all;
    if (code == "led-resistor" || code == "light-too-bright" || code == "pin-over-current")
        addResistors(car, finding, all);
    if (isAboutVolts(code))
        addCells(car, all);
    if (code == "pack-mixed")
        addOneKind(car, finding, all);
    if (code == "feed-missing" || code == "feed-broken" || code == "two-sources-one-net")
        if (car->wires.empty()) {
            addFeeds(car, finding, all);
            addChannels(car, finding, all);
        }
    if (code == "feed-not-as-wired")
        addFeeds(car, finding, all);
    return all;
}

} // namespace badger::edit
