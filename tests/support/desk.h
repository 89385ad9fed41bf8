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

inline void write(const QString &path, const QByteArray &bytes)
{
    QFile f(path);
    QVERIFY(f.open(QIODevice::WriteOnly));
    f.write(bytes);
}

inline QByteArray contents(const QString &path)
{
    QFile f(path);
    return f.open(QIODevice::ReadOnly) ? f.readAll() : QByteArray();
}

class Desk
{
public:
    /// The same with another car of the demo picked.
    explicit Desk(const QString &car) : Desk() { session.selectCar(car); }
    Desk() : recovery(document, folder.filePath("recovery"))
    {
        QSettings::setPath(QSettings::NativeFormat, QSettings::UserScope, folder.path());
        app::Theme::loadFonts();
        theme.apply(*qApp);
        document.startDemo();
        window = std::make_unique<app::MainWindow>(document, session, recovery, theme);
        window->resize(1280, 800);
        window->show();
        QApplication::processEvents();
    }

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
    void go(judge::Station s)
    {
        session.selectStation(s);
        QApplication::processEvents();
    }
    app::SentencePage *sentences() const { return rule()->findChild<app::SentencePage *>(); }
    /// Types over a value of the program's sentences: "value:halt".
    void say(const QString &target, const QString &text) const
    {
        auto *page = sentences();
        page->open(target);
        auto *field = page->findChild<QLineEdit *>("typeOver");
        field->setText(text);
        QTest::keyClick(field, Qt::Key_Return);
    }
    /// Takes another word in them, by its place among those that can stand there.
    void take(const QString &target, int option) const { emit sentences()->chosen(target, option); }
    /// With plain spaces between numbers and their units.
    QString headline() const
    {
        return child<QLabel>("headline")->text().replace(QChar(QChar::Nbsp), ' ');
    }

    /// Types into a field as a person does: over what is there, and then Enter.
    static void type(QLineEdit *field, const QString &text)
    {
        field->setFocus();
        field->selectAll();
        QTest::keyClicks(field, text);
        QTest::keyClick(field, Qt::Key_Return);
    }
    /// A child as it is now: pages make some of theirs anew with every edit.
    template <class T> T *now(const QString &name) const
    {
        QCoreApplication::sendPostedEvents(nullptr, QEvent::DeferredDelete);
        QApplication::processEvents();
        return child<T>(name.toUtf8().constData());
    }
    void choose(const char *name, const QString &text) const
    {
        auto *box = now<QComboBox>(name);
        const int index = box->findText(text);
        QVERIFY2(index >= 0, qPrintable(text));
        box->setCurrentIndex(index);
        emit box->activated(index);
    }
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
