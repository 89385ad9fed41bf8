// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/tune/csv.h"

#include "core/base/medium.h"

#include <algorithm>
#include <array>
#include <charconv>
#include <cmath>
#include <csv.h>

namespace badger::tune
{

namespace
{

constexpr std::size_t mostShown = 100;
constexpr std::size_t longestField = 4096;
constexpr std::size_t mostColumns = 64;

struct UnitEnd {
    const char *end;
    double factor;
};
constexpr std::array<UnitEnd, 4> lengths = {
    {{"_cm", 0.01}, {"_mm", 0.001}, {"_in", 0.0254}, {"_m", 1.0}}};
constexpr std::array<UnitEnd, 3> times = {{{"_us", 1e-6}, {"_ms", 1e-3}, {"_s", 1.0}}};

std::string_view trimmed(std::string_view text)
{
    while (!text.empty() && (text.front() == ' ' || text.front() == '\t'))
        text.remove_prefix(1);
    while (!text.empty() && (text.back() == ' ' || text.back() == '\t' || text.back() == '\r'))
        text.remove_suffix(1);
    return text;
}

std::string lower(std::string_view text)
{
    std::string small(text);
    for (char &c : small)
        if (c >= 'A' && c <= 'Z')
            c = static_cast<char>(c - 'A' + 'a');
    return small;
}

/// Finite, whole text, a point; a comma where that is the decimal sign.
std::optional<double> numberOf(std::string_view text, bool decimalComma)
{
    std::string pointed(text);
    if (decimalComma)
        std::replace(pointed.begin(), pointed.end(), ',', '.');
    std::string_view digits = pointed;
    if (digits.starts_with('+'))
        digits.remove_prefix(1);
    double value = 0.0;
    const auto *end = digits.data() + digits.size();
    const auto [at, error] = std::from_chars(digits.data(), end, value);
    if (digits.empty() || error != std::errc{} || at != end || !std::isfinite(value))
        return std::nullopt;
    return value;
}

std::string shown(std::string_view text)
{
    std::string part(text.substr(0, 40));
    std::replace(part.begin(), part.end(), '"', '\'');
    return medium::line(part);
}

} // namespace

struct CsvReader::State {
    std::string where;
    std::vector<WantedColumn> wanted;
    csv_parser parser{};
    bool begun = false;
    bool failed = false;
    std::string head; ///< the first row, until it is known what parts the columns
    char separator = ',';
    std::optional<Error> error;

    std::size_t row = 0;
    std::vector<std::string> fields;
    bool tooLong = false;
    std::vector<std::string> names;
    std::vector<std::size_t> at; ///< of each wanted column
    std::vector<double> factor;  ///< to SI
    CsvColumns out;
    std::size_t swapped =
        0; ///< rows whose word stands where the number should, and the other way round

    tl::unexpected<Error> wrong(Error::Kind kind, Say what, Say mend) const
    {
        return fail(kind, where, std::move(what), std::move(mend));
    }

    void header()
    {
        if (!fields.empty() && fields.front().starts_with("\xEF\xBB\xBF"))
            fields.front().erase(0, 3);
        for (const auto &f : fields)
            names.push_back(lower(trimmed(f)));
        for (const auto &w : wanted) {
            const auto found = place(w);
            if (!found) {
                error = found.error();
                return;
            }
            at.push_back(found->first);
            factor.push_back(found->second);
        }
        out.columns.resize(wanted.size());
    }

    Result<std::pair<std::size_t, double>> place(const WantedColumn &w) const
    {
        std::vector<std::pair<std::size_t, double>> found;
        bool bare = false;
        for (std::size_t i = 0; i < names.size(); ++i) {
            if (names[i] == w.name) {
                bare = true;
                if (w.kind == WantedColumn::Kind::Number || w.kind == WantedColumn::Kind::Word)
                    found.emplace_back(i, 1.0);
            }
            const auto matches = [&](const UnitEnd &u) {
                if (names[i] == w.name + u.end)
                    found.emplace_back(i, u.factor);
            };
            if (w.kind == WantedColumn::Kind::Length)
                std::for_each(lengths.begin(), lengths.end(), matches);
            if (w.kind == WantedColumn::Kind::Time)
                std::for_each(times.begin(), times.end(), matches);
        }
        if (found.size() == 1)
            return found.front();
        if (found.size() > 1)
            return wrong(Error::Kind::Malformed, say("column {} is there twice", w.name),
                         say("leave one of them out"));
        const bool length = w.kind == WantedColumn::Kind::Length;
        if (bare)
            return wrong(Error::Kind::Missing, say("column {} has no unit", w.name),
                         length ? say("call it {0}_cm, {0}_mm, {0}_in or {0}_m", w.name)
                                : say("call it {0}_us, {0}_ms or {0}_s", w.name));
        std::vector<Say> have;
        for (const auto &n : names)
            have.emplace_back(shown(n));
        return wrong(Error::Kind::Missing,
                     say("there is no column {}; there {1|is|are} {2}",
                         length ? w.name + "_cm" : w.name, static_cast<long>(names.size()),
                         joined(have, ", ")),
                     say("name the columns in the first row"));
    }

    void bad(std::string column, Say what)
    {
        ++out.badCount;
        if (out.bad.size() < mostShown)
            out.bad.push_back({row, std::move(column), std::move(what)});
    }

    bool isWordOf(const WantedColumn &w, const std::string &text) const
    {
        return std::find(w.words.begin(), w.words.end(), lower(text)) != w.words.end();
    }

