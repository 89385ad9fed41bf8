// SPDX-License-Identifier: GPL-3.0-or-later
#include "app/shell/main_window.h"

#include "app/document/edits.h"
#include "app/shell/application.h"
#include "app/start/start_page.h"
#include "app/widgets/marks.h"
#include "app/widgets/plain_text.h"
#include "app/widgets/steady.h"
#include "app/widgets/text.h"

#include <QApplication>
#include <QFileInfo>
#include <QHBoxLayout>
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
    connect(&session, &Session::runsDriven, this, [this](const Id<kit::Car> &car) {
        if (car == m_session.carId())
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

/// The line of the work, and where things are found.
QWidget *MainWindow::makeTop()
{
    auto *top = new QWidget;
    top->setObjectName("topPanel");
    top->setAttribute(Qt::WA_StyledBackground);
    auto *topLayout = new QHBoxLayout(top);
    topLayout->setContentsMargins(m_theme.space(4), m_theme.space(1), m_theme.space(5), 0);
    m_workLine = new WorkLine(m_session, m_theme);
    m_finder = new Finder(m_session);
    topLayout->addWidget(m_workLine, 1);
    topLayout->addWidget(m_finder);
    top->setFixedHeight(qRound(topHeight * m_theme.scale()));
    m_finder->setFixedWidth(qRound(300 * m_theme.scale()));
    return top;
}

/// The headline over the station.
QLayout *MainWindow::makeMiddle()
{
    auto *middle = new QVBoxLayout;
    middle->setContentsMargins(m_theme.space(6), m_theme.space(3), m_theme.space(6), 0);
    middle->setSpacing(m_theme.space(1));
    m_headline = new QLabel;
    m_headline->setProperty("headline", true);
    m_headline->setObjectName("headline");
    m_headline->setWordWrap(true);
    m_headline->setTextFormat(Qt::PlainText);
    m_conditions = new QLabel;
    m_conditions->setObjectName("conditions");
    m_conditions->setProperty("quiet", true);
    m_conditions->setTextFormat(Qt::PlainText);
    m_conditions->setWordWrap(true);
    middle->addWidget(new Steady(m_headline));
    middle->addWidget(new Steady(m_conditions));
    middle->addSpacing(m_theme.space(1));
    m_stack = new QStackedWidget;
    m_start = new StartPage(m_theme);
    m_stack->addWidget(m_start);
    connect(m_start, &StartPage::kitChosen, this, &MainWindow::newCar);
    connect(m_start, &StartPage::kitsWanted, this,
            [this] { m_session.selectStation(judge::Station::Kit); });
    m_faces = stationFaces();
    for (const auto &face : m_faces) {
        auto *s = face.make(m_session, m_theme);
        m_stations[static_cast<size_t>(face.station)] = s;
        m_stack->addWidget(s);
        connect(s, &StationView::sumChanged, this, [this, s] {
            if (s != m_stack->currentWidget())
                return;
            m_why->show(s->sum());
            showHeadline();
        });
    }
    middle->addWidget(m_stack, 1);
    return middle;
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
    rest->addWidget(makeTop());
    auto *lower = new QHBoxLayout;
    lower->setSpacing(0);
    lower->addLayout(makeMiddle(), 1);
    m_hand = new HandPanel(m_session, m_theme);
    lower->addWidget(m_hand);
    rest->addLayout(lower, 1);
    body->addLayout(rest, 1);
    outer->addLayout(body, 1);
    m_why = new WhyBar(m_theme);
    outer->addWidget(m_why);

    m_cars->setFixedWidth(qRound(leftWidth * m_theme.scale()));
    m_hand->setFixedWidth(qRound(handWidth * m_theme.scale()));
    // The window deletes the old page itself. Taken out by hand it would become a window of its
    // own, and with the focus in it the active one: no shortcut would reach this window any more.
    setCentralWidget(page);
    setMinimumSize(1000, 640);
}

void MainWindow::refresh()
{
    m_cars->refresh();
    m_workLine->refresh();
    auto *view = m_stations[static_cast<size_t>(m_session.station())];
    const auto *car = m_session.car();
    QWidget *page = car ? static_cast<QWidget *>(view) : m_start;
    m_start->show(face());
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
    const auto *shown = qobject_cast<StationView *>(m_stack->currentWidget());
    if (const auto own = car && shown ? shown->heading() : std::nullopt) {
        m_headline->setText(together(own->sentence));
        m_conditions->setText(own->conditions);
    } else if (car && j) {
        const auto h = judge::headline(m_session.station(), m_session.workshop(),
                                       {*car, m_session.catalogue()}, *j);
        m_headline->setText(together(str(h.sentence)));
        m_conditions->setText(str(h.conditions));
    } else {
        const bool kits = face().offersKits();
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

} // namespace badger::app
