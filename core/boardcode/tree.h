// SPDX-License-Identifier: GPL-3.0-or-later
// What does a program text say, before any language says it?
//
// A text is a list of items: constants, variables and functions, whose bodies are statements over
// expressions. It is made once (writer.h) and printed as C++ (print_cpp.h) or Python
// (print_python.h). Names are identifiers of both languages already; what people typed stands only
// in comments and texts, which the printers escape.
#pragma once

#include <cstdint>
#include <optional>
#include <string>
#include <vector>

namespace badger::boardcode
{

/// What a name holds.
enum class Type {
    Nothing, ///< of a function
    Truth,
    Small, ///< 0 to 255
    Whole, ///< 16 bits with a sign
    Long,  ///< 32 bits with a sign
    Time,  ///< microseconds, 32 bits, going round
    Sign,  ///< one character
    Real,  ///< a fraction as the board keeps it
    State,
    Wheel,
    ServoWheel
};

struct Expr {
    enum class Kind {
        Name,  ///< `text`
        Whole, ///< `whole`
        Real,  ///< `real`
        Truth, ///< `whole` is 0 or 1
        Text,  ///< `text`
        Sign,  ///< the one character of `text`
        Call,  ///< of the function `text`
        At,    ///< an entry of the list `text`
        Not,
        Minus,
        Binary, ///< by the sign `text`: + - * / % < <= > >= == != and or
        Cut,    ///< to a whole number of `type`, towards zero; or as a Real
    };
    Kind kind = Kind::Name;
    std::string text{};
    std::int64_t whole = 0;
    double real = 0.0;
    Type type = Type::Nothing;
    std::vector<Expr> of{};
    bool operator==(const Expr &) const = default;
};

Expr name(std::string text);
Expr whole(std::int64_t value);
Expr real(double value);
Expr truth(bool value);
Expr text(std::string value);
Expr sign(char value);
Expr call(std::string function, std::vector<Expr> arguments = {});
Expr at(std::string list, Expr index);
/// The opposite: of a comparison the other comparison, of "and" an "or" of opposites.
Expr no(Expr a);
Expr minus(Expr a);
Expr op(Expr a, const char *sign, Expr b);
Expr cut(Type type, Expr a);
/// All (any) of them, each once; of none true (false), and without what is known to be so.
Expr all(std::vector<Expr> of);
Expr any(std::vector<Expr> of);
bool isTrue(const Expr &e);
bool isFalse(const Expr &e);

struct Stmt;
using Body = std::vector<Stmt>;

/// One way of an If or a Select.
struct Way {
    std::optional<Expr> when; ///< of a Select the state; empty: else
    Body body;
    std::string comment{};
};

struct Stmt {
    enum class Kind {
        Let,    ///< a local `name` of `type` from of[0], which stays as it is
        Var,    ///< a local `name` of `type` from of[0]
        Set,    ///< of[0] = of[1]
        Do,     ///< of[0], a call
        If,     ///< `ways`
        Select, ///< of[0] among `ways`
        Count,  ///< `name` from of[0] to before of[1], over `body`
        While,  ///< of[0], over `body`
        Return, ///< of[0], where there is one
        Leave,  ///< the innermost loop
        Remark, ///< `comment`
    };
    Kind kind = Kind::Do;
    Type type = Type::Nothing;
    std::string name{};
    std::vector<Expr> of{};
    std::vector<Way> ways{};
    Body body{};
    std::string comment{};
    std::vector<std::string> tags{}; ///< what it is about, and all inside it
};

Stmt let(Type type, std::string name, Expr value, std::string comment = {});
Stmt var(Type type, std::string name, Expr value);
Stmt set(std::string name, Expr value, std::string comment = {});
Stmt run(Expr call, std::string comment = {});
Stmt when(Expr condition, Body then, std::string comment = {});
Stmt choose(std::vector<Way> ways);
Stmt select(Expr of, std::vector<Way> ways);
Stmt countUp(std::string name, Expr from, Expr before, Body body);
Stmt loop(Expr condition, Body body);
Stmt give(Expr value);
Stmt leave();
Stmt done(); ///< returns nothing
Stmt remark(std::string comment);
Stmt tagged(std::vector<std::string> tags, Stmt stmt);

struct Item {
    enum class Kind {
        Constant, ///< `name` of `type` is of[0]
        List,     ///< a constant list: of
        Variable, ///< `name` of `type` begins as of[0]; a list of them where there are several
        States,   ///< `names`, counted from 0
        Function, ///< `name` gives a `type` from `arguments`
        Heading,  ///< `comment`, on a line of its own
        Gap
    };
    Kind kind = Kind::Gap;
    Type type = Type::Nothing;
    std::string name{};
    std::vector<Expr> of{};
    std::vector<std::string> names{};
    std::vector<std::pair<Type, std::string>> arguments{};
    Body body{};
    std::string comment{};
    std::vector<std::string> tags{};
};

/// The constant of a pin: its number, with the name that is printed on the board behind it.
Item pinItem(std::string name, int number, std::string pin);

/// A whole program text.
struct Text {
    std::vector<std::string> head; ///< comment lines
    std::vector<Item> items;
};

} // namespace badger::boardcode
