// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/faults/faults.h"

#include "core/base/say.h"

#include <algorithm>

namespace badger::faults
{

namespace
{

using kit::Car;
using kit::Side;
using parts::Catalogue;
using parts::Kind;
using parts::Role;

/// Every wire of one terminal ends at the other, and the other way round.
bool swapEnds(Car &car, const std::string &a, const std::string &b)
{
    bool found = false;
    for (auto &w : car.wires)
        for (auto *end : {&w.from, &w.to})
            if (*end == a || *end == b) {
                *end = *end == a ? b : a;
                found = true;
            }
    return found;
}

bool unplug(Car &car, const std::string &terminal)
{
    return std::erase_if(car.wires, [&](const kit::Wire &w) {
               return w.from == terminal || w.to == terminal;
           }) > 0;
}

/// Each fitted part of a kind, with its entry of the catalogue; ids, so that the car may change.
struct Named {
    std::string id;
    const parts::Part *part;
    Side side;
};
std::vector<Named> fitted(const Car &car, const Catalogue &catalogue,
                          std::initializer_list<Kind> kinds)
{
    std::vector<Named> all;
    for (const auto &p : car.parts)
        if (const auto *part = catalogue.find(p.partId))
            if (std::find(kinds.begin(), kinds.end(), part->kind) != kinds.end())
                all.push_back({p.id, part, p.side});
    return all;
}

/// A motor's lead, or a drive servo's signal, by its place among those.
std::vector<std::string> leads(const Named &motor)
{
    std::vector<std::string> all;
    for (const auto &t : motor.part->terminals)
        if (t.role == Role::Lead ||
            (motor.part->kind == Kind::DriveServo && t.role == Role::Signal))
            all.push_back(motor.id + "." + t.name);
    return all;
}

bool swapLeads(Car &car, const Catalogue &catalogue, Side side)
{
    for (const auto &m : fitted(car, catalogue, {Kind::Motor}))
        if (const auto l = leads(m); m.side == side && l.size() == 2)
            return swapEnds(car, l[0], l[1]);
    return false;
}

bool swapSides(Car &car, const Catalogue &catalogue)
{
    const auto motors = fitted(car, catalogue, {Kind::Motor, Kind::DriveServo});
    const auto on = [&](Side side) {
        return std::find_if(motors.begin(), motors.end(),
                            [&](const Named &m) { return m.side == side; });
    };
    const auto left = on(Side::Left);
    const auto right = on(Side::Right);
    if (left == motors.end() || right == motors.end())
        return false;
    // Forward is lead A high on the left and lead B on the right: crosswise both still run forward,
    // and only the turns go the other way.
    const auto a = leads(*left);
    auto b = leads(*right);
    std::reverse(b.begin(), b.end());
    bool found = a.size() == b.size() && !a.empty();
    for (size_t i = 0; found && i < a.size(); ++i)
        found = swapEnds(car, a[i], b[i]);
    return found;
}

template <class Do>
bool eachTerminal(Car &car, const Catalogue &catalogue, std::initializer_list<Kind> kinds,
                  std::initializer_list<Role> roles, Do todo, bool firstOnly = false)
{
    bool found = false;
    for (const auto &f : fitted(car, catalogue, kinds))
        for (const auto &t : f.part->terminals)
            if (std::find(roles.begin(), roles.end(), t.role) != roles.end() &&
                !(firstOnly && found))
                found = todo(f.id + "." + t.name) || found;
    return found;
}

bool swapTriggers(Car &car, const Catalogue &catalogue)
{
    bool found = false;
    for (const auto &r : fitted(car, catalogue, {Kind::Ranger})) {
        std::string trigger, echo;
        for (const auto &t : r.part->terminals) {
            if (t.role == Role::Trigger)
                trigger = r.id + "." + t.name;
            if (t.role == Role::Echo)
                echo = r.id + "." + t.name;
        }
        if (!trigger.empty() && !echo.empty())
            found = swapEnds(car, trigger, echo) || found;
    }
    return found;
}

/// Another part of the catalogue with the same terminals and the other sense takes its place.
bool invert(Car &car, const Catalogue &catalogue)
{
    for (auto &p : car.parts) {
        const auto *part = catalogue.find(p.partId);
        if (part == nullptr || part->kind != Kind::Infrared)
            continue;
        for (const auto &other : catalogue.parts())
            if (other.kind == Kind::Infrared && other.sense != part->sense &&
                other.terminals.size() == part->terminals.size()) {
                p.partId = other.id;
                return true;
            }
    }
    return false;
}

} // namespace

const std::vector<Fault> &all()
{
    static const std::vector<Fault> list = {
        {"left-leads-swapped",
         "the left motor's leads are swapped",
         [](Car &c, const Catalogue &k) { return swapLeads(c, k, Side::Left); },
         {}},
        {"right-leads-swapped",
         "the right motor's leads are swapped",
         [](Car &c, const Catalogue &k) { return swapLeads(c, k, Side::Right); },
         {}},
        {"sides-swapped",
         "left and right drive are plugged in at each other's place",
         swapSides,
         {}},
        {"trigger-echo-swapped", "trigger and echo of every ranger are swapped", swapTriggers, {}},
        {"ranger-unplugged",
         "the first ranger's supply is off",
         [](Car &c, const Catalogue &k) {
             return eachTerminal(
                 c, k, {Kind::Ranger}, {Role::SupplyIn},
                 [&](const std::string &t) { return unplug(c, t); }, true);
         },
         {}},
        {"sensor-unplugged",
         "the first surface sensor's signal is off",
         [](Car &c, const Catalogue &k) {
             return eachTerminal(
                 c, k, {Kind::Infrared, Kind::Strip, Kind::Reflectance, Kind::Light},
                 {Role::DigitalOut, Role::AnalogueOut},
                 [&](const std::string &t) { return unplug(c, t); }, true);
         },
         {}},
        {"sense-inverted", "the first infrared module has the other output sense", invert, {}},
        {"enable-loose",
         "the wire of the first enable is off",
         [](Car &c, const Catalogue &k) {
             return eachTerminal(
                 c, k, {Kind::Driver}, {Role::Enable},
                 [&](const std::string &t) { return unplug(c, t); }, true);
         },
         {}},
        {"servo-unplugged",
         "the servo's signal is off",
         [](Car &c, const Catalogue &k) {
             return eachTerminal(
                 c, k, {Kind::Servo}, {Role::Signal},
                 [&](const std::string &t) { return unplug(c, t); }, true);
         },
         {}},
        {"left-wheel-slow",
         "the left wheel turns a tenth slower",
         {},
         [](oncar::CarModel &m) {
             for (auto &v : m.wheels.speed_mps[0])
                 v *= 0.9;
             return true;
         }},
        {"right-wheel-slow",
         "the right wheel turns a tenth slower",
         {},
         [](oncar::CarModel &m) {
             for (auto &v : m.wheels.speed_mps[1])
                 v *= 0.9;
             return true;
         }},
        {"servo-late",
         "the servo takes three times as long",
         {},
         [](oncar::CarModel &m) {
             for (auto &s : m.servos)
                 s.sPerDegree *= 3.0;
             return !m.servos.empty();
         }},
        {"horn-off",
         "the servo's horn sits 15 degrees too far to the left",
         {},
         [](oncar::CarModel &m) {
             for (auto &s : m.servos)
                 s.horn_deg += 15.0;
             return !m.servos.empty();
         }},
        {"neutral-off",
         "the drive servos stand at a pulse 25 us longer than told",
         {},
         [](oncar::CarModel &m) {
             for (auto &n : m.wheels.neutral_us)
                 n += 25.0;
             return m.wheels.servos;
         }},
        {"lost-echoes",
         "one ping in five comes to nothing",
         {},
         [](oncar::CarModel &m) {
             for (auto &r : m.rangers)
                 r.figures.lostEchoShare = 0.2;
             return !m.rangers.empty();
         }},
        {"wild-readings",
         "one ping in ten ends before its echo comes",
         {},
         [](oncar::CarModel &m) {
             for (auto &r : m.rangers)
                 r.figures.wildShare = 0.1;
             return !m.rangers.empty();
         }},
        {"long-roll-out", "it rolls out three times as far", {}, [](oncar::CarModel &m) {
             m.wheels.brakeRoll.distance_m *= 3.0;
             m.wheels.coastRoll.distance_m *= 3.0;
             return true;
         }}};
    return list;
}

const Fault *find(std::string_view code)
{
    const auto it =
        std::find_if(all().begin(), all().end(), [&](const Fault &f) { return f.code == code; });
    return it == all().end() ? nullptr : &*it;
}

Result<Put> put(const std::vector<std::string> &codes, const kit::Car &car,
                const parts::Catalogue &catalogue)
{
    Put to{car, {}, false};
    for (const auto &code : codes) {
        const auto *fault = find(code);
        if (fault == nullptr) {
            std::vector<Say> known;
            for (const auto &f : all())
                known.emplace_back(f.code);
            return fail(Error::Kind::Missing, "--fault", say("there is no fault '{}'", code),
                        say("use one of: {}", joined(known, ", ")));
        }
        if (fault->run) {
            to.ofRun.push_back(fault);
            continue;
        }
        if (!fault->build(to.car, catalogue))
            return fail(Error::Kind::Conflict, say("--fault {}", code),
                        say("car '{}' cannot have it: it has no such part or wire", car.name),
                        say("choose another"));
        to.changesBuild = true;
    }
    return to;
}

} // namespace badger::faults
