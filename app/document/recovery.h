// SPDX-License-Identifier: GPL-3.0-or-later
// What is left of unsaved work after the program was killed?
#pragma once

#include "app/document/document.h"

#include <QLockFile>
#include <QTimer>
#include <memory>
#include <optional>
#include <vector>

namespace badger::app
{

/// Work that a killed program left behind.
struct Recovered {
    QString file;         ///< in the recovery folder
    QString originalPath; ///< of the workshop; empty when it had none
    workshop::Workshop workshop;
};

/// Writes unsaved work to a folder a moment after each edit, and removes it when the work is
/// saved or given up. Each running program has a file and a lock of its own.
class Recovery final : public QObject
{
    Q_OBJECT
public:
    /// `folder` is made when first needed. Does nothing until start().
    Recovery(Document &document, const QString &folder, QObject *parent = nullptr);
    ~Recovery() override;

    void start();
    /// Writes now whatever is unsaved (the timer does it otherwise).
    void writeNow();
    /// Forgets this program's file: the work is saved or given up on purpose.
    void forget();

    /// What programs that no longer run have left; unreadable files are left where they are.
    std::vector<Recovered> findLeft() const;
    static void remove(const Recovered &recovered);

signals:
    void failed(const QString &reason);

private:
    QString file() const;

    Document &m_document;
    QString m_folder;
    QString m_id;
    QTimer m_timer;
    std::unique_ptr<QLockFile> m_lock;
    bool m_failureSaid = false;
};

} // namespace badger::app
