// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/circuit/stated.h"

#include <algorithm>
#include <set>

namespace badger::circuit
{

using parts::Kind;
using parts::Role;

namespace
{

class Completer
{
public:
    explicit Completer(const kit::Assembly &car) : m_in(car), m_car(car.car())
    {
        for (const auto &w : car->wires) {
            m_wired.insert(w.from);
            m_wired.insert(w.to);
        }
    }

    kit::Car complete()
    {
        for (const auto &f : m_in.fitted()) {
            for (const auto &feed : f.instance->feeds)
                if (const auto *t = f.part->terminal(feed.to); t && t->role != Role::Signal)
                    join(f.instance->id + "." + feed.to, feed.from);
            if (f.part->kind == Kind::Motor && !f.instance->drivenBy.empty())
                drive(*f.instance);
        }
        joinGrounds();
        return std::move(m_car);
    }

private:
    void join(const std::string &a, const std::string &b)
    {
        if (m_wired.count(a) == 0 && m_in.terminal(a) && m_in.terminal(b))
            m_car.wires.push_back({a, b, {}, {}});
    }

    void drive(const kit::Instance &motor)
    {
        const auto channel = kit::splitTerminal(motor.drivenBy);
        const auto *driver = m_in.find(channel.instance);
        const char *lead = firstLead(motor);
        for (const auto &t : driver ? driver->part->terminals : std::vector<parts::Terminal>{})
            if (t.role == Role::MotorOut && t.channel == channel.terminal) {
                join(motor.id + "." + lead, channel.instance + "." + t.name);
                lead = *lead == 'A' ? "B" : "A";
            }
    }

    /// The lead that goes to the first output of its channel, so that all go forward together: the
    /// right side is mirrored; where another motor of the side is wired, as that one is.
    const char *firstLead(const kit::Instance &motor) const
    {
        const auto channel = kit::splitTerminal(motor.drivenBy);
        const auto *driver = m_in.find(channel.instance);
        const bool right = motor.side == kit::Side::Right;
        for (const auto &f : m_in.fitted()) {
            if (driver == nullptr || f.part->kind != Kind::Motor || f.instance->side != motor.side)
                continue;
            for (const auto &t : driver->part->terminals) {
                if (t.role != Role::MotorOut)
                    continue;
                const auto output = channel.instance + "." + t.name;
                for (const auto &w : m_in->wires)
                    for (const auto *name : {"A", "B"}) {
                        const auto end = f.instance->id + "." + name;
                        if ((w.from == end && w.to == output) || (w.to == end && w.from == output))
                            return isFirst(*driver->part, t) == (*name == 'A') ? "A" : "B";
                    }
            }
        }
        return right ? "B" : "A";
    }
    static bool isFirst(const parts::Part &driver, const parts::Terminal &output)
    {
        for (const auto &t : driver.terminals)
            if (t.role == Role::MotorOut && t.channel == output.channel)
                return &t == &output;
        return false;
    }

    void joinGrounds()
    {
        std::string common;
        for (const auto &f : m_in.fitted()) {
            std::vector<std::string> grounds;
            for (const auto &t : f.part->terminals)
                if (t.role == Role::Minus || t.role == Role::Ground)
                    grounds.push_back(f.instance->id + "." + t.name);
            if (grounds.empty())
                continue;
            if (common.empty() && f.part->terminal("MINUS"))
                common = f.instance->id + ".MINUS";
            m_grounds.push_back(std::move(grounds));
        }
        if (common.empty() && !m_grounds.empty())
            common = m_grounds.front().front();
        for (const auto &grounds : m_grounds)
            if (std::none_of(grounds.begin(), grounds.end(),
                             [&](const std::string &g) { return m_wired.count(g) != 0; }) &&
                grounds.front() != common)
                join(grounds.front(), common);
    }

    const kit::Assembly &m_in;
    kit::Car m_car;
    std::set<std::string> m_wired;
    std::vector<std::vector<std::string>> m_grounds;
};

} // namespace

kit::Car withStatedWires(const kit::Assembly &car)
{
    return Completer(car).complete();
}

} // namespace badger::circuit
