// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/edit/swaps.h"

#include "core/circuit/strain.h"
#include "core/edit/kit_edits.h"
#include "core/judge/kit_judgement.h"
#include "core/nets/drive_map.h"
#include "core/wiring/check.h"

#include <algorithm>
#include <map>
#include <set>

namespace badger::edit
{

namespace
{

using parts::Kind;

/// Which parts are worth another try, by what is wrong.
const std::map<std::string, std::vector<Kind>> &worthATry()
{
    static const std::map<std::string, std::vector<Kind>> kinds = {
        {"channel-over-peak", {Kind::Driver, Kind::Motor}},
        {"channel-over-steady", {Kind::Driver, Kind::Motor}},
        {"bridge-hot", {Kind::Driver, Kind::Motor}},
        {"supply-below-drop", {Kind::Driver}},
        {"motor-too-weak", {Kind::Motor}},
        {"source-over-limit", {Kind::Cell, Kind::Link, Kind::Regulator, Kind::Motor}},
        {"pack-sags", {Kind::Cell, Kind::Motor}},
        {"logic-browns-out", {Kind::Cell, Kind::Motor}},
        {"regulator-over-volts", {Kind::Driver, Kind::Regulator}},
        {"regulator-hot", {Kind::Regulator}},
        {"link-over-limit", {Kind::Link}}};
    return kinds;
}

/// Parts of one kind that are alike, as they are exchanged: each by itself but for motors.
std::vector<std::vector<std::string>> placesOf(const kit::Assembly &car, Kind kind)
{
    std::map<std::string, std::vector<std::string>> motors;
    std::vector<std::vector<std::string>> places;
    for (const auto &f : car.fitted()) {
        if (f.part->kind != kind)
            continue;
        if (kind == Kind::Motor)
            motors[f.instance->partId].push_back(f.instance->id);
        else
            places.push_back({f.instance->id});
    }
    for (auto &[part, all] : motors)
        places.push_back(std::move(all));
    return places;
}

/// The place of a terminal among those of its role, channel and purpose; of an output that of the
/// input which drives it high.
struct Job {
    parts::Role role{};
    std::string channel;
    bool motors = false;
    int place = 0;
    bool operator==(const Job &) const = default;
};

Job jobOf(const parts::Part &part, const parts::Terminal &terminal)
{
    Job job{terminal.role, terminal.channel, terminal.motors, 0};
    for (const auto &t : part.terminals) {
        if (terminal.role == parts::Role::MotorOut ? t.output == terminal.name
                                                   : t.name == terminal.name)
            break;
        const auto counted =
            terminal.role == parts::Role::MotorOut ? parts::Role::Direction : terminal.role;
        if (t.role == counted && t.channel == terminal.channel && t.motors == terminal.motors)
            ++job.place;
    }
    // Any ground serves.
    if (terminal.role == parts::Role::Ground)
        job.place = 0;
    return job;
}

/// The terminal of another part that has the same name, or else the same job; empty: none has.
std::string sameJob(const parts::Part &from, const std::string &name, const parts::Part &to)
{
    const auto *old = from.terminal(name);
    if (old == nullptr)
        return name; // a channel, "A"
    if (const auto *t = to.terminal(name); t && t->role == old->role && t->channel == old->channel)
        return name;
    const auto job = jobOf(from, *old);
    for (const auto &t : to.terminals)
        if (jobOf(to, t) == job)
            return t.name;
    return {};
}

/// One part in another's place.
void exchange(kit::Car &car, const parts::Catalogue &catalogue, const std::string &instance,
              const std::string &partId)
{
    const auto fitted = std::find_if(car.parts.begin(), car.parts.end(),
                                     [&](const kit::Instance &p) { return p.id == instance; });
    const auto &from = *catalogue.find(fitted->partId);
    const auto &to = *catalogue.find(partId);
    // False: there is no such job, and what names the terminal comes off.
    const auto rename = [&](std::string &end) {
        const auto name = kit::splitTerminal(end);
        if (name.instance != instance)
            return true;
        const auto now = sameJob(from, name.terminal, to);
        end = instance + "." + now;
        return !now.empty();
    };
    std::erase_if(car.wires, [&](kit::Wire &w) { return !rename(w.from) || !rename(w.to); });
    // Two grounds of a chip become one of a module: one wire between two ends is enough.
    std::set<std::pair<std::string, std::string>> known;
    std::erase_if(car.wires, [&](const kit::Wire &w) {
        return !known.insert(std::minmax(w.from, w.to)).second;
    });
    std::map<std::string, std::string> pins;
    for (const auto &[terminal, pin] : car.programPins)
        if (auto end = terminal; rename(end))
            pins[end] = pin;
    car.programPins = std::move(pins);
    for (auto &p : car.parts) {
        std::erase_if(p.feeds, [&](kit::Feed &f) { return !rename(f.from); });
        if (p.id != instance)
            continue;
        std::erase_if(p.feeds, [&](kit::Feed &f) {
            f.to = sameJob(from, f.to, to);
            return f.to.empty();
        });
        std::erase_if(p.jumpers, [&](std::string &j) {
            j = sameJob(from, j, to);
            const auto *t = to.terminal(j);
            return t == nullptr || !t->jumper;
        });
    }
    fitted->partId = partId;
}

/// Of each channel all motors but the first.
std::vector<std::string> furtherMotors(const kit::Assembly &car)
{
    std::vector<std::string> further;
    std::set<std::string> driven;
    const nets::Nets nets(car);
    for (const auto &f : car.fitted()) {
        if (f.part->kind != Kind::Motor)
            continue;
        auto channel = f.instance->drivenBy;
        if (const auto drive = nets::motorDrive(nets, *f.instance))
            if (const auto *input = car.terminal(drive->forward))
                channel = kit::splitTerminal(drive->forward).instance + "." + input->channel;
        if (!channel.empty() && !driven.insert(channel).second)
            further.push_back(f.instance->id);
    }
    return further;
}

struct Verdict {
    std::vector<Finding> findings;
    bool ahead = false;
    /// How often each limit of the network is passed; another part's terminals have other names, so
    /// the places cannot be compared.
    std::map<circuit::Harm, int> limits;

