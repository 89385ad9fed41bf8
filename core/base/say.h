// SPDX-License-Identifier: GPL-3.0-or-later
// How does core say something, before it is known in which language and units?
//
// A Say is a source text with typed arguments. The source text is English with places for the
// arguments:
//
//     say("{} is not below {}.", threshold, limit)              the next argument each
//     say("{0} {0|wire crosses|wires cross} {1}.", n, name)     a form for one and one for more
//
// "{{" stands for a brace. Places and arguments are counted when it is compiled. Arguments are
// names (shown as they are), whole numbers, numbers with decimals, quantities, and other Says.
// What makes words of it (words()) is told how the reader wants to see lengths, and how a source
// text reads in the reader's language; the translator's tool finds every text inside say("...").
#pragma once

#include "core/base/unit.h"

#include <functional>
#include <string>
#include <string_view>
#include <type_traits>
#include <utility>
#include <variant>
#include <vector>

namespace badger
{

using units::Number;

namespace detail
{

/// Do the places of a source text take `count` arguments, each at least once?
consteval bool takes(std::string_view text, std::size_t count)
{
    bool used[16] = {};
    std::size_t next = 0;
    for (std::size_t i = 0; i < text.size(); ++i) {
        if (text[i] == '}' && (i + 1 >= text.size() || text[++i] != '}'))
            return false;
        if (text[i] != '{')
            continue;
        if (i + 1 < text.size() && text[i + 1] == '{') {
            ++i;
            continue;
        }
        const auto end = text.find('}', i);
        if (end == std::string_view::npos)
            return false;
        std::size_t at = next;
        if (end == i + 1)
            ++next;
        else if (text[i + 1] < '0' || text[i + 1] > '9')
            return false;
        else
            at = static_cast<std::size_t>(text[i + 1] - '0');
        if (at >= count)
            return false;
        used[at] = true;
        i = end;
    }
    for (std::size_t i = 0; i < count; ++i)
        if (!used[i])
            return false;
    return true;
}

} // namespace detail

/// A source text whose places were counted.
template <class... Arguments> struct SourceText {
    const char *text;
    consteval SourceText(const char *source) : text(source)
    {
        if (!detail::takes(source, sizeof...(Arguments)))
            throw "the places of the text and its arguments do not match";
    }
};

/// A source text without places in a table of constants, marked for the translator's tool.
consteval SourceText<> source(const char *text)
{
    return {text};
}

struct SayArgument;

/// A text to be said. Made from a string it is a name or other finished text, in no language.
struct Say {
    std::string text; ///< a source text, or finished
    std::vector<SayArgument> arguments;
    bool finished = true; ///< to be shown as it is: no places, not for a translator
    bool capital = false; ///< begins a sentence: its first letter is shown as a capital

    // Their bodies stand below, where an argument is known.
    Say();
    Say(std::string finishedText);
    Say(std::string_view finishedText);
    Say(const char *finishedText);
    Say(units::Quantity quantity);
    Say(Number number);
    Say(SourceText<> source);
    Say(const Say &other);
    Say(Say &&other) noexcept;
    Say &operator=(const Say &other);
    Say &operator=(Say &&other) noexcept;
    ~Say();

    bool empty() const { return text.empty(); }
    bool operator==(const Say &) const;
};

/// A Say is no string: english() or words() make one of it.
template <class Words, class Text>
requires std::is_same_v<Words, Say> && std::is_convertible_v<const Text &, std::string_view>
bool operator==(const Words &, const Text &) = delete;

struct SayArgument {
    std::variant<std::string, long, Number, units::Quantity, Say> value;
    bool operator==(const SayArgument &) const = default;
};

inline Say::Say() = default;
inline Say::Say(std::string finishedText) : text(std::move(finishedText)) {}
inline Say::Say(std::string_view finishedText) : text(finishedText) {}
inline Say::Say(const char *finishedText) : text(finishedText) {}
inline Say::Say(SourceText<> source) : text(source.text), finished(text.empty()) {}
inline Say::Say(const Say &other) = default;
inline Say::Say(Say &&other) noexcept = default;
inline Say &Say::operator=(const Say &other) = default;
inline Say &Say::operator=(Say &&other) noexcept = default;
inline Say::~Say() = default;

inline bool Say::operator==(const Say &other) const
{
    return finished == other.finished && capital == other.capital && text == other.text &&
           arguments == other.arguments;
}

namespace detail
{

// Not inline: thousands of calls, and the compiler's bounds warning misreads the copy of a string.
SayArgument argument(std::string text);
SayArgument argument(std::string_view text);
SayArgument argument(const char *text);
SayArgument argument(Say text);
SayArgument argument(Number number);
SayArgument argument(units::Quantity quantity);
SayArgument argument(SourceText<> text);
SayArgument argumentOf(long whole);
template <class Whole>
requires(std::is_integral_v<Whole> && !std::is_same_v<Whole, char>) SayArgument
    argument(Whole whole)
{
    return argumentOf(static_cast<long>(whole));
}

} // namespace detail

/// A text of ours. A double is no argument: a Number or a Quantity says how it is shown.
template <class... Arguments>
Say say(SourceText<std::type_identity_t<Arguments>...> source, Arguments &&...arguments)
{
    Say all;
    all.text = source.text;
    all.finished = false;
    (all.arguments.push_back(detail::argument(std::forward<Arguments>(arguments))), ...);
    return all;
}

/// The same at the beginning of a sentence.
inline Say capitalised(Say text)
{
    text.capital = true;
    return text;
}

/// The parts one after another, with `separator` between them; empty ones are left out.
Say joined(const std::vector<Say> &parts, std::string_view separator);
/// The same of any list of names.
template <class Names> Say joined(const Names &names, std::string_view separator)
{
    return joined(std::vector<Say>(names.begin(), names.end()), separator);
}

/// One after the other, nothing between.
Say operator+(const Say &a, const Say &b);
inline Say &operator+=(Say &a, const Say &b)
{
    return a = a + b;
}

/// Who listens.
struct Listener {
    units::Display display;
    /// A source text in the listener's language; empty: English. Places stay as they are; a place
    /// with forms may have more of them, for languages that need more.
    std::function<std::string(std::string_view)> translate;
    /// Which form a number takes, 0 for the first; empty: 1 takes the first, all others the second.
    std::function<std::size_t(long)> form;
};

/// The words of a Say.
std::string words(const Say &text, const Listener &listener);

/// In English, each length in its usual unit or as `display` wants it.
std::string english(const Say &text, const units::Display &display = {});

/// Calls `visit` with the Say and with every Say in its arguments.
void eachSay(const Say &text, const std::function<void(const Say &)> &visit);

} // namespace badger
