// SPDX-License-Identifier: GPL-3.0-or-later
// An emulated chip that runs a compiled program, with its pins in reach.
//
// Pins are counted as the support headers do: 0 to 19 on the 5 V 8-bit board, 0 to 10 on the bare
// chip. Time is the chip's own: cycles over its clock.
#pragma once

#include <cstdint>
#include <functional>
#include <map>
#include <memory>
#include <queue>
#include <string>
#include <vector>

struct avr_t;
struct avr_irq_t;

namespace badger::board
{

enum class Kind { Board, Chip };

class Chip
{
public:
    /// Loads a compiled program. `symbols` is what "avr-nm -C" says of it. Aborts where the file
    /// cannot be read: a test has nothing to run then.
    Chip(Kind kind, const std::string &elf, const std::string &symbols);
    ~Chip();
    Chip(const Chip &) = delete;
    Chip &operator=(const Chip &) = delete;

    /// Until `stop` was called, the chip crashed (false), or this much of its time went by.
    bool run(double most_us);
    void stop() { m_stopped = true; }
    double now_us() const;

    /// What a pin is given: the duty of its timer where it is joined to one, else its level, 0 or
    /// 255.
    int duty(int pin) const;
    bool isOutput(int pin) const;
    void setInput(int pin, bool high);
    void setVoltage(int pin, double volts);
    /// Called at each change of a pin's level, pulses and PWM by a timer left out.
    std::function<void(int pin, bool high)> onLevel;
    /// Watches one pin's level.
    void watch(int pin);
    void after(double time_us, std::function<void()> what);

    /// Called whenever the program comes to a function, "echo_us". False: it has none of that name.
    bool onCall(const std::string &function, std::function<void()> what);
    /// Called when the call that is under way returns.
    void onReturn(std::function<void()> what);
    /// A register of the call: its first argument of 8 bits is in 24, the second in 22.
    std::uint8_t reg(int number) const;
    std::uint16_t reg16(int number) const;
    std::uint32_t reg32(int number) const;
    void setReg(int number, std::uint8_t value);

    /// Puts a character into the serial line, at its baud rate.
    void send(char sign);
    std::string sent; ///< what the program printed

private:
    struct Line {
        char port;
        int bit;
    };
    Line lineOf(int pin) const;
    bool levelOf(const Line &line) const;

    struct Event {
        std::uint64_t cycle;
        std::function<void()> what;
        bool operator>(const Event &o) const { return cycle > o.cycle; }
    };

    Kind m_kind;
    avr_t *m_avr = nullptr;
    bool m_stopped = false;
    std::map<std::string, std::uint32_t> m_addresses;
    std::vector<int> m_watched; ///< by address / 2: number of the call, or -1
    std::vector<std::function<void()>> m_calls;
    struct Return {
        std::uint32_t address;
        std::uint16_t stack;
        std::function<void()> what;
    };
    std::vector<Return> m_returns;
    std::priority_queue<Event, std::vector<Event>, std::greater<>> m_events;
    struct Watched {
        Chip *chip;
        int pin;
    };
    std::vector<std::unique_ptr<Watched>> m_pins;

    static void levelChanged(avr_irq_t *irq, std::uint32_t value, void *param);
    static void charSent(avr_irq_t *irq, std::uint32_t value, void *param);
};

} // namespace badger::board
