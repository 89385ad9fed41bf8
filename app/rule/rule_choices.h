// SPDX-License-Identifier: GPL-3.0-or-later
// Every choice of a program that stops at a threshold, in view and typed with units.
#pragma once

#include "app/shell/session.h"
#include "app/theme/theme.h"
#include "app/widgets/choice.h"
#include "app/widgets/quantity_field.h"

#include <QWidget>

class QComboBox;
class QLabel;
class QPushButton;

namespace badger::app
{

class RuleChoices final : public QWidget
{
    Q_OBJECT
public:
    RuleChoices(Session &session, const Theme &theme, QWidget *parent = nullptr);
    void refresh();
    /// Gives the focus to the field of a finding's target.
    void focusOn(const QString &target);
    /// Sets the program's stop threshold; moves of one drag carry its number.
    void moveThreshold(double threshold_m, int drag);

private:
    void makeFields();
    void makeRows();
    void connectReading();
    void connectEdits();
    void connectCar();
    void setValue(const std::string &name, const QString &text, double si, int drag);
    void edit(const QString &text, const std::function<void(rules::Program &)> &change,
              int drag = -1);
    void editCar(const QString &text, const std::function<void(kit::Car &)> &change);
    /// The reading that the fields are about; null where there is none.
    const rules::Reading *reading() const;
    void showAbsent();
    void editReading(const QString &text, const std::function<void(rules::Reading &)> &change);

    Session &m_session;
    const Theme &m_theme;
    Choice *m_compare;
    QuantityField *m_threshold;
    QComboBox *m_noEcho;
    QuantityField *m_speed;
    Choice *m_stopBy;
    Choice *m_numbers;
    QuantityField *m_pause;
    QuantityField *m_air;
    QuantityField *m_limit;
    QComboBox *m_median;
    QComboBox *m_prints;
    QuantityField *m_setBack;
    QuantityField *m_wanted;
    QLabel *m_inverse;
    QPushButton *m_useLeast;
};

} // namespace badger::app
