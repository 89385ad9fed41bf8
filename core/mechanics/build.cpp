// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/mechanics/build.h"

#include "core/kit/chemistry.h"
#include "core/mechanics/horn.h"
#include "core/units/quantity.h"

#include <algorithm>
#include <cmath>
#include <fmt/format.h>
#include <map>

namespace badger::mechanics
{

using parts::Kind;

bool BuildStep::open() const
{
    return std::all_of(before.begin(), before.end(), [](const Item &i) { return i.ticked; });
}

namespace
{

bool ticked(const kit::Car &car, const std::string &key)
{
    return std::find(car.ticks.begin(), car.ticks.end(), key) != car.ticks.end();
}

bool has(const kit::Assembly &car, Kind kind)
{
    return car.first(kind) != nullptr;
}

class Steps
{
public:
    explicit Steps(const kit::Car &car) : m_car(car) {}

    BuildStep &add(const char *key, const Say &title, const Say &text, const Say &caution = {},
                   bool irreversible = false)
    {
        BuildStep s;
        s.key = key;
        s.title = title;
        s.text = text;
        s.caution = caution;
        s.irreversible = irreversible;
        s.done = ticked(m_car, std::string("step:") + key);
        m_steps.push_back(std::move(s));
        return m_steps.back();
    }
    void before(const char *item, const Say &text)
    {
        auto &s = m_steps.back();
        const auto key = s.key + ":" + item;
        s.before.push_back({key, text, ticked(m_car, key)});
    }
    std::vector<BuildStep> take() { return std::move(m_steps); }

private:
    const kit::Car &m_car;
    std::vector<BuildStep> m_steps;
};

Say hornText(const kit::Assembly &car)
{
    const auto *servo = car.first(Kind::Servo);
    const auto *teeth = car.part(*servo)->figure("spline_teeth");
    const Say text =
        say("Command the centre and wait until it stands. Look at it for 3 seconds: it must not "
            "hum against a stop. Then put the horn on so that it looks straight ahead.");
    if (!servo->hornError_rad || teeth == nullptr)
        return text;
    const auto a = horn(static_cast<int>(std::lround(teeth->typical)), *servo->hornError_rad);
    if (!a)
        return text;
    const auto deg = [](double rad) { return units::quantity(rad, units::Unit::Degree, 2); };
    return text + say(" It lacks {0}: move the horn {1} {2|tooth|teeth}, {3} each, and let the "
                      "program add {4}.",
                      deg(*servo->hornError_rad), a->teethToMove, std::abs(a->teethToMove),
                      deg(a->step_rad), deg(a->trim_rad));
}

} // namespace

void addMotors(Steps &s)
{
    s.add("mark", say("Mark each motor's turning sense"),
          say("Hold two cells to the leads for a moment, look at the shaft from outside the "
              "car: left forward is counter-clockwise, right forward clockwise. Mark the lead "
              "that was on plus."),
          say("Cells only, never a wall adapter; do not hold a stalled motor for more than "
              "seconds."));
    s.add("solder", say("Solder the motor leads"),
          say("One lead a tab, a sleeve over each. Pull gently."),
          say("The iron and the joint stay hot; use the stand, mind the fumes, wear eye "
              "protection when cutting leads. Insulate soldered tabs."),
          true);
    s.before("marked", say("each motor's sense is marked"));
    s.before("sleeve", say("the sleeves are on the wires already"));
}

void addServo(Steps &s, const kit::Assembly &car)
{
    s.add("horn", say("Centre the servo, then its horn"), hornText(car),
          say("Hold the servo by its case. Do not turn a powered horn by hand: it strips the "
              "gear."),
          true);
    s.before("centred", say("the servo was commanded to its centre and stands still"));
    s.before("supply", say("it runs on its own window, 4.8 V to 6 V"));
    s.before("ends", say("both ends of its travel clear the deck and the wires"));
}

std::vector<BuildStep> buildSteps(const kit::Assembly &car)
{
    Steps s(car);
    const bool cells = has(car, Kind::Cell);

    s.add(
        "layout", say("Lay everything out"),
        say("Put every part on the deck where the picture has it, cells in the holder. Lift the "
            "car at its wheels and its support: it must stand on all three."),
        say("Never take a box or a case from a live installation: that is for qualified people."));
    s.add("drill", say("Drill and cut"),
          say("Print the template at full size, measure its 100 mm line, tape it on and drill "
              "through it. Holes are mirrored left and right already."),
          say("Clamp the deck, wear eye protection, keep hair and cords away. Brittle discs and "
              "sheets shatter: drill slowly, on wood."),
          true);
    s.before("line", say("the 100 mm line on the print measures 100 mm"));
    s.before("laid-out", say("every part was laid on the print and fits its outline"));
    s.before("balance", say("the car was balanced with the cells in"));
    if (cells)
        s.before("cells", say("the cells can still be taken out with everything fitted"));

    if (has(car, Kind::Motor))
        addMotors(s);
    s.add(
        "mount", say("Mount motors, wheels and support"),
        say("Screws first by hand, then tight. Wheels turn freely and run true."),
        say("Later, too: power off and cells out before a mount is undone. Boards that are stacked "
            "stand on standoffs, with no bare or pinched wire between them."));
    if (has(car, Kind::Servo))
        addServo(s, car);
    s.add("glue", say("Glue what is not screwed"),
          say("Only what never moves again: brackets, pads. Never the cells, never a connector."),
          say("Glue guns burn. Lithium cells are never glued in."), true);
    s.before("fits", say("it was driven or rolled once with tape only"));
    s.before("heights", say("every sensor's height and set-back was measured as it sits"));
    if (cells)
        s.add("cells", say("Cells in, switch off"),
              say("Polarity first, with a meter. The last wire is the pack's."),
              kit::hasLithium(car)
                  ? say("Lithium cells: no short, no puncture, fuse in the lead, charger for the "
                        "chemistry, attended, on a fire-safe place. Never under 3.0 V a cell. "
                        "Cells out "
                        "for storage.")
                  : say("Check polarity before the last wire. Cells out for storage."));
    auto steps = s.take();
    return steps;
}

std::vector<Supply> fastenerList(const kit::Assembly &car)
{
    std::vector<Supply> list;
    const auto add = [&](const std::string &partId, int count, const Say &forWhat) {
        const auto it = std::find_if(list.begin(), list.end(),
                                     [&](const Supply &s) { return s.key == "have:" + partId; });
        if (it != list.end()) {
            it->count += count;
            if (english(it->forWhat).find(english(forWhat)) == std::string::npos)
                it->forWhat = joined({it->forWhat, forWhat}, ", ");
            return;
        }
        const auto *part = car.catalogue().find(partId);
        list.push_back({"have:" + partId, Say(part ? part->name : partId), count, forWhat,
                        ticked(car, "have:" + partId)});
    };
    int cells = 0;
    bool solders = false;
    for (const auto &fitted : car->parts) {
        const auto *part = car.part(fitted);
        if (part == nullptr)
            continue;
        solders |= part->kind == Kind::Motor || part->kind == Kind::Link;
        for (const auto &f : part->fasteners)
            add(f.partId, f.count, kit::labelOf(fitted));
        if (part->kind == Kind::Cell && part->shape != "alkaline block")
            cells += kit::howMany(car, fitted);
    }
    // Holders come for six, four and two cells.
    for (const int size : {6, 4, 2})
        while (cells >= size) {
            add(fmt::format("cell-holder-{}", size), 1, "pack");
            cells -= size;
        }
    if (cells > 0)
        add("cell-holder-2", 1, "pack");
    if (solders)
        add("heat-shrink", 4, say("motor leads"));
    const auto tool = [&](const char *key, const Say &name, const Say &forWhat) {
        list.push_back({key, name, 0, forWhat, ticked(car, key)});
    };
    tool("have:tool-driver", say("screwdriver for the screws above"), "mounting");
    tool("have:tool-drill", say("drill with 2.2, 3.2 and 4.2 mm bits, clamp, eye protection"),
         "holes");
    tool("have:tool-meter", "meter", say("polarity and volts"));
    if (solders)
        tool("have:tool-iron", say("soldering iron with stand, eye protection"),
             say("motor leads"));
    return list;
}

std::vector<SenseMark> senseMarks(const kit::Assembly &car)
{
    std::vector<SenseMark> marks;
    for (const auto &fitted : car->parts) {
        const auto *part = car.part(fitted);
        if (part && (part->kind == Kind::Motor || part->kind == Kind::DriveServo) &&
            fitted.side != kit::Side::None)
            marks.push_back({fitted.id, fitted.side, fitted.side == kit::Side::Left});
    }
    return marks;
}

namespace
{

struct Look {
    std::vector<BuildStep> steps;
};

std::vector<Finding> doneBeforeLooked(const Look &look, const char *code)
{
    std::vector<Finding> found;
    for (const auto &step : look.steps) {
        if (!step.done || step.open())
            continue;
        for (const auto &item : step.before)
            if (!item.ticked)
                found.push_back({code, Severity::Warning, step.title,
                                 say("'{}' is ticked as done, but not: {}.", step.title, item.text),
                                 say("This step cannot be undone."),
                                 say("Look at it now, before the next part hides it."),
                                 at::make(step.key)});
    }
    return found;
}

bool anyDone(const Look &look)
{
    return std::any_of(look.steps.begin(), look.steps.end(),
                       [](const BuildStep &s) { return s.done; });
}

const std::vector<Check<Look>> &table()
{
    static const std::vector<Check<Look>> checks{
        {"done-before-looked", source("nothing was done before it was looked at"), doneBeforeLooked,
         "warning",
         "a step that cannot be undone is ticked, but not what has to be looked at before", nullptr,
         anyDone}};
    return checks;
}

} // namespace

Findings checkSteps(const kit::Assembly &car)
{
    Findings out;
    run<Look>(table(), {buildSteps(car)}, out);
    return out;
}

std::vector<CheckLine> checkLines()
{
    std::vector<CheckLine> lines;
    addLines<Look>(table(), lines);
    return lines;
}

} // namespace badger::mechanics
