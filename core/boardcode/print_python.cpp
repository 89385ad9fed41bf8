// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/boardcode/lines.h"

#include "core/base/medium.h"

#include <algorithm>
#include <fmt/format.h>
#include <fmt/ranges.h>
#include <set>

namespace badger::boardcode
{

namespace
{

class PythonPrinter
{
public:
    PythonPrinter() : m_lines("#") {}

    Printed print(const Text &text, const std::string &support)
    {
        for (const auto &item : text.items)
            if (item.kind == Item::Kind::Variable)
                m_variables.insert(item.name);
        for (const auto &line : text.head)
            m_lines.comment(line);
        m_lines.line("from " + support.substr(0, support.rfind('.')) + " import *");
        m_lines.blank();
        for (const auto &item : text.items)
            this->item(item);
        m_lines.blank();
        m_lines.line("");
        m_lines.line("if __name__ == \"__main__\":");
        m_lines.line("    run(start, one_pass)");
        return m_lines.take();
    }

private:
    std::string expr(const Expr &e) const
    {
        switch (e.kind) {
        case Expr::Kind::Name:
            return e.text;
        case Expr::Kind::Whole:
            return std::to_string(e.whole);
        case Expr::Kind::Real:
            return fraction64(e.real);
        case Expr::Kind::Truth:
            return e.whole != 0 ? "True" : "False";
        case Expr::Kind::Text:
        case Expr::Kind::Sign:
            return "\"" + medium::source(e.text) + "\"";
        case Expr::Kind::Call:
            return e.text + "(" + list(e.of) + ")";
        case Expr::Kind::At:
            return e.text + "[" + expr(e.of.front()) + "]";
        case Expr::Kind::Not:
            return "not " + part(e, e.of.front(), true);
        case Expr::Kind::Minus:
            return "-" + part(e, e.of.front(), true);
        case Expr::Kind::Cut:
            return std::string(e.type == Type::Real ? "float(" : "int(") + expr(e.of.front()) + ")";
        case Expr::Kind::Binary:
            break;
        }
        return part(e, e.of[0], false) + " " + e.text + " " + part(e, e.of[1], true);
    }

    std::string part(const Expr &whole, const Expr &e, bool right) const
    {
        // "not" binds less than a comparison here.
        const bool inverted = e.kind == Expr::Kind::Not && whole.kind == Expr::Kind::Binary &&
                              whole.text != "and" && whole.text != "or";
        return inverted || needsBrackets(whole, e, right) ? "(" + expr(e) + ")" : expr(e);
    }

    std::string list(const std::vector<Expr> &of) const
    {
        std::vector<std::string> all;
        for (const auto &e : of)
            all.push_back(expr(e));
        return fmt::format("{}", fmt::join(all, ", "));
    }

    /// "if a and b:"; one that is too long is bracketed and broken before "and" and "or".
    void condition(const std::string &word, const std::string &text, const std::string &comment)
    {
        auto rest = word + " " + text + ":";
        if (m_lines.indent() + rest.size() <= Lines::width) {
            m_lines.line(rest, comment);
            return;
        }
        rest = word + " (" + text + "):";
        bool first = true;
        while (m_lines.indent() + rest.size() + 8 > Lines::width) {
            const auto room = Lines::width - m_lines.indent() - 8;
            const auto a = rest.rfind(" and ", room);
            const auto b = rest.rfind(" or ", room);
            const auto at =
                std::max(a == std::string::npos ? 0 : a, b == std::string::npos ? 0 : b);
            if (at == 0)
                break;
            m_lines.line((first ? "" : "        ") + rest.substr(0, at));
            rest = rest.substr(at + 1);
            first = false;
        }
        m_lines.line((first ? "" : "        ") + rest, comment);
    }

    void body(const Body &all)
    {
        m_lines.in();
        if (all.empty())
            m_lines.line("pass");
        for (const auto &s : all)
            stmt(s);
        m_lines.out();
    }

    void ways(const Stmt &s)
    {
        if (s.ways.size() == 1 && s.ways.front().when && isTrue(*s.ways.front().when)) {
            if (!s.ways.front().comment.empty())
                m_lines.comment(s.ways.front().comment);
            for (const auto &one : s.ways.front().body)
                stmt(one);
            return;
        }
        bool first = true;
        for (const auto &way : s.ways) {
            if (way.when)
                condition(first ? "if" : "elif", expr(*way.when), way.comment);
            else
                m_lines.line("else:", way.comment);
            body(way.body);
            first = false;
        }
    }

