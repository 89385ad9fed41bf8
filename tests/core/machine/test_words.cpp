// SPDX-License-Identifier: GPL-3.0-or-later
// How conditions, cells and reasons are said.
#include "core/machine/made.h"
#include "core/machine/words.h"
#include "core/regions/atom_words.h"
#include "support/fixture.h"

#include <set>

using namespace badger;
using regions::Atom;
using regions::Axis;
using test::made;

class TestMachineWords final : public QObject
{
    Q_OBJECT

    static QString said(const Say &text) { return QString::fromStdString(english(text)); }

    /// All the words of one axis of a mode.
    static QStringList axis(const rules::Program &p, const std::string &state,
                            const std::string &name)
    {
        const auto m = machine::lower(p);
        const auto *s = p.state(state);
        const auto r = regions::of(p, *m, int(s - p.states.data()));
        QStringList all;
        for (const auto &a : r->axes)
            if (regions::axisName(p, a) == name)
                for (const auto &atom : a.atoms)
                    all << QString::fromStdString(regions::atomWords(*m, a, atom));
        return all;
    }

private slots:
    void conditionsAreSaidAsTheyStand_data()
    {
        QTest::addColumn<QString>("name");
        QTest::addColumn<QString>("says");
        QTest::newRow("halt") << "halt"
                              << "ahead ≤ 30 cm";
        QTest::newRow("strict") << "halt<"
                                << "ahead < 30 cm";
        QTest::newRow("key") << "guarded-drive"
                             << "the key is 'ahead' and ahead ≤ 30 cm";
        QTest::newRow("seen") << "straddle"
                              << "'left' sees it and 'right' sees it";
        QTest::newRow("count") << "edge-zigzag"
                               << "eye ≥ 530";
        QTest::newRow("which") << "fixed-rangers"
                               << "nearest > 30 cm";
        QTest::newRow("remembered") << "back-and-wander"
                                    << "ahead ≤ 30 cm and 'side' was left";
    }
    void conditionsAreSaidAsTheyStand()
    {
        QFETCH(QString, name);
        QFETCH(QString, says);
        const bool strict = name.endsWith('<');
        const auto p = made(name.remove('<').toStdString(),
                            strict ? io::Choices{{"compare", "lt"}} : io::Choices{});
        QCOMPARE(said(machine::words(p, p.everywhere.front())), says);
    }

    void otherConditions()
    {
        const auto glance = made("glance");
        const auto &looks = *glance.state("looks");
        QCOMPARE(said(machine::words(glance, looks.rules[0])),
                 QStringLiteral("right > left + 3 cm"));
        const auto lost = made("keep-station", {{"lost-after", "3"}});
        QCOMPARE(said(machine::words(lost, lost.everywhere[0])),
                 QStringLiteral("'ahead' had no echo 3 times"));
        auto p = made("fan");
        rules::Condition c;
        c.test = rules::Test::Since;
        c.value = "dwell";
        QCOMPARE(said(machine::words(p, c)), QStringLiteral("300 ms have gone by"));
        c.test = rules::Test::Angle;
        c.reading = "fan";
        p.values.push_back({"middle", "", rules::ValueKind::Angle, 90.0});
        c.value = "middle";
        QCOMPARE(said(machine::words(p, c)), QStringLiteral("the angle of 'fan' ≤ 90°"));
        c.value = "nothing";
        QVERIFY(said(machine::words(p, c)).contains("unset"));
    }

    void atomsOfANumber()
    {
        QCOMPARE(axis(made("keep-station"), "stands", "ahead"),
                 (QStringList{"1..17", "18", "19..44", "45", "46..400", "none"}));
        QCOMPARE(axis(made("keep-station", {{"lost-after", "3"}}), "stands", "ahead").back(),
                 QStringLiteral("none 3 times"));
        // A fraction has no whole neighbours, and nought is what the board takes for none.
        QCOMPARE(axis(made("halt", {{"numbers", "fraction"}}), "stands", "ahead"),
                 (QStringList{">0..<30", "30", ">30..400", "none"}));
    }

    void atomsOfOthers()
    {
        QCOMPARE(axis(made("straddle"), "drives", "left"), (QStringList{"0", "1"}));
        QCOMPARE(axis(made("guarded-drive"), "stands", "key"),
                 (QStringList{"none", "ahead", "back", "left", "right"}));
        QCOMPARE(axis(made("back-and-wander"), "drives", "side"), (QStringList{"left", "other"}));
        QCOMPARE(axis(made("glance"), "looks", "right - left"),
                 (QStringList{"..-4", "-3", "-2..2", "3", "4.."}));
        QCOMPARE(axis(made("edge-zigzag"), "turns left", "eye"),
                 (QStringList{"0..529", "530", "531..1023"}));
    }

    /// What a run says of each change: the limit as it stands, and the reading as it was kept.
    void reasonsNameTheLimitAndTheReading()
    {
        const auto p = made("halt");
        const auto told = test::played(p, {{"0", "60"}, {"300", "29"}, {"600", "none"}});
        QCOMPARE(said(told[1].why), QStringLiteral("ahead > 30 cm, ahead 60: rule 'clear'"));
        QCOMPARE(said(told[2].why), QStringLiteral("ahead ≤ 30 cm, ahead 29: rule 'near'"));
        QCOMPARE(said(told[3].why), QStringLiteral("ahead > 30 cm, ahead without echo, counted as "
                                                   "400: rule 'clear'"));
        const auto stop = made("halt", {{"no-echo", "stop"}});
        const auto stopped = test::played(stop, {{"0", "60"}, {"300", "none"}});
        QCOMPARE(said(stopped.back().why), QStringLiteral("no echo of 'ahead' stops it"));
        const auto turn = made("back-and-turn");
        const auto waits = test::played(turn, {{"0", "20"}, {"900", "60"}});
        QVERIFY(std::any_of(waits.begin(), waits.end(), [](const machine::Told &t) {
            return said(t.why) == QStringLiteral("the wait is over");
        }));
    }

    /// A column each, in the program's order; of a scan one for each angle.
    void columnsAreThoseThatCanBeTold()
    {
        const auto names = [](const rules::Program &p) {
            const auto m = machine::lower(p);
            QStringList all;
            for (const auto &c : machine::columns(p, *m))
                all << QString::fromStdString(c.name);
            return all.join(' ');
        };
        QCOMPARE(names(made("glance")), QStringLiteral("ahead right left"));
        QCOMPARE(names(made("fixed-rangers")), QStringLiteral("left ahead right"));
        QCOMPARE(names(made("fan", {{"angles", "40,90,140"}})),
                 QStringLiteral("ahead at-40 at-90 at-140"));
        QCOMPARE(names(made("lane")),
                 QStringLiteral("outer-left inner-left inner-right outer-right"));
        QCOMPARE(names(made("keep-station", {{"reads", "nearest"}})),
                 QStringLiteral("middle left right"));
    }
};

BADGER_TEST(TestMachineWords)
#include "test_words.moc"
