// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/io/templates.h"

#include "core/base/named.h"
#include "core/io/describe_rules.h"
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

const Json &source()
{
    static const Json all = Json::parse(behaviourTemplates());
    return all;
}

const char *unitOf(std::string_view kind)
{
    static const std::map<std::string_view, const char *> units = {
        {"distance", "cm"}, {"duration", "ms"},       {"angle", "deg"},
        {"angles", "deg"},  {"per-degree", "ms/deg"}, {"temperature", "C"}};
    const auto it = units.find(kind);
    return it == units.end() ? "" : it->second;
}

TemplateChoice choiceOf(const Json &listed)
{
    const auto key =
        listed.is_string() ? listed.get<std::string>() : listed.at("key").get<std::string>();
    const auto &common = source().at("choices");
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
    c.unit = unitOf(c.kind);
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

const Json &entryOf(const std::string &name)
{
    const auto &all = source().at("templates");
    return *std::find_if(all.begin(), all.end(),
                         [&](const Json &t) { return t.at("name") == name; });
}

/// The word tables of a choice: what each word stands for, and its opposite.
const Json *wordTable(const std::string &templateName, const std::string &key, const char *table)
{
    for (const auto &c : entryOf(templateName).at("choices"))
        if (c.is_object() && c.at("key") == key && c.contains(table))
            return &c.at(table);
    const auto &common = source().at("choices");
    return common.contains(key) && common.at(key).contains(table) ? &common.at(key).at(table)
                                                                  : nullptr;
}

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

tl::unexpected<Error> wrong(Error::Kind kind, const std::string &key, Say what, Say mend)
{
    return fail(kind, "--set " + key, std::move(what), std::move(mend));
}

Result<Json> numberOf(const std::string &key, const std::string &typed, double least, double most,
                      bool whole)
{
    double number = 0.0;
    const auto *end = typed.data() + typed.size();
    const auto read = std::from_chars(typed.data(), end, number);
    if (read.ec != std::errc() || read.ptr != end || !std::isfinite(number))
        return wrong(Error::Kind::Malformed, key, say("'{}' is no number", typed),
                     say("write a bare number, '140'"));
    if (number < least || number > most || (whole && number != std::trunc(number)))
        return wrong(Error::Kind::OutOfRange, key, say("'{}' is out of range", typed),
                     say("use {} from {} to {}", whole ? say("a whole number") : say("a number"),
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
        return wrong(Error::Kind::OutOfRange, c.key,
                     say("{} {0|angle is|angles are} named; it takes {}", all.size(), c.count),
                     say("write them as 30,150"));
    if (all.size() > 60)
        return wrong(Error::Kind::OutOfRange, c.key, say("more than 60 angles"), say("use fewer"));
    return all;
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
            return wrong(Error::Kind::Malformed, c.key, say("'{}' is none of its words", typed),
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

Result<Chosen> chosenOf(const Template &t, const Choices &given)
{
    Chosen chosen;
    chosen.templateName = t.name;
    for (const auto &[key, typed] : given)
        if (t.choice(key) == nullptr) {
            std::vector<Say> keys;
            for (const auto &c : t.choices)
                keys.emplace_back(c.key);
            return wrong(Error::Kind::Missing, key, say("'{}' has no such choice", t.name),
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
            return wrong(Error::Kind::Missing, c.key, say("it is not chosen: {}", c.meaning),
                         say("use one of: {}", joined(c.words, ", ")));
        if (it == chosen.words.end())
            continue;
        if (!c.when.empty() && !chosen.holds(c.when)) {
            if (given.count(c.key))
                return wrong(Error::Kind::Conflict, c.key, say("it means nothing here"),
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

/// Makes a program's JSON of a template's.
class Expander
{
public:
    Expander(const Chosen &chosen, const Roles &roles) : m_chosen(chosen), m_roles(roles) {}

    /// Empty: it goes.
    std::optional<Json> expand(const Json &from) const
    {
        if (from.is_string())
            return text(from.get_ref<const std::string &>());
        if (from.is_array()) {
            Json all = Json::array();
            for (const auto &one : from)
                if (auto e = expand(one))
                    all.push_back(std::move(*e));
            return all;
        }
        return from.is_object() ? object(from) : from;
    }

private:
    std::optional<Json> object(const Json &from) const
    {
        if (const auto it = from.find("$if"); it != from.end())
            for (const auto &condition : *it)
                if (!m_chosen.holds(condition.get<std::string>()))
                    return std::nullopt;
        if (const auto it = from.find("$is"); it != from.end())
            return expand(*it);
        Json all = Json::object();
        const auto add = [&](const Json &keys) {
            for (const auto &[key, value] : keys.items())
                if (key.front() != '$') {
                    if (auto e = expand(value))
                        all[key] = std::move(*e);
                    else
                        all.erase(key);
                }
        };
        if (const auto it = from.find("$use"); it != from.end())
            add(source().at("parts").at(it->get<std::string>()));
        add(from);
        return all;
    }

    std::optional<Json> text(const std::string &from) const
    {
        if (from.empty() || from.front() != '$')
            return from;
        if (from.starts_with("$car:")) {
            const auto role = from.substr(5);
            const auto it = m_roles.find(role);
            return it == m_roles.end() ? role : it->second;
        }
        for (size_t at = 1; at < from.size();) {
            const auto bar = std::min(from.find('|', at), from.size());
            if (auto value = one(from.substr(at, bar - at)))
                return value;
            at = bar + 1;
        }
        return std::nullopt;
    }

    std::optional<Json> one(std::string key) const
    {
        std::optional<size_t> index;
        if (const auto bracket = key.find('['); bracket != std::string::npos) {
            index = static_cast<size_t>(key[bracket + 1] - '0');
            key.resize(bracket);
        }
        const bool opposite = key.ends_with("!not");
        if (opposite)
            key.resize(key.size() - 4);
        const auto it = m_chosen.values.find(key);
        if (it == m_chosen.values.end())
            return std::nullopt;
        if (opposite)
            return wordTable(m_chosen.templateName, key, "not")->at(m_chosen.words.at(key));
        if (index)
            return *index < it->second.size() ? std::optional(it->second[*index]) : std::nullopt;
        return it->second;
    }

    const Chosen &m_chosen;
    const Roles &m_roles;
};

bool sameButName(rules::Program a, const rules::Program &b)
{
    a.id = b.id;
    a.name = b.name;
    a.version = b.version;
    a.writtenVersion = b.writtenVersion;
    return a == b;
}

/// What is wrong with the counts that only belong together.
Result<void> fits(const rules::Program &program)
{
    for (const auto &r : program.readings)
        if (r.medianOf % 2 == 0)
            return wrong(Error::Kind::OutOfRange, "median",
                         say("a median of {} has no middle", r.medianOf), say("use an odd number"));
    return {};
}

} // namespace

const TemplateChoice *Template::choice(std::string_view key) const
{
    const auto it = std::find_if(choices.begin(), choices.end(),
                                 [&](const TemplateChoice &c) { return c.key == key; });
    return it == choices.end() ? nullptr : &*it;
}

const std::vector<Template> &templates()
{
    static const auto all = [] {
        std::vector<Template> list;
        for (const auto &t : source().at("templates")) {
            Template one{t.at("name"), t.at("what"), t.at("why"), {}};
            for (const auto &c : t.at("choices"))
                one.choices.push_back(choiceOf(c));
            list.push_back(std::move(one));
        }
        return list;
    }();
    return all;
}

const Template *templateNamed(std::string_view name)
{
    return named(templates(), name);
}

Result<rules::Program> fromTemplate(const std::string &name, const Choices &choices,
                                    const Roles &roles, const Id<rules::Program> &id,
                                    const std::string &programName)
{
    const auto *t = templateNamed(name);
    if (t == nullptr) {
        std::vector<Say> names;
        for (const auto &one : templates())
            names.emplace_back(one.name);
        return fail(Error::Kind::Missing, "--from", say("there is no template '{}'", name),
                    say("use one of: {}", joined(names, ", ")));
    }
    const auto chosen = chosenOf(*t, choices);
    if (!chosen)
        return tl::unexpected(chosen.error());
    auto json = *Expander(*chosen, roles).expand(entryOf(name).at("program"));
    json["id"] = id.text;
    json["name"] = programName;
    json["version"] = 1;
    std::optional<Error> error;
    rules::Program program;
    Reader reader(json, "", error);
    rules::describe(reader, program);
    if (error) {
        error->where = say("template '{}'", name) + Say(": ") + error->where;
        return tl::unexpected(*error);
    }
    if (const auto sentences = rules::broken(program); !sentences.empty())
        return fail(Error::Kind::Malformed, say("template '{}'", name), sentences.front());
    if (auto ok = fits(program); !ok)
        return tl::unexpected(ok.error());
    program.from = rules::Origin{name, choices, {}};
    return program;
}

bool suits(const Template &of, const Roles &roles)
{
    Choices shape;
    for (const auto &c : of.choices)
        if (c.shapes)
            shape[c.key] = c.words.front();
    const auto program = fromTemplate(of.name, shape, roles, Id<rules::Program>{"shape"}, of.name);
    if (!program)
        return false;
    const auto plays = [&](const std::string &instance) {
        return std::any_of(roles.begin(), roles.end(),
                           [&](const auto &role) { return role.second == instance; });
    };
    return std::all_of(program->readings.begin(), program->readings.end(),
                       [&](const rules::Reading &r) {
                           return (r.instance.empty() || plays(r.instance)) &&
                                  (!r.swivel || plays(r.swivel->servo));
                       });
}

Result<rules::Program> withChoices(const rules::Program &program, const Choices &choices,
                                   const Roles &roles)
{
    if (program.from) {
        const auto before = fromTemplate(program.from->name, program.from->choices, roles,
                                         program.id, program.name);
        if (before && sameButName(*before, program)) {
            auto all = program.from->choices;
            for (const auto &[key, typed] : choices)
                all[key] = typed;
            auto made = fromTemplate(program.from->name, all, roles, program.id, program.name);
            if (made) {
                made->version = program.version;
                made->writtenVersion = program.writtenVersion;
            }
            return made;
        }
    }
    auto changed = program;
    for (const auto &[key, typed] : choices) {
        const auto it = std::find_if(changed.values.begin(), changed.values.end(),
                                     [&](const rules::Value &v) { return v.name == key; });
        if (it == changed.values.end()) {
            std::vector<Say> names;
            for (const auto &v : changed.values)
                names.emplace_back(v.name);
            return wrong(Error::Kind::Conflict, key,
                         say("the program '{}' was changed by hand; only its values can be set so",
                             program.name),
                         say("its values: {}; or begin anew from a template", joined(names, ", ")));
        }
        static const std::map<rules::ValueKind, const char *> kinds = {
            {rules::ValueKind::Distance, "distance"}, {rules::ValueKind::Duration, "duration"},
            {rules::ValueKind::Speed, "pwm"},         {rules::ValueKind::Count, "count"},
            {rules::ValueKind::Angle, "number"},      {rules::ValueKind::Share, "number"},
            {rules::ValueKind::Times, "times"},       {rules::ValueKind::PerDegree, "per-degree"}};
        TemplateChoice c;
        c.key = key;
        c.kind = kinds.at(it->kind);
        const auto value = valueOf(c, {}, typed, {});
        if (!value)
            return tl::unexpected(value.error());
        it->si = value->get<double>();
        it->suggested = false;
    }
    return changed;
}

} // namespace badger::io
