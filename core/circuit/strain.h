// SPDX-License-Identifier: GPL-3.0-or-later
// Where is a limit passed, and where does a supply leave its window, in any state of a car?
//
// The states that are looked at: fresh cells at rest, nominal cells running and stalled, and every
// output high against every other low and the other way round, pins and sensors together.
#pragma once

#include "core/base/finding.h"
#include "core/circuit/car_network.h"

namespace badger::circuit
{

enum class Harm {
    Shorted,       ///< a source gives several times what it should while nothing moves
    SourceAmps,    ///< a supply of its own is asked for more than it gives while the car runs
    Charged,       ///< current is driven back into cells or into a supply
    Backwards,     ///< a part's supply is the wrong way round
    OverVolts,     ///< a supply input or a rail has more than its window
    UnderVolts,    ///< a supply input, or the rail of a board that is fed there, has less than
                   ///< its window, running at nominal charge
    PinVolts,      ///< an input has more than it takes, or less than its ground
    PinAmps,       ///< an output gives or takes more than it survives
    OutputAmps,    ///< a motor output gives more than its peak with nothing stalled
    LightAmps,     ///< a light has several times its current
    LinkAmps,      ///< a switch, fuse or diode carries more than it should
    RegulatorAmps, ///< a regulator gives more than it should
    ResistorHeat   ///< a resistor turns more into heat than it bears
};

/// In what a harm is measured.
Evidence::Of unitOf(Harm harm);

struct Strain {
    Harm harm = Harm::Shorted;
    size_t member = 0;    ///< of Nets::all(): where
    double value = 0.0;   ///< V, A or W
    double limit = 0.0;   ///< in the same unit
    bool stalled = false; ///< only while motors are held
    bool atRest = false;  ///< already with every output low
};

/// What a limit is judged with.
struct Looked {
    std::vector<Strain> strains; ///< one a harm and place, its worst
    Answer rest;                 ///< fresh, nothing moves, outputs low
    Answer running;              ///< nominal, bridges driven, outputs high
    Answer stalled;
    bool solved = true; ///< every state was
};

/// A pattern of levels for each pair of outputs that differ both ways, and all low, all high.
std::vector<std::vector<Level>> opposed(size_t outputs);

/// Every pattern of up to eight outputs; of more, those of opposed() and each alone high.
std::vector<std::vector<Level>> everyPattern(size_t outputs);

/// Which patterns of levels the outputs are set to.
enum class Patterns {
    Rest,    ///< none: all low, and each motor output as its inputs say
    Opposed, ///< a few in which every two outputs differ both ways
    Every    ///< as everyPattern(): slower, for a second look
};
Looked look(const CarNetwork &net, Patterns patterns = Patterns::Opposed);

} // namespace badger::circuit
