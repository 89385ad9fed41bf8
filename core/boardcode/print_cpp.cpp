// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/boardcode/lines.h"

#include "core/base/medium.h"

#include <algorithm>
#include <fmt/format.h>
#include <fmt/ranges.h>

namespace badger::boardcode
{

namespace
{

/// Longer lists stay in the chip's program memory.
constexpr size_t longList = 64;
const char *typeName(Type type)
{
    switch (type) {
    case Type::Nothing:
        return "void";
    case Type::Truth:
        return "bool";
    case Type::Small:
        return "uint8_t";
    case Type::Whole:
        return "int";
    case Type::Long:
        return "int32_t";
    case Type::Time:
        return "uint32_t";
    case Type::Sign:
        return "char";
    case Type::Real:
        return "float";
    case Type::State:
        return "State";
    case Type::Wheel:
        return "Wheel";
    case Type::ServoWheel:
        return "ServoWheel";
    }
    return "";
}

const char *signOf(const std::string &op)
{
    return op == "and" ? "&&" : op == "or" ? "||" : op.c_str();
}

class CppPrinter
{
public:
    CppPrinter() : m_lines("//") {}

    Printed print(const Text &text, const std::string &support,
                  const std::vector<std::string> &more)
    {
        for (const auto &line : text.head)
            m_lines.comment(line);
        m_lines.line("#include \"" + support + "\"");
        for (const auto &header : more)
            m_lines.line("#include \"" + header + "\"");
        m_lines.blank();
        for (const auto &item : text.items)
            this->item(item);
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
            return fraction32(e.real) + "f";
        case Expr::Kind::Truth:
            return e.whole != 0 ? "true" : "false";
        case Expr::Kind::Text:
            return "\"" + medium::source(e.text) + "\"";
        case Expr::Kind::Sign:
            return "'" + e.text + "'";
        case Expr::Kind::Call:
            return e.text + "(" + list(e.of) + ")";
        case Expr::Kind::At:
            return e.text + "[" + expr(e.of.front()) + "]";
        case Expr::Kind::Not:
            return "!" + part(e, e.of.front(), true);
        case Expr::Kind::Minus:
            return "-" + part(e, e.of.front(), true);
        case Expr::Kind::Cut:
            return std::string("(") + typeName(e.type) + ")" + part(e, e.of.front(), true);
        case Expr::Kind::Binary:
            break;
        }
        return part(e, e.of[0], false) + " " + signOf(e.text) + " " + part(e, e.of[1], true);
    }

    std::string part(const Expr &whole, const Expr &e, bool right) const
    {
        return needsBrackets(whole, e, right) ? "(" + expr(e) + ")" : expr(e);
    }

    std::string list(const std::vector<Expr> &of) const
    {
        std::vector<std::string> all;
        for (const auto &e : of)
            all.push_back(expr(e));
        return fmt::format("{}", fmt::join(all, ", "));
    }

    /// A line that may be broken before "&&" and "||".
    void condition(std::string text, const std::string &comment)
    {
        bool first = true;
        while (m_lines.indent() + text.size() + (first ? 0 : 4) > Lines::width) {
            const auto room = Lines::width - m_lines.indent() - 4;
            const auto at =
                std::max(text.rfind(" && ", room) == std::string::npos ? size_t{0}
                                                                       : text.rfind(" && ", room),
                         text.rfind(" || ", room) == std::string::npos ? size_t{0}
                                                                       : text.rfind(" || ", room));
            if (at == 0)
                break;
            m_lines.line((first ? "" : "    ") + text.substr(0, at + 3));
            text = text.substr(at + 4);
            first = false;
        }
        m_lines.line((first ? "" : "    ") + text, comment);
    }

    void body(const Body &all)
    {
        m_lines.in();
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
            const std::string head =
                !way.when ? "} else {" : (first ? "if (" : "} else if (") + expr(*way.when) + ") {";
            condition(head, way.comment);
            body(way.body);
            first = false;
        }
        m_lines.line("}");
    }

    /// Does a body return whatever happens?
    static bool leaves(const Body &all)
    {
        if (all.empty())
            return false;
        const auto &last = all.back();
        return last.kind == Stmt::Kind::Return ||
               (last.kind == Stmt::Kind::If && last.ways.size() == 1 && last.ways.front().when &&
                isTrue(*last.ways.front().when) && leaves(last.ways.front().body));
    }

    void cases(const Stmt &s)
    {
        m_lines.line("switch (" + expr(s.of.front()) + ") {");
        for (const auto &way : s.ways) {
            // The braces are for what a case names itself.
            const bool own = std::any_of(way.body.begin(), way.body.end(), [](const Stmt &one) {
                return one.kind == Stmt::Kind::Let || one.kind == Stmt::Kind::Var;
            });
            const auto &tags =
                way.body.empty() ? std::vector<std::string>() : way.body.front().tags;
            m_lines.open(tags);
            m_lines.line("case " + expr(*way.when) + ":" + (own ? " {" : ""), way.comment);
            m_lines.close(tags);
            body(way.body);
            if (!leaves(way.body)) {
                m_lines.in();
                m_lines.line("break;");
                m_lines.out();
            }
            if (own)
                m_lines.line("}");
        }
        m_lines.line("default:");
        m_lines.line("    break;");
        m_lines.line("}");
    }

