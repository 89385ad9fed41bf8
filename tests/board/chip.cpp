// SPDX-License-Identifier: GPL-3.0-or-later
#include "board/chip.h"

#include <cstdlib>
#include <cstring>
#include <sstream>

extern "C" {
#include <simavr/avr_adc.h>
#include <simavr/avr_ioport.h>
#include <simavr/avr_uart.h>
#include <simavr/sim_avr.h>
#include <simavr/sim_elf.h>
}

namespace badger::board
{

namespace
{

void quiet(avr_t *, const int, const char *, va_list) {}

struct Pwm {
    int pin;
    int control; ///< address of the register that joins the pin
    int bit;
    int compare; ///< address of its duty
};

/// Addresses in the chips' data memory, from their data sheets.
const std::vector<Pwm> &pwms(Kind kind)
{
    static const std::vector<Pwm> board = {{3, 0xB0, 5, 0xB4}, {11, 0xB0, 7, 0xB3},
                                           {5, 0x44, 5, 0x48}, {6, 0x44, 7, 0x47},
                                           {9, 0x80, 7, 0x88}, {10, 0x80, 5, 0x8A}};
    static const std::vector<Pwm> chip = {
        {5, 0x4F, 5, 0x48}, {6, 0x4F, 7, 0x4A}, {7, 0x50, 5, 0x5C}, {8, 0x50, 7, 0x56}};
    return kind == Kind::Board ? board : chip;
}

} // namespace

Chip::Chip(Kind kind, const std::string &elf, const std::string &symbols) : m_kind(kind)
{
    avr_global_logger_set(quiet);
    elf_firmware_t firmware;
    std::memset(&firmware, 0, sizeof firmware);
    if (elf_read_firmware(elf.c_str(), &firmware) != 0)
        std::abort();
    m_avr = avr_make_mcu_by_name(kind == Kind::Board ? BOARD_MCU : CHIP_MCU);
    if (m_avr == nullptr)
        std::abort();
    avr_init(m_avr);
    avr_load_firmware(m_avr, &firmware);
    m_avr->frequency = kind == Kind::Board ? 16'000'000 : 8'000'000;
    m_avr->vcc = m_avr->avcc = m_avr->aref = 5000;
    std::uint32_t flags = 0;
    avr_ioctl(m_avr, AVR_IOCTL_UART_SET_FLAGS('0'), &flags);
    if (auto *out = avr_io_getirq(m_avr, AVR_IOCTL_UART_GETIRQ('0'), UART_IRQ_OUTPUT))
        avr_irq_register_notify(out, charSent, this);
    m_watched.assign(m_avr->flashend / 2 + 1, -1);
    std::istringstream lines(symbols);
    for (std::string line; std::getline(lines, line);) {
        // "000001a4 T echo_us(unsigned char, unsigned char, unsigned long)"
        if (line.size() < 12 || std::string("TtWw").find(line[9]) == std::string::npos)
            continue;
        const auto name = line.substr(
            11, line.find('(') == std::string::npos ? std::string::npos : line.find('(') - 11);
        m_addresses[name] = static_cast<std::uint32_t>(std::stoul(line.substr(0, 8), nullptr, 16));
    }
}

Chip::~Chip()
{
    avr_terminate(m_avr);
    std::free(m_avr);
}

double Chip::now_us() const
{
    return static_cast<double>(m_avr->cycle) * 1e6 / m_avr->frequency;
}

bool Chip::run(double most_us)
{
    const auto end = m_avr->cycle + static_cast<std::uint64_t>(most_us * 1e-6 * m_avr->frequency);
    m_stopped = false;
    while (!m_stopped && m_avr->cycle < end) {
        while (!m_events.empty() && m_events.top().cycle <= m_avr->cycle) {
            const auto what = m_events.top().what;
            m_events.pop();
            what();
        }
        const int state = avr_run(m_avr);
        if (state == cpu_Done || state == cpu_Crashed)
            return false;
        if (!m_returns.empty() && m_avr->pc == m_returns.back().address) {
            const auto stack =
                static_cast<std::uint16_t>(m_avr->data[R_SPL] | (m_avr->data[R_SPH] << 8));
            if (stack > m_returns.back().stack) {
                const auto what = m_returns.back().what;
                m_returns.pop_back();
                what();
            }
        }
        const int call = m_avr->pc / 2 < m_watched.size() ? m_watched[m_avr->pc / 2] : -1;
        if (call >= 0)
            m_calls[static_cast<size_t>(call)]();
    }
    return true;
}

Chip::Line Chip::lineOf(int pin) const
{
    if (m_kind == Kind::Board)
        return pin < 8 ? Line{'D', pin} : pin < 14 ? Line{'B', pin - 8} : Line{'C', pin - 14};
    return pin < 8 ? Line{'A', pin} : Line{'B', 10 - pin};
}

bool Chip::levelOf(const Line &line) const
{
    avr_ioport_state_t state;
    avr_ioctl(m_avr, AVR_IOCTL_IOPORT_GETSTATE(line.port), &state);
    return (state.port >> line.bit) & 1;
}

bool Chip::isOutput(int pin) const
{
    const auto line = lineOf(pin);
    avr_ioport_state_t state;
    avr_ioctl(m_avr, AVR_IOCTL_IOPORT_GETSTATE(line.port), &state);
    return (state.ddr >> line.bit) & 1;
}

int Chip::duty(int pin) const
{
    for (const auto &p : pwms(m_kind))
        if (p.pin == pin && ((m_avr->data[p.control] >> p.bit) & 1))
            return m_avr->data[p.compare];
    return levelOf(lineOf(pin)) ? 255 : 0;
}

void Chip::setInput(int pin, bool high)
{
    const auto line = lineOf(pin);
    avr_raise_irq(avr_io_getirq(m_avr,
                                static_cast<std::uint32_t>(AVR_IOCTL_IOPORT_GETIRQ(line.port)),
                                line.bit),
                  high ? 1 : 0);
}

void Chip::setVoltage(int pin, double volts)
{
    const int channel = m_kind == Kind::Board ? pin - 14 : pin;
    avr_raise_irq(avr_io_getirq(m_avr, AVR_IOCTL_ADC_GETIRQ, ADC_IRQ_ADC0 + channel),
                  static_cast<std::uint32_t>(volts * 1000.0 + 0.5));
}

void Chip::levelChanged(avr_irq_t *, std::uint32_t value, void *param)
{
    const auto *watched = static_cast<Watched *>(param);
    if (watched->chip->onLevel)
        watched->chip->onLevel(watched->pin, value != 0);
}

void Chip::charSent(avr_irq_t *, std::uint32_t value, void *param)
{
    static_cast<Chip *>(param)->sent += static_cast<char>(value);
}

void Chip::watch(int pin)
{
    m_pins.push_back(std::make_unique<Watched>(Watched{this, pin}));
    const auto line = lineOf(pin);
    avr_irq_register_notify(
        avr_io_getirq(m_avr, static_cast<std::uint32_t>(AVR_IOCTL_IOPORT_GETIRQ(line.port)),
                      line.bit),
        levelChanged, m_pins.back().get());
}

void Chip::after(double time_us, std::function<void()> what)
{
    m_events.push({m_avr->cycle + static_cast<std::uint64_t>(time_us * 1e-6 * m_avr->frequency),
                   std::move(what)});
}

bool Chip::onCall(const std::string &function, std::function<void()> what)
{
    const auto it = m_addresses.find(function);
    if (it == m_addresses.end())
        return false;
    m_watched[it->second / 2] = static_cast<int>(m_calls.size());
    m_calls.push_back(std::move(what));
    return true;
}

void Chip::onReturn(std::function<void()> what)
{
    const auto stack = static_cast<std::uint16_t>(m_avr->data[R_SPL] | (m_avr->data[R_SPH] << 8));
    // The return address lies above the stack, high byte first, in words.
    const auto words =
        static_cast<std::uint32_t>((m_avr->data[stack + 1] << 8) | m_avr->data[stack + 2]);
    m_returns.push_back({words * 2, stack, std::move(what)});
}

std::uint8_t Chip::reg(int number) const
{
    return m_avr->data[number];
}

std::uint16_t Chip::reg16(int number) const
{
    return static_cast<std::uint16_t>(reg(number) | (reg(number + 1) << 8));
}

std::uint32_t Chip::reg32(int number) const
{
    return reg16(number) | (static_cast<std::uint32_t>(reg16(number + 2)) << 16);
}

void Chip::setReg(int number, std::uint8_t value)
{
    m_avr->data[number] = value;
}

void Chip::send(char sign)
{
    avr_raise_irq(avr_io_getirq(m_avr, AVR_IOCTL_UART_GETIRQ('0'), UART_IRQ_INPUT),
                  static_cast<std::uint8_t>(sign));
}

} // namespace badger::board
