// SPDX-License-Identifier: GPL-3.0-or-later
// The safe window of the selected car on the selected floor: searched by a worker while it is in
// view.
#pragma once

#include "app/floor/grid_panel.h"
#include "app/floor/window_view.h"
#include "app/shell/station_page.h"

#include <QThreadPool>
#include <atomic>
#include <functional>
#include <set>

class QBoxLayout;
class QComboBox;
class QLabel;
class QPushButton;
class QScrollArea;

namespace badger::app
{

class WindowPage final : public StationPage
{
    Q_OBJECT
public:
    WindowPage(Session &session, const Theme &theme, QWidget *parent = nullptr);
    ~WindowPage() override;
    void refresh() override;
    std::optional<Sum> sum() const override;
    std::optional<Heading> heading() const override;

    /// What is shown; waits for the search that runs.
    std::shared_ptr<const window::Window> finished();
    /// The map of two numbers, where it is asked for.
    GridPanel &grid() { return *m_grid; }
    /// As one page; as CSV where the path ends so.
    void save(const QString &path);

signals:
    /// One run of a row is to be looked at.
    void runWanted(const window::Replay &run, const QString &what);

protected:
    void hideEvent(QHideEvent *event) override;
    void resizeEvent(QResizeEvent *event) override;

private:
    QWidget *makeControls();
    void askSave();
    void compare();
    void forgetSchools();
    void showAround();
    void search();
    void editConditions(const QString &what,
                        const std::function<void(std::vector<std::string> &)> &change);
    void openRowDialog(bool ofPicked);
    void removeRow();
    void takePair(const std::string &x, double xSi, const std::string &y, double ySi);
    /// Of the picked row in the car's own conditions; empty: it is proposed, or none is picked.
    std::optional<size_t> ownCondition() const;
    QPushButton *makeLink(const char *name, const QString &text, const QString &tip);
    void take(std::uint64_t request, std::shared_ptr<const window::Window> window);
    void showWords();
    void showNothing(const QString &words);
    void switchRow(int row);
    void openRow(int row);
    void moveValue(double si, int drag);
    bool isCurrent() const;
    void stop();
    void arrange();

    Session &m_session;
    const Theme &m_theme;
    QScrollArea *m_scroll; ///< of the view
    QScrollArea *m_words;  ///< of the limits
    WindowView *m_view;
    Heading m_heading;
    QLabel *m_limits;
    QLabel *m_count;
    QBoxLayout *m_controls;
    QComboBox *m_values;
    QPushButton *m_drive;
    QPushButton *m_save;
    QPushButton *m_compare;
    QPushButton *m_two;
    GridPanel *m_grid;
    QPushButton *m_add;
    QPushButton *m_change;
    QPushButton *m_remove;
    QPushButton *m_keep;
    QStringList m_schools; ///< what the comparison says; empty: not asked
    QThreadPool m_worker;
    std::shared_ptr<std::atomic<std::uint64_t>> m_request =
        std::make_shared<std::atomic<std::uint64_t>>(0);
    std::uint64_t m_taken = 0;
    judge::Grounds m_searchedOn; ///< of the newest request
    std::string m_searchedFor;   ///< the value
    std::shared_ptr<const window::Window> m_window;
    std::shared_ptr<const window::Window> m_before; ///< the last that was done, and its ground:
    judge::Grounds m_beforeOn;                      ///< rows that it answered are taken over
    std::set<std::string> m_off; ///< labels of rows that a person has switched out
    QString m_value;             ///< chosen; empty: the first
};

} // namespace badger::app
