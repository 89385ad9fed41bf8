// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/wiring/consequences.h"

#include <algorithm>
#include <optional>
#include <set>

namespace badger::wiring
{

namespace
{

using parts::Kind;
using parts::Role;

bool isOneOf(const std::string &code, std::initializer_list<const char *> codes)
{
    return std::find(codes.begin(), codes.end(), code) != codes.end();
}

class Folder
{
public:
    Folder(std::vector<Finding> findings, const nets::Nets &nets,
           const std::set<std::string> &starved, const std::set<int> &over)
        : m_all(std::move(findings)), m_nets(nets), m_starved(starved), m_over(over)
    {
        for (const auto &f : m_all)
            m_places.push_back(m_nets.member(f.target.substr(f.target.find(':') + 1)));
        m_drivers.resize(m_all.size());
    }

    std::vector<Finding> fold()
    {
        std::vector<size_t> rootOf(m_all.size());
        for (size_t i = 0; i < m_all.size(); ++i) {
            rootOf[i] = i;
            for (size_t k = 0; k < m_all.size() && rootOf[i] == i; ++k)
                if (k != i &&
                    (follows(m_all[i], m_all[k]) || (k < i && isTwin(m_all[i], m_all[k]))))
                    rootOf[i] = k;
        }
        for (auto &root : rootOf) // what follows from what follows
            for (size_t step = 0; step < m_all.size() && rootOf[root] != root; ++step)
                root = rootOf[root];
        for (size_t i = 0; i < m_all.size(); ++i) {
            if (rootOf[i] == i)
                continue;
            auto &root = m_all[rootOf[i]];
            root.then.push_back(m_all[i].what);
            root.then.insert(root.then.end(), m_all[i].then.begin(), m_all[i].then.end());
            root.severity = std::min(root.severity, m_all[i].severity);
        }
        size_t at = 0;
        std::erase_if(m_all, [&](const Finding &) {
            const bool follower = rootOf[at] != at;
            ++at;
            return follower;
        });
        return std::move(m_all);
    }

private:
    /// Of one of the list, while it is folded.
    size_t indexOf(const Finding &f) const { return static_cast<size_t>(&f - m_all.data()); }
    const nets::Member *placeOf(const Finding &f) const { return m_places[indexOf(f)]; }

    /// Every terminal on the line of a finding's place.
    std::vector<const nets::Member *> lineOf(const Finding &f) const
    {
        std::vector<const nets::Member *> all;
        const auto *m = placeOf(f);
        if (m == nullptr)
            return all;
        std::set<int> nets = {m->net};
        for (const int net : m_nets.line(m->net))
            nets.insert(net);
        for (const auto &other : m_nets.all())
            if (nets.count(other.net) != 0)
                all.push_back(&other);
        return all;
    }
    template <class Is> bool onLine(const Finding &f, Is is) const
    {
        const auto line = lineOf(f);
        return std::any_of(line.begin(), line.end(), [&](const nets::Member *m) { return is(*m); });
    }

    /// The places of both are on one line.
    bool meets(const Finding &f, const Finding &root) const
    {
        const auto *at = placeOf(root);
        return at != nullptr && onLine(f, [&](const nets::Member &m) { return &m == at; });
    }

    bool follows(const Finding &f, const Finding &root) const
    {
        const auto *at = placeOf(root);
        const auto *place = placeOf(f);
        if (at == nullptr)
            return false;
        // Two pins that are joined fight; two functions of one pin follow each other.
        const auto isTwoPins = [&](const nets::Member *pin) {
            return onLine(root, [&](const nets::Member &m) {
                return pin && &m != pin && m.fitted == pin->fitted && m.terminal->role == Role::Pin;
            });
        };
        if (f.code == "output-against-output" && root.code == "pin-two-functions")
            return meets(f, root) && !isTwoPins(at);
        if (f.code == "pin-two-functions" && root.code == "output-against-output")
            return meets(f, root) && isTwoPins(place);
        // What a light without its resistor takes from its pin or from its rail.
        if (root.code == "light-too-bright" && place != nullptr && m_over.count(place->net) == 0 &&
            isOneOf(f.code, {"pin-over-current", "rail-over-current", "supply-outside-window"}))
            return onLine(f, [&](const nets::Member &m) { return m.fitted == at->fitted; });
        if (f.code == "sensor-unheard" && root.code == "output-against-output")
            return meets(f, root);
        if (f.code == "signal-held" && root.code == "signal-over-volts")
            return onLine(root, [&](const nets::Member &m) { return &m == place; });
        if (f.code == "signal-held" && root.code == "plug-backwards")
            return place != nullptr && place->fitted == at->fitted;
        const auto isOfRoot = [&](const nets::Member &m) { return m.fitted == at->fitted; };
        if (f.code == "output-against-output" &&
            isOneOf(root.code, {"module-ungrounded", "light-too-bright", "trig-echo-crossed"}))
            return onLine(f, [&](const nets::Member &m) {
                return root.code == "trig-echo-crossed" ? m.terminal->role == Role::Echo
                                                        : isOfRoot(m);
            });
        return (place != nullptr && isOfSupply(f, root)) || isOfMotion(f, root);
    }

