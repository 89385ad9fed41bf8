// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/firstpower/walk.h"

#include "core/kit/chemistry.h"
#include "core/nets/nets.h"
#include "core/power/tree.h"
#include "core/units/quantity.h"

#include <algorithm>
#include <fmt/format.h>
#include <set>

namespace badger::firstpower
{

using kit::Charge;
using parts::Kind;
using parts::Role;
using power::Case;
using power::Load;
using units::quantity;
using units::Unit;

namespace
{

constexpr double shortBelow_ohm = 100.0; ///< less between plus and ground is a short: our choice
constexpr double joinedBelow_ohm = 2.0;  ///< a joined ground and the meter's own leads
constexpr double target_m = 0.30;        ///< a book, square before a ranger
constexpr double railShare = 0.05;       ///< a regulated rail keeps within five in a hundred

units::Quantity volts(double v)
{
    return quantity(v, Unit::Volt, 2);
}

class Walker
{
public:
    Walker(const kit::Assembly &car) : m_car(car), m_nets(car), m_tree(power::solve(car)) {}

    std::vector<Step> make()
    {
        withoutPower();
        for (const auto &s : m_steps)
            if (s.measure == Measure::Ohms)
                m_measured = true;
        if (!m_measured)
            return {}; // nothing is wired
        m_powered = true;
        rails();
        lights();
        motors();
        servos();
        sensors();
        outputs();
        return std::move(m_steps);
    }

private:
    Step &add(std::string key, Say title, Say text, Say fails)
    {
        Step s;
        s.key = std::move(key);
        s.title = std::move(title);
        s.text = std::move(text);
        s.fails = std::move(fails);
        s.powered = m_powered;
        m_steps.push_back(std::move(s));
        return m_steps.back();
    }

    template <class Visit> void each(Kind kind, Visit visit) const
    {
        for (const auto &fitted : m_car->parts)
            if (const auto *part = m_car.part(fitted); part && part->kind == kind)
                visit(fitted, *part);
    }

    /// The first wired terminal of a role on a part; empty where there is none.
    std::string wiredOf(const kit::Instance &fitted, const parts::Part &part, Role role) const
    {
        for (const auto &t : part.terminals)
            if (t.role == role && m_nets.wired(fitted.id + "." + t.name))
                return fitted.id + "." + t.name;
        return {};
    }

    std::string minus() const
    {
        for (const auto &m : m_nets.all())
            if (m.terminal->role == Role::Minus && m.wires > 0 && m_nets.standsOn(m) == nullptr)
                return m.name;
        return {};
    }

    void withoutPower()
    {
        add("look:cells-out", say("Cells out, motors off the ground"),
            say("Take the cells out, close the switch, put the car on blocks."),
            say("A meter on ohms is damaged by volts, and a wheel that starts tears a wire."))
            .caution = say("Wheels free, fingers, hair and cords away from them.");
        const auto common = minus();
        if (common.empty())
            return;
        for (const auto &m : m_nets.all()) {
            if (m.terminal->role != Role::SupplyIn || m.wires == 0 || !m_nets.isSupply(m.net) ||
                !m_shortsAt.insert(m.net).second)
                continue;
            auto &s = add("ohms:short:" + m.name, say("Ohms from {} to {}", m.name, common),
                          say("One lead on each. The number may climb while a capacitor fills; OL, "
                              "over the range, is fine."),
                          say("A wire joins plus to ground, or a part is the wrong way round: take "
                              "the last wires off one by one until it is gone."));
            s.measure = Measure::Ohms;
            s.low = shortBelow_ohm;
            s.expected = say("more than {}", quantity(shortBelow_ohm, Unit::Ohm));
        }
        for (const auto &fitted : m_car->parts) {
            const auto *part = m_car.part(fitted);
            const auto ground = part ? wiredOf(fitted, *part, Role::Ground) : std::string{};
            if (ground.empty())
                continue;
            auto &s =
                add("ohms:ground:" + fitted.id, say("Ohms from {} to {}", ground, common),
                    say("One lead on each; hold the two leads together first and take that off."),
                    say("This ground is not joined: its lights may glow and nothing works. Look at "
                        "the black wire and its hole."));
            s.measure = Measure::Ohms;
            s.high = joinedBelow_ohm;
            s.expected = say("less than {}", quantity(joinedBelow_ohm, Unit::Ohm));
        }
        add("look:polarity", say("Red at plus, black at ground"),
            say("Follow each red and each black wire of each module with a finger from end to "
                "end."),
            say("A module with plus and ground changed over burns at once."));
    }

