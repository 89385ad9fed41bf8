// SPDX-License-Identifier: GPL-3.0-or-later
// How is a large value copied at every edit, and kept at every step of undo, without its weight?
#pragma once

#include <algorithm>
#include <atomic>
#include <cstddef>
#include <initializer_list>
#include <iterator>
#include <memory>
#include <utility>
#include <vector>

namespace badger
{

/// A list of values that its copies share until one of them is changed: a copy costs a pointer, a
/// change copies the list of pointers and the element it touches. For the rest it is used like a
/// vector.
///
/// Reading through a const list shares; an element reached through a list that is not const is made
/// its own first, since it may be about to change. Whoever only reads looks through a const one.
/// Comparing is by value, and at once where two lists share.
template <class T> class Pieces
{
    template <class List, class Value> class Walk
    {
    public:
        using iterator_category = std::random_access_iterator_tag;
        using value_type = T;
        using difference_type = std::ptrdiff_t;
        using pointer = Value *;
        using reference = Value &;

        Walk() = default;
        Walk(List *list, difference_type at) : m_list(list), m_at(at) {}
        operator Walk<const Pieces, const T>() const { return {m_list, m_at}; }

        reference operator*() const { return (*m_list)[static_cast<std::size_t>(m_at)]; }
        pointer operator->() const { return &**this; }
        reference operator[](difference_type n) const { return *(*this + n); }
        Walk &operator++() { return ++m_at, *this; }
        Walk &operator--() { return --m_at, *this; }
        Walk operator++(int) { return {m_list, m_at++}; }
        Walk operator--(int) { return {m_list, m_at--}; }
        Walk &operator+=(difference_type n) { return m_at += n, *this; }
        Walk &operator-=(difference_type n) { return m_at -= n, *this; }
        Walk operator+(difference_type n) const { return {m_list, m_at + n}; }
        Walk operator-(difference_type n) const { return {m_list, m_at - n}; }
        difference_type operator-(const Walk &other) const { return m_at - other.m_at; }
        bool operator==(const Walk &other) const { return m_at == other.m_at; }
        auto operator<=>(const Walk &other) const { return m_at <=> other.m_at; }

    private:
        List *m_list = nullptr;
        difference_type m_at = 0;
    };

public:
    using value_type = T;
    using iterator = Walk<Pieces, T>;
    using const_iterator = Walk<const Pieces, const T>;

    Pieces() = default;
    Pieces(const Pieces &) = default;
    Pieces &operator=(const Pieces &) = default;
    Pieces(Pieces &&other) noexcept : m_all(std::exchange(other.m_all, nothing())) {}
    Pieces &operator=(Pieces &&other) noexcept
    {
        m_all = std::exchange(other.m_all, nothing());
        return *this;
    }
    ~Pieces() = default;
    Pieces(std::initializer_list<T> values) : Pieces(std::vector<T>(values)) {}
    Pieces(std::vector<T> values)
    {
        reserve(values.size());
        for (auto &v : values)
            push_back(std::move(v));
    }

    std::size_t size() const { return m_all->size(); }
    bool empty() const { return m_all->empty(); }
    const T &operator[](std::size_t i) const { return *(*m_all)[i]; }
    T &operator[](std::size_t i) { return own(own(m_all)[i]); }
    const T &front() const { return (*this)[0]; }
    T &front() { return (*this)[0]; }
    const T &back() const { return (*this)[size() - 1]; }
    T &back() { return (*this)[size() - 1]; }
    const_iterator begin() const { return {this, 0}; }
    const_iterator end() const { return {this, static_cast<std::ptrdiff_t>(size())}; }
    iterator begin() { return {this, 0}; }
    iterator end() { return {this, static_cast<std::ptrdiff_t>(size())}; }

    auto rbegin() const { return std::make_reverse_iterator(end()); }
    auto rend() const { return std::make_reverse_iterator(begin()); }

    void push_back(T value) { own(m_all).push_back(std::make_shared<T>(std::move(value))); }
    T &emplace_back()
    {
        auto &all = own(m_all);
        all.push_back(std::make_shared<T>());
        return *all.back();
    }
    void pop_back() { own(m_all).pop_back(); }
    void clear() { own(m_all).clear(); }
    void reserve(std::size_t n) { own(m_all).reserve(n); }
    void assign(std::size_t n, const T &value)
    {
        auto &all = own(m_all);
        all.assign(n, nullptr);
        for (auto &piece : all)
            piece = std::make_shared<T>(value);
    }
    iterator insert(iterator at, T value)
    {
        const auto n = at - begin();
        auto &all = own(m_all);
        all.insert(all.begin() + n, std::make_shared<T>(std::move(value)));
        return begin() + n;
    }
    iterator erase(iterator at)
    {
        const auto n = at - begin();
        auto &all = own(m_all);
        all.erase(all.begin() + n);
        return begin() + n;
    }
    /// Takes out what `pred` holds for; the others stay shared.
    template <class Pred> void eraseIf(Pred pred)
    {
        std::erase_if(own(m_all),
                      [&](const std::shared_ptr<T> &p) { return pred(std::as_const(*p)); });
    }

    /// Adds a piece of another list without a copy of it.
    void share(const Pieces &from, std::size_t i) { own(m_all).push_back((*from.m_all)[i]); }

    /// The piece itself, for whoever wants to know later whether it is still the same.
    std::shared_ptr<const T> piece(std::size_t i) const { return (*m_all)[i]; }
    /// The two lists hold the same pieces; without looking into them.
    bool shares(const Pieces &other) const
    {
        return m_all == other.m_all || *m_all == *other.m_all;
    }

    bool operator==(const Pieces &other) const
    {
        if (m_all == other.m_all)
            return true;
        return std::equal(m_all->begin(), m_all->end(), other.m_all->begin(), other.m_all->end(),
                          [](const auto &a, const auto &b) { return a == b || *a == *b; });
    }

private:
    using List = std::vector<std::shared_ptr<T>>;

    /// What nobody else holds may be changed; anything else is copied first. A copy that another
    /// thread gives up at this moment costs a copy at most.
    template <class Value> static Value &own(std::shared_ptr<Value> &held)
    {
        if (held.use_count() > 1)
            held = std::make_shared<Value>(*held);
        else
            std::atomic_thread_fence(std::memory_order_acquire); // what it read, it has read
        return *held;
    }
    /// Every empty list is this one.
    static const std::shared_ptr<List> &nothing()
    {
        static const auto list = std::make_shared<List>(); // never changed: it is held twice
        return list;
    }

    std::shared_ptr<List> m_all = nothing();
};

} // namespace badger
