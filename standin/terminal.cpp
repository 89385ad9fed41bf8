// SPDX-License-Identifier: GPL-3.0-or-later
#include "standin/terminal.h"

#include <array>
#include <cerrno>
#include <cstdlib>
#include <cstring>
#include <fcntl.h>
#include <filesystem>
#include <poll.h>
#include <termios.h>
#include <unistd.h>
#include <utility>

namespace badger::standin
{

namespace
{

constexpr std::array<std::pair<speed_t, std::uint32_t>, 16> speeds = {{{B300, 300},
                                                                       {B600, 600},
                                                                       {B1200, 1200},
                                                                       {B2400, 2400},
                                                                       {B4800, 4800},
                                                                       {B9600, 9600},
                                                                       {B19200, 19200},
                                                                       {B38400, 38400},
                                                                       {B57600, 57600},
                                                                       {B115200, 115200},
                                                                       {B230400, 230400},
                                                                       {B460800, 460800},
                                                                       {B500000, 500000},
                                                                       {B921600, 921600},
                                                                       {B1000000, 1000000},
                                                                       {B2000000, 2000000}}};

tl::unexpected<Error> failed(const std::string &where, Say what)
{
    return fail(Error::Kind::Storage, where, joined({std::move(what), std::strerror(errno)}, ": "),
                {});
}

} // namespace

Result<Terminal> Terminal::open(std::uint32_t baud, const std::string &link)
{
    Terminal t;
    t.m_near = posix_openpt(O_RDWR | O_NOCTTY | O_NONBLOCK | O_CLOEXEC);
    std::array<char, 128> name{};
    if (t.m_near < 0 || grantpt(t.m_near) != 0 || unlockpt(t.m_near) != 0 ||
        ptsname_r(t.m_near, name.data(), name.size()) != 0)
        return failed("pseudo-terminal", say("it cannot be opened"));
    t.m_path = name.data();
    termios settings{};
    // Opened and closed once: from then on the near end says when nobody holds the far one.
    const int far = ::open(name.data(), O_RDWR | O_NOCTTY | O_CLOEXEC);
    if (far < 0 || tcgetattr(far, &settings) != 0)
        return failed("pseudo-terminal", say("it cannot be opened"));
    cfmakeraw(&settings);
    for (const auto &[speed, rate] : speeds)
        if (rate == baud)
            cfsetspeed(&settings, speed);
    const bool set = tcsetattr(far, TCSANOW, &settings) == 0;
    close(far);
    if (!set)
        return failed("pseudo-terminal", say("it cannot be set"));
    if (!link.empty()) {
        std::error_code error;
        if (std::filesystem::is_symlink(link, error))
            std::filesystem::remove(link, error);
        std::filesystem::create_symlink(t.m_path, link, error);
        if (error)
            return fail(Error::Kind::Storage, "--link",
                        say("no link can be made at {}: {}", link, error.message()),
                        say("choose a path at which nothing is"));
        t.m_link = link;
    }
    return t;
}

Terminal::Terminal(Terminal &&other) noexcept
    : m_near(std::exchange(other.m_near, -1)), m_path(std::move(other.m_path)),
      m_link(std::exchange(other.m_link, {}))
{
}

Terminal::~Terminal()
{
    std::error_code error;
    // Only its own: another stand-in may have put its link there since.
    if (!m_link.empty() && std::filesystem::read_symlink(m_link, error) == m_path)
        std::filesystem::remove(m_link, error);
    if (m_near >= 0)
        close(m_near);
}

bool Terminal::isHeard() const
{
    pollfd asked{m_near, POLLIN, 0};
    return poll(&asked, 1, 0) >= 0 && (asked.revents & POLLHUP) == 0;
}

std::uint32_t Terminal::rate() const
{
    termios settings{};
    if (tcgetattr(m_near, &settings) != 0)
        return 0;
    const auto speed = cfgetospeed(&settings);
    for (const auto &[known, rate] : speeds)
        if (known == speed)
            return rate;
    return 0;
}

void Terminal::write(std::string_view bytes) const
{
    if (::write(m_near, bytes.data(), bytes.size()) < 0) {
        // Full, or nobody there any more: lost on the line.
    }
}

std::string Terminal::read() const
{
    std::string all;
    std::array<char, 256> part{};
    for (;;) {
        const auto got = ::read(m_near, part.data(), part.size());
        if (got <= 0)
            return all;
        all.append(part.data(), static_cast<size_t>(got));
    }
}

} // namespace badger::standin
