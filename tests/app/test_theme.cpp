// SPDX-License-Identifier: GPL-3.0-or-later
#include "app/theme/theme.h"
#include "app/widgets/marks.h"
#include "support/fixture.h"

#include <QDir>
#include <QFontDatabase>
#include <QFontInfo>
#include <QImage>
#include <QSignalSpy>

using namespace badger;
using app::Theme;
using app::Tone;

namespace
{

double channel(double c)
{
    return c <= 0.03928 ? c / 12.92 : std::pow((c + 0.055) / 1.055, 2.4);
}

double luminance(const QColor &c)
{
    return 0.2126 * channel(c.redF()) + 0.7152 * channel(c.greenF()) + 0.0722 * channel(c.blueF());
}

double contrast(const QColor &a, const QColor &b)
{
    const double la = luminance(a);
    const double lb = luminance(b);
    return (std::max(la, lb) + 0.05) / (std::min(la, lb) + 0.05);
}

} // namespace

class TestTheme final : public QObject
{
    Q_OBJECT
private slots:
    void textHasContrast_data()
    {
        QTest::addColumn<int>("palette");
        QTest::newRow("light") << int(Theme::Palette::Light);
        QTest::newRow("dark") << int(Theme::Palette::Dark);
        QTest::newRow("projector") << int(Theme::Palette::Projector);
    }
    void textHasContrast()
    {
        QFETCH(int, palette);
        Theme t;
        t.setPalette(Theme::Palette(palette));
        for (const auto ground : {Tone::Paper, Tone::Sheet})
            for (const auto ink : {Tone::Ink, Tone::Ink2, Tone::Ochre, Tone::Result, Tone::Brick})
                QVERIFY2(contrast(t.color(ink), t.color(ground)) >= 4.5,
                         qPrintable(QStringLiteral("tone %1 on %2: %3")
                                        .arg(int(ink))
                                        .arg(int(ground))
                                        .arg(contrast(t.color(ink), t.color(ground)))));
        // Words stand on what the car does.
        for (const auto act :
             {rules::Act::Go, rules::Act::Stand, rules::Act::Back, rules::Act::Turn})
            QVERIFY(contrast(t.color(Tone::Ink), t.color(act)) >= 4.5);
        // What is selected is still read.
        QVERIFY(contrast(t.color(Tone::Sheet), t.color(Tone::Ochre)) >= 4.5);
    }

    void fontsAreTheEmbeddedOnes()
    {
        QVERIFY(Theme::loadFonts());
        Theme t;
        QCOMPARE(QFontInfo(t.text()).family(), QString("Badger Text"));
        QCOMPARE(QFontInfo(t.figures()).family(), QString("Badger Figures"));
        QVERIFY(!QFontInfo(t.text()).fixedPitch());
        // Figures line up.
        const QFontMetrics m(t.text());
        for (char c = '1'; c <= '9'; ++c)
            QCOMPARE(m.horizontalAdvance(QLatin1Char(c)), m.horizontalAdvance('0'));
    }

    void projectorIsHalfAsLargeAgain()
    {
        Theme t;
        const int body = t.size(app::Type::Body);
        QSignalSpy changed(&t, &Theme::changed);
        t.setPalette(Theme::Palette::Projector);
        QCOMPARE(t.size(app::Type::Body), body * 3 / 2);
        QCOMPARE(changed.count(), qsizetype(1));
        t.setPalette(Theme::Palette::Projector);
        QCOMPARE(changed.count(), qsizetype(1));
    }

    void wiresKnowTheirColours()
    {
        Theme t;
        QVERIFY(Theme::wireNames().size() >= 10);
        for (const auto &name : Theme::wireNames())
            QVERIFY(t.wire(name).isValid());
        QCOMPARE(t.wire("no such colour"), t.color(Tone::Ink));
    }

    void everyIconDraws()
    {
        Theme t;
        const auto files = QDir(":/icons").entryList({"*.svg"});
        QVERIFY(files.size() >= 8);
        for (const auto &file : files) {
            const auto image = app::icon(QString(file).remove(".svg"), t).pixmap(20, 20).toImage();
            bool drawn = false;
            for (int y = 0; y < image.height() && !drawn; ++y)
                for (int x = 0; x < image.width() && !drawn; ++x)
                    drawn = qAlpha(image.pixel(x, y)) > 0;
            QVERIFY2(drawn, qPrintable(file));
        }
        QVERIFY(app::icon("none", t).isNull());
    }

    void marksDifferInShape()
    {
        // Without their colours the five states must still be told apart.
        Theme t;
        std::vector<QImage> shapes;
        for (int s = 0; s < 5; ++s) {
            QImage image(24, 24, QImage::Format_ARGB32);
            image.fill(Qt::transparent);
            QPainter p(&image);
            app::paintMark(p, QRectF(4, 4, 16, 16), judge::GateState(s), t);
            p.end();
            shapes.push_back(image.createAlphaMask());
        }
        for (size_t a = 0; a < shapes.size(); ++a)
            for (size_t b = 0; b < a; ++b)
                QVERIFY(shapes[a] != shapes[b]);
    }
};

BADGER_TEST(TestTheme)
#include "test_theme.moc"
