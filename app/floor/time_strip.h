// SPDX-License-Identifier: GPL-3.0-or-later
// The time strip: every reading and every decision of a run.
#pragma once

#include "app/theme/theme.h"
#include "core/rules/program.h"
#include "core/trial/trial.h"

#include <QWidget>

namespace badger::app
{

class TimeStrip final : public QWidget
{
    Q_OBJECT
public:
    explicit TimeStrip(const Theme &theme, QWidget *parent = nullptr);
    /// Readings are drawn of `reading`, which the threshold belongs to; states of all.
    void show(trial::Trial trial, const rules::Reading &reading, rules::Program program,
              std::optional<double> threshold_m);
    void clear();
    void setTime(std::uint64_t time_us);
    /// The newest ping decided at or before a time; -1 before the first.
    int pingAt(std::uint64_t time_us) const;

signals:
    void scrubbed(std::uint64_t time_us);
    void stepped(int pings); ///< arrow keys: +1 or -1

protected:
    void paintEvent(QPaintEvent *event) override;
    void mousePressEvent(QMouseEvent *event) override;
    void mouseMoveEvent(QMouseEvent *event) override;
    void keyPressEvent(QKeyEvent *event) override;

private:
    QRectF plot() const;
    qreal x(std::uint64_t time_us) const;
    void scrubTo(qreal px);
    void paintStates(QPainter &p) const;
    void paintReadings(QPainter &p) const;

    trial::Trial m_trial;
    rules::Program m_program;
    rules::Reading m_reading;
    std::optional<double> m_threshold_m;
    std::uint64_t m_time_us = 0;
    const Theme &m_theme;
};

} // namespace badger::app
