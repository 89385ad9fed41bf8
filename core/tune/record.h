// SPDX-License-Identifier: GPL-3.0-or-later
// What was measured at the bench, and on what does it rest?
//
// A record keeps readings as they were taken; what follows from them is worked out when it is
// asked, and never stored. It keeps its basis, too: what was on the car and under it then. Whether
// that is still so is a comparison with the car as it is now, and is never stored either.
#pragma once

#include "core/base/extra.h"
#include "core/base/id.h"
#include "core/base/result.h"
#include "core/kit/assembly.h"
#include "core/tune/burst.h"

#include <optional>
#include <string>
#include <vector>

namespace badger::tune
{

enum class What {
    Ruler,    ///< a ranger against the ruler: stretches at a true distance, echo times in us
    NoEcho,   ///< a ranger facing open space: echo times in us
    Surfaces, ///< a reflectance sensor over "light" and "dark": counts
    Trimmer,  ///< a digital module over "light" and "dark": levels; "turn light" and "turn dark":
              ///< share of the trimmer's way at which it changes there; "lift": metres
    Reflectance,  ///< a reflectance sensor before one surface: counts at a true distance; "other":
                  ///< before another one
    Neutral,      ///< a continuous servo: the pulse in us at which it stands still
    Turn,         ///< "left" and "right", and with a low pack "left low" and "right low": degrees
                  ///< after a time in ms
    Straightness, ///< metres aside at the end, then half way; truth: the length; "low": low pack
    Speed, ///< seconds over a measured length; truth: the length, label: the PWM count, "140"
    Air,   ///< the air at a ranger: `chosen`, in degrees Celsius
    Lamp,  ///< a light resistor: counts in "light", "dark" and "room"; "partner": ohms
    Horn,  ///< a servo that turns a sensor: `chosen` the degrees it lacks to straight ahead at
           ///< its middle, to the left positive; "step": ms until it stands, truth: degrees
    Line   ///< sensors over their line, metres: "sensors" from the middle to the left, "line" its
           ///< width, "room" between two lines, "spot" of a sensor
};
inline constexpr int whatCount = 13;
/// As it stands in files: "ruler", "no-echo", ...
const char *key(What what);
/// "ranger against ruler"
Say words(What what);
/// The same in a word or two: "against ruler".
Say shortWords(What what);
/// Is it of one part, or of the whole car?
bool isOfAPart(What what);
/// Is it taken while the car drives? It rests on the pack, the wheels and the floor.
bool isOfDrive(What what);

/// Readings that belong together: "light", or at 20 cm.
struct Stretch {
    std::string label;           ///< "light", "dark", "left", "right", "open"; may be empty
    std::optional<double> truth; ///< distance in m, time in ms or length in m: what `What` says
    /// In the channel's own unit, in the order in which they came; -1: nothing came back.
    std::vector<double> readings;
    Extra extra{};
    bool operator==(const Stretch &) const = default;
};
inline constexpr double nothingCame = -1.0;
/// The readings, nothingCame as none.
Burst burstOf(const Stretch &stretch);

/// What was on the car and about it.
struct Basis {
    std::string date;  ///< 2026-11-19
    std::string floor; ///< its name; empty: not on a floor, or not said
    std::string light; ///< in words, "lamps on, curtains drawn"
    std::optional<double> air_degC;
    std::optional<double> battery_V;
    std::string part;                ///< of the catalogue
    std::optional<kit::Mount> mount; ///< where it sat
    std::vector<std::string> pins;   ///< "TRIG board.D8": what its wires led to
    std::string pack;                ///< "cell-nimh x6"
    std::string wheels;              ///< wheels and third support, "wheel-65mm, skid"
    std::string horn;                ///< of the servo that carries it: its error, in degrees
    std::vector<std::string> places; ///< of sensors over a line: "left at 20 mm"
    Extra extra{};
    bool operator==(const Basis &) const = default;
};

struct Record {
    Id<Record> id;
    Id<kit::Car> car;
    What what = What::Ruler;
    std::string instance; ///< "ranger"; empty where it is of the whole car
    std::vector<Stretch> stretches;
    /// By hand: the threshold in counts, the neutral pulse in us, air in degrees Celsius, the turn
    /// that a horn lacks in degrees.
    std::optional<double> chosen;
    Basis basis;
    std::string note;
    bool sample = false; ///< made-up figures
    Extra extra{};
    bool operator==(const Record &) const = default;
};

/// The basis as the car is now; what only a person knows (floor, light, air, battery, date) is
/// empty.
Basis basisOf(const kit::Assembly &car, What what, const std::string &instance);

/// What has changed since, each as a clause that follows "it was measured": only what that kind of
/// record rests on. `floorNow`: of the car's mission; empty where none is chosen. Empty: it holds.
std::vector<Say> changedSince(const Record &record, const kit::Assembly &car,
                              const std::string &floorNow);

/// What a record comes to, in a sentence with its number.
struct Verdict {
    Say sentence;
    bool good = false; ///< it can be used: separable, fitted, right
    Say toDo;          ///< what the hand does where it is not
    bool operator==(const Verdict &) const = default;
};
Verdict verdictOf(const Record &record);

/// What the hand enters at a step where no board records it.
enum class Entry {
    Board,  ///< the channel's own unit; of a ranger against the ruler the distance it reads
    Length, ///< metres
    Share,  ///< 0 to 1, or per cent
    Milliseconds,
    Seconds,
    Degrees,
    Microseconds, ///< of a pulse
    Ohms,
    Celsius
};

/// How the hand goes about it, step by step, with the label and truth of the stretch that the step
/// records; a step without label and truth is only done.
struct ProtocolStep {
    Say text;
    Say caution;
    std::string label;
    std::optional<double> truth;
    Entry entry = Entry::Board;
    bool isChosen = false;   ///< the number becomes `chosen`, no stretch
    bool isOptional = false; ///< worth knowing; the measurement holds without it
    Say hint{};              ///< what is typed, as an example: "8 cm 3 cm"
};
std::vector<ProtocolStep> protocolOf(What what);
/// In words what a number of this kind has to be, for one that could not be read.
Say words(Entry entry);
/// "5.8 cm 6 cm", "40 %", "2.2 kohm": numbers with spaces or semicolons between them, each with or
/// without the entry's unit; "none" where a board's reading may be none. Lengths come in metres,
/// shares from 0 to 1. Refused: a word that is no number (Malformed), or outside what the entry can
/// be (OutOfRange).
Result<std::vector<double>> typedReadings(std::string_view text, What what, Entry entry);

/// A temperature that readings of a ranger were turned into distances with.
inline constexpr double usualAir_degC = 20.0;

} // namespace badger::tune
