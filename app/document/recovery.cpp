// SPDX-License-Identifier: GPL-3.0-or-later
#include "app/document/recovery.h"

#include "core/io/workshop_file.h"

#include <QCoreApplication>
#include <QDir>
#include <QFile>
#include <QFileInfo>
#include <QUuid>

namespace badger::app
{

namespace
{

constexpr int pause_ms =
    1500; // after the last edit: short against a lost edit, long against a drag
const auto suffix = QStringLiteral(".recovery.json");
const auto pathSuffix = QStringLiteral(".path");
const auto lockSuffix = QStringLiteral(".lock");

} // namespace

Recovery::Recovery(Document &document, const QString &folder, QObject *parent)
    : QObject(parent), m_document(document), m_folder(folder),
      m_id(QUuid::createUuid().toString(QUuid::WithoutBraces))
{
    m_timer.setSingleShot(true);
    m_timer.setInterval(pause_ms);
    connect(&m_timer, &QTimer::timeout, this, &Recovery::writeNow);
}

Recovery::~Recovery()
{
    forget();
}

void Recovery::start()
{
    connect(&m_document, &Document::changed, this, [this] { m_timer.start(); });
    connect(&m_document, &Document::titleChanged, this, [this] {
        if (!m_document.isModified())
            forget();
    });
}

QString Recovery::file() const
{
    return m_folder + "/" + m_id + suffix;
}

void Recovery::writeNow()
{
    m_timer.stop();
    if (!m_document.isModified())
        return;
    QDir().mkpath(m_folder);
    if (!m_lock) {
        m_lock = std::make_unique<QLockFile>(file() + lockSuffix);
        m_lock->setStaleLockTime(0); // stale only when its process is gone
        m_lock->tryLock(0);
    }
    const auto saved = io::saveFile(file().toStdString(), io::writeWorkshop(m_document.workshop()));
    if (saved)
        (void)io::saveFile((file() + pathSuffix).toStdString(), m_document.path().toStdString());
    if (!saved && !m_failureSaid) {
        m_failureSaid = true; // once is enough: the work itself is untouched
        emit failed(QString::fromStdString(saved.error().text()));
    }
}

void Recovery::forget()
{
    m_timer.stop();
    QFile::remove(file());
    QFile::remove(file() + pathSuffix);
    m_lock.reset();
}

std::vector<Recovered> Recovery::findLeft() const
{
    std::vector<Recovered> left;
    const auto names = QDir(m_folder).entryList({"*" + suffix}, QDir::Files, QDir::Time);
    for (const auto &name : names) {
        const auto path = m_folder + "/" + name;
        if (path == file())
            continue;
        QLockFile lock(path + lockSuffix);
        lock.setStaleLockTime(0);
        if (!lock.tryLock(0))
            continue; // its program still runs
        const auto text = io::readFile(path.toStdString());
        auto workshop = text ? io::readWorkshop(*text) : tl::unexpected(text.error());
        if (!workshop)
            continue;
        const auto original = io::readFile((path + pathSuffix).toStdString());
        left.push_back(
            {path, original ? QString::fromStdString(*original) : QString(), std::move(*workshop)});
    }
    return left;
}

void Recovery::remove(const Recovered &recovered)
{
    QFile::remove(recovered.file);
    QFile::remove(recovered.file + pathSuffix);
}

} // namespace badger::app
