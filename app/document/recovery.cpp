// SPDX-License-Identifier: GPL-3.0-or-later
#include "app/document/recovery.h"

#include "app/widgets/text.h"
#include "core/io/workshop_file.h"

#include <QCoreApplication>
#include <QDateTime>
#include <QDir>
#include <QFile>
#include <QFileInfo>
#include <QJsonDocument>
#include <QJsonObject>
#include <QSysInfo>
#include <QUuid>

namespace badger::app
{

namespace
{

// From the first edit that is not in the copy: short against two seconds, so that the writing of a
// large workshop fits in as well; long against a drag, whose every step would be written otherwise.
constexpr int pause_ms = 700;
constexpr int heartbeat_ms = 60 * 1000;
constexpr qint64 foreignLockIsStale_s = 10 * 60;
constexpr unsigned ownerOnly = 0600;
const auto suffix = QStringLiteral(".recovery.json");
const auto aboutSuffix = QStringLiteral(".about");
const auto oldPathSuffix = QStringLiteral(".path"); // held the path alone
const auto lockSuffix = QStringLiteral(".lock");

/// What is known of the file that the work belongs to.
struct About {
    QString path;
    std::optional<io::ContentMark> mark;
};

std::string aboutText(const About &about)
{
    QJsonObject object{{"path", about.path}};
    if (about.mark)
        object["mark"] = QString::number(*about.mark, 16);
    return QJsonDocument(object).toJson().toStdString();
}

About aboutOf(const QString &file)
{
    if (const auto text = io::readFile((file + aboutSuffix).toStdString())) {
        const auto object = QJsonDocument::fromJson(QByteArray::fromStdString(*text)).object();
        bool isMark = false;
        const auto mark = object["mark"].toString().toULongLong(&isMark, 16);
        return {object["path"].toString(), isMark ? std::optional(mark) : std::nullopt};
    }
    const auto old = io::readFile((file + oldPathSuffix).toStdString());
    return {old ? str(*old) : QString(), std::nullopt};
}

/// The reason of a failure, or nothing.
QString writeCopy(const QString &file, const About &about, const workshop::Workshop &workshop)
{
    for (const auto &[path, text] :
         {std::pair{file + aboutSuffix, aboutText(about)}, {file, io::writeWorkshop(workshop)}})
        if (const auto saved = io::saveFile(path.toStdString(), text, {}, {}, ownerOnly); !saved)
            return str(saved.error().text());
    return {};
}

/// Does the program that holds this lock still run? One on another machine renews it.
bool isHeld(const QString &lockFile)
{
    QLockFile lock(lockFile);
    lock.setStaleLockTime(0); // stale only when its process is gone
    if (lock.tryLock(0))
        return false;
    qint64 process = 0;
    QString host;
    QString program;
    if (!lock.getLockInfo(&process, &host, &program) || host == QSysInfo::machineHostName())
        return true;
    const auto age_s = QFileInfo(lockFile).lastModified().secsTo(QDateTime::currentDateTime());
    return age_s < foreignLockIsStale_s;
}

} // namespace

Recovery::Recovery(Document &document, const QString &folder, QObject *parent)
    : QObject(parent), m_document(document), m_folder(folder),
      m_id(QUuid::createUuid().toString(QUuid::WithoutBraces))
{
    m_worker.setMaxThreadCount(1);
    m_timer.setSingleShot(true);
    m_timer.setInterval(pause_ms);
    connect(&m_timer, &QTimer::timeout, this, &Recovery::write);
    m_heartbeat.setInterval(heartbeat_ms);
    connect(&m_heartbeat, &QTimer::timeout, this, [this] {
        QFile lock(file() + lockSuffix);
        if (m_lock && lock.open(QIODevice::ReadWrite))
            lock.setFileTime(QDateTime::currentDateTime(), QFileDevice::FileModificationTime);
    });
}

Recovery::~Recovery()
{
    forget();
}

void Recovery::start()
{
    connect(&m_document, &Document::changed, this, [this] {
        m_behind = true;
        if (!m_timer.isActive() && !m_writing)
            m_timer.start();
    });
    connect(&m_document, &Document::titleChanged, this, [this] {
        if (!m_document.isModified())
            forget();
    });
}

QString Recovery::file() const
{
    return m_folder + "/" + m_id + suffix;
}

void Recovery::lock()
{
    QDir().mkpath(m_folder);
    QFile::setPermissions(m_folder, QFile::ReadOwner | QFile::WriteOwner | QFile::ExeOwner);
    if (m_lock)
        return;
    m_lock = std::make_unique<QLockFile>(file() + lockSuffix);
    m_lock->setStaleLockTime(0);
    m_lock->tryLock(0);
    m_heartbeat.start();
}

void Recovery::write()
{
    m_timer.stop();
    if (!m_document.isModified())
        m_behind = false;
    if (!m_behind || m_writing)
        return;
    lock();
    m_behind = false;
    m_writing = true;
    const auto snapshot = std::make_shared<const workshop::Workshop>(m_document.workshop());
    m_worker.start(
        [this, snapshot, file = file(), about = About{m_document.path(), m_document.mark()}] {
            const auto error = writeCopy(file, about, *snapshot);
            QMetaObject::invokeMethod(
                this, [this, error] { written(error); }, Qt::QueuedConnection);
        });
}

void Recovery::written(const QString &error)
{
    m_writing = false;
    if (!error.isEmpty() && !m_failureSaid) {
        m_failureSaid = true; // once is enough: the work itself is untouched
        emit failed(error);
    }
    if (m_behind)
        m_timer.start();
}

void Recovery::writeNow()
{
    m_timer.stop();
    m_worker.waitForDone();
    if (!m_document.isModified())
        return;
    lock();
    m_behind = false;
    const auto error =
        writeCopy(file(), {m_document.path(), m_document.mark()}, m_document.workshop());
    if (!error.isEmpty() && !m_failureSaid) {
        m_failureSaid = true;
        emit failed(error);
    }
}

void Recovery::forget()
{
    m_timer.stop();
    m_heartbeat.stop();
    m_worker.waitForDone(); // what it writes late would be found as left behind
    m_behind = false;
    for (const auto &ending : {QString(), aboutSuffix, oldPathSuffix})
        QFile::remove(file() + ending);
    m_lock.reset();
}

std::vector<Recovered> Recovery::findLeft() const
{
    std::vector<Recovered> left;
    const auto names = QDir(m_folder).entryList({"*" + suffix}, QDir::Files, QDir::Time);
    for (const auto &name : names) {
        const auto path = m_folder + "/" + name;
        if (path == file() || isHeld(path + lockSuffix))
            continue;
        const auto text = io::readFile(path.toStdString());
        auto workshop = text ? io::readWorkshop(*text) : tl::unexpected(text.error());
        if (!workshop)
            continue;
        const auto about = aboutOf(path);
        left.push_back({path, about.path, about.mark, std::move(*workshop)});
    }
    return left;
}

void Recovery::remove(const Recovered &recovered)
{
    for (const auto &ending : {QString(), aboutSuffix, oldPathSuffix, lockSuffix})
        QFile::remove(recovered.file + ending);
}

} // namespace badger::app
