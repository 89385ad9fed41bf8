// SPDX-License-Identifier: GPL-3.0-or-later
// Why this number? The sum at the bottom, pulled up to the whole derivation.
#pragma once

#include "app/shell/station_view.h"
#include "app/theme/theme.h"

#include <QWidget>

class QGridLayout;
class QLabel;
class QPushButton;

namespace badger::app
{

/// Paints one line: the result and its terms, each over its caption.
class SumLine final : public QWidget
{
    Q_OBJECT
public:
    explicit SumLine(const Theme &theme, QWidget *parent = nullptr);
    void show(const Sum &sum);

protected:
    void paintEvent(QPaintEvent *event) override;

private:
    Sum m_sum;
    const Theme &m_theme;
};

class WhyBar final : public QWidget
{
    Q_OBJECT
public:
    explicit WhyBar(const Theme &theme, QWidget *parent = nullptr);
    void show(const Sum &sum);
    bool isOpen() const { return m_open; }
    void setOpen(bool open);

private:
    void fillDerivation();

    const Theme &m_theme;
    Sum m_sum;
    bool m_open = false;
    QPushButton *m_toggle;
    SumLine *m_line;
    QWidget *m_derivation;
    QGridLayout *m_grid;
};

} // namespace badger::app
