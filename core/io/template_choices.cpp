// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/io/template_choices.h"

#include "core/base/named.h"
#include "core/io/shipped.h"
#include "core/units/quantity.h"

#include <algorithm>
#include <charconv>
#include <cmath>
#include <fmt/format.h>
#include <fmt/ranges.h>

namespace badger::io
{

namespace
{

const char *usualUnit(std::string_view kind)
{
    static const std::map<std::string_view, const char *> units = {
        {"distance", "cm"}, {"duration", "ms"},       {"angle", "deg"},
        {"angles", "deg"},  {"per-degree", "ms/deg"}, {"temperature", "C"}};
    const auto it = units.find(kind);
    return it == units.end() ? "" : it->second;
}

Result<Json> numberOf(const std::string &key, const std::string &typed, double least, double most,
                      bool whole)
{
    double number = 0.0;
    const auto *end = typed.data() + typed.size();
    const auto read = std::from_chars(typed.data(), end, number);
    if (read.ec != std::errc() || read.ptr != end || !std::isfinite(number))
        return wrongChoice(Error::Kind::Malformed, key, say("'{}' is no number", typed),
                           say("write a bare number, '140'"));
    if (number < least || number > most || (whole && number != std::trunc(number)))
        return wrongChoice(Error::Kind::OutOfRange, key, say("'{}' is out of range", typed),
                           say("use {} from {} to {}",
                               whole ? say("a whole number") : say("a number"),
                               units::number(least, 3), units::number(most, 3)));
    return written(number);
}

Result<Json> quantityOf(const std::string &key, const std::string &typed,
                        units::Dimension dimension)
{
    const auto si = units::parse(typed, dimension, "--set " + key);
    if (!si)
        return tl::unexpected(si.error());
    return written(*si);
}

Result<Json> anglesOf(const TemplateChoice &c, const std::string &typed)
{
    Json all = Json::array();
    for (size_t at = 0; at <= typed.size();) {
        const auto comma = std::min(typed.find(',', at), typed.size());
        auto one = typed.substr(at, comma - at);
        if (const auto deg = one.find("deg"); deg != std::string::npos && comma == typed.size())
            one = one.substr(0, deg);
        auto angle = numberOf(c.key, one, 0.0, 180.0, false);
        if (!angle)
            return angle;
        all.push_back(*angle);
        at = comma + 1;
    }
    if (c.count != 0 && static_cast<int>(all.size()) != c.count)
        return wrongChoice(
            Error::Kind::OutOfRange, c.key,
            say("{} {0|angle is|angles are} named; it takes {}", all.size(), c.count),
            say("write them as 30,150"));
    if (all.size() > 60)
        return wrongChoice(Error::Kind::OutOfRange, c.key, say("more than 60 angles"),
                           say("use fewer"));
    return all;
}

} // namespace

tl::unexpected<Error> wrongChoice(Error::Kind kind, const std::string &key, Say what, Say mend)
{
    return fail(kind, "--set " + key, std::move(what), std::move(mend));
}

Result<Json> valueOf(const TemplateChoice &c, const std::string &templateName,
                     const std::string &typed, const std::string &sourceWord)
{
    using units::Dimension;
    auto kind = c.kind;
    if (kind == "by-source")
        kind = sourceWord == "distance" ? "distance" : sourceWord == "raw" ? "count" : "number";
    if (kind == "word") {
        const auto *table = wordTable(templateName, c.key, "words");
        if (std::find(c.words.begin(), c.words.end(), typed) == c.words.end() || table == nullptr)
            return wrongChoice(Error::Kind::Malformed, c.key,
                               say("'{}' is none of its words", typed),
                               say("use one of: {}", joined(c.words, ", ")));
        return table->at(typed);
    }
    if (kind == "distance")
        return quantityOf(c.key, typed, Dimension::Length);
    if (kind == "duration")
        return quantityOf(c.key, typed, Dimension::Time);
    if (kind == "per-degree") {
        const auto slash = typed.find("/deg");
        return quantityOf(c.key, typed.substr(0, slash), Dimension::Time);
    }
    if (kind == "temperature")
        return quantityOf(c.key, typed, Dimension::Temperature);
    if (kind == "pwm")
        return numberOf(c.key, typed, 0.0, 255.0, true);
    if (kind == "count")
        return numberOf(c.key, typed, 0.0, 1023.0, true);
    if (kind == "times")
        return numberOf(c.key, typed, 1.0, c.key == "median" ? 15.0 : 1000.0, true);
    if (kind == "angles")
        return anglesOf(c, typed);
    return numberOf(c.key, typed, -100.0, 100.0, false);
}

const Json &templateSource()
{
    static const Json all = Json::parse(behaviourTemplates());
    return all;
}

TemplateChoice choiceOf(const Json &listed)
{
    const auto key =
        listed.is_string() ? listed.get<std::string>() : listed.at("key").get<std::string>();
    const auto &common = templateSource().at("choices");
    Json all = common.contains(key) ? common.at(key) : Json::object();
    if (listed.is_object()) {
        if (listed.contains("kind"))
            all = listed;
        else
            all.update(listed);
    }
    TemplateChoice c;
    c.key = key;
    c.kind = all.at("kind").get<std::string>();
    c.unit = usualUnit(c.kind);
    c.meaning = all.value("meaning", "");
    c.when = all.value("when", "");
    c.optional = all.value("optional", false);
    c.count = all.value("count", 0);
    if (all.contains("words"))
        for (const auto &[word, meaning] : all.at("words").items())
            c.words.push_back(word);
    if (all.contains("default") && all.at("default").is_string() &&
        !all.at("default").get_ref<const std::string &>().empty())
        c.defaultWord = all.at("default").get<std::string>();
    c.shapes =
        c.kind == "word" && !c.defaultWord && !c.optional && !all.value("may_be_unset", false);
    return c;
}

const Json &templateEntry(const std::string &name)
{
    const auto &all = templateSource().at("templates");
    return *std::find_if(all.begin(), all.end(),
                         [&](const Json &t) { return t.at("name") == name; });
}

/// The word tables of a choice: what each word stands for, and its opposite.
const Json *wordTable(const std::string &templateName, const std::string &key, const char *table)
{
    for (const auto &c : templateEntry(templateName).at("choices"))
        if (c.is_object() && c.at("key") == key && c.contains(table))
            return &c.at(table);
    const auto &common = templateSource().at("choices");
    return common.contains(key) && common.at(key).contains(table) ? &common.at(key).at(table)
                                                                  : nullptr;
}

Result<Chosen> chosenOf(const Template &t, const Choices &given)
{
    Chosen chosen;
    chosen.templateName = t.name;
    for (const auto &[key, typed] : given)
        if (t.choice(key) == nullptr) {
            std::vector<Say> keys;
            for (const auto &c : t.choices)
                keys.emplace_back(c.key);
            return wrongChoice(Error::Kind::Missing, key, say("'{}' has no such choice", t.name),
                               say("it has: {}", joined(keys, ", ")));
        }
    for (const auto &c : t.choices)
        if (const auto it = given.find(c.key); it != given.end())
            chosen.words[c.key] = it->second;
        else if (c.defaultWord)
            chosen.words[c.key] = *c.defaultWord;
    for (const auto &c : t.choices) {
        const auto it = chosen.words.find(c.key);
        if (it == chosen.words.end() && c.shapes && (c.when.empty() || chosen.holds(c.when)))
            return wrongChoice(Error::Kind::Missing, c.key, say("it is not chosen: {}", c.meaning),
                               say("use one of: {}", joined(c.words, ", ")));
        if (it == chosen.words.end())
            continue;
        if (!c.when.empty() && !chosen.holds(c.when)) {
            if (given.count(c.key))
                return wrongChoice(Error::Kind::Conflict, c.key, say("it means nothing here"),
                                   say("it needs {}", c.when));
            chosen.words.erase(it);
            continue;
        }
        const auto from = chosen.words.find("source");
        auto value = valueOf(c, t.name, it->second,
                             from == chosen.words.end() ? std::string() : from->second);
        if (!value)
            return tl::unexpected(value.error());
        chosen.values[c.key] = *value;
    }
    return chosen;
}

} // namespace badger::io
