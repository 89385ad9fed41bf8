// SPDX-License-Identifier: GPL-3.0-or-later
// The lines of a text while it is printed, and how tightly signs bind.
#pragma once

#include "core/boardcode/print.h"

#include <string>
#include <vector>

namespace badger::boardcode
{

class Lines
{
public:
    explicit Lines(const char *comment) : m_comment(comment) {}

    /// A line with an escaped comment behind it; a line that grows too long has it above.
    void line(const std::string &text, const std::string &comment = {});
    void blank();
    void comment(const std::string &text);
    void in() { ++m_depth; }
    void out() { --m_depth; }
    void open(const std::vector<std::string> &tags);
    void close(const std::vector<std::string> &tags);
    Printed take();

    static constexpr size_t width = 100;
    static constexpr size_t entries = 16; ///< of a table, on one line
    size_t indent() const { return m_depth * 4; }

private:
    void put(const std::string &text);

    const char *m_comment;
    size_t m_depth = 0;
    std::vector<std::string> m_open;
    std::vector<std::string> m_lines;
    std::vector<LineTag> m_tags;
};

/// How tightly an expression binds: a call most, "or" least.
int tightness(const Expr &e);
/// Whether a part of a binary expression needs brackets: it binds less, or as much on the right, or
/// mixes "and" into "or".
bool needsBrackets(const Expr &whole, const Expr &part, bool right);
/// The shortest text that reads back as the same fraction, always with a point or an exponent.
std::string fraction32(double number);
std::string fraction64(double number);

} // namespace badger::boardcode
