// SPDX-License-Identifier: GPL-3.0-or-later
#include "app/shell/message_bar.h"

#include "app/widgets/empty_layout.h"

#include <QHBoxLayout>
#include <QKeyEvent>
#include <QLabel>
#include <QPushButton>
#include <QStyle>
#include <algorithm>

namespace badger::app
{

MessageBar::MessageBar(const Theme &theme, QWidget *page) : QWidget(page), m_theme(theme)
{
    setObjectName("messageBar");
    setAttribute(Qt::WA_StyledBackground);
    auto *layout = new QHBoxLayout(this);
    layout->setContentsMargins(theme.space(5), theme.space(2), theme.space(3), theme.space(2));
    m_label = new QLabel;
    m_label->setTextFormat(Qt::PlainText);
    m_label->setWordWrap(true);
    m_label->setObjectName("message");
    layout->addWidget(m_label, 1);
    m_buttons = new QHBoxLayout;
    layout->addLayout(m_buttons);
    hide();
}

QString MessageBar::message() const
{
    return isHidden() ? QString() : m_label->text();
}

void MessageBar::say(const QString &message, Kind kind, Until until, std::vector<Choice> choices)
{
    m_until = until;
    m_label->setText(message);
    m_label->setProperty("error", kind == Kind::Error);
    m_label->style()->unpolish(m_label);
    m_label->style()->polish(m_label);
    m_choices = std::move(choices);
    emptyLayout(*m_buttons);
    for (const auto &choice : m_choices) {
        auto *button = new QPushButton(choice.text);
        connect(button, &QPushButton::clicked, this, [this, text = choice.text] { choose(text); });
        m_buttons->addWidget(button);
    }
    auto *close = new QPushButton(m_choices.empty() ? tr("Dismiss") : tr("Stay here"));
    close->setProperty("link", true);
    connect(close, &QPushButton::clicked, this, &MessageBar::close);
    m_buttons->addWidget(close);
    setAccessibleName(message);
    show();
    place(m_left_px);
}

void MessageBar::place(int left_px)
{
    m_left_px = left_px;
    if (isHidden() || parentWidget() == nullptr)
        return;
    layout()->activate();
    const auto page = parentWidget()->size();
    const int width = page.width() - left_px;
    // A text of a whole page scrolls nowhere: at most half of the page is given away.
    const int height = std::min(layout()->hasHeightForWidth() ? layout()->heightForWidth(width)
                                                              : sizeHint().height(),
                                page.height() / 2);
    setGeometry(left_px, page.height() - height, width, height);
    raise();
}

void MessageBar::edited()
{
    if (m_until == Until::NextEdit)
        close();
}

void MessageBar::settled()
{
    if (m_until != Until::Dismissed)
        close();
}

void MessageBar::close()
{
    if (isHidden())
        return;
    m_choices.clear();
    hide();
    emit closed();
}

bool MessageBar::choose(const QString &text)
{
    for (const auto &choice : m_choices) {
        if (choice.text != text)
            continue;
        const auto act = choice.act; // the act may say something new
        close();
        act();
        return true;
    }
    return false;
}

void MessageBar::keyPressEvent(QKeyEvent *event)
{
    if (event->key() == Qt::Key_Escape)
        close();
    else
        QWidget::keyPressEvent(event);
}

} // namespace badger::app
