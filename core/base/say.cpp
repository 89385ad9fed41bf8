// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/base/say.h"

#include <algorithm>

namespace badger
{

namespace
{

/// What stands in one place of a source text: "{}", "{0}" or "{0|wire|wires}".
struct Place {
    std::size_t argument = 0;
    std::vector<std::string_view> forms;
};

Place placeOf(std::string_view inside, std::size_t &next)
{
    Place place;
    if (inside.empty()) {
        place.argument = next++;
        return place;
    }
    place.argument = static_cast<std::size_t>(inside.front() - '0');
    for (auto bar = inside.find('|'); bar != std::string_view::npos;) {
        const auto end = inside.find('|', bar + 1);
        place.forms.push_back(
            inside.substr(bar + 1, end == std::string_view::npos ? end : end - bar - 1));
        bar = end;
    }
    return place;
}

class Speaker
{
public:
    explicit Speaker(const Listener &listener) : m_listener(listener) {}

    std::string operator()(const std::string &name) const { return name; }
    std::string operator()(long whole) const { return std::to_string(whole); }
    std::string operator()(const Number &n) const { return units::plain(n.value, n.decimals); }
    std::string operator()(const units::Quantity &q) const
    {
        return units::text(q, m_listener.display);
    }
    std::string operator()(const Say &text) const
    {
        auto all = text.finished
                       ? text.text
                       : filled(m_listener.translate ? m_listener.translate(text.text) : text.text,
                                text.arguments);
        if (text.capital && !all.empty() && all[0] >= 'a' && all[0] <= 'z')
            all[0] = static_cast<char>(all[0] - 'a' + 'A');
        return all;
    }

private:
    /// A translation may name a place that is not there: it is shown as it stands.
    std::string filled(std::string_view text, const std::vector<SayArgument> &arguments) const
    {
        std::string all;
        std::size_t next = 0;
        for (std::size_t i = 0; i < text.size(); ++i) {
            const auto end = text[i] == '{' ? text.find('}', i) : std::string_view::npos;
            const bool twice = i + 1 < text.size() && text[i + 1] == text[i];
            if ((text[i] == '{' || text[i] == '}') && twice) {
                all += text[i++];
            } else if (end == std::string_view::npos) {
                all += text[i];
            } else {
                all += inPlace(text.substr(i, end - i + 1), next, arguments);
                i = end;
            }
        }
        return all;
    }

    std::string inPlace(std::string_view whole, std::size_t &next,
                        const std::vector<SayArgument> &arguments) const
    {
        const auto place = placeOf(whole.substr(1, whole.size() - 2), next);
        if (place.argument >= arguments.size())
            return std::string(whole);
        const auto &argument = arguments[place.argument].value;
        if (place.forms.empty())
            return std::visit(*this, argument);
        const long count = std::holds_alternative<long>(argument) ? std::get<long>(argument) : 0;
        const std::size_t form = m_listener.form ? m_listener.form(count) : count == 1 ? 0 : 1;
        return std::string(place.forms[std::min(form, place.forms.size() - 1)]);
    }

    const Listener &m_listener;
};

} // namespace

Say::Say(units::Quantity quantity) : text("{}"), arguments{{quantity}}, finished(false) {}
Say::Say(Number number) : text("{}"), arguments{{number}}, finished(false) {}

namespace detail
{

SayArgument argument(std::string text)
{
    return {std::move(text)};
}
SayArgument argument(std::string_view text)
{
    return {std::string(text)};
}
SayArgument argument(const char *text)
{
    return {std::string(text)};
}
SayArgument argument(Say text)
{
    return {std::move(text)};
}
SayArgument argument(Number number)
{
    return {number};
}
SayArgument argument(units::Quantity quantity)
{
    return {quantity};
}
SayArgument argument(SourceText<> text)
{
    return {Say(text)};
}
SayArgument argumentOf(long whole)
{
    return {whole};
}

} // namespace detail

Say joined(const std::vector<Say> &parts, std::string_view separator)
{
    Say all;
    for (const auto &part : parts) {
        if (part.empty())
            continue;
        if (!all.text.empty())
            all.text += separator;
        all.text += "{}";
        all.arguments.push_back({part});
    }
    all.finished = all.empty();
    return all;
}

Say operator+(const Say &a, const Say &b)
{
    return joined({a, b}, "");
}

std::string words(const Say &text, const Listener &listener)
{
    return Speaker(listener)(text);
}

std::string english(const Say &text, const units::Display &display)
{
    return words(text, {display, {}, {}});
}

void eachSay(const Say &text, const std::function<void(const Say &)> &visit)
{
    visit(text);
    for (const auto &a : text.arguments)
        if (const auto *inner = std::get_if<Say>(&a.value))
            eachSay(*inner, visit);
}

} // namespace badger
