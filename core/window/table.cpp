// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/window/table.h"

#include "core/base/medium.h"
#include "core/window/words.h"

#include <cmath>
#include <fmt/format.h>

namespace badger::window
{

double shown(const Window &w, double si)
{
    switch (w.handle.kind) {
    case rules::ValueKind::Distance:
        return std::round(si * 1e9) / 1e7;
    case rules::ValueKind::Duration:
        return std::round(si * 1e9) / 1e6;
    default:
        return si;
    }
}

const char *unitOf(const Window &w)
{
    switch (w.handle.kind) {
    case rules::ValueKind::Distance:
        return "cm";
    case rules::ValueKind::Duration:
        return "ms";
    case rules::ValueKind::Angle:
        return "deg";
    case rules::ValueKind::PerDegree:
        return "s/deg";
    default:
        return "";
    }
}

std::string csvOf(const Window &w)
{
    std::string csv =
        fmt::format("row,{}{},state,tested,runs,contacts,job_missed\n", medium::csv(w.handle.value),
                    *unitOf(w) == 0 ? "" : fmt::format("_{}", unitOf(w)));
    for (const auto &row : w.rows)
        for (size_t i = 0; i < row.cells.size(); ++i) {
            const auto &c = row.cells[i];
            csv += fmt::format("{},{},{},{},{},{},{}\n", medium::csv(english(row.row.label)),
                               shown(w, w.si(i)), word(c.state), c.tested ? "yes" : "no", c.runs,
                               c.events, c.misses);
        }
    return csv;
}

} // namespace badger::window
