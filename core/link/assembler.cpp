// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/link/assembler.h"

#include <algorithm>

namespace badger::link
{

namespace
{

constexpr double rateWindow_s = 2.0;
constexpr double silentAfter_s = 1.0;
constexpr double strangeAfter_s = 0.8;
constexpr std::uint64_t strangeBytes = 24;
/// Of text, all but a bent sign now and then can be printed.
constexpr double textShare = 0.9;
constexpr size_t strangeKept = 60;

bool isText(unsigned char c)
{
    return (c >= ' ' && c <= '~') || c == '\n' || c == '\r' || c == '\t';
}

} // namespace

std::vector<Event> Assembler::take(std::string_view bytes, double now_s)
{
    std::vector<Event> events;
    if (!m_begun_s)
        m_begun_s = now_s;
    if (bytes.empty())
        return events;
    m_lastByte_s = now_s;
    m_tally.bytes += bytes.size();
    for (const char c : bytes) {
        ++m_counts[static_cast<unsigned char>(c)];
        ++m_strange;
        if (!m_strangeSince_s)
            m_strangeSince_s = now_s;
        m_lastStrange.push_back(isText(static_cast<unsigned char>(c)) && c != '\n' ? c : '.');
        if (m_lastStrange.size() > 2 * strangeKept)
            m_lastStrange.erase(0, strangeKept);
        if (c == '\n') {
            if (!m_overlong)
                line(m_rest, now_s, events);
            m_overlong = false;
            m_rest.clear();
        } else if (!m_overlong) {
            m_rest.push_back(c);
            if (m_rest.size() > longestLine + 1) { // one more for a carriage return
                line(m_rest, now_s, events);
                m_rest.clear();
                m_overlong = true;
            }
        }
    }
    return events;
}

void Assembler::interrupted()
{
    if (!m_rest.empty())
        ++m_tally.badLines;
    m_rest.clear();
    m_overlong = false;
    m_times_s.clear();
}

void Assembler::line(std::string_view text, double now_s, std::vector<Event> &events)
{
    if (text.empty() || text == "\r")
        return;
    auto got = read(text);
    if (!got) {
        ++m_tally.badLines;
        events.push_back(NoLine{std::move(got.error())});
        return;
    }
    m_counts.fill(0);
    m_strange = 0;
    m_strangeSince_s.reset();
    m_lastStrange.clear();
    if (auto *h = std::get_if<Header>(&*got)) {
        const bool another = m_header != *h;
        if (another) {
            m_header = *h;
            m_tag = tagOf(*h);
            m_number.reset();
            m_time_ms.reset();
        }
        m_early = false;
        events.push_back(HeaderCame{std::move(*h), another});
    } else if (auto *s = std::get_if<Sample>(&*got)) {
        sample(std::move(*s), now_s, events);
    } else {
        events.push_back(WordsCame{std::move(std::get<Words>(*got).text)});
    }
}

void Assembler::sample(Sample s, double now_s, std::vector<Event> &events)
{
    if (!m_header || s.tag != m_tag || s.values.size() != m_header->channels.size()) {
        ++m_tally.early;
        m_early = true;
        return;
    }
    m_early = false;
    if (m_time_ms && s.time_ms < *m_time_ms && *m_time_ms - s.time_ms < 0x80000000U) {
        ++m_tally.restarts;
        events.push_back(Restarted{});
    } else if (m_number) {
        const auto missing = static_cast<std::uint16_t>(s.number - *m_number - 1);
        if (missing > 0) {
            m_tally.lost += missing;
            events.push_back(SamplesLost{missing});
        }
    }
    m_number = s.number;
    m_time_ms = s.time_ms;
    ++m_tally.samples;
    m_times_s.push_back(now_s);
    while (m_times_s.size() > 2 && now_s - m_times_s.front() > rateWindow_s)
        m_times_s.pop_front();
    events.push_back(SampleCame{std::move(s), now_s});
}

double Assembler::rate_hz(double now_s) const
{
    const auto first = std::find_if(m_times_s.begin(), m_times_s.end(),
                                    [&](double t) { return now_s - t <= rateWindow_s; });
    const auto count = std::distance(first, m_times_s.end());
    if (count < 2 || m_times_s.back() <= *first)
        return 0.0;
    return static_cast<double>(count - 1) / (m_times_s.back() - *first);
}

Hearing Assembler::hearing(double now_s) const
{
    if (!m_begun_s)
        return Hearing::Waiting;
    const double lastHeard = m_lastByte_s.value_or(*m_begun_s);
    // A board that speaks seldom is not silent between two samples.
    const double pause_s = m_header ? 3e-3 * m_header->every_ms : 0.0;
    if (now_s - lastHeard > std::max(silentAfter_s, pause_s))
        return Hearing::Silent;
    if (m_strangeSince_s && m_strange >= strangeBytes &&
        now_s - *m_strangeSince_s >= strangeAfter_s) {
        std::uint64_t text = 0;
        for (size_t b = 0; b < m_counts.size(); ++b)
            if (isText(static_cast<unsigned char>(b)))
                text += m_counts[b];
        return static_cast<double>(text) >= textShare * static_cast<double>(m_strange)
                   ? Hearing::Stranger
                   : Hearing::Rubbish;
    }
    if (m_early)
        return Hearing::Early;
    return m_tally.samples > 0 || m_header ? Hearing::Fine : Hearing::Waiting;
}

std::optional<RateGuess> Assembler::likelyRate() const
{
    return guessRate(m_counts, m_baud);
}

std::string Assembler::lastStrange() const
{
    return m_lastStrange.size() <= strangeKept
               ? m_lastStrange
               : m_lastStrange.substr(m_lastStrange.size() - strangeKept);
}

} // namespace badger::link
