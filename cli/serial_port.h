// SPDX-License-Identifier: GPL-3.0-or-later
// A serial port by the system's own calls.
#pragma once

#include "core/base/result.h"

#include <cstdint>
#include <string>
#include <string_view>

namespace badger::cli
{

/// Eight bits, no parity, one stop bit, raw; nobody else may open it meanwhile.
class SerialPort
{
public:
    /// Refused: no such port, no right to it, held by another program, not a port, a rate that the
    /// system does not know.
    static Result<SerialPort> open(const std::string &path, std::uint32_t baud);
    ~SerialPort();
    SerialPort(SerialPort &&other) noexcept;
    SerialPort &operator=(SerialPort &&other) noexcept;

    /// What came within `wait_ms`; empty: nothing. An error: the port is gone.
    Result<std::string> read(int wait_ms);
    void write(std::string_view bytes) const;

private:
    explicit SerialPort(int descriptor) : m_descriptor(descriptor) {}
    int m_descriptor;
};

} // namespace badger::cli
