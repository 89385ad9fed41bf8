// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/base/medium.h"

#include <charconv>
#include <cstdint>
#include <fmt/format.h>
#include <utility>

namespace badger::medium
{

namespace
{

constexpr char32_t replacement = 0xFFFD;

/// The character that begins at `at`, and the place after it; U+FFFD and one byte for what is none.
std::pair<char32_t, std::size_t> characterAt(std::string_view text, std::size_t at)
{
    const auto byte = [&](std::size_t i) -> std::uint32_t {
        return i < text.size() ? static_cast<unsigned char>(text[i]) : 0U;
    };
    const auto first = byte(at);
    if (first < 0x80)
        return {first, at + 1};
    const std::size_t more = first >= 0xF0 ? 3 : first >= 0xE0 ? 2 : first >= 0xC2 ? 1 : 0;
    if (more == 0 || first > 0xF4)
        return {replacement, at + 1};
    char32_t c = first & (0x3FU >> more);
    for (std::size_t i = 1; i <= more; ++i) {
        if ((byte(at + i) & 0xC0U) != 0x80U)
            return {replacement, at + 1};
        c = (c << 6) | (byte(at + i) & 0x3FU);
    }
    constexpr char32_t least[] = {0, 0x80, 0x800, 0x10000};
    if (c < least[more] || c > 0x10FFFF || (c >= 0xD800 && c <= 0xDFFF))
        return {replacement, at + 1};
    return {c, at + more + 1};
}

void append(std::string &out, char32_t c)
{
    const auto put = [&](char32_t byte) { out += static_cast<char>(byte); };
    if (c < 0x80) {
        put(c);
    } else if (c < 0x800) {
        put(0xC0 | (c >> 6));
        put(0x80 | (c & 0x3F));
    } else if (c < 0x10000) {
        put(0xE0 | (c >> 12));
        put(0x80 | ((c >> 6) & 0x3F));
        put(0x80 | (c & 0x3F));
    } else {
        put(0xF0 | (c >> 18));
        put(0x80 | ((c >> 12) & 0x3F));
        put(0x80 | ((c >> 6) & 0x3F));
        put(0x80 | (c & 0x3F));
    }
}

/// Reorders what stands around it, so that the eye reads another text than the machine.
bool reorders(char32_t c)
{
    return (c >= 0x202A && c <= 0x202E) || (c >= 0x2066 && c <= 0x2069) || c == 0x200E ||
           c == 0x200F || c == 0x061C;
}

/// C1 controls, line and paragraph separators, reordering, and what no text may hold.
bool isBadWide(char32_t c)
{
    return (c >= 0x7F && c <= 0x9F) || c == 0x2028 || c == 0x2029 || c == 0xFEFF || c == 0xFFFE ||
           c == 0xFFFF || reorders(c);
}

/// The character itself, or what is shown in its place.
char32_t shown(char32_t c)
{
    constexpr char32_t pictures = 0x2400; // of the characters 0 to 31
    constexpr char32_t pictureOfDelete = 0x2421;
    return c < 0x20 ? pictures + c : c == 0x7F ? pictureOfDelete : isBadWide(c) ? replacement : c;
}

template <class Each> std::string through(std::string_view text, Each each)
{
    std::string out;
    out.reserve(text.size());
    for (std::size_t at = 0; at < text.size();) {
        const auto [c, next] = characterAt(text, at);
        each(out, c);
        at = next;
    }
    return out;
}

bool isNumber(std::string_view text)
{
    if (text.starts_with('+'))
        text.remove_prefix(1);
    double value = 0.0;
    const auto [end, code] = std::from_chars(text.data(), text.data() + text.size(), value);
    return code == std::errc() && end == text.data() + text.size();
}

/// Would the writer, or the reader, have to look at an apostrophe in front of this?
bool beginsFormula(std::string_view text)
{
    const auto at = text.find_first_not_of('\'');
    return at != std::string_view::npos &&
           std::string_view("=+@-\t\r").find(text[at]) != std::string_view::npos;
}

} // namespace

std::string line(std::string_view text)
{
    return through(text, [](std::string &out, char32_t c) { append(out, shown(c)); });
}

std::string terminal(std::string_view text)
{
    return through(text, [](std::string &out, char32_t c) {
        append(out, c == '\n' || c == '\t' ? c : shown(c));
    });
}

std::string terminalJson(std::string_view json)
{
    return through(json, [](std::string &out, char32_t c) {
        if (isBadWide(c))
            out += fmt::format("\\u{:04x}", static_cast<std::uint32_t>(c));
        else
            append(out, c);
    });
}

std::string xml(std::string_view text)
{
    return through(text, [](std::string &out, char32_t c) {
        switch (c) {
        case '<':
            out += "&lt;";
            break;
        case '>':
            out += "&gt;";
            break;
        case '&':
            out += "&amp;";
            break;
        case '"':
            out += "&quot;";
            break;
        case '\'':
            out += "&#39;";
            break;
        default:
            append(out, shown(c));
        }
    });
}

std::string source(std::string_view text)
{
    char32_t before = 0;
    return through(text, [&before](std::string &out, char32_t c) {
        const bool trigraph = c == '?' && before == '?';
        append(out, c == '\\' || c == '"' || c < 0x20 || trigraph ? U'_' : shown(c));
        before = c;
    });
}

std::string csv(std::string_view text)
{
    std::string field(text);
    if (beginsFormula(text) && !(text.front() != '\'' && isNumber(text)))
        field.insert(0, 1, '\'');
    const auto isSpace = [](char c) { return c == ' ' || c == '\t'; }; // readers may trim them
    const bool spaced = !field.empty() && (isSpace(field.front()) || isSpace(field.back()));
    if (!spaced && field.find_first_of(",;\"\r\n") == std::string::npos)
        return field;
    std::string quoted = "\"";
    for (const char c : field) {
        if (c == '"')
            quoted += '"';
        quoted += c;
    }
    return quoted + '"';
}

std::string csvValue(std::string_view field)
{
    if (field.starts_with('\'') && beginsFormula(field))
        field.remove_prefix(1);
    return std::string(field);
}

std::string shortened(std::string_view text, std::size_t longest)
{
    std::size_t at = 0;
    for (std::size_t n = 0; n < longest && at < text.size(); ++n)
        at = characterAt(text, at).second;
    return at >= text.size() ? std::string(text) : std::string(text.substr(0, at)) + "...";
}

bool isUtf8(std::string_view bytes)
{
    for (std::size_t at = 0; at < bytes.size();) {
        const auto [c, next] = characterAt(bytes, at);
        if (c == replacement && next == at + 1)
            return false;
        at = next;
    }
    return true;
}

} // namespace badger::medium
