// SPDX-License-Identifier: GPL-3.0-or-later
// Rule: what will the car do, and at which distance?
#pragma once

#include "app/rule/program_page.h"
#include "app/rule/rule_start.h"
#include "app/shell/station_view.h"

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
    bool isWanted(const std::vector<Say> &errors);
    void exportProgram();

    QStackedWidget *m_pages;
    RuleStart *m_start;
    ProgramPage *m_program;
    QAction *m_export;
};

} // namespace badger::app
