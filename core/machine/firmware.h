// SPDX-License-Identifier: GPL-3.0-or-later
// How does a program drive a simulated car?
#pragma once

#include "core/machine/runner.h"
#include "core/rules/evaluate.h"
#include "core/rules/firmware.h"

#include <memory>

namespace badger::machine
{

/// A machine as a trial's firmware. `program` is complete and reads rangers alone
/// (rules::onlyRangers): a trial's world has nothing else to hear. Each pass notes what was decided
/// and why, before anything is driven.
class ProgramFirmware final : public rules::Firmware
{
public:
    explicit ProgramFirmware(rules::Program program);
    ~ProgramFirmware() override;
    void start(rules::Board &board) override;
    void pass(rules::Board &board) override;
    /// The state it is in.
    const std::string &state() const;

private:
    class Link;
    rules::Program m_program;
    Machine m_machine;
    std::unique_ptr<Link> m_link;
    std::unique_ptr<Runner> m_runner;
};

} // namespace badger::machine
