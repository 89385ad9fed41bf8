// SPDX-License-Identifier: GPL-3.0-or-later
// What does a station ask of one of its pages?
#pragma once

#include "app/shell/station_view.h"

class QStackedWidget;

namespace badger::app
{

class Choice;

/// A page of a station: a picture of its own, with the sum that belongs to it.
class StationPage : public QWidget
{
    Q_OBJECT
public:
    using QWidget::QWidget;
    /// Called while it is shown, whenever something may have changed.
    virtual void refresh() = 0;
    /// Nothing where the station's own sum stays.
    virtual std::optional<Sum> sum() const { return std::nullopt; }
    /// Nothing where the station's own heading stays.
    virtual std::optional<Heading> heading() const { return std::nullopt; }

signals:
    void sumChanged(); ///< or the heading
};

/// A station of several pages, of which the first is its own.
class PagedStation : public StationView
{
    Q_OBJECT
public:
    using StationView::StationView;
    int pageIndex() const;
    void showPageAt(int index);
    Sum sum() const final;
    std::optional<Heading> heading() const final;
    void refresh() final;

protected:
    struct Named {
        QString title;
        StationPage *page;
    };
    /// To be called once: `own` is the first page. `choice()` and `stack()` are to be laid out.
    void makePages(const QString &ownTitle, QWidget *own, const std::vector<Named> &others);
    Choice *choice() const { return m_choice; }
    QStackedWidget *stack() const { return m_stack; }

    /// What stands round the pages, and then the station's own page while it is shown.
    virtual void refreshAround() {}
    virtual void refreshOwn() = 0;
    virtual Sum ownSum() const = 0;

private:
    StationPage *shown() const;

    Choice *m_choice = nullptr;
    QStackedWidget *m_stack = nullptr;
};

} // namespace badger::app
