// SPDX-License-Identifier: GPL-3.0-or-later
// How does one description of a type serve for reading and for writing JSON?
//
// Each type has one `describe(archive, value)` that names its keys; a Reader fills the value, a
// Writer fills an object. Keys that no description names are kept as text in the value's `extra`.
#pragma once

#include "core/base/extra.h"
#include "core/base/pieces.h"
#include "core/base/result.h"

#include <cmath>
#include <cstdint>
#include <fmt/format.h>
#include <map>
#include <nlohmann/json.hpp>
#include <optional>
#include <set>
#include <string>
#include <utility>
#include <vector>

namespace badger::io
{

using Json = nlohmann::ordered_json;

/// Words of an enumeration, in files.
template <class E> using Words = std::vector<std::pair<E, const char *>>;

inline std::string escapedPointer(const std::string &key)
{
    std::string escaped;
    for (const char c : key)
        escaped += c == '~' ? "~0" : c == '/' ? "~1" : std::string(1, c);
    return escaped;
}

/// Fills values from one JSON object; the first error stays, and nothing is thrown.
class Reader
{
public:
    static constexpr bool reading = true;

    Reader(const Json &object, std::string pointer, std::optional<Error> &error)
        : m_object(object), m_pointer(std::move(pointer)), m_error(error)
    {
        if (!object.is_object())
            fail("is not an object", "put it in braces");
    }

    template <class T> void required(const char *key, T &value)
    {
        if (const auto *found = find(key))
            take(*found, at(key), value);
        else
            fail(fmt::format("lacks the key '{}'", key), "add it");
    }
    template <class T> void optional(const char *key, T &value, const T & = T{})
    {
        if (const auto *found = find(key))
            take(*found, at(key), value);
    }
    template <class T> void optional(const char *key, std::optional<T> &value)
    {
        const auto *found = find(key);
        if (found == nullptr || found->is_null())
            return;
        value.emplace();
        take(*found, at(key), *value);
    }
    template <class E> void word(const char *key, E &value, const Words<E> &words)
    {
        const auto *found = find(key);
        if (found == nullptr)
            return fail(fmt::format("lacks the key '{}'", key), "add it");
        std::string allowed;
        for (const auto &[v, text] : words) {
            if (*found == text) {
                value = v;
                return;
            }
            allowed += (allowed.empty() ? "" : ", ") + std::string(text);
        }
        failAt(at(key), "is not a known word", "use one of: " + allowed);
    }
    template <class E>
    void optionalWord(const char *key, E &value, const Words<E> &words, E /*unless*/)
    {
        if (m_object.is_object() && m_object.contains(key))
            word(key, value, words);
    }
    /// Keeps what no description named.
    void rest(Extra &extra)
    {
        if (!m_object.is_object())
            return;
        for (const auto &[key, value] : m_object.items())
            if (m_seen.count(key) == 0)
                extra[key] = value.dump();
    }

private:
    const Json *find(const char *key)
    {
        m_seen.insert(key);
        if (!m_object.is_object())
            return nullptr;
        const auto it = m_object.find(key);
        return it == m_object.end() ? nullptr : &*it;
    }
    std::string at(const std::string &key) const { return m_pointer + "/" + escapedPointer(key); }
    void fail(const std::string &what, const std::string &mend) { failAt(m_pointer, what, mend); }
    void failAt(const std::string &pointer, const std::string &what, const std::string &mend)
    {
        if (!m_error)
            m_error =
                Error{Error::Kind::Malformed, pointer.empty() ? "the file" : pointer, what, mend};
    }

