// SPDX-License-Identifier: GPL-3.0-or-later
// A board program while it is written: its lines, their tags, the names it uses.
#pragma once

#include "core/rules/board_names.h"
#include "core/rules/board_writer.h"

#include <fmt/format.h>
#include <string>
#include <vector>

namespace badger::rules
{

/// What every part of the written program shares. The source has to outlive it.
class BoardText
{
public:
    explicit BoardText(const BoardSource &from) : given(from), program(from.program)
    {
        // What this text itself uses; the languages' and the headers' words are reserved already.
        names.reserve({"NO_ECHO",   "LEFT",     "RIGHT",  "State",  "Wheel", "state", "state_end",
                       "next_pass", "decide",   "go",     "turn",   "brake", "coast", "set_wheel",
                       "forward",   "backward", "counts", "speed",  "next",  "began", "echo",
                       "names",     "newest",   "recent", "sorted", "count", "i",     "k"});
        for (const auto &s : program.states)
            names.of("state", s.name);
    }

    template <class... Args> void line(fmt::format_string<Args...> text, Args &&...args)
    {
        lines.push_back(fmt::format(text, std::forward<Args>(args)...));
        for (const auto &tag : m_open)
            tags.push_back({static_cast<int>(lines.size()) - 1, tag});
    }
    void blank() { lines.emplace_back(); }

    /// Lines written inside `body` carry a tag.
    template <class Body> void tagged(const std::string &tag, Body body)
    {
        m_open.push_back(tag);
        body();
        m_open.pop_back();
    }

    std::string readingName(const Reading &r) { return names.of("reading", r.name, false); }
    /// "read_ahead_cm", "last_ahead": a name made from a reading's, and no other thing's.
    std::string madeFrom(const Reading &r, const std::string &before, const std::string &after = {})
    {
        return names.of("made:" + before + ":" + r.name, before + readingName(r) + after, false);
    }
    std::string readFunction(const Reading &r)
    {
        return madeFrom(r, "read_", std::string("_") + units::info(r.unit).symbol);
    }

    const char *type(const Reading &r) const
    {
        return r.number == NumberType::Whole ? "int" : "float";
    }

    std::string arguments(bool types)
    {
        std::vector<std::string> all;
        for (const auto &r : program.readings)
            all.push_back((types ? std::string(type(r)) + " " : "") + readingName(r));
        return fmt::format("{}", fmt::join(all, ", "));
    }

    const BoardSource &given;
    const Program &program;
    Names names;
    std::vector<std::string> lines;
    std::vector<LineTag> tags;

private:
    std::vector<std::string> m_open;
};

} // namespace badger::rules
