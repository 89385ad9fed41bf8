// SPDX-License-Identifier: GPL-3.0-or-later
// One field that finds anything: a car, a pin, a finding, a value, a command.
#pragma once

#include "app/shell/session.h"

#include <QLineEdit>
#include <functional>

class QAction;
class QCompleter;
class QStandardItemModel;

namespace badger::app
{

class Finder final : public QLineEdit
{
    Q_OBJECT
public:
    Finder(Session &session, QWidget *parent = nullptr);
    void setCommands(const QList<QAction *> &commands) { m_commands = commands; }

protected:
    void focusInEvent(QFocusEvent *event) override;
    void keyPressEvent(QKeyEvent *event) override;

private:
    void collect();
    void go(const QString &entry);

    Session &m_session;
    QList<QAction *> m_commands;
    QCompleter *m_completer;
    QStandardItemModel *m_model;
    std::map<QString, std::function<void()>> m_places;
};

} // namespace badger::app
