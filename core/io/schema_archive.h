// SPDX-License-Identifier: GPL-3.0-or-later
// What does a description look like as a JSON Schema?
#pragma once

#include "core/io/json_archive.h"

namespace badger::io
{

/// Writes down what a description names, as JSON Schema draft 7. The value given to it is not read;
/// it only says of which type each key is.
class SchemaMaker
{
public:
    /// A description whose keys depend on the value names all of them.
    static constexpr bool listing = true;

    template <class T> void required(const char *key, T &value, const Limits &limits = {})
    {
        m_required.push_back(key);
        add(key, value, limits);
    }
    template <class T> void optional(const char *key, T &value, const Limits &limits = {})
    {
        add(key, value, limits);
    }
    template <class T>
    void optional(const char *key, T &value, const T &, const Limits &limits = {})
    {
        add(key, value, limits);
    }
    template <class T> void optional(const char *key, std::optional<T> &, const Limits &limits = {})
    {
        T value{};
        add(key, value, limits);
    }
    template <class E> void word(const char *key, E &, const Words<E> &words)
    {
        m_required.push_back(key);
        m_properties[key] = {{"enum", wordList(joinedWords(words))}};
    }
    template <class E> void optionalWord(const char *key, E &, const Words<E> &words, E)
    {
        m_properties[key] = {{"enum", wordList(joinedWords(words))}};
    }
    void rest(Extra &) {}

    Json take()
    {
        Json object = {{"type", "object"}, {"properties", std::move(m_properties)}};
        if (!m_required.empty())
            object["required"] = std::move(m_required);
        return object;
    }

private:
    template <class T> void add(const char *key, T &value, const Limits &limits)
    {
        m_properties[key] = schema(value, limits);
    }

    static Json wordList(std::string_view words, bool numbers = false)
    {
        auto list = Json::array();
        eachWord(words, [&](std::string_view word) {
            list.push_back(numbers ? Json::parse(word) : Json(word));
        });
        return list;
    }
    static Json bound(double value)
    {
        return value == std::trunc(value) ? Json(static_cast<std::int64_t>(value)) : Json(value);
    }
    static Json number(const char *type, const Limits &limits)
    {
        Json all = {{"type", type}};
        if (!limits.words.empty())
            return {{"enum", wordList(limits.words, true)}};
        if (std::isfinite(limits.low))
            all["minimum"] = bound(limits.low);
        if (std::isfinite(limits.high))
            all["maximum"] = bound(limits.high);
        return all;
    }
    static Json schema(double &, const Limits &limits) { return number("number", limits); }
    static Json schema(int &, const Limits &limits) { return number("integer", limits); }
    static Json schema(bool &, const Limits &) { return {{"type", "boolean"}}; }
    static Json schema(std::string &, const Limits &limits)
    {
        if (!limits.words.empty())
            return {{"enum", wordList(limits.words)}};
        Json all = {{"type", "string"}};
        if (!limits.letters.empty())
            all["pattern"] =
                fmt::format("^[{}]{{{},{}}}$", limits.letters, limits.shortest, limits.longest);
        else {
            if (limits.shortest > 0)
                all["minLength"] = limits.shortest;
            if (limits.longest != Limits{}.longest)
                all["maxLength"] = limits.longest;
        }
        return all;
    }
    template <class T> static Json schema(std::vector<T> &, const Limits &limits)
    {
        return list<T>(limits);
    }
    template <class T> static Json schema(Pieces<T> &, const Limits &limits)
    {
        return list<T>(limits);
    }
    template <class T> static Json list(const Limits &limits)
    {
        T entry{};
        Json all = {{"type", "array"}, {"items", schema(entry, limits)}};
        if (limits.most != Limits{}.most)
            all["maxItems"] = limits.most;
        return all;
    }
    template <class T> static Json schema(std::map<std::string, T> &, const Limits &limits)
    {
        T entry{};
        Json all = {{"type", "object"}, {"additionalProperties", schema(entry, limits)}};
        if (limits.most != Limits{}.most)
            all["maxProperties"] = limits.most;
        return all;
    }
    template <class T> static Json schema(T &value, const Limits &)
    {
        SchemaMaker inner;
        describe(inner, value);
        return inner.take();
    }

    Json m_properties = Json::object();
    Json m_required = Json::array();
};

} // namespace badger::io
