// SPDX-License-Identifier: GPL-3.0-or-later
// A window at the Tune station.
#pragma once

#include "app/tune/tune_station.h"
#include "support/desk.h"

namespace badger::test
{

struct TuneDesk : Desk {
    explicit TuneDesk(const QString &car) : Desk(car)
    {
        go(judge::Station::Tune);
        station = qobject_cast<app::TuneStation *>(window->station(judge::Station::Tune));
    }
    const tune::Record &last() const { return session.workshop().records.back(); }
    size_t records() const { return session.workshop().records.size(); }
    QPushButton *button(const char *name) const { return child<QPushButton>(name); }
    QString text(const char *name) const { return child<QLabel>(name)->text(); }
    void typeIn(const QString &words)
    {
        auto *field = child<QLineEdit>("typed");
        field->setText(words);
        QTest::keyClick(field, Qt::Key_Return);
    }
    app::TuneStation *station = nullptr;
};

} // namespace badger::test
