// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/kit/mission.h"

#include <algorithm>
#include <cmath>
#include <fmt/format.h>
#include <fmt/ranges.h>
#include <functional>

namespace badger::kit
{

using parts::Kind;
using parts::Role;

namespace
{

using Ids = std::vector<std::string>;

class Needing
{
public:
    Needing(const Assembly &car) : m_car(car) {}

    Need need(Want want) const
    {
        switch (want) {
        case Want::RangerAhead:
            return some(want, say("a ranger that looks ahead"),
                        say("it tells how far the next thing in the way is"), rangersAhead(), 1,
                        say("no ranger looks ahead"), {"ranger-4-pin", "ranger-3-pin"});
        case Want::RangerOnServo:
            return onServo();
        case Want::SideRangers:
            return some(want, say("two rangers that look to the sides"),
                        say("it chooses a side without turning its head"), rangersAside(), 2,
                        say("rangers at the sides are missing"), {"ranger-4-pin"});
        case Want::EdgeSensor:
            return some(want, say("a sensor that looks down ahead of the wheels"),
                        say("it has to see the edge before the wheels reach it"), edgeSensors(), 1,
                        say("nothing looks down ahead of the front contact"),
                        {"reflectance-analogue", "infrared-light-high"});
        case Want::SideReflectance:
            return some(want, say("an analogue reflectance sensor"),
                        say("how much comes back tells how near a wall or a hand is"),
                        ofKind({Kind::Reflectance}), 1, say("no reflectance sensor is fitted"),
                        {"reflectance-analogue"});
        case Want::TwoInfrared:
            return some(want, say("two digital infrared modules"),
                        say("one at each side of the line says which side it has crossed"),
                        ofKind({Kind::Infrared}), 2, say("two infrared modules are needed"),
                        {"infrared-light-high", "infrared-light-low"});
        case Want::OneReflectance:
            return some(want, say("an analogue reflectance sensor over the edge"),
                        say("its reading is the share of the spot on the line"),
                        ofKind({Kind::Reflectance}), 1, say("no reflectance sensor is fitted"),
                        {"reflectance-analogue"});
        case Want::OneInfrared:
            return some(want, say("one sensor over the edge of the line"),
                        say("light or dark says which way to swing"),
                        ofKind({Kind::Infrared, Kind::Reflectance}), 1,
                        say("no line sensor is fitted"), {"infrared-light-high"});
        case Want::FourInfrared:
            return four();
        case Want::Board:
            return some(want, say("a board"), say("something has to run the program"),
                        ofKind({Kind::Board}), 1, say("no board is fitted"),
                        {"board-5v-8bit", "board-5v-8bit-narrow", "chip-14-pin"});
        case Want::NoBoard:
            return noBoard();
        case Want::Drive:
            break;
        }
        return drive();
    }

private:
    Ids ofKind(std::vector<Kind> kinds) const
    {
        Ids ids;
        for (const auto &i : m_car->parts)
            if (const auto *p = m_car.part(i);
                p && std::find(kinds.begin(), kinds.end(), p->kind) != kinds.end())
                ids.push_back(i.id);
        return ids;
    }
    Ids where(Kind kind, const std::function<bool(const Instance &)> &holds) const
    {
        auto ids = ofKind({kind});
        std::erase_if(ids, [&](const std::string &id) { return !holds(*m_car->instance(id)); });
        return ids;
    }
    bool onServo(const Instance &i) const
    {
        const auto *carrier = i.carriedBy.empty() ? nullptr : m_car->instance(i.carriedBy);
        const auto *part = carrier ? m_car.part(*carrier) : nullptr;
        return part && part->kind == Kind::Servo;
    }

    Ids rangersAhead() const
    {
        return where(Kind::Ranger, [](const Instance &i) {
            return !i.mount || std::abs(i.mount->yaw_rad) <= aheadWithin_rad;
        });
    }
    Ids rangersAside() const
    {
        return where(Kind::Ranger, [](const Instance &i) {
            return i.mount && std::abs(i.mount->yaw_rad) > aheadWithin_rad;
        });
    }
    Ids edgeSensors() const
    {
        auto ids = ofKind({Kind::Reflectance, Kind::Infrared});
        std::erase_if(ids, [&](const std::string &id) {
            const auto &i = *m_car->instance(id);
            return i.mount && i.mount->setBack_m >= m_car->geometry.axleToNose_m;
        });
        return ids;
    }

    static Need some(Want want, const Say &what, const Say &reason, Ids by, size_t wanted,
                     const Say &gap, std::vector<std::string> parts)
    {
        Need n{want, what, reason, by.size() >= wanted, std::move(by), {}, std::move(parts)};
        if (!n.met)
            n.gap = n.by.empty() ? gap : say("{}: {} of {}", gap, n.by.size(), wanted);
        return n;
    }

