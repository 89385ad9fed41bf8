// SPDX-License-Identifier: GPL-3.0-or-later
// What the bench asks of a stop, and the limit that gives it.
#pragma once

#include "app/shell/session.h"
#include "app/theme/theme.h"
#include "app/widgets/quantity_field.h"

class QLabel;
class QPushButton;

namespace badger::app
{

/// The wanted gap and where the ranger sits are typed here; beside them stands which threshold, or
/// which speed, leaves that gap at worst, and one press takes the threshold.
class WantsRow final : public QWidget
{
    Q_OBJECT
public:
    WantsRow(Session &session, const Theme &theme, QWidget *parent = nullptr);
    void refresh();

private:
    void editCar(const QString &text, const std::function<void(kit::Car &)> &change);
    void useLeast();

    Session &m_session;
    QuantityField *m_wanted;
    QuantityField *m_setBack;
    QLabel *m_inverse;
    QPushButton *m_useLeast;
};

} // namespace badger::app
