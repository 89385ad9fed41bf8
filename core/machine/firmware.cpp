// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/machine/firmware.h"

#include <cassert>
#include <fmt/format.h>

namespace badger::machine
{

namespace
{

rules::WheelCommand commandOf(const WheelOrder &order)
{
    switch (order.kind) {
    case WheelOrder::Kind::Coast:
        break;
    case WheelOrder::Kind::Brake:
        return {rules::WheelCommand::Kind::Brake, 0};
    case WheelOrder::Kind::Turn:
        return {rules::WheelCommand::Kind::Turn, order.counts};
    }
    return {};
}

} // namespace

/// The board of a trial as a machine sees it.
class ProgramFirmware::Link final : public Board
{
public:
    Link(const rules::Program &program, const Machine &machine)
        : m_program(program), m_machine(machine), m_memory{program.states.front().name, {}, {}}
    {
    }

    void at(rules::Board &board) { m_board = &board; }
    void beginPass()
    {
        m_echoes.clear();
        m_noted = false;
    }
    /// What was decided, once a pass: before anything follows from it.
    void note()
    {
        if (m_noted || m_echoes.size() != m_program.readings.size())
            return;
        m_noted = true;
        rules::Numbers numbers;
        for (size_t i = 0; i < m_echoes.size(); ++i)
            numbers[m_program.readings[i].name] =
                numberOf(m_machine, m_machine.sensors[i], m_echoes[i]);
        const auto decided = rules::decide(m_program, m_memory, numbers);
        const auto decisive = rules::decisiveReading(m_program, decided, numbers);
        for (size_t i = 0; i < m_echoes.size(); ++i) {
            const auto &name = m_program.readings[i].name;
            m_board->note({name, m_echoes[i], numbers[name].value_or(rules::noEchoNumber),
                           decided.state, decided.fired.empty() ? "" : decided.fired.back().rule,
                           rules::explain(m_program, decided, name, numbers[name]),
                           name == decisive});
        }
    }
    const std::string &state() const { return m_state; }

    std::uint64_t now_us() const override { return m_board->now_us(); }
    void wait_us(std::uint64_t time_us) override
    {
        note();
        m_board->wait_us(time_us);
    }
    Echo ping(int sensor, double) override
    {
        const auto i = static_cast<size_t>(sensor);
        const auto echo_us =
            m_board->ping_us(m_program.readings[i].instance, m_machine.sensors[i].timeOut_us);
        m_echoes.push_back(echo_us);
        return {echo_us, {}};
    }
    int level(int) override { return 0; }
    int count(int) override { return 0; }
    rules::Command key(int) override { return rules::Command::None; }
    bool await(int) override { return true; } // a run begins when it is pressed
    void drive(const Orders &orders) override
    {
        m_board->drive(commandOf(orders.left), commandOf(orders.right));
    }
    void servo(int, double) override {}
    void beep(std::uint64_t time_us) override { m_board->wait_us(time_us); }
    void print(std::string_view text, int baud) override
    {
        note();
        if (!text.empty())
            return m_board->print(std::string(text) + "\r\n", baud);
        std::string line;
        for (size_t i = 0; i < m_echoes.size(); ++i)
            line += fmt::format("{} {} ", m_program.readings[i].name,
                                units::plain(numberOf(m_machine, m_machine.sensors[i], m_echoes[i])
                                                 .value_or(rules::noEchoNumber),
                                             2));
        m_board->print(line + m_state + "\r\n", baud);
    }
    void entered(const Mind &mind, const Cause &) override
    {
        note();
        m_state = m_program.states[static_cast<size_t>(mind.mode)].name;
        m_memory.state = m_state; // what is explained next begins where the machine is
    }

private:
    const rules::Program &m_program;
    const Machine &m_machine;
    rules::Board *m_board = nullptr;
    rules::Memory m_memory;
    std::string m_state;
    std::vector<std::uint32_t> m_echoes; ///< of this pass, by reading
    bool m_noted = false;
};

ProgramFirmware::ProgramFirmware(rules::Program program)
    : m_program(std::move(program)), m_machine(lowerAnyway(m_program))
{
    assert(rules::broken(m_program).empty() && rules::unset(m_program).empty());
    assert(rules::onlyRangers(m_program));
}

ProgramFirmware::~ProgramFirmware() = default;

const std::string &ProgramFirmware::state() const
{
    return m_link->state();
}

void ProgramFirmware::start(rules::Board &board)
{
    m_link = std::make_unique<Link>(m_program, m_machine);
    m_runner = std::make_unique<Runner>(m_machine, *m_link);
    m_link->at(board);
    m_runner->start();
}

void ProgramFirmware::pass(rules::Board &board)
{
    m_link->at(board);
    m_link->beginPass();
    m_runner->pass();
    m_link->note();
}

} // namespace badger::machine
