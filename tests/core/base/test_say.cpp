// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/base/say.h"
#include "support/fixture.h"

using namespace badger;
using units::Unit;

namespace
{

QString said(const Say &text, const units::Display &display = {})
{
    return QString::fromStdString(english(text, display));
}

const units::Display inches{Unit::Inch};
const units::Display millimetres{Unit::Millimetre};

} // namespace

class TestSay final : public QObject
{
    Q_OBJECT
private slots:
    void placesTakeTheirArguments()
    {
        QCOMPARE(said(say("nothing to fill")), "nothing to fill");
        QCOMPARE(said(say("{} of {}", 3, "four")), "3 of four");
        QCOMPARE(said(say("{1} before {0}", "a", "b")), "b before a");
        QCOMPARE(said(say("{{{}}}", 1)), "{1}");
        QCOMPARE(said(say("{} %", units::number(12.50, 2))), "12.5 %");
        QCOMPARE(said(say("At worst {} are left.", units::fixed(0.139, Unit::Centimetre, 1))),
                 "At worst 13.9 cm are left.");
    }

    void aSayInsideASay()
    {
        const auto inner = say("the {} motor", "left");
        QCOMPARE(said(say("Swap {}.", inner)), "Swap the left motor.");
        QCOMPARE(said(joined({say("a {}", 1), Say(), say("b")}, ", ")), "a 1, b");
        QVERIFY(joined({Say(), Say()}, ", ").empty());
        QCOMPARE(said(Say("3 ") + say("x")), "3 x");
    }

    void theFormFollowsTheNumber()
    {
        const auto errors = [](long n) { return said(say("{0} {0|error|errors}", n)); };
        QCOMPARE(errors(0), "0 errors");
        QCOMPARE(errors(1), "1 error");
        QCOMPARE(errors(2), "2 errors");
        QCOMPARE(said(say("{0} {1|is|are} free", "D5", 1)), "D5 is free");
    }

    /// A name may look like a source text, and is shown as it is all the same.
    void namesAreNoSourceTexts()
    {
        QCOMPARE(said(Say("{} {0|a|b} }")), "{} {0|a|b} }");
        QCOMPARE(said(say("'{}' stands twice", "{}")), "'{}' stands twice");
    }

    void onlyTheFirstLetterOfASentence()
    {
        QCOMPARE(said(capitalised(say("it runs no program"))), "It runs no program");
        QCOMPARE(said(capitalised(Say("Ω"))), "Ω");
        QVERIFY(capitalised(say("a")) != say("a"));
    }

    void lengthsFollowTheDisplay_data()
    {
        QTest::addColumn<double>("si");
        QTest::addColumn<int>("unit");
        QTest::addColumn<int>("decimals");
        QTest::addColumn<QString>("cm");
        QTest::addColumn<QString>("mm");
        QTest::addColumn<QString>("in");
        // 11.5 inches are 29.21 cm by definition.
        QTest::newRow("threshold") << 0.2921 << int(Unit::Centimetre) << 2 << "29.21 cm"
                                   << "292.1 mm"
                                   << "11.5 in";
        QTest::newRow("hole") << 0.003 << int(Unit::Millimetre) << 1 << "0.3 cm"
                              << "3 mm"
                              << "0.12 in";
        QTest::newRow("gap") << 0.14 << int(Unit::Centimetre) << 1 << "14 cm"
                             << "140 mm"
                             << "5.5 in";
        QTest::newRow("floor") << 2.4 << int(Unit::Metre) << 2 << "240 cm"
                               << "2400 mm"
                               << "94 in";
        QTest::newRow("below zero") << -0.0254 << int(Unit::Centimetre) << 2 << "-2.54 cm"
                                    << "-25.4 mm"
                                    << "-1 in";
    }
    void lengthsFollowTheDisplay()
    {
        QFETCH(double, si);
        QFETCH(int, unit);
        QFETCH(int, decimals);
        const Say text(units::quantity(si, Unit(unit), decimals));
        QTEST(said(text, {Unit::Centimetre}), "cm");
        QTEST(said(text, millimetres), "mm");
        QTEST(said(text, inches), "in");
    }

    void onlyLengthsFollow()
    {
        for (const auto &u : units::allUnits())
            if (u.dimension != units::Dimension::Length)
                QCOMPARE(said(units::quantity(1.5, u.unit), inches),
                         said(units::quantity(1.5, u.unit)));
    }

    void aListenerMayKnowAnotherLanguage()
    {
        Listener german;
        german.translate = [](std::string_view source) -> std::string {
            if (source == "{0} {0|wire crosses|wires cross} {1}.")
                return "{1} wird von {0} {0|Kabel|Kabeln} gekreuzt.";
            if (source == "the {} motor")
                return "der Motor {}";
            return std::string(source);
        };
        const auto text =
            say("{0} {0|wire crosses|wires cross} {1}.", 2, say("the {} motor", "M1"));
        QCOMPARE(QString::fromStdString(words(text, german)),
                 "der Motor M1 wird von 2 Kabeln gekreuzt.");
        // A language with three forms brings its own rule; a place that is not there is shown.
        german.translate = [](std::string_view) { return std::string("{0|a|b|c} {7}"); };
        german.form = [](long n) { return static_cast<std::size_t>(n); };
        QCOMPARE(QString::fromStdString(words(say("{}", 2), german)), "c {7}");
        QCOMPARE(QString::fromStdString(words(say("{}", 9), german)), "c {7}");
    }

    void placesAndArgumentsAreCounted()
    {
        static_assert(detail::takes("{} and {}", 2));
        static_assert(detail::takes("{0} {0|one|more}", 1));
        static_assert(detail::takes("{{}}", 0));
        static_assert(!detail::takes("{}", 0));
        static_assert(!detail::takes("{}", 2));
        static_assert(!detail::takes("{1}", 2));
        static_assert(!detail::takes("{:.2f}", 1));
        static_assert(!detail::takes("{", 0));
        static_assert(!detail::takes("}", 0));
    }
};

BADGER_TEST(TestSay)
#include "test_say.moc"
