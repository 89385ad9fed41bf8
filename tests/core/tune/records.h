// SPDX-License-Identifier: GPL-3.0-or-later
// Records of a few readings, and what is said of them.
#pragma once

#include "core/tune/record.h"

#include <QtTest/QtTest>

namespace badger::test
{

inline tune::Record record(tune::What what, std::vector<tune::Stretch> stretches)
{
    tune::Record r;
    r.id = {"r"};
    r.what = what;
    r.stretches = std::move(stretches);
    return r;
}

inline std::string said(const tune::Record &r)
{
    return english(tune::verdictOf(r).sentence);
}

/// Says the text where the part is not in it.
inline bool contains(const std::string &text, const char *part)
{
    if (text.find(part) != std::string::npos)
        return true;
    qWarning("%s", text.c_str());
    return false;
}

} // namespace badger::test
