// SPDX-License-Identifier: GPL-3.0-or-later
#include "cli/serial_port.h"

#include <array>
#include <cerrno>
#include <cstring>
#include <fcntl.h>
#include <poll.h>
#include <sys/file.h>
#include <sys/ioctl.h>
#include <termios.h>
#include <unistd.h>
#include <utility>

namespace badger::cli
{

namespace
{

speed_t speedOf(std::uint32_t baud)
{
    constexpr std::array<std::pair<std::uint32_t, speed_t>, 14> known = {{{300, B300},
                                                                          {1200, B1200},
                                                                          {2400, B2400},
                                                                          {4800, B4800},
                                                                          {9600, B9600},
                                                                          {19200, B19200},
                                                                          {38400, B38400},
                                                                          {57600, B57600},
                                                                          {115200, B115200},
                                                                          {230400, B230400},
                                                                          {460800, B460800},
                                                                          {500000, B500000},
                                                                          {1000000, B1000000},
                                                                          {2000000, B2000000}}};
    for (const auto &[rate, speed] : known)
        if (rate == baud)
            return speed;
    return B0;
}

Say mendFor(int reason)
{
    switch (reason) {
    case ENOENT:
    case ENODEV:
    case ENXIO:
        return say("look whether the board is plugged in, and under which name");
    case EACCES:
    case EPERM:
        return say("ask for the right to use serial ports (on many systems the group dialout)");
    case EBUSY:
    case EWOULDBLOCK:
        return say("close the other program's serial window");
    default:
        return say("unplug the board and plug it in again");
    }
}

tl::unexpected<Error> failed(const std::string &path, int reason)
{
    const bool held = reason == EBUSY || reason == EWOULDBLOCK;
    return fail(held ? Error::Kind::Conflict : Error::Kind::Storage, path,
                held ? say("another program holds this port")
                     : say("it cannot be opened: {}", std::strerror(reason)),
                mendFor(reason));
}

} // namespace

Result<SerialPort> SerialPort::open(const std::string &path, std::uint32_t baud)
{
    const auto speed = speedOf(baud);
    if (speed == B0)
        return fail(Error::Kind::OutOfRange, "--baud",
                    say("{} is no rate of this system", static_cast<long>(baud)),
                    say("choose one as 9600, 57600 or 115200"));
    const int descriptor = ::open(path.c_str(), O_RDWR | O_NOCTTY | O_NONBLOCK | O_CLOEXEC);
    if (descriptor < 0)
        return failed(path, errno);
    SerialPort port(descriptor);
    if (isatty(descriptor) == 0)
        return fail(Error::Kind::Malformed, path, say("it is no serial port"),
                    say("name the board's port, or the path that the stand-in prints"));
    // Both ways in which programs keep each other off a port.
    if (flock(descriptor, LOCK_EX | LOCK_NB) != 0)
        return failed(path, errno);
    ioctl(descriptor, TIOCEXCL);
    termios settings{};
    if (tcgetattr(descriptor, &settings) != 0)
        return failed(path, errno);
    cfmakeraw(&settings);
    settings.c_cflag |= CLOCAL | CREAD;
    settings.c_cflag &= ~static_cast<tcflag_t>(CSTOPB | PARENB | HUPCL);
    cfsetspeed(&settings, speed);
    if (tcsetattr(descriptor, TCSANOW, &settings) != 0)
        return failed(path, errno);
    return port;
}

SerialPort::SerialPort(SerialPort &&other) noexcept
    : m_descriptor(std::exchange(other.m_descriptor, -1))
{
}

SerialPort &SerialPort::operator=(SerialPort &&other) noexcept
{
    std::swap(m_descriptor, other.m_descriptor);
    return *this;
}

SerialPort::~SerialPort()
{
    if (m_descriptor < 0)
        return;
    ioctl(m_descriptor, TIOCNXCL);
    close(m_descriptor);
}

Result<std::string> SerialPort::read(int wait_ms)
{
    pollfd asked{m_descriptor, POLLIN, 0};
    if (poll(&asked, 1, wait_ms) < 0 && errno != EINTR)
        return failed("port", errno);
    std::string all;
    std::array<char, 4096> part{};
    const auto got = ::read(m_descriptor, part.data(), part.size());
    if (got > 0)
        return std::string(part.data(), static_cast<size_t>(got));
    if (got == 0 || (errno != EAGAIN && errno != EINTR))
        return fail(Error::Kind::Storage, "port", say("it is gone"),
                    say("plug the board in again"));
    return all;
}

void SerialPort::write(std::string_view bytes) const
{
    if (::write(m_descriptor, bytes.data(), bytes.size()) < 0) {
        // Nothing hangs on it: the header comes by itself, too.
    }
}

} // namespace badger::cli
