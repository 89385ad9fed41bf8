// SPDX-License-Identifier: GPL-3.0-or-later
// The page: cars on the left, the work line on top, the station in the middle, the hand on the
// right, the sum at the bottom.
#pragma once

#include "app/document/recovery.h"
#include "app/shell/car_list.h"
#include "app/shell/finder.h"
#include "app/shell/hand_panel.h"
#include "app/shell/message_bar.h"
#include "app/shell/stations.h"
#include "app/shell/why_bar.h"
#include "app/shell/work_line.h"

#include <QMainWindow>
#include <QPointer>
#include <array>

class QLabel;
class QMenu;
class QStackedWidget;

namespace badger::app
{

class StartPage;

class MainWindow final : public QMainWindow
{
    Q_OBJECT
public:
    MainWindow(Document &document, Session &session, Recovery &recovery, Theme &theme);

    StationView *station(judge::Station station) const
    {
        return m_stations[static_cast<size_t>(station)];
    }
    MessageBar &messages() { return *m_messages; }
    WhyBar &whyBar() { return *m_why; }
    /// Opens a file, after what is unsaved has been dealt with.
    void openFile(const QString &path);
    /// Saves under the name that a dialog gave, completed; false when it was not saved.
    bool saveTo(const QString &chosen);
    void setPalette(Theme::Palette palette);
    /// Offers what a killed program left behind.
    void offerRecovered();

public slots:
    /// From a starting kit, by its place in the list.
    void newCar(size_t kit = 0);
    void askNewCar();

protected:
    bool eventFilter(QObject *watched, QEvent *event) override;
    void closeEvent(QCloseEvent *event) override;
    void changeEvent(QEvent *event) override;

private:
    const StationFace &face() const { return m_faces[static_cast<size_t>(m_session.station())]; }
    void build();
    QWidget *makeTop();
    QLayout *makeMiddle();
    void makeMenus();
    QMenu *makeFileMenu();
    QMenu *makeEditMenu();
    QMenu *makeViewMenu();
    void makeLengthActions(QMenu &menu);
    void refresh();
    void refreshAround();
    void showHeadline();
    void refreshTitle();
    void refreshRecent();
    void applyTheme();
    void rebuild();
    void noticeOtherProgram();

    void newWorkshop();
    void openDialog();
    bool save();
    bool saveAs();
    void openWhatIsThere();
    void openRescued(const Recovered &recovered);
    void say(const QString &text, bool isError);
    void sayFailure(const QString &reason);
    void sayStorageError(const Error &error);
    void whenSaved(const QString &what, const std::function<void()> &go);
    void remember(const QString &path);
    void renameCar();
    void removeCar();
    void showShortcuts();
    void showAbout();

    Document &m_document;
    Session &m_session;
    Recovery &m_recovery;
    Theme &m_theme;

    MessageBar *m_messages = nullptr;
    CarList *m_cars = nullptr;
    WorkLine *m_workLine = nullptr;
    Finder *m_finder = nullptr;
    QLabel *m_headline = nullptr;
    QLabel *m_conditions = nullptr;
    QStackedWidget *m_stack = nullptr;
    StartPage *m_start = nullptr;
    HandPanel *m_hand = nullptr;
    WhyBar *m_why = nullptr;
    QMenu *m_recent = nullptr;
    QMenu *m_stationMenu = nullptr;
    QAction *m_undoAction = nullptr;
    QAction *m_redoAction = nullptr;
    QAction *m_foldLeft = nullptr;
    QAction *m_foldRight = nullptr;
    std::vector<StationFace> m_faces;
    std::array<StationView *, judge::stations.size()> m_stations{};
    std::array<QAction *, 3> m_paletteActions{};
    bool m_closing = false;
    bool m_noticed = false; ///< that another program changed the file: said once
};

/// Takes over in which unit the person wanted lengths the last time.
void showLengthsAsChosen();

} // namespace badger::app
