// SPDX-License-Identifier: GPL-3.0-or-later
// One switch shows every length in another unit, and changes none.
#include "app/widgets/quantity_field.h"
#include "app/widgets/text.h"
#include "core/io/workshop_file.h"
#include "support/desk.h"

#include <QRegularExpression>

using namespace badger;
using namespace badger::app;
using judge::Station;

namespace
{

QAction *choice(MainWindow &window, const QString &word)
{
    for (auto *a : window.findChildren<QAction *>())
        if (a->text().remove('&').contains(word) && !a->menu())
            return a;
    return nullptr;
}

void choose(test::Desk &d, const QString &word)
{
    choice(*d.window, word)->trigger();
    QCoreApplication::processEvents();
    QCoreApplication::sendPostedEvents(nullptr, QEvent::DeferredDelete);
}

/// Everything that stands on labels and in fields of the station that is shown.
QStringList shown(const MainWindow &window)
{
    QStringList all;
    for (const auto *l : window.findChildren<QLabel *>())
        if (l->isVisible())
            all << l->text().replace(QChar(QChar::Nbsp), ' ');
    for (const auto *f : window.findChildren<QuantityField *>())
        if (f->isVisible())
            all << f->text();
    return all;
}

} // namespace

class TestLengths final : public QObject
{
    Q_OBJECT
private slots:
    void cleanup() { listener().display = {}; }

    void everyStationFollowsAndNothingStoredDoes()
    {
        test::Desk d;
        d.go(Station::Rule);
        const auto before = io::writeWorkshop(d.document.workshop());
        QVERIFY(shown(*d.window).join('\n').contains("25.9 cm"));
        choose(d, "inches");
        static const QRegularExpression metric("\\d (cm|mm)\\b");
        for (const auto station : {Station::Kit, Station::Rule, Station::Floor, Station::Log}) {
            d.go(station);
            const auto all = shown(*d.window);
            QVERIFY(all.join('\n').contains(" in"));
            for (const auto &text : all)
                QVERIFY2(!metric.match(text).hasMatch(), qPrintable(text));
        }
        QCOMPARE(io::writeWorkshop(d.document.workshop()), before);
        QVERIFY(!d.document.isModified());
        choose(d, "as usual");
        d.go(Station::Rule);
        QVERIFY(shown(*d.window).join('\n').contains("25.9 cm"));
    }

    /// 32 cm are shown as 12.6 in; looking at it and leaving must not store 12.6 in.
    void leavingAFieldKeepsTheStoredValue()
    {
        listener().display.length = units::Unit::Inch;
        QuantityField f(units::Dimension::Length, units::Unit::Centimetre);
        f.setValue(0.32);
        f.show();
        QCOMPARE(f.text(), QString("12.6 in"));
        QSignalSpy taken(&f, &QuantityField::taken);
        QTest::keyClick(&f, Qt::Key_Return);
        QCOMPARE(taken.count(), qsizetype(0));
        test::Desk::type(&f, "11,5in");
        QCOMPARE(taken.count(), qsizetype(1));
        QVERIFY(std::abs(taken[0][0].toDouble() - 0.2921) < 1e-12);
    }
};

BADGER_TEST(TestLengths)
#include "test_lengths.moc"
