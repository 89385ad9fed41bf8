// SPDX-License-Identifier: GPL-3.0-or-later
// What both accounts of a run are made with. Private to the comparison.
#pragma once

#include "board/equal.h"

namespace badger::board
{

inline constexpr std::uint32_t wild_us = 38'000;

inline int pinOf(const Compiled &of, const std::string &pin)
{
    return boardcode::pinNumber(of.wires.target, pin).value_or(-1);
}

/// The end of a feed, where a look finds nothing any more.
struct FeedEnds {
};

template <class T> T taken(std::vector<T> &from, size_t &next)
{
    if (next >= from.size())
        throw FeedEnds();
    return from[next++];
}

/// Entries of what was told, made the same way on both sides.
class Teller
{
public:
    explicit Teller(Account &to) : m_to(to) {}

    void tell(double time_us, std::vector<int> pins)
    {
        if (m_to.told.empty() || m_to.told.back().pins != pins)
            m_to.told.push_back({time_us, std::move(pins), m_to.passes});
    }

private:
    Account &m_to;
};

} // namespace badger::board
