// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/parts/catalogue.h"

#include "core/base/named.h"

#include <algorithm>
#include <array>
#include <utility>

namespace badger::parts
{

const Terminal *Part::terminal(std::string_view terminalName) const
{
    return named(terminals, terminalName);
}

const Figure *Part::figure(std::string_view key) const
{
    const auto it = figures.find(std::string(key));
    return it == figures.end() ? nullptr : &it->second;
}

const Part *Catalogue::find(std::string_view id) const
{
    const auto it =
        std::find_if(m_parts.begin(), m_parts.end(), [&](const Part &p) { return p.id == id; });
    return it == m_parts.end() ? nullptr : &*it;
}

Catalogue Catalogue::with(const std::vector<Part> &own) const
{
    auto all = own;
    all.insert(all.end(), m_parts.begin(), m_parts.end());
    return Catalogue(std::move(all));
}

const std::vector<std::string_view> &requiredFigures(Kind kind)
{
    using List = std::vector<std::string_view>;
    static const List none;
    static const List driver = {"drop_V", "continuous_A", "peak_A"};
    static const List motor = {"rated_V",   "no_load_rpm", "no_load_A",
                               "running_A", "stall_A",     "rise_s"};
    static const List wheel = {"diameter_m"};
    static const List cell = {"empty_V", "nominal_V", "fresh_V", "capacity_Ah", "resistance_ohm"};
    static const List ranger = {"half_angle_rad", "dead_zone_m", "range_m",        "no_echo_hold_s",
                                "error_m",        "noise_m",     "lost_echo_share"};
    switch (kind) {
    case Kind::Driver:
        return driver;
    case Kind::Motor:
        return motor;
    case Kind::Wheel:
        return wheel;
    case Kind::Cell:
        return cell;
    case Kind::Ranger:
        return ranger;
    case Kind::Board:
    case Kind::Support:
    case Kind::Link:
    case Kind::Rail:
        break;
    }
    return none;
}

namespace
{

constexpr std::array<std::pair<Kind, const char *>, 9> kinds = {{
    {Kind::Board, "board"},
    {Kind::Driver, "driver"},
    {Kind::Motor, "motor"},
    {Kind::Wheel, "wheel"},
    {Kind::Support, "support"},
    {Kind::Cell, "cell"},
    {Kind::Ranger, "ranger"},
    {Kind::Link, "link"},
    {Kind::Rail, "rail"},
}};

constexpr std::array<std::pair<Role, const char *>, 13> roles = {{
    {Role::Ground, "ground"},
    {Role::SupplyIn, "supply-in"},
    {Role::SupplyOut, "supply-out"},
    {Role::Pin, "pin"},
    {Role::Trigger, "trigger"},
    {Role::Echo, "echo"},
    {Role::Direction, "direction"},
    {Role::Enable, "enable"},
    {Role::MotorOut, "motor-out"},
    {Role::Lead, "lead"},
    {Role::Plus, "plus"},
    {Role::Minus, "minus"},
    {Role::Through, "through"},
}};

template <class Table, class Value> const char *wordOf(const Table &table, Value value)
{
    for (const auto &[v, word] : table)
        if (v == value)
            return word;
    return "";
}

template <class Value, size_t N>
std::optional<Value> valueOf(const std::array<std::pair<Value, const char *>, N> &table,
                             std::string_view text)
{
    for (const auto &[v, word] : table)
        if (word == text)
            return v;
    return std::nullopt;
}

} // namespace

const char *name(Kind kind)
{
    return wordOf(kinds, kind);
}
std::optional<Kind> kindNamed(std::string_view word)
{
    return valueOf(kinds, word);
}
const char *name(Role role)
{
    return wordOf(roles, role);
}
std::optional<Role> roleNamed(std::string_view word)
{
    return valueOf(roles, word);
}

} // namespace badger::parts
