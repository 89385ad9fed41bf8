// SPDX-License-Identifier: GPL-3.0-or-later
// The hand: what to do now, what to know, what is fine, and the same car done another way.
#pragma once

#include "app/shell/session.h"
#include "app/theme/theme.h"

#include <QWidget>

class QScrollArea;
class QVBoxLayout;

namespace badger::app
{

/// Bars of the gap that is left when the car is done another way.
class OtherWays final : public QWidget
{
    Q_OBJECT
public:
    OtherWays(const std::vector<workshop::OtherWay> &ways, const Theme &theme,
              QWidget *parent = nullptr);
    QSize sizeHint() const override;

protected:
    void paintEvent(QPaintEvent *event) override;

private:
    std::vector<workshop::OtherWay> m_ways;
    const Theme &m_theme;
};

class HandPanel final : public QWidget
{
    Q_OBJECT
public:
    HandPanel(Session &session, const Theme &theme, QWidget *parent = nullptr);
    void refresh();

private:
    void addNext(const workshop::NextStep &next);
    void addFindings(const std::vector<Finding> &findings, bool isChecked);
    void addFine(const std::vector<std::string> &fine);
    void addHeading(const QString &text, const QString &aside = {});

    Session &m_session;
    const Theme &m_theme;
    QScrollArea *m_scroll = nullptr;
    workshop::Station m_shown = workshop::Station::Rule;
    QWidget *m_content = nullptr;
    QVBoxLayout *m_layout = nullptr;
};

} // namespace badger::app
