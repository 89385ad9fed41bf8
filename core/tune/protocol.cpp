// SPDX-License-Identifier: GPL-3.0-or-later
// How the hand goes about a measurement.
#include "core/tune/record.h"

namespace badger::tune
{

using units::quantity;
using units::Unit;

namespace
{

Say stare()
{
    return say("Do not stare into the emitters close up.");
}

Say onTheFloor()
{
    return say("Car on the floor, hand at the switch.");
}

Say at(double m)
{
    return quantity(m, Unit::Centimetre, 1);
}

std::vector<ProtocolStep> ruler()
{
    std::vector<ProtocolStep> steps;
    for (const double m : {0.06, 0.12, 0.25, 0.40, 0.80, 1.20})
        steps.push_back(
            {.text = say("Stand the flat board square before the ranger, {} from its face.", at(m)),
             .caution = {},
             .label = {},
             .truth = m,
             .hint = say("24.5 cm")});
    return steps;
}

std::vector<ProtocolStep> surfaces(bool trimmer)
{
    std::vector<ProtocolStep> steps = {
        {.text = say("Set the sensor over the light surface at ride height; move it a little "
                     "while it records."),
         .caution = stare(),
         .label = "light",
         .truth = {},
         .hint = trimmer ? say("1 or 0") : say("812 799 840")},
        {.text = say("Set it over the dark surface, and move it a little."),
         .caution = {},
         .label = "dark",
         .truth = {},
         .hint = trimmer ? say("1 or 0") : say("233 251 219")}};
    if (!trimmer)
        return steps;
    const auto way = say("40 % of its way");
    steps.push_back({.text = say("Over the light surface turn the trimmer slowly up from its low "
                                 "end. How far had it come when its light changed?"),
                     .caution = {},
                     .label = "turn light",
                     .truth = {},
                     .entry = Entry::Share,
                     .isOptional = true,
                     .hint = way});
    steps.push_back({.text = say("The same over the dark surface. Half way between both is the "
                                 "place for it."),
                     .caution = {},
                     .label = "turn dark",
                     .truth = {},
                     .entry = Entry::Share,
                     .isOptional = true,
                     .hint = way});
    steps.push_back({.text = say("Set it there. Over the light surface lift the car until the "
                                 "light goes out: how high is the sensor then?"),
                     .caution = {},
                     .label = "lift",
                     .truth = {},
                     .entry = Entry::Length,
                     .isOptional = true,
                     .hint = say("18 mm")});
    return steps;
}

std::vector<ProtocolStep> lamp()
{
    const auto hint = say("812 799 840");
    return {{.text = say("Light it as bright as it shall be taken for bright: lamp on it."),
             .caution = {},
             .label = "light",
             .truth = {},
             .hint = hint},
            {.text = say("Shade it as the program shall take for dark."),
             .caution = {},
             .label = "dark",
             .truth = {},
             .hint = hint},
            {.text = say("Leave it in the room as it is, away from the lamp. Take this again when "
                         "the light has changed."),
             .caution = {},
             .label = "room",
             .truth = {},
             .isOptional = true,
             .hint = hint},
            {.text = say("What does the fixed resistor beside it say?"),
             .caution = {},
             .label = "partner",
             .truth = {},
             .entry = Entry::Ohms,
             .isOptional = true,
             .hint = say("2.2 kohm")}};
}

std::vector<ProtocolStep> reflectance()
{
    std::vector<ProtocolStep> steps;
    for (const int cm : {2, 4, 6, 8, 10, 14, 20})
        steps.push_back(
            {.text = say("Hold the surface square before the sensor, {} away.", at(cm / 100.0)),
             .caution = cm == 2 ? stare() : Say(),
             .label = {},
             .truth = cm / 100.0,
             .hint = say("540")});
    steps.push_back({.text = say("Hold another surface, darker or lighter, {} away: how far off is "
                                 "what the sensor says of it?",
                                 at(0.06)),
                     .caution = {},
                     .label = "other",
                     .truth = 0.06,
                     .isOptional = true,
                     .hint = say("310")});
    return steps;
}

ProtocolStep turn(const char *side, double ms, Say text, bool low)
{
    return {.text = std::move(text),
            .caution = side == std::string_view("left") && ms < 500.0 ? onTheFloor() : Say(),
            .label = low ? std::string(side) + " low" : side,
            .truth = ms,
            .entry = Entry::Degrees,
            .isOptional = low,
            .hint = say("the angle it turned, 58")};
}

std::vector<ProtocolStep> turns()
{
    return {
        turn("left", 400.0, say("Turn left for 400 ms and measure the angle."), false),
        turn("left", 800.0, say("Turn left for 800 ms."), false),
        turn("right", 400.0, say("Turn right for 400 ms."), false),
        turn("right", 800.0, say("Turn right for 800 ms."), false),
        turn("left", 800.0, say("With a pack that is nearly empty: turn left for 800 ms."), true),
        turn("right", 800.0, say("With that pack turn right for 800 ms."), true)};
}

std::vector<ProtocolStep> straight()
{
    const auto hint = say("8 cm 3 cm, to the right −8 cm");
    return {{.text = say("Let it drive 2 m along a line; measure how far it went to the left at "
                         "the end, and half way."),
             .caution = onTheFloor(),
             .label = {},
             .truth = 2.0,
             .entry = Entry::Length,
             .hint = hint},
            {.text = say("Do it again with a pack that is nearly empty."),
             .caution = {},
             .label = "low",
             .truth = 2.0,
             .entry = Entry::Length,
             .isOptional = true,
             .hint = hint}};
}

std::vector<ProtocolStep> horn()
{
    const auto step = [](double degrees, Say text, Say caution) {
        return ProtocolStep{.text = std::move(text),
                            .caution = std::move(caution),
                            .label = "step",
                            .truth = degrees,
                            .entry = Entry::Milliseconds,
                            .isOptional = true,
                            .hint = say("90 ms")};
    };
    return {{.text = say("Send the servo to its middle. How far does it still have to turn to look "
                         "straight ahead? To the left counts as positive."),
             .caution = say("Never turn a powered servo by hand: it strips its gears."),
             .label = {},
             .truth = {},
             .entry = Entry::Degrees,
             .isChosen = true,
             .hint = say("degrees, to the right −12")},
            step(20.0,
                 say("Let it step by 20 degrees. Film it: how long from the command until it "
                     "stands still?"),
                 {}),
            step(100.0, say("The same for the way back, 100 degrees: this one is forgotten."), {})};
}

std::vector<ProtocolStep> line()
{
    const auto length = [](const char *label, Say text, Say hint, bool isOptional) {
        return ProtocolStep{.text = std::move(text),
                            .caution = {},
                            .label = label,
                            .truth = {},
                            .entry = Entry::Length,
                            .isOptional = isOptional,
                            .hint = std::move(hint)};
    };
    return {
        length("sensors",
               say("Measure across the car from its middle to each sensor's spot; to the right "
                   "is below zero."),
               say("20 mm −20 mm"), false),
        length("line", say("Lay the ruler across the line: how wide is it?"), say("19 mm"), false),
        length("room",
               say("Where the car drives between two lines: how much room is between them?"),
               say("42 mm"), true),
        length("spot",
               say("Push one sensor across the line's edge. Over which way does its reading "
                   "change?"),
               say("10 mm"), true)};
}

} // namespace

std::vector<ProtocolStep> protocolOf(What what)
{
    switch (what) {
    case What::Ruler:
        return ruler();
    case What::NoEcho:
        return {{.text = say("Turn the car to open space, with nothing within 5 m before it."),
                 .caution = {},
                 .label = "open",
                 .truth = {},
                 .hint = say("echo times in us, none")}};
    case What::Surfaces:
        return surfaces(false);
    case What::Trimmer:
        return surfaces(true);
    case What::Reflectance:
        return reflectance();
    case What::Neutral:
        return {{.text = say("Send 1500 us and watch the wheel; go up or down by 5 us until it "
                             "stands still."),
                 .caution = say("Wheels off the ground."),
                 .label = {},
                 .truth = {},
                 .entry = Entry::Microseconds,
                 .isChosen = true,
                 .hint = say("the pulse, 1490")}};
    case What::Turn:
        return turns();
    case What::Speed:
        return {{.text = say("Mark two lines 1.5 m apart, the first 0.5 m behind the start. Let it "
                             "drive at the program's count and time it from line to line, three "
                             "times."),
                 .caution = say("Car on the floor, hand at the switch; note the battery first."),
                 .label = {},
                 .truth = 1.5,
                 .entry = Entry::Seconds,
                 .hint = say("seconds from line to line: 6.2 6.3 6.2")}};
    case What::Air:
        return {{.text = say("Hang the thermometer where the car drives, out of the sun, and wait "
                             "until it stands."),
                 .caution = {},
                 .label = {},
                 .truth = {},
                 .entry = Entry::Celsius,
                 .isChosen = true,
                 .hint = say("22 °C")}};
    case What::Lamp:
        return lamp();
    case What::Horn:
        return horn();
    case What::Line:
        return line();
    case What::Straightness:
        break;
    }
    return straight();
}

} // namespace badger::tune
