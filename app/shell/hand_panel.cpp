// SPDX-License-Identifier: GPL-3.0-or-later
#include "app/shell/hand_panel.h"

#include "app/shell/mark_label.h"
#include "app/widgets/marks.h"
#include "app/widgets/plain_text.h"
#include "app/widgets/steady.h"
#include "app/widgets/text.h"

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
    // A text that is taller or flatter than what it replaces makes the card anew; of one length, as
    // in a drag, they are not measured.
    const auto fits = [](QLabel &label, const QString &text) {
        const bool alike = text.size() == label.text().size();
        label.setText(text);
        return alike || label.isHidden() || label.heightForWidth(label.width()) == label.height();
    };
    const bool title = fits(*m_nextTitle, str(next.title));
    return fits(*m_nextText, str(next.text)) && title;
}

HandPanel::Content HandPanel::content(const judge::Judgement &j) const
{
    using judge::Station;
    const auto station = m_session.station();
    Content c;
    c.next = j.next;
    c.nextElsewhere = j.next.station != station;
    c.findings = j.of(station).findings;
    if (station == Station::Kit)
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
