// SPDX-License-Identifier: GPL-3.0-or-later
// Floor: what does the car do there, and why?
#pragma once

#include "app/floor/floor_choice.h"
#include "app/floor/floor_view.h"
#include "app/floor/plan_page.h"
#include "app/floor/run_figures.h"
#include "app/floor/time_strip.h"
#include "app/floor/window_page.h"
#include "app/shell/station_page.h"

#include <QElapsedTimer>
#include <QThreadPool>
#include <QTimer>
#include <atomic>

class QComboBox;
class QGridLayout;
class QLabel;
class QPushButton;
class QSpinBox;
class QToolButton;

namespace badger::app
{

class FloorStation final : public PagedStation
{
    Q_OBJECT
public:
    FloorStation(Session &session, const Theme &theme, QWidget *parent = nullptr);
    ~FloorStation() override;
    QList<QAction *> stationActions() const override;

    /// The newest run that was driven; waits for the one that is being driven.
    const ShownRun &shownRun();
    std::uint64_t time_us() const { return m_time_us; }
    void setTime(std::uint64_t time_us);
    void play(bool on);
    bool isPlaying() const { return m_timer.isActive(); }
    enum Page { Drive, Window, Plan };
    WindowPage *window() const { return m_window; }
    PlanPage *plan() const { return m_plan; }

protected:
    void resizeEvent(QResizeEvent *event) override;
    void hideEvent(QHideEvent *event) override;
    void showEvent(QShowEvent *event) override;
    void keyPressEvent(QKeyEvent *event) override;
    void keyReleaseEvent(QKeyEvent *event) override;

private:
    void refreshOwn() override;
    Sum ownSum() const override;
    QWidget *makeDrivePage();
    /// A run of the window's search, in place of the selected course.
    void showRun(const window::Replay &run, const QString &what);
    QWidget *makeControls();
    QWidget *makeNow();
    void arrange(bool beside);
    void makeFloor();
    /// Asks a worker for a run of what is selected; the newest request wins.
    void driveRun();
    void drive(bool keepTime);
    /// On another floor than the one that is kept, while it is drawn; null: on that one.
    void driveOn(const std::shared_ptr<const floor::Floor> &floor);
    /// A person's arrow key while it plays, for a program that takes keys: kept with the run.
    bool takesKeys() const;
    void press(rules::Command command);
    void take(std::uint64_t request, Result<ShownRun> run, bool keepTime);
    void showNothing(const QString &words);
    void tick();
    void step(int readings);
    void toWrong();
    void toTouch();
    void nowWords();
    std::uint64_t end_us() const { return m_run.end_us(); }

    WindowPage *m_window;
    PlanPage *m_plan;
    QGridLayout *m_layout;
    QWidget *m_controls;
    QWidget *m_nowRow;
    bool m_beside = false; ///< the plan stands beside the strip
    FloorView *m_view;
    TimeStrip *m_strip;
    RunFigures *m_figures;
    QPushButton *m_nextWrong;
    QPushButton *m_whyTouched;
    QLabel *m_verdict;
    QLabel *m_now;
    FloorChoice *m_floors;
    QComboBox *m_pace;
    QComboBox *m_length;
    QSpinBox *m_seed;
    QAction *m_play;
    QAction *m_on;
    QAction *m_back;
    QAction *m_rewind;
    QAction *m_follow;
    QAction *m_wrong;
    QAction *m_touch;
    QAction *m_new;
    QTimer m_timer;
    QElapsedTimer m_clock;
    ShownRun m_run;
    std::uint64_t m_time_us = 0;
    QThreadPool m_worker;
    std::shared_ptr<std::atomic<std::uint64_t>> m_request =
        std::make_shared<std::atomic<std::uint64_t>>(0);
    std::uint64_t m_taken = 0;
    judge::Grounds m_drivenOn;                   ///< of the newest request
    bool m_asked = false;                        ///< it is up to date
    std::shared_ptr<const floor::Floor> m_drawn; ///< in place of the one that is kept
    std::vector<world::KeyPress> m_keys;         ///< of a person, in this run
};

} // namespace badger::app
