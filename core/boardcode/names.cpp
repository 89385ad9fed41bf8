// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/boardcode/names.h"

#include "embedded/boardSupport.h"
#include "embedded/chipSupport.h"
#include "embedded/commonFirst.h"
#include "embedded/commonSupport.h"
#include "embedded/computerPins.h"
#include "embedded/reservedNames.h"

#include <algorithm>
#include <cctype>
#include <charconv>
#include <fmt/format.h>
#include <string_view>

namespace badger::boardcode
{

namespace
{

constexpr const char *languageWords[] = {"alignas",
                                         "alignof",
                                         "and",
                                         "and_eq",
                                         "asm",
                                         "auto",
                                         "bitand",
                                         "bitor",
                                         "bool",
                                         "break",
                                         "case",
                                         "catch",
                                         "char",
                                         "char8_t",
                                         "char16_t",
                                         "char32_t",
                                         "class",
                                         "compl",
                                         "concept",
                                         "const",
                                         "consteval",
                                         "constexpr",
                                         "constinit",
                                         "const_cast",
                                         "continue",
                                         "co_await",
                                         "co_return",
                                         "co_yield",
                                         "decltype",
                                         "default",
                                         "delete",
                                         "do",
                                         "double",
                                         "dynamic_cast",
                                         "else",
                                         "enum",
                                         "explicit",
                                         "export",
                                         "extern",
                                         "false",
                                         "float",
                                         "for",
                                         "friend",
                                         "goto",
                                         "if",
                                         "inline",
                                         "int",
                                         "long",
                                         "mutable",
                                         "namespace",
                                         "new",
                                         "noexcept",
                                         "not",
                                         "not_eq",
                                         "nullptr",
                                         "operator",
                                         "or",
                                         "or_eq",
                                         "private",
                                         "protected",
                                         "public",
                                         "register",
                                         "requires",
                                         "return",
                                         "short",
                                         "signed",
                                         "sizeof",
                                         "static",
                                         "static_assert",
                                         "static_cast",
                                         "struct",
                                         "switch",
                                         "template",
                                         "this",
                                         "thread_local",
                                         "throw",
                                         "true",
                                         "try",
                                         "typedef",
                                         "typeid",
                                         "typename",
                                         "union",
                                         "unsigned",
                                         "using",
                                         "virtual",
                                         "void",
                                         "volatile",
                                         "wchar_t",
                                         "while",
                                         "xor",
                                         "xor_eq",
                                         "reinterpret_cast",
                                         "import",
                                         "module",
                                         "final",
                                         "override"};

bool isNameSign(char c)
{
    return std::isalnum(static_cast<unsigned char>(c)) || c == '_';
}

void addWordsOfLine(std::set<std::string> &words, std::string_view line)
{
    line = line.substr(0, std::min(line.find("//"), line.find("# "))); // of C++, of Python
    std::string word;
    for (const char c : line) {
        if (isNameSign(c)) {
            word += c;
            continue;
        }
        words.insert(word);
        word.clear();
    }
    words.insert(word);
}

/// Every word of a program text outside its comments: too many rather than too few.
void addWords(std::set<std::string> &words, std::string_view text)
{
    while (!text.empty()) {
        const auto end = std::min(text.find('\n'), text.size());
        addWordsOfLine(words, text.substr(0, end));
        text.remove_prefix(std::min(end + 1, text.size()));
    }
}

const std::set<std::string> &reservedWords()
{
    static const auto words = [] { // constant data, made on first use
        std::set<std::string> all(std::begin(languageWords), std::end(languageWords));
        for (const auto &text :
             {embedded::boardSupport, embedded::chipSupport, embedded::commonFirst,
              embedded::commonSupport, embedded::computerPins})
            addWords(all, text);
        addWords(all, embedded::reservedNames);
        return all;
    }();
    return words;
}

} // namespace

std::string identifier(const std::string &name, bool capitals)
{
    std::string id;
    for (const char c : name) {
        const auto u = static_cast<unsigned char>(c);
        id += std::isalnum(u) && u < 128
                  ? static_cast<char>(capitals ? std::toupper(u) : std::tolower(u))
                  : '_';
    }
    if (id.empty() || id.front() == '_' || std::isdigit(static_cast<unsigned char>(id.front())))
        id.insert(0, capitals ? "N_" : "n_");
    return id;
}

std::string Names::of(const std::string &kind, const std::string &name, bool capitals)
{
    const auto key = kind + ":" + name;
    if (const auto it = m_given.find(key); it != m_given.end())
        return it->second;
    auto id = identifier(name, capitals);
    const auto base = id;
    for (int i = 2; reservedWords().count(id) || !m_taken.insert(id).second; ++i)
        id = fmt::format("{}_{}", base, i);
    return m_given[key] = id;
}

void Names::reserve(std::initializer_list<const char *> words)
{
    for (const auto *w : words)
        m_taken.insert(w);
}

std::optional<int> pinNumber(const std::string &pin)
{
    if (pin.size() < 2)
        return std::nullopt;
    int n = -1;
    const auto *end = pin.data() + pin.size();
    const auto [rest, code] = std::from_chars(pin.data() + 1, end, n);
    if (code != std::errc() || rest != end || n < 0 || pin != pin.front() + std::to_string(n))
        return std::nullopt;
    constexpr int digital = 14;
    constexpr int analogue = 6;
    if (pin.front() == 'D' && n < digital)
        return n;
    if (pin.front() == 'A' && n < analogue)
        return digital + n;
    return std::nullopt;
}

} // namespace badger::boardcode
