// SPDX-License-Identifier: GPL-3.0-or-later
// How does a person type a quantity?
#pragma once

#include "core/units/quantity.h"

#include <QLineEdit>
#include <optional>

namespace badger::app
{

/// A field for one quantity with its unit. Enter or leaving the field takes it; what cannot be
/// read is marked, says why in a tooltip, and changes nothing. Escape brings the old value back.
class QuantityField final : public QLineEdit
{
    Q_OBJECT
public:
    QuantityField(units::Dimension dimension, units::Unit shown, QWidget *parent = nullptr);

    /// Shows a value (SI), or nothing with the hint.
    void setValue(std::optional<double> si);
    void setUnit(units::Unit shown);
    void setHint(const QString &hint) { setPlaceholderText(hint); }

signals:
    void taken(double si); ///< a person entered another value
    void refused(const QString &reason);

protected:
    void keyPressEvent(QKeyEvent *event) override;

private:
    void tryTake();
    void showValue();
    void mark(bool wrong, const QString &reason);

    units::Dimension m_dimension;
    units::Unit m_unit;
    std::optional<double> m_si;
};

} // namespace badger::app
