// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/wireup/said.h"

#include "core/edit/kit_edits.h"
#include "core/nets/nets.h"
#include "core/power/feeds.h"
#include "core/power/laws.h"
#include "core/units/quantity.h"
#include "core/wireup/direct.h"

#include <algorithm>

namespace badger::wireup
{

using parts::Kind;
using parts::Role;

namespace
{

class Sayer
{
public:
    Sayer(kit::Car &car, const parts::Catalogue &catalogue, Proposal &proposal)
        : m_car(car), m_catalogue(catalogue), m_proposal(proposal)
    {
        for (const auto &w : car.wires) {
            m_wired.insert(w.from);
            m_wired.insert(w.to);
        }
    }

    void say()
    {
        terminals();
        links();
        for (auto &i : m_car.parts)
            asWired(i);
        for (size_t i = 0; i < m_car.parts.size(); ++i)
            feeds(i);
        channels();
        lights();
        withoutBoard();
    }

private:
    kit::Assembly assembly() const { return {m_car, m_catalogue}; }
    void impossible(Say why, std::vector<pins::WayOut> frees = {})
    {
        if (!m_proposal.impossible)
            m_proposal.impossible = {std::move(why), std::move(frees)};
    }

    /// What has to be wired and has no terminal in the catalogue; and a car without any part.
    void terminals()
    {
        const auto car = assembly();
        if (car.fitted().empty())
            impossible(badger::say("no part is on this car yet"),
                       {{badger::say("a starting kit, or parts of the catalogue"),
                         badger::say("nothing but the choice")}});
        for (const auto &f : car.fitted()) {
            const auto kind = f.part->kind;
            const bool plain = kind == Kind::Wheel || kind == Kind::Support || kind == Kind::Deck ||
                               kind == Kind::Fastener || kind == Kind::Jumper;
            if (!plain && f.part->terminals.empty())
                impossible(badger::say("the catalogue names no terminals of {}, so that no wire "
                                       "can end there",
                                       f.part->name),
                           {{badger::say("another part in its place, or its terminals in the own "
                                         "part"),
                             badger::say("its maker's sheet names them")}});
        }
    }

    bool isFed(const kit::Instance &fitted, const std::string &terminal) const
    {
        return m_wired.count(fitted.id + "." + terminal) != 0 ||
               std::any_of(fitted.feeds.begin(), fitted.feeds.end(),
                           [&](const kit::Feed &f) { return f.to == terminal; });
    }

    /// Feeds that lead from a terminal, with whose they are.
    std::vector<kit::Feed *> feedsFrom(const std::string &terminal)
    {
        std::vector<kit::Feed *> all;
        for (auto &i : m_car.parts)
            for (auto &f : i.feeds)
                if (f.from == terminal)
                    all.push_back(&f);
        return all;
    }

    /// A link that feeds nothing goes into the lead of its source; where a wire is there already
    /// the lead would have to be opened, and it stays as it is.
    void links()
    {
        for (const char *sort : {"fuse", "switch"}) {
            std::vector<std::string> ids;
            const auto car = assembly();
            for (const auto &f : car.fitted())
                if (f.part->kind == Kind::Link && f.part->shape == sort)
                    ids.push_back(f.instance->id);
            for (const auto &id : ids)
                link(id, std::string_view(sort) == "fuse");
        }
    }
    void link(const std::string &id, bool first)
    {
        auto &fitted = *std::find_if(m_car.parts.begin(), m_car.parts.end(),
                                     [&](const kit::Instance &i) { return i.id == id; });
        const auto &t = m_catalogue.find(fitted.partId)->terminals;
        if (t.size() != 2)
            return;
        const auto in = id + "." + t[0].name;
        const auto out = id + "." + t[1].name;
        if (!feedsFrom(out).empty() || !feedsFrom(in).empty() || m_wired.count(in) != 0 ||
            m_wired.count(out) != 0)
            return;
        std::string at = fitted.feeds.empty() ? firstPlus() : fitted.feeds.front().from;
        fitted.feeds.clear();
        while (!first) { // behind the links that are there
            std::string next;
            const auto car = assembly();
            for (const auto &f : car.fitted())
                if (f.part->kind == Kind::Link && f.part->terminals.size() == 2)
                    for (const auto &feed : f.instance->feeds)
                        if (const auto far = f.instance->id + "." + f.part->terminals[1].name;
                            feed.from == at && (m_placed.count(far) || !feedsFrom(far).empty()))
                            next = far;
            if (next.empty())
                break;
            at = next;
        }
        if (at.empty() || m_wired.count(at) != 0)
            return;
        for (auto *feed : feedsFrom(at))
            feed->from = out;
        fitted.feeds = {{t[0].name, at, {}}};
        m_placed.insert(out);
        m_proposal.noted.push_back(
            badger::say("{} goes into the lead behind {}", kit::labelOf(fitted), at));
    }
    std::string firstPlus() const
    {
        const auto car = assembly();
        for (const auto &f : car.fitted())
            for (const auto &t : f.part->terminals)
                if (t.role == Role::Plus)
                    return f.instance->id + "." + t.name;
        return {};
    }

