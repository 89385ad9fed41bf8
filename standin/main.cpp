// SPDX-License-Identifier: GPL-3.0-or-later
// swift-badger-standin: a board that is not there, on a pseudo-terminal.
#include "core/standin/talker.h"
#include "core/units/quantity.h"
#include "standin/terminal.h"

#include <CLI/CLI.hpp>
#include <algorithm>
#include <chrono>
#include <csignal>
#include <deque>
#include <fmt/format.h>
#include <optional>
#include <poll.h>
#include <string>
#include <unistd.h>

namespace
{

using namespace badger;
using namespace badger::standin;

volatile std::sig_atomic_t ended = 0;

void end(int)
{
    ended = 1;
}

/// Lines that come in parts.
class Lines
{
public:
    template <class Take> void add(std::string_view bytes, Take take)
    {
        m_rest += bytes;
        for (size_t at = 0; (at = m_rest.find('\n')) != std::string::npos;) {
            auto line = m_rest.substr(0, at);
            m_rest.erase(0, at + 1);
            if (!line.empty() && line.back() == '\r')
                line.pop_back();
            take(line);
        }
        if (m_rest.size() > 4096)
            m_rest.clear();
    }

private:
    std::string m_rest;
};

/// A setting that waits for its time: "at 2s distance 25cm".
struct Later {
    std::uint64_t at_us;
    std::string key, value;
};

class Standin
{
public:
    Standin(Settings settings, Terminal terminal, std::uint32_t baud, std::uint64_t seed,
            double speed)
        : m_settings(std::move(settings)), m_terminal(std::move(terminal)), m_talker(seed, baud),
          m_wire(baud, baud), m_speed(speed)
    {
    }

    /// A line of the standard input, at the simulated time `now_us`.
    void command(const std::string &line)
    {
        const auto words = split(line);
        if (words.empty())
            return;
        const bool later = words.front() == "at";
        if (words.size() != (later ? 4U : 2U))
            return complain(fmt::format("'{}' is no setting; write a name and a value, as "
                                        "distance 25cm, or at 2s distance 25cm",
                                        line));
        if (!later)
            return change(words[0], words[1]);
        const auto at_s = units::parse(words[1], units::Dimension::Time, "at");
        if (!at_s || *at_s < 0.0)
            return complain(at_s ? "at: the time is below zero" : english(at_s.error().text()));
        m_later.push_back({static_cast<std::uint64_t>(*at_s * 1e6), words[2], words[3]});
        std::stable_sort(m_later.begin(), m_later.end(),
                         [](const Later &a, const Later &b) { return a.at_us < b.at_us; });
    }

    void asked(const std::string &bytes)
    {
        m_requests.add(bytes, [this](const std::string &line) {
            if (line == "?")
                m_talker.ask();
        });
    }

    /// Everything whose time has come leaves.
    void advance(std::uint64_t now_us)
    {
        while (m_talker.nextAt_us() <= now_us) {
            while (!m_later.empty() && m_later.front().at_us <= m_talker.nextAt_us()) {
                change(m_later.front().key, m_later.front().value);
                m_later.pop_front();
            }
            m_waiting.push_back(m_talker.next(m_settings));
        }
        const bool heard = m_terminal.isHeard();
        const auto rate = m_terminal.rate();
        if (rate != m_wire.listens() && rate != 0)
            m_wire = Wire(m_talker.baud(), rate);
        while (!m_waiting.empty() && m_waiting.front().at_us <= now_us) {
            auto &burst = m_waiting.front();
            // As many bytes as the line has carried by now.
            const auto carried = static_cast<size_t>(static_cast<double>(now_us - burst.at_us) *
                                                     1e-7 * m_talker.baud());
            if (carried == 0)
                return;
            const auto count = std::min(carried, burst.bytes.size());
            const Burst part{burst.at_us, burst.bytes.substr(0, count)};
            const auto bytes = m_wire.heard(part);
            if (heard && !bytes.empty())
                m_terminal.write(bytes);
            burst.bytes.erase(0, count);
            burst.at_us += count * 10000000ULL / m_talker.baud();
            if (!burst.bytes.empty())
                return;
            m_waiting.pop_front();
        }
    }

    const Terminal &terminal() const { return m_terminal; }
    double speed() const { return m_speed; }

private:
    static std::vector<std::string> split(const std::string &line)
    {
        std::vector<std::string> words;
        std::string word;
        for (const char c : line + " ") {
            if (c != ' ' && c != '\t')
                word += c;
            else if (!word.empty())
                words.push_back(std::exchange(word, {}));
        }
        return words;
    }
    static void complain(const std::string &text) { fmt::print(stderr, "{}\n", text); }
    void change(const std::string &key, const std::string &value)
    {
        if (const auto ok = set(m_settings, key, value); !ok)
            complain(english(ok.error().text()));
    }

