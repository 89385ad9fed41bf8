// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/boardcode/tree.h"

#include <algorithm>

namespace badger::boardcode
{

namespace
{

Expr made(Expr::Kind kind, std::string text, std::vector<Expr> of)
{
    Expr e;
    e.kind = kind;
    e.text = std::move(text);
    e.of = std::move(of);
    return e;
}

/// "a and b and c" taken apart.
std::vector<Expr> parts(const Expr &e, const char *sign)
{
    if (e.kind != Expr::Kind::Binary || e.text != sign)
        return {e};
    auto all = parts(e.of[0], sign);
    for (auto &one : parts(e.of[1], sign))
        all.push_back(std::move(one));
    return all;
}

const char *opposite(const std::string &sign)
{
    constexpr const char *pairs[][2] = {{"==", "!="}, {"<", ">="}, {">", "<="}};
    for (const auto &[a, b] : pairs) {
        if (sign == a)
            return b;
        if (sign == b)
            return a;
    }
    return nullptr;
}

Expr joined(std::vector<Expr> of, const char *sign, bool neutral)
{
    std::vector<Expr> flat;
    for (auto &e : of) {
        const bool same = e.kind == Expr::Kind::Binary && e.text == sign;
        for (auto &one : same ? parts(e, sign) : std::vector<Expr>{e})
            if (std::find(flat.begin(), flat.end(), one) == flat.end())
                flat.push_back(std::move(one));
    }
    of = std::move(flat);
    of.erase(std::remove_if(of.begin(), of.end(),
                            [&](const Expr &e) {
                                return e.kind == Expr::Kind::Truth && (e.whole != 0) == neutral;
                            }),
             of.end());
    if (of.empty())
        return truth(neutral);
    auto all = of.front();
    for (size_t i = 1; i < of.size(); ++i)
        all = op(std::move(all), sign, of[i]);
    return all;
}

Stmt stmt(Stmt::Kind kind, std::vector<Expr> of = {})
{
    Stmt s;
    s.kind = kind;
    s.of = std::move(of);
    return s;
}

} // namespace

Expr name(std::string text)
{
    return made(Expr::Kind::Name, std::move(text), {});
}

Expr whole(std::int64_t value)
{
    Expr e;
    e.kind = Expr::Kind::Whole;
    e.whole = value;
    return e;
}

Expr real(double value)
{
    Expr e;
    e.kind = Expr::Kind::Real;
    e.real = value;
    return e;
}

Expr truth(bool value)
{
    Expr e;
    e.kind = Expr::Kind::Truth;
    e.whole = value ? 1 : 0;
    return e;
}

Expr text(std::string value)
{
    return made(Expr::Kind::Text, std::move(value), {});
}

Expr sign(char value)
{
    return made(Expr::Kind::Sign, std::string(1, value), {});
}

Expr call(std::string function, std::vector<Expr> arguments)
{
    return made(Expr::Kind::Call, std::move(function), std::move(arguments));
}

Expr at(std::string list, Expr index)
{
    return made(Expr::Kind::At, std::move(list), {std::move(index)});
}

Expr no(Expr a)
{
    if (a.kind == Expr::Kind::Truth)
        return truth(a.whole == 0);
    if (a.kind == Expr::Kind::Not)
        return a.of.front();
    if (a.kind == Expr::Kind::Binary) {
        if (const auto *sign = opposite(a.text))
            return op(a.of[0], sign, a.of[1]);
        if (a.text == "and" || a.text == "or")
            return op(no(a.of[0]), a.text == "and" ? "or" : "and", no(a.of[1]));
    }
    return made(Expr::Kind::Not, {}, {std::move(a)});
}

Expr minus(Expr a)
{
    return made(Expr::Kind::Minus, {}, {std::move(a)});
}

Expr op(Expr a, const char *sign, Expr b)
{
    return made(Expr::Kind::Binary, sign, {std::move(a), std::move(b)});
}

Expr cut(Type type, Expr a)
{
    auto e = made(Expr::Kind::Cut, {}, {std::move(a)});
    e.type = type;
    return e;
}

Expr all(std::vector<Expr> of)
{
    for (const auto &e : of)
        if (isFalse(e))
            return truth(false);
    return joined(std::move(of), "and", true);
}

Expr any(std::vector<Expr> of)
{
    for (const auto &e : of)
        if (isTrue(e))
            return truth(true);
    return joined(std::move(of), "or", false);
}

bool isTrue(const Expr &e)
{
    return e.kind == Expr::Kind::Truth && e.whole != 0;
}

bool isFalse(const Expr &e)
{
    return e.kind == Expr::Kind::Truth && e.whole == 0;
}

Stmt let(Type type, std::string name, Expr value, std::string comment)
{
    auto s = stmt(Stmt::Kind::Let, {std::move(value)});
    s.type = type;
    s.name = std::move(name);
    s.comment = std::move(comment);
    return s;
}

Stmt var(Type type, std::string name, Expr value)
{
    auto s = let(type, std::move(name), std::move(value));
    s.kind = Stmt::Kind::Var;
    return s;
}

Stmt set(std::string target, Expr value, std::string comment)
{
    auto s = stmt(Stmt::Kind::Set, {name(std::move(target)), std::move(value)});
    s.comment = std::move(comment);
    return s;
}

Stmt run(Expr call, std::string comment)
{
    auto s = stmt(Stmt::Kind::Do, {std::move(call)});
    s.comment = std::move(comment);
    return s;
}

Stmt when(Expr condition, Body then, std::string comment)
{
    return choose({{std::move(condition), std::move(then), std::move(comment)}});
}

Stmt choose(std::vector<Way> ways)
{
    auto s = stmt(Stmt::Kind::If);
    s.ways = std::move(ways);
    return s;
}

Stmt select(Expr of, std::vector<Way> ways)
{
    auto s = stmt(Stmt::Kind::Select, {std::move(of)});
    s.ways = std::move(ways);
    return s;
}

Stmt countUp(std::string name, Expr from, Expr before, Body body)
{
    auto s = stmt(Stmt::Kind::Count, {std::move(from), std::move(before)});
    s.name = std::move(name);
    s.body = std::move(body);
    return s;
}

Stmt loop(Expr condition, Body body)
{
    auto s = stmt(Stmt::Kind::While, {std::move(condition)});
    s.body = std::move(body);
    return s;
}

Stmt give(Expr value)
{
    return stmt(Stmt::Kind::Return, {std::move(value)});
}

Stmt leave()
{
    return stmt(Stmt::Kind::Leave);
}

Stmt done()
{
    return stmt(Stmt::Kind::Return);
}

Stmt remark(std::string comment)
{
    auto s = stmt(Stmt::Kind::Remark);
    s.comment = std::move(comment);
    return s;
}

Stmt tagged(std::vector<std::string> tags, Stmt stmt)
{
    stmt.tags = std::move(tags);
    return stmt;
}

Item pinItem(std::string name, int number, std::string pin)
{
    Item item;
    item.kind = Item::Kind::Constant;
    item.type = Type::Small;
    item.name = std::move(name);
    item.of = {whole(number)};
    item.comment = std::move(pin);
    return item;
}

} // namespace badger::boardcode
