// SPDX-License-Identifier: GPL-3.0-or-later
#include "app/shell/finder.h"

#include "app/widgets/text.h"

#include <QAbstractItemView>
#include <QAction>
#include <QCompleter>
#include <QKeyEvent>
#include <QLabel>
#include <QStandardItemModel>

namespace badger::app
{

Finder::Finder(Session &session, QWidget *parent)
    : QLineEdit(parent), m_session(session), m_model(new QStandardItemModel(this))
{
    setPlaceholderText(tr("Find a car, pin, value, command: Ctrl+F"));
    setObjectName("finder");
    setClearButtonEnabled(false);
    m_completer = new QCompleter(m_model, this);
    m_completer->setCaseSensitivity(Qt::CaseInsensitive);
    m_completer->setFilterMode(Qt::MatchContains);
    m_completer->setMaxVisibleItems(12);
    setCompleter(m_completer);
    connect(m_completer, qOverload<const QString &>(&QCompleter::activated), this, &Finder::go,
            Qt::QueuedConnection);
    connect(this, &QLineEdit::textEdited, this, &Finder::sayNothing);
}

void Finder::add(const QString &text, std::function<void()> go)
{
    m_places.push_back({text, std::move(go)});
}

void Finder::addPlace(const kit::Car &car, const QString &text, const QString &target)
{
    const bool here = car.id == m_session.carId();
    add(here ? text : tr("%1: %2").arg(str(car.name), text), [this, id = car.id, target] {
        m_session.selectCar(id);
        m_session.reveal(target);
    });
}

void Finder::collectCar(const kit::Car &car)
{
    for (const auto &wire : car.wires)
        addPlace(car, tr("wire %1 to %2, %3").arg(str(wire.from), str(wire.to), str(wire.colour)),
                 "terminal:" + str(wire.from));
    if (const auto *board = kit::Assembly(car, m_session.catalogue()).first(parts::Kind::Board))
        for (const auto &t : m_session.catalogue().find(board->partId)->terminals) {
            if (t.role != parts::Role::Pin)
                continue;
            const auto full = board->id + "." + t.name;
            QStringList ends;
            for (const auto &w : car.wires)
                if (w.from == full || w.to == full)
                    ends << str(w.from == full ? w.to : w.from);
            addPlace(
                car,
                tr("pin %1: %2").arg(str(t.name), ends.isEmpty() ? tr("free") : ends.join(", ")),
                "terminal:" + str(full));
        }
    if (const auto *program = m_session.workshop().program(car.program))
        for (const auto &v : program->values)
            addPlace(car, tr("value %1: %2").arg(str(v.name), str(v.meaning)),
                     "value:" + str(v.name));
    if (const auto *j = m_session.judged(car.id))
        for (const auto &f : j->all())
            addPlace(car, tr("%1: %2").arg(name(f.severity), str(f.what)), str(f.target()));
}

void Finder::collect()
{
    m_places.clear();
    for (const auto &car : m_session.workshop().cars)
        add(tr("car %1").arg(str(car.name)), [this, id = car.id] { m_session.selectCar(id); });
    for (const auto station : judge::stations)
        add(tr("station %1").arg(judge::name(station)),
            [this, station] { m_session.selectStation(station); });
    const auto *present = m_session.car();
    if (present)
        collectCar(*present);
    for (auto *action : m_commands)
        if (action->isEnabled() && !action->text().isEmpty())
            add(tr("command %1").arg(action->text().remove('&')), [action] { action->trigger(); });
    for (const auto &car : m_session.workshop().cars)
        if (&car != present)
            collectCar(car);
    m_model->clear();
    for (const auto &place : m_places)
        m_model->appendRow(new QStandardItem(place.text));
}

QStringList Finder::matches(const QString &text)
{
    collect();
    QStringList found;
    for (const auto &place : m_places)
        if (place.text.contains(text, Qt::CaseInsensitive))
            found << place.text;
    return found;
}

void Finder::sayNothing()
{
    const auto wanted = text().trimmed();
    const bool nothing =
        !wanted.isEmpty() && std::none_of(m_places.begin(), m_places.end(), [&](const Place &p) {
            return p.text.contains(wanted, Qt::CaseInsensitive);
        });
    if (m_nothing == nullptr) {
        m_nothing = new QLabel(window());
        m_nothing->setObjectName("findNothing");
        m_nothing->setWordWrap(true);
    }
    m_nothing->setVisible(nothing);
    if (!nothing)
        return;
    m_nothing->setText(tr("Nothing here is called '%1'. Find looks through cars, wires, pins, "
                          "values, findings and commands.")
                           .arg(wanted.left(40)));
    m_nothing->setGeometry(QRect(mapTo(window(), QPoint(0, height() + 2)),
                                 QSize(width(), m_nothing->heightForWidth(width()))));
    m_nothing->raise();
}

void Finder::go(const QString &entry)
{
    const auto it = std::find_if(m_places.begin(), m_places.end(),
                                 [&](const Place &p) { return p.text == entry; });
    if (it == m_places.end())
        return;
    const auto place = it->go;
    clear();
    clearFocus();
    place();
}

void Finder::focusInEvent(QFocusEvent *event)
{
    collect();
    QLineEdit::focusInEvent(event);
}

void Finder::focusOutEvent(QFocusEvent *event)
{
    if (m_nothing)
        m_nothing->hide();
    QLineEdit::focusOutEvent(event);
}

void Finder::keyPressEvent(QKeyEvent *event)
{
    const bool enter = event->key() == Qt::Key_Return || event->key() == Qt::Key_Enter;
    if (enter && !text().isEmpty()) {
        // The first match is meant when none was picked from the list.
        m_completer->setCompletionPrefix(text());
        if (m_completer->completionCount() > 0)
            go(m_completer->completionModel()
                   ->index(std::max(0, m_completer->popup()->currentIndex().row()), 0)
                   .data()
                   .toString());
        else
            sayNothing();
        m_completer->popup()->hide();
        return;
    }
    if (event->key() == Qt::Key_Escape) {
        clear();
        clearFocus();
        return;
    }
    QLineEdit::keyPressEvent(event);
}

} // namespace badger::app
