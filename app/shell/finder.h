// SPDX-License-Identifier: GPL-3.0-or-later
// One field that finds anything: a car, a pin, a finding, a value, a command.
#pragma once

#include "app/shell/session.h"

#include <QLineEdit>
#include <functional>

class QAction;
class QCompleter;
class QLabel;
class QStandardItemModel;

namespace badger::app
{

/// Looks through every car, the selected one's things first. What is not there is said.
class Finder final : public QLineEdit
{
    Q_OBJECT
public:
    Finder(Session &session, QWidget *parent = nullptr);
    void setCommands(const QList<QAction *> &commands) { m_commands = commands; }
    /// What would be found, in order. For tests.
    QStringList matches(const QString &text);

protected:
    void focusInEvent(QFocusEvent *event) override;
    void focusOutEvent(QFocusEvent *event) override;
    void keyPressEvent(QKeyEvent *event) override;

private:
    struct Place {
        QString text;
        std::function<void()> go;
    };
    void collect();
    void collectCar(const kit::Car &car);
    void add(const QString &text, std::function<void()> go);
    void addPlace(const kit::Car &car, const QString &text, const QString &target);
    void go(const QString &entry);
    void sayNothing();

    Session &m_session;
    QList<QAction *> m_commands;
    QCompleter *m_completer;
    QStandardItemModel *m_model;
    QLabel *m_nothing = nullptr; ///< under the field, while nothing is found
    std::vector<Place> m_places;
};

} // namespace badger::app
