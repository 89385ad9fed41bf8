// SPDX-License-Identifier: GPL-3.0-or-later
// The class, always in view: one tag a car with its gate marks.
#pragma once

#include "app/shell/session.h"
#include "app/theme/theme.h"

#include <QAbstractButton>
#include <QWidget>

class QLabel;
class QScrollArea;
class QVBoxLayout;

namespace badger::app
{

/// One car: its name and a mark for each station.
class CarTag final : public QAbstractButton
{
    Q_OBJECT
public:
    CarTag(const QString &name, const std::array<workshop::Gate, workshop::stations.size()> &gates,
           bool selected, const Theme &theme, QWidget *parent = nullptr);
    QSize sizeHint() const override;

protected:
    void paintEvent(QPaintEvent *event) override;

private:
    std::array<workshop::Gate, workshop::stations.size()> m_gates;
    bool m_selected;
    const Theme &m_theme;
};

class CarList final : public QWidget
{
    Q_OBJECT
public:
    CarList(Session &session, const Theme &theme, QWidget *parent = nullptr);
    void refresh();

signals:
    void newCarWanted();

private:
    Session &m_session;
    const Theme &m_theme;
    QLabel *m_name;
    QLabel *m_bench;
    QWidget *m_tags;
    QVBoxLayout *m_tagLayout;
};

} // namespace badger::app
