// SPDX-License-Identifier: GPL-3.0-or-later
// Columns of readings out of a text that people made: a file, or what they pasted.
//
// The first row names the columns. Columns are parted by commas, semicolons or tabs; where it is
// not a comma that parts them, a number may have a decimal comma. A column of lengths ends in its
// unit, "true_cm", "distance_mm", "read_in". Quotation marks as in RFC 4180.
#pragma once

#include "core/base/result.h"

#include <optional>
#include <string>
#include <string_view>
#include <vector>

namespace badger::tune
{

/// Which column is wanted.
struct WantedColumn {
    enum class Kind {
        Length, ///< a number; the header ends in _m, _cm, _mm or _in; comes back in metres
        Time,   ///< a number; _s, _ms or _us; in seconds
        Number, ///< a bare number
        Word    ///< one of `words`
    };
    std::string name; ///< "true"; for a Number or Word as it stands in the header
    Kind kind = Kind::Number;
    std::vector<std::string> words;
    bool mayBeNone = false; ///< an empty cell, "none" or "-" is no reading
};

/// A row that cannot be used.
struct BadRow {
    std::size_t row = 0; ///< in the text, from 1; the header is 1
    std::string column;
    Say what;
};

struct CsvColumns {
    /// One list a wanted column, each with one entry a good row. A word comes as its place in
    /// `words`, a none as empty.
    std::vector<std::vector<std::optional<double>>> columns;
    std::vector<std::size_t> rows; ///< in which row of the text each good one stands
    std::vector<BadRow> bad;       ///< the first hundred
    std::size_t badCount = 0;
    std::size_t beyond = 0; ///< rows after the greatest number that is kept: counted only
    bool decimalComma = false;
};

/// What can be used of it and what cannot, a line each; of the bad rows the first `most` by
/// themselves.
std::vector<Say> wordsOf(const CsvColumns &columns, std::size_t most);

/// At most so many rows are kept.
inline constexpr std::size_t mostRows = 1000000;

/// Reads while it goes, so a long text costs no more than what is kept of it. Bad rows are listed
/// and the good ones given; whether these will do is for the caller. Refused: no text (Missing), a
/// column that is not there, or without its unit, or there twice (Missing, Malformed: says which
/// there are), numbers that could be read in two ways (Malformed), columns that are exchanged
/// (Conflict), no good row (Malformed, with the first bad one).
class CsvReader
{
public:
    CsvReader(std::string where, std::vector<WantedColumn> wanted);
    ~CsvReader();
    CsvReader(const CsvReader &) = delete;
    CsvReader &operator=(const CsvReader &) = delete;

    void take(std::string_view bytes);
    Result<CsvColumns> finish();

private:
    struct State;
    State *m_state;
};

Result<CsvColumns> readCsv(std::string_view text, std::string where,
                           std::vector<WantedColumn> wanted);

} // namespace badger::tune
