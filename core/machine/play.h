// SPDX-License-Identifier: GPL-3.0-or-later
// What does a program do when it is given these readings?
#pragma once

#include "core/machine/runner.h"

namespace badger::machine
{

/// One column of readings: of a sensor, or of one angle of a scan.
struct Column {
    std::string name; ///< "ahead", "at-30"
    int sensor = 0;
    int angle = -1; ///< of a scan: which of its angles
};

/// What a program has to be told: one column for each reading that is not made from others, in the
/// program's order; of a scan one for each angle, "at-30".
std::vector<Column> columns(const rules::Program &program, const Machine &machine);

/// What a sensor would say.
struct Heard {
    enum class Kind {
        Number, ///< in the reading's unit; of a digital sensor 1 where it sees what it seeks; of a
                ///< key a rules::Command
        None,   ///< no echo came
        Wild    ///< the line was held as long as a ranger holds it without an echo: 38 ms
    } kind = Kind::None;
    double number = 0.0;
};

/// Readings that hold from a time on.
struct Given {
    std::uint64_t time_us = 0;
    std::vector<Heard> heard; ///< as the columns
};

/// Reads one entry as people write it: "29.5", "13in", "none", "wild"; of a digital sensor "1",
/// "0", "light", "dark"; of a key its word. Fails with Malformed.
Result<Heard> heardOf(const rules::Program &program, const Column &column, const std::string &text);

/// What the car was told from a time on.
struct Told {
    std::uint64_t time_us = 0;
    int mode = 0;
    Orders orders;
    std::optional<double> servo_deg; ///< of the first servo; empty: it has none
    Say why;
};

/// Runs a machine on readings, each of which holds until the next: from its start until nothing
/// follows from the last readings any more, or it comes back into a mode it was in with them. One
/// entry a change. `given` is not empty, begins at 0 and its times rise.
///
/// Time goes by as on the board: a ping takes the echo's flight or its time-out, a print its
/// characters once the 64-character buffer is full, a wait itself.
std::vector<Told> play(const rules::Program &program, const Machine &machine,
                       const std::vector<Given> &given);

} // namespace badger::machine
