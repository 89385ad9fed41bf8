// SPDX-License-Identifier: GPL-3.0-or-later
// The order of the work: one stop a station, joined by a line that is dashed behind a stale gate.
#pragma once

#include "app/shell/session.h"
#include "app/theme/theme.h"

#include <QAbstractButton>
#include <QWidget>
#include <array>

namespace badger::app
{

class WorkStop final : public QAbstractButton
{
    Q_OBJECT
public:
    WorkStop(judge::Station station, const Theme &theme, QWidget *parent);
    void show(const judge::Gate &gate, bool current);
    QSize sizeHint() const override;
    qreal radius() const;

protected:
    void paintEvent(QPaintEvent *event) override;

private:
    judge::Gate m_gate;
    bool m_current = false;
    const Theme &m_theme;
};

class WorkLine final : public QWidget
{
    Q_OBJECT
public:
    WorkLine(Session &session, const Theme &theme, QWidget *parent = nullptr);
    void refresh();

protected:
    void paintEvent(QPaintEvent *event) override;

private:
    Session &m_session;
    const Theme &m_theme;
    std::array<WorkStop *, judge::stations.size()> m_stops{};
    std::array<bool, judge::stations.size()> m_stale{};
};

} // namespace badger::app
