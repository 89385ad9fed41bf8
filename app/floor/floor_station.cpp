// SPDX-License-Identifier: GPL-3.0-or-later
#include "app/floor/floor_station.h"

#include "app/floor/new_floor.h"
#include "app/widgets/choice.h"
#include "app/widgets/elided_label.h"
#include "app/widgets/marks.h"
#include "app/widgets/text.h"
#include "core/world/words.h"

#include <QAction>
#include <QComboBox>
#include <QGridLayout>
#include <QHBoxLayout>
#include <QKeyEvent>
#include <QLabel>
#include <QPushButton>
#include <QSpinBox>
#include <QStackedLayout>
#include <QStackedWidget>
#include <QToolButton>
#include <QVBoxLayout>
#include <algorithm>
#include <cmath>

namespace badger::app
{

namespace
{
constexpr int frame_ms = 16;
} // namespace

FloorStation::FloorStation(Session &session, const Theme &theme, QWidget *parent)
    : PagedStation(session, theme, parent)
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
    m_follow = action(tr("&Follow the car"), QKeySequence(Qt::ALT | Qt::Key_Z),
                      [this] { m_view->follow(m_follow->isChecked()); });
    m_follow->setCheckable(true);
    m_wrong =
        action(tr("Next &wrong reading"), QKeySequence(Qt::ALT | Qt::Key_W), [this] { toWrong(); });
    m_touch = action(tr("Next &contact"), QKeySequence(Qt::ALT | Qt::Key_C), [this] { toTouch(); });
    m_new = action(tr("&New floor"), QKeySequence(Qt::ALT | Qt::Key_N), [this] { makeFloor(); });

    m_window = new WindowPage(session, theme);
    m_plan = new PlanPage(session, theme);
    makePages(tr("Drive"), makeDrivePage(), {{tr("Window"), m_window}, {tr("Floor plan"), m_plan}});
    choice()->setObjectName("floorPages");
    auto *column = new QVBoxLayout(this);
    column->setContentsMargins(0, 0, 0, 0);
    column->setSpacing(theme.space(1));
    column->addWidget(choice(), 0, Qt::AlignLeft);
    column->addWidget(stack(), 1);
    connect(m_window, &WindowPage::runWanted, this, &FloorStation::showRun);
    connect(m_plan, &PlanPage::runWanted, this, &FloorStation::driveOn);
    connect(m_plan, &PlanPage::newFloorWanted, this, &FloorStation::makeFloor);
    m_timer.setInterval(frame_ms);
    connect(&m_timer, &QTimer::timeout, this, &FloorStation::tick);
    m_worker.setMaxThreadCount(1);
    showNothing({});
}

QWidget *FloorStation::makeDrivePage()
{
    auto *page = new QWidget;
    m_layout = new QGridLayout(page);
    m_layout->setContentsMargins(0, 0, 0, theme().space(2));
    m_layout->setHorizontalSpacing(theme().space(2));
    m_layout->setVerticalSpacing(theme().space(1));
    m_layout->setColumnStretch(0, 1);
    m_layout->setRowStretch(1, 1);
    m_verdict = new QLabel;
    m_verdict->setObjectName("verdict");
    m_verdict->setWordWrap(true);
    m_view = new FloorView(theme());
    m_view->setObjectName("floorView");
    m_strip = new TimeStrip(theme());
    m_strip->setObjectName("timeStrip");
    m_figures = new RunFigures(theme());
    m_controls = makeControls();
    m_nowRow = makeNow();
    arrange(false);
    const auto scrub = [this](std::uint64_t t) {
        play(false);
        setTime(t);
    };
    connect(m_strip, &TimeStrip::scrubbed, this, scrub);
    connect(m_view, &FloorView::scrubbed, this, scrub);
    connect(m_strip, &TimeStrip::stepped, this, &FloorStation::step);
    return page;
}

FloorStation::~FloorStation()
{
    ++*m_request; // whatever is being driven is not wanted any more
    m_worker.clear();
    m_worker.waitForDone();
}

