// SPDX-License-Identifier: GPL-3.0-or-later
// An empty workshop: which car to begin with, and what does a first hour look like?
#pragma once

#include "app/theme/theme.h"

#include <QWidget>

namespace badger::app
{

class StartPage final : public QWidget
{
    Q_OBJECT
public:
    explicit StartPage(const Theme &theme, QWidget *parent = nullptr);

signals:
    void kitChosen(size_t kit); ///< its place in the list of starting kits

private:
    QWidget *makeKits();
    QWidget *makeHour();

    const Theme &m_theme;
};

} // namespace badger::app
