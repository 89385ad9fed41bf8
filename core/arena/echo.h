// SPDX-License-Identifier: GPL-3.0-or-later
// Which echo does a ranger hear first?
//
// Sound leaves the ranger and comes back from: the foot of the perpendicular on a flat face; a
// round post; an outer edge; a square inner corner; a rough face where the axis meets it; two
// faces, by way of one another (read long); a face seen in the mirror of another. The first that is
// loud enough and has a free way is the reading. Source: geometry of mirrors, sense/hearing.h.
#pragma once

#include "core/arena/arena.h"
#include "core/sense/hearing.h"

#include <array>
#include <optional>

namespace badger::arena
{

/// A ranger at the moment of a ping.
struct Ear {
    Vec at;
    Vec axis{1.0, 0.0};    ///< unit
    double height_m = 0.0; ///< over the floor; 0: not known, and the floor is not heard
    double below_rad =
        0.0; ///< how far its beam's lower edge points below the level: half-angle - tilt
    double cosHalfAngle = 1.0;
    bool operator==(const Ear &) const = default;
};

enum class By { Face, Post, Edge, Corner, Rough, TwoFaces, Mirror, Floor };

struct Echo {
    double distance_m = 0.0; ///< half of the sound's way
    By by = By::Face;
    int thing = -1;
    int other = -1; ///< of TwoFaces and Mirror: by way of which
    Vec place;      ///< where it was sent back
    Vec turn;       ///< of TwoFaces and Mirror: where it was mirrored first
    /// Its amplitude over what is just heard, for a ping of loudness 1 (sense::Hearing::margin).
    double margin = 0.0;
    int wall = -1; ///< of Face: an index into Arena::segments; -1: a mover
};

/// The first echo that is heard. `loudness`: by how much this ping is louder than the margin asks,
/// 1 without noise. Empty: none. `near`: a wall that may answer, looked at before the others: of
/// two echoes from one distance it is then the first, and nothing else changes.
std::optional<Echo> hear(const Arena &arena, const Ear &ear, const sense::Hearing &hearing,
                         double time_s, double loudness = 1.0, int near = -1);

/// What one ranger hears, ping after ping: hear(), and quicker. Where neither the ranger nor
/// anything else has moved, what was the first echo of a louder ping is that of every ping which
/// is loud enough for it; what answered last is asked first.
class Listening
{
public:
    const std::optional<Echo> &hear(const Arena &arena, const Ear &ear,
                                    const sense::Hearing &hearing, double time_s, double loudness);
    void forget() { *this = {}; }

private:
    struct Known {
        std::optional<Echo> echo;
        double loudness = 0.0; ///< of the ping that was asked
    };
    Ear m_ear;
    std::array<Known, 4> m_known;
    size_t m_count = 0;
    std::optional<Echo> m_last;
};

/// The same for a ping that another ranger sent: by way of a flat face, `distance_m` is half of the
/// way from the sender to the listener.
std::optional<Echo> overhear(const Arena &arena, const Ear &sender, const Ear &listener,
                             const sense::Hearing &hearing, double time_s);

/// What stands nearest inside the beam, heard or not: nothing can stand before it.
struct Ahead {
    double distance_m = 0.0;
    int thing = -1;
    bool round = false;
    double slant_rad = 0.0; ///< of a face: how far its perpendicular is off the axis
    double echo = 1.0;
};
std::optional<Ahead> nearestInBeam(const Arena &arena, const Ear &ear, double time_s);

} // namespace badger::arena
