// SPDX-License-Identifier: GPL-3.0-or-later
#include "app/rule/open_row.h"

#include "app/widgets/empty_layout.h"
#include "app/widgets/text.h"

#include <QGridLayout>
#include <QLabel>
#include <QPushButton>

namespace badger::app
{

namespace
{

QString nameOf(const judge::ProposedValue &p)
{
    switch (p.what) {
    case judge::ProposedValue::What::Limit:
        return QObject::tr("farthest reading of '%1'").arg(str(p.name));
    case judge::ProposedValue::What::Air:
        return QObject::tr("air of '%1'").arg(str(p.name));
    case judge::ProposedValue::What::Value:
        break;
    }
    return str(p.name);
}

} // namespace

OpenRow::OpenRow(Session &session, const Theme &theme, QWidget *parent)
    : QFrame(parent), m_session(session), m_theme(theme)
{
    setObjectName("nextCard");
    setAttribute(Qt::WA_StyledBackground);
    m_grid = new QGridLayout(this);
    m_grid->setContentsMargins(theme.space(3), theme.space(1), theme.space(2), theme.space(1));
    m_grid->setHorizontalSpacing(theme.space(3));
    m_grid->setVerticalSpacing(0);
    m_grid->setColumnStretch(2, 1);
    setVisible(false);
}

void OpenRow::take(const std::vector<judge::ProposedValue> &some, const QString &text)
{
    m_session.editProgram(text,
                          [&](rules::Program &p) { p = judge::withProposed(std::move(p), some); });
}

void OpenRow::addLine(int row, const judge::ProposedValue &proposed)
{
    const auto name = nameOf(proposed);
    auto *label = new QLabel(name);
    label->setTextFormat(Qt::PlainText);
    auto *button = new QPushButton(tr("take %1").arg(str(proposed.how)));
    button->setObjectName("propose:" + name);
    button->setProperty("link", true);
    button->setCursor(Qt::PointingHandCursor);
    connect(button, &QPushButton::clicked, this, [this, proposed, name] {
        take({proposed}, tr("Take what is proposed for %1").arg(name));
    });
    auto *why = new QLabel(str(proposed.why));
    why->setTextFormat(Qt::PlainText);
    why->setProperty("small", true);
    why->setWordWrap(true);
    m_grid->addWidget(label, row, 0);
    m_grid->addWidget(button, row, 1, Qt::AlignLeft);
    m_grid->addWidget(why, row, 2);
}

void OpenRow::refresh()
{
    const auto *car = m_session.car();
    const auto *program = m_session.program();
    std::vector<judge::ProposedValue> all;
    if (car != nullptr && program != nullptr && !rules::unset(*program).empty())
        all = judge::proposedValues({*car, m_session.catalogue()}, *program);
    std::vector<QString> lines;
    for (const auto &p : all)
        lines.push_back(nameOf(p) + '\n' + str(p.how) + '\n' + str(p.why));
    setVisible(!all.empty());
    if (lines == m_shown)
        return;
    m_shown = std::move(lines);
    emptyLayout(*m_grid);
    if (all.empty())
        return;
    auto *head = new QLabel(tr("Open; proposed for this car, not measured:"));
    head->setProperty("quiet", true);
    auto *every = new QPushButton(tr("take all %1").arg(all.size()));
    every->setObjectName("proposeAll");
    every->setProperty("link", true);
    every->setCursor(Qt::PointingHandCursor);
    connect(every, &QPushButton::clicked, this,
            [this, all] { take(all, tr("Take all that is proposed")); });
    m_grid->addWidget(head, 0, 0, 1, 3);
    m_grid->addWidget(every, 0, 2, Qt::AlignRight);
    int row = 0;
    for (const auto &p : all)
        addLine(++row, p);
}

} // namespace badger::app