    /// Every terminal that the wires join to this one.
    std::vector<std::string> wiredTo(const std::string &terminal) const
    {
        std::vector<std::string> all = {terminal};
        for (size_t i = 0; i < all.size(); ++i)
            for (const auto &w : m_car.wires)
                for (const auto &[a, b] : {std::pair(w.from, w.to), std::pair(w.to, w.from)})
                    if (a == all[i] && std::find(all.begin(), all.end(), b) == all.end())
                        all.push_back(b);
        return all;
    }
    /// What gives on the conductor of an input, other than what is said to feed it, where its volts
    /// lie in the input's window and it is not merely before the fuse or switch that is said.
    std::string fedByWire(const kit::Instance &fitted, const parts::Terminal &input,
                          const std::string &said) const
    {
        const auto car = assembly();
        std::set<std::string> before = {said}; // what the stated feed comes from
        for (size_t i = 0; i < m_car.parts.size(); ++i)
            for (const auto &f : car.fitted())
                for (const auto &feed : f.instance->feeds) {
                    const bool link = f.part->kind == Kind::Link && f.part->terminals.size() == 2;
                    const auto gives = link ? f.part->terminals[1].name : feed.to;
                    if (before.count(f.instance->id + "." + gives) != 0)
                        before.insert(feed.from);
                }
        for (const auto &name : wiredTo(fitted.id + "." + input.name)) {
            const auto *t = car.terminal(name);
            const auto *f = car.find(kit::splitTerminal(name).instance);
            if (t == nullptr)
                continue;
            if (before.count(name) != 0)
                return {};
            const auto fits = [&](std::optional<double> volts_V) {
                return volts_V && *volts_V >= input.window->low_V &&
                       *volts_V <= input.window->high_V;
            };
            if (t->role == Role::SupplyOut && f->instance->id != fitted.id && fits(t->source_V))
                return name;
            if (t->role == Role::Plus &&
                std::all_of(kit::charges.begin(), kit::charges.end(), [&](kit::Charge charge) {
                    return fits(kit::sourceVolts_V(*f->instance, m_catalogue, charge));
                }))
                return name;
        }
        return {};
    }

    /// An input that is wired to another supply than the kit says, and well, is fed by that.
    void asWired(kit::Instance &fitted)
    {
        const auto *part = m_catalogue.find(fitted.partId);
        for (auto &feed : fitted.feeds) {
            const auto *t = part ? part->terminal(feed.to) : nullptr;
            const auto terminal = fitted.id + "." + feed.to;
            if (t == nullptr || t->role != Role::SupplyIn || !t->window ||
                m_wired.count(terminal) == 0)
                continue;
            if (const auto by = fedByWire(fitted, *t, feed.from); !by.empty()) {
                feed.from = by;
                m_proposal.noted.push_back(
                    badger::say("{} is fed from {}, as it is wired", terminal, by));
            }
        }
    }

    void feeds(size_t index)
    {
        const auto car = assembly();
        const auto &fitted = m_car.parts[index];
        const auto *part = car.part(fitted);
        if (part == nullptr || part->kind == Kind::Link)
            return;
        // A board that is fed at its own rail needs nothing at the input before it.
        const bool byRail = std::any_of(
            part->terminals.begin(), part->terminals.end(), [&](const parts::Terminal &t) {
                return t.role == Role::SupplyOut && t.window && isFed(fitted, t.name);
            });
        const auto broken = power::brokenFeeds(car, fitted);
        const auto proposed = power::proposedFeeds(car, fitted);
        auto more = fitted.feeds;
        for (const auto &t : part->terminals) {
            if (t.role != Role::SupplyIn || byRail)
                continue;
            const bool isBroken = std::any_of(broken.begin(), broken.end(),
                                              [&](const kit::Feed &f) { return f.to == t.name; });
            if (isFed(fitted, t.name) && !isBroken)
                continue;
            const auto feed = std::find_if(proposed.begin(), proposed.end(),
                                           [&](const kit::Feed &f) { return f.to == t.name; });
            if (feed == proposed.end()) {
                nothingFeeds(fitted, t);
                continue;
            }
            std::erase_if(more, [&](const kit::Feed &f) { return f.to == t.name; });
            more.push_back(*feed);
            m_proposal.noted.push_back(
                badger::say("{} is fed from {}", fitted.id + "." + t.name, feed->from));
        }
        m_car.parts[index].feeds = std::move(more);
    }
    void nothingFeeds(const kit::Instance &fitted, const parts::Terminal &t)
    {
        const auto volts = [](double v) { return units::quantity(v, units::Unit::Volt, 1); };
        const auto name = fitted.id + "." + t.name;
        impossible(t.window ? badger::say("nothing on this car feeds {}: it takes {} to {}, and no "
                                          "supply gives that",
                                          name, volts(t.window->low_V), volts(t.window->high_V))
                            : badger::say("nothing on this car feeds {}", name),
                   {{badger::say("a source or a regulator whose volts lie in that range"),
                     badger::say("one more part")}});
    }

