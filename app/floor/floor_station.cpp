// SPDX-License-Identifier: GPL-3.0-or-later
#include "app/floor/floor_station.h"

#include "app/widgets/elided_label.h"
#include "app/widgets/marks.h"
#include "app/widgets/text.h"
#include "core/judge/sums.h"

#include <QAction>
#include <QComboBox>
#include <QHBoxLayout>
#include <QLabel>
#include <QSpinBox>
#include <QToolButton>
#include <cmath>

namespace badger::app
{

namespace
{
constexpr int frame_ms = 16;
} // namespace

FloorStation::FloorStation(Session &session, const Theme &theme, QWidget *parent)
    : StationView(session, theme, parent)
{
    const auto action = [this](const QString &text, QKeySequence keys, auto slot) {
        auto *a = new QAction(text, this);
        a->setShortcut(keys);
        connect(a, &QAction::triggered, this, slot);
        return a;
    };
    m_play = action(tr("&Play or pause"), Qt::Key_F5, [this] { play(!isPlaying()); });
    m_on = action(tr("One reading &on"), Qt::Key_F6, [this] { step(1); });
    m_back =
        action(tr("One reading &back"), QKeySequence(Qt::SHIFT | Qt::Key_F6), [this] { step(-1); });
    m_rewind =
        action(tr("To the &start"), QKeySequence(Qt::SHIFT | Qt::Key_F5), [this] { setTime(0); });

    auto *layout = new QVBoxLayout(this);
    layout->setContentsMargins(0, 0, 0, theme.space(2));
    layout->setSpacing(theme.space(2));
    m_verdict = new QLabel;
    m_verdict->setObjectName("verdict");
    m_verdict->setWordWrap(true);
    m_view = new FloorView(theme);
    m_strip = new TimeStrip(theme);
    m_strip->setObjectName("timeStrip");
    layout->addWidget(m_verdict);
    layout->addWidget(m_view, 3);
    layout->addWidget(makeControls());
    layout->addWidget(m_strip, 2);
    connect(m_strip, &TimeStrip::scrubbed, this, [this](std::uint64_t t) {
        play(false);
        setTime(t);
    });
    connect(m_strip, &TimeStrip::stepped, this, &FloorStation::step);
    m_timer.setInterval(frame_ms);
    connect(&m_timer, &QTimer::timeout, this, &FloorStation::tick);
}

QWidget *FloorStation::makeControls()
{
    auto *holder = new QWidget;
    auto *row = new QHBoxLayout(holder);
    row->setContentsMargins(0, 0, 0, 0);
    row->setSpacing(theme().space(2));
    for (auto *a : {m_rewind, m_back, m_play, m_on}) {
        auto *button = new QToolButton;
        button->setDefaultAction(a);
        button->setFocusPolicy(Qt::StrongFocus);
        button->setToolButtonStyle(Qt::ToolButtonIconOnly);
        button->setToolTip(a->text().remove('&') + " (" + a->shortcut().toString() + ")");
        button->setAccessibleName(a->text().remove('&'));
        row->addWidget(button);
    }
    m_now = new ElidedLabel;
    m_now->setObjectName("now");
    m_now->setProperty("small", true); // so that the comparison fits
    m_now->setMinimumWidth(100);
    row->addWidget(m_now, 1);
    auto *floorLabel = new QLabel(tr("Floor"));
    floorLabel->setProperty("small", true);
    m_floors = new QComboBox;
    connect(m_floors, &QComboBox::activated, this,
            [this] { session().selectFloor({m_floors->currentData().toString().toStdString()}); });
    auto *seedLabel = new QLabel(tr("Seed"));
    seedLabel->setProperty("small", true);
    m_seed = new QSpinBox;
    m_seed->setObjectName("seed");
    m_seed->setRange(1, 999999);
    m_seed->setFixedWidth(qRound(68 * theme().scale()));
    m_seed->setToolTip(tr("The same seed gives the same run; arrow keys go to the next"));
    connect(m_seed, &QSpinBox::valueChanged, this, [this] {
        runTrial();
        emit sumChanged();
    });
    for (auto *w : std::initializer_list<QWidget *>{floorLabel, m_floors, seedLabel, m_seed})
        row->addWidget(w);
    return holder;
}

std::uint64_t FloorStation::end_us() const
{
    return m_trial.path.empty() ? 0 : m_trial.path.back().time_us;
}

void FloorStation::runTrial()
{
    const auto *car = session().car();
    const auto *program = session().program();
    const auto *floor = session().floor();
    play(false);
    m_trial = {};
    const auto nothing = [this](const QString &words) {
        m_view->showNothing(words);
        m_strip->clear();
        m_verdict->clear();
        m_now->clear();
        for (auto *a : {m_play, m_on, m_back, m_rewind})
            a->setEnabled(false);
    };
    if (car == nullptr || program == nullptr)
        return nothing(
            car ? tr("%1 runs no program yet: Rule offers what to begin with. Then it is "
                     "driven here, before it is driven on the floor.")
                      .arg(str(car->name))
                : tr("Here a car is driven before it is driven on the floor. Add one "
                     "first: \"+ new car\" on the left."));
    if (floor == nullptr)
        return nothing(tr("The workshop has no floor."));
    auto run = judge::runTrial({*car, session().catalogue()}, *program, *floor,
                               static_cast<std::uint64_t>(m_seed->value()));
    if (!run)
        return nothing(tr("Not to be driven yet.\n%1").arg(str(run.error().text())));
    m_trial = std::move(*run);
    for (auto *a : {m_play, m_on, m_back, m_rewind})
        a->setEnabled(true);

    FloorContent c;
    c.floor = *floor;
    c.car = car->geometry;
    const auto stop = session().stopRule(); // a car that can be driven has one
    const auto &reading = *stop.reading;
    if (const auto ranger = judge::rangerOf({*car, session().catalogue()}, reading)) {
        c.halfAngle_rad = (*ranger)->figure("half_angle_rad")->typical;
        c.mount = *car->instance(reading.instance)->mount;
    }
    c.trial = m_trial;
    m_view->show(std::move(c));
    m_strip->show(m_trial, reading, *program, stop.value->si);
    m_verdict->setText(str(trial::verdict(m_trial)));
    setTime(end_us()); // the judged end first: the verdict is what one came for
}

void FloorStation::refresh()
{
    const QSignalBlocker quiet(m_floors);
    m_floors->clear();
    for (const auto &f : session().workshop().floors)
        m_floors->addItem(str(f.name), str(f.id.text));
    if (const auto *floor = session().floor())
        m_floors->setCurrentIndex(m_floors->findData(str(floor->id.text)));
    m_rewind->setIcon(icon("start", theme()));
    m_back->setIcon(icon("step-back", theme()));
    m_on->setIcon(icon("step-on", theme()));
    m_play->setIcon(icon(isPlaying() ? "pause" : "play", theme()));
    runTrial();
}

void FloorStation::setTime(std::uint64_t time_us)
{
    m_time_us = std::min(time_us, end_us());
    m_view->setTime(m_time_us);
    m_strip->setTime(m_time_us);
    const int ping = m_strip->pingAt(m_time_us);
    auto words = str(units::fixed(double(m_time_us) * 1e-6, units::Unit::Second, 2));
    if (ping >= 0) {
        const auto &p = m_trial.pings[static_cast<size_t>(ping)];
        words += tr(" · reading %1 · %2").arg(ping + 1).arg(str(p.decision.why));
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
}

void FloorStation::tick()
{
    setTime(m_time_us + static_cast<std::uint64_t>(m_clock.nsecsElapsed() / 1000));
    m_clock.restart();
    if (m_time_us >= end_us())
        play(false);
}

void FloorStation::step(int pings)
{
    play(false);
    if (m_trial.pings.empty())
        return;
    const int last = static_cast<int>(m_trial.pings.size()) - 1;
    const int to = std::clamp(m_strip->pingAt(m_time_us) + pings, 0, last);
    setTime(m_trial.pings[static_cast<size_t>(to)].decided_us);
}

void FloorStation::hideEvent(QHideEvent *)
{
    play(false);
}

Sum FloorStation::sum() const
{
    if (m_trial.path.empty() || m_trial.deciding < 0)
        return {};
    const auto &ping = m_trial.pings[static_cast<size_t>(m_trial.deciding)];
    Sum sum;
    sum.result = cm(m_trial.gap_m);
    const auto at = trial::poseAt(m_trial, ping.decided_us);
    const auto &end = m_trial.path.back();
    const double rolled = std::hypot(end.nose.x_m - at.nose.x_m, end.nose.y_m - at.nose.y_m);
    if (ping.true_m) {
        const double during =
            std::hypot(at.nose.x_m - ping.from.nose.x_m, at.nose.y_m - ping.from.nose.y_m);
        sum.parts = {
            {"= " + cm(*ping.true_m), tr("true distance at reading %1").arg(m_trial.deciding + 1)},
            {QStringLiteral("− ") + cm(during), tr("driven during the ping")},
            {QStringLiteral("− ") + cm(rolled), tr("rolled out after it")}};
        sum.unfold(judge::whyRun(m_trial));
    }
    if (const auto *j = session().current(); j && j->budget)
        sum.aside = tr("predicted: %1 at worst, %2 typically")
                        .arg(cm(j->budget->budget.worstGap_m), cm(j->budget->budget.typicalGap_m));
    return sum;
}

} // namespace badger::app
