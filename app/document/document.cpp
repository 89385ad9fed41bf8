// SPDX-License-Identifier: GPL-3.0-or-later
#include "app/document/document.h"

#include "app/widgets/text.h"
#include "core/floor/generate.h"
#include "core/io/shipped.h"
#include "core/io/workshop_file.h"

#include <QFileInfo>
#include <utility>

namespace badger::app
{

Document::Document(IdSource ids, QObject *parent) : QObject(parent), m_ids(std::move(ids))
{
    connect(&m_undo, &QUndoStack::cleanChanged, this, &Document::titleChanged);
    startEmpty();
}

QString Document::title() const
{
    const auto name = str(m_workshop.name);
    return name.isEmpty() ? tr("Untitled workshop") : name;
}

void Document::take(workshop::Workshop workshop, const QString &path,
                    std::optional<io::ContentMark> mark)
{
    m_undo.clear();
    m_workshop = std::move(workshop);
    renewCatalogue();
    m_path = path;
    m_mark = mark;
    emit reset();
    emit changed();
    emit titleChanged();
}

void Document::renewCatalogue()
{
    m_catalogue = io::catalogueOf(m_workshop);
}

void Document::startEmpty()
{
    workshop::Workshop empty;
    empty.name = "New workshop";
    // No first car meets "no floor".
    for (auto &f : floor::firstFloors()) {
        f.id = newId<floor::Floor>(m_ids);
        empty.floors.push_back(std::move(f));
    }
    take(std::move(empty), {}, std::nullopt);
}

void Document::startDemo()
{
    auto demo = io::readWorkshop(io::demoWorkshop());
    Q_ASSERT_X(demo, "startDemo", "the shipped demo workshop is read by its own tests");
    take(std::move(*demo), {}, std::nullopt);
}

Result<void> Document::open(const QString &path)
{
    const auto file = path.toStdString();
    const auto text = io::readFile(file);
    if (!text)
        return tl::unexpected(text.error());
    auto workshop = io::readWorkshop(*text);
    if (!workshop) {
        auto error = workshop.error();
        error.where = QFileInfo(path).fileName().toStdString() + ", " + error.where;
        return tl::unexpected(error);
    }
    take(std::move(*workshop), QFileInfo(path).absoluteFilePath(), io::markOf(*text));
    return {};
}

void Document::openRecovered(workshop::Workshop workshop, const QString &path,
                             std::optional<io::ContentMark> mark)
{
    // A file that nobody marked is taken for changed: saving over it asks first.
    constexpr io::ContentMark nobodys = 0;
    std::optional<io::ContentMark> known;
    if (!path.isEmpty())
        known = mark.value_or(nobodys);
    take(std::move(workshop), path, known);
    m_undo.resetClean();
    emit titleChanged();
}

Result<void> Document::write(const QString &path, std::optional<io::ContentMark> expected)
{
    const auto saved = io::saveFile(path.toStdString(), io::writeWorkshop(m_workshop), expected);
    if (!saved)
        return tl::unexpected(saved.error());
    m_path = QFileInfo(path).absoluteFilePath();
    m_mark = *saved;
    m_undo.setClean();
    emit titleChanged();
    return {};
}

Result<void> Document::save(IfChanged ifChanged)
{
    if (m_path.isEmpty())
        return fail(Error::Kind::Missing, title().toStdString(), "it has no file yet",
                    "save it under a name");
    return write(m_path, ifChanged == IfChanged::Refuse ? m_mark : std::nullopt);
}

Result<void> Document::saveAs(const QString &path)
{
    return write(path, std::nullopt);
}

bool Document::changedOnDisk() const
{
    if (m_path.isEmpty() || !m_mark)
        return false;
    const auto text = io::readFile(m_path.toStdString());
    return !text || io::markOf(*text) != *m_mark;
}

workshop::Workshop Document::exchange(workshop::Workshop workshop)
{
    std::swap(m_workshop, workshop);
    if (!m_workshop.parts.shares(workshop.parts))
        renewCatalogue();
    emit changed();
    return workshop;
}

} // namespace badger::app