/// The plan over the strip, or where there is little height and much width, beside it.
void FloorStation::arrange(bool beside)
{
    m_beside = beside;
    for (QWidget *w : std::initializer_list<QWidget *>{m_verdict, m_view, m_figures, m_controls,
                                                       m_nowRow, m_strip})
        m_layout->removeWidget(w);
    m_layout->addWidget(m_verdict, 0, 0, 1, 2);
    m_layout->addWidget(m_view, 1, 0, beside ? 4 : 1, 1);
    m_layout->addWidget(m_figures, 1, 1);
    m_figures->setSizePolicy(beside ? QSizePolicy::Expanding : QSizePolicy::Fixed,
                             QSizePolicy::Preferred);
    int row = 2;
    for (QWidget *w : std::initializer_list<QWidget *>{m_controls, m_nowRow, m_strip})
        m_layout->addWidget(w, row++, beside ? 1 : 0, 1, beside ? 1 : 2);
}

void FloorStation::resizeEvent(QResizeEvent *event)
{
    StationView::resizeEvent(event);
    const qreal s = theme().scale();
    const bool beside = height() < 450 * s && width() > m_controls->sizeHint().width() + 220 * s;
    if (beside != m_beside)
        arrange(beside);
}

QList<QAction *> FloorStation::stationActions() const
{
    return {m_play, m_on, m_back, m_rewind, m_follow, m_wrong, m_touch, m_new};
}

/// What is at the time of the strip, and where one may go from there.
QWidget *FloorStation::makeNow()
{
    auto *holder = new QWidget;
    auto *row = new QHBoxLayout(holder);
    row->setContentsMargins(0, 0, 0, 0);
    row->setSpacing(theme().space(3));
    m_now = new ElidedLabel;
    m_now->setObjectName("now");
    m_now->setProperty("small", true);
    row->addWidget(m_now, 1);
    const auto link = [&](const QString &text, const char *name, QAction *action, auto slot) {
        auto *button = new QPushButton(text);
        button->setObjectName(name);
        button->setProperty("link", true);
        button->setToolTip(action->shortcut().toString());
        connect(button, &QPushButton::clicked, this, slot);
        row->addWidget(button);
        return button;
    };
    m_whyTouched = link(tr("Why it touched"), "whyTouched", m_touch, &FloorStation::toTouch);
    m_nextWrong = link(tr("Next wrong reading"), "nextWrong", m_wrong, &FloorStation::toWrong);
    return holder;
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
    row->addStretch(1);
    const auto small = [&](const QString &text) {
        auto *label = new QLabel(text);
        label->setProperty("small", true);
        row->addWidget(label);
    };
    const auto choose = [&](const char *name,
                            std::initializer_list<std::pair<QString, int>> choices, int first) {
        auto *box = new QComboBox;
        box->setObjectName(name);
        for (const auto &[text, value] : choices)
            box->addItem(text, value);
        box->setCurrentIndex(box->findData(first));
        row->addWidget(box);
        return box;
    };
    m_pace = choose("pace", {{tr("1×"), 1}, {tr("4×"), 4}, {tr("fastest"), 0}}, 1);
    m_pace->setToolTip(tr("How fast it is shown"));
    m_length =
        choose("runLength",
               {{tr("20 s"), 20}, {tr("1 min"), 60}, {tr("3 min"), 180}, {tr("10 min"), 600}}, 20);
    m_length->setToolTip(tr("How long it is driven"));
    connect(m_length, &QComboBox::activated, this, &FloorStation::driveRun);
    small(tr("Floor"));
    m_floors = new FloorChoice(session(), "floors");
    row->addWidget(m_floors);
    connect(m_floors, &FloorChoice::newWanted, this, &FloorStation::makeFloor);
    small(tr("Seed"));
    m_seed = new QSpinBox;
    m_seed->setObjectName("seed");
    m_seed->setRange(1, 999999);
    m_seed->setFixedWidth(qRound(64 * theme().scale()));
    m_seed->setToolTip(tr("The same seed gives the same run; arrow keys go to the next"));
    connect(m_seed, &QSpinBox::valueChanged, this, &FloorStation::driveRun);
    row->addWidget(m_seed);
    return holder;
}

void FloorStation::showNothing(const QString &words)
{
    ++*m_request;
    m_taken = *m_request;
    m_run = {};
    m_view->showNothing(words);
    m_strip->clear();
    m_figures->clear();
    m_verdict->clear();
    m_now->clear();
    for (auto *a : {m_play, m_on, m_back, m_rewind, m_follow, m_wrong, m_touch})
        a->setEnabled(false);
    m_nextWrong->hide();
    m_whyTouched->hide();
}

