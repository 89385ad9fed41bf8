// SPDX-License-Identifier: GPL-3.0-or-later
// The menus of the window, and how it is looked at.
#include "app/shell/main_window.h"
#include "app/widgets/text.h"

#include <QActionGroup>
#include <QApplication>
#include <QMenuBar>
#include <QSettings>
#include <QTimer>

namespace badger::app
{

namespace
{

constexpr const char *lengthKey = "lengths";

} // namespace

void showLengthsAsChosen()
{
    const auto symbol = QSettings().value(lengthKey).toString().toStdString();
    listener().display.length.reset();
    for (const auto unit : {units::Unit::Centimetre, units::Unit::Millimetre, units::Unit::Inch})
        if (symbol == units::info(unit).symbol)
            listener().display.length = unit;
}

QMenu *MainWindow::makeFileMenu()
{
    auto *menu = menuBar()->addMenu(tr("&File"));
    menu->addAction(tr("&New workshop"), QKeySequence::New, this, &MainWindow::newWorkshop);
    menu->addAction(tr("&Open ..."), QKeySequence::Open, this, &MainWindow::openDialog);
    m_recent = menu->addMenu(tr("Open &recent"));
    menu->addAction(tr("Open the &demo workshop"), this,
                    [this] { whenSaved(tr("Open the demo"), [this] { m_document.startDemo(); }); });
    menu->addSeparator();
    menu->addAction(tr("&Save"), QKeySequence::Save, this, &MainWindow::save);
    menu->addAction(tr("Save &as ..."), QKeySequence(Qt::CTRL | Qt::SHIFT | Qt::Key_S), this,
                    &MainWindow::saveAs);
    menu->addSeparator();
    menu->addAction(tr("&Quit"), QKeySequence::Quit, this, &QWidget::close);
    return menu;
}

QMenu *MainWindow::makeEditMenu()
{
    auto *menu = menuBar()->addMenu(tr("&Edit"));
    m_undoAction = m_document.undoStack().createUndoAction(this, tr("&Undo"));
    m_redoAction = m_document.undoStack().createRedoAction(this, tr("&Redo"));
    auto *undo = m_undoAction;
    auto *redo = m_redoAction;
    undo->setShortcut(QKeySequence::Undo);
    redo->setShortcuts(
        {QKeySequence(Qt::CTRL | Qt::SHIFT | Qt::Key_Z), QKeySequence(Qt::CTRL | Qt::Key_Y)});
    menu->addActions({undo, redo});
    menu->addSeparator();
    menu->addAction(tr("&Find"), QKeySequence::Find, this, [this] { m_finder->setFocus(); });
    menu->addSeparator();
    menu->addAction(tr("&New car ..."), QKeySequence(Qt::CTRL | Qt::SHIFT | Qt::Key_N), this,
                    &MainWindow::askNewCar);
    menu->addAction(tr("Re&name the car ..."), QKeySequence(Qt::Key_F2), this,
                    &MainWindow::renameCar);
    menu->addAction(tr("Re&move the car"), this, &MainWindow::removeCar);
    return menu;
}

QMenu *MainWindow::makeViewMenu()
{
    auto *menu = menuBar()->addMenu(tr("&View"));
    for (const auto station : judge::stations)
        menu->addAction(judge::name(station),
                        QKeySequence(Qt::CTRL | Qt::Key(Qt::Key_1 + int(station))), this,
                        [this, station] { m_session.selectStation(station); });
    menu->addSeparator();
    m_foldLeft =
        menu->addAction(tr("Show the &cars"), QKeySequence(Qt::Key_F9), this, [this](bool on) {
            m_cars->setVisible(on);
            m_messages->place(on ? m_cars->width() : 0);
        });
    m_foldRight = menu->addAction(tr("Show the &hand"), QKeySequence(Qt::Key_F10), this,
                                  [this](bool on) { m_hand->setVisible(on); });
    for (auto *a : {m_foldLeft, m_foldRight}) {
        a->setCheckable(true);
        a->setChecked(true);
    }
    menu->addAction(tr("&Why?"), QKeySequence(Qt::Key_F8), this,
                    [this] { m_why->setOpen(!m_why->isOpen()); });
    menu->addSeparator();
    const std::array<std::pair<QString, Theme::Palette>, 3> palettes = {
        {{tr("&Light palette"), Theme::Palette::Light},
         {tr("&Dark palette"), Theme::Palette::Dark},
         {tr("&Projector"), Theme::Palette::Projector}}};
    auto *group = new QActionGroup(this);
    for (size_t i = 0; i < palettes.size(); ++i) {
        auto *a = menu->addAction(palettes[i].first);
        a->setCheckable(true);
        a->setChecked(palettes[i].second == m_theme.palette());
        a->setActionGroup(group);
        connect(a, &QAction::triggered, this, [this, p = palettes[i].second] { setPalette(p); });
        m_paletteActions[i] = a;
    }
    m_paletteActions[2]->setShortcut(QKeySequence(Qt::Key_F11));
    menu->addSeparator();
    makeLengthActions(*menu);
    return menu;
}

/// In which unit lengths are shown. A program's own readings keep the unit they are compared in.
void MainWindow::makeLengthActions(QMenu &menu)
{
    const std::pair<QString, std::optional<units::Unit>> choices[] = {
        {tr("Lengths as &usual"), std::nullopt},
        {tr("Lengths in &centimetres"), units::Unit::Centimetre},
        {tr("Lengths in &millimetres"), units::Unit::Millimetre},
        {tr("Lengths in &inches"), units::Unit::Inch}};
    auto *group = new QActionGroup(this);
    for (const auto &[text, unit] : choices) {
        auto *a = menu.addAction(text);
        a->setCheckable(true);
        a->setChecked(listener().display.length == unit);
        a->setActionGroup(group);
        connect(a, &QAction::triggered, this, [this, u = unit] {
            listener().display.length = u;
            QSettings().setValue(lengthKey, u ? units::info(*u).symbol : "");
            // The menu that was clicked is made anew with everything else.
            QTimer::singleShot(0, this, &MainWindow::rebuild);
        });
    }
}

void MainWindow::makeMenus()
{
    QList<QAction *> commands;
    for (auto *menu : {makeFileMenu(), makeEditMenu(), makeViewMenu()})
        commands += menu->actions();
    m_stationMenu = menuBar()->addMenu(tr("&Station"));
    for (auto *s : m_stations) {
        m_stationMenu->addActions(s->stationActions());
        commands += s->stationActions();
        if (s != m_stations.back())
            m_stationMenu->addSeparator();
    }
    auto *help = menuBar()->addMenu(tr("&Help"));
    help->addAction(tr("&Shortcuts"), QKeySequence(Qt::Key_F1), this, &MainWindow::showShortcuts);
    help->addAction(tr("&About Swift Badger"), this, &MainWindow::showAbout);
    commands += help->actions();
    m_finder->setCommands(commands);
    refreshRecent();
}

void MainWindow::setPalette(Theme::Palette palette)
{
    m_theme.setPalette(palette);
    m_paletteActions[static_cast<size_t>(palette)]->setChecked(true);
    // The projector needs the room: the panels fold away, and can be called back.
    const bool panels = palette != Theme::Palette::Projector;
    for (auto *a : {m_foldLeft, m_foldRight})
        if (a->isChecked() != panels)
            a->trigger();
}

void MainWindow::showShortcuts()
{
    QStringList lines;
    for (auto *menuAction : menuBar()->actions())
        if (auto *menu = menuAction->menu())
            for (auto *a : menu->actions())
                if (!a->shortcut().isEmpty())
                    lines << QStringLiteral("%1  %2").arg(a->shortcut().toString(),
                                                          a->text().remove('&').remove(" ..."));
    lines << tr("Alt+1 to Alt+0  the cars") << tr("arrow keys  move what has the focus");
    m_messages->say(lines.join("   ·   "), MessageBar::Kind::Quiet, MessageBar::Until::Dismissed);
}

void MainWindow::showAbout()
{
    m_messages->say(tr("Swift Badger %1: thresholds, wiring and stopping distances of small robot "
                       "cars. Free software under the GPL, version 3 or later. It reckons; the "
                       "makers' sheets, the space's rules and local codes decide.")
                        .arg(QCoreApplication::applicationVersion()),
                    MessageBar::Kind::Quiet, MessageBar::Until::Dismissed);
}

} // namespace badger::app
