// SPDX-License-Identifier: GPL-3.0-or-later
#include "cli/program_commands.h"
#include "cli/workshop_pick.h"
#include "core/base/medium.h"
#include "core/io/storage.h"
#include "core/judge/program_around.h"
#include "core/machine/play.h"
#include "core/tune/csv_rows.h"

#include <algorithm>
#include <charconv>
#include <cmath>
#include <fmt/format.h>
#include <fmt/ranges.h>

namespace badger::cli
{

namespace
{

/// The rows of the file as readings of a program.
Result<std::vector<machine::Given>> given(const std::string &path, const rules::Program &program,
                                          const machine::Machine &machine)
{
    const auto text = io::readFile(path);
    if (!text)
        return tl::unexpected(text.error());
    const auto rows = tune::csvRows(*text, path);
    if (!rows)
        return tl::unexpected(rows.error());
    const auto columns = machine::columns(program, machine);
    const auto &header = rows->front();
    std::vector<Say> wanted = {Say("time_ms")};
    for (const auto &c : columns)
        wanted.emplace_back(c.name);
    const auto place = [&](const std::string &name) {
        return static_cast<size_t>(std::find(header.begin(), header.end(), name) - header.begin());
    };
    for (const auto &name : wanted)
        if (place(english(name)) == header.size())
            return fail(Error::Kind::Missing, path, say("there is no column '{}'", name),
                        say("the columns are: {}", joined(wanted, ", ")));
    if (header.size() != wanted.size())
        return fail(Error::Kind::Malformed, path,
                    say("it has {} columns, the program reads {}", header.size(), wanted.size()),
                    say("the columns are: {}", joined(wanted, ", ")));
    if (rows->size() < 2)
        return fail(Error::Kind::Missing, path, say("there is no reading"),
                    say("give a row of readings at time_ms 0"));
    std::vector<machine::Given> all;
    for (size_t i = 1; i < rows->size(); ++i) {
        const auto &row = (*rows)[i];
        const auto where = say("{}, row {}", path, i + 1);
        const auto &time = row[place("time_ms")];
        double ms = 0.0;
        const auto *end = time.data() + time.size();
        const auto read = std::from_chars(time.data(), end, ms);
        if (read.ec != std::errc() || read.ptr != end || !std::isfinite(ms) || ms < 0.0 ||
            ms > 36e5)
            return fail(Error::Kind::Malformed, where, say("'{}' is no time", time),
                        say("use milliseconds, up to an hour"));
        machine::Given g{static_cast<std::uint64_t>(std::llround(ms * 1000.0)), {}};
        if (all.empty() ? g.time_us != 0 : g.time_us <= all.back().time_us)
            return fail(Error::Kind::OutOfRange, where, say("its time does not fit"),
                        say("begin at 0 and let the times rise"));
        for (const auto &c : columns) {
            auto heard = machine::heardOf(program, c, row[place(c.name)]);
            if (!heard) {
                auto error = heard.error();
                error.where = joined({where, error.where}, ", ");
                return tl::unexpected(error);
            }
            g.heard.push_back(*heard);
        }
        all.push_back(std::move(g));
    }
    return all;
}

const char *word(machine::WheelOrder::Kind kind)
{
    switch (kind) {
    case machine::WheelOrder::Kind::Coast:
        return "coast";
    case machine::WheelOrder::Kind::Brake:
        return "brake";
    case machine::WheelOrder::Kind::Turn:
        break;
    }
    return "drive";
}

/// What the pair does: a held wheel of a pair that turns is part of driving.
Json toldJson(const rules::Program &program, const machine::Told &t)
{
    const auto &[left, right, clamped] = t.orders;
    const bool turns = left.kind == machine::WheelOrder::Kind::Turn ||
                       right.kind == machine::WheelOrder::Kind::Turn;
    Json j = {{"time_ms", static_cast<double>(t.time_us) / 1000.0},
              {"state", program.states[static_cast<size_t>(t.mode)].name},
              {"wheels", turns ? "drive" : word(left.kind)},
              {"left", left.counts},
              {"right", right.counts},
              {"servo_deg", orNull(t.servo_deg, 1.0)},
              {"why", t.why}};
    if (left.kind != right.kind) {
        j["left_wheel"] = word(left.kind);
        j["right_wheel"] = word(right.kind);
    }
    if (clamped)
        j["clamped"] = true;
    return j;
}

std::string toldCsv(const Json &actions)
{
    std::string text = "time_ms,state,wheels,left,right,servo_deg,why\n";
    for (const auto &a : actions)
        text += fmt::format("{},{},{},{},{},{},{}\n", a["time_ms"].dump(),
                            medium::csv(a["state"].get<std::string>()),
                            a["wheels"].get<std::string>(), a["left"].dump(), a["right"].dump(),
                            a["servo_deg"].is_null() ? "" : a["servo_deg"].dump(),
                            medium::csv(a["why"].get<std::string>()));
    return text;
}

} // namespace

Result<Answer> runProgram(const std::string &file, const std::string &carName,
                          const std::string &readings, const Output &csv)
{
    const auto p = pickCar(file, carName);
    if (!p)
        return tl::unexpected(p.error());
    const auto *program = p->opened.workshop.program(p->car.program);
    if (program == nullptr)
        return fail(Error::Kind::Missing, "car '" + p->car.name + "'", say("it runs no program"),
                    say("choose one at the Rule station"));
    const auto machine =
        machine::lower(*program, judge::carFacts({p->car, p->opened.catalogue}, *program,
                                                 judge::recordsOf(p->opened.workshop, p->car)));
    if (!machine)
        return tl::unexpected(machine.error());
    const auto rows = given(readings, *program, *machine);
    if (!rows)
        return tl::unexpected(rows.error());
    Answer a;
    a.json = {{"actions", Json::array()}};
    std::vector<std::vector<Say>> lines;
    for (const auto &t : machine::play(*program, *machine, *rows)) {
        a.json["actions"].push_back(toldJson(*program, t));
        const auto &j = a.json["actions"].back();
        lines.push_back(
            {units::format(static_cast<double>(t.time_us) * 1e-6, units::Unit::Millisecond, 1),
             j["state"].get<std::string>(), j["wheels"].get<std::string>(),
             fmt::format("{} {}", t.orders.left.counts, t.orders.right.counts),
             t.servo_deg ? units::plain(*t.servo_deg, 1) + "°" : "", t.why});
    }
    a.text = aligned(lines);
    if (!csv.path.empty())
        if (const auto saved =
                io::saveOutput(csv.path, toldCsv(a.json["actions"]), csv.replace, file);
            !saved)
            return tl::unexpected(saved.error());
    return a;
}

} // namespace badger::cli