    /// It follows from a supply that is open, turned round or shorted.
    bool isOfSupply(const Finding &f, const Finding &root) const
    {
        const auto *at = placeOf(root);
        const auto *place = placeOf(f);
        // A regulator without ground passes what it gets.
        if (root.code == "module-ungrounded" && f.code == "plug-backwards")
            return place->fitted == at->fitted && at->part->kind == Kind::Regulator;
        if (root.code == "module-ungrounded" && f.code == "supply-outside-window")
            return onLine(f, [&](const nets::Member &m) {
                return m.fitted == at->fitted && m.terminal->role == Role::SupplyOut;
            });
        if (isOneOf(root.code, {"rail-over-current", "supply-to-ground"}) &&
            f.code == "module-unpowered")
            return place->fitted == at->fitted;
        // A sensor with too many volts pushes them into its pin.
        if (f.code == "output-against-output" && root.code == "supply-outside-window")
            return english(root.where).find(place->fitted->id + ".") != std::string::npos;
        if (f.code == "output-against-output" && root.code == "module-unpowered")
            return onLine(f, [&](const nets::Member &m) {
                return m.fitted == at->fitted && m_starved.count(m.fitted->id) != 0;
            });
        return isOneOf(f.code, {"sensor-unheard", "enable-floats"}) &&
               m_starved.count(place->fitted->id) != 0 &&
               isOneOf(root.code, {"module-unpowered", "plug-backwards", "pack-backwards",
                                   "diode-backwards", "grounds-not-joined", "supply-to-ground",
                                   "rail-over-current", "supply-outside-window"});
    }

    /// The same fault seen at its other end: two that share PWM channels crosswise, two motors
    /// whose leads are on each other's outputs.
    bool isTwin(const Finding &f, const Finding &other) const
    {
        if (f.code != other.code || placeOf(f) == nullptr || placeOf(other) == nullptr)
            return false;
        if (f.code == "pwm-channel-shared")
            return true;
        if (f.code != "motor-undriven")
            return false;
        const auto &here = driversAt(f);
        return here.size() == 1 && here == driversAt(other);
    }

    /// The drivers whose outputs the leads of a finding's motor are on.
    const std::set<const kit::Instance *> &driversAt(const Finding &f) const
    {
        auto &kept = m_drivers[indexOf(f)];
        if (kept)
            return *kept;
        kept.emplace();
        std::set<int> leads;
        for (const auto &m : m_nets.all())
            if (m.fitted == placeOf(f)->fitted && m.terminal->role == Role::Lead)
                leads.insert(m.net);
        for (const auto &m : m_nets.all())
            if (m.terminal->role == Role::MotorOut && leads.count(m.net) != 0)
                kept->insert(m.fitted);
        return *kept;
    }

    bool isOfMotion(const Finding &f, const Finding &root) const
    {
        const auto *at = placeOf(root);
        const auto *place = placeOf(f);
        if (f.code == "motor-undriven" && place != nullptr && root.code == "motor-on-logic-pin")
            return place->fitted == at->fitted;
        if (f.code == "motor-undriven" && place != nullptr && root.code == "motor-output-held")
            return onLine(root, [&](const nets::Member &m) {
                return m.fitted == place->fitted && m.terminal->role == Role::Lead;
            });
        if (f.code == "supply-outside-window" && place != nullptr &&
            root.code == "motor-on-logic-pin")
            return onLine(root, [&](const nets::Member &m) {
                return m.fitted == place->fitted && m.terminal->role == Role::Pin;
            });
        // A lead on a rail, a pin or ground lets the driver push into it.
        if (isOneOf(f.code, {"supply-outside-window", "signal-over-volts", "output-against-output",
                             "rail-over-current"}) &&
            root.code == "motor-undriven")
            return onLine(f, [&](const nets::Member &m) {
                return m.terminal->role == Role::Lead && m.fitted == at->fitted;
            });
        if (isOneOf(f.code, {"wheel-never-turns", "wheel-never-stops", "wheel-only-backward",
                             "cannot-steer", "only-spins"}))
            return root.severity == Severity::Error &&
                   isOneOf(root.code, {"pin-two-functions", "signal-held", "signal-unwired",
                                       "output-against-output", "enable-floats",
                                       "motor-output-held", "motor-undriven"}) &&
                   onLine(root, [](const nets::Member &m) {
                       const auto kind = m.part->kind;
                       const auto role = m.terminal->role;
                       return kind == Kind::DriveServo || role == Role::Direction ||
                              role == Role::Enable || role == Role::MotorOut || role == Role::Lead;
                   });
        return false;
    }

    std::vector<Finding> m_all;
    const nets::Nets &m_nets;
    const std::set<std::string> &m_starved;
    const std::set<int> &m_over;
    std::vector<const nets::Member *> m_places; ///< by finding
    mutable std::vector<std::optional<std::set<const kit::Instance *>>> m_drivers;
};

} // namespace

std::vector<Finding> withRoots(std::vector<Finding> findings, const nets::Nets &nets,
                               const std::set<std::string> &starved, const std::set<int> &over)
{
    return Folder(std::move(findings), nets, starved, over).fold();
}

} // namespace badger::wiring
