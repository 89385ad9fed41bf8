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
    Ruler,        ///< a ranger against the ruler: stretches at a true distance, echo times in us
    NoEcho,       ///< a ranger facing open space: echo times in us
    Surfaces,     ///< a reflectance sensor over "light" and "dark": counts
    Trimmer,      ///< a digital module over "light" and "dark": levels
    Reflectance,  ///< a reflectance sensor before one surface: counts at a true distance
    Neutral,      ///< a continuous servo: the pulse in us at which it stands still
    Turn,         ///< "left" and "right": degrees after a time in ms
    Straightness, ///< metres aside at the end, then half way; truth: the length
    Speed ///< seconds over a measured length; truth: the length, label: the PWM count, "140"
};
inline constexpr int whatCount = 9;
/// As it stands in files: "ruler", "no-echo", ...
const char *key(What what);
/// "ranger against ruler"
Say words(What what);
/// Is it of one part, or of the whole car?
bool isOfAPart(What what);

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
    Extra extra{};
    bool operator==(const Basis &) const = default;
};

struct Record {
    Id<Record> id;
    Id<kit::Car> car;
    What what = What::Ruler;
    std::string instance; ///< "ranger"; empty where it is of the whole car
    std::vector<Stretch> stretches;
    std::optional<double> chosen; ///< by hand: the threshold in counts, the neutral pulse in us
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

/// How the hand goes about it, step by step, with the label and truth of the stretch that the step
/// records; a step without label and truth is only done.
struct ProtocolStep {
    Say text;
    Say caution;
    std::string label;
    std::optional<double> truth;
};
std::vector<ProtocolStep> protocolOf(What what);

/// A temperature that readings of a ranger were turned into distances with.
inline constexpr double usualAir_degC = 20.0;

} // namespace badger::tune
