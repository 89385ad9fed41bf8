// SPDX-License-Identifier: GPL-3.0-or-later
// Rules about what the wheels can be told to do.
#include "core/nets/drive_map.h"
#include "core/wiring/check.h"

#include <algorithm>

namespace badger::wiring
{

namespace
{

using motion::MotionRow;
using motion::Path;
using motion::Turn;

bool turns(Turn t)
{
    return t == Turn::Forward || t == Turn::Backward;
}

bool any(const Look &look, bool (*is)(const MotionRow &))
{
    return std::any_of(look.motion.rows.begin(), look.motion.rows.end(), is);
}

struct SideRow {
    const char *word;
    Turn MotionRow::*of;
    kit::Side side;
};
constexpr SideRow sides[] = {{"left", &MotionRow::left, kit::Side::Left},
                             {"right", &MotionRow::right, kit::Side::Right}};

/// Everything a wheel does over all patterns, each once.
std::vector<Turn> does(const Look &look, const SideRow &side)
{
    std::vector<Turn> all;
    for (const auto &row : look.motion.rows)
        if (std::find(all.begin(), all.end(), row.*side.of) == all.end())
            all.push_back(row.*side.of);
    return all;
}

bool has(const std::vector<Turn> &all, Turn t)
{
    return std::find(all.begin(), all.end(), t) != all.end();
}

std::string leadOf(const Look &look, kit::Side side)
{
    const auto *motor = look.car.motorOn(side);
    const auto *part = motor ? look.car.part(*motor) : nullptr;
    return part ? motor->id + "." + part->terminals.front().name : std::string{};
}

std::vector<Finding> fights(const Look &look, const char *code)
{
    std::vector<Finding> found;
    for (const auto &side : sides)
        if (has(does(look, side), Turn::Fights))
            found.push_back(
                {code, Severity::Error, say("{} motors: {}", side.word, leadOf(look, side.side)),
                 say("Two motors of the {} side turn against each other.", side.word),
                 say("They stall each other: the driver gets hot and the car does not move."),
                 say("One of them has its leads the wrong way round."),
                 at::terminal(leadOf(look, side.side))});
    return found;
}

/// An input of this side that the program switches hangs on a supply or on ground: said there.
bool inputHeld(const Look &look, kit::Side side)
{
    const auto drive = nets::wheelDrive(look.nets, side);
    if (!drive)
        return false;
    for (const auto &name : {drive->forward, drive->backward, drive->enable}) {
        const int net = look.nets.of(name);
        if (look.car->programPins.count(name) != 0 &&
            (look.nets.isSupply(net) || look.nets.isGround(net)))
            return true;
    }
    return false;
}

std::vector<Finding> neverTurns(const Look &look, const char *code)
{
    std::vector<Finding> found;
    for (const auto &side : sides) {
        const auto all = does(look, side);
        // An enable that floats, a lead that leads nowhere are said at their place.
        if (all.empty() || std::any_of(all.begin(), all.end(), turns) ||
            inputHeld(look, side.side) || has(all, Turn::Fights) ||
            std::all_of(all.begin(), all.end(), [](Turn t) {
                return t == Turn::Dead || t == Turn::Unsure || t == Turn::None || t == Turn::Fights;
            }))
            continue;
        found.push_back({code, Severity::Error,
                         say("{} wheel: {}", side.word, leadOf(look, side.side)),
                         say("The {} wheel turns for no pattern of its inputs.", side.word),
                         say("Whatever is told to the driver, this side stands still."),
                         say("One direction input has to be high while the other is low."),
                         at::terminal(leadOf(look, side.side))});
    }
    return found;
}

std::vector<Finding> onlyBackward(const Look &look, const char *code)
{
    std::vector<Finding> found;
    for (const auto &side : sides) {
        const auto all = does(look, side);
        if (!has(all, Turn::Backward) || has(all, Turn::Forward) || inputHeld(look, side.side))
            continue;
        found.push_back({code, Severity::Error,
                         say("{} wheel: {}", side.word, leadOf(look, side.side)),
                         say("The {} wheel can only turn backward.", side.word),
                         say("The car drives back or in circles when it is told to go ahead."),
                         say("Its leads are exchanged, or its sensor is on the other input."),
                         at::terminal(leadOf(look, side.side))});
    }
    return found;
}

/// Without a program to stop it, a wheel that stops for no pattern runs until the switch is off.
std::vector<Finding> neverStops(const Look &look, const char *code)
{
    std::vector<Finding> found;
    for (const auto &side : sides) {
        const auto all = does(look, side);
        if (all.empty() || !std::all_of(all.begin(), all.end(), turns))
            continue;
        found.push_back({code, Severity::Error,
                         say("{} wheel: {}", side.word, leadOf(look, side.side)),
                         say("The {} wheel turns for every pattern of its inputs.", side.word),
                         say("Nothing stops this side but the switch."),
                         say("Both direction inputs of its channel have to be able to be alike."),
                         at::terminal(leadOf(look, side.side))});
    }
    return found;
}

bool bothWheels(const Look &look)
{
    return any(look, [](const MotionRow &r) { return turns(r.left); }) &&
           any(look, [](const MotionRow &r) { return turns(r.right); });
}

std::vector<Finding> cannotSteer(const Look &look, const char *code)
{
    if (!bothWheels(look) || any(look, [](const MotionRow &r) { return r.left != r.right; }))
        return {};
    return {{code, Severity::Warning, say("both wheels"),
             say("Both wheels do the same for every pattern: the car cannot steer."),
             say("It drives straight ahead or back, and nothing else."),
             say("Each side needs inputs of its own."),
             at::terminal(leadOf(look, kit::Side::Left))}};
}

std::vector<Finding> onlySpins(const Look &look, const char *code)
{
    if (!bothWheels(look) ||
        any(look, [](const MotionRow &r) { return turns(r.left) && r.left == r.right; }) ||
        !any(look, [](const MotionRow &r) {
            return turns(r.left) && turns(r.right) && r.left != r.right;
        }))
        return {};
    return {
        {code, Severity::Error, say("both wheels"),
         say("The wheels turn against each other whenever both turn: the car only spins."),
         say("It never drives straight ahead."),
         say("The leads of one side are exchanged, or both sides hang on one another's inputs."),
         at::terminal(leadOf(look, kit::Side::Left))}};
}

} // namespace

const std::vector<CheckRule> &motionRules()
{
    static const std::vector<CheckRule> rules = {
        {"motors-fight", source("motors of one side turn alike"), fights, "error",
         "two motors of a side turn against each other"},
        {"wheel-never-turns", source("each wheel turns for some pattern"), neverTurns, "error",
         "a wheel turns for no pattern of the inputs"},
        {"wheel-never-stops", source("each wheel can be stopped"), neverStops, "error",
         "a wheel turns for every pattern of the inputs"},
        {"wheel-only-backward", source("each wheel can turn forward"), onlyBackward, "error",
         "a wheel can only turn backward"},
        {"cannot-steer", source("the wheels can be told apart"), cannotSteer, "warning",
         "both wheels do the same for every pattern"},
        {"only-spins", source("the car can drive straight"), onlySpins, "error",
         "whenever both wheels turn they turn against each other"},
    };
    return rules;
}

} // namespace badger::wiring
