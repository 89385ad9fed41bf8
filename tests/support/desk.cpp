// SPDX-License-Identifier: GPL-3.0-or-later
#include "support/desk.h"

namespace badger::test
{

void write(const QString &path, const QByteArray &bytes)
{
    QFile f(path);
    QVERIFY(f.open(QIODevice::WriteOnly));
    f.write(bytes);
}

QByteArray contents(const QString &path)
{
    QFile f(path);
    return f.open(QIODevice::ReadOnly) ? f.readAll() : QByteArray();
}

Desk::Desk() : recovery(document, folder.filePath("recovery"))
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

Desk::~Desk() = default;

void Desk::go(judge::Station s)
{
    session.selectStation(s);
    QApplication::processEvents();
}

void Desk::say(const QString &target, const QString &text) const
{
    auto *page = sentences();
    page->open(target);
    auto *field = page->findChild<QLineEdit *>("typeOver");
    field->setText(text);
    QTest::keyClick(field, Qt::Key_Return);
}

void Desk::take(const QString &target, int option) const
{
    emit sentences()->chosen(target, option);
}

QString Desk::headline() const
{
    return child<QLabel>("headline")->text().replace(QChar(QChar::Nbsp), ' ');
}

void Desk::type(QLineEdit *field, const QString &text)
{
    field->setFocus();
    field->selectAll();
    QTest::keyClicks(field, text);
    QTest::keyClick(field, Qt::Key_Return);
}

void Desk::choose(const char *name, const QString &text) const
{
    auto *box = now<QComboBox>(name);
    const int index = box->findText(text);
    QVERIFY2(index >= 0, qPrintable(text));
    box->setCurrentIndex(index);
    emit box->activated(index);
}

} // namespace badger::test