    /// The volts that may be read at a node while nothing moves, from near empty to fresh cells.
    void rails()
    {
        add("look:cells-in", say("Cells in, switch on"),
            say("Put the cells in the right way round. Close the switch and look for a moment."),
            say("Open the switch at once where anything smells, smokes or gets warm: then measure "
                "the ohms again."))
            .caution =
            say("One supply at a time: no cable to a computer now. Hand at the switch.{}",
                kit::hasLithium(m_car) ? say(" Lithium cells never under 3.0 V each.") : Say());
        for (size_t i = 0; i < m_tree.nodes.size(); ++i) {
            const auto &n = m_tree.nodes[i];
            const bool output = n.kind == power::NodeKind::Output;
            if ((n.kind != power::NodeKind::Input && !output) || !m_nets.wired(n.id))
                continue;
            const auto at = [&](Charge c, Case k) {
                return m_tree.at(static_cast<int>(i), {c, Load::Idle, k});
            };
            const auto empty = at(Charge::NearEmpty, Case::Worst);
            const auto fresh = at(Charge::Fresh, Case::Worst);
            if (!empty.voltsKnown || !fresh.voltsKnown)
                continue;
            double low = empty.volts_V;
            double high = fresh.ceiling_V;
            const auto *t = m_car.terminal(n.id);
            if (output) {
                low = t->source_V * (1.0 - railShare);
                high = t->source_V * (1.0 + railShare);
            }
            if (n.window) {
                low = std::max(low, n.window->low_V);
                high = std::min(high, n.window->high_V);
            }
            if (low >= high)
                continue; // the wiring has an error here, said elsewhere
            auto &s = add("volts:" + n.id, say("Volts at ") + n.id,
                          say("Black lead on ground, red lead on {}.", n.id),
                          output ? say("Its regulator is not fed, or something pulls it down: "
                                       "switch off, take its loads off one by one.")
                                 : say("Too low: cells near empty, or a bad joint on the way. Too "
                                       "high: switch off, this part is on the wrong supply."));
            s.measure = Measure::Volts;
            s.low = low;
            s.high = high;
            s.expected = say("{} to {}", volts(low), volts(high));
        }
    }

    /// How a part test gets onto the board: the pack is open while the computer is plugged in, and
    /// either unplugged again or left to feed the board.
    Say loaded(const Say &then, bool fed = false) const
    {
        if (m_car.first(Kind::Board) == nullptr)
            return then;
        return fed ? say("Open the switch or take a cell out, then plug the computer in and load "
                         "the "
                         "part test; the cable feeds the board. {}",
                         then)
                   : say("Open the switch or take a cell out, then plug the computer in, load the "
                         "part test and unplug it again. {}",
                         then);
    }
    Say loadedAndFed(const Say &then) const { return loaded(then, true); }

    void lights()
    {
        each(Kind::Driver, [&](const kit::Instance &f, const parts::Part &) {
            add("look:light:" + f.id, say("The light on {} is on", kit::labelOf(f)),
                say("Look at its power light, where it has one; without one it counts as on."),
                say("It lights only once its ground is joined: measure that ground again."));
        });
        each(Kind::Infrared, [&](const kit::Instance &f, const parts::Part &) {
            add("look:light:" + f.id,
                say("{}: power light on, reflection light follows a hand", kit::labelOf(f)),
                say("Pass a white card under it and take it away."),
                say("No power light: its supply or ground. No change: turn its trimmer, or its "
                    "distance to the floor is wrong."));
        });
    }

    void motors()
    {
        each(Kind::Motor, [&](const kit::Instance &f, const parts::Part &) { wheel(f); });
        each(Kind::DriveServo, [&](const kit::Instance &f, const parts::Part &) { wheel(f); });
    }

    void wheel(const kit::Instance &fitted)
    {
        const auto sense = fitted.side == kit::Side::Right ? "clockwise" : "counter-clockwise";
        add("look:motor:" + fitted.id,
            say("{} alone: forward, then backward", kit::labelOf(fitted)),
            loaded(
                say("Close the switch. Forward is {} seen from outside on its own side.", sense)),
            say("The other wheel, or the other way: answer the question on the Motion page. Not at "
                "all: its enable, then its leads."))
            .caution =
            say("Wheels off the ground. A held wheel draws its stall current: seconds only.");
    }

