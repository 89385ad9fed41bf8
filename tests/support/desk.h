// SPDX-License-Identifier: GPL-3.0-or-later
// The real window on the demo workshop, driven offscreen.
#pragma once

#include "app/document/edits.h"
#include "app/document/recovery.h"
#include "app/floor/floor_station.h"
#include "app/kit/kit_station.h"
#include "app/log/log_station.h"
#include "app/rule/rule_station.h"
#include "app/shell/main_window.h"
#include "app/wire/wire_station.h"
#include "support/fixture.h"

#include <QApplication>
#include <QCheckBox>
#include <QComboBox>
#include <QFile>
#include <QLabel>
#include <QPushButton>
#include <QSettings>
#include <QSignalSpy>
#include <QSpinBox>
#include <QTemporaryDir>
#include <QToolButton>

namespace badger::test
{

void write(const QString &path, const QByteArray &bytes);
QByteArray contents(const QString &path);

class Desk
{
public:
    /// The same with another car of the demo picked.
    explicit Desk(const QString &car) : Desk() { session.selectCar(car); }
    Desk();
    ~Desk();
    Desk(const Desk &) = delete;
    Desk &operator=(const Desk &) = delete;

    template <class T> T *child(const char *name) const
    {
        auto *found = window->findChild<T *>(name);
        if (found == nullptr)
            qFatal("the window has no %s", name);
        return found;
    }
    app::KitStation *kit() const { return station<app::KitStation>(judge::Station::Kit); }
    app::RuleStation *rule() const { return station<app::RuleStation>(judge::Station::Rule); }
    app::WireStation *wire() const { return station<app::WireStation>(judge::Station::Wire); }
    app::FloorStation *floor() const { return station<app::FloorStation>(judge::Station::Floor); }
    app::LogStation *log() const { return station<app::LogStation>(judge::Station::Log); }
    void go(judge::Station s);
    app::SentencePage *sentences() const { return rule()->findChild<app::SentencePage *>(); }
    /// Types over a value of the program's sentences: "value:halt".
    void say(const QString &target, const QString &text) const;
    /// Takes another word in them, by its place among those that can stand there.
    void take(const QString &target, int option) const;
    /// With plain spaces between numbers and their units.
    QString headline() const;

    /// Types into a field as a person does: over what is there, and then Enter.
    static void type(QLineEdit *field, const QString &text);
    /// A child as it is now: pages make some of theirs anew with every edit.
    template <class T> T *now(const QString &name) const
    {
        QCoreApplication::sendPostedEvents(nullptr, QEvent::DeferredDelete);
        QApplication::processEvents();
        return child<T>(name.toUtf8().constData());
    }
    void choose(const char *name, const QString &text) const;
    QString message() const { return window->messages().message(); }
    double threshold_m() const { return *session.stopRule().value->si; }

    QTemporaryDir folder;
    app::Theme theme;
    app::Document document;
    app::Session session{document};
    app::Recovery recovery;
    std::unique_ptr<app::MainWindow> window;

private:
    template <class T> T *station(judge::Station s) const
    {
        return qobject_cast<T *>(window->station(s));
    }
};

} // namespace badger::test
