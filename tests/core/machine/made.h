// SPDX-License-Identifier: GPL-3.0-or-later
// Programs from templates with everything chosen, and readings for them.
#pragma once

#include "core/io/templates.h"
#include "core/machine/play.h"

#include <QtTest/QtTest>

namespace badger::test
{

/// What a template needs beside its defaults, so that nothing is unset.
io::Choices enough(const std::string &name);

/// A program of a template; `more` over what enough() says.
rules::Program made(const std::string &name, const io::Choices &more = {});

/// What a program does at readings: "time,a,b" rows as a person writes them.
std::vector<machine::Told> played(const rules::Program &program,
                                  const std::vector<std::vector<std::string>> &rows);

/// The states that were entered, one after another, without what stays in one.
QStringList states(const rules::Program &program, const std::vector<machine::Told> &told);

/// When a state was first entered, in milliseconds; -1 for never.
double entered_ms(const rules::Program &program, const std::vector<machine::Told> &told,
                  const std::string &state);

} // namespace badger::test