    void values()
    {
        if (out.rows.size() >= mostRows) {
            ++out.beyond;
            return;
        }
        if (tooLong)
            return bad({}, say("it is longer than {} signs", static_cast<long>(longestField)));
        if (fields.size() != names.size())
            return bad({}, say("{} {0|cell|cells} where the first row has {}",
                               static_cast<long>(fields.size()), static_cast<long>(names.size())));
        std::vector<std::optional<double>> got;
        for (std::size_t i = 0; i < wanted.size(); ++i) {
            const auto &w = wanted[i];
            const std::string text(trimmed(fields[at[i]]));
            if (text.find('\0') != std::string::npos)
                return bad(w.name, say("it has a NUL sign"));
            if (w.mayBeNone && (text.empty() || lower(text) == "none" || text == "-")) {
                got.emplace_back();
                continue;
            }
            if (w.kind == WantedColumn::Kind::Word) {
                const auto word = std::find(w.words.begin(), w.words.end(), lower(text));
                if (word == w.words.end()) {
                    if (numberOf(text, out.decimalComma))
                        lookForSwap();
                    std::vector<Say> words(w.words.begin(), w.words.end());
                    return bad(w.name, say("'{}' is none of {}", shown(text), joined(words, ", ")));
                }
                got.emplace_back(static_cast<double>(word - w.words.begin()));
                continue;
            }
            const auto value = numberOf(text, out.decimalComma);
            if (!value)
                return bad(w.name, text.empty() ? say("it is empty")
                                                : say("'{}' is no number", shown(text)));
            got.emplace_back(*value * factor[i]);
        }
        for (std::size_t i = 0; i < wanted.size(); ++i)
            out.columns[i].push_back(got[i]);
        out.rows.push_back(row);
    }

    /// Does a word stand where a number should, in the same row?
    void lookForSwap()
    {
        for (std::size_t i = 0; i < wanted.size(); ++i)
            if (wanted[i].kind != WantedColumn::Kind::Word)
                for (const auto &w : wanted)
                    if (w.kind == WantedColumn::Kind::Word &&
                        isWordOf(w, std::string(trimmed(fields[at[i]]))))
                        ++swapped;
    }

    void endOfRow()
    {
        ++row;
        const bool empty = fields.empty() || (fields.size() == 1 && trimmed(fields[0]).empty());
        if (!error && !empty) {
            if (names.empty())
                header();
            else
                values();
        }
        fields.clear();
        tooLong = false;
    }

    static void field(void *text, size_t length, void *self)
    {
        auto &s = *static_cast<State *>(self);
        if (length > longestField || s.fields.size() >= mostColumns) {
            s.tooLong = true;
            length = std::min(length, longestField);
        }
        if (s.fields.size() < mostColumns)
            s.fields.emplace_back(static_cast<const char *>(text), length);
    }
    static void endRow(int, void *self) { static_cast<State *>(self)->endOfRow(); }

    /// What parts the columns stands in the first row.
    void begin()
    {
        begun = true;
        const auto firstRow = std::string_view(head).substr(0, head.find('\n'));
        separator = firstRow.find('\t') != std::string_view::npos  ? '\t'
                    : firstRow.find(';') != std::string_view::npos ? ';'
                                                                   : ',';
        out.decimalComma = separator != ',';
        csv_init(&parser, CSV_APPEND_NULL | CSV_REPALL_NL);
        csv_set_delim(&parser, static_cast<unsigned char>(separator));
        if (separator == '\t')
            csv_set_space_func(&parser, [](unsigned char c) { return c == ' ' ? 1 : 0; });
        parse(head);
        head.clear();
    }

    void parse(std::string_view bytes)
    {
        csv_parse(&parser, bytes.data(), bytes.size(), &State::field, &State::endRow, this);
    }
};

CsvReader::CsvReader(std::string where, std::vector<WantedColumn> wanted) : m_state(new State)
{
    m_state->where = std::move(where);
    m_state->wanted = std::move(wanted);
}

CsvReader::~CsvReader()
{
    if (m_state->begun)
        csv_free(&m_state->parser);
    delete m_state;
}

void CsvReader::take(std::string_view bytes)
{
    if (m_state->error)
        return;
    if (m_state->begun)
        return m_state->parse(bytes);
    m_state->head += bytes;
    if (m_state->head.find('\n') != std::string::npos || m_state->head.size() > longestField)
        m_state->begin();
}

Result<CsvColumns> CsvReader::finish()
{
    auto &s = *m_state;
    if (!s.begun)
        s.begin();
    csv_fini(&s.parser, &State::field, &State::endRow, &s);
    if (s.error)
        return tl::unexpected(*s.error);
    if (s.names.empty())
        return s.wrong(Error::Kind::Missing, say("there is nothing in it"),
                       say("name the columns in the first row and write the readings below"));
    if (s.swapped > 0 && s.swapped >= s.out.rows.size())
        return s.wrong(Error::Kind::Conflict,
                       say("words stand where numbers should, and numbers where words should"),
                       say("the columns are exchanged: exchange their names in the first row"));
    if (s.out.rows.empty()) {
        if (s.out.bad.empty())
            return s.wrong(Error::Kind::Missing, say("there is no row below the first one"),
                           say("write the readings below the names"));
        const auto &first = s.out.bad.front();
        const bool commas = s.separator == ',' && s.out.badCount > 0 && first.column.empty();
        return s.wrong(Error::Kind::Malformed,
                       joined({say("row {}", static_cast<long>(first.row)), first.what}, ": "),
                       commas ? say("with decimal commas, part the columns by semicolons or tabs")
                              : say("no row can be used; mend the file"));
    }
    return std::move(s.out);
}

Result<CsvColumns> readCsv(std::string_view text, std::string where,
                           std::vector<WantedColumn> wanted)
{
    CsvReader reader(std::move(where), std::move(wanted));
    reader.take(text);
    return reader.finish();
}

} // namespace badger::tune
