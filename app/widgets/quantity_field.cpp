// SPDX-License-Identifier: GPL-3.0-or-later
#include "app/widgets/quantity_field.h"

#include "app/widgets/text.h"
#include <QKeyEvent>
#include <QStyle>

namespace badger::app
{

QuantityField::QuantityField(units::Dimension dimension, units::Unit shown, QWidget *parent)
    : QLineEdit(parent), m_dimension(dimension), m_unit(shown)
{
    connect(this, &QLineEdit::editingFinished, this, &QuantityField::tryTake);
    connect(this, &QLineEdit::textEdited, this, [this] { mark(false, {}); });
}

void QuantityField::setValue(std::optional<double> si)
{
    m_si = si;
    showValue();
}

void QuantityField::setUnit(units::Unit shown)
{
    m_unit = shown;
    showValue();
}

void QuantityField::showValue()
{
    mark(false, {});
    if (!m_si)
        clear();
    else if (m_dimension == units::Dimension::PwmCounts)
        setText(str(units::plain(*m_si, 0)));
    else
        setText(str(units::quantity(*m_si, m_unit, 2)));
    setCursorPosition(0); // of a text that is too long its beginning is seen
}

void QuantityField::tryTake()
{
    const auto before = text();
    if (before.trimmed().isEmpty() && !m_si)
        return;
    const auto value = units::parse(before.toStdString(), m_dimension);
    if (!value) {
        const auto reason = str(value.error().text());
        mark(true, reason);
        emit refused(reason);
        return;
    }
    // What is shown is rounded: leaving the field untouched must not round the value.
    const auto shown = m_si ? str(units::quantity(*m_si, m_unit, 2)) : QString();
    if (m_si && (before == shown || *value == *m_si)) {
        showValue();
        return;
    }
    emit taken(*value);
}

void QuantityField::keyPressEvent(QKeyEvent *event)
{
    if (event->key() == Qt::Key_Escape) {
        showValue();
        selectAll();
        return;
    }
    QLineEdit::keyPressEvent(event);
}

void QuantityField::mark(bool wrong, const QString &reason)
{
    setToolTip(reason);
    if (property("wrong").toBool() == wrong)
        return;
    setProperty("wrong", wrong);
    style()->unpolish(this);
    style()->polish(this);
}

} // namespace badger::app
