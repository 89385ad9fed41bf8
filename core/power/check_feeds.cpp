// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/power/check_feeds.h"

#include "core/power/feeds.h"

#include <algorithm>
#include <vector>

namespace badger::power
{

using kit::Charge;
using parts::Kind;

namespace
{

/// The part of an entry: "board" of "board.VIN", "left" of "left".
std::string partOf(const std::string &unfed)
{
    return unfed.substr(0, unfed.find('.'));
}

const Unfed *entryOf(const Look &look, const std::string &instance)
{
    for (const auto &u : look.report.tree.unfed)
        if (partOf(u.terminal) == instance)
            return &u;
    return nullptr;
}

/// What is said to feed an entry's part and is itself on the list: a motor's driver, the source of
/// an input; null for one that nothing is said to feed.
const Unfed *causeOf(const Look &look, const Unfed &u)
{
    const auto id = partOf(u.terminal);
    const auto &fitted = *look.car->instance(id);
    if (id == u.terminal && look.car.part(fitted)->kind == Kind::Motor)
        return entryOf(look, kit::splitTerminal(channelOf(look.car, fitted)).instance);
    const auto terminal = u.terminal.substr(std::min(id.size() + 1, u.terminal.size()));
    for (const auto &feed : fitted.feeds)
        if (terminal.empty() || feed.to == terminal)
            return entryOf(look, kit::splitTerminal(feed.from).instance);
    return nullptr;
}

/// What the first of all causes is; of causes that lead round in a ring, the first on the list.
const Unfed &rootOf(const Look &look, const Unfed &u)
{
    std::vector<const Unfed *> path = {&u};
    while (const auto *cause = causeOf(look, *path.back())) {
        const auto again = std::find(path.begin(), path.end(), cause);
        if (again != path.end())
            return **std::min_element(again, path.end());
        path.push_back(cause);
    }
    return *path.back();
}

Say lineOf(const Look &look, const Unfed &u)
{
    const auto *motor = look.car->instance(u.terminal);
    const bool turns = motor && look.car.part(*motor)->kind == Kind::Motor;
    return turns ? say("So {} does not turn.", kit::labelOf(*motor))
                 : say("So {} gets none.", u.terminal);
}

/// Is this input said to be fed by what is not there?
bool isBroken(const Look &look, const Unfed &u)
{
    const auto *fitted = look.car->instance(partOf(u.terminal));
    const auto broken = brokenFeeds(look.car, *fitted);
    return std::any_of(broken.begin(), broken.end(),
                       [&](const kit::Feed &f) { return fitted->id + "." + f.to == u.terminal; });
}

} // namespace

std::vector<Finding> brokenFeed(const Look &look, const char *code)
{
    std::vector<Finding> found;
    for (const auto &fitted : look.car->parts)
        for (const auto &feed : brokenFeeds(look.car, fitted)) {
            const auto input = fitted.id + "." + feed.to;
            found.push_back(
                {code, Severity::Error, input,
                 say("{} is said to be fed from {}, which {}.", input, feed.from,
                     look.car.terminal(feed.from) != nullptr ? say("gives no supply")
                                                             : say("is not on this car")),
                 say("The tree leaves this branch out, so its amps are not counted."),
                 say("Look at what is meant to feed it."),
                 Spots{at::part(fitted.id), at::terminal(input)}});
            for (const auto &u : look.report.tree.unfed)
                if (u.terminal != input && rootOf(look, u).terminal == input)
                    found.back().then.push_back(lineOf(look, u));
        }
    return found;
}

std::vector<Finding> unfed(const Look &look, const char *code)
{
    const auto &nodes = look.report.tree.nodes;
    const bool hasSource = std::any_of(nodes.begin(), nodes.end(),
                                       [](const Node &n) { return n.kind == NodeKind::Source; });
    if (!hasSource || !look.car->wires.empty()) // no source: one sentence says it of all
        return {};
    struct Cause {
        Say why;
        std::vector<std::string> terminals;
        std::vector<Say> then;
    };
    std::vector<Cause> causes;
    const auto causeBy = [&](const Say &why) -> Cause & {
        const auto it = std::find_if(causes.begin(), causes.end(),
                                     [&](const Cause &c) { return c.why == why; });
        return it != causes.end() ? *it : causes.emplace_back(Cause{why, {}, {}});
    };
    for (const auto &u : look.report.tree.unfed) {
        const auto &root = rootOf(look, u);
        if (isBroken(look, root))
            continue; // said of the feed that leads nowhere
        auto &cause = causeBy(root.why);
        if (&root == &u)
            cause.terminals.push_back(u.terminal);
        else
            cause.then.push_back(lineOf(look, u));
    }
    std::vector<Finding> found;
    for (auto &[why, terminals, then] : causes) {
        const auto instance = partOf(terminals.front());
        const bool motor = look.car.part(*look.car->instance(instance))->kind == Kind::Motor;
        Spots places = at::part(instance);
        for (const auto &t : terminals)
            places.push_back(look.car.terminal(t) ? at::terminal(t) : at::part(t));
        found.push_back({.code = code,
                         .severity = Severity::Error,
                         .where = say("{}", joined(terminals, ", ")),
                         .what = say("{}: {}.", joined(terminals, ", "), why),
                         .why = say("The part stays dead, and what it would draw is not counted."),
                         .mend = motor ? say("Look which channel is meant to drive it, and what "
                                             "feeds the driver.")
                                       : say("Look at what is meant to feed it."),
                         .places = std::move(places),
                         .then = std::move(then)});
    }
    return found;
}

std::vector<Finding> feedNotAsWired(const Look &look, const char *code)
{
    std::vector<Finding> found;
    for (const auto &d : disputedFeeds(look.car)) {
        if (d.wired.empty()) // that nothing reaches it is said of the wires
            continue;
        found.push_back(
            {code, Severity::Advice, d.input,
             say("Kit says that {} is fed from {}; the wires feed it from {}.", d.input,
                 d.stated.from, d.wired),
             say("The power tree shows what was meant, with the volts and amps of the wires."),
             say("Look which of the two is right."),
             Spots{at::part(kit::splitTerminal(d.input).instance), at::terminal(d.input)}});
    }
    return found;
}

std::vector<Finding> twoSources(const Look &look, const char *code)
{
    std::vector<Finding> found;
    for (const auto &clash : look.report.tree.clashes) {
        // A regulator whose own input is too low gives nothing.
        const auto *t = look.car.terminal(clash.terminal);
        const int input = look.report.tree.indexOf(clash.second);
        if (t && input >= 0 && t->needs_V > 0.0 &&
            look.report.tree.at(input, {Charge::Fresh, Load::Idle, Case::Typical}).ceiling_V <
                t->needs_V)
            continue;
        found.push_back(
            {code, Severity::Error, clash.terminal,
             say("{} is fed by {} and by {}.", clash.terminal, clash.first, clash.second),
             say("One drives current backwards into the other and one of them heats up."),
             say("Look which of the two is meant to feed it."),
             Spots{at::node(clash.terminal), at::terminal(clash.terminal)}});
    }
    return found;
}

} // namespace badger::power
