// SPDX-License-Identifier: GPL-3.0-or-later
#include "app/document/edits.h"

#include "core/io/workshop_file.h"

#include <utility>

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
    // What is taken can also be saved and opened again: the reader itself is asked. Trials that were
    // not touched were asked before, and there may be thousands; that their cars exist is looked at
    // all the same.
    const auto trialsAsTheyWere = after.trials == document.workshop().trials;
    auto trials = trialsAsTheyWere ? std::exchange(after.trials, {})
                                   : std::vector<logbook::MeasuredTrial>{};
    const auto again = io::readWorkshop(io::writeWorkshop(after));
    if (trialsAsTheyWere)
        after.trials = std::move(trials);
    auto ok = again ? io::verify(after) : Result<void>(tl::unexpected(again.error()));
    if (!ok) {
        auto error = ok.error();
        if (error.where.starts_with('/'))
            error.where.clear(); // a place in a file says nothing to somebody at a field
        return tl::unexpected(error);
    }
    document.undoStack().push(new Edit(document, text, std::move(after), drag));
    return {};
}

Result<void> changeCar(Document &document, const QString &text, const std::string &name,
                       const std::function<void(kit::Car &)> &edit, int drag)
{
    return change(
        document, text,
        [&](workshop::Workshop &w) {
            for (auto &car : w.cars)
                if (car.name == name)
                    edit(car);
        },
        drag);
}

Result<void> changeProgram(Document &document, const QString &text, const std::string &program,
                           const std::function<void(rules::Program &)> &edit, int drag)
{
    return change(
        document, text,
        [&](workshop::Workshop &w) {
            for (auto &p : w.programs) {
                if (p.name != program)
                    continue;
                const auto before = p;
                edit(p);
                if (!(p == before) && p.version <= p.writtenVersion)
                    p.version = p.writtenVersion + 1;
            }
        },
        drag);
}

int nextDrag()
{
    static int drag = 0; // only the interface thread edits
    return ++drag;
}

} // namespace badger::app
