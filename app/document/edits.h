// SPDX-License-Identifier: GPL-3.0-or-later
// How is the workshop changed so that it can be undone?
#pragma once

#include "app/document/document.h"

#include <QUndoCommand>
#include <functional>

namespace badger::app
{

/// One edit: the whole workshop before and after. The two share every piece that the edit left
/// alone, so swapping the value is cheaper than a command class for each field, and undo cannot
/// miss a part.
///
/// Edits of one drag carry the same number and merge into one step; a drag that ends where it
/// began leaves no step.
class Edit final : public QUndoCommand
{
public:
    static constexpr int noDrag = -1;

    /// `after` must differ from the document's workshop; see change().
    Edit(Document &document, const QString &text, workshop::Workshop after, int drag = noDrag);
    void redo() override;
    void undo() override;
    int id() const override { return m_drag; }
    bool mergeWith(const QUndoCommand *newer) override;

private:
    Document &m_document;       // outlives its undo stack
    workshop::Workshop m_other; ///< whichever is not in the document now
    int m_drag;
};

/// Applies `edit` to a copy of the workshop and pushes it as one named step. Refuses what the file
/// could not hold (the reason comes back, nothing has changed). No difference: no step.
Result<void> change(Document &document, const QString &text,
                    const std::function<void(workshop::Workshop &)> &edit, int drag = Edit::noDrag);

/// As change(), on one car. No such car: nothing to do.
Result<void> changeCar(Document &document, const QString &text, const Id<kit::Car> &id,
                       const std::function<void(kit::Car &)> &edit, int drag = Edit::noDrag);

/// As change(), on one program. The version grows with the first edit after the program
/// was written for the board.
Result<void> changeProgram(Document &document, const QString &text, const Id<rules::Program> &id,
                           const std::function<void(rules::Program &)> &edit,
                           int drag = Edit::noDrag);

/// A number for the next drag.
int nextDrag();

} // namespace badger::app
