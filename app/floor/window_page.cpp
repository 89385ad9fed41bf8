// SPDX-License-Identifier: GPL-3.0-or-later
#include "app/floor/window_page.h"

#include "app/document/edits.h"
#include "app/floor/row_dialog.h"
#include "app/floor/window_sheet.h"
#include "app/widgets/text.h"
#include "core/io/storage.h"
#include "core/logbook/measured.h"
#include "core/window/ground.h"
#include "core/window/schools.h"
#include "core/window/table.h"
#include "core/window/words.h"

#include <QComboBox>
#include <QCoreApplication>
#include <QElapsedTimer>
#include <QFileDialog>
#include <QFileInfo>
#include <QHBoxLayout>
#include <QLabel>
#include <QPushButton>
#include <QScrollArea>
#include <QVBoxLayout>
#include <algorithm>
#include <cmath>
#include <thread>

namespace badger::app
{

WindowPage::WindowPage(Session &session, const Theme &theme, QWidget *parent)
    : StationPage(parent), m_session(session), m_theme(theme)
{
    auto *column = new QVBoxLayout(this);
    column->setContentsMargins(0, 0, 0, theme.space(2));
    column->setSpacing(theme.space(1));
    column->addWidget(makeControls());
    const auto scrolled = [](QWidget *content) {
        auto *area = new QScrollArea;
        area->setWidgetResizable(true);
        area->setFrameShape(QFrame::NoFrame);
        area->setHorizontalScrollBarPolicy(Qt::ScrollBarAlwaysOff);
        area->setWidget(content);
        return area;
    };
    m_view = new WindowView(theme);
    m_scroll = scrolled(m_view);
    column->addWidget(m_scroll, 1);
    m_grid = new GridPanel(theme);
    m_grid->hide();
    column->addWidget(m_grid, 1);
    connect(m_grid, &GridPanel::changed, this, [this] {
        if (m_window && m_two->isChecked())
            showWords();
    });
    connect(m_grid, &GridPanel::taken, this, &WindowPage::takePair);
    // What can be done with the picked row stands under all of them.
    auto *ofRow = new QHBoxLayout;
    ofRow->setSpacing(theme.space(3));
    for (auto *link : {m_drive, m_change, m_remove})
        ofRow->addWidget(link);
    ofRow->addStretch(1);
    column->addLayout(ofRow);
    // What limits it and what was not simulated stands outside of what is scrolled.
    m_limits = new QLabel;
    m_limits->setObjectName("windowLimits");
    m_limits->setProperty("small", true);
    m_limits->setWordWrap(true);
    m_limits->setAlignment(Qt::AlignLeft | Qt::AlignTop);
    m_words = scrolled(m_limits);
    column->addWidget(m_words);
    connect(m_view, &WindowView::rowPicked, this, &WindowPage::showWords);
    connect(m_view, &WindowView::rowSwitched, this, &WindowPage::switchRow);
    connect(m_view, &WindowView::rowOpened, this, &WindowPage::openRow);
    connect(m_view, &WindowView::valueMoved, this, &WindowPage::moveValue);
    m_worker.setMaxThreadCount(1);
}

WindowPage::~WindowPage()
{
    stop();
    m_worker.waitForDone();
}

QWidget *WindowPage::makeControls()
{
    auto *holder = new QWidget;
    m_controls = new QBoxLayout(QBoxLayout::LeftToRight, holder);
    m_controls->setContentsMargins(0, 0, 0, 0);
    m_controls->setSpacing(m_theme.space(3));
    auto *row = new QHBoxLayout;
    row->setSpacing(m_theme.space(2));
    auto *label = new QLabel(tr("&Value"));
    label->setProperty("small", true);
    m_values = new QComboBox;
    m_values->setObjectName("windowValue");
    label->setBuddy(m_values);
    row->addWidget(label);
    row->addWidget(m_values);
    connect(m_values, &QComboBox::activated, this, [this] {
        m_value = m_values->currentText();
        refresh();
    });
    m_drive = makeLink("driveWorst", tr("Drive its worst run"), tr("Of the picked row (Return)"));
    connect(m_drive, &QPushButton::clicked, this, [this] { openRow(m_view->picked()); });
    m_change = makeLink("windowChange", tr("Change it ..."),
                        tr("What the picked row varies, and from where to where"));
    connect(m_change, &QPushButton::clicked, this, [this] { openRowDialog(true); });
    m_remove = makeLink("windowRemove", tr("Take it out"), tr("The picked row; it can be undone"));
    connect(m_remove, &QPushButton::clicked, this, &WindowPage::removeRow);
    m_add = makeLink("windowAdd", tr("Add a condition"),
                     tr("Another floor, or a range of the car's own"));
    connect(m_add, &QPushButton::clicked, this, [this] { openRowDialog(false); });
    m_compare = makeLink("windowSchools", tr("Other schools"),
                         tr("Brake or coast, one reading or a median, what no echo counts as: on "
                            "the same runs as the program as it is"));
    m_compare->setCheckable(true);
    connect(m_compare, &QPushButton::toggled, this, [this](bool on) {
        if (on && m_schools.empty())
            compare();
        if (m_window)
            showWords();
    });
    m_two = makeLink("windowTwo", tr("Two numbers"),
                     tr("A rough map of this value together with another"));
    m_two->setCheckable(true);
    connect(m_two, &QPushButton::toggled, this, [this](bool) {
        m_compare->setChecked(false);
        if (m_window)
            showWords();
    });
    m_keep =
        makeLink("windowKeep", tr("Keep it"),
                 tr("With the car, in the workshop's file: Rule and the command line show it"));
    connect(m_keep, &QPushButton::clicked, this, [this] {
        if (const auto *kept = m_session.keptWindow(m_searchedFor))
            m_session.keepWithCar(*kept);
    });
    m_save = makeLink("windowSave", tr("Save ..."),
                      tr("As one page, or every place of every row as CSV"));
    connect(m_save, &QPushButton::clicked, this, &WindowPage::askSave);
    auto *links = new QHBoxLayout;
    links->setSpacing(m_theme.space(2));
    for (auto *link : {m_add, m_two, m_compare, m_keep, m_save})
        links->addWidget(link);
    links->addStretch(1);
    m_count = new QLabel;
    m_count->setObjectName("windowCount");
    m_count->setProperty("small", true);
    row->addWidget(m_count);
    row->addStretch(1);
    m_controls->addLayout(row);
    m_controls->addLayout(links, 1);
    return holder;
}

QPushButton *WindowPage::makeLink(const char *name, const QString &text, const QString &tip)
{
    auto *link = new QPushButton(text);
    link->setObjectName(name);
    link->setProperty("link", true);
    link->setToolTip(tip);
    return link;
}

void WindowPage::askSave()
{
    const auto path = QFileDialog::getSaveFileName(
        this, tr("Save or print the window"),
        tr("%1 %2").arg(m_session.carName(), str(m_window->handle.value)),
        tr("One page (*.pdf);;Every place (*.csv)"));
    if (!path.isEmpty())
        save(path);
}

void WindowPage::save(const QString &path)
{
    Result<void> saved;
    if (QFileInfo(path).suffix().toLower() == "csv") {
        const auto written = io::saveFile(path.toStdString(), window::csvOf(*m_window));
        if (!written)
            saved = tl::unexpected(written.error());
    } else {
        const auto *v = m_session.program()->value(m_searchedFor);
        saved = saveWindowPdf(path, m_window, v ? v->si : std::nullopt);
    }
    emit m_session.said(saved ? tr("Written: %1").arg(QFileInfo(path).fileName())
                              : str(saved.error().text()),
                        !saved);
}

/// What was shown of a window that is not any more.
void WindowPage::forgetSchools()
{
    for (auto *link : {m_drive, m_save, m_compare, m_two, m_change, m_remove, m_keep})
        link->hide();
    m_grid->show(nullptr, nullptr);
    m_schools.clear();
    m_compare->setChecked(false);
}

void WindowPage::stop()
{
    ++*m_request; // what runs is not wanted any more
    m_taken = *m_request;
    m_worker.clear();
}

/// On a small screen the rows are scrolled, and the words get no more than a quarter.
void WindowPage::arrange()
{
    // Where all stand in one line there is no room for them on a narrow page.
    int needed = m_values->sizeHint().width() + m_count->sizeHint().width();
    for (const auto *link : {m_add, m_two, m_compare, m_keep, m_save})
        needed += link->sizeHint().width() + m_theme.space(2);
    constexpr int labels = 80;
    m_controls->setDirection(needed + labels < width() ? QBoxLayout::LeftToRight
                                                       : QBoxLayout::TopToBottom);
    const int words = m_limits->text().isEmpty() ? 0 : m_limits->heightForWidth(width() - 12);
    // A map on a short page leaves them no room.
    const bool isTight = m_two->isChecked() && height() < 3 * m_grid->minimumSizeHint().height();
    m_words->setFixedHeight(isTight ? 0 : std::min(words, height() / 4));
    m_view->putAllFirst(height() - m_words->height() - m_values->height() -
                            m_drive->sizeHint().height() - 4 * m_theme.space(1) <
                        m_view->minimumSizeHint().height());
}

std::optional<Heading> WindowPage::heading() const
{
    return m_heading;
}

void WindowPage::resizeEvent(QResizeEvent *event)
{
    StationPage::resizeEvent(event);
    arrange();
}

void WindowPage::hideEvent(QHideEvent *event)
{
    StationPage::hideEvent(event);
    if (m_window && !m_window->done) {
        stop();
        m_searchedOn = {};
    }
}

/// The same course, and the same program but for the value that is dragged.
bool WindowPage::isCurrent() const
{
    return m_searchedOn.car &&
           m_session.grounds().car->conditions == m_searchedOn.car->conditions &&
           window::sameGround(m_session.grounds(), m_searchedOn, m_searchedFor);
}

void WindowPage::showNothing(const QString &words)
{
    stop();
    m_window = nullptr;
    m_searchedOn = {};
    m_view->clear();
    m_heading = {words, {}};
    m_limits->clear();
    m_count->clear();
    arrange();
    forgetSchools();
    emit sumChanged();
}

void WindowPage::refresh()
{
    const auto *car = m_session.car();
    const auto *program = m_session.program();
    m_values->setEnabled(program != nullptr);
    if (car == nullptr || program == nullptr) {
        m_values->clear();
        return showNothing(
            car ? tr("%1 runs no program yet: Rule offers what to begin with.").arg(str(car->name))
                : tr("No car is selected."));
    }
    QStringList names;
    for (const auto &name : window::draggable(*program))
        names << str(name);
    if (!names.contains(m_value))
        m_value.clear();
    const auto value = m_value.isEmpty() ? str(window::firstValue(*program)) : m_value;
    m_values->clear();
    m_values->addItems(names);
    m_values->setCurrentText(value);
    if (!m_session.grounds().floor)
        return showNothing(tr("The workshop has no floor yet: Drive makes one."));
    if (value.isEmpty())
        return showNothing(tr("This program has no number that could be dragged."));
    if (isCurrent() && m_searchedFor == value.toStdString()) {
        if (m_window) {
            const auto *v = program->value(m_searchedFor);
            m_view->show(m_window, v ? v->si : std::nullopt);
            showWords();
        }
        return;
    }
    m_searchedFor = value.toStdString();
    search();
}

void WindowPage::search()
{
    stop();
    const auto on = m_session.grounds();
    if (m_window && m_window->done) {
        m_before = m_window;
        m_beforeOn = m_searchedOn;
    }
    const auto before =
        m_before && window::sameGround(on, m_beforeOn, m_before->handle.value) ? m_before : nullptr;
    m_searchedOn = on;
    m_window = nullptr;
    m_view->clear();
    m_heading = {tr("Looking for the values of '%1' that hold ...").arg(str(m_searchedFor)), {}};
    m_limits->clear();
    forgetSchools();
    emit sumChanged();
    auto q = window::questionOf(on, m_session.catalogue(), m_searchedFor);
    q.threads = int(std::max(1U, std::thread::hardware_concurrency()));
    const auto request = ++*m_request;
    m_worker.start([this, request, q = std::move(q), newest = m_request, before]() mutable {
        QElapsedTimer since;
        const auto send = [&](std::shared_ptr<const window::Window> w) {
            QMetaObject::invokeMethod(
                this, [this, request, w] { take(request, w); }, Qt::QueuedConnection);
        };
        const auto found = window::search(
            std::move(q),
            [&](const window::Window &w) {
                constexpr qint64 between_ms = 60;
                if (*newest != request)
                    return false;
                if (!since.isValid() || since.elapsed() >= between_ms) {
                    send(std::make_shared<const window::Window>(w));
                    since.restart();
                }
                return true;
            },
            before.get());
        if (*newest != request)
            return;
        if (found)
            return send(std::make_shared<const window::Window>(std::move(*found)));
        QMetaObject::invokeMethod(
            this,
            [this, request, error = found.error()] {
                if (request != *m_request)
                    return;
                const auto kept = m_searchedOn;
                showNothing(tr("Not to be driven yet. %1").arg(str(error.text())));
                m_searchedOn = kept; // it would say the same again
            },
            Qt::QueuedConnection);
    });
}

void WindowPage::compare()
{
    const auto request = m_request->load();
    m_schools = {tr("Other schools are being driven on the same runs ...")};
    m_worker.start([this, request, w = m_window, newest = m_request] {
        constexpr int runsEach = 100;
        QStringList lines;
        for (const auto &c :
             window::compareSchools(*w, runsEach, [&] { return *newest == request; }))
            lines << str(capitalised(window::wordsOf(c)));
        if (lines.isEmpty())
            lines << tr("This program has no other school to compare.");
        QMetaObject::invokeMethod(
            this,
            [this, request, lines] {
                if (request != *m_request)
                    return;
                m_schools = lines;
                showWords();
            },
            Qt::QueuedConnection);
    });
}

void WindowPage::take(std::uint64_t request, std::shared_ptr<const window::Window> found)
{
    if (request != *m_request)
        return;
    if (found->done)
        m_taken = request;
    auto w = *found;
    for (auto &row : w.rows)
        row.row.off = m_off.count(str(row.row.label).toStdString()) != 0;
    window::combine(w);
    m_window = std::make_shared<const window::Window>(std::move(w));
    if (m_window->done)
        m_session.keepWindow(m_window, m_searchedOn);
    const auto *program = m_session.program();
    const auto *v = program ? program->value(m_searchedFor) : nullptr;
    m_view->show(m_window, v ? v->si : std::nullopt);
    if (m_view->picked() < 0 && m_window->done && m_window->lowRow)
        m_view->pick(int(*m_window->lowRow));
    showWords();
}

std::shared_ptr<const window::Window> WindowPage::finished()
{
    refresh();
    while (m_taken != *m_request) {
        m_worker.waitForDone();
        QCoreApplication::sendPostedEvents(this, QEvent::MetaCall);
    }
    return m_window;
}

void WindowPage::showWords()
{
    const auto &w = *m_window;
    m_heading = {str(window::headline(w)), w.done ? str(window::claimOf(w)) : QString()};
    m_count->setText(tr("%1 runs").arg(QLocale().toString(w.runs)));
    QStringList lines;
    if (m_two->isChecked() && w.done) {
        m_grid->show(m_window, m_session.program());
        m_limits->setText(m_grid->lines().join("\n"));
        showAround();
        return;
    }
    if (m_compare->isChecked() && w.done) {
        m_limits->setText(m_schools.join("\n"));
        showAround();
        return;
    }
    if (const int row = m_view->picked(); w.done && row >= 0) {
        const auto &of = w.rows[size_t(row)];
        auto words = str(of.row.label) + ": " + str(of.row.reason);
        if (of.refused)
            words += " " + str(of.refused->text()) + ".";
        const auto place = [&](size_t at) { return str(window::placeOf(w, w.si(at))); };
        if (of.below)
            words += " " + (of.low ? tr("Below %1 %2.").arg(place(*of.low), str(of.below->what))
                                   : tr("At %1 %2.").arg(place(of.below->at), str(of.below->what)));
        if (of.above && of.high)
            words += " " + tr("Above %1 %2.").arg(place(*of.high), str(of.above->what));
        if (const auto none = window::wordsWithout(w, of); !none.empty())
            words += " " + str(capitalised(none)) + ".";
        for (const auto &say : window::helps(w, of))
            words += " " + str(say);
        lines << words;
    }
    if (w.done) {
        if (const auto advice = window::advice(w); !advice.empty())
            lines << str(advice) + " " +
                         tr("A simulated pass is no licence: a hand at the switch.");
        if (!w.unmeasured.empty())
            lines << tr("Not measured on this car, and drawn over what its parts allow: %1.")
                         .arg(str(joined(w.unmeasured, ", ")));
        for (const auto &say : window::narrowing(w))
            lines << str(say);
        lines << tr("Not simulated: %1.").arg(str(joined(window::notSimulated(w), "; ")));
    }
    m_limits->setText(lines.join("\n"));
    showAround();
}

void WindowPage::showAround()
{
    const auto &w = *m_window;
    arrange();
    const int picked = m_view->picked();
    const auto *row = picked >= 0 ? &w.rows[size_t(picked)].row : nullptr;
    const bool two = m_two->isChecked() && w.done;
    m_scroll->setVisible(!two);
    m_grid->setVisible(two);
    m_save->setVisible(w.done);
    m_two->setVisible(w.done);
    m_compare->setVisible(w.done && !two);
    m_drive->setVisible(!two && row && w.done && !w.rows[size_t(picked)].refused);
    m_change->setVisible(!two && row && row->kind != "here");
    m_remove->setVisible(!two && ownCondition().has_value());
    const auto &kept = m_session.car()->windows;
    m_keep->setVisible(w.done && w.low &&
                       std::none_of(kept.begin(), kept.end(), [&](const auto &f) {
                           return f.value == w.handle.value && f.low == w.si(*w.low) &&
                                  f.runs == w.runs && f.floor == w.asked.course.floor->name;
                       }));
    emit sumChanged();
}

void WindowPage::switchRow(int row)
{
    auto w = *m_window;
    auto &of = w.rows[size_t(row)].row;
    of.off = !of.off;
    const auto label = str(of.label).toStdString();
    if (of.off)
        m_off.insert(label);
    else
        m_off.erase(label);
    window::combine(w);
    m_window = std::make_shared<const window::Window>(std::move(w));
    if (m_window->done)
        m_session.keepWindow(m_window, m_searchedOn); // Rule shows what is shown here
    const auto *v = m_session.program() ? m_session.program()->value(m_searchedFor) : nullptr;
    m_view->show(m_window, v ? v->si : std::nullopt);
    showWords();
}

void WindowPage::openRow(int row)
{
    if (!m_window || row < 0 || m_window->rows[size_t(row)].refused)
        return;
    const auto &answer = m_window->rows[size_t(row)];
    const size_t place = answer.below ? answer.below->at : answer.low.value_or(0);
    const auto run = window::replay(*m_window, size_t(row), place);
    if (!run)
        return;
    emit runWanted(
        *run, tr("%1 at %2: run %3 of the window's search.")
                  .arg(str(answer.row.label), str(window::placeOf(*m_window, m_window->si(place))))
                  .arg(answer.cells[place].worst));
}

/// Both numbers in one step.
void WindowPage::takePair(const std::string &x, double xSi, const std::string &y, double ySi)
{
    m_session.editProgram(tr("%1 and %2 together").arg(str(x), str(y)), [&](rules::Program &p) {
        for (auto &v : p.values)
            if (v.name == x || v.name == y) {
                v.si = v.name == x ? xSi : ySi;
                v.suggested = false;
            }
    });
}

void WindowPage::moveValue(double si, int drag)
{
    const auto value = m_searchedFor;
    m_session.editProgram(
        tr("%1 to %2").arg(str(value), str(window::placeOf(*m_window, si))),
        [value, si](rules::Program &p) {
            for (auto &v : p.values)
                if (v.name == value) {
                    v.si = si;
                    v.suggested = false;
                }
        },
        drag);
}

std::optional<Sum> WindowPage::sum() const
{
    Sum sum;
    const int picked = m_view->picked();
    if (!m_window || !m_window->done || picked < 0)
        return sum;
    const auto &w = *m_window;
    const auto &row = w.rows[size_t(picked)];
    if (!row.low)
        return sum;
    const auto place = [&](size_t at) { return str(window::placeOf(w, w.si(at))); };
    const auto &cell = row.cells[*row.low];
    sum.result = place(*row.low);
    if (cell.runs > 0) {
        sum.parts.push_back({tr("%1 of %2").arg(cell.events).arg(cell.runs),
                             tr("runs fail there: %1").arg(str(row.row.label))});
        if (const auto bound =
                logbook::contactRateBound(cell.events, cell.runs, w.asked.confidence))
            sum.parts.push_back(
                {tr("≤ %1 %").arg(QLocale().toString(*bound * 100.0, 'f', 2)),
                 tr("at %1 %, exact").arg(QLocale().toString(w.asked.confidence * 100.0))});
    }
    if (row.below) {
        const auto &failed = row.cells[row.below->at];
        if (const auto shown = failed.runs > 0
                                   ? std::optional(logbook::wilson(failed.events, failed.runs))
                                   : std::nullopt;
            shown && *shown)
            sum.parts.push_back(
                {tr("%1: %2 of %3").arg(place(row.below->at)).arg(failed.events).arg(failed.runs),
                 tr("first that fails (%1 to %2 %)")
                     .arg(QLocale().toString((*shown)->low * 100.0, 'f', 2),
                          QLocale().toString((*shown)->high * 100.0, 'f', 1))});
        sum.unfold(row.below->why);
    }
    sum.aside = tr("the lowest that was shown to hold");
    return sum;
}

} // namespace badger::app
