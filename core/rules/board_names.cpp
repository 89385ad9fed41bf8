// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/rules/board_names.h"

#include <cctype>
#include <fmt/format.h>

namespace badger::rules
{

std::string identifier(const std::string &name, bool capitals)
{
    std::string id;
    for (const char c : name) {
        const auto u = static_cast<unsigned char>(c);
        id += std::isalnum(u) && u < 128
                  ? static_cast<char>(capitals ? std::toupper(u) : std::tolower(u))
                  : '_';
    }
    if (id.empty() || std::isdigit(static_cast<unsigned char>(id.front())))
        id.insert(0, capitals ? "N_" : "n_");
    return id;
}

std::string plainWords(const std::string &text)
{
    std::string safe;
    for (const char c : text)
        safe += static_cast<unsigned char>(c) < 32 || c == '\\' || c == '"' || c == 127 ? '_' : c;
    return safe;
}

std::string Names::of(const std::string &kind, const std::string &name, bool capitals)
{
    const auto key = kind + ":" + name;
    if (const auto it = m_given.find(key); it != m_given.end())
        return it->second;
    auto id = identifier(name, capitals);
    const auto base = id;
    for (int i = 2; !m_taken.insert(id).second; ++i)
        id = fmt::format("{}_{}", base, i);
    return m_given[key] = id;
}

void Names::reserve(std::initializer_list<const char *> words)
{
    for (const auto *w : words)
        m_taken.insert(w);
}

} // namespace badger::rules
