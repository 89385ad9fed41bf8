// SPDX-License-Identifier: GPL-3.0-or-later
// Of what a sentence is. Private to the changes of sentences.
#pragma once

#include "core/sentences/sentences.h"

namespace badger::sentences
{

inline bool isRule(const Sentence &s)
{
    return s.kind == Sentence::Kind::Rule;
}

inline bool isAlways(const Sentence &s)
{
    return s.kind == Sentence::Kind::Heading && s.go < 0;
}

inline bool isState(const Sentence &s)
{
    return s.kind == Sentence::Kind::Heading && s.go >= 0;
}

inline bool isReading(const Sentence &s)
{
    return s.kind == Sentence::Kind::Line && s.about.starts_with("reading:");
}

inline bool isStart(const Sentence &s)
{
    return s.about == "start:";
}

inline bool readsButton(const rules::Program &program)
{
    for (const auto &r : program.readings)
        if (r.source == rules::Source::Button)
            return true;
    return false;
}

inline std::size_t indexOf(const Sentence &rule)
{
    return static_cast<std::size_t>(rule.number - 1);
}

} // namespace badger::sentences
