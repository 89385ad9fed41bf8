// SPDX-License-Identifier: GPL-3.0-or-later
// The choices of templates, as they are listed and as they are typed. Private to the templates.
#pragma once

#include "core/io/parse.h"
#include "core/io/templates.h"

namespace badger::io
{

/// data/templates/behaviours.json.
const Json &templateSource();
const Json &templateEntry(const std::string &name);
/// What the words of a choice stand for: its "words", or its "not". Null where it has none.
const Json *wordTable(const std::string &templateName, const std::string &key, const char *table);
TemplateChoice choiceOf(const Json &listed);

/// Choices that were read: by key the value, and as it was typed.
struct Chosen {
    std::string templateName;
    std::map<std::string, Json> values;
    std::map<std::string, std::string> words;

    bool holds(const std::string &condition) const
    {
        const auto equals = condition.find('=');
        const auto it = words.find(condition.substr(0, equals));
        const auto word = it == words.end() ? std::string() : it->second;
        if (equals == std::string::npos)
            return !word.empty();
        const auto wanted = condition.substr(equals + 1);
        if (wanted.empty())
            return word.empty();
        return ("|" + wanted + "|").find("|" + word + "|") != std::string::npos && !word.empty();
    }
};
/// One choice, as it is typed. Fails as fromTemplate() does.
Result<Json> valueOf(const TemplateChoice &c, const std::string &templateName,
                     const std::string &typed, const std::string &sourceWord);
/// What is wrong with a choice, and how to mend it.
tl::unexpected<Error> wrongChoice(Error::Kind kind, const std::string &key, Say what, Say mend);

/// Fails as fromTemplate() does.
Result<Chosen> chosenOf(const Template &t, const Choices &given);

} // namespace badger::io
