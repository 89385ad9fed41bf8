// SPDX-License-Identifier: GPL-3.0-or-later
#include "app/shell/hand_panel.h"

#include "app/widgets/marks.h"
#include "app/widgets/plain_text.h"
#include "app/widgets/steady.h"
#include "app/widgets/text.h"
#include "core/edit/fixed_car.h"
#include "core/units/quantity.h"

#include "app/widgets/empty_layout.h"

#include <QLabel>
#include <QPainter>
#include <QPushButton>
#include <QScrollArea>
#include <QScrollBar>
#include <QVBoxLayout>
#include <algorithm>
#include <utility>

namespace badger::app
{

namespace
{

/// A mark beside text.
class MarkLabel final : public QWidget
{
public:
    MarkLabel(std::function<void(QPainter &, QRectF)> paint, qreal side)
        : m_paint(std::move(paint)), m_side(side)
    {
        setFixedSize(qRound(side) + 2, qRound(side) + 6);
    }

protected:
    void paintEvent(QPaintEvent *) override
    {
        QPainter p(this);
        m_paint(p, QRectF(1, 4, m_side, m_side));
    }

private:
    std::function<void(QPainter &, QRectF)> m_paint;
    qreal m_side;
};

QLabel *wrapped(const QString &text, const char *property = nullptr)
{
    auto *label = new QLabel(text);
    label->setTextFormat(Qt::PlainText);
    label->setWordWrap(true);
    if (property)
        label->setProperty(property, true);
    return label;
}

} // namespace

HandPanel::HandPanel(Session &session, const Theme &theme, QWidget *parent)
    : QWidget(parent), m_session(session), m_theme(theme)
{
    setObjectName("handPanel");
    setAttribute(Qt::WA_StyledBackground);
    auto *outer = new QVBoxLayout(this);
    outer->setContentsMargins(1, 0, 0, 0);
    m_scroll = new QScrollArea;
    auto *scroll = m_scroll;
    scroll->setWidgetResizable(true);
    scroll->setFrameShape(QFrame::NoFrame);
    scroll->setHorizontalScrollBarPolicy(Qt::ScrollBarAlwaysOff);
    m_content = new QWidget;
    m_layout = new QVBoxLayout(m_content);
    m_layout->setContentsMargins(theme.space(5), theme.space(4), theme.space(5), theme.space(3));
    m_layout->setSpacing(theme.space(2));
    scroll->setWidget(m_content);
    outer->addWidget(scroll);
    connect(&session, &Session::fixesFound, this, &HandPanel::refresh);
    for (auto *part : {&m_nothing, &m_next, &m_findings, &m_elsewhere, &m_ways, &m_fine})
        *part = section();
    m_layout->addStretch(1);
}

QVBoxLayout *HandPanel::section()
{
    auto *holder = new QWidget;
    auto *layout = new QVBoxLayout(holder);
    layout->setContentsMargins(0, 0, 0, 0);
    layout->setSpacing(m_theme.space(2));
    m_layout->addWidget(holder);
    return layout;
}

void HandPanel::addHeading(QVBoxLayout &to, const QString &text, const QString &aside)
{
    auto *row = new QWidget;
    auto *layout = new QHBoxLayout(row);
    layout->setContentsMargins(0, m_theme.space(2), 0, 0);
    layout->addWidget(wrapped(text, "heading"), 1);
    if (!aside.isEmpty()) {
        auto *label = new QLabel(aside);
        label->setProperty("small", true);
        layout->addWidget(label);
    }
    to.addWidget(row);
}

void HandPanel::fillNext()
{
    const auto &next = m_said->next;
    emptyLayout(*m_next);
    addHeading(*m_next, tr("Next at the bench"));
    auto *card = new QWidget;
    card->setObjectName("nextCard");
    card->setAttribute(Qt::WA_StyledBackground);
    auto *layout = new QVBoxLayout(card);
    layout->setContentsMargins(m_theme.space(3), m_theme.space(2), m_theme.space(2),
                               m_theme.space(2));
    layout->setSpacing(m_theme.space(1));
    m_nextTitle = wrapped(str(next.title), "heading");
    m_nextText = wrapped(str(next.text), "quiet");
    layout->addWidget(new Steady(m_nextTitle));
    layout->addWidget(new Steady(m_nextText));
    m_nextText->setHidden(next.text.empty());
    if (!next.caution.empty()) {
        auto *row = new QHBoxLayout;
        row->setSpacing(m_theme.space(2));
        auto *mark = new MarkLabel(
            [this](QPainter &p, QRectF box) {
                paintMark(p, box, judge::GateState::Warning, m_theme);
            },
            13 * m_theme.scale());
        row->addWidget(mark, 0, Qt::AlignTop);
        row->addWidget(wrapped(str(next.caution)), 1);
        layout->addLayout(row);
    }
    if (m_said->nextElsewhere) {
        auto *go = new QPushButton(tr("Go to %1").arg(judge::name(next.station)));
        go->setProperty("link", true);
        go->setCursor(Qt::PointingHandCursor);
        const auto station = next.station;
        connect(go, &QPushButton::clicked, this,
                [this, station] { m_session.selectStation(station); });
        layout->addWidget(go, 0, Qt::AlignLeft);
    }
    m_next->addWidget(card);
}

void HandPanel::fillFindings()
{
    const auto &findings = m_said->findings;
    emptyLayout(*m_findings);
    const auto count = [&](Severity s) {
        return std::count_if(findings.begin(), findings.end(),
                             [s](const Finding &f) { return f.severity == s; });
    };
    QStringList asides;
    const auto say = [&](Severity severity, const QString &one, const QString &many) {
        if (const auto n = count(severity))
            asides << QStringLiteral("%1 %2").arg(n).arg(n == 1 ? one : many);
    };
    say(Severity::Error, tr("error"), tr("errors"));
    say(Severity::Warning, tr("warning"), tr("warnings"));
    // Three counts do not fit beside the heading; advice is the least of them.
    if (asides.size() < 2)
        say(Severity::Advice, tr("advice"), tr("advice"));
    addHeading(*m_findings, tr("What to know"), asides.join(", "));
    if (findings.empty())
        m_findings->addWidget(wrapped(
            m_said->isChecked ? tr("Nothing to report.")
                              : tr("Nothing has been checked yet: %1").arg(str(m_said->unchecked)),
            "quiet"));
    for (const auto &f : findings) {
        auto *row = new QWidget;
        auto *layout = new QHBoxLayout(row);
        layout->setContentsMargins(0, 0, 0, m_theme.space(1));
        layout->setSpacing(m_theme.space(2));
        const auto severity = f.severity;
        layout->addWidget(
            new MarkLabel(
                [this, severity](QPainter &p, QRectF box) { paintMark(p, box, severity, m_theme); },
                13 * m_theme.scale()),
            0, Qt::AlignTop);
        auto *texts = new QVBoxLayout;
        texts->setSpacing(2);
        texts->addWidget(wrapped(str(f.what), "heading"));
        addLines(*texts, f.then);
        texts->addWidget(wrapped(str(f.why), "small"));
        texts->addWidget(wrapped(
            f.others.empty() ? str(f.mend) : tr("Ways out, each tried on a copy:"), "small"));
        addButtons(*texts, f);
        layout->addLayout(texts, 1);
        m_findings->addWidget(row);
    }
}

/// What follows from a finding: a few lines, and how many more.
void HandPanel::addLines(QVBoxLayout &texts, const std::vector<Say> &lines)
{
    constexpr std::size_t most = 5;
    const auto shown = lines.size() > most ? most - 1 : lines.size();
    for (std::size_t i = 0; i < shown; ++i)
        texts.addWidget(wrapped(QStringLiteral("· ") + str(lines[i]), "small"));
    if (shown == lines.size())
        return;
    auto *more = wrapped(tr("· and %1 more").arg(lines.size() - shown), "small");
    more->setToolTip(str(joined({lines.begin() + std::ptrdiff_t(shown), lines.end()}, "\n")));
    texts.addWidget(more);
}

/// What a finding's row leads to: the car mended, and the place.
void HandPanel::addButtons(QVBoxLayout &texts, const Finding &f)
{
    const auto see = [&](const Fix &fix, const QString &text, const QString &name) {
        auto *button = new QPushButton(buttonText(text));
        button->setObjectName(name);
        button->setProperty("link", true);
        button->setCursor(Qt::PointingHandCursor);
        connect(button, &QPushButton::clicked, this, [this, fix] { m_session.tryFix(fix); });
        const int room = qRound(205 * m_theme.scale());
        if (button->fontMetrics().horizontalAdvance(button->text()) > room) {
            texts.addWidget(wrapped(QStringLiteral("· ") + text, "small"));
            button->setText(tr("See this one"));
        }
        texts.addWidget(button, 0, Qt::AlignLeft);
    };
    if (f.fix)
        see(*f.fix, tr("See it mended"), "fix:" + str(f.code));
    for (std::size_t i = 0; i < f.others.size(); ++i)
        if (const auto *car = m_session.car())
            see(f.others[i], str(edit::words({*car, m_session.catalogue()}, f.others[i])),
                QStringLiteral("way:%1:%2").arg(str(f.code)).arg(i));
    if (!f.target.empty()) {
        auto *go = new QPushButton(buttonText(tr("Show %1").arg(str(f.where))));
        go->setObjectName("finding:" + str(f.code));
        go->setProperty("link", true);
        go->setCursor(Qt::PointingHandCursor);
        const auto target = str(f.target);
        go->setToolTip(str(f.where + "\n" + f.code));
        // A long place is in the tooltip; half a place is no place.
        const int room = qRound(205 * m_theme.scale());
        if (go->fontMetrics().horizontalAdvance(go->text()) > room)
            go->setText(tr("Show it"));
        connect(go, &QPushButton::clicked, this, [this, target] { m_session.reveal(target); });
        texts.addWidget(go, 0, Qt::AlignLeft);
    }
}

void HandPanel::fillFine()
{
    const auto &fine = m_said->fine;
    emptyLayout(*m_fine);
    if (fine.empty())
        return;
    addHeading(*m_fine, tr("Checked and fine"), QString::number(fine.size()));
    auto *list = new QWidget;
    auto *lines = new QVBoxLayout(list);
    lines->setContentsMargins(0, 0, 0, 0);
    lines->setSpacing(0);
    m_fine->addWidget(list);
    for (const auto &text : fine) {
        auto *row = new QWidget;
        auto *layout = new QHBoxLayout(row);
        layout->setContentsMargins(0, 0, 0, 0);
        layout->setSpacing(m_theme.space(2));
        layout->addWidget(new MarkLabel(
                              [this](QPainter &p, QRectF box) {
                                  paintMark(p, box, judge::GateState::Passed, m_theme);
                              },
                              11 * m_theme.scale()),
                          0, Qt::AlignTop);
        layout->addWidget(wrapped(str(text), "quiet"), 1);
        lines->addWidget(row);
    }
}

void HandPanel::fillElsewhere()
{
    emptyLayout(*m_elsewhere);
    for (const auto &[station, errors] : m_said->elsewhere) {
        const QString name = judge::name(station);
        auto *go = new QPushButton(errors == 1 ? tr("and 1 error at %1").arg(name)
                                               : tr("and %1 errors at %2").arg(errors).arg(name));
        go->setProperty("link", true);
        connect(go, &QPushButton::clicked, this,
                [this, to = station] { m_session.selectStation(to); });
        m_elsewhere->addWidget(go, 0, Qt::AlignLeft);
    }
}

void HandPanel::fillWays()
{
    emptyLayout(*m_ways);
    if (m_said->ways.empty())
        return;
    addHeading(*m_ways, tr("Same car, other way"), tr("left at worst"));
    m_waysView = new OtherWays(m_said->ways, m_theme);
    m_ways->addWidget(m_waysView);
}

/// A drag changes a number in a sentence: the card stays and says it.
bool HandPanel::updateNext(const Content &before)
{
    const auto &next = m_said->next;
    if (!m_nextTitle || !m_nextText || before.nextElsewhere != m_said->nextElsewhere ||
        before.next.caution != next.caution || before.next.station != next.station ||
        before.next.text.empty() != next.text.empty())
        return false;
    m_nextTitle->setText(str(next.title));
    m_nextText->setText(str(next.text));
    // One that is taller or flatter than what it replaces makes the card anew.
    const auto fits = [](const QLabel &label) {
        return label.isHidden() || label.heightForWidth(label.width()) == label.height();
    };
    return fits(*m_nextTitle) && fits(*m_nextText);
}

HandPanel::Content HandPanel::content(const judge::Judgement &j) const
{
    using judge::Station;
    const auto station = m_session.station();
    Content c;
    c.next = j.next;
    c.nextElsewhere = j.next.station != station;
    c.findings = j.of(station).findings;
    if (station == Station::Wire || station == Station::Kit)
        for (auto &f : c.findings)
            if (const auto *mended = m_session.withFix(f)) {
                if (c.next.title == f.what && c.next.text == f.mend)
                    c.next.text = mended->mend;
                f = *mended;
            }
    std::stable_sort(c.findings.begin(), c.findings.end(), [](const Finding &a, const Finding &b) {
        return static_cast<int>(a.severity) < static_cast<int>(b.severity);
    });
    c.fine = j.of(station).fine;
    c.isChecked = !c.findings.empty() || !c.fine.empty();
    if (!c.isChecked) // Floor and Log show what the program's checks say
        c.unchecked = j.gate(std::min(station, Station::Rule)).why;
    for (const auto other : {Station::Kit, Station::Wire, Station::Rule}) {
        if (&j.of(other) == &j.of(station))
            continue;
        const auto &elsewhere = j.of(other).findings;
        const auto errors = std::count_if(elsewhere.begin(), elsewhere.end(), [](const Finding &f) {
            return f.severity == Severity::Error;
        });
        if (errors > 0)
            c.elsewhere.emplace_back(other, static_cast<int>(errors));
    }
    if (&j.of(station) == &j.rule)
        c.ways = j.otherWays;
    return c;
}

void HandPanel::showNothing()
{
    for (auto *part : {m_nothing, m_next, m_findings, m_elsewhere, m_ways, m_fine})
        emptyLayout(*part);
    m_said.reset();
    addHeading(*m_nothing, tr("Next at the bench"));
    m_nothing->addWidget(
        wrapped(tr("Add a car: \"+ new car\" on the left, or Ctrl+Shift+N."), "quiet"));
    hideEmpty();
}

void HandPanel::refresh()
{
    const auto *j = m_session.current();
    if (j == nullptr)
        return showNothing();
    if (m_session.station() != m_shown) {
        m_shown = m_session.station();
        m_scroll->verticalScrollBar()->setValue(0);
    }
    emptyLayout(*m_nothing);
    if (m_session.station() == judge::Station::Wire || m_session.station() == judge::Station::Kit)
        m_session.wantFixes();
    const auto before = std::exchange(m_said, content(*j));
    const auto &c = *m_said;
    const bool sameNext =
        before && before->next == c.next && before->nextElsewhere == c.nextElsewhere;
    if (!sameNext && !(before && updateNext(*before)))
        fillNext();
    if (!before || before->findings != c.findings || before->isChecked != c.isChecked ||
        before->unchecked != c.unchecked)
        fillFindings();
    if (!before || before->elsewhere != c.elsewhere)
        fillElsewhere();
    if (before && m_waysView && before->ways.size() == c.ways.size() && !c.ways.empty())
        m_waysView->show(c.ways);
    else if (!before || !(before->ways == c.ways))
        fillWays();
    if (!before || before->fine != c.fine)
        fillFine();
    hideEmpty();
}

/// An empty section would leave its spacing behind. What came anew is shown in the frame in which
/// the old went, not in the next one.
void HandPanel::hideEmpty()
{
    for (auto *part : {m_nothing, m_next, m_findings, m_elsewhere, m_ways, m_fine}) {
        part->parentWidget()->setVisible(part->count() > 0);
        for (int i = 0; i < part->count(); ++i)
            if (auto *widget = part->itemAt(i)->widget())
                widget->show();
        part->activate();
    }
    m_layout->activate();
}

} // namespace badger::app
