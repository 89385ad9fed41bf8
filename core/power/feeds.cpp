// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/power/feeds.h"

#include "core/nets/nets.h"

#include <algorithm>
#include <deque>
#include <map>
#include <set>

namespace badger::power
{

using parts::Kind;
using parts::Role;

bool gives(const parts::Part &part, const parts::Terminal &t)
{
    if (t.role == Role::Plus || t.role == Role::SupplyOut)
        return true;
    return t.role == Role::Through && (part.kind == Kind::Link || part.kind == Kind::Rail);
}

bool takes(const parts::Part &part, const parts::Terminal &t)
{
    if (t.role == Role::SupplyIn || (t.role == Role::SupplyOut && t.window))
        return true;
    return t.role == Role::Through && (part.kind == Kind::Link || part.kind == Kind::Rail);
}

const parts::Terminal *ownSupply(const parts::Part &part)
{
    const parts::Terminal *best = nullptr;
    for (const auto &t : part.terminals) {
        if (t.role == Role::SupplyOut && t.window)
            return &t;
        if (t.role == Role::SupplyIn && (best == nullptr || (best->motors && !t.motors)))
            best = &t;
    }
    return best;
}

std::string nodeOf(const kit::Assembly &car, const std::string &terminal)
{
    const auto split = kit::splitTerminal(terminal);
    const auto *fitted = car->instance(split.instance);
    const auto *part = fitted ? car.part(*fitted) : nullptr;
    const auto *t = part ? part->terminal(split.terminal) : nullptr;
    if (t == nullptr)
        return {};
    return t->role == Role::Plus || part->kind == Kind::Link ? split.instance : terminal;
}

std::vector<kit::Feed> brokenFeeds(const kit::Assembly &car, const kit::Instance &fitted)
{
    std::vector<kit::Feed> broken;
    const auto *part = car.part(fitted);
    for (const auto &feed : fitted.feeds) {
        const auto *to = part ? part->terminal(feed.to) : nullptr;
        const auto split = kit::splitTerminal(feed.from);
        const auto *source = car->instance(split.instance);
        const auto *sourcePart = source ? car.part(*source) : nullptr;
        const auto *from = sourcePart ? sourcePart->terminal(split.terminal) : nullptr;
        const bool signal = to && to->role == Role::Signal; // a divider's input follows a signal
        if (to == nullptr || from == nullptr || source == &fitted ||
            (!signal && (!takes(*part, *to) || !gives(*sourcePart, *from))))
            broken.push_back(feed);
    }
    return broken;
}

namespace
{

/// Follows the wires from everything that gives a supply.
class WireFollower
{
public:
    WireFollower(const kit::Assembly &car) : m_car(car)
    {
        for (const auto &w : car->wires) {
            m_joined.emplace(w.from, w.to);
            m_joined.emplace(w.to, w.from);
        }
    }

    std::vector<FeedLine> follow()
    {
        for (const auto role : {Role::Plus, Role::SupplyOut})
            for (const auto &fitted : m_car->parts)
                if (const auto *part = m_car.part(fitted))
                    for (const auto &t : part->terminals)
                        if (t.role == role && m_joined.count(fitted.id + "." + t.name) &&
                            (role == Role::Plus || isFed(fitted, t)))
                            from(fitted.id + "." + t.name);
        return std::move(m_lines);
    }

private:
    /// An output whose own input hangs on nothing gives nothing: it is fed from outside.
    bool isFed(const kit::Instance &fitted, const parts::Terminal &output) const
    {
        return m_joined.count(fitted.id + "." + output.fedBy) > 0 ||
               std::any_of(fitted.feeds.begin(), fitted.feeds.end(),
                           [&](const kit::Feed &f) { return f.to == output.fedBy; });
    }

    void from(const std::string &start)
    {
        const auto startNode = nodeOf({m_car}, start);
        std::set<std::string> seen = {start};
        std::deque<std::pair<std::string, std::string>> open = {{start, startNode}};
        while (!open.empty()) {
            const auto [at, via] = open.front();
            open.pop_front();
            const auto [begin, end] = m_joined.equal_range(at);
            for (auto it = begin; it != end; ++it)
                if (seen.insert(it->second).second)
                    reach(it->second, via, seen, open);
        }
    }

