// SPDX-License-Identifier: GPL-3.0-or-later
// Does the car clear what it stopped for, and does anything keep it from stopping? Private to the
// checks of a program on a car.
#pragma once

#include "core/judge/check_program_on_car.h"

#include "core/judge/amounts.h"

namespace badger::judge
{

std::span<const Check<ProgramLook>> wayChecks();

inline bool hasBudget(const ProgramLook &look)
{
    return look.budget != nullptr;
}
inline Say place(const ProgramLook &look, const Say &thing)
{
    return say("program '{}', {}", look.program.name, thing);
}

// In check_way_edge.cpp.
std::vector<Finding> edgeTooLate(const ProgramLook &look, const char *code);
std::vector<Finding> widerThanRoom(const ProgramLook &look, const char *code);
bool maySeeAnEdge(const ProgramLook &look);
bool hasRoom(const ProgramLook &look);

/// Without a board the wires are the program: where they do something else than the program says.
std::vector<Finding> wiresDoOtherwise(const ProgramLook &look, const char *code);
/// Is there no board, and does each sensor that the program reads drive an input?
bool wiresAreTheProgram(const ProgramLook &look);

/// How far the foremost corner comes ahead of the nose while the car turns.
///
/// About the middle of the axle (both wheels turn against each other) its circle has the radius
/// hypot(nose, width / 2), about a standing wheel hypot(nose, (width + track) / 2); the nose is
/// `axleToNose_m` ahead of the axle. A round deck about its axle has no corner.
double cornerSwing_m(const kit::Geometry &geometry, bool aboutOneWheel);

/// How far beside the car's new middle line a thin thing lies that stood `ahead_m` before the axle,
/// after a turn of 0 to pi: ahead sin(angle), less track / 2 (1 - cos(angle)) where one wheel
/// stood, since the axle then comes toward it. Source: a turn of the plane about that point.
double besideAfterTurn_m(double ahead_m, double angle_rad, double track_m, bool aboutOneWheel);

} // namespace badger::judge
