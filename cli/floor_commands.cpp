// SPDX-License-Identifier: GPL-3.0-or-later
#include "cli/floor_commands.h"

#include "cli/workshop_pick.h"
#include "core/base/angle.h"
#include "core/base/medium.h"
#include "core/faults/faults.h"
#include "core/io/storage.h"
#include "core/judge/drive.h"
#include "core/judge/judge.h"
#include "core/judge/program_around.h"
#include "core/rules/key_words.h"
#include "core/tune/csv_rows.h"
#include "core/units/quantity.h"
#include "core/world/words.h"

#include <charconv>
#include <fmt/format.h>

namespace badger::cli
{

namespace
{

double ms(std::uint64_t time_us)
{
    return static_cast<double>(time_us) / 1000.0;
}

std::optional<rules::Command> commandOf(std::string_view text)
{
    for (size_t i = 0; i < rules::commandWords.size(); ++i)
        if (text == rules::commandWords[i])
            return static_cast<rules::Command>(i);
    return std::nullopt;
}

Result<std::vector<world::KeyPress>> keysOf(const std::string &path)
{
    std::vector<world::KeyPress> keys;
    if (path.empty())
        return keys;
    const auto text = io::readFile(path);
    if (!text)
        return tl::unexpected(text.error());
    const auto rows = tune::csvRows(*text, path);
    if (!rows)
        return tl::unexpected(rows.error());
    if (rows->empty() || rows->front() != std::vector<std::string>{"time_ms", "key"})
        return fail(Error::Kind::Missing, path, say("its columns are not time_ms and key"),
                    say("begin it with the line: time_ms,key"));
    for (size_t i = 1; i < rows->size(); ++i) {
        const auto &row = (*rows)[i];
        const auto key = commandOf(row[1]);
        const auto *from = row[0].data();
        const auto *to = from + row[0].size();
        double time_ms = 0.0;
        const auto read = std::from_chars(from, to, time_ms);
        const bool rises = keys.empty() || time_ms * 1000.0 >= double(keys.back().time_us);
        if (!key || read.ec != std::errc{} || read.ptr != to || !rises ||
            !(time_ms >= 0.0 && time_ms <= 600000.0))
            return fail(Error::Kind::Malformed, say("{}, row {}", path, i + 1),
                        say("'{}' at '{}' is no key at a later time", row[1], row[0]),
                        say("write rising milliseconds, then ahead, back, left, right or none"));
        keys.push_back({static_cast<std::uint64_t>(time_ms * 1000.0), *key});
    }
    return keys;
}

Json touchesJson(const world::Plan &plan, const world::Trace &t)
{
    Json all = Json::array();
    for (const auto &touch : t.touches)
        all.push_back({{"time_ms", ms(touch.time_us)},
                       {"phase", world::word(touch.phase)},
                       {"part", world::partOf(plan.on->model(), touch.onCar)},
                       {"what", plan.arena.name(touch.thing)},
                       {"speed_m_s", touch.speed_mps}});
    return all;
}

Json timedJson(const task::Score &s, const rules::Program &program, bool turns)
{
    Json all = Json::array();
    const double factor = turns ? 1.0 / degree : 100.0;
    for (const auto &t : s.timed) {
        if (t.turns != turns)
            continue;
        Json one = {{"time_ms", ms(t.time_us)},
                    {"state", program.states[static_cast<size_t>(t.mode)].name}};
        one[turns ? "asked_deg" : "asked_cm"] = orNull(t.asked, factor);
        one[turns ? "turned_deg" : "moved_cm"] = t.done * factor;
        one[turns ? "settled_deg" : "settled_cm"] = t.settled * factor;
        all.push_back(std::move(one));
    }
    return all;
}

Json sidesJson(const task::Score &s)
{
    Json all = Json::array();
    for (const auto &side : s.sides)
        all.push_back({{"time_ms", ms(side.time_us)},
                       {"took", side.left ? "left" : "right"},
                       {"left_cm", orNull(side.left_m, 100.0)},
                       {"right_cm", orNull(side.right_m, 100.0)},
                       {"longer", task::isLonger(side)}});
    return all;
}

Json answerJson(const judge::Drive &drive, const judge::Run &run)
{
    const auto &plan = drive.plan();
    const auto &t = run.trace;
    const auto &s = run.score;
    Json losses = Json::array();
    for (const auto &l : s.losses)
        losses.push_back(
            {{"time_ms", ms(l.time_us)},
             {"where",
              fmt::format("{:.0f} cm along {}", l.along_m * 100.0,
                          plan.arena.name(plan.arena.tracks[static_cast<size_t>(l.track)].thing))},
             {"found_again", l.found}});
    Json wrong = Json::array();
    for (const size_t i : s.wrong) {
        const auto &p = t.pings[i];
        wrong.push_back(
            {{"time_ms", ms(p.sent_us)},
             {"sensor", plan.on->model().rangers[static_cast<size_t>(p.ranger)].instance},
             {"read_cm", p.read_m < 0 ? Json(nullptr) : Json(p.read_m * 100.0)},
             {"true_cm", p.true_m < 0 ? Json(nullptr) : Json(p.true_m * 100.0)},
             {"kind", world::word(p.wrong)},
             {"why", world::why(plan, p)}});
    }
    // Lengths and headings are told from the start: along the way the car looked, and to its left.
    const auto &start = plan.start;
    const auto &end = t.path.back().pose;
    const auto nose = start.at + plan.on->model().axleToNose_m * start.looks;
    const auto moved = arena::turned(end.at - nose, {start.looks.x, -start.looks.y});
    const bool line = s.kind == task::Kind::FollowsLine;
    return {{"verdict", task::verdict(plan, t, s)},
            {"task", task::word(s.kind)},
            {"task_met", s.good},
            {"gap_cm", orNull(s.gap_m, 100.0)},
            {"rest_ms", orNull(s.rest_s, 1000.0)},
            {"contact", !t.touches.empty()},
            {"contacts", touchesJson(plan, t)},
            {"nearest_cm", t.nearestThing < 0 ? Json(nullptr) : Json(t.nearest_m * 100.0)},
            {"stuck_ms", s.stuck_s * 1000.0},
            {"driven_cm", s.driven_m * 100.0},
            {"coverage", s.coverage ? Json(*s.coverage) : Json(nullptr)},
            {"laps", line ? Json(s.laps) : Json(nullptr)},
            {"losses", losses},
            {"swing_mm", line ? Json(s.swing_m * 1000.0) : Json(nullptr)},
            {"mean_speed_m_s", s.mean_mps},
            {"held_cm", orNull(s.held_m, 100.0)},
            {"spread_cm", orNull(s.spread_m, 100.0)},
            {"to_edge_cm", orNull(s.toEdge_m, 100.0)},
            {"fell", t.fell ? Json{{"time_ms", ms(t.fell->time_us)},
                                   {"wheel", t.fell->wheel == 0   ? "left"
                                             : t.fell->wheel == 1 ? "right"
                                                                  : "support"}}
                            : Json(nullptr)},
            {"left_plan", t.end == world::End::LeftPlan},
            {"blind_ms", t.pings.empty() ? Json(nullptr) : Json(s.blind_s * 1000.0)},
            {"blind_cm", t.pings.empty() ? Json(nullptr) : Json(s.blind_m * 100.0)},
            {"turns", timedJson(s, plan.on->program(), true)},
            {"moves", timedJson(s, plan.on->program(), false)},
            {"sides", sidesJson(s)},
            {"readings", t.pings.size()},
            {"wrong_readings", wrong},
            {"end",
             {{"x_cm", moved.x * 100.0},
              {"y_cm", moved.y * 100.0},
              {"heading_deg", std::atan2(arena::cross(start.looks, end.looks),
                                         arena::dot(start.looks, end.looks)) /
                                  degree}}},
            {"end_ms", ms(t.end_us)},
            {"seed", t.seed},
            {"fingerprint", fmt::format("{:016x}", world::fingerprint(t))}};
}

std::string traceCsv(const world::Plan &plan, const world::Trace &t)
{
    std::string csv =
        "time_ms,x_cm,y_cm,heading_deg,left_m_s,right_m_s,sensor,read_cm,true_cm,why\n";
    size_t ping = 0;
    for (const auto &m : t.path) {
        for (; ping < t.pings.size() && t.pings[ping].sent_us <= m.time_us; ++ping) {
            const auto &p = t.pings[ping];
            const auto at = world::at(t, p.sent_us);
            csv += fmt::format(
                "{},{},{},{},{},{},{},{},{},{}\n", ms(p.sent_us), at.pose.at.x * 100.0,
                at.pose.at.y * 100.0, std::atan2(at.pose.looks.y, at.pose.looks.x) / degree,
                at.wheels_mps[0], at.wheels_mps[1],
                medium::csv(plan.on->model().rangers[static_cast<size_t>(p.ranger)].instance),
                p.read_m < 0 ? "none" : fmt::format("{}", p.read_m * 100.0),
                p.true_m < 0 ? "" : fmt::format("{}", p.true_m * 100.0),
                medium::csv(words(world::why(plan, p))));
        }
        csv += fmt::format("{},{},{},{},{},{},,,,\n", ms(m.time_us), m.pose.at.x * 100.0,
                           m.pose.at.y * 100.0, std::atan2(m.pose.looks.y, m.pose.looks.x) / degree,
                           m.wheels_mps[0], m.wheels_mps[1]);
    }
    return csv;
}

std::string listText(const world::Plan &plan, const judge::Run &run)
{
    const auto &t = run.trace;
    std::string text = words(task::verdict(plan, t, run.score)) + "\n";
    const size_t most = 12;
    for (size_t i = 0; i < std::min(most, t.touches.size()); ++i)
        text += "  " + words(world::words(plan, t.touches[i])) + "\n";
    if (!run.score.wrong.empty()) {
        text += fmt::format("{} of {} readings are not what stands there:\n",
                            run.score.wrong.size(), t.pings.size());
        std::string last;
        size_t told = 0;
        for (const size_t i : run.score.wrong) {
            const auto why = words(world::why(plan, t.pings[i]));
            if (why == last || told == most)
                continue;
            text += fmt::format("  {:.2f} s  {}\n", double(t.pings[i].sent_us) * 1e-6, why);
            last = why;
            ++told;
        }
    }
    return text;
}

} // namespace

Result<Answer> trial(const std::string &file, const std::string &carName, const Driving &how)
{
    const auto p = pickCar(file, carName);
    if (!p)
        return tl::unexpected(p.error());
    const auto &workshop = p->opened.workshop;
    const auto *program = workshop.program(p->car.program);
    if (program == nullptr)
        return fail(Error::Kind::Missing, "car '" + p->car.name + "'", say("it runs no program"),
                    say("choose one at the Rule station"));
    const auto *floor = workshop.floor(how.floor);
    if (floor == nullptr)
        return fail(Error::Kind::Missing, "--floor",
                    fmt::format("there is no floor '{}'", how.floor),
                    "use one of: " + names(workshop.floors));
    world::Conditions conditions;
    conditions.lasts_s = judge::judgedRun_s;
    if (!how.lasts.empty()) {
        const auto lasts = units::parse(how.lasts, units::Dimension::Time, "--for");
        if (!lasts)
            return tl::unexpected(lasts.error());
        conditions.lasts_s = *lasts;
    }
    conditions.noise = !how.noNoise;
    conditions.endAtContact = how.onContact == "end";
    conditions.reversed = how.reverse;
    auto keys = keysOf(how.keys);
    if (!keys)
        return tl::unexpected(keys.error());
    conditions.keys = std::move(*keys);
    std::optional<task::Kind> kind;
    if (!how.task.empty()) {
        kind = task::kindOf(how.task);
        if (!kind)
            return fail(Error::Kind::Malformed, "--task",
                        fmt::format("there is no task '{}'", how.task),
                        "use one of: stops, keeps-moving, holds, line, table");
    }
    const auto drive = judge::Drive::make({std::make_shared<kit::Car>(p->car),
                                           std::make_shared<rules::Program>(*program),
                                           std::make_shared<floor::Floor>(*floor),
                                           judge::recordsOf(workshop, p->car),
                                           p->opened.catalogue,
                                           {},
                                           how.faults},
                                          conditions);
    if (!drive)
        return tl::unexpected(drive.error());
    const auto run = (*drive)->run(how.seed, kind);
    const auto &plan = (*drive)->plan();
    if (!how.trace.path.empty())
        if (const auto saved =
                io::saveOutput(how.trace.path, traceCsv(plan, run.trace), how.trace.replace, file);
            !saved)
            return tl::unexpected(saved.error());
    Answer a;
    a.json = answerJson(**drive, run);
    a.text = listText(plan, run);
    a.why = derivationText(task::whyGap(plan, run.trace, run.score));
    a.hasError = !run.trace.touches.empty() || run.trace.fell;
    return a;
}

Result<Answer> faultList()
{
    Answer a;
    a.json = {{"faults", Json::array()}};
    std::vector<std::vector<Say>> rows;
    for (const auto &f : faults::all()) {
        a.json["faults"].push_back({{"code", f.code}, {"what", f.what}});
        rows.push_back({f.code, f.what});
    }
    a.text = aligned(rows);
    return a;
}

} // namespace badger::cli
