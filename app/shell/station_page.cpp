// SPDX-License-Identifier: GPL-3.0-or-later
#include "app/shell/station_page.h"

#include "app/widgets/choice.h"

#include <QStackedWidget>

namespace badger::app
{

void PagedStation::makePages(const QString &ownTitle, QWidget *own,
                             const std::vector<Named> &others)
{
    QStringList titles{ownTitle};
    m_stack = new QStackedWidget;
    m_stack->addWidget(own);
    for (const auto &[title, page] : others) {
        titles << title;
        m_stack->addWidget(page);
        connect(page, &StationPage::sumChanged, this, &StationView::sumChanged);
    }
    m_choice = new Choice(titles);
    m_choice->setIndex(0);
    connect(m_choice, &Choice::chosen, this, &PagedStation::showPageAt);
}

int PagedStation::pageIndex() const
{
    return m_stack->currentIndex();
}

void PagedStation::showPageAt(int index)
{
    m_choice->setIndex(index);
    m_stack->setCurrentIndex(index);
    refresh();
    emit sumChanged();
}

StationPage *PagedStation::shown() const
{
    return qobject_cast<StationPage *>(m_stack->currentWidget());
}

void PagedStation::refresh()
{
    refreshAround();
    if (auto *page = shown())
        page->refresh();
    else
        refreshOwn();
}

std::optional<Heading> PagedStation::heading() const
{
    const auto *page = shown();
    return page ? page->heading() : std::nullopt;
}

Sum PagedStation::sum() const
{
    const auto *page = shown();
    const auto sum = page ? page->sum() : std::nullopt;
    return sum ? *sum : ownSum();
}

} // namespace badger::app