void FloorStation::driveRun()
{
    play(false);
    m_keys.clear();
    drive(false);
}

void FloorStation::driveOn(const std::shared_ptr<const floor::Floor> &floor)
{
    if (session().car() == nullptr || session().program() == nullptr)
        return;
    m_drawn = floor;
    const auto on = session().grounds();
    // What is kept may have been driven already.
    if (!floor && m_asked && on.car == m_drivenOn.car && on.program == m_drivenOn.program &&
        on.floor == m_drivenOn.floor && on.records == m_drivenOn.records && m_taken == *m_request) {
        if (m_run)
            m_plan->showRun(m_run, m_verdict->text());
        return;
    }
    driveRun();
}

void FloorStation::drive(bool keepTime)
{
    m_asked = true;
    const auto *car = session().car();
    if (car == nullptr || session().program() == nullptr)
        return showNothing(
            car ? tr("%1 runs no program yet: Rule offers what to begin with. Then it is "
                     "driven here, before it is driven on the floor.")
                      .arg(str(car->name))
                : tr("Here a car is driven before it is driven on the floor. Add one "
                     "first: \"+ new car\" on the left."));
    auto on = session().grounds();
    if (m_drawn)
        on.floor = m_drawn;
    if (!on.floor)
        return showNothing(
            tr("The workshop has no floor yet. \"new floor\" beside the seed makes one "
               "from a few numbers (%1).")
                .arg(m_new->shortcut().toString()));
    // Another threshold, say, on the same course: the eye stays where it was.
    const bool same =
        keepTime || (m_drivenOn.car && m_drivenOn.car->id == on.car->id && m_drivenOn.floor &&
                     m_drivenOn.floor->id == on.floor->id && m_run && m_time_us < end_us());
    m_drivenOn = on;
    if (!m_run)
        m_view->showNothing(tr("Being driven ..."));
    judge::Course course{on.car, on.program, on.floor, on.records, session().catalogue()};
    world::Conditions conditions;
    conditions.lasts_s = m_length->currentData().toInt();
    conditions.keys = m_keys;
    const auto request = ++*m_request;
    m_worker.start([this, request, course = std::move(course), conditions, same, newest = m_request,
                    seed = static_cast<std::uint64_t>(m_seed->value())] {
        if (*newest != request)
            return;
        auto drive = judge::Drive::make(course, conditions);
        Result<ShownRun> run = ShownRun{};
        if (drive)
            run = ShownRun{*drive, std::make_shared<const judge::Run>((*drive)->run(seed))};
        else
            run = tl::unexpected(drive.error());
        QMetaObject::invokeMethod(
            this, [this, request, same, run = std::move(run)] { take(request, run, same); },
            Qt::QueuedConnection);
    });
}

void FloorStation::take(std::uint64_t request, Result<ShownRun> run, bool keepTime)
{
    if (request != *m_request)
        return;
    if (!run) {
        m_plan->showRun({}, tr("Not to be driven yet. %1").arg(str(run.error().text())));
        return showNothing(tr("Not to be driven yet.\n%1").arg(str(run.error().text())));
    }
    m_taken = request;
    m_run = std::move(*run);
    for (auto *a : {m_play, m_on, m_back, m_rewind, m_follow})
        a->setEnabled(true);
    const bool wrong = !m_run.run->score.wrong.empty();
    const bool touched = !m_run.trace().touches.empty();
    m_wrong->setEnabled(wrong);
    m_touch->setEnabled(touched);
    m_nextWrong->setVisible(wrong);
    m_whyTouched->setVisible(touched);
    m_view->show(m_run);
    m_strip->show(m_run);
    m_figures->show(m_run);
    auto verdict = str(task::verdict(m_run.plan(), m_run.trace(), m_run.run->score));
    if (takesKeys() && m_keys.empty())
        verdict += tr(" A person drives it: play, and hold an arrow key.");
    m_verdict->setText(verdict);
    m_plan->showRun(m_run, verdict);
    // The judged end first: the verdict is what one came for.
    setTime(keepTime ? m_time_us : end_us());
    emit sumChanged();
}

