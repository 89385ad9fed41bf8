// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/io/fingerprint.h"

#include "core/io/describe_workshop.h"

#include <fmt/format.h>

namespace badger::io
{

namespace
{

template <class T> void mix(std::uint64_t &hash, T value)
{
    Writer writer;
    describe(writer, value);
    for (const unsigned char c : writer.take().dump() + ";") { // FNV-1a
        hash ^= c;
        hash *= 1099511628211ULL;
    }
}

} // namespace

std::string fingerprintOf(const judge::Grounds &on, const std::string &value)
{
    std::uint64_t hash = 14695981039346656037ULL;
    auto car = *on.car;
    car.name.clear();
    car.ticks.clear();
    car.walk.clear();
    car.history.clear();
    car.windows.clear();
    car.team.clear();
    car.wiringRevision = 0;
    mix(hash, std::move(car));
    auto program = *on.program;
    std::erase_if(program.values, [&](const rules::Value &v) { return v.name == value; });
    program.name.clear();
    program.version = 0;
    program.writtenVersion = 0;
    mix(hash, std::move(program));
    mix(hash, *on.floor);
    for (const auto &part : on.parts)
        mix(hash, part);
    for (const auto &record : on.records)
        mix(hash, record);
    return fmt::format("{:016x}", hash);
}

} // namespace badger::io
