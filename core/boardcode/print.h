// SPDX-License-Identifier: GPL-3.0-or-later
// How does a language say a tree?
#pragma once

#include "core/boardcode/tree.h"

#include <string>
#include <vector>

namespace badger::boardcode
{

/// What a line of a text is about, so that a window can light it.
struct LineTag {
    int line = 0;    ///< from 0
    std::string tag; ///< "state:stands", "rule:near", "value:halt", "policy:ahead"
};

struct Printed {
    std::string text;
    std::vector<LineTag> tags;
};

/// C++17 for an 8-bit board; `support` and `more` are the headers it includes. Comments and texts
/// are escaped.
Printed printCpp(const Text &text, const std::string &support,
                 const std::vector<std::string> &more = {});
/// Python 3; `support` is the module it imports.
Printed printPython(const Text &text, const std::string &support);

} // namespace badger::boardcode
