// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/wireup/conductors.h"

#include "core/nets/drive_map.h"
#include "core/power/feeds.h"
#include "core/wireup/direct.h"

#include <algorithm>
#include <map>

namespace badger::wireup
{

using parts::Kind;
using parts::Role;

namespace
{

std::string named(const kit::Fitted &f, const parts::Terminal &t)
{
    return f.instance->id + "." + t.name;
}

Say labelAt(const kit::Assembly &car, const std::string &terminal)
{
    const auto *fitted = car->instance(kit::splitTerminal(terminal).instance);
    return fitted ? kit::labelOf(*fitted) : Say(terminal);
}

/// Which terminals are to be one, gathered pair by pair.
class Groups
{
public:
    /// `from` is what gives.
    void join(const std::string &from, const End &to)
    {
        const auto a = indexOf({from, kit::splitTerminal(from).instance, {}, false});
        const auto b = indexOf(to);
        m_ends[b] = to;
        m_fed.at(b) = true;
        m_root[find(b)] = find(a);
    }

    /// In the order in which their first ends were named; what is fed by nothing in it comes first.
    std::vector<Conductor> all(Conductor::Kind kind)
    {
        std::map<size_t, size_t> at;
        std::vector<Conductor> found;
        for (size_t i = 0; i < m_ends.size(); ++i) {
            const auto [it, isNew] = at.emplace(find(i), found.size());
            if (isNew)
                found.push_back({kind, {}});
            auto &ends = found[it->second].ends;
            ends.insert(m_fed[i] ? ends.end() : ends.begin(), m_ends[i]);
        }
        return found;
    }

private:
    size_t indexOf(const End &end)
    {
        const auto [it, isNew] = m_index.emplace(end.terminal, m_ends.size());
        if (isNew) {
            m_ends.push_back(end);
            m_fed.push_back(false);
            m_root.push_back(it->second);
        }
        return it->second;
    }
    size_t find(size_t i) const
    {
        while (m_root[i] != i)
            i = m_root[i];
        return i;
    }

