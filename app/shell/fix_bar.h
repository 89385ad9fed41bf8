// SPDX-License-Identifier: GPL-3.0-or-later
// What a car would be with a fix: said over its picture, and taken or left.
#pragma once

#include "core/judge/station.h"

#include <QFrame>

class QLabel;

namespace badger::app
{

class Session;
class Theme;

/// Shown at the station whose picture shows the fix that is looked at; that draws the car with it.
class FixBar final : public QFrame
{
    Q_OBJECT
public:
    FixBar(Session &session, const Theme &theme, judge::Station where, QWidget *parent = nullptr);
    /// Is there a fix that is to be shown here?
    bool shows() const;

private:
    void refresh();

    Session &m_session;
    judge::Station m_where;
    QLabel *m_words;
};

} // namespace badger::app