    explicit Verdict(const kit::Assembly &car)
    {
        findings = judge::judgeKit(car, std::nullopt).findings.findings;
        if (car->wires.empty())
            return;
        const nets::Nets nets(car);
        for (const auto &strain : circuit::look(circuit::CarNetwork(nets)).strains)
            if (!strain.stalled)
                ++limits[strain.harm];
        auto judged = wiring::judged(nets);
        ahead = motion::rowFor(judged.motion, motion::Path::Ahead) != nullptr;
        for (auto &f : judged.findings.findings)
            findings.push_back(std::move(f));
    }
    auto count(const Finding &f) const
    {
        return std::count_if(findings.begin(), findings.end(), [&](const Finding &g) {
            return g.code == f.code && g.severity <= f.severity;
        });
    }
    bool has(const Finding &f) const
    {
        return std::any_of(findings.begin(), findings.end(), [&](const Finding &g) {
            return g.code == f.code && g.target == f.target && g.severity <= f.severity;
        });
    }
};

bool stands(const Verdict &before, const Verdict &after, const Finding &finding)
{
    if (after.has(finding) || after.count(finding) >= before.count(finding) ||
        (before.ahead && !after.ahead))
        return false;
    for (const auto &[harm, count] : after.limits)
        if (const auto was = before.limits.find(harm);
            was == before.limits.end() || was->second < count)
            return false;
    return std::all_of(after.findings.begin(), after.findings.end(), [&](const Finding &f) {
        return f.severity > finding.severity || before.has(f);
    });
}

} // namespace

kit::Car applied(const kit::Assembly &assembly, const Swap &swap)
{
    auto car = assembly.car();
    for (const auto &id : swap.instances)
        if (swap.part.empty())
            removePart(car, assembly.catalogue(), id);
        else
            exchange(car, assembly.catalogue(), id, swap.part);
    return car;
}

std::vector<Swap> swapsFor(const kit::Assembly &car, const Finding &finding)
{
    constexpr int most = 3;
    std::vector<Swap> found;
    const auto kinds = worthATry().find(finding.code);
    if (kinds == worthATry().end())
        return found;
    const Verdict before(car);
    if (finding.code.starts_with("channel-over"))
        if (Swap swap{furtherMotors(car), {}};
            !swap.instances.empty() &&
            stands(before, Verdict({applied(car, swap), car.catalogue()}), finding))
            found.push_back(std::move(swap));
    for (const auto kind : kinds->second) {
        int named = 0;
        for (const auto &places : placesOf(car, kind))
            for (const auto &part : car.catalogue().parts()) {
                const auto &old = *car.find(places.front())->part;
                if (named == most || part.kind != kind || part.id == old.id ||
                    (kind == Kind::Link && part.shape != old.shape) ||
                    car.catalogue().find(part.id) != &part)
                    continue;
                Swap swap{places, part.id};
                const auto after = applied(car, swap);
                if (!stands(before, Verdict({after, car.catalogue()}), finding))
                    continue;
                found.push_back(std::move(swap));
                ++named;
            }
    }
    return found;
}

Say words(const kit::Assembly &car, const std::vector<Swap> &swaps)
{
    std::vector<Say> ways;
    for (size_t i = 0; i < swaps.size();) {
        std::vector<Say> names;
        const auto &first = swaps[i];
        if (first.part.empty()) {
            std::vector<Say> labels;
            for (const auto &id : first.instances)
                labels.push_back(kit::labelOf(*car->instance(id)));
            ways.push_back(say("one motor a channel, without {}", joined(labels, " and ")));
            ++i;
            continue;
        }
        for (; i < swaps.size() && swaps[i].instances == first.instances; ++i)
            names.push_back(say("a {}", car.catalogue().find(swaps[i].part)->name));
        const auto *old = car.find(first.instances.front());
        ways.push_back(first.instances.size() > 1
                           ? say("for each {}: {}", old->part->name, joined(names, " or "))
                           : say("as {}: {}", kit::labelOf(*old->instance), joined(names, " or ")));
    }
    return say("Ways out, each tried on a copy: {}.", joined(ways, "; "));
}

std::vector<Finding> withSwaps(const kit::Assembly &car, std::vector<Finding> findings,
                               const std::function<bool()> &stop)
{
    for (auto &f : findings) {
        if (stop && stop())
            break;
        if (f.fix)
            continue;
        if (const auto swaps = swapsFor(car, f); !swaps.empty())
            f.mend = words(car, swaps);
    }
    return findings;
}

} // namespace badger::edit
