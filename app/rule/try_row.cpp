// SPDX-License-Identifier: GPL-3.0-or-later
#include "app/rule/try_row.h"

#include "app/widgets/marks.h"
#include "app/widgets/text.h"
#include "core/regions/compare.h"

#include <QHBoxLayout>
#include <QHelpEvent>
#include <QLabel>
#include <QLineEdit>
#include <QMouseEvent>
#include <QPainter>
#include <QRegularExpression>
#include <QToolButton>
#include <QToolTip>
#include <algorithm>
#include <cmath>
#include <set>

namespace badger::app
{

TryRow::TryRow(const Theme &theme, QWidget *parent)
    : QWidget(parent), m_theme(theme), m_text(new QLineEdit), m_step(new QToolButton),
      m_play(new QToolButton)
{
    auto *label = new QLabel(tr("&Try it"));
    label->setProperty("heading", true);
    label->setBuddy(m_text);
    m_text->setObjectName("tryReadings");
    auto *row = new QHBoxLayout(this);
    row->setContentsMargins(0, 0, 0, qRound(74 * theme.scale()));
    row->addWidget(label);
    row->addWidget(m_text, 1);
    for (auto *button : {m_step, m_play})
        row->addWidget(button);
    m_step->setObjectName("tryStep");
    m_step->setIcon(icon("step-on", theme));
    m_step->setToolTip(tr("One state on"));
    m_step->setAccessibleName(m_step->toolTip());
    m_play->setObjectName("tryPlay");
    m_play->setIcon(icon("play", theme));
    m_play->setToolTip(tr("Play them one after another"));
    m_play->setAccessibleName(m_play->toolTip());
    connect(m_text, &QLineEdit::textChanged, this, &TryRow::reckon);
    connect(m_step, &QToolButton::clicked, this, &TryRow::step);
    connect(m_play, &QToolButton::clicked, this, [this] { play(!isPlaying()); });
    constexpr int readable_ms = 900;
    m_clock.setInterval(readable_ms);
    connect(&m_clock, &QTimer::timeout, this, &TryRow::step);
    setFixedHeight(qRound(110 * theme.scale()));
}

/// Readings around the limits of the program's first number; of yes-and-no sensors each alone.
QString TryRow::suggestion() const
{
    const auto columns = machine::columns(m_program, m_machine);
    if (columns.empty())
        return {};
    std::set<double, std::greater<>> cuts;
    for (const auto &a : m_machine.asks)
        if (a.test == rules::Test::Number)
            cuts.insert(a.constant);
    const auto wordFor = [&](size_t column, int entry) -> QString {
        const auto &r = m_program.readings[static_cast<size_t>(columns[column].sensor)];
        switch (r.source) {
        case rules::Source::Key: {
            static const char *keys[] = {"ahead", "back", "left", "right", "none"};
            return str(keys[entry % 5]);
        }
        case rules::Source::Digital:
        case rules::Source::Button:
            return entry >= 0 && entry - 1 == static_cast<int>(column) ? "1" : "0";
        default:
            return QString::number(40 + 10 * static_cast<int>(column % 7));
        }
    };
    const auto &first = m_program.readings[static_cast<size_t>(columns.front().sensor)];
    QStringList entries;
    const bool bits = first.source == rules::Source::Digital;
    QStringList numbers;
    for (const double c : cuts) {
        numbers << QString::number(std::floor(c) + 10) << QString::number(std::floor(c));
        if (numbers.size() >= 4)
            break;
    }
    if (first.source == rules::Source::Analogue)
        numbers = QStringList{"300", "530", "675", "1023"};
    else
        numbers << QStringLiteral("none");
    const int n = bits ? static_cast<int>(columns.size()) + 2 : static_cast<int>(numbers.size());
    for (int i = 0; i < n; ++i) {
        QStringList words;
        for (size_t k = 0; k < columns.size(); ++k)
            words << (k == 0 && !bits      ? numbers[i]
                      : bits && i == n - 1 ? QStringLiteral("1")
                                           : wordFor(k, i));
        entries << words.join(' ');
    }
    return entries.join(", ");
}

void TryRow::show(const rules::Program &program, const machine::CarFacts &facts)
{
    m_program = program;
    auto machine = machine::lower(program, facts);
    m_usable = machine.has_value();
    if (!machine) {
        m_problem.clear(); // the headline says what is missing
        m_entries.clear();
        m_text->setEnabled(false);
        return update();
    }
    m_machine = std::move(*machine);
    m_text->setEnabled(true);
    std::string names;
    QStringList words;
    for (const auto &c : machine::columns(program, m_machine)) {
        names += c.name + " ";
        words << str(c.name);
    }
    m_text->setToolTip(tr("%1; readings parted by commas").arg(words.join(' ')));
    m_text->setPlaceholderText(words.join(' '));
    if (names != m_columns) {
        m_columns = names;
        const QSignalBlocker quiet(m_text);
        m_text->setText(suggestion());
    }
    // A step lights a state, which shows the program again: it stands where it stood.
    const int entry = m_entry;
    const int at = m_at;
    reckon();
    if (entry >= 0 && entry < static_cast<int>(m_entries.size()) &&
        at < static_cast<int>(m_entries[static_cast<size_t>(entry)].modes.size())) {
        m_entry = entry;
        m_at = at;
    }
}

void TryRow::reckon()
{
    m_entries.clear();
    m_problem.clear();
    m_entry = m_at = -1;
    m_last.reset();
    if (!m_usable)
        return update();
    const auto columns = machine::columns(m_program, m_machine);
    const auto costs = regions::costsOf(m_program, m_machine, {});
    const double step_s =
        std::max(0.3, 1.3 * (costs.blind_s + 2.0 * costs.lookRound_s) + 2.0 * costs.longestPass_s);
    const auto given = typed(step_s);
    emit changed();
    if (given.empty())
        return update();
    if (columns.size() == 1 && given.back().heard.front().kind == machine::Heard::Kind::Number)
        m_last = given.back().heard.front().number;
    follow(given);
    update();
}

void TryRow::add(const QString &readings)
{
    auto all = m_text->text().split(',', Qt::SkipEmptyParts);
    while (all.size() >= mostEntries)
        all.removeFirst();
    all << readings;
    for (auto &one : all)
        one = one.trimmed();
    m_text->setText(all.join(", "));
}

void TryRow::put(const QString &sensor, const QString &reading, bool more)
{
    const auto columns = machine::columns(m_program, m_machine);
    auto all = m_text->text().split(',', Qt::SkipEmptyParts);
    auto words = (all.isEmpty() ? suggestion().section(',', 0, 0) : all.last())
                     .split(' ', Qt::SkipEmptyParts);
    const auto isIt = [&](const machine::Column &c) { return c.name == sensor.toStdString(); };
    // The nearest of several is moved with all of them.
    const bool made = std::none_of(columns.begin(), columns.end(), isIt);
    for (size_t i = 0; i < columns.size() && static_cast<int>(i) < words.size(); ++i)
        if (made || isIt(columns[i]))
            words[static_cast<int>(i)] = reading;
    if (more || all.isEmpty())
        return add(words.join(' '));
    all.last() = " " + words.join(' ');
    m_text->setText(all.join(',').trimmed());
}

void TryRow::goTo(int entry, int at)
{
    m_entry = entry;
    m_at = at;
    const auto mode = m_entries[static_cast<size_t>(entry)].modes[static_cast<size_t>(at)];
    update();
    emit picked(str(m_program.states[static_cast<size_t>(mode)].name));
}

void TryRow::step()
{
    if (m_entries.empty() || m_entries.back().modes.empty())
        return play(false);
    const auto modesOf = [&](int entry) {
        return static_cast<int>(m_entries[static_cast<size_t>(entry)].modes.size());
    };
    if (m_entry >= 0 && m_at + 1 < modesOf(m_entry))
        return goTo(m_entry, m_at + 1);
    if (m_entry + 1 < static_cast<int>(m_entries.size()))
        return goTo(m_entry + 1, 0);
    if (isPlaying())
        return play(false); // at the end
    goTo(0, 0);
}

void TryRow::play(bool on)
{
    m_play->setIcon(icon(on ? "pause" : "play", m_theme));
    if (!on)
        return m_clock.stop();
    m_entry = m_at = -1;
    m_clock.start();
    step();
}

QString TryRow::said() const
{
    QStringList all;
    for (const auto &e : m_entries)
        all << e.readings + ": " + e.states.join(" > ");
    return all.join("; ");
}

QString TryRow::why() const
{
    return m_entries.empty() ? QString() : m_entries.back().why.join("; ");
}

QRectF TryRow::area(size_t entry) const
{
    const qreal s = m_theme.scale();
    const qreal w = std::min<qreal>(190 * s, width() / static_cast<qreal>(m_entries.size()));
    return {w * static_cast<qreal>(entry), height() - 72 * s, w - 3 * s, 36 * s};
}

void TryRow::paintEvent(QPaintEvent *)
{
    QPainter p(this);
    const qreal s = m_theme.scale();
    if (!m_problem.isEmpty()) {
        p.setFont(m_theme.text(Type::Small));
        p.setPen(m_theme.color(Tone::Brick));
        p.drawText(QRectF(0, height() - 18 * s, width(), 18 * s), Qt::AlignLeft | Qt::AlignVCenter,
                   m_problem);
    }
    for (size_t i = 0; i < m_entries.size(); ++i) {
        const auto &e = m_entries[i];
        const auto box = area(i);
        p.fillRect(box, m_theme.color(e.act));
        if (static_cast<int>(i) == m_entry) {
            p.setPen(QPen(m_theme.color(Tone::Ochre), 2 * s));
            p.setBrush(Qt::NoBrush);
            p.drawRect(box.adjusted(1, 1, -1, -1));
        }
        p.setPen(m_theme.color(Tone::Ink));
        p.setFont(m_theme.text(Type::Small, !e.nothing));
        const auto words = e.nothing ? tr("goes on: %1").arg(e.states.join(QString()))
                                     : e.states.join(QStringLiteral(" → "));
        const auto room = box.adjusted(4 * s, 1 * s, -3 * s, -1 * s);
        // Where it is too much for its two lines, the beginning of each name has to do.
        const auto needs = p.fontMetrics().boundingRect(room.toRect(), Qt::TextWordWrap, words);
        auto shorter = e.states;
        for (auto &name : shorter)
            name = p.fontMetrics().elidedText(name, Qt::ElideRight, int(room.width() * 0.45));
        p.drawText(room, Qt::AlignLeft | Qt::AlignVCenter | Qt::TextWordWrap,
                   needs.height() <= room.height() ? words : shorter.join(QStringLiteral(" → ")));
        p.setFont(m_theme.text(Type::Small));
        p.setPen(m_theme.color(Tone::Ink2));
        if (!m_problem.isEmpty())
            continue;
        const auto line = [&](int n, const QString &text) {
            p.drawText(QRectF(box.left(), box.bottom() + (1 + 17 * n) * s, box.width(), 17 * s),
                       Qt::AlignLeft | Qt::AlignVCenter,
                       p.fontMetrics().elidedText(text, Qt::ElideRight, int(box.width())));
        };
        line(0, e.readings);
        if (!e.why.isEmpty())
            line(1, e.why.back());
    }
}

void TryRow::mousePressEvent(QMouseEvent *event)
{
    for (size_t i = 0; i < m_entries.size(); ++i)
        if (area(i).contains(event->position()) && m_entries[i].mode >= 0)
            emit picked(str(m_program.states[static_cast<size_t>(m_entries[i].mode)].name));
}

bool TryRow::event(QEvent *event)
{
    if (event->type() == QEvent::ToolTip) {
        const auto *help = static_cast<QHelpEvent *>(event);
        for (size_t i = 0; i < m_entries.size(); ++i)
            if (area(i).contains(help->pos()) && !m_entries[i].why.isEmpty())
                QToolTip::showText(help->globalPos(), m_entries[i].why.join('\n'), this);
        return true;
    }
    return QWidget::event(event);
}

} // namespace badger::app