    void stmt(const Stmt &s)
    {
        m_lines.open(s.tags);
        switch (s.kind) {
        case Stmt::Kind::Let:
            m_lines.line(
                fmt::format("const {} {} = {};", typeName(s.type), s.name, expr(s.of.front())),
                s.comment);
            break;
        case Stmt::Kind::Var:
            m_lines.line(fmt::format("{} {} = {};", typeName(s.type), s.name, expr(s.of.front())),
                         s.comment);
            break;
        case Stmt::Kind::Set:
            m_lines.line(expr(s.of[0]) + " = " + expr(s.of[1]) + ";", s.comment);
            break;
        case Stmt::Kind::Do:
            m_lines.line(expr(s.of.front()) + ";", s.comment);
            break;
        case Stmt::Kind::If:
            ways(s);
            break;
        case Stmt::Kind::Select:
            cases(s);
            break;
        case Stmt::Kind::Count:
            m_lines.line(fmt::format("for (uint8_t {0} = {1}; {0} < {2}; ++{0}) {{", s.name,
                                     expr(s.of[0]), expr(s.of[1])));
            body(s.body);
            m_lines.line("}");
            break;
        case Stmt::Kind::While:
            condition("while (" + expr(s.of.front()) + ") {", s.comment);
            body(s.body);
            m_lines.line("}");
            break;
        case Stmt::Kind::Return:
            m_lines.line(s.of.empty() ? "return;" : "return " + expr(s.of.front()) + ";");
            break;
        case Stmt::Kind::Leave:
            m_lines.line("break;");
            break;
        case Stmt::Kind::Remark:
            m_lines.comment(s.comment);
            break;
        }
        m_lines.close(s.tags);
    }

    void listItem(const Item &item)
    {
        const bool isText = !item.of.empty() && item.of.front().kind == Expr::Kind::Text;
        const std::string type = isText ? "char *const" : typeName(item.type);
        const auto head = fmt::format("const {} {}[]{} = {{", type, item.name,
                                      item.of.size() > longList ? " PROGMEM" : "");
        if (const auto whole = head + list(item.of) + "};"; whole.size() <= Lines::width) {
            m_lines.line(whole, item.comment);
            return;
        }
        m_lines.line(head, item.comment);
        for (size_t i = 0; i < item.of.size(); i += Lines::entries) {
            const auto end = std::min(item.of.size(), i + Lines::entries);
            m_lines.line("    " +
                         list({item.of.begin() + static_cast<std::ptrdiff_t>(i),
                               item.of.begin() + static_cast<std::ptrdiff_t>(end)}) +
                         ",");
        }
        m_lines.line("};");
    }

    void function(const Item &item)
    {
        std::vector<std::string> arguments;
        for (const auto &[type, name] : item.arguments)
            arguments.push_back(type == Type::Wheel || type == Type::ServoWheel
                                    ? fmt::format("const {} &{}", typeName(type), name)
                                    : fmt::format("{} {}", typeName(type), name));
        if (!item.comment.empty())
            m_lines.comment(item.comment);
        m_lines.line(
            fmt::format("{} {}({})", typeName(item.type), item.name, fmt::join(arguments, ", ")));
        m_lines.line("{");
        body(item.body);
        m_lines.line("}");
    }

    void item(const Item &item)
    {
        m_lines.open(item.tags);
        switch (item.kind) {
        case Item::Kind::Constant: {
            const auto &value = item.of.front();
            const bool parts = item.type == Type::Wheel || item.type == Type::ServoWheel;
            m_lines.line(fmt::format("const {} {} = {};", typeName(item.type), item.name,
                                     parts ? "{" + list(value.of) + "}" : expr(value)),
                         item.comment);
            break;
        }
        case Item::Kind::List:
            listItem(item);
            break;
        case Item::Kind::Variable:
            m_lines.line(item.of.size() > 1 ? fmt::format("{} {}[{}];", typeName(item.type),
                                                          item.name, item.of.size())
                                            : fmt::format("{} {} = {};", typeName(item.type),
                                                          item.name, expr(item.of.front())),
                         item.comment);
            break;
        case Item::Kind::States:
            condition(fmt::format("enum State {{ {} }};", fmt::join(item.names, ", ")), "");
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

    Lines m_lines;
};

} // namespace

Printed printCpp(const Text &text, const std::string &support, const std::vector<std::string> &more)
{
    return CppPrinter().print(text, support, more);
}

} // namespace badger::boardcode