    void take(const Json &json, const std::string &pointer, double &value)
    {
        if (json.is_number())
            value = json.get<double>();
        else
            failAt(pointer, "is not a number", "write a bare number; the key says the unit");
    }
    void take(const Json &json, const std::string &pointer, int &value)
    {
        if (json.is_number_integer())
            value = json.get<int>();
        else
            failAt(pointer, "is not a whole number", "write a whole number");
    }
    void take(const Json &json, const std::string &pointer, bool &value)
    {
        if (json.is_boolean())
            value = json.get<bool>();
        else
            failAt(pointer, "is not true or false", "write true or false");
    }
    void take(const Json &json, const std::string &pointer, std::string &value)
    {
        if (json.is_string())
            value = json.get<std::string>();
        else
            failAt(pointer, "is not a text", "put it in quotes");
    }
    template <class T>
    void take(const Json &json, const std::string &pointer, std::vector<T> &values)
    {
        if (!json.is_array())
            return failAt(pointer, "is not a list", "put it in square brackets");
        values.clear();
        for (size_t i = 0; i < json.size() && !m_error; ++i) {
            values.emplace_back();
            take(json[i], pointer + "/" + std::to_string(i), values.back());
        }
    }
    template <class T> void take(const Json &json, const std::string &pointer, Pieces<T> &values)
    {
        if (!json.is_array())
            return failAt(pointer, "is not a list", "put it in square brackets");
        values.clear();
        for (size_t i = 0; i < json.size() && !m_error; ++i)
            take(json[i], pointer + "/" + std::to_string(i), values.emplace_back());
    }
    template <class T>
    void take(const Json &json, const std::string &pointer, std::map<std::string, T> &values)
    {
        if (!json.is_object())
            return failAt(pointer, "is not an object", "put it in braces");
        for (const auto &[key, value] : json.items())
            take(value, pointer + "/" + escapedPointer(key), values[key]);
    }
    template <class T> void take(const Json &json, const std::string &pointer, T &value)
    {
        Reader inner(json, pointer, m_error);
        describe(inner, value);
    }

    const Json &m_object;
    std::string m_pointer;
    std::optional<Error> &m_error;
    std::set<std::string> m_seen;
};

/// Fills one JSON object. Optional keys are left out where they hold their default.
class Writer
{
public:
    static constexpr bool reading = false;

    template <class T> void required(const char *key, T &value) { m_object[key] = json(value); }
    template <class T> void optional(const char *key, T &value, const T &unless = T{})
    {
        if (!(value == unless))
            m_object[key] = json(value);
    }
    template <class T> void optional(const char *key, std::optional<T> &value)
    {
        if (value)
            m_object[key] = json(*value);
    }
    template <class E> void word(const char *key, E &value, const Words<E> &words)
    {
        for (const auto &[v, text] : words)
            if (v == value)
                m_object[key] = text;
    }
    template <class E> void optionalWord(const char *key, E &value, const Words<E> &words, E unless)
    {
        if (value != unless)
            word(key, value, words);
    }
    void rest(Extra &extra)
    {
        for (const auto &[key, text] : extra)
            if (!m_object.contains(key))
                m_object[key] = Json::parse(text);
    }
    Json take() { return std::move(m_object); }

private:
    template <class T> static Json json(std::vector<T> &values)
    {
        auto list = Json::array();
        for (auto &v : values)
            list.push_back(json(v));
        return list;
    }
    template <class T> static Json json(Pieces<T> &values)
    {
        auto list = Json::array();
        for (const auto &v : std::as_const(values))
            list.push_back(json(const_cast<T &>(v))); // a description takes both directions
        return list;
    }
    template <class T> static Json json(std::map<std::string, T> &values)
    {
        auto object = Json::object();
        for (auto &[key, v] : values)
            object[key] = json(v);
        return object;
    }
    template <class T> static Json json(T &value)
    {
        if constexpr (std::is_floating_point_v<T>) {
            // A whole number is written without ".0": people write it so, and the schema asks for
            // whole numbers in places.
            constexpr double exact = 9007199254740992.0; // 2^53
            if (std::trunc(value) == value && std::abs(value) < exact)
                return static_cast<std::int64_t>(value);
            return value;
        } else if constexpr (std::is_arithmetic_v<T> || std::is_same_v<T, std::string>) {
            return value;
        } else {
            Writer inner;
            describe(inner, value);
            return inner.take();
        }
    }

    Json m_object = Json::object();
};

} // namespace badger::io
