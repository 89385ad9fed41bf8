// SPDX-License-Identifier: GPL-3.0-or-later
#include "cli/record.h"

#include "cli/serial_port.h"
#include "core/link/assembler.h"
#include "core/units/quantity.h"

#include <chrono>
#include <csignal>
#include <cstdio>
#include <filesystem>
#include <fmt/format.h>
#include <optional>
#include <thread>
#include <unistd.h>

namespace badger::cli
{

namespace
{

volatile std::sig_atomic_t interrupted = 0;

void interrupt(int)
{
    interrupted = 1;
}

/// Asked until the first header is there, and after every loss of the port.
constexpr double askEvery_s = 0.5;
constexpr double tellAfter_s = 2.0;

class Recorder
{
public:
    Recorder(const RecordOptions &options, std::FILE *file)
        : m_options(options), m_file(file), m_assembler(static_cast<std::uint32_t>(options.baud))
    {
    }

    Result<void> run(SerialPort first, std::optional<double> for_s)
    {
        using Clock = std::chrono::steady_clock;
        const auto began = Clock::now();
        std::optional<SerialPort> port(std::move(first));
        double asked_s = -askEvery_s;
        while (interrupted == 0) {
            const double now_s = std::chrono::duration<double>(Clock::now() - began).count();
            m_now_s = now_s;
            if (for_s && now_s >= *for_s)
                break;
            if (!port) {
                auto again =
                    SerialPort::open(m_options.port, static_cast<std::uint32_t>(m_options.baud));
                if (again) {
                    port.emplace(std::move(*again));
                    asked_s = now_s - askEvery_s;
                } else {
                    std::this_thread::sleep_for(std::chrono::milliseconds(50));
                }
                continue;
            }
            if (m_waitsForHeader && now_s - asked_s >= askEvery_s) {
                port->write(link::askForHeader);
                asked_s = now_s;
            }
            const auto bytes = port->read(20);
            if (!bytes) {
                m_assembler.interrupted();
                ++m_losses;
                m_waitsForHeader = true;
                port.reset();
                if (m_columns > 0)
                    row("gap");
                continue;
            }
            for (const auto &event : m_assembler.take(*bytes, now_s))
                if (auto ok = take(event); !ok)
                    return ok;
            tell();
        }
        return {};
    }

    Answer answer() const
    {
        const auto &t = m_assembler.tally();
        Answer a;
        a.text = fmt::format("{} samples, {} lost, {} lines that are none", t.samples, t.lost,
                             t.badLines);
        a.text += m_losses > 0 ? fmt::format(", the port was away {} times\n", m_losses) : "\n";
        a.json = {{"samples", t.samples},   {"lost", t.lost},          {"bad_lines", t.badLines},
                  {"restarts", t.restarts}, {"port_losses", m_losses}, {"bytes", t.bytes}};
        a.json["build"] = m_assembler.header() ? Json(m_assembler.header()->build) : Json(nullptr);
        const auto hearing = m_assembler.hearing(m_now_s);
        a.json["hearing"] = hearing == link::Hearing::Fine      ? "fine"
                            : hearing == link::Hearing::Rubbish ? "rubbish"
                            : hearing == link::Hearing::Silent  ? "silent"
                            : hearing == link::Hearing::Early   ? "early"
                                                                : "stranger";
        a.json["likely_baud"] = nullptr;
        if (t.samples > 0)
            return a;
        a.hasError = true;
        const auto said = trouble(hearing);
        a.text += said + "\n";
        if (const auto guess = m_assembler.likelyRate(); guess && hearing == link::Hearing::Rubbish)
            a.json["likely_baud"] = guess->likely_baud;
        return a;
    }

private:
    std::string trouble(link::Hearing hearing) const
    {
        switch (hearing) {
        case link::Hearing::Rubbish: {
            const auto guess = m_assembler.likelyRate();
            return guess ? fmt::format("baud mismatch: it listens at {}, the board most likely "
                                       "speaks at {}{}; try --baud {}",
                                       m_options.baud, guess->likely_baud,
                                       guess->isSure() ? "" : " (no more than a hint)",
                                       guess->likely_baud)
                         : fmt::format("baud mismatch: rubbish at {}; try 9600 or 115200",
                                       m_options.baud);
        }
        case link::Hearing::Stranger:
            return fmt::format("the board speaks, but not these lines: load a part test; heard: {}",
                               m_assembler.lastStrange());
        case link::Hearing::Early:
            return "samples came without their header: listen longer";
        default:
            return "the board is silent: look at its plug, its program and its rate";
        }
    }

