// SPDX-License-Identifier: GPL-3.0-or-later
#include "app/document/edits.h"

#include "core/io/shipped.h"
#include "core/io/workshop_file.h"

#include <optional>

namespace badger::app
{

Edit::Edit(Document &document, const QString &text, workshop::Workshop after, int drag)
    : QUndoCommand(text), m_document(document), m_other(std::move(after)), m_drag(drag)
{
}

void Edit::redo()
{
    m_other = m_document.exchange(std::move(m_other));
}
void Edit::undo()
{
    m_other = m_document.exchange(std::move(m_other));
}

bool Edit::mergeWith(const QUndoCommand *newer)
{
    // The newer one has been done: the document holds its outcome, and this one still holds what
    // was there before the drag began.
    if (m_drag == noDrag || newer->id() != m_drag)
        return false;
    if (m_other == m_document.workshop())
        setObsolete(true);
    return true;
}

Result<void> change(Document &document, const QString &text,
                    const std::function<void(workshop::Workshop &)> &edit, int drag)
{
    auto after = document.workshop();
    edit(after);
    if (after == document.workshop())
        return {};
    // What is taken can also be saved and opened again: the reader itself is asked.
    const auto &before = document.workshop();
    const auto own =
        after.parts.shares(before.parts) ? std::nullopt : std::optional(io::catalogueOf(after));
    if (const auto ok = io::takesBack(after, before, own ? *own : document.catalogue()); !ok) {
        auto error = ok.error();
        if (english(error.where).starts_with('/'))
            error.where = {}; // a place in a file says nothing to somebody at a field
        return tl::unexpected(error);
    }
    document.undoStack().push(new Edit(document, text, std::move(after), drag));
    return {};
}

namespace
{

/// Looks without making any piece its own.
template <class T> std::optional<size_t> indexOf(const Pieces<T> &all, const Id<T> &id)
{
    for (size_t i = 0; i < all.size(); ++i)
        if (all[i].id == id)
            return i;
    return std::nullopt;
}

} // namespace

Result<void> changeCar(Document &document, const QString &text, const Id<kit::Car> &id,
                       const std::function<void(kit::Car &)> &edit, int drag)
{
    return change(
        document, text,
        [&](workshop::Workshop &w) {
            if (const auto i = indexOf(w.cars, id))
                edit(w.cars[*i]);
        },
        drag);
}

Result<void> changeProgram(Document &document, const QString &text, const Id<rules::Program> &id,
                           const std::function<void(rules::Program &)> &edit, int drag)
{
    return change(
        document, text,
        [&](workshop::Workshop &w) {
            const auto i = indexOf(w.programs, id);
            if (!i)
                return;
            auto &p = w.programs[*i];
            const auto before = p;
            edit(p);
            // That it was written now changes nothing of what was written.
            auto written = before;
            written.writtenVersion = p.writtenVersion;
            if (!(p == written) && p.version <= p.writtenVersion)
                p.version = p.writtenVersion + 1;
        },
        drag);
}

int nextDrag()
{
    static int drag = 0; // only the interface thread edits
    return ++drag;
}

} // namespace badger::app
