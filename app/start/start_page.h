// SPDX-License-Identifier: GPL-3.0-or-later
// An empty workshop: which car to begin with, and what does a first hour look like?
#pragma once

#include "app/shell/stations.h"
#include "app/theme/theme.h"

#include <QWidget>

class QLabel;
class QStackedWidget;

namespace badger::app
{

class StartPage final : public QWidget
{
    Q_OBJECT
public:
    explicit StartPage(const Theme &theme, QWidget *parent = nullptr);
    /// The kits, or what Floor and Log wait for.
    void show(const StationFace &face);

signals:
    void kitChosen(size_t kit); ///< its place in the list of starting kits
    void kitsWanted();

private:
    QWidget *makeKits();
    QWidget *makeHour();
    QWidget *makeWait();

    QStackedWidget *m_pages;
    QLabel *m_waits;
    const Theme &m_theme;
};

} // namespace badger::app
