// SPDX-License-Identifier: GPL-3.0-or-later
// How does a program read, as a page of sentences?
//
// Every choice is a token of its own: a value that can be typed over, or a word that others can
// stand for. The sentences are made of the model alone; there is no second text to keep.
#pragma once

#include "core/rules/program.h"

#include <vector>

namespace badger::sentences
{

struct Token {
    enum class Kind {
        Text,  ///< says itself
        Name,  ///< of a reading or a state: a click shows it
        Value, ///< can be typed over: target "value:NAME", or "limit:", "air:", "angles:",
               ///< "nearest:", "farthest:" of a reading (of no name: of all echoes), or "name:"
               ///< of a state
        Word   ///< one of options(program, target)
    } kind = Kind::Text;
    Say text;
    std::string target;
    bool unset = false;
};

struct Sentence {
    enum class Kind {
        Heading, ///< of a state, with what it does
        Line,
        Rule
    } kind = Kind::Line;
    std::vector<Token> tokens;
    std::string about; ///< "reading:ahead", "state:drives", "rule:drives/near"
    std::string state; ///< that a rule stands in; empty: it holds always
    int number = 0;    ///< of a rule in its list, from 1
    int go = -1;       ///< the state that a rule leads to, or that a heading is of
};

/// Readings first, then the rules that hold everywhere, then state by state, as a person would
/// tell it.
std::vector<Sentence> sentences(const rules::Program &program);

/// Where several distances are read in one and the same way it is said once: the first of them.
/// Null where they differ, or there is none or one.
const rules::Reading *sharedEcho(const rules::Program &program);

/// The words that can stand at a token; empty where it is none. The one that stands there is among
/// them.
std::vector<Say> options(const rules::Program &program, const std::string &target);
/// Which of them stands there; beyond the last where none does: it is unset.
std::size_t standing(const rules::Program &program, const std::string &target);
/// Takes the option of that number. Of two rules that are each other's opposite at one limit both
/// follow, so that no hole is made by changing one; a condition on another reading asks what can be
/// asked of it, with a value that is not chosen where none fits. False: there is no such place or
/// option.
bool choose(rules::Program &program, const std::string &target, std::size_t option);

/// Takes what was typed at a token: a number with its unit (a bare one where its kind has none),
/// angles with commas between, or a name, which everything that means it follows. Fails as
/// units::parse() does, with OutOfRange, or with Conflict where the name is taken.
Result<void> typeOver(rules::Program &program, const std::string &target, const std::string &typed);

} // namespace badger::sentences