void FloorStation::showRun(const window::Replay &of, const QString &what)
{
    showPageAt(Page::Drive);
    play(false);
    const auto drive = judge::Drive::make(of.course, of.conditions);
    if (!drive)
        return;
    const auto request = ++*m_request;
    take(request, ShownRun{*drive, std::make_shared<const judge::Run>((*drive)->run(of.seed))},
         false);
    m_verdict->setText(what + " " + m_verdict->text());
    if (!m_run.trace().touches.empty())
        setTime(m_run.trace().touches.front().time_us);
}

const ShownRun &FloorStation::shownRun()
{
    if (!m_asked)
        driveRun();
    while (m_taken != *m_request) {
        m_worker.waitForDone();
        QCoreApplication::sendPostedEvents(this, QEvent::MetaCall);
    }
    return m_run;
}

void FloorStation::refreshOwn()
{
    m_drawn.reset();
    m_floors->refresh();
    m_rewind->setIcon(icon("start", theme()));
    m_back->setIcon(icon("step-back", theme()));
    m_on->setIcon(icon("step-on", theme()));
    m_play->setIcon(icon(isPlaying() ? "pause" : "play", theme()));
    const auto *car = session().car();
    const auto on = car ? session().grounds() : judge::Grounds{};
    m_asked = m_asked && car && on.car == m_drivenOn.car && on.program == m_drivenOn.program &&
              on.floor == m_drivenOn.floor && on.records == m_drivenOn.records;
    if (!m_asked && isVisible())
        driveRun();
}

void FloorStation::showEvent(QShowEvent *event)
{
    StationView::showEvent(event);
    if (!m_asked)
        driveRun();
}

namespace
{

rules::Command commandOf(int key)
{
    using rules::Command;
    return key == Qt::Key_Up      ? Command::Ahead
           : key == Qt::Key_Down  ? Command::Back
           : key == Qt::Key_Left  ? Command::Left
           : key == Qt::Key_Right ? Command::Right
                                  : Command::None;
}

} // namespace

void FloorStation::keyReleaseEvent(QKeyEvent *event)
{
    if (isPlaying() && takesKeys() && !event->isAutoRepeat() &&
        commandOf(event->key()) != rules::Command::None)
        return press(rules::Command::None);
    StationView::keyReleaseEvent(event);
}

void FloorStation::keyPressEvent(QKeyEvent *event)
{
    if (const auto command = commandOf(event->key());
        isPlaying() && takesKeys() && command != rules::Command::None) {
        if (!event->isAutoRepeat())
            press(command);
        return;
    }
    if (event->key() == Qt::Key_Space)
        return play(!isPlaying());
    StationView::keyPressEvent(event);
}

void FloorStation::hideEvent(QHideEvent *)
{
    play(false);
}

void FloorStation::makeFloor()
{
    auto *maker = new NewFloor(session(), theme(), this);
    maker->open();
}

Sum FloorStation::ownSum() const
{
    if (!m_run)
        return {};
    const bool stops = m_run.run->score.kind == task::Kind::Stops;
    const auto why =
        stops ? task::whyGap(m_run.plan(), m_run.trace(), m_run.run->score) : Derivation{};
    Sum sum;
    if (!why.steps.empty()) {
        sum.result = cm(*m_run.run->score.gap_m);
        for (const auto &s : why.steps)
            if (&s != &why.steps.back() && &s != &why.steps[3])
                sum.parts.push_back(
                    {(&s == &why.steps.front() ? QStringLiteral("= ") : QStringLiteral("− ")) +
                         str(s.value),
                     str(s.name).remove(QStringLiteral("− "))});
        sum.unfold(why);
    } else if (!m_run.trace().pings.empty() && m_run.run->score.blind_m >= 0.001) {
        const auto &s = m_run.run->score;
        sum.result = cm(s.blind_m);
        sum.parts = {
            {tr("driven in %1").arg(str(units::fixed(s.blindWay_s, units::Unit::Second, 2))),
             tr("the longest way without a reading, from %1 on")
                 .arg(str(units::fixed(double(s.blindAt_us) * 1e-6, units::Unit::Second, 1)))}};
    }
    if (const auto *j = session().current(); j && j->budget && stops)
        sum.aside = tr("predicted: %1 at worst, %2 typically")
                        .arg(cm(j->budget->budget.worstGap_m), cm(j->budget->budget.typicalGap_m));
    return sum;
}

} // namespace badger::app
