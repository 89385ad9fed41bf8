// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/io/templates.h"

#include "core/base/named.h"
#include "core/io/describe_rules.h"
#include "core/io/template_choices.h"

#include <algorithm>
#include <cmath>
#include <fmt/format.h>
#include <fmt/ranges.h>

namespace badger::io
{

namespace
{

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
            add(templateSource().at("parts").at(it->get<std::string>()));
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

/// Reads what the template makes of the choices; why the reader of programs does not take it.
std::optional<Error> unfit(const Chosen &chosen, const Roles &roles, const std::string &id,
                           const std::string &name, rules::Program &program)
{
    auto json = *Expander(chosen, roles).expand(templateEntry(chosen.templateName).at("program"));
    json["id"] = id;
    json["name"] = name;
    json["version"] = 1;
    std::optional<Error> error;
    Reader reader(json, "", error);
    rules::describe(reader, program);
    return error;
}

/// The choice without which that place is not complained of; one without which all is well before
/// one that others need. Empty: none.
std::string culprit(const Template &of, const Choices &choices, const Roles &roles,
                    const Say &where)
{
    std::string other;
    for (const auto &[key, typed] : choices) {
        auto without = choices;
        without.erase(key);
        const auto chosen = chosenOf(of, without);
        rules::Program program;
        const auto error = chosen ? unfit(*chosen, roles, "made", "made", program) : std::nullopt;
        if (chosen && !error)
            return key;
        if (other.empty() && (!chosen || error->where != where))
            other = key;
    }
    return other;
}

/// What is wrong with the counts that only belong together.
Result<void> fits(const rules::Program &program)
{
    for (const auto &r : program.readings)
        if (r.medianOf % 2 == 0)
            return wrongChoice(Error::Kind::OutOfRange, "median",
                               say("a median of {} has no middle", r.medianOf),
                               say("use an odd number"));
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
        for (const auto &t : templateSource().at("templates")) {
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
    rules::Program program;
    if (auto error = unfit(*chosen, roles, id.text, programName, program)) {
        const auto key = culprit(*t, choices, roles, error->where);
        error->where = key.empty() ? say("template '{}'", name) + Say(": ") + error->where
                                   : say("--set {}", key);
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
            return wrongChoice(
                Error::Kind::Conflict, key,
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