// SPDX-License-Identifier: GPL-3.0-or-later
#include "support/places.h"

namespace badger::test::places
{

const char *const findings = SOURCES "/docs/findings.md";
const char *const testsOfCore = SOURCES "/tests/core";
const char *const fixtures = SOURCES "/tests/fixtures";
const char *const fuzzSeeds = SOURCES "/fuzz/seeds";
const char *const demo = SOURCES "/data/demo/saltmarsh-sheds.badger.json";
const char *const cli = CLI_PROGRAM;
const char *const standin = STANDIN_PROGRAM;

} // namespace badger::test::places
