// SPDX-License-Identifier: GPL-3.0-or-later
// The floors of the workshop to choose from, and a new one.
#pragma once

#include "app/shell/session.h"

#include <QComboBox>

namespace badger::app
{

class FloorChoice final : public QComboBox
{
    Q_OBJECT
public:
    FloorChoice(Session &session, const char *name, QWidget *parent = nullptr);
    void refresh();

signals:
    void newWanted();

private:
    Session &m_session;
};

} // namespace badger::app
