// SPDX-License-Identifier: GPL-3.0-or-later
// How does text go into a CSV field?
#pragma once

#include <string>

namespace badger
{

/// The field as RFC 4180 wants it: quoted where it holds a comma, a quote or a line end.
inline std::string csvField(const std::string &text)
{
    if (text.find_first_of(",\"\r\n") == std::string::npos)
        return text;
    std::string quoted = "\"";
    for (const char c : text) {
        if (c == '"')
            quoted += '"';
        quoted += c;
    }
    return quoted + '"';
}

} // namespace badger
