// SPDX-License-Identifier: GPL-3.0-or-later
// Which of these has that name?
#pragma once

#include <algorithm>
#include <string_view>
#include <vector>

namespace badger
{

/// The first element whose `name` is the wanted one, or null.
template <class T> const T *named(const std::vector<T> &all, std::string_view name)
{
    const auto it =
        std::find_if(all.begin(), all.end(), [&](const T &t) { return t.name == name; });
    return it == all.end() ? nullptr : &*it;
}

} // namespace badger
