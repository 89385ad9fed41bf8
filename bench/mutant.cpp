// SPDX-License-Identifier: GPL-3.0-or-later
#include "bench/mutant.h"

#include <fmt/format.h>
#include <vector>

namespace badger::bench
{

namespace
{

using Json = nlohmann::ordered_json;
using Pointer = Json::json_pointer;

const std::vector<std::string> &hostileTexts()
{
    static const std::vector<std::string> all = {"<img src=\"file:///dev/zero\">",
                                                 "<b>bold</b>",
                                                 "a & b",
                                                 "two\nlines",
                                                 "quote\" and \\",
                                                 "\x1b[31mred",
                                                 "=1+1",
                                                 "-140",
                                                 "@x",
                                                 "bell\a",
                                                 "%1 %2",
                                                 "",
                                                 " ",
                                                 ".",
                                                 "a.b",
                                                 "*/",
                                                 "long",
                                                 "adc",
                                                 "é ü 好",
                                                 "\xe2\x80\xae"
                                                 "evil",
                                                 std::string(80, 'W'),
                                                 "everywhere",
                                                 "none",
                                                 "D5",
                                                 "board",
                                                 "0",
                                                 "#include <x>",
                                                 "{}",
                                                 "{:>9999}",
                                                 "\xc2\x9b"
                                                 "31m",
                                                 "</svg>"};
    return all;
}

class Maker
{
public:
    Maker(const Json &original, unsigned seed) : m_random(seed), m_json(original) {}

    Mutant make()
    {
        const unsigned changes = 1 + some(3);
        for (unsigned i = 0; i < changes; ++i)
            change();
        auto text = m_json.dump(some(2) ? 2 : -1);
        if (some(40) == 0) {
            text[some(unsigned(text.size()))] = static_cast<char>(some(256));
            m_how += "a byte; ";
        }
        if (some(80) == 0) {
            text.resize(some(unsigned(text.size())));
            m_how += "cut short; ";
        }
        return {std::move(text), std::move(m_how)};
    }

private:
    unsigned some(unsigned n) { return n == 0 ? 0 : static_cast<unsigned>(m_random() % n); }

    /// A random place: a walk from the root that stops early now and then.
    Pointer place()
    {
        Pointer at;
        const Json *here = &m_json;
        while ((here->is_object() || here->is_array()) && !here->empty()) {
            if (!at.empty() && some(12) == 0)
                break;
            auto it = here->begin();
            std::advance(it, some(unsigned(here->size())));
            at = here->is_object() ? at / it.key()
                                   : at / static_cast<size_t>(std::distance(here->begin(), it));
            here = &*it;
        }
        return at;
    }

    void change()
    {
        const auto at = place();
        if (at.empty())
            return;
        m_how += at.to_string();
        switch (some(14)) {
        case 0:
            return remove(at);
        case 1:
            return doubled(at);
        case 2:
            return otherType(at);
        case 3:
            return rename(at);
        default:
            return otherValue(at);
        }
    }

    void remove(const Pointer &at)
    {
        m_how += " removed; ";
        auto &parent = m_json[at.parent_pointer()];
        if (parent.is_array())
            parent.erase(static_cast<size_t>(std::stoul(at.back())));
        else
            parent.erase(at.back());
    }

    void doubled(const Pointer &at)
    {
        m_how += " doubled; ";
        auto &parent = m_json[at.parent_pointer()];
        if (!parent.is_array() || parent.size() > 300)
            return;
        auto copy = m_json[at];
        if (copy.is_object())
            for (const auto *key : {"id", "name", "number", "key"}) {
                if (copy.contains(key) && copy[key].is_string())
                    copy[key] = copy[key].get<std::string>() + " 2";
                else if (copy.contains(key) && copy[key].is_number_integer())
                    copy[key] = copy[key].get<int>() + 1000;
            }
        parent.push_back(copy);
    }

    void otherType(const Pointer &at)
    {
        m_how += " of another type; ";
        const Json kinds[] = {nullptr, 0, -1.5, "x", true, Json::array(), Json::object()};
        m_json[at] = kinds[some(7)];
    }

    /// Every text that is the same becomes the new one, so that what refers to it still does.
    void rename(const Pointer &at)
    {
        if (!m_json[at].is_string())
            return otherValue(at);
        const auto before = m_json[at].get<std::string>();
        const auto after = hostileTexts()[some(unsigned(hostileTexts().size()))];
        m_how += fmt::format(" '{}' to '{}' everywhere; ", before, after);
        replaceAll(m_json, before, after);
    }

    static void replaceAll(Json &json, const std::string &before, const std::string &after)
    {
        const auto changed = [&](const std::string &text) {
            if (text == before)
                return after;
            // "board.D5" where "board" is renamed
            if (text.starts_with(before + "."))
                return after + text.substr(before.size());
            if (text.ends_with("." + before))
                return text.substr(0, text.size() - before.size()) + after;
            return text;
        };
        if (json.is_string()) {
            json = changed(json.get<std::string>());
        } else if (json.is_array()) {
            for (auto &j : json)
                replaceAll(j, before, after);
        } else if (json.is_object()) {
            auto object = Json::object();
            for (auto &[key, j] : json.items()) {
                replaceAll(j, before, after);
                object[changed(key)] = std::move(j);
            }
            json = std::move(object);
        }
    }

    void otherValue(const Pointer &at)
    {
        auto &json = m_json[at];
        m_how += " changed; ";
        if (json.is_boolean()) {
            json = !json.get<bool>();
        } else if (json.is_number_integer()) {
            const long values[] = {
                0, 1, -1, 2, 255, 256, 1000000, json.get<long>() * 2, json.get<long>() + 1};
            json = values[some(9)];
        } else if (json.is_number()) {
            const double x = json.get<double>();
            const double values[] = {0.0,  -x,   x * 10.0, x / 10.0, x * 1.1, x * 1e6,
                                     1e-9, 1e30, 1.0,      x + 1.0,  x * 2.0, x * 0.5};
            json = values[some(12)];
        } else if (json.is_string()) {
            json = hostileTexts()[some(unsigned(hostileTexts().size()))];
        } else {
            remove(at);
        }
    }

    std::mt19937 m_random;
    Json m_json;
    std::string m_how;
};

} // namespace

Mutant mutant(const nlohmann::ordered_json &original, unsigned seed)
{
    return Maker(original, seed).make();
}

} // namespace badger::bench
