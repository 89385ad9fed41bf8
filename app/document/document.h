// SPDX-License-Identifier: GPL-3.0-or-later
// What is open, what has been done to it, and is it saved?
#pragma once

#include "core/io/storage.h"
#include "core/parts/catalogue.h"
#include "core/workshop/workshop.h"

#include <QObject>
#include <QUndoStack>
#include <memory>
#include <optional>

namespace badger::app
{

/// One open workshop with its undo stack. Every change of the workshop goes through an undo
/// command (see edits.h); views listen to changed() and ask core again.
class Document final : public QObject
{
    Q_OBJECT
public:
    /// `ids` gives new things their ids.
    explicit Document(IdSource ids = randomBits, QObject *parent = nullptr);

    const workshop::Workshop &workshop() const { return m_workshop; }
    /// The workshop's own parts and the shipped ones.
    const parts::Catalogue &catalogue() const { return m_catalogue; }
    QUndoStack &undoStack() { return m_undo; }
    const IdSource &ids() const { return m_ids; }

    QString path() const { return m_path; }
    std::optional<io::ContentMark> mark() const { return m_mark; }
    /// "Saltmarsh Sheds", for titles and messages.
    QString title() const;
    bool isModified() const { return !m_undo.isClean(); }

    /// An empty workshop, untitled.
    void startEmpty();
    /// The demo workshop, untitled, so that the shipped file is never written to.
    void startDemo();
    /// On an error nothing has changed.
    Result<void> open(const QString &path);
    /// What was rescued from a killed program: unsaved, and belonging to `path` (may be empty).
    /// `mark` is of that file as the killed program knew it: a change since then is a conflict.
    void openRecovered(workshop::Workshop workshop, const QString &path,
                       std::optional<io::ContentMark> mark);

    enum class IfChanged { Refuse, Overwrite };
    Result<void> save(IfChanged ifChanged = IfChanged::Refuse);
    Result<void> saveAs(const QString &path);
    /// True when the file on disk is no longer what was read or written here.
    bool changedOnDisk() const;

    /// For undo commands: puts `workshop` in and gives back what was there.
    workshop::Workshop exchange(workshop::Workshop workshop);

signals:
    void changed();      ///< the workshop's content
    void titleChanged(); ///< path or saved state
    void reset();        ///< another workshop was opened

private:
    void renewCatalogue();
    void take(workshop::Workshop workshop, const QString &path,
              std::optional<io::ContentMark> mark);
    Result<void> write(const QString &path, std::optional<io::ContentMark> expected);

    IdSource m_ids;
    workshop::Workshop m_workshop;
    parts::Catalogue m_catalogue;
    QUndoStack m_undo;
    QString m_path;
    std::optional<io::ContentMark> m_mark; ///< of the file as this program last saw it
};

} // namespace badger::app
