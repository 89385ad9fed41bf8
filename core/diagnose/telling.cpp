// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/diagnose/telling.h"

#include "core/motion/motion.h"

#include <algorithm>

namespace badger::diagnose
{

namespace
{

/// "D2 and D7 high", "every pin low".
Say patternOf(const motion::MotionTable &table, const motion::MotionRow &row)
{
    std::vector<std::string> high;
    for (size_t i = 0; i < table.inputs.size(); ++i)
        if (row.levels[i] > 0)
            high.push_back(table.inputs[i].name);
    return high.empty() ? say("every output low") : say("{} high", joined(high, " and "));
}

bool haveSameInputs(const motion::MotionTable &a, const motion::MotionTable &b)
{
    return std::equal(a.inputs.begin(), a.inputs.end(), b.inputs.begin(), b.inputs.end(),
                      [](const motion::MotionInput &x, const motion::MotionInput &y) {
                          return x.terminal == y.terminal && x.threeWay() == y.threeWay();
                      });
}

} // namespace

Say toldApartBy(const kit::Assembly &first, const kit::Assembly &second)
{
    const auto a = motion::motion(first);
    const auto b = motion::motion(second);
    if (!haveSameInputs(a, b) || a.rows.size() != b.rows.size())
        return say("Look which of the two wires ends where your plan does not have it.");
    for (size_t i = 0; i < a.rows.size(); ++i)
        if (a.rows[i].left != b.rows[i].left || a.rows[i].right != b.rows[i].right)
            return say("To tell them apart, put the car on a block with {}: {} after the first, {} "
                       "after the second.",
                       patternOf(a, a.rows[i]), motion::words(a.rows[i].path),
                       motion::words(b.rows[i].path));
    return say("Either makes the same car.");
}

} // namespace badger::diagnose
