// SPDX-License-Identifier: GPL-3.0-or-later
// Where things of this build and this folder are. Only places.cpp is compiled with their paths, so
// that a compiler cache knows the tests again in another folder.
#pragma once

namespace badger::test::places
{

extern const char *const findings;    ///< docs/findings.md
extern const char *const testsOfCore; ///< the folder
extern const char *const fixtures;    ///< the folder
extern const char *const fuzzSeeds;   ///< the folder
extern const char *const demo;        ///< the demo's workshop
extern const char *const cli;         ///< the program
extern const char *const standin;     ///< the program

} // namespace badger::test::places
