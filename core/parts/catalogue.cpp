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
    const auto it = m_all->index.find(std::string(id));
    return it == m_all->index.end() ? nullptr : &m_all->parts[it->second];
}

Catalogue::Catalogue(std::vector<Part> parts)
{
    auto all = std::make_shared<All>();
    all->parts = std::move(parts);
    for (size_t i = 0; i < all->parts.size(); ++i)
        all->index.try_emplace(all->parts[i].id, i);
    m_all = std::move(all);
}

Catalogue Catalogue::with(const Pieces<Part> &own) const
{
    std::vector<Part> all(own.begin(), own.end());
    all.insert(all.end(), parts().begin(), parts().end());
    return Catalogue(std::move(all));
}

const std::vector<std::string_view> &requiredFigures(Kind kind)
{
    using List = std::vector<std::string_view>;
    static const List none;
    static const List motor = {"rated_V", "no_load_rpm", "rise_s"};
    static const List wheel = {"diameter_m"};
    static const List cell = {"empty_V", "nominal_V", "fresh_V"};
    static const List supply = {"volts_V"};
    static const List divider = {"top_ohm", "bottom_ohm"};
    static const List resistor = {"resistance_ohm"};
    static const List ranger = {"half_angle_rad", "dead_zone_m", "range_m",        "no_echo_hold_s",
                                "error_m",        "noise_m",     "lost_echo_share"};
    switch (kind) {
    case Kind::Motor:
        return motor;
    case Kind::Wheel:
        return wheel;
    case Kind::Cell:
        return cell;
    case Kind::Ranger:
        return ranger;
    case Kind::Supply:
        return supply;
    case Kind::Divider:
        return divider;
    case Kind::Resistor:
        return resistor;
    default:
        return none;
    }
}

const std::vector<std::string_view> &wantedFigures(Kind kind)
{
    using List = std::vector<std::string_view>;
    static const List none;
    static const List board = {"running_A", "mass_kg", "length_m", "width_m"};
    static const List driver = {"continuous_A", "peak_A", "mass_kg"};
    static const List motor = {"no_load_A", "running_A", "stall_A", "dead_band", "mass_kg"};
    static const List wheel = {"mass_kg"};
    static const List support = {"mass_kg"};
    static const List cell = {"capacity_Ah", "resistance_ohm", "advised_A", "mass_kg"};
    static const List supply = {"limit_A"};
    static const List regulator = {"out_V", "dropout_V", "limit_A"};
    static const List servo = {"idle_A", "running_A", "stall_A", "mass_kg"};
    static const List powered = {"running_A"};
    static const List led = {"forward_V", "running_A"};
    switch (kind) {
    case Kind::Board:
        return board;
    case Kind::Driver:
        return driver;
    case Kind::Motor:
        return motor;
    case Kind::Wheel:
        return wheel;
    case Kind::Support:
        return support;
    case Kind::Cell:
        return cell;
    case Kind::Supply:
        return supply;
    case Kind::Regulator:
        return regulator;
    case Kind::Servo:
    case Kind::DriveServo:
        return servo;
    case Kind::Ranger:
    case Kind::Infrared:
    case Kind::Strip:
    case Kind::Reflectance:
    case Kind::Light:
    case Kind::Button:
    case Kind::Buzzer:
        return powered;
    case Kind::Led:
        return led;
    default:
        return none;
    }
}

