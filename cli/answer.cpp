// SPDX-License-Identifier: GPL-3.0-or-later
#include "cli/answer.h"

#include <algorithm>
#include <fmt/format.h>

namespace badger::cli
{

units::Display &display()
{
    static units::Display units;
    return units;
}

std::string words(const Say &text)
{
    return english(text, display());
}

namespace
{

Json wiresOf(const std::vector<Fix::Wire> &wires)
{
    auto list = Json::array();
    for (const auto &w : wires)
        list.push_back({{"from", w.from}, {"to", w.to}, {"colour", w.colour}});
    return list;
}

Json fixJson(const std::optional<Fix> &fix)
{
    if (!fix)
        return nullptr;
    auto cells = Json::array();
    for (const auto &c : fix->cells)
        cells.push_back({{"pack", c.pack}, {"before", c.before}, {"after", c.after}});
    auto parts = Json::array();
    for (const auto &p : fix->parts)
        parts.push_back({{"instance", p.instance}, {"before", p.before}, {"after", p.after}});
    return {{"wires_off", wiresOf(fix->out)},
            {"wires_on", wiresOf(fix->in)},
            {"jumpers_on", fix->jumpers},
            {"jumpers_off", fix->pulled},
            {"cells", cells},
            {"parts", parts},
            {"program_pins", fix->pins}};
}

} // namespace

Json findingsJson(const std::vector<Finding> &findings)
{
    auto list = Json::array();
    for (const auto &f : findings) {
        auto then = Json::array();
        for (const auto &line : f.then)
            then.push_back(english(line));
        Json entry = {{"code", f.code},
                      {"severity", name(f.severity)},
                      {"where", english(f.where)},
                      {"what", english(f.what)},
                      {"why", english(f.why)},
                      {"mend", english(f.mend)},
                      {"then", then},
                      {"fix", fixJson(f.fix)}};
        if (!f.others.empty()) {
            entry["others"] = Json::array();
            for (const auto &fix : f.others)
                entry["others"].push_back(fixJson(fix));
        }
        entry["places"] = Json::array();
        for (const auto &place : f.places)
            if (auto text = key(place); std::find(entry["places"].begin(), entry["places"].end(),
                                                  text) == entry["places"].end())
                entry["places"].push_back(std::move(text));
        if (f.evidence)
            entry["evidence"] = {{"value", f.evidence->value},
                                 {"limit", f.evidence->limit},
                                 {"unit", unit(f.evidence->of)},
                                 {"in", name(f.evidence->in)}};
        if (!f.readings.empty())
            entry["readings"] = f.readings;
        list.push_back(std::move(entry));
    }
    return list;
}

std::string findingsText(const std::vector<Finding> &findings)
{
    std::string text;
    for (const auto &f : findings) {
        text += fmt::format("{} [{}] {}\n  {}\n", name(f.severity), f.code, f.where, f.what);
        constexpr size_t most = 4; // the rest is in --json
        for (size_t i = 0; i < std::min(most, f.then.size()); ++i)
            text += fmt::format("    {}\n", f.then[i]);
        if (f.then.size() > most)
            text += fmt::format("    and {} more\n", f.then.size() - most);
        text += fmt::format("  why:  {}\n  mend: {}\n", f.why, f.mend);
    }
    return text;
}

namespace
{

/// Characters, not bytes: every byte that does not continue one.
size_t width(const std::string &text)
{
    size_t n = 0;
    for (const char c : text)
        n += (static_cast<unsigned char>(c) & 0xC0) != 0x80;
    return n;
}

} // namespace

std::string aligned(const std::vector<std::vector<Say>> &said)
{
    std::vector<std::vector<std::string>> rows;
    for (const auto &row : said) {
        rows.emplace_back();
        for (const auto &text : row)
            rows.back().push_back(words(text));
    }
    std::vector<size_t> widths;
    for (const auto &row : rows)
        for (size_t i = 0; i < row.size(); ++i) {
            if (i >= widths.size())
                widths.push_back(0);
            widths[i] = std::max(widths[i], width(row[i]));
        }
    std::string text;
    for (const auto &row : rows) {
        std::string line;
        for (size_t i = 0; i < row.size(); ++i) {
            line += row[i];
            if (i + 1 < row.size())
                line += std::string(widths[i] - width(row[i]) + 2, ' ');
        }
        text += line + "\n";
    }
    return text;
}

std::string derivationText(const Derivation &d)
{
    if (d.steps.empty())
        return {};
    std::vector<std::vector<Say>> rows;
    for (const auto &s : d.steps)
        rows.push_back({"  " + s.name, s.value, s.how, s.from});
    const auto head = d.result.empty() ? words(d.title) : fmt::format("{} = {}", d.title, d.result);
    return head + "\n" + aligned(rows);
}

} // namespace badger::cli
