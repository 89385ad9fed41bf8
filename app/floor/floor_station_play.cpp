// SPDX-License-Identifier: GPL-3.0-or-later
// A run in time: played, stepped, gone to, driven by a person's keys.
#include "app/floor/floor_station.h"

#include "app/widgets/marks.h"
#include "app/widgets/text.h"
#include "core/world/words.h"

#include <QAction>
#include <QComboBox>
#include <QLabel>
#include <algorithm>

namespace badger::app
{

namespace
{
constexpr std::uint64_t fastest_us = 5000000; ///< a whole run at the fastest pace
} // namespace

void FloorStation::setTime(std::uint64_t time_us)
{
    m_time_us = std::min(time_us, end_us());
    m_view->setTime(m_time_us);
    m_strip->setTime(m_time_us);
    nowWords();
}

void FloorStation::nowWords()
{
    if (!m_run)
        return;
    auto words = str(units::fixed(double(m_time_us) * 1e-6, units::Unit::Second, 2));
    const auto &plan = m_run.plan();
    if (const int mode = m_strip->modeAt(m_time_us); mode >= 0)
        words += " · " + str(plan.on->program().states[static_cast<size_t>(mode)].name);
    if (const int i = m_strip->pingAt(m_time_us); i >= 0) {
        const auto &ping = m_run.trace().pings[static_cast<size_t>(i)];
        const auto &rangers = plan.on->model().rangers;
        const bool none = ping.read_m < 0.0;
        if (const auto why = world::why(plan, ping); !why.empty())
            words +=
                " · " + str(rangers[static_cast<size_t>(ping.ranger)].instance) + ": " + str(why);
        else
            words += tr(" · %1 reads %2")
                         .arg(str(rangers[static_cast<size_t>(ping.ranger)].instance),
                              none ? tr("none") : cm(ping.read_m));
    }
    m_now->setText(words);
    m_now->setToolTip(words);
}

void FloorStation::play(bool on)
{
    if (on == isPlaying())
        return;
    if (on) {
        if (m_time_us >= end_us())
            setTime(0);
        m_clock.start();
        m_timer.start();
    } else {
        m_timer.stop();
    }
    m_play->setIcon(icon(on ? "pause" : "play", theme()));
    m_strip->leaveArrows(on && takesKeys());
}

void FloorStation::tick()
{
    const auto passed_us = static_cast<double>(m_clock.nsecsElapsed()) / 1000.0;
    m_clock.restart();
    const int pace = m_pace->currentData().toInt();
    const double times = pace > 0 ? pace : std::max(1.0, double(end_us()) / double(fastest_us));
    setTime(m_time_us + static_cast<std::uint64_t>(passed_us * times));
    if (m_time_us >= end_us())
        play(false);
}

void FloorStation::step(int readings)
{
    play(false);
    if (!m_run)
        return;
    const auto &trace = m_run.trace();
    if (trace.pings.empty()) { // of a car that reads levels: from change to change
        const auto &all = trace.changes;
        if (all.empty())
            return;
        const auto after =
            std::upper_bound(all.begin(), all.end(), m_time_us,
                             [](std::uint64_t t, const world::Change &c) { return t < c.time_us; });
        if (readings > 0 && after != all.end())
            return setTime(after->time_us);
        auto before = after;
        while (before != all.begin() && std::prev(before)->time_us >= m_time_us)
            --before;
        return setTime(before == all.begin() ? 0 : std::prev(before)->time_us);
    }
    const int last = static_cast<int>(trace.pings.size()) - 1;
    const int to = std::clamp(m_strip->pingAt(m_time_us) + readings, 0, last);
    setTime(trace.pings[static_cast<size_t>(to)].sent_us);
}

/// The next reading that is wrong for another reason than the one before it; round at the end.
void FloorStation::toWrong()
{
    if (!m_run || m_run.run->score.wrong.empty())
        return;
    play(false);
    const auto &pings = m_run.trace().pings;
    const auto &wrong = m_run.run->score.wrong;
    const auto now = static_cast<size_t>(std::max(0, m_strip->pingAt(m_time_us)));
    const auto alike = [&](size_t a, size_t b) {
        return pings[a].wrong == pings[b].wrong && pings[a].thing == pings[b].thing &&
               pings[a].ranger == pings[b].ranger;
    };
    size_t last = now;
    for (const size_t i : wrong) {
        if (pings[i].sent_us <= m_time_us)
            continue;
        if (pings[last].wrong == world::Wrong::Right || !alike(i, last))
            return setTime(pings[i].sent_us);
        last = i;
    }
    setTime(pings[wrong.front()].sent_us);
}

void FloorStation::toTouch()
{
    if (!m_run || m_run.trace().touches.empty())
        return;
    play(false);
    const auto &touches = m_run.trace().touches;
    const auto next = std::find_if(touches.begin(), touches.end(),
                                   [&](const world::Touch &t) { return t.time_us > m_time_us; });
    setTime(next == touches.end() ? touches.front().time_us : next->time_us);
}

bool FloorStation::takesKeys() const
{
    if (!m_run)
        return false;
    const auto &readings = m_run.plan().on->program().readings;
    return std::any_of(readings.begin(), readings.end(),
                       [](const rules::Reading &r) { return r.source == rules::Source::Key; });
}

/// What comes after this moment is driven anew; what came before stays, to the bit.
void FloorStation::press(rules::Command command)
{
    std::erase_if(m_keys, [&](const world::KeyPress &k) { return k.time_us >= m_time_us; });
    m_keys.push_back({m_time_us, command});
    drive(true);
}

} // namespace badger::app
