// SPDX-License-Identifier: GPL-3.0-or-later
// Cars of the demo with another board on them, and templates with short waits.
#pragma once

#include "core/kit/roles.h"
#include "core/machine/made.h"
#include "core/nets/drive_map.h"
#include "support/fixture.h"

#include <set>

namespace badger::test
{

/// A car of the demo that has what a template wants.
inline const char *carFor(const std::string &name)
{
    static const std::map<std::string, const char *> cars = {
        {"glance", "Redshank"},    {"first-free-side", "Redshank"},
        {"fan", "Redshank"},       {"fixed-rangers", "Sanderling"},
        {"table-edge", "Godwit"},  {"wall-hold", "Godwit"},
        {"hand-follow", "Godwit"}, {"edge-glide", "Godwit"},
        {"edge-zigzag", "Godwit"}, {"straddle", "Dunlin"},
        {"direct", "Dunlin"},      {"lane", "Plover"}};
    const auto it = cars.find(name);
    return it == cars.end() ? "Avocet" : it->second;
}

/// Waits so short that a run of many decisions takes little of the chip's time.
inline const io::Choices &brief()
{
    static const io::Choices all = {{"back-time", "7ms"},      {"turn-time", "9ms"},
                                    {"turn-time-left", "9ms"}, {"turn-time-right", "6ms"},
                                    {"turn-least", "4ms"},     {"turn-most", "14ms"},
                                    {"turn-around", "11ms"},   {"dwell", "3ms"},
                                    {"sweep-dwell", "2ms"},    {"per-degree", "100us"},
                                    {"lost-signal", "200ms"},  {"limit", "80cm"},
                                    {"wait", "1ms"},           {"stop-time", "5ms"}};
    return all;
}

/// A template on a car, with brief waits where it has such choices, and `more` over them.
inline Result<rules::Program> briefly(const std::string &name, const kit::Assembly &car,
                                      const io::Choices &more = {})
{
    auto choices = enough(name);
    const auto *t = io::templateNamed(name);
    for (const auto &[key, word] : brief())
        if (choices.count(key) != 0 || (t->choice(key) && t->choice(key)->when.empty()))
            choices[key] = word;
    for (const auto &[key, word] : more)
        choices[key] = word;
    return io::fromTemplate(name, choices, kit::roles(car), Id<rules::Program>{"id"}, name);
}

/// Pins of the bare chip or the computer, the ones that can do least first.
inline std::vector<std::string> pinsOf(const std::string &board)
{
    if (board == "chip-14-pin")
        return {"P9", "P10", "P0", "P1", "P2", "P3", "P4", "P5", "P6", "P7", "P8"};
    std::vector<std::string> all;
    for (int n = 2; n <= 27; ++n)
        all.push_back("P" + std::to_string(n));
    return all;
}

/// The car with another board, and its program's pins given out anew: speeds on the chip's own PWM
/// pins, voltages where they can be read. What no pin is left for has none.
inline void putOn(Bench &b, const std::string &board)
{
    std::string id;
    for (auto &i : b.car.parts)
        if (b.catalogue.find(i.partId)->kind == parts::Kind::Board) {
            id = i.id;
            i.partId = board;
        }
    std::erase_if(b.car.wires, [&](const kit::Wire &w) {
        return w.from.starts_with(id + ".") || w.to.starts_with(id + ".");
    });
    b.car.programPins.clear();
    const kit::Assembly car(b.car, b.catalogue);
    const auto terminals = nets::signalTerminals(car);
    std::set<std::string> taken;
    const auto take = [&](const std::string &terminal, const std::vector<std::string> &pins) {
        for (const auto &pin : pins)
            if (taken.insert(pin).second) {
                b.car.programPins[terminal] = pin;
                return;
            }
    };
    const bool chip = board == "chip-14-pin";
    const bool servo = car.first(parts::Kind::Servo) || car.first(parts::Kind::DriveServo);
    const auto enabled = [&] {
        return std::any_of(terminals.begin(), terminals.end(), [&](const std::string &t) {
            return car.terminal(t)->role == parts::Role::Enable;
        });
    }();
    const std::vector<std::string> pwm = !chip   ? pinsOf(board)
                                         : servo ? std::vector<std::string>{"P7", "P8", "P5", "P6"}
                                                 : std::vector<std::string>{"P5", "P6", "P7", "P8"};
    for (const auto &t : terminals)
        if (car.terminal(t)->role == (enabled ? parts::Role::Enable : parts::Role::Direction))
            take(t, pwm);
    for (const auto &t : terminals)
        if (chip && car.terminal(t)->role == parts::Role::AnalogueOut)
            take(t, {"P0", "P1", "P2", "P3", "P4", "P5", "P6", "P7"});
    for (const auto &t : terminals)
        if (b.car.programPins.count(t) == 0)
            take(t, pinsOf(board));
}

} // namespace badger::test
