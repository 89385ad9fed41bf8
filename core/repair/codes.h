// SPDX-License-Identifier: GPL-3.0-or-later
// Which kind of change may mend a finding, by its code?
#pragma once

#include <set>
#include <string>

namespace badger::repair
{

/// Something has no wire that should have one.
inline bool lacks(const std::string &code)
{
    static const std::set<std::string> codes = {
        "module-unpowered", "module-ungrounded", "signal-unwired", "enable-floats",
        "input-floats",     "sensor-unheard",    "motor-undriven", "program-pin-not-wired"};
    return codes.count(code) != 0;
}

/// Of volts, amps or heat in the supply: another number of cells may do.
inline bool isAboutVolts(const std::string &code)
{
    static const std::set<std::string> codes = {
        "supply-outside-window", "regulator-over-volts", "rail-not-held", "logic-browns-out",
        "motor-too-weak",        "supply-below-drop",    "regulator-hot", "bridge-hot",
        "motor-supply-low",      "source-over-limit",    "pack-sags",     "channel-over-peak"};
    return codes.count(code) != 0;
}

/// A supply that is joined wrongly: no number of cells is right before that is mended.
inline bool isOfJoinedSupplies(const std::string &code)
{
    static const std::set<std::string> codes = {"two-sources-one-net", "supply-to-ground",
                                                "pack-backwards",      "plug-backwards",
                                                "current-into-pack",   "grounds-not-joined"};
    return codes.count(code) != 0;
}

/// Another map of pins may do.
inline bool isAboutPins(const std::string &code)
{
    static const std::set<std::string> codes = {
        "speed-line-no-pwm", "pwm-taken-by-servo", "pwm-taken-by-tone",   "pwm-pin-wasted",
        "serial-pin-used",   "boot-pin-used",      "analogue-pin-needed", "pin-two-functions"};
    return codes.count(code) != 0;
}

/// More copper, another part or another colour is not for a search among wires.
inline bool isNotOfWires(const std::string &code)
{
    static const std::set<std::string> codes = {
        "wire-over-current", "wire-colour",      "wire-colour-shared", "hole-crowded",
        "link-over-limit",   "pin-over-current", "two-wire-pin-used",  "chip-ground-open",
        "pull-down-missing", "light-too-bright"};
    return codes.count(code) != 0;
}

} // namespace badger::repair
