// SPDX-License-Identifier: GPL-3.0-or-later
// How well is a line followed? Private to task/.
#pragma once

#include "core/task/score.h"

namespace badger::task
{

/// Takes moments in their order. The sensors' middle is followed; a line is lost while it lies
/// beyond all sensors, a lane while the middle is not between its two lines.
class LineFollowed
{
public:
    explicit LineFollowed(const world::Plan &plan);
    void begin();
    void take(const world::Moment &m);

    bool isLost() const { return m_lost; }
    int losses() const { return m_losses; }
    /// The newest.
    const Loss &loss() const { return m_loss; }
    double laps() const;
    bool sawLine() const { return m_sawLine; }
    double swing_m() const { return m_swing_m; }

private:
    const world::Plan &m_plan;
    arena::Vec m_middle;   ///< of the eyes that look down
    double m_half_m = 0.0; ///< from the middle to the outermost
    double m_spot_m = 0.0;
    bool m_any = false;
    bool m_lane = false;
    bool m_lost = false;
    bool m_sawLine = false;
    int m_losses = 0;
    Loss m_loss;
    double m_lostFor_s = 0.0;
    double m_travelled = 0.0;
    double m_swing_m = 0.0;
    double m_lastAlong = -1.0;
    int m_lastTrack = -1;
    std::uint64_t m_last_us = 0;
};

/// Fills in laps, losses and swing.
void scoreLine(const world::Plan &plan, const world::Trace &trace, Score &to);

} // namespace badger::task
