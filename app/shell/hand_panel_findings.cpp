// SPDX-License-Identifier: GPL-3.0-or-later
// What is wrong, what follows from it and what mends it; and what was looked at and is fine.
#include "app/shell/hand_panel.h"
#include "app/shell/mark_label.h"
#include "app/widgets/empty_layout.h"
#include "app/widgets/marks.h"
#include "app/widgets/plain_text.h"
#include "app/widgets/text.h"
#include "core/edit/fixed_car.h"

#include <QLabel>
#include <QPainter>
#include <QPushButton>
#include <QVBoxLayout>

namespace badger::app
{

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
    if (!f.places.empty()) {
        auto *go = new QPushButton(buttonText(tr("Show %1").arg(str(f.where))));
        go->setObjectName("finding:" + str(f.code));
        go->setProperty("link", true);
        go->setCursor(Qt::PointingHandCursor);
        const auto target = str(f.target());
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

} // namespace badger::app
