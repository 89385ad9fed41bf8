// SPDX-License-Identifier: GPL-3.0-or-later
#include "app/shell/main_window.h"

#include "app/document/edits.h"
#include "app/floor/floor_station.h"
#include "app/kit/kit_station.h"
#include "app/log/log_station.h"
#include "app/rule/rule_station.h"
#include "app/shell/application.h"
#include "app/start/start_page.h"
#include "app/widgets/marks.h"
#include "app/widgets/plain_text.h"
#include "app/widgets/text.h"
#include "app/wire/wire_station.h"
#include "core/io/shipped.h"

#include <QActionGroup>
#include <QApplication>
#include <QFileInfo>
#include <QHBoxLayout>
#include <QInputDialog>
#include <QLabel>
#include <QMenuBar>
#include <QStackedWidget>
#include <QTimer>

namespace badger::app
{

namespace
{

constexpr int leftWidth = 172;
constexpr int handWidth = 280;
constexpr int topHeight = 84;

} // namespace

MainWindow::MainWindow(Document &document, Session &session, Recovery &recovery, Theme &theme)
    : m_document(document), m_session(session), m_recovery(recovery), m_theme(theme)
{
    setWindowIcon(QIcon(":/icons/swift-badger.svg"));
    showTextsAsTexts(*qApp);
    build();
    makeMenus();
    connect(&session, &Session::refreshed, this, &MainWindow::refresh);
    connect(&session, &Session::runsDriven, this, [this](const QString &car) {
        if (car == m_session.carName())
            refreshAround();
    });
    connect(&document, &Document::titleChanged, this, &MainWindow::refreshTitle);
    connect(&session, &Session::revealed, this, [this](const QString &target) {
        m_stations[static_cast<size_t>(m_session.station())]->reveal(target);
    });
    connect(&session, &Session::said, this,
            [this](const QString &text, bool isError) { say(text, isError); });
    connect(&recovery, &Recovery::failed, this, [this](const QString &reason) {
        m_messages->say(tr("Unsaved work cannot be kept safe: %1").arg(reason),
                        MessageBar::Kind::Error, MessageBar::Until::Saved);
    });
    connect(&theme, &Theme::changed, this, &MainWindow::applyTheme);
    if (auto *application = qobject_cast<Application *>(qApp))
        connect(application, &Application::failed, this, &MainWindow::sayFailure);
    connect(&document, &Document::changed, this, [this] { m_messages->edited(); });
    connect(&document, &Document::reset, this, [this] { m_messages->settled(); });
    connect(&document, &Document::titleChanged, this, [this] {
        if (!m_document.isModified())
            m_messages->settled();
    });
    refresh();
    refreshTitle();
}

void MainWindow::say(const QString &text, bool isError)
{
    m_messages->say(text, isError ? MessageBar::Kind::Error : MessageBar::Kind::Quiet,
                    MessageBar::Until::NextEdit);
}

/// Something that must not happen did: the work is put into safety before anything else.
void MainWindow::sayFailure(const QString &reason)
{
    m_recovery.writeNow();
    const auto text =
        tr("Something went wrong inside the program (%1). Your work is still here%2. "
           "Save it under another name, and undo the last step.")
            .arg(reason.left(120),
                 m_document.isModified() ? tr(" and a rescue copy was written") : QString());
    if (m_messages->message() != text)
        m_messages->say(text, MessageBar::Kind::Error, MessageBar::Until::Dismissed);
}

bool MainWindow::eventFilter(QObject *watched, QEvent *event)
{
    if (watched == centralWidget() &&
        (event->type() == QEvent::Resize || event->type() == QEvent::LayoutRequest))
        m_messages->place(m_cars->isVisible() ? m_cars->width() : 0);
    return QMainWindow::eventFilter(watched, event);
}

void MainWindow::build()
{
    auto *page = new QWidget;
    page->setObjectName("paper");
    page->setAttribute(Qt::WA_StyledBackground);
    auto *outer = new QVBoxLayout(page);
    outer->setContentsMargins(0, 0, 0, 0);
    outer->setSpacing(0);
    m_messages = new MessageBar(m_theme, page);
    page->installEventFilter(this);
    auto *body = new QHBoxLayout;
    body->setSpacing(0);
    m_cars = new CarList(m_session, m_theme);
    connect(m_cars, &CarList::newCarWanted, this, &MainWindow::askNewCar);
    body->addWidget(m_cars);

    auto *rest = new QVBoxLayout;
    rest->setSpacing(0);
    auto *top = new QWidget;
    top->setObjectName("topPanel");
    top->setAttribute(Qt::WA_StyledBackground);
    auto *topLayout = new QHBoxLayout(top);
    topLayout->setContentsMargins(m_theme.space(4), m_theme.space(1), m_theme.space(5), 0);
    m_workLine = new WorkLine(m_session, m_theme);
    m_finder = new Finder(m_session);
    topLayout->addWidget(m_workLine, 1);
    topLayout->addWidget(m_finder);
    rest->addWidget(top);

    auto *lower = new QHBoxLayout;
    lower->setSpacing(0);
    auto *middle = new QVBoxLayout;
    middle->setContentsMargins(m_theme.space(6), m_theme.space(3), m_theme.space(6), 0);
    middle->setSpacing(m_theme.space(1));
    m_headline = new QLabel;
    m_headline->setProperty("headline", true);
    m_headline->setObjectName("headline");
    m_headline->setWordWrap(true);
    m_headline->setTextFormat(Qt::PlainText);
    m_conditions = new QLabel;
    m_conditions->setProperty("quiet", true);
    m_conditions->setTextFormat(Qt::PlainText);
    m_conditions->setWordWrap(true);
    middle->addWidget(m_headline);
    middle->addWidget(m_conditions);
    middle->addSpacing(m_theme.space(1));
    m_stack = new QStackedWidget;
    m_start = new StartPage(m_theme);
    m_stack->addWidget(m_start);
    connect(m_start, &StartPage::kitChosen, this, &MainWindow::newCar);
    connect(m_start, &StartPage::kitsWanted, this,
            [this] { m_session.selectStation(workshop::Station::Kit); });
    m_stations = {new KitStation(m_session, m_theme), new WireStation(m_session, m_theme),
                  new RuleStation(m_session, m_theme), new FloorStation(m_session, m_theme),
                  new LogStation(m_session, m_theme)};
    for (auto *s : m_stations) {
        m_stack->addWidget(s);
        connect(s, &StationView::sumChanged, this, [this, s] {
            if (s == m_stack->currentWidget())
                m_why->show(s->sum());
        });
    }
    middle->addWidget(m_stack, 1);
    lower->addLayout(middle, 1);
    m_hand = new HandPanel(m_session, m_theme);
    lower->addWidget(m_hand);
    rest->addLayout(lower, 1);
    body->addLayout(rest, 1);
    outer->addLayout(body, 1);
    m_why = new WhyBar(m_theme);
    outer->addWidget(m_why);

    m_cars->setFixedWidth(qRound(leftWidth * m_theme.scale()));
    m_hand->setFixedWidth(qRound(handWidth * m_theme.scale()));
    top->setFixedHeight(qRound(topHeight * m_theme.scale()));
    m_finder->setFixedWidth(qRound(300 * m_theme.scale()));
    // The window deletes the old page itself. Taken out by hand it would become a window of its
    // own, and with the focus in it the active one: no shortcut would reach this window any more.
    setCentralWidget(page);
    setMinimumSize(1000, 640);
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
    for (const auto station : workshop::stations)
        menu->addAction(workshop::name(station),
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
    return menu;
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

void MainWindow::refresh()
{
    m_cars->refresh();
    m_workLine->refresh();
    auto *view = m_stations[static_cast<size_t>(m_session.station())];
    const auto *car = m_session.car();
    QWidget *page = car ? static_cast<QWidget *>(view) : m_start;
    m_start->show(m_session.station());
    if (m_stack->currentWidget() != page)
        m_stack->setCurrentWidget(page);
    view->refresh();
    showHeadline();
    m_hand->refresh();
    m_why->show(view->sum());
}

/// What stands round the station: the marks, the sentence on top, the hand.
void MainWindow::refreshAround()
{
    m_cars->refresh();
    m_workLine->refresh();
    showHeadline();
    m_hand->refresh();
}

void MainWindow::showHeadline()
{
    const auto *car = m_session.car();
    const auto *j = m_session.current();
    if (car && j) {
        const auto h = workshop::headline(m_session.station(), m_session.workshop(),
                                          m_session.catalogue(), *car, *j);
        m_headline->setText(str(h.sentence));
        m_conditions->setText(str(h.conditions));
    } else {
        const bool kits = m_session.station() <= workshop::Station::Rule;
        m_headline->setText(kits ? tr("No car is in this workshop yet: which one is built first?")
                                 : tr("No car is in this workshop yet."));
        m_conditions->setText(
            !kits ? QString()
                  : tr("A kit brings its parts and where they sit; every part can be "
                       "changed. The File menu opens the demo."));
    }
}

void MainWindow::refreshTitle()
{
    const auto file = m_document.path().isEmpty() ? tr("not saved to a file yet")
                                                  : QFileInfo(m_document.path()).fileName();
    setWindowTitle(tr("%1[*] (%2) - Swift Badger").arg(m_document.title(), file));
    setWindowModified(m_document.isModified());
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

void MainWindow::applyTheme()
{
    m_theme.apply(*qobject_cast<QApplication *>(QCoreApplication::instance()));
    rebuild();
}

void MainWindow::rebuild()
{
    // Sizes are taken when widgets are made, so another type scale makes them anew.
    const bool left = m_foldLeft->isChecked();
    const bool right = m_foldRight->isChecked();
    const auto oldMenus = menuBar()->findChildren<QMenu *>(QString(), Qt::FindDirectChildrenOnly);
    menuBar()->clear();
    for (auto *menu : oldMenus)
        menu->deleteLater();
    delete m_undoAction;
    delete m_redoAction;
    build();
    makeMenus();
    for (const auto &[action, wanted] : {std::pair{m_foldLeft, left}, {m_foldRight, right}})
        if (action->isChecked() != wanted)
            action->trigger();
    refresh();
}

/// The kits as a menu under the pointer or the button: letters, arrows and Enter choose one.
void MainWindow::askNewCar()
{
    auto *menu = new QMenu(this);
    menu->setObjectName("kits");
    menu->setAttribute(Qt::WA_DeleteOnClose);
    menu->setToolTipsVisible(true);
    const auto &kits = io::startingKits();
    for (size_t i = 0; i < kits.size(); ++i) {
        auto *a = menu->addAction(str(kits[i].name));
        a->setToolTip(str(kits[i].line));
        connect(a, &QAction::triggered, this, [this, i] { newCar(i); });
    }
    menu->setActiveAction(menu->actions().front());
    menu->popup(m_cars->mapToGlobal(m_cars->rect().center()));
}

void MainWindow::newCar(size_t kit)
{
    const auto &w = m_session.workshop();
    const auto &starting = io::startingKits().at(kit);
    auto car = starting.car;
    car.name = workshop::freeCarName(w, "New car");
    // The one behaviour that can be written as a program here comes with its program.
    std::optional<rules::Program> program;
    if (car.mission && car.mission->behaviour == "halt") {
        car.program = workshop::freeProgramName(w, "halt " + car.name);
        program = rules::haltProgram(car.program);
    }
    const auto ok = change(m_document, tr("New car"), [&](workshop::Workshop &edited) {
        if (program)
            edited.programs.push_back(*program);
        edited.cars.push_back(car);
    });
    if (!ok)
        return say(str(ok.error().text()), true);
    m_session.selectCar(str(car.name));
    m_session.selectStation(workshop::Station::Kit);
    say(tr("%1: %2. F2 gives it a name.").arg(str(starting.name), str(starting.line)), false);
}

void MainWindow::renameCar()
{
    const auto *car = m_session.car();
    if (car == nullptr)
        return;
    const auto old = car->name;
    bool accepted = false;
    const auto wish = QInputDialog::getText(this, tr("Rename the car"), tr("Name"),
                                            QLineEdit::Normal, str(old), &accepted)
                          .trimmed();
    if (!accepted || wish == str(old))
        return;
    constexpr int longestName = 80; // as in the schema
    if (wish.isEmpty() || wish.size() > longestName)
        return say(tr("A name has 1 to %1 characters.").arg(longestName), true);
    const auto ok = change(m_document, tr("Rename the car"), [&](workshop::Workshop &w) {
        for (auto &c : w.cars)
            if (c.name == old)
                c.name = wish.toStdString();
        for (auto &t : w.trials)
            if (t.car == old)
                t.car = wish.toStdString();
    });
    if (!ok)
        return say(str(ok.error().text()), true);
    m_session.selectCar(wish);
}

void MainWindow::removeCar()
{
    const auto *car = m_session.car();
    if (car == nullptr)
        return;
    const auto name = car->name;
    const auto ok = change(m_document, tr("Remove the car"), [&](workshop::Workshop &w) {
        w.cars.eraseIf([&](const kit::Car &c) { return c.name == name; });
        w.trials.eraseIf([&](const auto &t) { return t.car == name; });
    });
    if (!ok)
        return say(str(ok.error().text()), true);
    m_messages->say(tr("%1 and its runs are removed.").arg(str(name)), MessageBar::Kind::Quiet,
                    MessageBar::Until::NextEdit,
                    {{tr("Undo"), [this] { m_document.undoStack().undo(); }}});
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