    void channels()
    {
        for (auto &i : m_car.parts) {
            const auto *part = m_catalogue.find(i.partId);
            if (part == nullptr || part->kind != Kind::Motor)
                continue;
            if (i.drivenBy.empty() && (m_wired.count(i.id + ".A") || m_wired.count(i.id + ".B")))
                continue; // the wires say it
            if (i.drivenBy.empty()) {
                i.drivenBy = edit::freeChannel(assembly(), i.side);
                if (!i.drivenBy.empty())
                    m_proposal.noted.push_back(
                        badger::say("{} hangs on {}", kit::labelOf(i), i.drivenBy));
            }
            const auto all = power::channels(assembly());
            if (std::find(all.begin(), all.end(), i.drivenBy) == all.end())
                impossible(badger::say("no channel of a driver is there for {}", kit::labelOf(i)),
                           {{badger::say("a driver with a channel for each side"),
                             badger::say("one more part")}});
        }
    }

    void lights()
    {
        const auto car = assembly();
        const auto *board = car.first(Kind::Board);
        const auto *logic = board ? car.part(*board)->figure("logic_V") : nullptr;
        for (auto &i : m_car.parts) {
            const auto *part = m_catalogue.find(i.partId);
            const auto *forward = part ? part->figure("forward_V") : nullptr;
            const auto *usual = part ? part->figure("running_A") : nullptr;
            if (part == nullptr || part->kind != Kind::Led || i.resistor_ohm || !logic ||
                !forward || !usual)
                continue;
            // Three quarters of what is advised leave room for a strong rail: a choice of ours.
            constexpr double room = 0.75;
            const auto *advised = car.part(*board)->figure("pin_advised_A");
            const double flows_A =
                advised ? std::min(usual->typical, room * advised->typical) : usual->typical;
            const auto answer = power::ledResistor(logic->typical, forward->typical, flows_A);
            if (!answer)
                continue;
            i.resistor_ohm = answer->standard_ohm;
            m_proposal.noted.push_back(badger::say(
                "{} in series with {}", units::quantity(answer->standard_ohm, units::Unit::Ohm, 0),
                kit::labelOf(i)));
        }
    }

    void withoutBoard()
    {
        const auto car = assembly();
        if (car.first(Kind::Board) != nullptr)
            return;
        const bool drives =
            std::any_of(car.fitted().begin(), car.fitted().end(), [](const kit::Fitted &f) {
                return f.part->kind == Kind::Motor || f.part->kind == Kind::DriveServo;
            });
        if (const auto why = whyNotDirect(car); drives && !why.empty()) {
            impossible(why, {{badger::say("a board that runs a program"),
                              badger::say("one more part, and a program")},
                             {badger::say("a digital module on each side, and a driver"),
                              badger::say("the car follows light and dark, and nothing else")}});
            return;
        }
        for (auto &i : m_car.parts)
            for (const auto &t : m_catalogue.find(i.partId) ? m_catalogue.find(i.partId)->terminals
                                                            : std::vector<parts::Terminal>{})
                if (t.role == Role::Enable && t.jumper && !nets::isJumpered(i, t.name) &&
                    m_wired.count(i.id + "." + t.name) == 0) {
                    i.jumpers.push_back(t.name);
                    m_proposal.jumpers.push_back(i.id + "." + t.name);
                }
    }

    kit::Car &m_car;
    const parts::Catalogue &m_catalogue;
    Proposal &m_proposal;
    std::set<std::string> m_wired;
    std::set<std::string> m_placed; ///< far ends of links that were put into a lead here
};

} // namespace

void sayTheRest(kit::Car &car, const parts::Catalogue &catalogue, Proposal &proposal)
{
    Sayer(car, catalogue, proposal).say();
}

} // namespace badger::wireup
