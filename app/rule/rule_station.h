// SPDX-License-Identifier: GPL-3.0-or-later
// Rule: what will the car do, and at which distance?
#pragma once

#include "app/rule/code_view.h"
#include "app/rule/distance_ruler.h"
#include "app/rule/reading_grid.h"
#include "app/rule/state_loop.h"
#include "app/shell/station_view.h"
#include "app/widgets/choice.h"
#include "app/widgets/quantity_field.h"

class QComboBox;
class QHBoxLayout;
class QLabel;
class QPushButton;
class QSpinBox;

namespace badger::app
{

class RuleStation final : public StationView
{
    Q_OBJECT
public:
    RuleStation(Session &session, const Theme &theme, QWidget *parent = nullptr);
    void refresh() override;
    Sum sum() const override;
    void reveal(const QString &target) override;
    QList<QAction *> stationActions() const override { return {m_export}; }

    /// Writes the board program into a folder and marks the version as written.
    void exportTo(const QString &folder);

private:
    QWidget *makeChoices();
    QWidget *makeLower();
    void connectEdits();
    void refreshRuler();
    void refreshFields();
    void refreshCode();
    void tryReading(std::optional<double> number);
    void showTried();
    void setValue(const char *name, const QString &text, double si, int drag);
    void edit(const QString &text, const std::function<void(rules::Program &)> &change,
              int drag = -1);
    void editReading(const QString &text, const std::function<void(rules::Reading &)> &change);
    void exportProgram();

    DistanceRuler *m_ruler;
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
    QuantityField *m_wanted;
    QLabel *m_inverse;
    QPushButton *m_useLeast;
    StateLoop *m_loop;
    QLineEdit *m_try;
    QLabel *m_tried;
    ReadingGrid *m_grid;
    CodeView *m_code;
    QAction *m_export;

    QString m_lit = QStringLiteral("state:stands");
    bool m_hasTried = false;
    std::optional<double> m_number; ///< the reading tried, in the program's unit; empty: none
};

} // namespace badger::app
