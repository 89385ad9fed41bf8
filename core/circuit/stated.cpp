// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/circuit/stated.h"

#include "core/nets/nets.h"

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
            if (f.part->kind == Kind::Led || f.part->kind == Kind::Buzzer)
                light(f);
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

    /// A light or a buzzer without a wire hangs on a pin that is free, the program's where it says
    /// one; a light without a resistor has the one that lets its usual current through.
    void light(const kit::Fitted &f)
    {
        const auto board = m_in.first(Kind::Board);
        const auto *boardPart = board ? m_in.part(*board) : nullptr;
        const auto *signal = terminalOf(*f.part, Role::Signal);
        if (boardPart == nullptr || signal == nullptr)
            return;
        const auto end = f.instance->id + "." + signal->name;
        const auto named = m_in->programPins.find(end);
        for (const auto &t : boardPart->terminals) {
            const auto pin = board->id + "." + t.name;
            const bool wanted = named == m_in->programPins.end() || named->second == t.name;
            if (t.role != Role::Pin || !wanted || m_wired.count(pin) != 0 ||
                m_wired.count(end) != 0)
                continue;
            join(end, pin);
            m_wired.insert({pin, end});
            lightResistor(f, *boardPart);
        }
    }

    void lightResistor(const kit::Fitted &f, const parts::Part &board)
    {
        const auto *logic = board.figure("logic_V");
        const auto *forward = f.part->figure("forward_V");
        const auto *usual = f.part->figure("running_A");
        auto &mine = m_car.parts[static_cast<size_t>(f.instance - m_in->parts.data())];
        if (mine.resistor_ohm || !logic || !forward || !usual || usual->typical <= 0.0)
            return;
        mine.resistor_ohm = std::max(0.0, logic->typical - forward->typical) / usual->typical;
    }

    static const parts::Terminal *terminalOf(const parts::Part &part, Role role)
    {
        const auto it = std::find_if(part.terminals.begin(), part.terminals.end(),
                                     [&](const parts::Terminal &t) { return t.role == role; });
        return it == part.terminals.end() ? nullptr : &*it;
    }

    /// All that has no ground yet is joined to what is ground already: the lowest minus, and where
    /// that has no wire yet, the grounds that wires join.
    void joinGrounds()
    {
        const nets::Nets nets(m_in);
        const auto *lowest = nets.reference();
        if (lowest == nullptr)
            return;
        for (const auto &f : m_in.fitted()) {
            const parts::Terminal *ground = nullptr;
            bool wired = false;
            for (const auto &t : f.part->terminals) {
                if (t.role != Role::Minus && t.role != Role::Ground)
                    continue;
                const bool joined = m_wired.count(f.instance->id + "." + t.name) != 0;
                if (ground == nullptr || (joined && !wired))
                    ground = &t;
                wired |= joined;
            }
            if (ground == nullptr || lowest->fitted == f.instance)
                continue;
            const auto name = f.instance->id + "." + ground->name;
            const bool lowestFree = m_wired.count(lowest->name) == 0;
            if (!wired || (lowestFree && ground->role == Role::Ground)) {
                m_car.wires.push_back({name, lowest->name, {}, {}});
                if (wired)
                    m_wired.insert(lowest->name);
            }
        }
    }

    const kit::Assembly &m_in;
    kit::Car m_car;
    std::set<std::string> m_wired;
};

} // namespace

kit::Car withStatedWires(const kit::Assembly &car)
{
    return Completer(car).complete();
}

} // namespace badger::circuit