    void reach(const std::string &terminal, std::string via, std::set<std::string> &seen,
               std::deque<std::pair<std::string, std::string>> &open)
    {
        const auto split = kit::splitTerminal(terminal);
        const auto *fitted = m_car->instance(split.instance);
        const auto *part = fitted ? m_car.part(*fitted) : nullptr;
        const auto *t = part ? part->terminal(split.terminal) : nullptr;
        if (t == nullptr)
            return;
        if (part->kind == Kind::Link && part->figure("drop_V") && t == &part->terminals.back()) {
            open.emplace_back(terminal, via); // a diode lets nothing in at its far end
            return;
        }
        // Two outputs that are fed themselves stand side by side: neither feeds the other.
        if (takes(*part, *t) && !(t->role == Role::SupplyOut && isFed(*fitted, *t))) {
            m_lines.push_back({terminal, via, true});
            if (t->role == Role::Through)
                via = nodeOf({m_car}, terminal);
        }
        open.emplace_back(terminal, via);
        if (part->kind != Kind::Link)
            return;
        for (const auto &other : part->terminals)
            if (seen.insert(fitted->id + "." + other.name).second)
                open.emplace_back(fitted->id + "." + other.name, via);
    }

    const kit::Assembly &m_car;
    std::multimap<std::string, std::string> m_joined;
    std::vector<FeedLine> m_lines;
};

} // namespace

std::vector<FeedLine> feedsOf(const kit::Assembly &car)
{
    std::vector<FeedLine> lines;
    std::set<std::string> stated;
    for (const auto &fitted : car->parts) {
        const auto broken = brokenFeeds(car, fitted);
        const auto *part = car.part(fitted);
        for (const auto &feed : fitted.feeds) {
            if (std::find(broken.begin(), broken.end(), feed) != broken.end() ||
                part->terminal(feed.to)->role == Role::Signal)
                continue;
            const auto input = fitted.id + "." + feed.to;
            lines.push_back({input, nodeOf(car, feed.from), false});
            stated.insert(part->kind == Kind::Link ? fitted.id : input);
        }
    }
    for (auto &line : WireFollower(car).follow()) {
        const auto node = nodeOf(car, line.input);
        if (stated.count(line.input) == 0 && stated.count(node) == 0)
            lines.push_back(std::move(line));
    }
    return lines;
}

namespace
{

/// The source behind a rail, by the wires; the node itself where it is none.
std::string behindRails(const kit::Assembly &car, const std::vector<FeedLine> &wired,
                        std::string node)
{
    for (size_t step = 0; step < car->parts.size(); ++step) {
        const auto *fitted = car.find(kit::splitTerminal(node).instance);
        if (fitted == nullptr || fitted->part->kind != Kind::Rail)
            break;
        const auto line = std::find_if(wired.begin(), wired.end(), [&](const FeedLine &l) {
            return l.input == node && l.source != node;
        });
        if (line == wired.end())
            break;
        node = line->source;
    }
    return node;
}

} // namespace

std::vector<FeedDispute> disputedFeeds(const kit::Assembly &car)
{
    std::vector<FeedDispute> all;
    if (car->wires.empty())
        return all;
    const nets::Nets nets(car);
    const auto wired = WireFollower(car).follow();
    const auto behind = [&](const std::string &node) { return behindRails(car, wired, node); };
    for (const auto &fitted : car->parts) {
        const auto broken = brokenFeeds(car, fitted);
        for (const auto &feed : fitted.feeds) {
            const auto input = fitted.id + "." + feed.to;
            const auto *m = nets.member(input);
            if (m == nullptr || m->wires == 0 || m->terminal->role == Role::Signal ||
                std::find(broken.begin(), broken.end(), feed) != broken.end())
                continue;
            // Another conductor, or a link between that the kit does not name.
            const auto line = std::find_if(wired.begin(), wired.end(), [&](const FeedLine &l) {
                return l.input == input || (!l.input.empty() && nodeOf(car, l.input) == input);
            });
            const auto source = line == wired.end() ? std::string() : behind(line->source);
            const auto *link = car.find(source);
            const bool past = link != nullptr && link->part->kind == Kind::Link &&
                              source != behind(nodeOf(car, feed.from));
            if (nets.of(feed.from) == m->net && !past)
                continue;
            std::string from = past ? source + "." + link->part->terminals.back().name : "";
            for (const auto &supply : supplies(car))
                if (from.empty() && nets.of(supply) == m->net && supply != input)
                    from = supply;
            all.push_back({feed, input, from});
        }
    }
    return all;
}

std::vector<std::string> supplies(const kit::Assembly &car)
{
    std::vector<std::string> all;
    for (const auto &fitted : car->parts) {
        const auto *part = car.part(fitted);
        if (part == nullptr)
            continue;
        const parts::Terminal *last = nullptr;
        for (const auto &t : part->terminals) {
            if (!gives(*part, t) || (part->kind == Kind::Rail && t.name.starts_with("MINUS")) ||
                (part->kind == Kind::Rail && !t.name.starts_with("PLUS")))
                continue;
            if (part->kind == Kind::Link)
                last = &t; // it gives at its far end
            else
                all.push_back(fitted.id + "." + t.name);
        }
        if (last != nullptr)
            all.push_back(fitted.id + "." + last->name);
    }
    return all;
}

std::string channelOf(const kit::Assembly &car, const kit::Instance &motor)
{
    if (!motor.drivenBy.empty())
        return motor.drivenBy;
    if (car->wires.empty())
        return {};
    const nets::Nets nets(car);
    for (const auto *lead : {".A", ".B"})
        for (const auto &out : nets.membersWith(nets.of(motor.id + lead), Role::MotorOut)) {
            const auto split = kit::splitTerminal(out);
            return split.instance + "." + car.terminal(out)->channel;
        }
    return {};
}

std::vector<std::string> channels(const kit::Assembly &car)
{
    std::vector<std::string> all;
    for (const auto &fitted : car->parts) {
        const auto *part = car.part(fitted);
        if (part == nullptr || (part->kind != Kind::Driver && part->kind != Kind::Board))
            continue;
        std::set<std::string> seen;
        for (const auto &t : part->terminals)
            if (t.role == Role::MotorOut && seen.insert(t.channel).second)
                all.push_back(fitted.id + "." + t.channel);
    }
    return all;
}

namespace
{

/// Volts that a supply terminal gives at nominal charge, following links back to their source.
std::optional<double> nominal_V(const kit::Assembly &car, const std::string &terminal,
                                const std::vector<FeedLine> &lines, int depth = 0)
{
    constexpr int deepest = 16;
    const auto *t = car.terminal(terminal);
    const auto *fitted = car->instance(kit::splitTerminal(terminal).instance);
    if (t == nullptr || depth > deepest)
        return std::nullopt;
    if (t->role == Role::Plus)
        return kit::sourceVolts_V(*fitted, car.catalogue(), kit::Charge::Nominal);
    if (t->role == Role::SupplyOut)
        return t->source_V;
    for (const auto &line : lines)
        if (nodeOf(car, line.input) == nodeOf(car, terminal)) {
            // A node that is an instance gives at whichever of its terminals gives.
            for (const auto &s : supplies(car))
                if (nodeOf(car, s) == line.source)
                    return nominal_V(car, s, lines, depth + 1);
        }
    return std::nullopt;
}

} // namespace

std::vector<kit::Feed> proposedFeeds(const kit::Assembly &car, const kit::Instance &fitted)
{
    std::vector<kit::Feed> proposed;
    const auto *part = car.part(fitted);
    if (part == nullptr)
        return proposed;
    const auto lines = feedsOf(car);
    auto offers = supplies(car);
    std::erase_if(
        offers, [&](const std::string &s) { return kit::splitTerminal(s).instance == fitted.id; });
    const auto rank = [&](const std::string &s) {
        const auto *p = car.catalogue().find(car->instance(kit::splitTerminal(s).instance)->partId);
        return p->kind == Kind::Link ? 0 : p->kind == Kind::Rail ? 1 : 2;
    };
    std::stable_sort(offers.begin(), offers.end(),
                     [&](const auto &a, const auto &b) { return rank(a) < rank(b); });
    for (const auto &t : part->terminals) {
        if (t.role == Role::Through && part->kind == Kind::Link && proposed.empty()) {
            // A link stands right after the pack.
            for (const auto &s : offers)
                if (car.terminal(s)->role == Role::Plus) {
                    proposed.push_back({t.name, s, {}});
                    break;
                }
            continue;
        }
        if (t.role != Role::SupplyIn || !t.window)
            continue;
        // A servo moves in bursts that a linear rail does not take: cells before it.
        const bool servo = part->kind == Kind::Servo || part->kind == Kind::DriveServo;
        auto order = offers;
        if (servo)
            std::stable_partition(order.begin(), order.end(), [&](const std::string &s) {
                return car.terminal(s)->role != Role::SupplyOut &&
                       car.find(kit::splitTerminal(s).instance)->part->kind != Kind::Supply;
            });
        for (const auto &s : order) {
            const auto v = nominal_V(car, s, lines);
            const bool regulated = car.terminal(s)->role == Role::SupplyOut;
            if (!v || *v < t.window->low_V || *v > t.window->high_V || (t.motors && regulated))
                continue;
            proposed.push_back({t.name, s, {}});
            break;
        }
    }
    return proposed;
}

} // namespace badger::power
