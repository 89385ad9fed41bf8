// SPDX-License-Identifier: GPL-3.0-or-later
// One figure of a part: its unit, its text, its range as a bar.
#pragma once

#include "app/theme/theme.h"
#include "core/parts/catalogue.h"
#include "core/units/quantity.h"

#include <QWidget>

namespace badger::app
{

/// How a figure is typed and shown, from the unit at the end of its key.
struct FigureUnit {
    std::optional<units::Dimension> dimension; ///< none: a bare number
    units::Unit unit = units::Unit::Metre;
};
FigureUnit unitOf(std::string_view key);
QString figureText(std::string_view key, double si);

/// A figure's range on the scale of every part of its kind, its typical value as a tick.
class RangeBar final : public QWidget
{
    Q_OBJECT
public:
    RangeBar(const parts::Figure &figure, double least, double most, const Theme &theme,
             QWidget *parent = nullptr);
    QSize sizeHint() const override;

protected:
    void paintEvent(QPaintEvent *event) override;

private:
    parts::Figure m_figure;
    double m_least;
    double m_most;
    const Theme &m_theme;
};

} // namespace badger::app
