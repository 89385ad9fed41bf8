// SPDX-License-Identifier: GPL-3.0-or-later
#include "cli/window_command.h"

#include "cli/workshop_pick.h"
#include "core/io/storage.h"
#include "core/judge/program_around.h"
#include "core/logbook/measured.h"
#include "core/window/grid.h"
#include "core/window/ground.h"
#include "core/window/schools.h"
#include "core/window/search.h"
#include "core/window/table.h"
#include "core/window/words.h"

#include <cmath>
#include <fmt/format.h>
#include <thread>
#include <unistd.h>

namespace badger::cli
{

namespace
{

using window::Window;

/// "1%", "0.01", "95": a share of one.
Result<double> shareOf(const std::string &text, const char *where, bool bareIsPercent)
{
    char *end = nullptr;
    const double value = std::strtod(text.c_str(), &end);
    const std::string rest = end;
    if (text.empty() || end == text.c_str() || (rest != "" && rest != "%" && rest != " %"))
        return fail(Error::Kind::Malformed, where, fmt::format("'{}' is no share", text),
                    "write it as 1%");
    const bool percent = !rest.empty() || (bareIsPercent && value > 1.0);
    return percent ? value / 100.0 : value;
}

/// A quantity, or a bare count.
Result<double> stepOf(const std::string &text)
{
    char *end = nullptr;
    const double count = std::strtod(text.c_str(), &end);
    if (!text.empty() && *end == '\0')
        return count;
    for (const auto dimension : {units::Dimension::Length, units::Dimension::Time})
        if (const auto step = units::parse(text, dimension, "--step"))
            return *step;
    return fail(Error::Kind::Malformed, "--step", say("'{}' is no step", text),
                say("write it as 1mm, 5ms or 5"));
}

Json placeJson(const Window &w, std::optional<size_t> place)
{
    return place ? Json(window::shown(w, w.si(*place))) : Json(nullptr);
}

/// "low_cm" of a distance, "low" of all else.
std::string key(const Window &w, const char *name)
{
    return w.handle.kind == rules::ValueKind::Distance ? fmt::format("{}_cm", name) : name;
}

Json rowJson(const Window &w, const window::RowAnswer &row)
{
    Json one;
    one["name"] = words(row.row.label);
    one["kind"] = row.row.kind;
    one["reason"] = words(row.row.reason);
    one[key(w, "low")] = placeJson(w, row.low);
    one[key(w, "high")] = placeJson(w, row.high);
    one["runs"] = row.low ? Json(row.cells[*row.low].runs) : Json(nullptr);
    one["contacts_at_low"] = row.low ? Json(row.cells[*row.low].events) : Json(nullptr);
    one["limited_below_by"] = row.below ? Json(words(row.below->what)) : Json(nullptr);
    one["limited_above_by"] = row.above ? Json(words(row.above->what)) : Json(nullptr);
    one["all_runs"] = row.runs;
    one["counts"] = row.counts();
    one["refused"] = row.refused ? Json(words(row.refused->text())) : Json(nullptr);
    return one;
}

Json answerJson(const Window &w)
{
    Json j;
    j["value"] = w.handle.value;
    j["now"] = w.handle.now ? Json(window::shown(w, *w.handle.now)) : Json(nullptr);
    j["unit"] = window::unitOf(w);
    j[key(w, "low")] = placeJson(w, w.low);
    j[key(w, "high")] = placeJson(w, w.high);
    const auto *below = w.low && w.lowRow ? &w.rows[*w.lowRow] : nullptr;
    const auto *above = w.low && w.highRow ? &w.rows[*w.highRow] : nullptr;
    j["limited_below_by"] = below && below->below
                                ? Json(fmt::format("{}: {}", below->row.label, below->below->what))
                                : Json(nullptr);
    j["limited_above_by"] = above && above->above
                                ? Json(fmt::format("{}: {}", above->row.label, above->above->what))
                                : Json(nullptr);
    j["closed_by"] = nullptr;
    if (!w.low && w.lowRow)
        j["closed_by"] = {words(w.rows[*w.lowRow].row.label), words(w.rows[*w.highRow].row.label)};
    j["runs"] = w.runs;
    if (below) {
        const auto &cell = below->cells[*below->low];
        j["contacts_at_low"] = cell.events;
        j["upper_bound_at_low"] =
            orNull(cell.runs > 0 ? std::optional(*logbook::contactRateBound(cell.events, cell.runs,
                                                                            w.asked.confidence))
                                 : std::nullopt);
    } else {
        j["contacts_at_low"] = nullptr;
        j["upper_bound_at_low"] = nullptr;
    }
    j["limit"] = w.asked.limit;
    j["confidence"] = w.asked.confidence;
    j["looks"] = w.looks.after;
    j["whole_error"] = window::shownAt(w.looks, w.asked.limit);
    j["rows"] = Json::array();
    for (const auto &row : w.rows)
        j["rows"].push_back(rowJson(w, row));
    j["not_simulated"] = Json::array();
    for (const auto &say : window::notSimulated(w))
        j["not_simulated"].push_back(words(say));
    j["narrower"] = Json::array();
    for (const auto &n : w.narrower)
        j["narrower"].push_back(
            {{"measured", words(n.figure)}, {key(w, "low"), placeJson(w, n.low)}});
    j["drawn_from_the_catalogue"] = Json::array();
    for (const auto &say : w.unmeasured)
        j["drawn_from_the_catalogue"].push_back(words(say));
    return j;
}

/// Runs of each row by which schools are compared.
constexpr int schoolRuns = 100;

void addSchools(Answer &a, const Window &w)
{
    a.json["schools"] = Json::array();
    a.text += "\nOther schools on the same runs:\n";
    for (const auto &c : window::compareSchools(w, schoolRuns)) {
        const auto &p = c.pairs;
        const auto orNone = [](const std::optional<double> &v) {
            return v ? Json(*v * 1000.0) : Json(nullptr);
        };
        a.json["schools"].push_back(
            {{"what", words(c.what)},
             {"refused", c.refused ? Json(words(c.refused->text())) : Json(nullptr)},
             {"runs", p.runs},
             {"fail", p.both + p.onlySecond},
             {"fail_as_it_is", p.both + p.onlyFirst},
             {"only_it", p.onlySecond},
             {"only_as_it_is", p.onlyFirst},
             {"difference", p.difference()},
             {"difference_low", p.low},
             {"difference_high", p.high},
             {"difference_shown", p.isShown()},
             {"later_ms", orNone(p.later_s)},
             {"later_low_ms", orNone(p.laterLow_s)},
             {"later_high_ms", orNone(p.laterHigh_s)}});
        a.text += "  " + words(window::wordsOf(c)) + "\n";
    }
}

/// In what is typed: of a handle of its own.
double shownOf(const window::Handle &h, double si)
{
    return h.kind == rules::ValueKind::Distance   ? si * 100.0
           : h.kind == rules::ValueKind::Duration ? si * 1000.0
                                                  : si;
}

Json axisJson(const window::Handle &h)
{
    Json at = Json::array();
    for (const double si : h.at)
        at.push_back(shownOf(h, si));
    return {{"value", h.value},
            {"unit", h.kind == rules::ValueKind::Distance   ? "cm"
                     : h.kind == rules::ValueKind::Duration ? "ms"
                                                            : ""},
            {"now", h.now ? Json(shownOf(h, *h.now)) : Json(nullptr)},
            {"at", at}};
}

Result<void> addGrid(Answer &a, const Window &w, const std::string &second)
{
    const auto grid = window::gridOf(w, second);
    if (!grid)
        return tl::unexpected(grid.error());
    const auto &g = *grid;
    auto &j = a.json["grid"];
    j = {{"x", axisJson(g.x)},      {"y", axisJson(g.y)},
         {"runs_each", g.runsEach}, {"left_open", window::leftOpen(g)},
         {"cells", Json::array()},  {"curve", Json::array()},
         {"words", Json::array()}};
    a.text += fmt::format("\n'{}' across, '{}' upwards; # fails, - does not do its job, . holds\n",
                          g.x.value, g.y.value);
    for (size_t iy = g.y.at.size(); iy-- > 0;) {
        std::string line;
        for (size_t ix = 0; ix < g.x.at.size(); ++ix)
            line += "?#.-"[size_t(window::stateOf(g, g.at(ix, iy)))];
        a.text += fmt::format("{:>8.4g}  {}\n", shownOf(g.y, g.y.at[iy]), line);
    }
    a.text += fmt::format("          {:.4g} to {:.4g}\n", shownOf(g.x, g.x.at.front()),
                          shownOf(g.x, g.x.at.back()));
    for (size_t iy = 0; iy < g.y.at.size(); ++iy) {
        Json line = Json::array();
        for (size_t ix = 0; ix < g.x.at.size(); ++ix) {
            const auto &c = g.at(ix, iy);
            line.push_back({{"state", window::word(window::stateOf(g, c))},
                            {"runs", c.runs},
                            {"contacts", c.events},
                            {"job_missed", c.misses}});
        }
        j["cells"].push_back(line);
    }
    for (const auto &[x, y] : g.curve)
        j["curve"].push_back({shownOf(g.x, x), shownOf(g.y, y)});
    for (const auto &say : window::wordsOf(g)) {
        j["words"].push_back(words(say));
        a.text += words(say) + "\n";
    }
    return {};
}

std::string textOf(const Window &w)
{
    std::string text = words(window::headline(w)) + "\n" + words(window::claimOf(w)) + "\n\n";
    std::vector<std::vector<Say>> rows;
    for (const auto &row : w.rows)
        rows.push_back(window::lineOf(w, row));
    text += aligned(rows);
    text += "\n";
    if (!w.unmeasured.empty())
        text += fmt::format("Not measured on this car, drawn over what its parts allow: {}.\n",
                            joined(w.unmeasured, ", "));
    for (const auto &say : window::narrowing(w))
        text += words(say) + "\n";
    text += "Not simulated: ";
    std::string comma;
    for (const auto &say : window::notSimulated(w)) {
        text += comma + words(say);
        comma = "; ";
    }
    return text + ".\n";
}

} // namespace

Result<Answer> window(const std::string &file, const std::string &carName, const Searching &how)
{
    const auto p = pick(file, carName);
    if (!p)
        return tl::unexpected(p.error());
    const auto &workshop = p->opened.workshop;
    const auto *floor = workshop.floor(how.floor);
    if (floor == nullptr)
        return fail(Error::Kind::Missing, "--floor",
                    fmt::format("there is no floor '{}'", how.floor),
                    "use one of: " + names(workshop.floors));
    judge::Grounds on;
    on.car = std::make_shared<kit::Car>(p->car);
    on.program = std::make_shared<rules::Program>(p->program);
    on.floor = std::make_shared<floor::Floor>(*floor);
    on.records = judge::recordsOf(workshop, p->car);
    auto q = window::questionOf(on, p->opened.catalogue,
                                how.value == "threshold" ? std::string() : how.value);
    if (!how.rows.empty())
        q.more.clear(); // these alone were asked for
    if (how.value == "threshold" && p->program.value("threshold") != nullptr)
        q.value = how.value;
    for (const auto &[text, where, bare, to] :
         {std::tuple(&how.limit, "--limit", true, &q.limit),
          std::tuple(&how.confidence, "--confidence", true, &q.confidence),
          std::tuple(&how.share, "--share", true, &q.share)}) {
        const auto share = shareOf(*text, where, bare);
        if (!share)
            return tl::unexpected(share.error());
        *to = *share;
    }
    if (!how.want.empty()) {
        const auto want = units::parse(how.want, units::Dimension::Length, "--want");
        if (!want)
            return tl::unexpected(want.error());
        q.want_m = *want;
    }
    for (const auto &text : how.rows) {
        auto row = window::rowOf(text);
        if (!row)
            return tl::unexpected(row.error());
        q.rows.push_back(std::move(*row));
    }
    if (!how.step.empty()) {
        const auto step = stepOf(how.step);
        if (!step)
            return tl::unexpected(step.error());
        q.step = *step;
    }
    q.noise = !how.noNoise;
    q.seed = how.seed;
    q.threads = how.threads > 0
                    ? how.threads
                    : static_cast<int>(std::max(1U, std::thread::hardware_concurrency()));
    const bool shows = isatty(STDERR_FILENO) != 0;
    const auto found = window::search(std::move(q), [&](const Window &w) {
        if (shows)
            fmt::print(stderr, "\r{} runs", w.runs);
        return true;
    });
    if (shows)
        fmt::print(stderr, "\r");
    if (!found)
        return tl::unexpected(found.error());
    if (!how.csv.path.empty())
        if (const auto saved =
                io::saveOutput(how.csv.path, window::csvOf(*found), how.csv.replace, file);
            !saved)
            return tl::unexpected(saved.error());
    Answer a;
    a.json = answerJson(*found);
    a.text = textOf(*found);
    if (how.schools)
        addSchools(a, *found);
    if (!how.grid.empty())
        if (const auto added = addGrid(a, *found, how.grid); !added)
            return tl::unexpected(added.error());
    if (found->lowRow && found->rows[*found->lowRow].below)
        a.why = derivationText(found->rows[*found->lowRow].below->why);
    a.hasError = !found->low;
    return a;
}

} // namespace badger::cli
