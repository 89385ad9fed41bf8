// SPDX-License-Identifier: GPL-3.0-or-later
// Predicted against measured, on one ruler from the board.
#pragma once

#include "app/theme/theme.h"
#include "core/judge/budget.h"
#include "core/logbook/measured.h"

#include <QWidget>

namespace badger::app
{

struct GapContent {
    Pieces<logbook::MeasuredTrial> current; ///< with the program as it stands
    Pieces<logbook::MeasuredTrial> older;
    std::optional<judge::CarBudget> budget;
    std::optional<double> wanted_m;
    std::optional<logbook::Proposal> proposal;
};

class GapRuler final : public QWidget
{
    Q_OBJECT
public:
    explicit GapRuler(const Theme &theme, QWidget *parent = nullptr);
    void show(GapContent content);
    QSize sizeHint() const override;

protected:
    void paintEvent(QPaintEvent *event) override;

private:
    qreal x(double m) const;
    double end_m() const;
    void paintPrediction(QPainter &p) const;
    void paintTrials(QPainter &p) const;
    void paintScale(QPainter &p) const;
    void paintLine(QPainter &p, double m, Tone tone, const QString &label, qreal y) const;

    GapContent m_content;
    const Theme &m_theme;
};

} // namespace badger::app
