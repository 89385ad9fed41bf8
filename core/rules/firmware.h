// SPDX-License-Identifier: GPL-3.0-or-later
// What does a trial need of whatever drives the car?
//
// A trial knows a firmware only through this: it asks for the time, waits, pings, drives and
// prints. The interpreter of a program is one firmware; other sources of behaviour can stand here.
#pragma once

#include <cstdint>
#include <string>
#include <string_view>

namespace badger::rules
{

/// What one wheel is told. For braking and coasting both wheels are told the same.
struct WheelCommand {
    enum class Kind { Coast, Brake, Turn } kind = Kind::Coast;
    int pwm_counts = 0; ///< -255 to 255, negative is backwards, while turning
    bool operator==(const WheelCommand &) const = default;
};

/// The board as a firmware sees it. Time passes only inside these calls.
class Board
{
public:
    virtual ~Board() = default;
    virtual std::uint64_t now_us() const = 0;
    virtual void wait_us(std::uint64_t time_us) = 0;
    /// Sends a ping from a ranger and waits for its echo; the length of the echo, 0 after the
    /// time-out.
    virtual std::uint32_t ping_us(std::string_view ranger, std::uint32_t timeOut_us) = 0;
    virtual void drive(WheelCommand left, WheelCommand right) = 0;
    /// Sends characters; waits while the send buffer is full.
    virtual void print(std::string_view text, int baud) = 0;
    /// What was decided and why: for the trace, costs no time.
    virtual void note(const struct Decision &decision) = 0;
};

/// One reading and what followed from it.
struct Decision {
    std::string reading;
    std::uint32_t echo_us = 0; ///< raw, 0 for none
    double number = 0.0;       ///< as the program keeps it; 0 for none
    std::string state;         ///< after the decision
    std::string rule;          ///< that fired last; empty where none did
    Say why;                   ///< "32 <= 32, rule 'near'"
    bool decisive = true;      ///< of several readings the one that decided
};

class Firmware
{
public:
    virtual ~Firmware() = default;
    virtual void start(Board &board) = 0;
    /// One pass; always lets some time go by.
    virtual void pass(Board &board) = 0;
};

} // namespace badger::rules