    void cases(const Stmt &s)
    {
        bool first = true;
        for (const auto &way : s.ways) {
            const auto &tags =
                way.body.empty() ? std::vector<std::string>() : way.body.front().tags;
            m_lines.open(tags);
            condition(first ? "if" : "elif", expr(s.of.front()) + " == " + expr(*way.when),
                      way.comment);
            m_lines.close(tags);
            body(way.body);
            first = false;
        }
    }

    void stmt(const Stmt &s)
    {
        m_lines.open(s.tags);
        switch (s.kind) {
        case Stmt::Kind::Let:
        case Stmt::Kind::Var:
            m_lines.line(s.name + " = " + expr(s.of.front()), s.comment);
            break;
        case Stmt::Kind::Set:
            m_lines.line(expr(s.of[0]) + " = " + expr(s.of[1]), s.comment);
            break;
        case Stmt::Kind::Do:
            m_lines.line(expr(s.of.front()), s.comment);
            break;
        case Stmt::Kind::If:
            ways(s);
            break;
        case Stmt::Kind::Select:
            cases(s);
            break;
        case Stmt::Kind::Count:
            m_lines.line(fmt::format("for {} in range({}):", s.name,
                                     s.of[0].kind == Expr::Kind::Whole && s.of[0].whole == 0
                                         ? expr(s.of[1])
                                         : list(s.of)));
            body(s.body);
            break;
        case Stmt::Kind::While:
            condition("while", expr(s.of.front()), s.comment);
            body(s.body);
            break;
        case Stmt::Kind::Return:
            m_lines.line(s.of.empty() ? "return" : "return " + expr(s.of.front()));
            break;
        case Stmt::Kind::Leave:
            m_lines.line("break");
            break;
        case Stmt::Kind::Remark:
            m_lines.comment(s.comment);
            break;
        }
        m_lines.close(s.tags);
    }

    /// Variables of the text that a body sets.
    void collect(const Body &all, std::set<std::string> &names) const
    {
        for (const auto &s : all) {
            if (s.kind == Stmt::Kind::Set && m_variables.count(s.of[0].text) != 0)
                names.insert(s.of[0].text);
            collect(s.body, names);
            for (const auto &way : s.ways)
                collect(way.body, names);
        }
    }

    void function(const Item &item)
    {
        std::vector<std::string> arguments;
        for (const auto &[type, name] : item.arguments)
            arguments.push_back(name);
        m_lines.blank();
        m_lines.line("");
        if (!item.comment.empty())
            m_lines.comment(item.comment);
        m_lines.line(fmt::format("def {}({}):", item.name, fmt::join(arguments, ", ")));
        std::set<std::string> names;
        collect(item.body, names);
        if (!names.empty())
            m_lines.line("    global " + fmt::format("{}", fmt::join(names, ", ")));
        body(item.body);
    }

    void listItem(const Item &item)
    {
        if (const auto whole = item.name + " = [" + list(item.of) + "]";
            whole.size() <= Lines::width) {
            m_lines.line(whole, item.comment);
            return;
        }
        m_lines.line(item.name + " = [", item.comment);
        for (size_t i = 0; i < item.of.size(); i += Lines::entries) {
            const auto end = std::min(item.of.size(), i + Lines::entries);
            m_lines.line("    " +
                         list({item.of.begin() + static_cast<std::ptrdiff_t>(i),
                               item.of.begin() + static_cast<std::ptrdiff_t>(end)}) +
                         ",");
        }
        m_lines.line("]");
    }

    void item(const Item &item)
    {
        m_lines.open(item.tags);
        switch (item.kind) {
        case Item::Kind::Constant:
        case Item::Kind::Variable:
            m_lines.line(
                item.name + " = " +
                    (item.of.size() > 1 ? "[" + list(item.of) + "]" : expr(item.of.front())),
                item.comment);
            break;
        case Item::Kind::List:
            listItem(item);
            break;
        case Item::Kind::States:
            for (size_t i = 0; i < item.names.size(); ++i)
                m_lines.line(fmt::format("{} = {}", item.names[i], i));
            break;
        case Item::Kind::Function:
            function(item);
            break;
        case Item::Kind::Heading:
            m_lines.comment(item.comment);
            break;
        case Item::Kind::Gap:
            m_lines.blank();
            break;
        }
        m_lines.close(item.tags);
    }

    std::set<std::string> m_variables;
    Lines m_lines;
};

} // namespace

Printed printPython(const Text &text, const std::string &support)
{
    return PythonPrinter().print(text, support);
}

} // namespace badger::boardcode
