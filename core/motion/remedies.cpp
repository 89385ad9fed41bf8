// SPDX-License-Identifier: GPL-3.0-or-later
// After a bench test: swap leads, or swap pins?
#include "core/motion/motion.h"
#include "core/nets/drive_map.h"

#include <algorithm>
#include <fmt/format.h>

namespace badger::motion
{

using kit::Side;
using parts::Kind;

namespace
{

/// Exchanges two terminals at every wire that ends at one of them.
void exchangeEnds(kit::Car &car, const std::string &a, const std::string &b)
{
    for (auto &w : car.wires)
        for (auto *end : {&w.from, &w.to})
            if (*end == a)
                *end = b;
            else if (*end == b)
                *end = a;
}

std::vector<std::string> motorsOn(const kit::Assembly &car, Side side)
{
    std::vector<std::string> all;
    for (const auto &i : car->parts)
        if (const auto *p = car.part(i); p != nullptr && p->kind == Kind::Motor && i.side == side)
            all.push_back(i.id);
    return all;
}

void crossLeads(kit::Car &car, const std::vector<std::string> &motors)
{
    for (const auto &m : motors)
        exchangeEnds(car, m + ".A", m + ".B");
}

const char *word(Side side)
{
    return side == Side::Left ? "left" : "right";
}

void reversed(const kit::Assembly &car, std::vector<Side> sides, std::vector<Remedy> &all)
{
    const bool both = sides.size() == 2;
    const auto which = both ? say("both motors") : say("the {} motor", word(sides[0]));
    std::vector<std::string> motors;
    for (const auto side : sides)
        for (auto &m : motorsOn(car, side))
            motors.push_back(std::move(m));
    if (motors.empty()) { // a servo has no leads to swap
        all.push_back(
            {say("Turn the sign of the speed of {} in the program", which),
             say("A continuous servo takes its sense from the pulse: there is no lead to swap."),
             true,
             false,
             {}});
        return;
    }
    Remedy leads;
    leads.what = say("Swap the two leads of {} where they meet the driver", which);
    leads.why =
        say("The drawing and the program stay as they are: nothing has to be loaded again.");
    leads.best = !both;
    leads.wires = true;
    leads.apply = [](kit::Car &) {}; // the hand makes the drawing true
    Remedy pins;
    pins.what = say("Leave the leads of {} and swap the direction pins in the program", which);
    pins.why =
        both ? say("Nothing has to be unscrewed: the drawing takes the leads as they are on the "
                   "car, and the program its pins from it. Load it again.")
             : say("The drawing takes the leads as they are on the car, and the program its pins "
                   "from it. Load it again. Right where leads are soldered or out of reach.");
    pins.best = both;
    pins.apply = [motors](kit::Car &edited) { crossLeads(edited, motors); };
    all.push_back(std::move(leads));
    all.push_back(std::move(pins));
}

} // namespace

std::vector<Remedy> remedies(const kit::Assembly &car, const BenchTest &test)
{
    std::vector<Remedy> all;
    if (test.crossed) {
        const auto left = motorsOn(car, Side::Left);
        const auto right = motorsOn(car, Side::Right);
        Remedy pins;
        pins.what = say("Leave the wires and swap left and right in the program");
        pins.why = say("The drawing takes the outputs as they are on the car, and the program its "
                       "pins from it. Load it again.");
        pins.best = true;
        pins.apply = [left, right](kit::Car &edited) {
            for (size_t i = 0; i < std::min(left.size(), right.size()); ++i)
                for (const auto *lead : {".A", ".B"})
                    exchangeEnds(edited, left[i] + lead, right[i] + lead);
            // Mounted as mirror images: the same output turns the other motor the other way.
            crossLeads(edited, left);
            crossLeads(edited, right);
        };
        Remedy wires;
        wires.what = say("Move the leads of both motors to the outputs of the other channel");
        wires.why = say("The drawing and the program stay as they are.");
        wires.wires = true;
        wires.apply = [](kit::Car &) {};
        all.push_back(std::move(pins));
        all.push_back(std::move(wires));
    }
    std::vector<Side> back;
    for (const auto side : {Side::Left, Side::Right}) {
        const auto turn = side == Side::Left ? test.left : test.right;
        if (turn == Turn::Backward)
            back.push_back(side);
        if (turn != Turn::Dead && turn != Turn::Coast && turn != Turn::Brake)
            continue;
        all.push_back({say("Look for the {} motor's supply, enable and leads", word(side)),
                       say("A wheel that does not turn is not helped by swapping anything."),
                       back.empty() && !test.crossed,
                       true,
                       {}});
    }
    if (!back.empty())
        reversed(car, back, all);
    std::stable_sort(all.begin(), all.end(),
                     [](const Remedy &a, const Remedy &b) { return a.best && !b.best; });
    return all;
}

} // namespace badger::motion
