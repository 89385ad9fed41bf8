// SPDX-License-Identifier: GPL-3.0-or-later
// How does one description of a type serve for reading and for writing JSON?
//
// Each type has one `describe(archive, value)` that names its keys and their limits; a Reader fills
// the value, a Writer fills an object, a Checker (check_archive.h) holds an edited value to the
// limits, and a SchemaMaker (schema_archive.h) writes them down for other programs. Keys that no
// description names are kept as text in the value's `extra`.
#pragma once

#include "core/base/extra.h"
#include "core/base/pieces.h"
#include "core/base/result.h"
#include "core/io/misfit.h"

#include <cmath>
#include <cstdint>
#include <limits>
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

template <class E> std::string joinedWords(const Words<E> &words)
{
    std::string all;
    for (const auto &[value, text] : words)
        all += (all.empty() ? "" : "|") + std::string(text);
    return all;
}

inline std::string escapedPointer(const std::string &key)
{
    std::string escaped;
    for (const char c : key)
        escaped += c == '~' ? "~0" : c == '/' ? "~1" : std::string(1, c);
    return escaped;
}

/// Fills values from one JSON object and holds each to its limits. The first misfit stays, and
/// nothing is thrown.
class Reader
{
public:
    static constexpr bool listing = false;

    Reader(const Json &object, std::string pointer, std::optional<Error> &error)
        : m_object(object), m_pointer(std::move(pointer)), m_error(error)
    {
        if (!object.is_object())
            refuse(object, m_pointer, Shape::Object, {});
    }

    template <class T> void required(const char *key, T &value, const Limits &limits = {})
    {
        if (const auto *found = find(key))
            take(*found, at(key), value, limits);
        else
            lacks(key);
    }
    template <class T> void optional(const char *key, T &value, const Limits &limits = {})
    {
        if (const auto *found = find(key))
            take(*found, at(key), value, limits);
    }
    template <class T>
    void optional(const char *key, T &value, const T & /*unless*/, const Limits &limits = {})
    {
        optional(key, value, limits);
    }
    template <class T>
    void optional(const char *key, std::optional<T> &value, const Limits &limits = {})
    {
        if (const auto *found = find(key))
            take(*found, at(key), value.emplace(), limits);
    }
    template <class E> void word(const char *key, E &value, const Words<E> &words)
    {
        if (const auto *found = find(key))
            takeWord(*found, key, value, words);
        else
            lacks(key);
    }
    template <class E>
    void optionalWord(const char *key, E &value, const Words<E> &words, E /*unless*/)
    {
        if (const auto *found = find(key))
            takeWord(*found, key, value, words);
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
    void lacks(const char *key)
    {
        if (!m_error)
            m_error = missing(m_pointer, key);
    }
    void refuse(const Json &found, const std::string &pointer, Shape shape, const Limits &limits)
    {
        if (!m_error)
            m_error = misfit(pointer, found.dump(-1, ' ', false, Json::error_handler_t::replace),
                             shape, limits);
    }

    template <class E>
    void takeWord(const Json &json, const char *key, E &value, const Words<E> &words)
    {
        for (const auto &[v, text] : words)
            if (json == text) {
                value = v;
                return;
            }
        const auto all = joinedWords(words);
        refuse(json, at(key), Shape::Text, oneOf(all));
    }
    void take(const Json &json, const std::string &pointer, double &value, const Limits &limits)
    {
        if (json.is_number() && keeps(json.get<double>(), limits))
            value = json.get<double>();
        else
            refuse(json, pointer, Shape::Number, limits);
    }
    void take(const Json &json, const std::string &pointer, int &value, const Limits &limits)
    {
        constexpr double most = std::numeric_limits<int>::max();
        if (json.is_number_integer() && std::abs(json.get<double>()) <= most &&
            keeps(json.get<double>(), limits))
            value = json.get<int>();
        else
            refuse(json, pointer, Shape::Whole, limits);
    }
    void take(const Json &json, const std::string &pointer, bool &value, const Limits &limits)
    {
        if (json.is_boolean())
            value = json.get<bool>();
        else
            refuse(json, pointer, Shape::Truth, limits);
    }
    void take(const Json &json, const std::string &pointer, std::string &value,
              const Limits &limits)
    {
        if (json.is_string() && keeps(json.get_ref<const std::string &>(), limits))
            value = json.get<std::string>();
        else
            refuse(json, pointer, Shape::Text, limits);
    }
    template <class T>
    void take(const Json &json, const std::string &pointer, std::vector<T> &values,
              const Limits &limits)
    {
        takeList(json, pointer, values, limits);
    }
    template <class T>
    void take(const Json &json, const std::string &pointer, Pieces<T> &values, const Limits &limits)
    {
        takeList(json, pointer, values, limits);
    }
    template <class List>
    void takeList(const Json &json, const std::string &pointer, List &values, const Limits &limits)
    {
        if (!json.is_array() || json.size() > limits.most)
            return refuse(json, pointer, Shape::List, limits);
        values.clear();
        for (size_t i = 0; i < json.size() && !m_error; ++i)
            take(json[i], pointer + "/" + std::to_string(i), values.emplace_back(), limits);
    }
    template <class T>
    void take(const Json &json, const std::string &pointer, std::map<std::string, T> &values,
              const Limits &limits)
    {
        if (!json.is_object() || json.size() > limits.most)
            return refuse(json, pointer, Shape::Object, limits);
        for (const auto &[key, value] : json.items())
            take(value, pointer + "/" + escapedPointer(key), values[key], limits);
    }
    template <class T>
    void take(const Json &json, const std::string &pointer, T &value, const Limits & /*limits*/)
    {
        Reader inner(json, pointer, m_error);
        describe(inner, value);
    }

    const Json &m_object;
    std::string m_pointer;
    std::optional<Error> &m_error;
    std::set<std::string> m_seen;
};

/// A number as it stands in a file: a whole one without ".0", since people write it so.
inline Json written(double value)
{
    constexpr double exact = 9007199254740992.0; // 2^53
    if (std::trunc(value) == value && std::abs(value) < exact)
        return static_cast<std::int64_t>(value);
    return value;
}

/// Fills one JSON object. Optional keys are left out where they hold their default.
class Writer
{
public:
    static constexpr bool listing = false;

    template <class T> void required(const char *key, T &value, const Limits & = {})
    {
        m_object[key] = json(value);
    }
    template <class T> void optional(const char *key, T &value, const Limits & = {})
    {
        optional(key, value, T{});
    }
    template <class T>
    void optional(const char *key, T &value, const T &unless, const Limits & = {})
    {
        if (!(value == unless))
            m_object[key] = json(value);
    }
    template <class T> void optional(const char *key, std::optional<T> &value, const Limits & = {})
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
            return written(value);
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
