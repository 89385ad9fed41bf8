// SPDX-License-Identifier: GPL-3.0-or-later
// What has to be drilled and cut, at full size?
//
// Millimetres on paper. x runs from left to right of the page and is the car's right side, y runs
// down the page and is the car's tail: the car's nose is at the top.
#pragma once

#include "core/base/say.h"
#include "core/kit/assembly.h"
#include "core/kit/balance.h"

#include <string>
#include <vector>

namespace badger::mechanics
{

struct Drill {
    double x_mm = 0.0;
    double y_mm = 0.0;
    double diameter_mm = 0.0;
    std::string part; ///< the instance it is for
};

struct Outline {
    double x_mm = 0.0; ///< of its middle
    double y_mm = 0.0;
    double width_mm = 0.0;  ///< across the page
    double length_mm = 0.0; ///< down the page
    std::string part;
    Say note;         ///< "forward ↺ from outside"
    bool cut = false; ///< an opening to cut; otherwise only where the part sits
};

/// A row of the cut list.
struct Cut {
    Say what; ///< "deck, 3 mm sheet"
    int count = 1;
    Say size; ///< "210 mm × 150 mm"
};

struct Template {
    double width_mm = 0.0; ///< of the deck
    double length_mm = 0.0;
    double axle_mm = 0.0; ///< y of the drive axle
    std::vector<Drill> drills;
    std::vector<Outline> outlines;
    std::vector<Cut> cuts;
    std::vector<std::pair<double, double>> discs; ///< centres of disc decks, their radius below
    double discRadius_mm = 0.0;
};

/// Holes and outlines of every placed part. Motor holes are mirrored left and right.
Template templateOf(const kit::Assembly &car);

/// The template as an SVG document whose millimetres are millimetres, with a 100 mm check line.
std::string templateSvg(const Template &t, const std::string &title);

/// The page it takes with margins and check line, for the one who prints it.
struct Page {
    double width_mm = 0.0;
    double height_mm = 0.0;
};
Page pageOf(const Template &t);

} // namespace badger::mechanics
