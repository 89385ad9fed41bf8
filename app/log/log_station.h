// SPDX-License-Identifier: GPL-3.0-or-later
// Log: what happened on the real floor, and did we expect it?
#pragma once

#include "app/log/gap_ruler.h"
#include "app/shell/station_view.h"
#include "app/widgets/quantity_field.h"
#include "core/judge/measured_roll.h"

class QCheckBox;
class QComboBox;
class QLabel;
class QPushButton;
class QVBoxLayout;

namespace badger::app
{

class LogStation final : public StationView
{
    Q_OBJECT
public:
    LogStation(Session &session, const Theme &theme, QWidget *parent = nullptr);
    void refresh() override;
    Sum sum() const override;

private:
    static constexpr size_t rowsAtOnce = 40;
    size_t m_mostRows = rowsAtOnce; ///< of each list

    QWidget *makeNext();
    QWidget *makeEntry();
    void enter();
    void remove(const Id<logbook::MeasuredTrial> &id);
    void refreshList();
    QWidget *makeRow(const logbook::MeasuredTrial &trial);
    void refreshProposal();
    void refreshRoll();
    std::optional<judge::MeasuredLaw> lawOfRuns() const;
    void useRoll();
    QString comparison(const logbook::MeasuredTrial &trial) const;

    GapRuler *m_ruler;
    QuantityField *m_gap;
    QuantityField *m_battery;
    QComboBox *m_floor;
    QCheckBox *m_contact;
    QLineEdit *m_note;
    QPushButton *m_enter;
    std::optional<double> m_gap_m;
    std::optional<double> m_battery_V;
    QVBoxLayout *m_list;
    QLabel *m_proposal;
    QLabel *m_claim;
    QLabel *m_roll;
    QPushButton *m_useRoll;
    std::optional<judge::MeasuredRoll> m_measured;
    QPushButton *m_use;
    std::optional<logbook::Proposal> m_next;
};

} // namespace badger::app
