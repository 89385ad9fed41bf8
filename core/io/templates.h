// SPDX-License-Identifier: GPL-3.0-or-later
// Which behaviours are there to begin with, and how does one become a program?
//
// A template is a program as it stands in a file, with choices left open; no behaviour has code of
// its own. data/templates/behaviours.json holds them:
//
//     "$key"             the choice's value: a number in SI, a list, or what its word stands for.
//                        Where it is not chosen, what holds the text goes, and the program has
//                        something unset
//     "$key!not"         of a comparison, the opposite
//     "$key[1]"          one of a list, counted from 0
//     "$a|b"             the first of them that is chosen
//     "$car:role"        the part of the car that plays a role, "ranger"; its role where none does
//     {"$if": [...]}     stays only where each holds: "key=word|word", "key" (it is chosen),
//                        "key=" (it is not)
//     {"$if", "$is": x}  stands for x where the conditions hold
//     {"$use": "ranger"} the keys of a shared part, under the object's own
#pragma once

#include "core/base/result.h"
#include "core/rules/program.h"

#include <map>
#include <optional>
#include <string>
#include <vector>

namespace badger::io
{

/// One choice of a template.
struct TemplateChoice {
    std::string key;     ///< "near"
    std::string kind;    ///< "distance", "duration", "pwm", "count", "word", "angles", ...
    std::string unit;    ///< in which it is usually said, "cm"; empty: none
    std::string meaning; ///< "back off inside it"
    std::vector<std::string> words;         ///< of the kind "word"
    std::optional<std::string> defaultWord; ///< as it is typed; empty: nothing may be invented
    bool optional = false;                  ///< can be left out
    /// The shape of the program follows from it, so there is none before it is chosen; everything
    /// else that is not chosen is unset in the program.
    bool shapes = false;
    std::string when; ///< it is there only where this holds
    int count = 0;    ///< of a list: how many; 0: any
};

struct Template {
    std::string name; ///< "keep-station"
    std::string what; ///< one sentence
    std::string why;  ///< the school's reason, one line
    std::vector<TemplateChoice> choices;

    const TemplateChoice *choice(std::string_view key) const;
};

/// All templates, in the order in which people learn them.
const std::vector<Template> &templates();
const Template *templateNamed(std::string_view name);

/// As they are typed: "near" to "18cm", "no-echo" to "stop", "angles" to "30,150".
using Choices = std::map<std::string, std::string>;
/// Which part of the car plays a role: "ranger", "left-ranger", "right-ranger", "servo", "eye",
/// "left-eye", "right-eye", "edge", "outer-left", "inner-left", "inner-right", "outer-right".
using Roles = std::map<std::string, std::string>;

/// A program from a template. What is not chosen and has no default is unset in it.
///
/// Fails with Missing for an unknown template or choice (naming those there are) and while a choice
/// that shapes the program is not made, with Malformed
/// for a word that is none of the choice's or a quantity that cannot be read, with OutOfRange for
/// one that no program may hold, with Conflict for a choice that another one switches off.
Result<rules::Program> fromTemplate(const std::string &name, const Choices &choices,
                                    const Roles &roles, const Id<rules::Program> &id,
                                    const std::string &programName);

/// Whether a car has a part for every role of a template.
bool suits(const Template &of, const Roles &roles);

/// The same program with some choices made otherwise.
///
/// One that still is what its template made of its choices is made again from all of them; of one
/// that was changed by hand, or has no template, values alone can be set, by their names. Fails as
/// fromTemplate() does, and with Conflict where a choice cannot be changed any more.
Result<rules::Program> withChoices(const rules::Program &program, const Choices &choices,
                                   const Roles &roles);

} // namespace badger::io
