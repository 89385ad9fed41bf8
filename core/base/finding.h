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

/// A thing that a finding speaks of, as a value: what a hand touches or an eye goes to.
struct Spot {
    enum class Kind {
        Terminal, ///< "board.D4"
        Part,     ///< an instance, "pack"; empty: the kit as a whole
        Node,     ///< of the power tree, by its id
        Mission,
        Make,  ///< a step of the build
        Bench, ///< a measurement, "ruler:ranger"
        // Of the program:
        Value,
        State,
        Policy,
        Reading,
        Motion,
        Rule,
        Prints ///< what the program writes to its line
    };
    Kind kind = Kind::Terminal;
    std::string name{};
    bool operator==(const Spot &) const = default;
    auto operator<=>(const Spot &) const = default;
};
/// "terminal:board.D4": as a click, a file of answers and a test name it.
std::string key(const Spot &spot);

/// The places of a finding; what a click shows comes first.
class Spots : public std::vector<Spot>
{
public:
    Spots() = default;
    Spots(Spot only) : std::vector<Spot>{std::move(only)} {}
    Spots(std::initializer_list<Spot> all) : std::vector<Spot>(all) {}
};

namespace at
{
inline Spot terminal(std::string name)
{
    return {Spot::Kind::Terminal, std::move(name)};
}
inline Spot part(std::string id)
{
    return {Spot::Kind::Part, std::move(id)};
}
inline Spot node(std::string id)
{
    return {Spot::Kind::Node, std::move(id)};
}
inline Spot mission()
{
    return {Spot::Kind::Mission, {}};
}
inline Spot make(std::string step)
{
    return {Spot::Kind::Make, std::move(step)};
}
inline Spot bench(std::string item)
{
    return {Spot::Kind::Bench, std::move(item)};
}
inline Spot value(std::string name)
{
    return {Spot::Kind::Value, std::move(name)};
}
inline Spot state(std::string name)
{
    return {Spot::Kind::State, std::move(name)};
}
inline Spot policy(std::string reading)
{
    return {Spot::Kind::Policy, std::move(reading)};
}
inline Spot reading(std::string name)
{
    return {Spot::Kind::Reading, std::move(name)};
}
inline Spot motion(std::string state)
{
    return {Spot::Kind::Motion, std::move(state)};
}
inline Spot rule(std::string index)
{
    return {Spot::Kind::Rule, std::move(index)};
}
inline Spot prints()
{
    return {Spot::Kind::Prints, {}};
}
} // namespace at

/// What a finding rests on where that is a figure: a limit that is passed, and by how much.
struct Evidence {
    enum class In {
        Rest,   ///< nothing moves, every output low
        Levels, ///< nothing moves, some output high
        Running,
        Stalled ///< every motor held
    };
    enum class Of { Volts, Amps, Watts };
    double value = 0.0; ///< as it was solved
    double limit = 0.0; ///< in the same unit
    In in = In::Rest;
    Of of = Of::Volts;

    bool isOver() const { return value > limit; }
    bool operator==(const Evidence &) const = default;
};
/// "V", "A", "W".
const char *unit(Evidence::Of of);

/// "rest", "levels", "running", "stalled".
const char *name(Evidence::In in);

/// A verdict about a car: an answer, not a failure. The codes are listed in docs/findings.md.
struct Finding {
    std::string code; ///< a stable word, "speed-line-no-pwm"
    Severity severity = Severity::Advice;
    Say where; ///< a place in words a person can look at, "driver ENA to board D4"
    Say what;  ///< one sentence: what is wrong
    Say why;   ///< one sentence: what it leads to
    Say mend;  ///< one sentence: what to do
    Spots places{};
    std::vector<Say> then{};   ///< what follows from it, one line each
    std::optional<Fix> fix{};  ///< tried on a copy: it mends this and breaks nothing
    std::vector<Fix> others{}; ///< further ways, each tried by itself
    /// Of a program: the readings at which it happens, "ahead 18", as a table names them.
    std::vector<std::string> readings{};

    std::optional<Evidence> evidence{};

    /// The key of the first place: what a click shows. Empty: nowhere.
    std::string target() const { return places.empty() ? std::string() : key(places.front()); }
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
