// SPDX-License-Identifier: GPL-3.0-or-later
// The window's dealings with files: opening, saving, what is recent, what was rescued, closing.
#include "app/shell/main_window.h"

#include "app/widgets/text.h"

#include <QCloseEvent>
#include <QFileDialog>
#include <QFileInfo>
#include <QMenu>
#include <QSettings>

namespace badger::app
{

namespace
{

constexpr int mostRecent = 8;
const auto fileFilter = QStringLiteral("Swift Badger workshop (*.badger.json);;All files (*)");
const auto recentKey = QStringLiteral("recent");

} // namespace

void MainWindow::whenSaved(const QString &what, const std::function<void()> &go)
{
    if (!m_document.isModified()) {
        m_messages->close();
        return go();
    }
    // What was rescued stays until something else was opened or saved: going may fail.
    m_messages->say(tr("%1 has unsaved changes.").arg(m_document.title()), MessageBar::Kind::Quiet,
                    MessageBar::Until::Saved,
                    {{tr("Save, then %1").arg(what.toLower()),
                      [this, go] {
                          if (save())
                              go();
                      }},
                     {tr("%1 without saving").arg(what), go}});
}

void MainWindow::newWorkshop()
{
    whenSaved(tr("Start anew"), [this] { m_document.startEmpty(); });
}

void MainWindow::openDialog()
{
    const auto path = QFileDialog::getOpenFileName(this, tr("Open a workshop"),
                                                   QFileInfo(m_document.path()).path(), fileFilter);
    if (!path.isEmpty())
        openFile(path);
}

void MainWindow::openFile(const QString &path)
{
    whenSaved(tr("Open"), [this, path] {
        if (const auto ok = m_document.open(path); !ok)
            m_messages->say(tr("Not opened. %1").arg(str(ok.error().text())),
                            MessageBar::Kind::Error, MessageBar::Until::Dismissed);
        else
            remember(m_document.path());
    });
}

bool MainWindow::save()
{
    if (m_document.path().isEmpty())
        return saveAs();
    if (const auto ok = m_document.save(); !ok) {
        sayStorageError(ok.error());
        return false;
    }
    m_messages->close();
    remember(m_document.path());
    return true;
}

bool MainWindow::saveAs()
{
    const auto path =
        QFileDialog::getSaveFileName(this, tr("Save the workshop"), m_document.path(), fileFilter);
    return !path.isEmpty() && saveTo(path);
}

bool MainWindow::saveTo(const QString &chosen)
{
    const bool complete = !QFileInfo(chosen).suffix().isEmpty();
    const auto path = complete ? chosen : chosen + ".badger.json";
    // The dialog asked about the name as it was typed, not about this one.
    if (!complete && QFileInfo::exists(path)) {
        m_messages->say(tr("%1 is there already.").arg(QFileInfo(path).fileName()),
                        MessageBar::Kind::Error, MessageBar::Until::Saved,
                        {{tr("Replace it"), [this, path] { saveTo(path); }},
                         {tr("Save under another name"), [this] { saveAs(); }}});
        return false;
    }
    if (const auto ok = m_document.saveAs(path); !ok) {
        sayStorageError(ok.error());
        return false;
    }
    m_messages->close();
    remember(m_document.path());
    return true;
}

void MainWindow::openWhatIsThere()
{
    if (const auto ok = m_document.open(m_document.path()); !ok)
        m_messages->say(str(ok.error().text()), MessageBar::Kind::Error,
                        MessageBar::Until::Dismissed);
}

void MainWindow::sayStorageError(const Error &error)
{
    std::vector<MessageBar::Choice> choices = {
        {tr("Save under another name"), [this] { saveAs(); }}};
    if (error.kind == Error::Kind::Conflict) {
        choices.push_back({tr("Save here anyway"), [this] {
                               if (const auto ok = m_document.save(Document::IfChanged::Overwrite);
                                   !ok)
                                   sayStorageError(ok.error());
                           }});
        choices.push_back({tr("Open what is there now"), [this] { openWhatIsThere(); }});
    }
    m_messages->say(tr("Not saved; your work is still here. %1").arg(str(error.text())),
                    MessageBar::Kind::Error, MessageBar::Until::Saved, std::move(choices));
}

void MainWindow::remember(const QString &path)
{
    QSettings settings;
    auto recent = settings.value(recentKey).toStringList();
    recent.removeAll(path);
    recent.prepend(path);
    settings.setValue(recentKey, QStringList(recent.mid(0, mostRecent)));
    refreshRecent();
}

void MainWindow::refreshRecent()
{
    m_recent->clear();
    for (const auto &path : QSettings().value(recentKey).toStringList()) {
        const auto name = QFileInfo(path).fileName().replace('&', "&&");
        auto *a = m_recent->addAction(tr("%1  in  %2").arg(name, QFileInfo(path).path()));
        connect(a, &QAction::triggered, this, [this, path] { openFile(path); });
    }
    m_recent->setEnabled(!m_recent->isEmpty());
}

void MainWindow::offerRecovered()
{
    const auto left = m_recovery.findLeft();
    if (left.empty())
        return;
    if (!m_messages->message().isEmpty()) { // what is said already is read first
        connect(m_messages, &MessageBar::closed, this, &MainWindow::offerRecovered,
                Qt::ConnectionType(Qt::QueuedConnection | Qt::SingleShotConnection));
        return;
    }
    const auto recovered = left.front();
    m_messages->say(
        tr("Unsaved work on %1 was rescued from a program that was ended.")
            .arg(str(recovered.workshop.name)),
        MessageBar::Kind::Quiet, MessageBar::Until::Dismissed,
        {{tr("Open it"),
          [this, recovered] { whenSaved(tr("Open it"), [=, this] { openRescued(recovered); }); }},
         {tr("Throw it away"), [this, recovered] {
              Recovery::remove(recovered);
              offerRecovered();
          }}});
}

void MainWindow::openRescued(const Recovered &recovered)
{
    m_document.openRecovered(recovered.workshop, recovered.originalPath, recovered.mark);
    m_recovery.writeNow(); // ours now, before the old one goes
    Recovery::remove(recovered);
}

void MainWindow::closeEvent(QCloseEvent *event)
{
    if (m_closing || !m_document.isModified()) {
        m_recovery.forget();
        event->accept();
        return;
    }
    event->ignore();
    whenSaved(tr("Close"), [this] {
        m_closing = true;
        close();
    });
}

void MainWindow::changeEvent(QEvent *event)
{
    QMainWindow::changeEvent(event);
    if (event->type() == QEvent::ActivationChange && isActiveWindow())
        noticeOtherProgram();
}

void MainWindow::noticeOtherProgram()
{
    if (!m_document.changedOnDisk()) {
        m_noticed = false;
        return;
    }
    if (m_noticed)
        return;
    m_noticed = true;
    m_messages->say(tr("Another program has changed %1. Your work is still here.")
                        .arg(QFileInfo(m_document.path()).fileName()),
                    MessageBar::Kind::Error, MessageBar::Until::Saved,
                    {{tr("Open what is there now"), [this] { openWhatIsThere(); }}});
}

} // namespace badger::app
