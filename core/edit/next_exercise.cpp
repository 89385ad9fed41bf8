// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/edit/next_exercise.h"

#include "core/edit/kit_edits.h"
#include "core/kit/mission.h"

#include <algorithm>
#include <fmt/format.h>
#include <set>

namespace badger::edit
{

using parts::Kind;
using parts::Role;

namespace
{

/// Fits what a need lacks; false where nothing can be done about it.
bool meet(const kit::Need &need, kit::Car &car, const parts::Catalogue &catalogue,
          std::vector<std::string> &added)
{
    if (need.want == kit::Want::NoBoard) {
        if (const auto *board = kit::Assembly(car, catalogue).first(Kind::Board)) {
            removePart(car, catalogue, std::string(board->id));
            return true;
        }
        return false;
    }
    if (!need.partIds.empty()) {
        const auto id = addPart(car, catalogue, need.partIds.front());
        for (auto &w : supplyWires({car, catalogue}, id))
            car.wires.push_back(std::move(w));
        added.push_back(id);
        return !id.empty();
    }
    if (need.want != kit::Want::RangerOnServo)
        return false;
    const auto *servo = kit::Assembly(car, catalogue).first(Kind::Servo);
    for (auto &i : car.parts)
        if (const auto *p = catalogue.find(i.partId);
            servo != nullptr && p != nullptr && p->kind == Kind::Ranger) {
            i.carriedBy = servo->id;
            i.mount.reset();
            return true;
        }
    return false;
}

bool sensesOrPoints(Kind kind)
{
    return kind == Kind::Ranger || kind == Kind::Infrared || kind == Kind::Strip ||
           kind == Kind::Reflectance || kind == Kind::Light || kind == Kind::Servo;
}

std::vector<std::string> idleParts(const kit::Assembly &car)
{
    std::set<std::string> used;
    for (const auto &need : kit::needs(car))
        used.insert(need.by.begin(), need.by.end());
    std::vector<std::string> idle;
    for (const auto &i : car->parts) {
        const auto *p = car.part(i);
        const bool carries =
            std::any_of(car->parts.begin(), car->parts.end(), [&](const kit::Instance &rider) {
                return rider.carriedBy == i.id && used.count(rider.id);
            });
        if (p != nullptr && sensesOrPoints(p->kind) && !used.count(i.id) && !carries)
            idle.push_back(i.id);
    }
    return idle;
}

/// The planner's question without the functions of some parts, and without what only they use.
pins::PinProblem problemWithout(const kit::Assembly &car, const std::vector<std::string> &idle)
{
    auto problem = pins::pinProblem(car);
    const auto isIdle = [&](const std::string &instance) {
        return std::find(idle.begin(), idle.end(), instance) != idle.end();
    };
    kit::Car busy = car;
    std::erase_if(busy.parts, [&](const kit::Instance &i) { return isIdle(i.id); });
    problem.libraries = pins::librariesOf(nets::Nets({busy, car.catalogue()}));
    return problem;
}

void clearSignals(NextExercise &next, const parts::Catalogue &catalogue)
{
    const auto prefix = revisions::boardOf({next.car, catalogue}) + ".";
    for (const auto &id : next.idle) {
        const auto gone = std::erase_if(next.car.wires, [&](const kit::Wire &w) {
            for (const auto &[mine, other] :
                 {std::pair(&w.from, &w.to), std::pair(&w.to, &w.from)}) {
                const auto *t = kit::Assembly(next.car, catalogue).terminal(*mine);
                const bool supply = t && (t->role == Role::SupplyIn || t->role == Role::Ground);
                if (kit::splitTerminal(*mine).instance == id && !supply &&
                    other->starts_with(prefix))
                    return true;
            }
            return false;
        });
        std::erase_if(next.car.programPins, [&](const auto &pin) {
            return kit::splitTerminal(pin.first).instance == id;
        });
        if (gone > 0)
            next.cleared.push_back(id);
    }
}

} // namespace

std::vector<kit::Wire> supplyWires(const kit::Assembly &car, const std::string &instance)
{
    std::vector<kit::Wire> wires;
    const auto *fitted = car->instance(instance);
    const auto *part = fitted ? car.part(*fitted) : nullptr;
    if (part == nullptr)
        return wires;
    const nets::Nets nets(car);
    for (const auto &feed : fitted->feeds)
        if (const auto name = instance + "." + feed.to; !nets.wired(name))
            wires.push_back({feed.from, name, "red", {}});
    const auto *board = car.first(Kind::Board);
    for (const auto &t : part->terminals) {
        const auto name = instance + "." + t.name;
        if (t.role != Role::Ground || nets.wired(name))
            continue;
        std::string to;
        for (const auto &m : nets.all()) {
            if (m.fitted == board && m.fitted != fitted && m.terminal->role == Role::Ground &&
                m.wires == 0 && to.empty())
                to = m.name;
        }
        for (const auto &m : nets.all())
            if (to.empty() && m.fitted != fitted && m.terminal->role == Role::Minus)
                to = m.name;
        if (!to.empty())
            wires.push_back({to, name, "black", {}});
        break; // grounds of one part are one piece of metal
    }
    return wires;
}

Result<NextExercise> nextExercise(const kit::Assembly &car, const std::string &behaviour)
{
    if (kit::behaviour(behaviour) == nullptr)
        return fail(Error::Kind::Missing, say("car '") + car->name + "'",
                    say("there is no behaviour '{}'", behaviour),
                    say("choose one of the list on the Kit station"));
    NextExercise next;
    next.car = car;
    if (!next.car.mission)
        next.car.mission.emplace();
    next.car.mission->behaviour = behaviour;
    constexpr int mostParts = 12; // each round fits one part
    for (int round = 0; round < mostParts; ++round) {
        const auto needs = kit::needs({next.car, car.catalogue()});
        const auto open =
            std::find_if(needs.begin(), needs.end(), [](const kit::Need &n) { return !n.met; });
        if (open == needs.end())
            break;
        if (!meet(*open, next.car, car.catalogue(), next.added))
            return fail(Error::Kind::Missing, say("car '") + car->name + "'",
                        say("{} is missing: {}", open->what, open->gap),
                        say("fit it on the Kit station first"));
    }
    next.idle = idleParts({next.car, car.catalogue()});
    next.plan = pins::planPins(problemWithout({next.car, car.catalogue()}, next.idle));
    if (!next.plan.possible() && !next.idle.empty()) {
        clearSignals(next, car.catalogue());
        auto problem = problemWithout({next.car, car.catalogue()}, next.idle);
        std::erase_if(problem.needs, [&](const pins::PinNeed &n) {
            return std::find(next.idle.begin(), next.idle.end(),
                             kit::splitTerminal(n.terminal).instance) != next.idle.end();
        });
        next.plan = pins::planPins(problem);
    }
    if (!next.plan.possible())
        return next;
    next.car = pins::withPlan(std::move(next.car), car.catalogue(), next.plan);
    revisions::edited(next.car);
    next.rebuild = revisions::rebuild(car, {next.car, car.catalogue()});
    return next;
}

} // namespace badger::edit
