// SPDX-License-Identifier: GPL-3.0-or-later
// A pseudo-terminal whose near end the stand-in holds.
#pragma once

#include "core/base/result.h"

#include <cstdint>
#include <string>

namespace badger::standin
{

/// Opens one in raw mode, its rate set to the stand-in's own until a listener sets another. A link
/// at the path that is asked for is made, and taken away at the end; a link that an earlier
/// stand-in left there is replaced, anything else at the path is an error.
class Terminal
{
public:
    static Result<Terminal> open(std::uint32_t baud, const std::string &link);
    ~Terminal();
    Terminal(Terminal &&other) noexcept;
    Terminal &operator=(Terminal &&) = delete;

    const std::string &path() const { return m_path; }
    int descriptor() const { return m_near; }
    /// Does a program hold the far end open?
    bool isHeard() const;
    /// The rate that the far end is set to; 0 where it is none that is known.
    std::uint32_t rate() const;
    /// Writes what the far end takes; the rest is lost, as on a board.
    void write(std::string_view bytes) const;
    /// What came from the far end since the last time.
    std::string read() const;

private:
    Terminal() = default;
    int m_near = -1;
    std::string m_path;
    std::string m_link;
};

} // namespace badger::standin
