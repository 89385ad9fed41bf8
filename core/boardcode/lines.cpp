// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/boardcode/lines.h"

#include "core/base/medium.h"

#include <fmt/format.h>
#include <fmt/ranges.h>

namespace badger::boardcode
{

void Lines::put(const std::string &text)
{
    m_lines.push_back(text.empty() ? text : std::string(indent(), ' ') + text);
    for (const auto &tag : m_open)
        m_tags.push_back({static_cast<int>(m_lines.size()) - 1, tag});
}

void Lines::line(const std::string &text, const std::string &comment)
{
    if (comment.empty())
        return put(text);
    const auto said = std::string(m_comment) + " " + medium::source(comment);
    const std::string before = *m_comment == '#' ? "  " : " "; // as each language's people do
    if (indent() + text.size() + before.size() + said.size() <= width)
        return put(text + before + said);
    put(said);
    put(text);
}

void Lines::blank()
{
    if (!m_lines.empty() && !m_lines.back().empty())
        m_lines.emplace_back();
}

void Lines::comment(const std::string &text)
{
    put(std::string(m_comment) + " " + medium::source(text));
}

void Lines::open(const std::vector<std::string> &tags)
{
    m_open.insert(m_open.end(), tags.begin(), tags.end());
}

void Lines::close(const std::vector<std::string> &tags)
{
    m_open.resize(m_open.size() - tags.size());
}

Printed Lines::take()
{
    return {fmt::format("{}\n", fmt::join(m_lines, "\n")), std::move(m_tags)};
}

int tightness(const Expr &e)
{
    switch (e.kind) {
    case Expr::Kind::Not:
    case Expr::Kind::Minus:
    case Expr::Kind::Cut:
        return 6;
    case Expr::Kind::Binary:
        break;
    default:
        return 7;
    }
    if (e.text == "or")
        return 1;
    if (e.text == "and")
        return 2;
    if (e.text == "+" || e.text == "-")
        return 4;
    if (e.text == "*" || e.text == "/" || e.text == "%")
        return 5;
    return 3;
}

bool needsBrackets(const Expr &whole, const Expr &part, bool right)
{
    const int outer = tightness(whole);
    const int inner = tightness(part);
    if (outer == 1 && inner == 2)
        return true;
    return inner < outer || (inner == outer && (right || outer == 3));
}

namespace
{

std::string pointed(std::string text)
{
    return text.find_first_of(".e") == std::string::npos ? text + ".0" : text;
}

} // namespace

std::string fraction32(double number)
{
    return pointed(fmt::format("{}", static_cast<float>(number)));
}

std::string fraction64(double number)
{
    return pointed(fmt::format("{}", number));
}

} // namespace badger::boardcode
