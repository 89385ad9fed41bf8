// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/io/upgrade.h"

#include "core/base/id.h"

#include <fmt/format.h>
#include <map>
#include <set>

namespace badger::io
{

namespace
{

Json *memberOf(Json &object, const char *key)
{
    const auto it = object.is_object() ? object.find(key) : object.end();
    return object.is_object() && it != object.end() ? &*it : nullptr;
}

std::optional<std::string> textOf(const Json &object, const char *key)
{
    if (!object.is_object())
        return std::nullopt;
    const auto it = object.find(key);
    return it != object.end() && it->is_string() ? std::optional(it->get<std::string>())
                                                 : std::nullopt;
}

/// A key that version 2 uses may be a person's own in version 1: it gets another name.
void makeRoom(Json &object, const std::string &key)
{
    const auto it = object.find(key);
    if (it == object.end())
        return;
    auto other = key + "_1";
    while (object.contains(other))
        other += "_1";
    object[other] = std::move(*it);
    object.erase(key);
}

void setNew(Json &object, const char *key, std::string text)
{
    makeRoom(object, key);
    object[key] = std::move(text);
}

template <class Do> void eachObject(Json &workshop, const char *list, Do &&todo)
{
    auto *all = memberOf(workshop, list);
    if (all == nullptr || !all->is_array())
        return;
    for (size_t i = 0; i < all->size(); ++i)
        if ((*all)[i].is_object())
            todo((*all)[i], fmt::format("/{}/{}", list, i));
}

/// Gives an id to each thing of a list; the names that are there.
std::set<std::string> nameAll(Json &workshop, const char *list, const char *kind)
{
    std::set<std::string> names;
    eachObject(workshop, list, [&](Json &thing, const std::string &) {
        const auto name = textOf(thing, "name").value_or("");
        names.insert(name);
        setNew(thing, "id", derivedIdText(kind, name));
    });
    return names;
}

/// A name becomes the id that was derived from it; an empty one stays.
void refer(Json &object, const char *key, const char *kind)
{
    if (const auto name = textOf(object, key); name && !name->empty())
        object[key] = derivedIdText(kind, *name);
}

/// What a trial refers to is kept by name, too.
void referByBoth(Json &trial, const char *key, const char *nameKey)
{
    if (const auto name = textOf(trial, key)) {
        refer(trial, key, key);
        setNew(trial, nameKey, *name);
    }
}

std::optional<Error> unknown(const Json &object, const char *key,
                             const std::set<std::string> &names, const std::string &place)
{
    const auto name = textOf(object, key);
    if (!name || name->empty() || names.contains(*name))
        return std::nullopt;
    return Error{Error::Kind::Missing, fmt::format("{}/{}", place, key),
                 fmt::format("there is no {} '{}'", key, *name),
                 fmt::format("name a {} of the workshop", key)};
}

void upgradeTrials(Json &workshop)
{
    std::map<std::string, int> seen; // two runs may be alike in everything that was written down
    eachObject(workshop, "trials", [&](Json &trial, const std::string &) {
        auto content = trial.dump(-1, ' ', false, Json::error_handler_t::replace);
        if (const int before = seen[content]++; before > 0)
            content += fmt::format("\n{}", before);
        refer(trial, "car", "car");
        referByBoth(trial, "program", "program_name");
        referByBoth(trial, "floor", "floor_name");
        setNew(trial, "id", derivedIdText("trial", content));
    });
}

} // namespace

std::optional<Error> upgradeFrom1(Json &workshop)
{
    const auto programs = nameAll(workshop, "programs", "program");
    const auto floors = nameAll(workshop, "floors", "floor");
    const auto cars = nameAll(workshop, "cars", "car");
    std::optional<Error> error;
    const auto note = [&](std::optional<Error> e) {
        if (!error)
            error = std::move(e);
    };
    eachObject(workshop, "cars", [&](Json &car, const std::string &place) {
        note(unknown(car, "program", programs, place));
        refer(car, "program", "program");
        if (auto *mission = memberOf(car, "mission"); mission && mission->is_object()) {
            note(unknown(*mission, "floor", floors, place + "/mission"));
            refer(*mission, "floor", "floor");
        }
    });
    eachObject(workshop, "trials", [&](Json &trial, const std::string &place) {
        note(unknown(trial, "car", cars, place));
    });
    upgradeTrials(workshop);
    return error;
}

} // namespace badger::io
