// SPDX-License-Identifier: GPL-3.0-or-later
// What does the program have to say about a car?
#pragma once

#include "core/base/say.h"

#include <algorithm>
#include <map>
#include <optional>
#include <string>
#include <vector>

namespace badger
{

enum class Severity { Error, Warning, Advice };

/// A change of wires, jumpers, cells, parts and places, as a hand makes it, or of what is noted of
/// them.
struct Fix {
    /// Another part in a place; its wires go to the terminals of the same job.
    struct Part {
        std::string instance; ///< empty: one more part, under a free name
        std::string before;   ///< of the catalogue
        std::string after;    ///< empty: it comes off
        bool operator==(const Part &) const = default;
    };
    /// A part to another place on the deck, or to another height or tilt there.
    struct Move {
        std::string instance;
        double back_m = 0.0;   ///< negative: ahead
        double left_m = 0.0;   ///< negative: to the right
        double up_m = 0.0;     ///< negative: lower
        double tilt_rad = 0.0; ///< upwards
        bool operator==(const Move &) const = default;
    };
    struct Cells {
        std::string pack;
        int before = 0; ///< in series
        int after = 0;
        std::string kind{}; ///< of the catalogue, for all of them; empty: as they are
        bool operator==(const Cells &) const = default;
    };
    /// What is in series with a light.
    struct Resistor {
        std::string light;
        std::optional<double> before_ohm;
        double after_ohm = 0.0;
        bool operator==(const Resistor &) const = default;
    };
    /// What is meant to feed an input, and nothing else; or a motor's channel, "left" "driver.A".
    struct Feed {
        std::string input;
        std::string source;
        bool operator==(const Feed &) const = default;
    };
    struct Wire {
        std::string from;
        std::string to;
        std::string colour;
        bool operator==(const Wire &) const = default;
    };
    std::vector<Wire> out;            ///< taken off
    std::vector<Wire> in;             ///< put in
    std::vector<std::string> jumpers; ///< put on, "driver.ENA"
    std::vector<std::string> pulled;  ///< jumpers taken off
    /// Two terminals whose wires change places; `out` and `in` say the same wire by wire.
    std::vector<std::string> exchanged;
    std::map<std::string, std::string> pins; ///< what the program then uses, "driver.ENA" to "D5"
    std::vector<Cells> cells;
    std::vector<Part> parts{};
    std::vector<Move> moves{};
    std::vector<Resistor> resistors{};
    std::vector<Feed> feeds{};
    bool operator==(const Fix &) const = default;
};

/// A verdict about a car: an answer, not a failure. The codes are listed in docs/findings.md.
struct Finding {
    std::string code; ///< a stable word, "speed-line-no-pwm"
    Severity severity = Severity::Advice;
    Say where; ///< a place in words a person can look at, "driver ENA to board D4"
    Say what;  ///< one sentence: what is wrong
    Say why;   ///< one sentence: what it leads to
    Say mend;  ///< one sentence: what to do
    std::string
        target; ///< what a click shows: "wire:driver.ENA", "terminal:board.D4", "value:halt"
    std::vector<Say> then{};   ///< what follows from it, one line each
    std::optional<Fix> fix{};  ///< tried on a copy: it mends this and breaks nothing
    std::vector<Fix> others{}; ///< further ways, each tried by itself
    /// Of a program: the readings at which it happens, "ahead 18", as a table names them.
    std::vector<std::string> readings{};

    bool operator==(const Finding &) const = default;
};

/// The answer of one group of checks: what is wrong, and what was looked at and is right.
struct Findings {
    std::vector<Finding> findings;
    std::vector<Say> fine; ///< "grounds are joined"

    void add(Findings more)
    {
        std::move(more.findings.begin(), more.findings.end(), std::back_inserter(findings));
        std::move(more.fine.begin(), more.fine.end(), std::back_inserter(fine));
    }
};

inline bool hasError(const std::vector<Finding> &findings)
{
    return std::any_of(findings.begin(), findings.end(),
                       [](const Finding &f) { return f.severity == Severity::Error; });
}

inline const char *name(Severity severity)
{
    switch (severity) {
    case Severity::Error:
        return "error";
    case Severity::Warning:
        return "warning";
    case Severity::Advice:
        break;
    }
    return "advice";
}

} // namespace badger
