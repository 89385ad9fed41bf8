// SPDX-License-Identifier: GPL-3.0-or-later
// Does an edited value keep the limits of its description? Without going through text.
#pragma once

#include "core/io/json_archive.h"

namespace badger::io
{

/// Walks a value by its description; the first misfit stays, with its place as in a file.
class Checker
{
public:
    static constexpr bool listing = false;

    Checker(std::string pointer, std::optional<Error> &error)
        : m_pointer(std::move(pointer)), m_error(error)
    {
    }

    template <class T> void required(const char *key, T &value, const Limits &limits = {})
    {
        look(key, value, limits);
    }
    template <class T> void optional(const char *key, T &value, const Limits &limits = {})
    {
        optional(key, value, T{}, limits);
    }
    /// What holds its default is left out of a file, and need not keep the limits.
    template <class T>
    void optional(const char *key, T &value, const T &unless, const Limits &limits = {})
    {
        if (!(value == unless))
            look(key, value, limits);
    }
    template <class T>
    void optional(const char *key, std::optional<T> &value, const Limits &limits = {})
    {
        if (value)
            look(key, *value, limits);
    }
    template <class E> void word(const char *, E &, const Words<E> &) {}
    template <class E> void optionalWord(const char *, E &, const Words<E> &, E) {}
    void rest(Extra &) {}

private:
    template <class T> void look(const char *key, T &value, const Limits &limits)
    {
        if (!m_error)
            check(m_pointer + "/" + key, value, limits);
    }
    void refuse(const std::string &pointer, const Json &found, Shape shape, const Limits &limits)
    {
        m_error = misfit(pointer, found.dump(-1, ' ', false, Json::error_handler_t::replace), shape,
                         limits);
    }

    void check(const std::string &pointer, double &value, const Limits &limits)
    {
        if (!keeps(value, limits))
            refuse(pointer, written(value), Shape::Number, limits);
    }
    void check(const std::string &pointer, int &value, const Limits &limits)
    {
        if (!keeps(value, limits))
            refuse(pointer, value, Shape::Whole, limits);
    }
    void check(const std::string &, bool &, const Limits &) {}
    void check(const std::string &pointer, std::string &value, const Limits &limits)
    {
        if (!keeps(value, limits))
            refuse(pointer, value, Shape::Text, limits);
    }
    template <class T>
    void check(const std::string &pointer, std::vector<T> &values, const Limits &limits)
    {
        checkList(pointer, values, limits);
    }
    template <class T>
    void check(const std::string &pointer, Pieces<T> &values, const Limits &limits)
    {
        checkList(pointer, values, limits);
    }
    template <class List>
    void checkList(const std::string &pointer, List &values, const Limits &limits)
    {
        if (values.size() > limits.most)
            return refuse(pointer, fmt::format("{} entries", values.size()), Shape::List, limits);
        for (size_t i = 0; i < values.size() && !m_error; ++i) {
            auto &value = const_cast<typename List::value_type &>(std::as_const(values)[i]);
            check(pointer + "/" + std::to_string(i), value, limits);
        }
    }
    template <class T>
    void check(const std::string &pointer, std::map<std::string, T> &values, const Limits &limits)
    {
        if (values.size() > limits.most)
            return refuse(pointer, fmt::format("{} entries", values.size()), Shape::Object, limits);
        for (auto &[key, value] : values)
            if (!m_error)
                check(pointer + "/" + escapedPointer(key), value, limits);
    }
    template <class T> void check(const std::string &pointer, T &value, const Limits &)
    {
        Checker inner(pointer, m_error);
        describe(inner, value);
    }

    std::string m_pointer;
    std::optional<Error> &m_error;
};

} // namespace badger::io
