// SPDX-License-Identifier: GPL-3.0-or-later
// Wires, pins and motion of a car.
#include "cli/workshop_commands.h"
#include "cli/workshop_pick.h"
#include "core/diagnose/diagnose.h"
#include "core/edit/kit_edits.h"
#include "core/io/storage.h"
#include "core/judge/program_motion.h"
#include "core/judge/sums.h"
#include "core/motion/motion.h"
#include "core/pins/planner.h"
#include "core/revisions/history.h"
#include "core/wiring/check.h"
#include "core/wiring/wire_list.h"

#include <algorithm>

namespace badger::cli
{

Json wireJson(const kit::Wire &w)
{
    return {{"from", w.from}, {"to", w.to}, {"colour", w.colour}};
}

namespace
{

Json wiresJson(const std::vector<kit::Wire> &wires)
{
    auto list = Json::array();
    for (const auto &w : wires)
        list.push_back(wireJson(w));
    return list;
}

/// The car as of a revision; its own number means as it stands.
Result<kit::Car> asOf(const kit::Car &car, int number)
{
    if (auto then = badger::revisions::asOf(car, number))
        return std::move(*then);
    std::vector<std::string> known;
    for (const auto &r : car.history)
        known.push_back(std::to_string(r.number));
    if (badger::revisions::finished(car, car.wiringRevision) == nullptr)
        known.push_back(std::to_string(car.wiringRevision));
    return fail(Error::Kind::Missing, "--between",
                fmt::format("{} has no wiring revision {}", car.name, number),
                fmt::format("it has {}", fmt::join(known, ", ")));
}

Answer betweenAnswer(const kit::Car &before, const kit::Car &after,
                     const parts::Catalogue &catalogue)
{
    Answer a;
    const auto [changes, hand, stale] = badger::revisions::rebuild(before, {after, catalogue});
    auto steps = Json::array();
    int n = 0;
    a.text += "power off\n";
    for (const auto &s : hand) {
        a.text += fmt::format("{:>3}  {}\n", ++n, s.text);
        steps.push_back(s.text);
    }
    if (n == 0)
        a.text = "nothing changes\n";
    auto constants = Json::array();
    for (const auto &c : stale.constants) {
        a.text += c.behind ? fmt::format("stale in the program: {} is {}, the wire is on {}\n",
                                         c.terminal, c.before, c.after)
                           : fmt::format("stale in the program: {} was {}, is {}\n", c.terminal,
                                         c.before.empty() ? "none" : c.before,
                                         c.after.empty() ? "none" : c.after);
        constants.push_back({{"terminal", c.terminal},
                             {"before", c.before.empty() ? Json(nullptr) : Json(c.before)},
                             {"after", c.after.empty() ? Json(nullptr) : Json(c.after)},
                             {"behind", c.behind}});
    }
    for (const auto &c : stale.calibrations)
        a.text += fmt::format("measure again: {}\n", c);
    if (!stale.partTests.empty())
        a.text += fmt::format("test again: {}\n", fmt::join(stale.partTests, ", "));
    for (const auto &t : stale.trials)
        a.text += fmt::format("drive: {}\n", t);
    auto moved = Json::array();
    for (const auto &m : changes.moved)
        moved.push_back(
            {{"stays", m.stays}, {"from", m.from}, {"to", m.to}, {"colour", m.after.colour}});
    a.json = {{"removed", wiresJson(changes.removed)},
              {"moved", moved},
              {"added", wiresJson(changes.added)},
              {"recoloured", wiresJson(changes.recoloured)},
              {"jumpers_off", changes.jumpersOff},
              {"jumpers_on", changes.jumpersOn},
              {"steps", steps},
              {"stale_constants", constants},
              {"stale_calibrations", stale.calibrations},
              {"part_tests", stale.partTests},
              {"trials", stale.trials},
              {"findings", Json::array()}};
    return a;
}

} // namespace

Result<Answer> wiring(const std::string &file, const std::string &carName,
                      const std::vector<int> &revisions, const Output &csv)
{
    const auto p = pickCar(file, carName);
    if (!p)
        return tl::unexpected(p.error());
    const auto &car = p->car;
    const auto &catalogue = p->opened.catalogue;
    if (revisions.size() == 2) {
        const auto before = asOf(car, revisions[0]);
        const auto after = asOf(car, revisions[1]);
        if (!before)
            return tl::unexpected(before.error());
        if (!after)
            return tl::unexpected(after.error());
        return betweenAnswer(*before, *after, catalogue);
    }
    Answer a;
    if (!csv.path.empty()) {
        if (auto ok = io::saveOutput(csv.path, badger::wiring::wireListCsv(car), csv.replace, file);
            !ok)
            return tl::unexpected(ok.error());
        a.text += "wire list written to " + csv.path + "\n";
    }
    std::vector<std::vector<Say>> rows = {{"", "from", "to", "colour"}};
    for (size_t i = 0; i < car.wires.size(); ++i)
        rows.push_back(
            {std::to_string(i + 1), car.wires[i].from, car.wires[i].to, car.wires[i].colour});
    a.text += car.wires.empty() ? "no wire yet\n" : aligned(rows);
    auto history = Json::array();
    for (const auto &r : car.history) {
        a.text += fmt::format("revision {}, {}: {}\n", r.number, r.date, r.reason);
        history.push_back({{"number", r.number},
                           {"date", r.date},
                           {"reason", r.reason},
                           {"wires", static_cast<int>(r.wires.size())}});
    }
    if (!car.wires.empty())
        a.why = derivationText(judge::whyWheels({car, catalogue}));
    const bool open = badger::revisions::isOpen(car);
    if (open)
        a.text += fmt::format("revision {} is open: its reason is not written down yet\n",
                              car.wiringRevision);
    std::vector<Finding> findings;
    if (!car.wires.empty()) {
        const kit::Assembly assembly(car, catalogue);
        findings = diagnose::wires(assembly);
    }
    std::stable_sort(findings.begin(), findings.end(), [](const Finding &x, const Finding &y) {
        return x.severity < y.severity; // errors first
    });
    a.text += findingsText(findings);
    a.json = {{"revision", car.wiringRevision},
              {"open", open},
              {"wires", wiresJson(car.wires)},
              {"program_pins", car.programPins},
              {"history", history},
              {"findings", findingsJson(findings)}};
    a.hasError = hasError(findings);
    return a;
}

namespace
{

Result<void> addAll(kit::Car &car, const parts::Catalogue &catalogue,
                    const std::vector<std::string> &adding)
{
    for (const auto &wanted : adding) {
        const auto &all = catalogue.parts();
        const auto part = std::find_if(all.begin(), all.end(), [&](const parts::Part &x) {
            return x.id == wanted || x.name == wanted;
        });
        if (part == all.end())
            return fail(Error::Kind::Missing, "--add",
                        fmt::format("there is no part '{}' in the catalogue", wanted),
                        "write its name as the Parts page shows it, as 'pan servo, 21 teeth'");
        edit::addPart(car, catalogue, part->id);
    }
    return {};
}

} // namespace

Result<Answer> pins(const std::string &file, const std::string &carName,
                    const std::vector<std::string> &adding)
{
    auto p = pickCar(file, carName);
    if (!p)
        return tl::unexpected(p.error());
    const auto &catalogue = p->opened.catalogue;
    if (auto added = addAll(p->car, catalogue, adding); !added)
        return tl::unexpected(added.error());
    const auto problem = badger::pins::pinProblem({p->car, catalogue});
    if (problem.board == nullptr)
        return fail(Error::Kind::Missing, "car '" + p->car.name + "'", "it has no board",
                    "add a board: without one there are no pins to plan");
    const auto plan = badger::pins::planPins(problem);
    Answer a;
    auto map = Json::array();
    std::vector<std::vector<Say>> rows = {{"function", "pin", ""}};
    for (const auto &c : plan.choices) {
        rows.push_back({c.sharing.empty()
                            ? c.terminal
                            : fmt::format("{}, {}", c.terminal, fmt::join(c.sharing, ", ")),
                        c.to,
                        c.added()   ? "new"
                        : c.moved() ? "moves from " + c.from
                                    : ""});
        map.push_back({{"function", c.terminal},
                       {"sharing", c.sharing},
                       {"from", c.from.empty() ? Json(nullptr) : Json(c.from)},
                       {"to", c.to},
                       {"moved", c.moved()}});
    }
    auto ways = Json::array();
    for (const auto &w : plan.waysOut)
        ways.push_back({{"what", w.what}, {"cost", w.cost}});
    if (plan.possible()) {
        a.text = aligned(rows) + fmt::format("{} {} to move, {} to add\n", plan.moves,
                                             plan.moves == 1 ? "wire" : "wires", plan.additions);
    } else {
        a.text = fmt::format("no map exists: {}\n", plan.proof);
        for (const auto &w : plan.waysOut)
            a.text += fmt::format("way out: {}; {}\n", w.what, w.cost);
        if (plan.waysOut.empty())
            a.text += "no one or two changes known here help: take a board with more pins\n";
    }
    a.json = {{"possible", plan.possible()},
              {"moves", plan.moves},
              {"additions", plan.additions},
              {"pins", map},
              {"libraries", problem.libraries},
              {"competing", plan.competing},
              {"pins_left", plan.pins},
              {"proof", plan.possible() ? Json(nullptr) : Json(plan.proof)},
              {"ways_out", ways},
              {"findings", Json::array()}};
    a.hasError = !plan.possible();
    return a;
}

Result<Answer> motion(const std::string &file, const std::string &carName)
{
    const auto p = pickCar(file, carName);
    if (!p)
        return tl::unexpected(p.error());
    const auto table = badger::motion::motion({p->car, p->opened.catalogue});
    Answer a;
    std::vector<std::vector<Say>> rows(1);
    auto inputs = Json::array();
    for (const auto &in : table.inputs) {
        rows[0].push_back(in.name);
        inputs.push_back({{"name", in.name}, {"terminal", in.terminal}, {"drives", in.drives}});
    }
    for (const auto *head : {"left wheel", "right wheel", "", "the car"})
        rows[0].push_back(head);
    auto list = Json::array();
    for (const auto &r : table.rows) {
        std::vector<Say> row;
        Json levels = Json::object();
        for (size_t i = 0; i < r.levels.size(); ++i) {
            row.push_back(table.inputs[i].levelName(r.levels[i]));
            levels[table.inputs[i].name] = row.back();
        }
        for (const auto *cell : {badger::motion::name(r.left), badger::motion::name(r.right),
                                 badger::motion::arrow(r.path), badger::motion::words(r.path)})
            row.push_back(cell);
        rows.push_back(row);
        list.push_back({{"levels", levels},
                        {"outputs", r.outputs},
                        {"left", badger::motion::name(r.left)},
                        {"right", badger::motion::name(r.right)},
                        {"car", badger::motion::words(r.path)}});
    }
    if (table.rows.empty())
        a.text = "nothing drives an input: there is no pattern to show\n";
    else
        a.text = aligned(rows);
    for (const auto &n : table.notes)
        a.text += words(n) + "\n";
    auto actions = Json::array();
    if (const auto *program = p->opened.workshop.program(p->car.program))
        for (const auto &action :
             judge::actionsOn({p->car, p->opened.catalogue}, *program, table)) {
            const std::string does = action.row < 0 ? "a pattern that the wires do not have"
                                                    : badger::motion::words(action.path);
            a.text += fmt::format("program '{}', {}: {}\n", program->name, action.state, does);
            actions.push_back({{"state", action.state},
                               {"wanted", badger::motion::words(action.wanted)},
                               {"car", action.row < 0 ? Json(nullptr) : Json(does)}});
        }
    a.json = {{"inputs", inputs},
              {"rows", list},
              {"program", actions},
              {"notes", table.notes},
              {"findings", Json::array()}};
    return a;
}

} // namespace badger::cli
