// SPDX-License-Identifier: GPL-3.0-or-later
// What is left of unsaved work after the program was killed?
#pragma once

#include "app/document/document.h"

#include <QLockFile>
#include <QThreadPool>
#include <QTimer>
#include <memory>
#include <optional>
#include <vector>

namespace badger::app
{

/// Work that a killed program left behind.
struct Recovered {
    QString file;                        ///< in the recovery folder
    QString originalPath;                ///< of the workshop; empty when it had none
    std::optional<io::ContentMark> mark; ///< of that file, as the killed program last saw it
    workshop::Workshop workshop;
};

/// Writes unsaved work to a folder while it is edited, and removes it when the work is saved or
/// given up. At any pace of editing the copy is at most two seconds behind: the clock starts at the
/// first edit that is not in the copy, and later edits do not start it again. The file is written
/// by a worker; only the snapshot is taken here. Each running program has a file and a lock of its
/// own.
class Recovery final : public QObject
{
    Q_OBJECT
public:
    /// `folder` is made when first needed, readable by its owner alone. Does nothing until start().
    Recovery(Document &document, const QString &folder, QObject *parent = nullptr);
    ~Recovery() override;

    void start();
    /// Writes whatever is unsaved and waits until it is on the disk.
    void writeNow();
    /// Forgets this program's file: the work is saved or given up on purpose.
    void forget();
    /// Nothing is unsaved that is not in the copy. For tests.
    bool isUpToDate() const { return !m_behind && !m_writing; }

    /// What programs that no longer run have left; unreadable files are left where they are. A lock
    /// of another machine counts as left once nobody has renewed it for ten minutes.
    std::vector<Recovered> findLeft() const;
    static void remove(const Recovered &recovered);

signals:
    void failed(const QString &reason);

private:
    QString file() const;
    void write();
    void written(const QString &error);
    void lock();

    Document &m_document;
    QString m_folder;
    QString m_id;
    QTimer m_timer;
    QTimer m_heartbeat;
    QThreadPool m_worker;
    std::unique_ptr<QLockFile> m_lock;
    bool m_behind = false;  ///< edits are not in the copy
    bool m_writing = false; ///< the worker writes
    bool m_failureSaid = false;
};

} // namespace badger::app
