// SPDX-License-Identifier: GPL-3.0-or-later
// How does a program run on a board?
#pragma once

#include "core/rules/evaluate.h"
#include "core/rules/firmware.h"

namespace badger::rules
{

/// Runs a complete program (nothing unset, nothing broken) as firmware.
class Interpreter final : public Firmware
{
public:
    explicit Interpreter(Program program);
    void start(Board &board) override;
    void pass(Board &board) override;
    const std::string &state() const { return m_memory.state; }

private:
    void enter(Board &board, const std::string &state);
    void endWait(Board &board);
    Numbers readAll(Board &board, std::map<std::string, std::uint32_t> &echoes);
    void printLine(Board &board, const Numbers &numbers);

    Program m_program;
    Memory m_memory;
    std::uint64_t m_waitEnd_us = 0;
    std::uint64_t m_nextPass_us = 0;
};

/// The motion of a state as commands to the two wheels.
std::pair<WheelCommand, WheelCommand> commands(const Program &program, const Motion &motion);

} // namespace badger::rules