    Settings m_settings;
    Terminal m_terminal;
    Talker m_talker;
    Wire m_wire;
    double m_speed;
    Lines m_requests;
    std::deque<Later> m_later;
    std::deque<Burst> m_waiting;
};

/// Until the end of the input, a signal or the time that was asked for.
void run(Standin &standin, std::optional<double> for_s)
{
    using Clock = std::chrono::steady_clock;
    constexpr int tick_ms = 2;
    const auto began = Clock::now();
    Lines commands;
    bool input = true;
    while (ended == 0) {
        pollfd asked[] = {{standin.terminal().descriptor(), POLLIN, 0},
                          {input ? STDIN_FILENO : -1, POLLIN, 0}};
        // With nobody at the far end the first is always ready; a pause keeps that from a busy
        // loop.
        const bool heard = standin.terminal().isHeard();
        poll(heard ? asked : asked + 1, heard ? 2 : 1, tick_ms);
        if ((asked[1].revents & (POLLIN | POLLHUP)) != 0) {
            char part[512];
            const auto got = ::read(STDIN_FILENO, part, sizeof part);
            if (got == 0)
                return;
            if (got > 0)
                commands.add({part, static_cast<size_t>(got)},
                             [&](const std::string &line) { standin.command(line); });
        }
        if (heard)
            standin.asked(standin.terminal().read());
        const double now_s =
            std::chrono::duration<double>(Clock::now() - began).count() * standin.speed();
        if (for_s && now_s >= *for_s) {
            standin.advance(static_cast<std::uint64_t>(*for_s * 1e6));
            return;
        }
        standin.advance(static_cast<std::uint64_t>(now_s * 1e6));
    }
}

int refused(const Error &error)
{
    fmt::print(stderr, "{}\n", english(error.text()));
    return 2;
}

void endOnSignals()
{
    struct sigaction action {
    };
    action.sa_handler = end;
    sigaction(SIGINT, &action, nullptr);
    sigaction(SIGTERM, &action, nullptr);
    sigaction(SIGHUP, &action, nullptr);
    signal(SIGPIPE, SIG_IGN);
}

} // namespace

int main(int argc, char **argv)
{
    CLI::App app{"A simulated car on blocks that speaks the line protocol on a pseudo-terminal.\n"
                 "It prints the terminal's path, and takes settings as lines on its standard input "
                 "(distance 25cm, or at 2s distance 25cm) until that ends."};
    app.set_version_flag("--version", BADGER_VERSION);
    std::string link;
    std::string lasts;
    std::uint32_t baud = 115200;
    std::uint64_t seed = 1;
    double speed = 1.0;
    std::map<std::string, std::string> values;
    std::vector<std::string> faults;
    app.add_option("--link", link, "a path at which the terminal is linked");
    app.add_option("--baud", baud, "rate of the pretended line")->check(CLI::Range(300, 2000000));
    app.add_option("--seed", seed, "same seed, same lines");
    app.add_option("--speed", speed, "so many times faster than real")
        ->check(CLI::Range(0.01, 1000.0));
    app.add_option("--for", lasts, "ends after so much simulated time, 10s");
    app.add_option("--fault", faults, "a fault put in; may be given more than once");
    const std::pair<const char *, const char *> settings[] = {
        {"rate", "samples a second, 20"},
        {"distance", "of the flat target, 40cm, or none"},
        {"surface", "light or dark"},
        {"height", "of the line sensors over it, 8mm"},
        {"ambient", "light about, 0 to 1"},
        {"trimmer", "of the digital modules, 0 to 1"},
        {"air", "22C"},
        {"battery", "7.2V"},
        {"sensors", "ahead,line,left,right,light,battery"}};
    for (const auto &[name, what] : settings)
        app.add_option(std::string("--") + name, values[name], what);
    try {
        app.parse(argc, argv);
    } catch (const CLI::ParseError &e) {
        const int status = app.exit(e);
        return status == 0 ? 0 : 2;
    }
    Settings s;
    for (const auto &[key, value] : values)
        if (!value.empty())
            if (const auto ok = set(s, key, value); !ok)
                return refused(ok.error());
    for (const auto &fault : faults)
        if (const auto ok = set(s, "fault", fault); !ok)
            return refused(ok.error());
    std::optional<double> for_s;
    if (!lasts.empty()) {
        const auto value = units::parse(lasts, units::Dimension::Time, "--for");
        if (!value)
            return refused(value.error());
        for_s = *value;
    }
    auto terminal = Terminal::open(baud, link);
    if (!terminal)
        return refused(terminal.error());
    endOnSignals();
    fmt::print("{}\n", terminal->path());
    std::fflush(stdout);
    Standin standin(std::move(s), std::move(*terminal), baud, seed, speed);
    run(standin, for_s);
    return 0;
}
