// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/io/parse.h"

#include "core/base/medium.h"

#include <algorithm>
#include <cctype>
#include <cstring>
#include <memory>
#include <mutex>
#include <unordered_set>

namespace badger::io
{

namespace
{

constexpr int deepest = 64;
constexpr size_t mostKeys = 2000; // each key of an object is compared with those before it

Say placeOf(std::string_view text, size_t byte)
{
    const auto before = text.substr(0, std::min(byte, text.size()));
    const auto line = std::count(before.begin(), before.end(), '\n') + 1;
    const auto lastEnd = before.rfind('\n');
    const auto column =
        lastEnd == std::string_view::npos ? before.size() : before.size() - lastEnd - 1;
    return say("line {}, column {}", line, column);
}

/// The part of the library's message that a person can use.
std::string plainReason(const std::string &message)
{
    const auto at = message.rfind("; last read");
    const auto colon = message.find(": syntax error");
    if (colon == std::string::npos)
        return message;
    return message.substr(colon + 2, at == std::string::npos ? at : at - colon - 2);
}

/// Looks at the events of a text before a value is built from it: nesting, doubled keys, and what
/// is no JSON. (The library's own callback while building takes time with the square of a list.)
class Look final : public nlohmann::json_sax<Json>
{
public:
    explicit Look(std::string_view text) : m_text(text) {}

    std::optional<Error> error;

    bool null() override { return true; }
    bool boolean(bool) override { return true; }
    bool number_integer(number_integer_t) override { return true; }
    bool number_unsigned(number_unsigned_t) override { return true; }
    bool number_float(number_float_t, const string_t &) override { return true; }
    bool string(string_t &) override { return true; }
    bool binary(binary_t &) override { return true; }

    bool start_object(std::size_t) override
    {
        m_keys.emplace_back();
        return deeper();
    }
    bool end_object() override
    {
        m_keys.pop_back();
        --m_depth;
        return true;
    }
    bool start_array(std::size_t) override { return deeper(); }
    bool end_array() override
    {
        --m_depth;
        return true;
    }

    bool key(string_t &name) override
    {
        if (!m_keys.back().insert(name).second)
            return refuse(
                Error::Kind::Malformed,
                say("the key '{}' stands twice in one object", medium::shortened(name, 40)),
                say("keep one of the two"));
        if (m_keys.back().size() > mostKeys)
            return refuse(Error::Kind::OutOfRange, say("an object has more than {} keys", mostKeys),
                          say("this is not a workshop"));
        return true;
    }

    bool parse_error(std::size_t byte, const std::string &,
                     const nlohmann::detail::exception &e) override
    {
        constexpr int outOfRange = 406;
        const std::string what = e.what();
        if (e.id == outOfRange) {
            const auto bracket = what.find("] ");
            return refuse(Error::Kind::Malformed,
                          bracket == std::string::npos ? what : what.substr(bracket + 2),
                          say("write a smaller number"));
        }
        error = Error{Error::Kind::Malformed, placeOf(m_text, byte),
                      say("this is not JSON: {}", plainReason(what)),
                      say("mend that line, or open a backup")};
        return false;
    }

private:
    bool refuse(Error::Kind kind, const Say &what, const Say &mend)
    {
        error = Error{kind, say("the file"), what, mend};
        return false;
    }
    bool deeper()
    {
        if (++m_depth <= deepest)
            return true;
        return refuse(Error::Kind::Malformed, say("is nested more than {} levels deep", deepest),
                      say("this is not a workshop"));
    }

    std::string_view m_text;
    std::vector<std::unordered_set<std::string>> m_keys;
    int m_depth = 0;
};

} // namespace

Result<Json> parseJson(std::string_view text)
{
    Look look(text);
    if (!Json::sax_parse(text.begin(), text.end(), &look))
        return tl::unexpected(
            look.error.value_or(Error{Error::Kind::Malformed, say("the file"),
                                      say("this is not JSON"), say("open a backup")}));
    return Json::parse(text.begin(), text.end(), nullptr, false);
}

} // namespace badger::io
