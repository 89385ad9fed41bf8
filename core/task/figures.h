// SPDX-License-Identifier: GPL-3.0-or-later
// Figures that a traced run and one that is only scored have in common. Private to task/.
#pragma once

#include "core/task/score.h"

namespace badger::task
{

/// The first rest: when, and what is left straight ahead of the nose.
void atRest(const world::Plan &plan, const world::Moment &m, Score &to);

/// How near a wheel is to a table's edge; 0 beyond it.
/// Every turn before which it had looked to both sides, by the newest ping in each direction.
std::vector<Side> sidesTaken(const world::Plan &plan, const world::Trace &trace);

double wheelToEdge_m(const world::Plan &plan, const world::Moment &m);

/// The distance that is held: by the rangers that look ahead, else by a sensor that looks along
/// the floor.
class Held
{
public:
    explicit Held(const world::Plan &plan);
    void begin();
    /// Judged pings: their true distances count.
    void take(const world::Ping &p);
    void take(const world::Moment &m);
    bool byEyes() const { return m_eyes; }
    bool byRangers() const { return m_rangers; }
    void put(Score &to) const;

private:
    void take(std::optional<double> distance_m);

    const world::Plan &m_plan;
    bool m_eyes = false;
    bool m_rangers = false;
    double m_sum = 0.0, m_squares = 0.0;
    int m_n = 0, m_asked = 0;
};

} // namespace badger::task
