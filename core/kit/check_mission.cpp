// SPDX-License-Identifier: GPL-3.0-or-later
// Rules about what the car shall do, and the pins it needs for it.
#include "core/kit/check.h"

#include "core/kit/mission.h"

namespace badger::kit
{

using parts::Kind;

namespace
{

struct MissionLook {
    const Assembly &car;
    const Behaviour *wanted = car->mission ? behaviour(car->mission->behaviour) : nullptr;
};

using Found = std::vector<Finding>;

Found unset(const MissionLook &look, const char *code)
{
    if (look.car->mission)
        return {};
    return {{code, Severity::Advice, say("mission"), say("It is not said what the car shall do."),
             say("Which sensors it needs follows from that."), say("Choose a behaviour."),
             at::mission()}};
}

Found unknown(const MissionLook &look, const char *code)
{
    if (!look.car->mission || look.wanted)
        return {};
    return {{code, Severity::Warning, say("mission"),
             say("'{}' is no behaviour this program knows.", look.car->mission->behaviour),
             say("What it needs cannot be said."), say("Choose a behaviour of the list."),
             at::mission()}};
}

bool missionKnown(const MissionLook &look)
{
    return look.wanted != nullptr;
}

Found gaps(const MissionLook &look, const char *code)
{
    Found found;
    for (const auto &n : needs(look.car)) {
        if (n.met)
            continue;
        const bool surplus = n.want == Want::NoBoard;
        found.push_back({code, surplus ? Severity::Advice : Severity::Error, say("mission"),
                         say("To {}, the car needs {}: {}.", look.wanted->name, n.what, n.gap),
                         say("Because {}.", n.reason),
                         surplus ? say("A behaviour with a program has a use for it.")
                                 : say("Look at what the behaviour needs, or choose another one."),
                         at::mission()});
    }
    return found;
}

bool hasBoard(const MissionLook &look)
{
    return look.car.first(Kind::Board) != nullptr;
}

Found pinsShort(const MissionLook &look, const char *code)
{
    const auto b = pinBudget(look.car);
    Found found;
    const auto enough = [&](const Say &what, int needed, int has, const Say &mend) {
        if (needed > has)
            found.push_back({code, Severity::Error, say("pins"),
                             say("{} {} are asked for, the board has {}.", needed, what, has),
                             say("Some part stays without a pin: {}.", joined(b.counted, ", ")),
                             mend, at::part({})});
    };
    enough(say("pins"), b.needed, b.has,
           say("Look which functions can share a pin, and which enables need none."));
    enough(say("PWM pins"), b.pwmNeeded, b.pwmHas,
           say("Look which wheel needs no speed of its own: an enable that is tied high needs no "
               "pin."));
    enough(say("analogue pins"), b.analogueNeeded, b.analogueHas,
           say("Look which sensors have to be read as a voltage."));
    return found;
}

const std::vector<Check<MissionLook>> &missionTable()
{
    static const std::vector<Check<MissionLook>> checks{
        {"mission-unset", noPraise, unset, "advice", "it is not said what the car shall do"},
        {"mission-unknown", noPraise, unknown, "warning",
         "the behaviour is none this program knows"},
        {"mission-gap", source("the mission has every part it needs"), gaps,
         "error; advice for a board too many", "the behaviour needs a part that is not there",
         missionKnown},
        {"pins-short", source("the board has pins enough"), pinsShort, "error",
         "more pins, PWM pins or analogue pins are asked for than the board has", hasBoard},
    };
    return checks;
}

} // namespace

Findings checkMission(const Assembly &car)
{
    Findings out;
    if (!car->parts.empty())
        run<MissionLook>(missionTable(), {car}, out);
    return out;
}

std::vector<CheckLine> missionLines()
{
    std::vector<CheckLine> lines;
    addLines<MissionLook>(missionTable(), lines);
    return lines;
}

} // namespace badger::kit
