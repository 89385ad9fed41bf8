// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/rules/interpreter.h"

#include <algorithm>
#include <cassert>
#include <cmath>
#include <fmt/format.h>

namespace badger::rules
{

namespace
{

std::uint64_t duration_us(const Program &program, const std::string &value)
{
    const auto *v = program.value(value);
    return v && v->si ? static_cast<std::uint64_t>(std::llround(*v->si * 1e6)) : 0;
}

/// Even a program without pause and without ping takes its own arithmetic's time; without it a
/// pass would take none and a run would never end.
constexpr std::uint64_t leastPass_us = 20;

} // namespace

std::pair<WheelCommand, WheelCommand> commands(const Program &program, const Motion &motion)
{
    if (motion.wheels == Wheels::Brake)
        return {{WheelCommand::Kind::Brake, 0}, {WheelCommand::Kind::Brake, 0}};
    if (motion.wheels == Wheels::Coast)
        return {};
    const auto one = [&](const Wheel &wheel) {
        const auto *speed = program.value(wheel.speed);
        const int counts = speed && speed->si ? static_cast<int>(std::lround(*speed->si)) : 0;
        // A still wheel of a driving pair is held: direction inputs equal, enable high.
        return wheel.sense == 0 ? WheelCommand{WheelCommand::Kind::Brake, 0}
                                : WheelCommand{WheelCommand::Kind::Turn, wheel.sense * counts};
    };
    return {one(motion.left), one(motion.right)};
}

Interpreter::Interpreter(Program program) : m_program(std::move(program))
{
    assert(broken(m_program).empty() && unset(m_program).empty());
}

void Interpreter::enter(Board &board, const std::string &name)
{
    m_memory.state = name;
    const auto *state = m_program.state(name);
    const auto [left, right] = commands(m_program, state->motion);
    board.drive(left, right);
    if (!state->wait)
        return;
    const auto length_us = duration_us(m_program, state->wait->duration);
    m_waitEnd_us = board.now_us() + length_us;
    if (state->wait->kind == WaitKind::Blocking)
        board.wait_us(length_us);
}

void Interpreter::endWait(Board &board)
{
    const auto *state = m_program.state(m_memory.state);
    if (state->wait && board.now_us() >= m_waitEnd_us)
        enter(board, state->wait->then);
}

void Interpreter::start(Board &board)
{
    m_memory = {};
    enter(board, m_program.states.front().name);
    m_nextPass_us = board.now_us();
}

Numbers Interpreter::readAll(Board &board, std::map<std::string, std::uint32_t> &echoes)
{
    Numbers numbers;
    for (const auto &reading : m_program.readings) {
        const auto echo_us = board.ping_us(reading.instance, timeOut_us(reading));
        echoes[reading.name] = echo_us;
        numbers[reading.name] = numberOf(reading, echo_us);
    }
    return numbers;
}

void Interpreter::printLine(Board &board, const Numbers &numbers)
{
    std::string line;
    for (const auto &reading : m_program.readings)
        line += fmt::format("{} {} ", reading.name,
                            units::plain(numbers.at(reading.name).value_or(noEchoNumber), 2));
    board.print(line + m_memory.state + "\r\n", m_program.prints.baud);
}

void Interpreter::pass(Board &board)
{
    const auto begin_us = board.now_us();
    std::map<std::string, std::uint32_t> echoes;
    const auto numbers = readAll(board, echoes);
    const auto before = m_memory.state;
    const auto decided = decide(m_program, m_memory, numbers);
    const auto decisive = decisiveReading(m_program, decided, numbers);
    for (const auto &reading : m_program.readings) {
        const auto number = numbers.at(reading.name);
        board.note({reading.name, echoes[reading.name], number.value_or(noEchoNumber),
                    decided.state, decided.fired.empty() ? "" : decided.fired.back().rule,
                    explain(m_program, decided, reading.name, number), reading.name == decisive});
    }
    // A rule that does not end the pass acts before the next one does: each is driven.
    for (const auto &fired : decided.fired)
        if (fired.go != before || decided.fired.size() > 1)
            enter(board, fired.go);
    if (decided.fired.empty() && decided.state != before)
        enter(board, decided.state);
    endWait(board);
    if (m_program.prints.on)
        printLine(board, numbers);

    const auto pause_us = duration_us(m_program, m_program.passWait);
    if (m_program.passWaitKind == WaitKind::Blocking) {
        board.wait_us(pause_us);
    } else {
        m_nextPass_us += pause_us;
        if (m_nextPass_us > board.now_us())
            board.wait_us(m_nextPass_us - board.now_us());
        else
            m_nextPass_us = board.now_us();
    }
    if (board.now_us() == begin_us)
        board.wait_us(leastPass_us);
}

} // namespace badger::rules
