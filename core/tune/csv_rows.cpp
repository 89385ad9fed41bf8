// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/tune/csv_rows.h"

#include "core/tune/csv.h"

#include <csv.h>

#include <algorithm>

namespace badger::tune
{

namespace
{

struct Rows {
    std::vector<std::vector<std::string>> all;
    std::vector<std::string> row;
};

void takeCell(void *bytes, size_t length, void *to)
{
    static_cast<Rows *>(to)->row.emplace_back(static_cast<const char *>(bytes), length);
}

void takeRow(int, void *to)
{
    auto *rows = static_cast<Rows *>(to);
    rows->all.push_back(std::move(rows->row));
    rows->row.clear();
}

unsigned char separatorOf(std::string_view text)
{
    const auto first = text.substr(0, text.find_first_of("\r\n"));
    for (const char c : {',', ';', '\t'})
        if (first.find(c) != std::string_view::npos)
            return static_cast<unsigned char>(c);
    return ',';
}

} // namespace

Result<std::vector<std::vector<std::string>>> csvRows(std::string_view text,
                                                      const std::string &where)
{
    if (text.starts_with("\xEF\xBB\xBF"))
        text.remove_prefix(3);
    Rows rows;
    csv_parser parser{};
    csv_init(&parser, 0);
    csv_set_delim(&parser, separatorOf(text));
    csv_parse(&parser, text.data(), text.size(), takeCell, takeRow, &rows);
    csv_fini(&parser, takeCell, takeRow, &rows);
    csv_free(&parser);
    if (rows.all.empty())
        return fail(Error::Kind::Missing, where, say("there is no row"),
                    say("the first row names the columns"));
    if (rows.all.size() > mostRows)
        return fail(Error::Kind::OutOfRange, where, say("there are more than a million rows"),
                    say("use fewer"));
    for (size_t i = 1; i < rows.all.size(); ++i)
        if (rows.all[i].size() != rows.all.front().size())
            return fail(Error::Kind::Malformed, say("{}, row {}", where, i + 1),
                        say("it has {} {0|cell|cells}, the first row has {}", rows.all[i].size(),
                            rows.all.front().size()),
                        say("give each row a cell for each column"));
    return std::move(rows.all);
}

std::vector<Say> wordsOf(const CsvColumns &c, std::size_t most)
{
    const auto count = [](std::size_t n) { return static_cast<long>(n); };
    std::vector<Say> words = {say("{0} {0|row|rows} can be used.", count(c.rows.size()))};
    if (c.badCount > 0)
        words.push_back(say("{0} {0|row|rows} cannot:", count(c.badCount)));
    for (std::size_t i = 0; i < std::min(most, c.bad.size()); ++i)
        words.push_back(
            c.bad[i].column.empty()
                ? say("row {}: {}", count(c.bad[i].row), c.bad[i].what)
                : say("row {}, {}: {}", count(c.bad[i].row), c.bad[i].column, c.bad[i].what));
    if (c.badCount > most)
        words.push_back(say("and {} more", count(c.badCount - most)));
    if (c.beyond > 0)
        words.push_back(
            say("{0} {0|row|rows} beyond the first million {0|is|are} not read.", count(c.beyond)));
    if (c.decimalComma)
        words.push_back(say("Commas are read as decimal."));
    return words;
}

} // namespace badger::tune
