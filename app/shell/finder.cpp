// SPDX-License-Identifier: GPL-3.0-or-later
#include "app/shell/finder.h"

#include <QAbstractItemView>
#include <QAction>
#include <QCompleter>
#include <QKeyEvent>
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
}

void Finder::collect()
{
    m_places.clear();
    const auto add = [this](const QString &text, std::function<void()> go) {
        m_places[text] = std::move(go);
    };
    for (const auto &car : m_session.workshop().cars) {
        const auto name = QString::fromStdString(car.name);
        add(tr("car %1").arg(name), [this, name] { m_session.selectCar(name); });
    }
    for (const auto station : workshop::stations)
        add(tr("station %1").arg(workshop::name(station)),
            [this, station] { m_session.selectStation(station); });
    if (const auto *car = m_session.car())
        for (const auto &wire : car->wires) {
            const auto target = "terminal:" + QString::fromStdString(wire.from);
            add(tr("wire %1 to %2, %3")
                    .arg(QString::fromStdString(wire.from), QString::fromStdString(wire.to),
                         QString::fromStdString(wire.colour)),
                [this, target] { m_session.reveal(target); });
        }
    if (const auto *program = m_session.program())
        for (const auto &v : program->values) {
            const auto target = "value:" + QString::fromStdString(v.name);
            add(tr("value %1: %2")
                    .arg(QString::fromStdString(v.name), QString::fromStdString(v.meaning)),
                [this, target] { m_session.reveal(target); });
        }
    if (const auto *j = m_session.current())
        for (const auto &f : j->all()) {
            const auto target = QString::fromStdString(f.target);
            add(QStringLiteral("%1: %2").arg(name(f.severity), QString::fromStdString(f.what)),
                [this, target] { m_session.reveal(target); });
        }
    for (auto *action : m_commands)
        if (action->isEnabled() && !action->text().isEmpty())
            add(tr("command %1").arg(action->text().remove('&')), [action] { action->trigger(); });
    m_model->clear();
    for (const auto &[text, place] : m_places)
        m_model->appendRow(new QStandardItem(text));
}

void Finder::go(const QString &entry)
{
    const auto it = m_places.find(entry);
    if (it == m_places.end())
        return;
    const auto place = it->second;
    clear();
    clearFocus();
    place();
}

void Finder::focusInEvent(QFocusEvent *event)
{
    collect();
    QLineEdit::focusInEvent(event);
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
