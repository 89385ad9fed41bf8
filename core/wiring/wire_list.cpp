// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/wiring/wire_list.h"

#include "core/base/medium.h"

#include <algorithm>
#include <csv.h>
#include <fmt/format.h>
#include <set>

namespace badger::wiring
{

namespace
{

using Rows = std::vector<std::vector<std::string>>;

Result<Rows> parse(const std::string &text, char delimiter)
{
    csv_parser parser;
    if (csv_init(&parser, CSV_APPEND_NULL) != 0)
        return fail(Error::Kind::Malformed, "wire list", "the reader could not be started",
                    "try again");
    csv_set_delim(&parser, static_cast<unsigned char>(delimiter));
    struct State {
        Rows rows = {{}};
    } state;
    const auto field = [](void *data, size_t size, void *to) {
        static_cast<State *>(to)->rows.back().emplace_back(static_cast<const char *>(data), size);
    };
    const auto row = [](int, void *to) { static_cast<State *>(to)->rows.emplace_back(); };
    const bool whole =
        csv_parse(&parser, text.data(), text.size(), field, row, &state) == text.size();
    if (whole)
        csv_fini(&parser, field, row, &state);
    csv_free(&parser);
    if (!whole)
        return fail(Error::Kind::Malformed, "wire list", "the text is no table",
                    "save the sheet as comma separated values");
    if (state.rows.back().empty())
        state.rows.pop_back();
    return state.rows;
}

struct Columns {
    size_t from = none;
    size_t to = none;
    size_t colour = none;
    static constexpr size_t none = static_cast<size_t>(-1);
};

Result<Columns> columnsOf(const Rows &rows)
{
    Columns c;
    if (!rows.empty())
        for (size_t i = 0; i < rows[0].size(); ++i) {
            if (rows[0][i] == "from")
                c.from = i;
            if (rows[0][i] == "to")
                c.to = i;
            if (rows[0][i] == "colour")
                c.colour = i;
        }
    if (c.from == Columns::none || c.to == Columns::none || c.colour == Columns::none)
        return fail(Error::Kind::Malformed, "wire list, row 1",
                    "the heading does not name the columns from, to and colour",
                    "let the first row read: from,to,colour");
    return c;
}

std::string endProblem(const std::string &end, const kit::Assembly &car)
{
    if (end.empty())
        return "an end is missing: write it as part.terminal, as board.D5";
    if (car.terminal(end) != nullptr)
        return {};
    const auto split = kit::splitTerminal(end);
    if (split.instance.empty())
        return fmt::format("'{}' is no terminal: write it as part.terminal, as board.D5", end);
    const auto *fitted = car->instance(split.instance);
    if (fitted == nullptr)
        return fmt::format("'{}' is no part of {}: add it to the car first", split.instance,
                           car->name);
    const auto *part = car.part(*fitted);
    return fmt::format("the {} has no terminal '{}'", part ? part->name : split.instance,
                       split.terminal);
}

} // namespace

std::string wireListCsv(const kit::Car &car)
{
    std::string out = "from,to,colour\r\n";
    for (const auto &w : car.wires)
        out += fmt::format("{},{},{}\r\n", medium::csv(w.from), medium::csv(w.to),
                           medium::csv(w.colour));
    return out;
}

Result<ImportedWires> readWireList(const std::string &text, const kit::Assembly &car)
{
    if (!medium::isUtf8(text))
        return fail(Error::Kind::Malformed, "wire list", "the text is not UTF-8",
                    "save the sheet as comma separated values in UTF-8");
    const std::string mark = "\xEF\xBB\xBF"; // some spreadsheets begin a file with it
    const auto body = text.starts_with(mark) ? text.substr(mark.size()) : text;
    const auto heading = body.substr(0, body.find('\n'));
    const auto rows = parse(body, heading.find(';') != std::string::npos ? ';' : ',');
    if (!rows)
        return tl::unexpected(rows.error());
    const auto columns = columnsOf(*rows);
    if (!columns)
        return tl::unexpected(columns.error());
    ImportedWires imported;
    std::set<std::pair<std::string, std::string>> seen;
    for (size_t i = 1; i < rows->size(); ++i) {
        const auto &row = (*rows)[i];
        const auto at = [&](size_t column) {
            return column < row.size() ? medium::csvValue(row[column]) : std::string{};
        };
        const kit::Wire wire{at(columns->from), at(columns->to), at(columns->colour), {}};
        const auto problem = [&](std::string what) {
            std::string all;
            for (const auto &f : row)
                all += (all.empty() ? "" : ",") + f;
            imported.problems.push_back({static_cast<int>(i) + 1, all, std::move(what)});
        };
        std::string wrong = endProblem(wire.from, car);
        if (wrong.empty())
            wrong = endProblem(wire.to, car);
        if (wrong.empty() && wire.from == wire.to)
            wrong = "both ends are the same terminal";
        if (wrong.empty() && wire.colour.empty())
            wrong = "the colour is missing";
        if (wrong.empty() && !seen.insert(std::minmax(wire.from, wire.to)).second)
            wrong = fmt::format("a wire from {} to {} stands above already", wire.from, wire.to);
        if (!wrong.empty()) {
            problem(std::move(wrong));
            continue;
        }
        const auto has =
            std::find_if(car->wires.begin(), car->wires.end(), [&](const kit::Wire &w) {
                return std::minmax(w.from, w.to) == std::minmax(wire.from, wire.to);
            });
        if (has == car->wires.end())
            imported.wires.push_back(wire);
        else if (has->colour != wire.colour)
            imported.recoloured.push_back(wire);
        else
            ++imported.known;
    }
    return imported;
}

kit::Car withImported(kit::Car car, const ImportedWires &imported)
{
    for (const auto &wire : imported.recoloured)
        for (auto &w : car.wires)
            if (std::minmax(w.from, w.to) == std::minmax(wire.from, wire.to))
                w.colour = wire.colour;
    car.wires.insert(car.wires.end(), imported.wires.begin(), imported.wires.end());
    return car;
}

} // namespace badger::wiring
