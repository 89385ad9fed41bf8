// SPDX-License-Identifier: GPL-3.0-or-later
// Runs drawn at random, by events and by steps of 0.05 ms: how many end the same?
//
//     badger_steps_agree [runs] [seed]
#include "support/agree.h"

#include <algorithm>
#include <cstdlib>
#include <fmt/format.h>

using namespace badger;

int main(int count, char **words)
{
    const int runs = count > 1 ? std::atoi(words[1]) : 4000;
    std::mt19937 random(count > 2 ? static_cast<unsigned>(std::atoi(words[2])) : 1);
    int driven = 0, same = 0, grazes = 0, touched = 0;
    std::vector<double> apart;
    while (driven < runs) {
        const auto drawn = test::drawRun(random);
        if (!drawn.drive)
            continue;
        ++driven;
        const auto a = test::compare(drawn);
        same += a.same;
        touched += a.touched;
        if (a.free && a.same)
            apart.push_back(a.apart_m);
        if (a.same && a.apart_m < 0.001)
            continue;
        grazes += a.graze;
        fmt::print("{}{}\n        {}\n        {}\n", drawn.what, a.graze ? " (a graze)" : "",
                   a.same ? fmt::format("{:.2f} mm apart at the end", a.apart_m * 1000.0)
                          : a.difference,
                   a.parting);
    }
    std::sort(apart.begin(), apart.end());
    const auto far = std::count_if(apart.begin(), apart.end(), [](double m) { return m > 0.001; });
    fmt::print("{} runs, {} touch something: {} the same, {} of the others graze.\n", driven,
               touched, same, grazes);
    if (!apart.empty())
        fmt::print("{} touch nothing: {} are more than 1 mm apart at the end, median {:.4f} mm, "
                   "99th {:.4f} mm.\n",
                   apart.size(), far, apart[apart.size() / 2] * 1000.0,
                   apart[apart.size() * 99 / 100] * 1000.0);
    return 0;
}
