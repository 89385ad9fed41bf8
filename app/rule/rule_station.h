// SPDX-License-Identifier: GPL-3.0-or-later
// Rule: what will the car do, and at which distance?
#pragma once

#include "app/rule/code_sheet.h"
#include "app/rule/distance_ruler.h"
#include "app/rule/program_page.h"
#include "app/rule/reading_grid.h"
#include "app/rule/rule_choices.h"
#include "app/rule/rule_start.h"
#include "app/rule/state_loop.h"
#include "app/shell/station_view.h"

class QLabel;
class QLineEdit;
class QStackedWidget;

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
    QWidget *makeLower();
    ProgramPage &programPage();
    void connectViews();
    void refreshRuler();
    void refreshCode();
    const CodeSheet &sheet() const;
    bool isWanted(const std::vector<Say> &errors);
    void tryReading(std::optional<double> number);
    void showTried();
    void exportProgram();
    /// Drives and stands by one distance: the ruler with its budget says all of it.
    static bool halts(const rules::Program &program);
    /// The reading that the ruler, the table and the trial of a reading are about.
    const rules::Reading *reading() const;

    QStackedWidget *m_pages;
    RuleStart *m_start;
    ProgramPage *m_program = nullptr; ///< of programs that do more than halt at one distance
    DistanceRuler *m_ruler;
    RuleChoices *m_choices;
    StateLoop *m_loop;
    QLineEdit *m_try;
    QLabel *m_tried;
    ReadingGrid *m_grid;
    CodeSheet *m_code;
    QAction *m_export;

    QString m_lit = QStringLiteral("state:stands");
    Id<kit::Car> m_shownCar;
    bool m_hasTried = false;
    std::optional<double> m_number; ///< the reading tried, in the program's unit; empty: none
};

} // namespace badger::app