    void servos()
    {
        each(Kind::Servo, [&](const kit::Instance &f, const parts::Part &) {
            add("look:servo:" + f.id, say("{}: straight ahead, and quiet", kit::labelOf(f)),
                loaded(say("Close the switch and look from above within the first second.")),
                say("It hums or drums against its end: switch off, the horn is some teeth off, or "
                    "its supply sags when it starts."))
                .caution = say("Fingers out of the horn's way.");
        });
    }

    void sensors()
    {
        each(Kind::Ranger, [&](const kit::Instance &f, const parts::Part &part) {
            const auto *error = part.figure("error_m");
            const double around = std::max(0.01, error ? error->high : 0.0);
            auto &s =
                add("length:" + f.id, say("{} reads a flat target", kit::labelOf(f)),
                    loadedAndFed(say(
                        "Stand a book square before it, {} from its face, and read what it prints.",
                        quantity(target_m, Unit::Centimetre))),
                    say("0 or no echo: trigger and echo crossed, or no ground. A steady wrong "
                        "number: something else is nearer, or the air is taken wrong."));
            s.measure = Measure::Length;
            s.low = target_m - around;
            s.high = target_m + around;
            s.expected = say("{} to {}", quantity(*s.low, Unit::Centimetre, 1),
                             quantity(*s.high, Unit::Centimetre, 1));
        });
        for (const auto kind : {Kind::Infrared, Kind::Strip, Kind::Reflectance})
            each(kind, [&](const kit::Instance &f, const parts::Part &) {
                add("look:surfaces:" + f.id, say("{} tells light from dark", kit::labelOf(f)),
                    loadedAndFed(say("Hold it over the light and over the dark surface and read "
                                     "what it prints.")),
                    say("The same over both: height, trimmer, or an emitter that does not shine."));
                add("look:emitter:" + f.id, say("{}'s emitter shines", kit::labelOf(f)),
                    say("Look at it through a camera: it glows pale. Some main cameras of phones "
                        "filter it out, try the front one."),
                    say("No glow in any camera: its supply, its resistor, or it is the wrong way "
                        "round."))
                    .caution = say("Do not stare into it close up.");
            });
    }

    void outputs()
    {
        for (const auto kind : {Kind::Led, Kind::Buzzer})
            each(kind, [&](const kit::Instance &f, const parts::Part &) {
                add("look:output:" + f.id, say("{} answers its pin", kit::labelOf(f)),
                    loadedAndFed(say(
                        "With a tester LED and 330 ohm at the pin you see what the board gives.")),
                    say("The tester blinks and this does not: it is the wrong way round or broken. "
                        "Neither blinks: the pin or the program."));
            });
    }

    const kit::Assembly &m_car;
    nets::Nets m_nets;
    power::Tree m_tree;
    std::set<int> m_shortsAt;
    std::vector<Step> m_steps;
    bool m_powered = false;
    bool m_measured = false;
};

} // namespace

std::vector<Step> walk(const kit::Assembly &car)
{
    return Walker(car).make();
}

Verdict judge(const Step &step, const kit::WalkEntry *entry)
{
    if (entry == nullptr)
        return Verdict::Open;
    if (step.measure == Measure::Look)
        return entry->asExpected ? Verdict::Right : Verdict::Wrong;
    if (!entry->value)
        return Verdict::Open;
    const bool right =
        (!step.low || *entry->value >= *step.low) && (!step.high || *entry->value <= *step.high);
    return right ? Verdict::Right : Verdict::Wrong;
}

const kit::WalkEntry *entryOf(const kit::Car &car, const std::string &key)
{
    const auto it = std::find_if(car.walk.begin(), car.walk.end(), [&](const kit::WalkEntry &e) {
        return e.key == key && e.revision == car.wiringRevision;
    });
    return it == car.walk.end() ? nullptr : &*it;
}

Progress progress(const kit::Car &car, const std::vector<Step> &steps)
{
    Progress p;
    p.steps = static_cast<int>(steps.size());
    int open = -1;
    for (int i = 0; i < p.steps; ++i) {
        const auto &step = steps[static_cast<size_t>(i)];
        switch (judge(step, entryOf(car, step.key))) {
        case Verdict::Right:
            ++p.right;
            break;
        case Verdict::Wrong:
            ++p.wrong;
            if (p.at < 0)
                p.at = i;
            break;
        case Verdict::Open:
            if (open < 0)
                open = i;
            break;
        }
    }
    if (p.at < 0)
        p.at = open;
    return p;
}

} // namespace badger::firstpower
