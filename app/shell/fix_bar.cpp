// SPDX-License-Identifier: GPL-3.0-or-later
#include "app/shell/fix_bar.h"

#include "app/shell/session.h"
#include "app/theme/theme.h"
#include "app/widgets/text.h"
#include "core/edit/fixed_car.h"

#include <QHBoxLayout>
#include <QLabel>
#include <QPushButton>

namespace badger::app
{

FixBar::FixBar(Session &session, const Theme &theme, judge::Station where, QWidget *parent)
    : QFrame(parent), m_session(session), m_where(where), m_words(new QLabel)
{
    const QString prefix = where == judge::Station::Kit ? "kitFix" : "fix";
    setObjectName("nextCard");
    setAttribute(Qt::WA_StyledBackground);
    auto *row = new QHBoxLayout(this);
    row->setContentsMargins(theme.space(3), theme.space(1), theme.space(2), theme.space(1));
    m_words->setObjectName(prefix + "Words");
    m_words->setTextFormat(Qt::PlainText);
    m_words->setWordWrap(true);
    row->addWidget(m_words, 1);
    auto *take = new QPushButton(tr("Change the drawing"));
    take->setObjectName(prefix + "Take");
    connect(take, &QPushButton::clicked, this, [this] { m_session.takeFix(); });
    auto *leave = new QPushButton(tr("Leave it"));
    leave->setObjectName(prefix + "Leave");
    connect(leave, &QPushButton::clicked, this, [this] { m_session.tryFix(std::nullopt); });
    row->addWidget(take);
    row->addWidget(leave);
    connect(&m_session, &Session::fixTried, this, &FixBar::refresh);
    connect(&m_session, &Session::refreshed, this, &FixBar::refresh);
    refresh();
}

bool FixBar::shows() const
{
    const auto &fix = m_session.tried();
    return fix && m_session.car() && m_session.shownAt(*fix) == m_where;
}

void FixBar::refresh()
{
    setVisible(shows());
    if (!shows())
        return;
    auto words = str(edit::words({*m_session.car(), m_session.catalogue()}, *m_session.tried()));
    if (!words.endsWith('.'))
        words += '.';
    m_words->setText(m_where == judge::Station::Kit
                         ? tr("Tried on a copy: %1").arg(words)
                         : tr("Tried on a copy, power off first: %1").arg(words));
}

} // namespace badger::app
