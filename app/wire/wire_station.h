// SPDX-License-Identifier: GPL-3.0-or-later
// Wire: which wire goes where, and is anything wrong?
#pragma once

#include "app/shell/station_page.h"
#include "app/wire/bench_page.h"
#include "app/wire/changes_page.h"
#include "app/wire/harness_view.h"
#include "app/wire/meter_bar.h"
#include "app/wire/motion_page.h"
#include "app/wire/proposal_bar.h"

class QCheckBox;
class QComboBox;
class QCompleter;
class QLabel;
class QLineEdit;
class QPushButton;

namespace badger::app
{

class Choice;
class FixBar;

class WireStation final : public PagedStation
{
    Q_OBJECT
public:
    enum class Page { Harness, Motion, Changes, Bench };

    WireStation(Session &session, const Theme &theme, QWidget *parent = nullptr);
    void reveal(const QString &target) override;
    QList<QAction *> stationActions() const override { return m_actions; }

    Page page() const { return Page(pageIndex()); }
    void showPage(Page page) { showPageAt(int(page)); }
    BenchPage &benchPage() { return *m_bench; }
    MeterBar &meter() { return *m_meter; }
    /// Shows the harness that kit and program ask for.
    void propose();
    /// Reads a wire list: what is right is taken, each row that is not is said.
    void importFile(const QString &path);
    void importList(const QByteArray &text);
    /// Writes the programs that try one part each, with the car's own pins.
    void writePartTests(const QString &folder);

protected:
    void refreshAround() override;
    void refreshOwn() override;
    Sum ownSum() const override;

private:
    QWidget *makeHarnessPage();
    void makeActions();
    void askAndSave(const QString &what, const QString &ending, const QString &filter,
                    const std::function<Result<void>(const QString &)> &save);
    void askAndImport();
    QWidget *makeEditor();
    void makeJumperAndPins();
    void showTried(const kit::Car &car);
    void connectHarness();
    void showWire(int index);
    void takeWire();
    void addWire();
    void removeWire();
    void takePins();
    void jumperToggled(bool on);
    std::string fullName(const QString &typed) const;

    MotionPage *m_motion;
    ChangesPage *m_changes;
    BenchPage *m_bench;
    FixBar *m_fixBar = nullptr;
    ProposalBar *m_proposal;
    QPushButton *m_propose;
    HarnessView *m_harness;
    MeterBar *m_meter;
    int m_hovered = -1;     ///< the wire under the pointer
    std::string m_terminal; ///< that was picked last
    QWidget *m_editor;
    QLineEdit *m_from;
    QLineEdit *m_to;
    QComboBox *m_colour;
    QPushButton *m_take;
    QCheckBox *m_jumper;
    QPushButton *m_pinsDiffer;
    QAction *m_add;
    QAction *m_remove;
    QAction *m_takePins;
    QList<QAction *> m_actions;
    std::string m_jumperTerminal;
    bool m_colourChosen = false; ///< by a person, for the next wire
};

} // namespace badger::app