    /// Once, while it runs: rubbish and silence are worth knowing before the end.
    void tell()
    {
        if (m_told || m_assembler.tally().samples > 0 || m_now_s < 1.0)
            return;
        const auto hearing = m_assembler.hearing(m_now_s);
        const bool wrong = hearing == link::Hearing::Rubbish ||
                           hearing == link::Hearing::Stranger ||
                           (hearing == link::Hearing::Silent && m_now_s > tellAfter_s);
        if (!wrong)
            return;
        m_told = true;
        fmt::print(stderr, "{}\n", trouble(hearing));
    }

    Result<void> take(const link::Event &event)
    {
        if (const auto *h = std::get_if<link::HeaderCame>(&event)) {
            m_waitsForHeader = false;
            return h->another ? header(h->header) : Result<void>{};
        }
        if (const auto *s = std::get_if<link::SampleCame>(&event)) {
            std::string text = fmt::format("{}", s->sample.time_ms);
            for (const auto &v : s->sample.values)
                text += v.kind == link::Value::Kind::None      ? ",none"
                        : v.kind == link::Value::Kind::NotRead ? ","
                                                               : fmt::format(",{}", v.number);
            std::fputs((text + "\n").c_str(), m_file);
            if (std::ferror(m_file) != 0)
                return fail(Error::Kind::Storage, m_options.csv, say("it cannot be written"),
                            say("look whether there is room"));
        }
        if (std::holds_alternative<link::Restarted>(event))
            row("restart");
        return {};
    }

    /// A row that is no sample: its word stands in the first column.
    void row(const char *word)
    {
        std::string text = word;
        text.append(static_cast<size_t>(m_columns), ',');
        std::fputs((text + "\n").c_str(), m_file);
    }

    Result<void> header(const link::Header &h)
    {
        std::string text = "time_ms";
        for (const auto &c : h.channels)
            text += fmt::format(",{}_{}", c.name, link::symbol(c.unit));
        if (m_columns > 0 && text != m_head)
            return fail(Error::Kind::Conflict, m_options.port,
                        say("another program speaks now, with other channels"),
                        say("record it into a file of its own"));
        if (m_columns == 0)
            std::fputs((text + "\n").c_str(), m_file);
        m_head = text;
        m_columns = static_cast<int>(h.channels.size());
        return {};
    }

    const RecordOptions &m_options;
    std::FILE *m_file;
    link::Assembler m_assembler;
    double m_now_s = 0.0;
    int m_losses = 0;
    int m_columns = 0;
    std::string m_head;
    bool m_waitsForHeader = true;
    bool m_told = false;
};

} // namespace

Result<Answer> record(const RecordOptions &o)
{
    std::optional<double> for_s;
    if (!o.lasts.empty()) {
        const auto value = units::parse(o.lasts, units::Dimension::Time, "--for");
        if (!value)
            return tl::unexpected(value.error());
        for_s = *value;
    }
    std::error_code error;
    if (std::filesystem::exists(o.csv, error) && !o.replace)
        return fail(Error::Kind::Conflict, o.csv, say("there is a file already"),
                    say("name another, or add --replace"));
    auto port = SerialPort::open(o.port, static_cast<std::uint32_t>(o.baud));
    if (!port)
        return tl::unexpected(port.error());
    const auto part = o.csv + ".part";
    std::FILE *file = std::fopen(part.c_str(), "wb");
    if (file == nullptr)
        return fail(Error::Kind::Storage, o.csv, say("it cannot be written"),
                    say("look at the folder and at who may write there"));
    struct sigaction action {
    };
    action.sa_handler = interrupt;
    sigaction(SIGINT, &action, nullptr);
    sigaction(SIGTERM, &action, nullptr);
    Recorder recorder(o, file);
    const auto ran = recorder.run(std::move(*port), for_s);
    const bool closed = std::fclose(file) == 0;
    auto answer = recorder.answer();
    if (answer.json["samples"] == 0) {
        std::filesystem::remove(part, error); // nothing was heard: no file
        return ran ? Result<Answer>(std::move(answer)) : tl::unexpected(ran.error());
    }
    std::filesystem::rename(part, o.csv, error);
    if (error || !closed)
        return fail(Error::Kind::Storage, o.csv, say("it cannot be written"),
                    say("what was recorded is in {}", part));
    if (!ran)
        return tl::unexpected(ran.error());
    answer.text = fmt::format("{}: {}", o.csv, answer.text);
    return answer;
}

} // namespace badger::cli
