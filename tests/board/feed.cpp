// SPDX-License-Identifier: GPL-3.0-or-later
#include "board/accounts.h"

#include <algorithm>
#include <random>

namespace badger::board
{

using rules::Source;

namespace
{

/// The numbers at which a program decides otherwise.
std::vector<double> marksOf(const rules::Program &program, const rules::Reading &r,
                            const machine::Sensor &s)
{
    std::vector<double> marks;
    for (const auto &v : program.values)
        if (v.si && (v.kind == rules::ValueKind::Distance || v.kind == rules::ValueKind::Count))
            marks.push_back(machine::constantOf(v, machine::lengthOf(program, r), false));
    for (const auto &bound : {s.nearest, s.farthest})
        if (bound)
            marks.push_back(*bound);
    return marks;
}

} // namespace

Feed feedFor(const rules::Program &program, const machine::Machine &machine, std::uint32_t seed,
             int looks)
{
    std::mt19937 random(seed);
    const auto pick = [&](int least, int most) {
        return std::uniform_int_distribution<int>(least, most)(random);
    };
    const auto fill = [&](auto &list, auto make) {
        while (static_cast<int>(list.size()) < looks) {
            const auto value = make();
            for (int n = pick(1, 4); n > 0; --n)
                list.push_back(value);
        }
        list.resize(static_cast<size_t>(looks));
    };
    Feed feed;
    for (size_t i = 0; i < program.readings.size(); ++i) {
        const auto &r = program.readings[i];
        const auto &s = machine.sensors[i];
        const auto marks = marksOf(program, r, s);
        if (r.source == Source::Ranger || r.source == Source::Scan) {
            const double most = s.timeOut_us * s.unitsPer_us;
            fill(feed.echoes_us[r.instance], [&]() -> std::uint32_t {
                double number = 0.0;
                switch (pick(0, 6)) {
                case 0:
                    return 0;
                case 1:
                    return pick(0, 3) == 0 ? wild_us : 0;
                case 2:
                    number = pick(0, 3) == 0 ? 1.0 : most - 1.0;
                    break;
                case 3:
                    number = pick(1, std::max(2, static_cast<int>(most)));
                    break;
                default:
                    number = marks.empty() ? pick(1, 200)
                                           : marks[static_cast<size_t>(
                                                 pick(0, static_cast<int>(marks.size()) - 1))] +
                                                 pick(-1, 1);
                }
                return static_cast<std::uint32_t>(std::max(20.0, (number + 0.5) / s.unitsPer_us));
            });
        } else if (r.source == Source::Digital || r.source == Source::Button) {
            fill(feed.levels[r.name], [&] { return pick(0, 1); });
        } else if (r.source == Source::Analogue) {
            fill(feed.counts[r.name], [&] {
                if (pick(0, 3) == 0)
                    return pick(0, 1) * 1023;
                if (marks.empty() || pick(0, 2) == 0)
                    return pick(0, 1023);
                return std::clamp(
                    static_cast<int>(
                        marks[static_cast<size_t>(pick(0, static_cast<int>(marks.size()) - 1))]) +
                        pick(-1, 1),
                    0, 1023);
            });
        } else if (r.source == Source::Key) {
            fill(feed.keys, [&] { return "ablr x\0\0"[pick(0, 7)]; });
        }
    }
    return feed;
}

} // namespace badger::board
