// SPDX-License-Identifier: GPL-3.0-or-later
// Floor: does it stop in time?
#pragma once

#include "app/floor/floor_view.h"
#include "app/floor/time_strip.h"
#include "app/shell/station_view.h"

#include <QElapsedTimer>
#include <QTimer>

class QComboBox;
class QLabel;
class QSpinBox;
class QToolButton;

namespace badger::app
{

class FloorStation final : public StationView
{
    Q_OBJECT
public:
    FloorStation(Session &session, const Theme &theme, QWidget *parent = nullptr);
    void refresh() override;
    Sum sum() const override;
    QList<QAction *> stationActions() const override { return {m_play, m_on, m_back, m_rewind}; }

    const trial::Trial &shownTrial() const { return m_trial; }
    std::uint64_t time_us() const { return m_time_us; }
    void setTime(std::uint64_t time_us);
    void play(bool on);
    bool isPlaying() const { return m_timer.isActive(); }

protected:
    void hideEvent(QHideEvent *event) override;

private:
    QWidget *makeControls();
    void runTrial();
    void tick();
    void step(int pings);
    std::uint64_t end_us() const;

    FloorView *m_view;
    TimeStrip *m_strip;
    QLabel *m_verdict;
    QLabel *m_now;
    QComboBox *m_floors;
    QSpinBox *m_seed;
    QAction *m_play;
    QAction *m_on;
    QAction *m_back;
    QAction *m_rewind;
    QTimer m_timer;
    QElapsedTimer m_clock;
    trial::Trial m_trial;
    std::uint64_t m_time_us = 0;
};

} // namespace badger::app
