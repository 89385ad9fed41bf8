// SPDX-License-Identifier: GPL-3.0-or-later
// A desk that stands at the Wire station of one car.
#pragma once

#include "support/desk.h"

namespace badger::test
{

struct WireDesk : Desk {
    explicit WireDesk(const QString &car,
                      app::WireStation::Page page = app::WireStation::Page::Harness)
    {
        session.selectCar(car);
        go(judge::Station::Wire);
        wire()->showPage(page);
        settle();
    }
    static void settle()
    {
        QCoreApplication::sendPostedEvents(nullptr, QEvent::DeferredDelete);
        QApplication::processEvents();
    }
    void click(const char *name)
    {
        now<QPushButton>(name)->click();
        settle();
    }
    app::BenchView *bench() const { return now<app::BenchView>("benchView"); }
    void press(int key)
    {
        auto *view = bench();
        view->setFocus();
        QTest::keyClick(view, Qt::Key(key));
        settle();
    }
    const app::BenchItem &item() const
    {
        return wire()->benchPage().items()[size_t(wire()->benchPage().at())];
    }
    bool finds(const char *code) const
    {
        return test::find(session.current()->wire.findings, code) != nullptr;
    }
    /// The bench is at its first step of the walk.
    void wireAll()
    {
        while (item().hand)
            press(Qt::Key_Space);
    }
};

} // namespace badger::test
