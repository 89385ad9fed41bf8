// SPDX-License-Identifier: GPL-3.0-or-later
// A program: what it decides, its sentences, its states, and readings to try.
#pragma once

#include "app/rule/cells_picture.h"
#include "app/rule/code_sheet.h"
#include "app/rule/compare_sheet.h"
#include "app/rule/distance_ruler.h"
#include "app/rule/open_row.h"
#include "app/rule/reading_grid.h"
#include "app/rule/rows_sheet.h"
#include "app/rule/sentence_page.h"
#include "app/rule/state_loop.h"
#include "app/rule/try_row.h"
#include "app/rule/wants_row.h"
#include "app/shell/session.h"
#include "app/widgets/choice.h"

#include <QThreadPool>
#include <atomic>

class QLabel;
class QScrollArea;
class QStackedWidget;

namespace badger::app
{

class ProgramPage final : public QWidget
{
    Q_OBJECT
public:
    ProgramPage(Session &session, const Theme &theme, QWidget *parent = nullptr);
    ~ProgramPage() override;
    void refresh();
    /// "value:near", "reading:ahead", "policy:ahead", "state:drives".
    const CodeSheet &codeSheet() const { return *m_code; }
    void reveal(const QString &target);

private:
    static bool halts(const rules::Program &program);
    const rules::Reading *rulerReading() const;
    void refreshRuler();
    std::optional<RulerContent::Window> windowOf(const std::string &value) const;
    void refreshTable(const machine::CarFacts &facts);
    QWidget *makeAside();
    void refreshAside();
    int shownMode() const;
    void pick(const QString &target);
    void moveValue(const QString &value, double to, int drag);
    void refreshCode(const QString &state);
    void lookForMends();
    void takeMend(int finding, int way);
    void takeTyped(const QString &target, const QString &text);
    void takeChoice(const QString &target, int option);
    void takeRewrite(int sentence, int what);
    void offerReadings(const QPoint &below);

    Session &m_session;
    const Theme &m_theme;
    QLabel *m_while;
    DistanceRuler *m_ruler; ///< of one that only halts
    CellsPicture *m_cells;  ///< of every other
    WantsRow *m_wants;
    OpenRow *m_open;
    StateLoop *m_loop;
    SentencePage *m_page;
    QScrollArea *m_scroll;
    CodeSheet *m_code;
    Choice *m_aside; ///< what stands beside the sentences
    QStackedWidget *m_sheets;
    ReadingGrid *m_grid;
    RowsSheet *m_rows;
    CompareSheet *m_compare;
    TryRow *m_try;
    QString m_state;
    QString m_threshold; ///< the value that the ruler's handle moves
    Id<rules::Program> m_shown;
    std::map<int, std::vector<regions::Mend>> m_mends; ///< by finding, as shown
    std::optional<rules::Program> m_mended;            ///< the program they are of
    std::vector<Finding> m_mendedOf;                   ///< and its findings then
    std::shared_ptr<std::atomic<bool>> m_overtaken;    ///< the search for them that runs
    QThreadPool m_worker;
};

} // namespace badger::app
