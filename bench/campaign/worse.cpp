// SPDX-License-Identifier: GPL-3.0-or-later
#include "bench/campaign/facts.h"

#include <algorithm>
#include <cmath>
#include <iterator>
#include <set>

namespace badger::campaign
{

namespace
{

/// Inputs that follow another output than before, which had no wire: harm where they follow one
/// already.
std::map<std::string, std::string> newlyLed(const Facts &before, const Facts &after)
{
    std::map<std::string, std::string> found;
    std::set<std::string> led;
    for (const auto &[out, inputs] : before.reach)
        led.insert(inputs.begin(), inputs.end());
    for (const auto &[out, inputs] : after.reach)
        if (before.reach.count(out) == 0)
            for (const auto &i : inputs)
                if (led.count(i) != 0)
                    found.emplace(i, out);
    return found;
}

} // namespace

std::map<std::string, std::string> worse(const Facts &before, const Facts &after)
{
    std::map<std::string, std::string> found;
    const auto add = [&](const std::string &where, const std::string &why) {
        found.try_emplace(where, why);
    };
    for (const auto &o : after.over)
        if (before.over.count(o) == 0)
            add(o.substr(o.find(' ') + 1), o.substr(0, o.find(' ')));
    for (const auto &u : after.under)
        if (before.under.count(u) == 0)
            add(u, "too few volts");
    for (const auto &[out, inputs] : before.reach) {
        const auto it = after.reach.find(out);
        if (it == after.reach.end()) {
            if (!inputs.empty())
                add(out, "reaches nothing");
            continue;
        }
        for (const auto &i : inputs)
            if (it->second.count(i) == 0) {
                add(i, "not reached by " + out);
                add(out, "does not reach " + i);
            }
        for (const auto &i : it->second) // a pin that nobody asks may follow what it likes
            if (inputs.count(i) == 0 && before.asked.count(i) != 0)
                add(i, "follows " + out);
    }
    for (const auto &[input, out] : newlyLed(before, after))
        add(input, "follows " + out);
    for (const auto &a : after.apart)
        if (before.apart.count(a) == 0)
            add(a, "ground hangs in the air");
    for (const auto &p : after.serial)
        if (before.serial.count(p) == 0)
            add(p, "is not free for loading");
    for (const auto &does : before.repertoire)
        if (after.repertoire.count(does) == 0)
            for (const auto &[motor, volts] : before.most_V)
                add(motor, "cannot do what it did");
    for (const auto &[motor, most] : before.most_V) {
        const auto it = after.most_V.find(motor);
        const double now = it == after.most_V.end() ? 0.0 : it->second;
        if (now > most + 1.0 || now < 0.5 * most)
            add(motor, "has other volts");
        const auto was = before.drives.find(motor);
        const auto is = after.drives.find(motor);
        if (was != before.drives.end() && (is == after.drives.end() || is->second != was->second))
            add(motor, "hangs on other outputs");
    }
    for (const auto &[motor, volts] : before.motors_V) {
        const auto it = after.motors_V.find(motor);
        for (size_t p = 0; p < volts.size(); ++p) {
            const double now = it == after.motors_V.end() ? 0.0 : it->second[p];
            if (std::abs(now - volts[p]) > 0.4 + 0.25 * std::abs(volts[p]))
                add(motor, "does something else");
        }
    }
    return found;
}

size_t wiresApart(const kit::Car &a, const kit::Car &b)
{
    const auto ends = [](const kit::Car &car) {
        std::multiset<std::pair<std::string, std::string>> all;
        for (const auto &w : car.wires)
            all.emplace(std::min(w.from, w.to), std::max(w.from, w.to));
        return all;
    };
    const auto first = ends(a);
    const auto second = ends(b);
    std::vector<std::pair<std::string, std::string>> apart;
    std::set_symmetric_difference(first.begin(), first.end(), second.begin(), second.end(),
                                  std::back_inserter(apart));
    return apart.size();
}

} // namespace badger::campaign