    std::map<std::string, size_t> m_index;
    std::vector<End> m_ends;
    std::vector<bool> m_fed;
    std::vector<size_t> m_root;
};

bool isMotorSupply(const kit::Assembly &car, const std::string &terminal)
{
    const auto *t = car.terminal(terminal);
    const auto *f = car.find(kit::splitTerminal(terminal).instance);
    return t && ((t->role == Role::SupplyIn && t->motors) || f->part->kind == Kind::Link ||
                 f->part->kind == Kind::DriveServo);
}

std::vector<Conductor> supplies(const kit::Assembly &car)
{
    Groups groups;
    for (const auto &f : car.fitted()) {
        const auto broken = power::brokenFeeds(car, *f.instance);
        for (const auto &feed : f.instance->feeds) {
            const auto *to = f.part->terminal(feed.to);
            if (to == nullptr || to->role == Role::Signal ||
                std::find(broken.begin(), broken.end(), feed) != broken.end())
                continue;
            const auto terminal = named(f, *to);
            groups.join(feed.from,
                        {terminal, f.instance->id,
                         say("{} feeds {}", labelAt(car, feed.from), kit::labelOf(*f.instance)),
                         isMotorSupply(car, terminal)});
        }
    }
    return groups.all(Conductor::Kind::Supply);
}

/// Every ground and minus that is no other source's rung.
std::vector<Conductor> ground(const kit::Assembly &car)
{
    const nets::Nets nets(car);
    const auto *reference = nets.reference();
    Conductor all{Conductor::Kind::Ground, {}};
    for (const auto &f : car.fitted()) {
        bool first = true;
        for (const auto &t : f.part->terminals) {
            const auto &m = *nets.member(named(f, t));
            const bool is =
                t.role == Role::Ground || (t.role == Role::Minus && nets.standsOn(m) == nullptr);
            // A lamp may hang on a pin with both ends: it is switched there.
            const bool elsewhere = (f.part->kind == Kind::Led || f.part->kind == Kind::Buzzer) &&
                                   m.wires > 0 && nets.has(m.net, Role::Pin);
            // The grounds of a part are one piece of metal.
            if (!is || elsewhere || !first)
                continue;
            first = false;
            const bool strong = f.part->kind == Kind::DriveServo ||
                                std::any_of(f.part->terminals.begin(), f.part->terminals.end(),
                                            [](const auto &x) { return x.motors; });
            const End end{m.name, f.instance->id, say("levels are counted from one common ground"),
                          strong};
            if (reference != nullptr && m.name == reference->name)
                all.ends.insert(all.ends.begin(), end);
            else
                all.ends.push_back(end);
        }
    }
    if (all.ends.size() < 2)
        return {};
    return {all};
}

std::vector<Conductor> motors(const kit::Assembly &car)
{
    std::vector<Conductor> found;
    for (const auto &lead : leadsOf(car)) {
        auto it = std::find_if(found.begin(), found.end(), [&](const Conductor &c) {
            return c.ends.front().terminal == lead.output;
        });
        if (it == found.end()) {
            found.push_back({Conductor::Kind::Motor, {{lead.output, lead.motor, {}, true}}});
            it = std::prev(found.end());
        }
        const auto &motor = *car->instance(lead.motor);
        it->ends.push_back({lead.lead, lead.motor,
                            say("so {} turns its wheel forward", kit::labelOf(motor)), true});
    }
    return found;
}

/// Why this pin.
Say whyPin(const kit::Assembly &car, const std::string &terminal, const parts::Terminal &pin)
{
    const auto *t = car.terminal(terminal);
    const auto *f = car.find(kit::splitTerminal(terminal).instance);
    if (t->role == Role::AnalogueOut)
        return say("{} can read its volts", pin.name);
    const bool speed = t->role == Role::Enable || (t->role == Role::Direction && t->pwm);
    if (speed && pin.pwm)
        return say("{} has PWM for its speed", pin.name);
    if (speed)
        return say("the program pulses {} by the clock", pin.name);
    if (f->part->kind == Kind::Servo || f->part->kind == Kind::DriveServo)
        return say("its pulses need no PWM pin");
    return say("{} is free, and nothing else needs it more", pin.name);
}

/// The divider that is said to follow this output; null where none is.
const kit::Fitted *dividerAfter(const kit::Assembly &car, const std::string &output)
{
    for (const auto &f : car.fitted())
        if (f.part->kind == Kind::Divider)
            for (const auto &feed : f.instance->feeds)
                if (feed.from == output)
                    return &f;
    return nullptr;
}

std::vector<Conductor> signals(const kit::Assembly &car, const pins::PinPlan &plan)
{
    std::vector<Conductor> found;
    const auto *board = car.first(Kind::Board);
    if (board == nullptr)
        return direct(car);
    const auto *part = car.part(*board);
    for (const auto &choice : plan.choices) {
        const auto pin = board->id + "." + choice.to;
        Conductor atPin{Conductor::Kind::Signal, {{pin, board->id, {}, false}}, choice.terminal};
        std::vector<std::string> terminals = {choice.terminal};
        terminals.insert(terminals.end(), choice.sharing.begin(), choice.sharing.end());
        for (auto terminal : terminals) {
            const auto module = kit::splitTerminal(terminal).instance;
            const auto why = whyPin(car, terminal, *part->terminal(choice.to));
            if (const auto *divider = dividerAfter(car, terminal)) {
                const auto in = divider->instance->id + ".IN";
                found.push_back({Conductor::Kind::Signal,
                                 {{terminal, module, {}, false},
                                  {in, module, say("its volts are too many for a pin"), false}},
                                 terminal});
                terminal = divider->instance->id + ".OUT";
            }
            atPin.ends.push_back({terminal, module, why, false});
        }
        found.push_back(std::move(atPin));
    }
    return found;
}

} // namespace

namespace
{

/// The outputs of a motor's channel, the first first; fewer than two where it has none.
std::vector<std::string> outputsOf(const kit::Assembly &car, const kit::Instance &motor)
{
    std::vector<std::string> outputs;
    const auto channel = kit::splitTerminal(motor.drivenBy);
    if (const auto *driver = car.find(channel.instance))
        for (const auto &t : driver->part->terminals)
            if (t.role == Role::MotorOut && t.channel == channel.terminal)
                outputs.push_back(named(*driver, t));
    return outputs;
}

} // namespace

std::vector<Lead> leadsOf(const kit::Assembly &car)
{
    const nets::Nets nets(car);
    // How the wired motors of each side stand: A on the first output, or turned.
    std::map<kit::Side, int> turned;
    for (const auto &f : car.fitted()) {
        const auto outputs = outputsOf(car, *f.instance);
        if (f.part->kind != Kind::Motor || outputs.size() != 2)
            continue;
        for (const auto &[lead, straight] : {std::pair("A", 0), std::pair("B", 1)}) {
            const auto name = f.instance->id + "." + lead;
            const auto on = [&](int output) {
                return nets.wired(name) &&
                       nets.of(name) == nets.of(outputs[static_cast<size_t>(output)]);
            };
            turned[f.instance->side] += on(1 - straight) - on(straight);
        }
    }
    std::vector<Lead> all;
    for (const auto &f : car.fitted()) {
        auto outputs = outputsOf(car, *f.instance);
        if (f.part->kind != Kind::Motor || outputs.size() != 2)
            continue;
        const int votes = turned[f.instance->side];
        if (votes != 0 ? votes > 0 : f.instance->side == kit::Side::Right)
            std::swap(outputs[0], outputs[1]);
        all.push_back({f.instance->id, f.instance->id + ".A", outputs[0]});
        all.push_back({f.instance->id, f.instance->id + ".B", outputs[1]});
    }
    return all;
}

std::vector<Conductor> conductors(const kit::Assembly &car, const pins::PinPlan &plan,
                                  const std::vector<Conductor> &besides)
{
    std::vector<Conductor> all;
    std::map<std::string, size_t> of; // conductor of a terminal
    for (auto more : {supplies(car), ground(car), motors(car), signals(car, plan), besides})
        for (const auto &c : more) {
            // What is tied to a supply or to ground is part of that conductor.
            const auto known = of.find(c.ends.front().terminal);
            const auto at = known == of.end() ? all.size() : known->second;
            if (known == of.end())
                all.push_back({c.kind, {}, c.line.empty() ? c.ends.front().terminal : c.line});
            for (const auto &e : c.ends)
                if (of.emplace(e.terminal, at).second)
                    all[at].ends.push_back(e);
        }
    return all;
}

} // namespace badger::wireup
