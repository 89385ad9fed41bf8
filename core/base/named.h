// SPDX-License-Identifier: GPL-3.0-or-later
// Which of these has that name?
#pragma once

#include <algorithm>
#include <string_view>

namespace badger
{

/// The first element whose `name` is the wanted one, or null.
template <class List> const typename List::value_type *named(const List &all, std::string_view name)
{
    const auto it = std::find_if(all.begin(), all.end(),
                                 [&](const auto &element) { return element.name == name; });
    return it == all.end() ? nullptr : &*it;
}

} // namespace badger