std::string figureName(std::string_view key)
{
    static const std::map<std::string_view, const char *> names = {
        {"advised_A", "steady current advised for one cell"},
        {"all_pins_A", "current of all pins together"},
        {"bore_m", "bore"},
        {"bottom_ohm", "resistor to ground"},
        {"capacity_Ah", "capacity"},
        {"continuous_A", "steady current a channel"},
        {"dead_band", "dead band, share of full duty"},
        {"dead_zone_m", "dead zone"},
        {"diameter_m", "diameter"},
        {"diode_V", "drop of the diode in its jack"},
        {"drop_V", "drop with little current"},
        {"drop_ohm", "rise of the drop with the current"},
        {"dropout_V", "regulator's dropout"},
        {"empty_V", "volts of an empty cell"},
        {"error_m", "error of a reading"},
        {"forward_V", "forward volts"},
        {"fresh_V", "volts of a fresh cell"},
        {"half_angle_rad", "half-angle of the beam"},
        {"heat_limit_W", "heat it sheds without a heat sink"},
        {"height_m", "height"},
        {"idle_A", "current at rest"},
        {"length_m", "length"},
        {"limit_A", "greatest current"},
        {"logic_V", "logic volts"},
        {"lost_echo_share", "share of lost echoes"},
        {"mass_kg", "mass"},
        {"no_echo_hold_s", "hold of the line without an echo"},
        {"no_load_A", "no-load current"},
        {"no_load_rpm", "no-load speed at rated volts"},
        {"noise_m", "spread of a burst"},
        {"nominal_V", "nominal volts of a cell"},
        {"on_ohm", "resistance of the bridge when on"},
        {"out_V", "regulated volts"},
        {"peak_A", "peak current a channel"},
        {"pin_absolute_A", "current a pin survives"},
        {"pin_advised_A", "current advised for a pin"},
        {"pin_high_V", "most volts a pin takes"},
        {"range_m", "range"},
        {"rated_V", "rated volts"},
        {"regulator_most_V", "most volts its regulator takes"},
        {"resistance_ohm", "resistance"},
        {"ride_high_m", "greatest ride height"},
        {"rise_s", "rise time"},
        {"running_A", "current in use"},
        {"wild_share", "share of wild readings"},
        {"s_per_60deg", "time for 60 degrees"},
        {"shaft_m", "shaft"},
        {"spline_teeth", "teeth of the spline"},
        {"spot_m", "spot on the floor"},
        {"stall_A", "stall current"},
        {"stall_Nm", "stall torque"},
        {"top_ohm", "resistor to the signal"},
        {"usable_share", "usable share of the capacity"},
        {"volts_V", "volts"},
        {"width_m", "width"},
        {"area_kg_m2", "mass of a square metre"},
        {"neutral_s", "pulse at which it stands"},
        {"pitch_m", "from pair to pair"},
        {"port_A", "greatest current of a port"},
        {"ride_low_m", "least ride height"},
        {"thickness_m", "thickness"},
        {"trail_m", "trail of the swivel"},
        {"limit_W", "greatest heat"},
    };
    const auto it = names.find(key);
    constexpr std::string_view limit = "limit_";
    constexpr std::string_view amps = "_A";
    if (it == names.end() && key.starts_with(limit) && key.ends_with(amps) &&
        key.size() > limit.size() + amps.size())
        return "greatest current of " +
               std::string(key.substr(limit.size(), key.size() - limit.size() - amps.size()));
    return it == names.end() ? std::string(key) : it->second;
}

namespace
{

constexpr std::array<std::pair<Kind, const char *>, kindCount> kinds = {{
    {Kind::Board, "board"},
    {Kind::Driver, "driver"},
    {Kind::Motor, "motor"},
    {Kind::Wheel, "wheel"},
    {Kind::Support, "support"},
    {Kind::Cell, "cell"},
    {Kind::Ranger, "ranger"},
    {Kind::Link, "link"},
    {Kind::Rail, "rail"},
    {Kind::Supply, "supply"},
    {Kind::Regulator, "regulator"},
    {Kind::Divider, "divider"},
    {Kind::Servo, "servo"},
    {Kind::DriveServo, "drive-servo"},
    {Kind::Infrared, "infrared"},
    {Kind::Strip, "strip"},
    {Kind::Reflectance, "reflectance"},
    {Kind::Light, "light"},
    {Kind::Button, "button"},
    {Kind::Buzzer, "buzzer"},
    {Kind::Led, "led"},
    {Kind::Resistor, "resistor"},
    {Kind::Deck, "deck"},
    {Kind::Fastener, "fastener"},
    {Kind::Jumper, "jumper"},
}};

constexpr std::array<std::pair<Role, const char *>, roleCount> roles = {{
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
    {Role::Signal, "signal"},
    {Role::DigitalOut, "digital-out"},
    {Role::AnalogueOut, "analogue-out"},
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
