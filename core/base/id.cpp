// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/base/id.h"

#include <fmt/format.h>
#include <random>

namespace badger
{

std::uint64_t randomBits()
{
    std::random_device device;
    constexpr int half = 32;
    return (static_cast<std::uint64_t>(device()) << half) | device();
}

std::string idText(std::uint64_t bits)
{
    return fmt::format("{:016x}", bits);
}

std::string derivedIdText(std::string_view kind, std::string_view name)
{
    std::uint64_t hash = 14695981039346656037ULL;
    const auto take = [&](std::string_view text) {
        for (const char c : text) {
            hash ^= static_cast<unsigned char>(c);
            hash *= 1099511628211ULL;
        }
    };
    take(kind);
    take("\n");
    take(name);
    return idText(hash);
}

} // namespace badger
