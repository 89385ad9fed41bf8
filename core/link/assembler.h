// SPDX-License-Identifier: GPL-3.0-or-later
// Bytes as they come in, into samples by name and unit, with what was lost on the way.
#pragma once

#include "core/link/lines.h"
#include "core/link/rate_guess.h"

#include <deque>

namespace badger::link
{

/// What came in, in its order.
struct HeaderCame {
    Header header;
    bool another = false; ///< not the one before: another program, or the first
};
struct SampleCame {
    Sample sample;
    double at_s = 0.0; ///< when its line was complete, by the listener's clock
};
/// Samples are missing before the next one: its number is farther on than it should be.
struct SamplesLost {
    int count = 0;
};
/// The board has started anew: its time went back.
struct Restarted {
};
struct WordsCame {
    std::string text;
};
/// A line that is none; `read` says why.
struct NoLine {
    Error why;
};
using Event = std::variant<HeaderCame, SampleCame, SamplesLost, Restarted, WordsCame, NoLine>;

struct Tally {
    std::uint64_t bytes = 0;
    std::uint64_t samples = 0;
    std::uint64_t lost = 0;     ///< by their numbers
    std::uint64_t badLines = 0; ///< incomplete, bent, or no lines at all
    std::uint64_t early = 0;    ///< samples before their header: no name, no unit, not kept
    std::uint64_t restarts = 0;
};

/// How the listening goes.
enum class Hearing {
    Silent,   ///< nothing came for a second, and for as long as three samples take
    Waiting,  ///< it is too early to tell
    Fine,     ///< lines come
    Early,    ///< samples come, their header has not: ask for it
    Rubbish,  ///< bytes that are no text: most likely another rate
    Stranger, ///< text, but none of these lines: another program runs on the board
};

/// Feed it what came from the port and when. It never fails, keeps no more than one line of bytes,
/// and gives no sample whose line was not whole.
class Assembler
{
public:
    /// The rate listened at, for the guess; 0: it is not known.
    explicit Assembler(std::uint32_t listens_baud = 0) : m_baud(listens_baud) {}

    /// `now_s` by any clock that does not go back.
    std::vector<Event> take(std::string_view bytes, double now_s);
    /// The port was closed or lost: what was left of a line is given up.
    void interrupted();

    const std::optional<Header> &header() const { return m_header; }
    const Tally &tally() const { return m_tally; }
    /// Samples a second over the last two seconds; 0 before the second one.
    double rate_hz(double now_s) const;
    Hearing hearing(double now_s) const;
    /// Where hearing() is Rubbish: the likely rate of the other side.
    std::optional<RateGuess> likelyRate() const;
    /// What was heard last and is no line, for a person to look at: printable signs only.
    std::string lastStrange() const;

private:
    void line(std::string_view text, double now_s, std::vector<Event> &events);
    void sample(Sample sample, double now_s, std::vector<Event> &events);

    std::uint32_t m_baud;
    std::optional<Header> m_header;
    std::uint8_t m_tag = 0;
    std::string m_rest;      ///< of a line that is not whole yet
    bool m_overlong = false; ///< the rest of this line is thrown away
    std::optional<std::uint16_t> m_number;
    std::optional<std::uint32_t> m_time_ms;
    Tally m_tally;
    std::deque<double> m_times_s; ///< of the last samples
    // Since the last whole line:
    ByteCounts m_counts{};
    std::uint64_t m_strange = 0;
    std::string m_lastStrange;
    std::optional<double> m_strangeSince_s;
    std::optional<double> m_lastByte_s;
    std::optional<double> m_begun_s;
    bool m_early = false;
};

} // namespace badger::link