    Need onServo() const
    {
        auto carried = where(Kind::Ranger, [&](const Instance &i) { return onServo(i); });
        Need n{Want::RangerOnServo,
               say("a ranger on a pan servo"),
               say("it looks to both sides before it chooses one"),
               !carried.empty(),
               carried,
               {},
               {}};
        if (n.met) {
            n.by.push_back(m_car->instance(carried.front())->carriedBy);
            return n;
        }
        const bool servo = !ofKind({Kind::Servo}).empty();
        const bool ranger = !ofKind({Kind::Ranger}).empty();
        n.gap = servo && ranger ? say("no ranger is said to ride on the servo")
                : servo         ? say("a ranger is missing")
                : ranger        ? say("a pan servo is missing")
                                : say("ranger and pan servo are missing");
        if (!servo)
            n.partIds = {"pan-servo-21", "pan-servo-25"};
        if (!ranger)
            n.partIds.insert(n.partIds.begin(), "ranger-4-pin");
        return n;
    }

    Need four() const
    {
        auto strip = ofKind({Kind::Strip});
        if (!strip.empty())
            return {Want::FourInfrared,
                    say("four infrared pairs in a row"),
                    say("the inner two keep to the middle, the outer two see the lines"),
                    true,
                    strip,
                    {},
                    {}};
        return some(Want::FourInfrared, say("four infrared pairs in a row"),
                    say("the inner two keep to the middle, the outer two see the lines"),
                    ofKind({Kind::Infrared}), 4, say("a strip of four is missing"),
                    {"strip-4", "infrared-light-high"});
    }

    Need noBoard() const
    {
        auto boards = ofKind({Kind::Board});
        Need n{Want::NoBoard,
               say("no board"),
               say("each sensor's output is a driver's input"),
               boards.empty(),
               {},
               {},
               {}};
        if (!n.met)
            n.gap = say("{} is not needed", joined(boards, ", "));
        return n;
    }

    /// A board drives motors at its own ports.
    bool hasPorts() const
    {
        return std::any_of(m_car->parts.begin(), m_car->parts.end(), [&](const Instance &i) {
            const auto *p = m_car.part(i);
            return p && p->kind == Kind::Board &&
                   std::any_of(p->terminals.begin(), p->terminals.end(),
                               [](const auto &t) { return t.role == Role::MotorOut; });
        });
    }

    Need drive() const
    {
        Need n{Want::Drive,
               say("a motor on each side, driver, wheels, source"),
               say("it has to drive and steer"),
               false,
               {},
               {},
               {}};
        std::vector<Say> gaps;
        const auto side = [&](Side s) {
            return std::any_of(m_car->parts.begin(), m_car->parts.end(), [&](const Instance &i) {
                const auto *p = m_car.part(i);
                return p && i.side == s && (p->kind == Kind::Motor || p->kind == Kind::DriveServo);
            });
        };
        for (const auto &[s, word] : {std::pair{Side::Left, "left"}, {Side::Right, "right"}})
            if (!side(s)) {
                gaps.push_back(say("a motor on the {}", word));
                n.partIds.emplace_back("gear-motor-plastic");
            }
        if (ofKind({Kind::DriveServo}).empty() && ofKind({Kind::Driver}).empty() && !hasPorts()) {
            gaps.emplace_back(say("a driver"));
            n.partIds.insert(n.partIds.end(),
                             {"dual-bridge-module", "mosfet-dual-bridge", "half-bridge-chip"});
        }
        if (ofKind({Kind::Wheel}).empty()) {
            gaps.emplace_back("wheels");
            n.partIds.emplace_back("wheel-65mm");
        }
        if (ofKind({Kind::Cell, Kind::Supply}).empty()) {
            gaps.emplace_back(say("a pack"));
            n.partIds.emplace_back("cell-nimh");
        }
        n.by = ofKind(
            {Kind::Motor, Kind::DriveServo, Kind::Driver, Kind::Wheel, Kind::Cell, Kind::Supply});
        n.met = gaps.empty();
        if (!n.met)
            n.gap = say("{} missing", joined(gaps, ", "));
        return n;
    }

    const Assembly &m_car;
};

} // namespace

std::vector<Need> needs(const Assembly &car)
{
    std::vector<Need> all;
    const auto *wanted = car->mission ? behaviour(car->mission->behaviour) : nullptr;
    if (wanted == nullptr)
        return all;
    const Needing needing(car);
    for (const auto want : wanted->wants)
        all.push_back(needing.need(want));
    return all;
}

PinBudget pinBudget(const Assembly &car)
{
    PinBudget b;
    for (const auto &fitted : car->parts) {
        const auto *part = car.part(fitted);
        if (part == nullptr || part->kind == Kind::Divider)
            continue;
        int here = 0;
        for (const auto &t : part->terminals) {
            const bool jumpered = std::find(fitted.jumpers.begin(), fitted.jumpers.end(), t.name) !=
                                  fitted.jumpers.end();
            switch (t.role) {
            case Role::Pin:
                if (t.serial)
                    break;
                ++b.has;
                b.pwmHas += t.pwm || part->clockPulses;
                b.analogueHas += t.analogue;
                break;
            case Role::Enable:
                here += !jumpered;
                b.pwmNeeded += !jumpered;
                break;
            case Role::Direction:
                ++here;
                b.pwmNeeded += t.pwm;
                break;
            case Role::AnalogueOut:
                ++here;
                ++b.analogueNeeded;
                break;
            case Role::Trigger:
            case Role::Echo:
            case Role::Signal:
            case Role::DigitalOut:
                ++here;
                break;
            default:
                break;
            }
        }
        b.needed += here;
        if (here > 0)
            b.counted.push_back(say("{}: {}", labelOf(fitted), here));
    }
    return b;
}

} // namespace badger::kit
