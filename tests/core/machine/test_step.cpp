// SPDX-License-Identifier: GPL-3.0-or-later
// What a look makes of what was heard, which scan wins, what the wheels get, how long a wait is.
#include "core/machine/made.h"
#include "support/fixture.h"

#include <cmath>
#include <random>
#include <set>

using namespace badger;
using machine::Mind;
using machine::WheelOrder;
using test::made;

class TestStep final : public QObject
{
    Q_OBJECT

    static machine::Machine lowered(const rules::Program &p)
    {
        const auto m = machine::lower(p);
        if (!m)
            qFatal("%s", english(m.error().text()).c_str());
        return *m;
    }
    static machine::Machine halt(const io::Choices &more) { return lowered(made("halt", more)); }
    using Heard = std::vector<std::optional<double>>;

    /// What is compared after each of these, infinite where there is nothing.
    static std::vector<double> numbers(const machine::Machine &m, const Heard &heard)
    {
        auto mind = machine::freshMind(m);
        std::vector<double> all;
        for (const auto &h : heard) {
            machine::hear(m, mind, 0, h);
            all.push_back(mind.held[0].has ? mind.held[0].number : 1e9);
        }
        return all;
    }

private slots:
    void aPolicyStandsForAMissingEcho()
    {
        const Heard heard = {std::nullopt, 30.0, std::nullopt, std::nullopt};
        QCOMPARE(numbers(halt({{"no-echo", "clear"}}), heard),
                 (std::vector<double>{400, 30, 400, 400}));
        QCOMPARE(numbers(halt({{"no-echo", "blocked"}}), heard),
                 (std::vector<double>{0, 30, 0, 0}));
        QCOMPARE(numbers(halt({{"no-echo", "hold"}}), heard),
                 (std::vector<double>{1e9, 30, 30, 30})); // nothing to hold at first
        QCOMPARE(numbers(halt({{"no-echo", "skip"}}), heard),
                 (std::vector<double>{1e9, 30, 1e9, 1e9}));
        QCOMPARE(numbers(halt({{"no-echo", "stop"}}), heard),
                 (std::vector<double>{1e9, 30, 1e9, 1e9}));
    }

    /// The middle of three; none counts as the farthest. While the window fills, of two the nearer.
    void theMedianForgetsOneWildReading()
    {
        const auto m = halt({{"median", "3"}, {"no-echo", "blocked"}});
        QCOMPARE(numbers(m, {60.0, 60.0, 5.0, 60.0, 60.0}),
                 (std::vector<double>{60, 60, 60, 60, 60}));
        QCOMPARE(numbers(m, {60.0, 5.0, 5.0}), (std::vector<double>{60, 5, 5}));
        QCOMPARE(numbers(m, {std::nullopt, std::nullopt, 60.0, 60.0}),
                 (std::vector<double>{0, 0, 0, 60}));
        QCOMPARE(numbers(m, {std::nullopt, 60.0, std::nullopt}), (std::vector<double>{0, 60, 0}));
    }

    void lostLooksAreCounted()
    {
        const auto m = halt({});
        auto mind = machine::freshMind(m);
        for (int i = 1; i <= 5; ++i) {
            machine::hear(m, mind, 0, std::nullopt);
            QCOMPARE(mind.held[0].lost, i);
        }
        machine::hear(m, mind, 0, 50.0);
        QCOMPARE(mind.held[0].lost, 0);
    }

    void aScanTakesTheFarthestByItsRules_data()
    {
        QTest::addColumn<QString>("tie");
        QTest::addColumn<QString>("beyond");
        QTest::addColumn<QString>("policy");
        QTest::addColumn<double>("angle");
        QTest::addColumn<double>("number");
        // 50, 130, none, 410, 130 at 40, 60, 80, 100, 120 degrees; limit 400.
        QTest::newRow("limit, clear") << "first"
                                      << "limit"
                                      << "clear" << 80.0 << 400.0;
        QTest::newRow("limit, clear, last") << "last"
                                            << "limit"
                                            << "clear" << 100.0 << 400.0;
        QTest::newRow("zero, blocked") << "first"
                                       << "zero"
                                       << "blocked" << 60.0 << 130.0;
        QTest::newRow("zero, blocked, last") << "last"
                                             << "zero"
                                             << "blocked" << 120.0 << 130.0;
        QTest::newRow("limit, blocked") << "first"
                                        << "limit"
                                        << "blocked" << 100.0 << 400.0;
        QTest::newRow("zero, clear") << "first"
                                     << "zero"
                                     << "clear" << 80.0 << 400.0;
        QTest::newRow("none, skip") << "first"
                                    << "none"
                                    << "skip" << 60.0 << 130.0;
    }
    void aScanTakesTheFarthestByItsRules()
    {
        QFETCH(QString, tie);
        QFETCH(QString, beyond);
        QFETCH(QString, policy);
        QFETCH(double, angle);
        QFETCH(double, number);
        const auto m = lowered(made("fan", {{"tie", tie.toStdString()},
                                            {"beyond", beyond.toStdString()},
                                            {"no-echo-look", policy.toStdString()}}));
        auto mind = machine::freshMind(m);
        const machine::ScanLook looks[] = {
            {50.0, 40}, {130.0, 60}, {std::nullopt, 80}, {410.0, 100}, {130.0, 120}};
        machine::hearScan(m, mind, 1, looks, 5);
        QVERIFY(mind.held[1].has);
        QCOMPARE(mind.held[1].angle_deg, angle);
        QCOMPARE(mind.held[1].number, number);
    }

    void aScanWithoutAnEchoIsLost()
    {
        const auto m = lowered(made("fan", {{"no-echo-look", "skip"}}));
        auto mind = machine::freshMind(m);
        const machine::ScanLook looks[] = {{std::nullopt, 40}, {std::nullopt, 60}};
        machine::hearScan(m, mind, 1, looks, 2);
        QVERIFY(!mind.held[1].has);
        QCOMPARE(mind.held[1].lost, 1);
    }

    void theNearestIsTheFirstOfEquals()
    {
        const auto m = lowered(made("fixed-rangers"));
        auto mind = machine::freshMind(m);
        const auto nearest = [&](double left, double ahead, double right) {
            machine::hear(m, mind, 0, left);
            machine::hear(m, mind, 1, ahead);
            machine::hear(m, mind, 2, right);
            machine::derive(m, mind);
            return std::pair(mind.held[3].number, mind.held[3].which);
        };
        QCOMPARE(nearest(30, 40, 50), (std::pair{30.0, 0}));
        QCOMPARE(nearest(50, 40, 30), (std::pair{30.0, 2}));
        QCOMPARE(nearest(30, 30, 30), (std::pair{30.0, 0}));
        QCOMPARE(nearest(50, 30, 30), (std::pair{30.0, 1}));
    }

    void wheelsAreHeldWithinTheirCounts()
    {
        auto p = made("edge-glide", {{"gain", "2"}, {"speed", "200"}});
        const auto m = lowered(p);
        auto mind = machine::freshMind(m);
        for (int counts = 0; counts <= 1023; ++counts) {
            machine::hear(m, mind, 0, counts);
            const auto o = machine::orders(m, mind, m.modes.front());
            for (const auto &wheel : {o.left, o.right})
                QVERIFY(wheel.counts >= -255 && wheel.counts <= 255);
            QCOMPARE(o.clamped, counts < 240 || counts > 820);
            if (counts == 530)
                QVERIFY(o.left == o.right);
        }
    }

    /// Both wheels as they are at the far end, still at the near one.
    void slowingFollowsTheReading()
    {
        auto p = made("halt");
        rules::Proportion slow;
        slow.follows = rules::Follows::Slow;
        slow.reading = "ahead";
        p.values.push_back({"slow-from", "", rules::ValueKind::Distance, 1.0});
        slow.low = "threshold";
        slow.high = "slow-from";
        for (auto &s : p.states)
            if (s.name == "drives")
                s.motion.proportion = slow;
        QVERIFY(rules::broken(p).empty());
        const auto m = lowered(p);
        auto mind = machine::freshMind(m);
        const auto at = [&](double cm) {
            machine::hear(m, mind, 0, cm);
            return machine::orders(m, mind, m.modes.back()).left.counts;
        };
        QCOMPARE(at(100), 140);
        QCOMPARE(at(65), 70);
        QCOMPARE(at(30), 0);
        QCOMPARE(at(300), 140);
    }

    void theScansSideTurnsTheWheels()
    {
        const auto m = lowered(made("fan"));
        auto mind = machine::freshMind(m);
        const auto mode = std::find_if(m.modes.begin(), m.modes.end(), [](const auto &x) {
            return x.follows == rules::Follows::Scan;
        });
        auto &h = mind.held[1];
        h.has = true;
        h.angle_deg = 130;
        QVERIFY(machine::orders(m, mind, *mode).left.counts < 0); // to the left
        h.angle_deg = 50;
        QVERIFY(machine::orders(m, mind, *mode).left.counts > 0);
        h.angle_deg = 90;
        QVERIFY(machine::orders(m, mind, *mode).left.kind == WheelOrder::Kind::Brake);
    }

    /// Every number but nought comes once before the first comes again.
    void drawsGoThroughAllNumbers()
    {
        Mind mind;
        mind.random = 7;
        std::set<std::uint16_t> seen;
        for (int i = 0; i < 65535; ++i)
            seen.insert(machine::draw(mind));
        QCOMPARE(seen.size(), size_t(65535));
        QVERIFY(!seen.contains(0));
        QCOMPARE(mind.random, std::uint16_t(7));
    }

    void randomLengthsKeepTheirEnds()
    {
        const auto m =
            lowered(made("back-and-wander", {{"turn-least", "200ms"}, {"turn-most", "203ms"}}));
        auto mind = machine::freshMind(m);
        machine::Hold hold;
        hold.length = rules::Length::Random;
        hold.time_us = 200'000;
        hold.most_us = 203'000;
        std::set<std::uint64_t> lengths;
        for (int i = 0; i < 500; ++i)
            lengths.insert(machine::length_us(m, mind, hold));
        QCOMPARE(lengths, (std::set<std::uint64_t>{200'000, 201'000, 202'000, 203'000}));
        hold.most_us = 100'000; // ends the wrong way round: the least
        QCOMPARE(machine::length_us(m, mind, hold), std::uint64_t(200'000));
    }

    void degreesTakeTheirTime()
    {
        const auto m = lowered(made("fan"));
        auto mind = machine::freshMind(m);
        machine::Hold hold;
        hold.length = rules::Length::PerDegree;
        hold.time_us = 9'000;
        hold.angle_deg = -60.0;
        QCOMPARE(machine::length_us(m, mind, hold), std::uint64_t(540'000));
        hold.scan = 1;
        QCOMPARE(machine::length_us(m, mind, hold), std::uint64_t(0)); // it found nothing
        mind.held[1].has = true;
        mind.held[1].angle_deg = 130.0;
        QCOMPARE(machine::length_us(m, mind, hold), std::uint64_t(360'000));
    }

    /// 530 of 240 to 820 is one half; the ends are nought and one.
    void countsAreNormalised()
    {
        const auto m = lowered(made("hand-follow", {{"source", "normalised"},
                                                    {"near", "0.8"},
                                                    {"far", "0.2"},
                                                    {"dark", "240"},
                                                    {"light", "820"}}));
        const auto &s = m.sensors.front();
        QCOMPARE(*machine::numberOfCount({}, s, 240), 0.0);
        QCOMPARE(*machine::numberOfCount({}, s, 530), 0.5);
        QCOMPARE(*machine::numberOfCount({}, s, 820), 1.0);
    }

    /// Of conditions one is enough where the rule says so; so many passes where it asks for them.
    void anyAndTimes()
    {
        auto p = made("fixed-rangers");
        p.values.push_back({"twice", "", rules::ValueKind::Times, 2.0});
        rules::Rule rule;
        rule.name = "any side";
        rule.any = true;
        rule.go = "stands";
        rule.when = {{"left", rules::Compare::Less, "threshold"},
                     {"right", rules::Compare::Less, "threshold"}};
        rule.when[1].times = "twice";
        p.everywhere = {rule};
        for (auto &s : p.states)
            s.rules.clear();
        QVERIFY(rules::broken(p).empty());
        const auto m = lowered(p);
        auto mind = machine::freshMind(m);
        const auto fires = [&](double left, double right) {
            machine::hear(m, mind, 0, left);
            machine::hear(m, mind, 1, 100.0);
            machine::hear(m, mind, 2, right);
            machine::derive(m, mind);
            machine::Walk walk{0, 0, 0};
            machine::count(m, mind, walk);
            return machine::next(m, mind, walk) >= 0;
        };
        QVERIFY(!fires(100, 100));
        QVERIFY(fires(20, 100));
        QVERIFY(!fires(100, 20)); // the first time on the right
        QVERIFY(fires(100, 20));
        QVERIFY(!fires(100, 100));
        QVERIFY(!fires(100, 20)); // counted anew
    }

    void whatIsUnsetComparesWithNothing()
    {
        auto p = made("halt");
        for (auto &v : p.values)
            if (v.name == "threshold")
                v.si.reset();
        QVERIFY(!machine::lower(p));
        const auto m = machine::lowerAnyway(p);
        auto mind = machine::freshMind(m);
        for (const double cm : {1.0, 50.0, 400.0}) {
            machine::hear(m, mind, 0, cm);
            machine::Walk walk{0, 0, 0};
            QCOMPARE(machine::next(m, mind, walk), -1);
        }
    }

    /// The short list says what asking each rule says: at every constant, between them, beyond
    /// them, with no number and with what is none; of all templates, and of rules drawn at random.
    void theShortListSaysWhatTheRulesSay()
    {
        std::mt19937 random(5);
        std::vector<machine::Machine> all;
        for (const auto &t : io::templates())
            all.push_back(machine::lowerAnyway(made(t.name)));
        using rules::Compare;
        for (int i = 0; i < 300; ++i) {
            auto p = made("halt");
            auto &state = p.states.front();
            state.rules.clear();
            const int count = 1 + static_cast<int>(random() % 5);
            for (int k = 0; k < count; ++k) {
                rules::Rule rule{"r" + std::to_string(k), {}, p.states.back().name};
                rule.any = random() % 2 == 0;
                rule.endsPass = random() % 3 != 0;
                for (size_t c = random() % 3; c < 3; ++c) {
                    const auto name = "v" + std::to_string(random() % 6);
                    rule.when.push_back(
                        {p.readings.front().name, static_cast<Compare>(random() % 4), name});
                }
                state.rules.push_back(rule);
            }
            for (int v = 0; v < 6; ++v)
                p.values.push_back({"v" + std::to_string(v), "", rules::ValueKind::Distance,
                                    0.01 * static_cast<double>(random() % 8)});
            all.push_back(machine::lowerAnyway(p));
        }
        int quick = 0;
        for (const auto &m : all) {
            auto slow = m;
            for (auto &q : slow.quick) {
                quick += q.sensor >= 0 ? 1 : 0;
                q.sensor = -1;
            }
            for (size_t mode = 0; mode < m.modes.size(); ++mode) {
                if (m.quick[mode].sensor < 0)
                    continue;
                std::vector<double> numbers = {std::nan(""), -3.0, 0.0, 1e9};
                for (const auto &a : m.asks)
                    for (const double off : {-0.5, -1e-9, 0.0, 1e-9, 0.5})
                        numbers.push_back(a.constant + off);
                for (const bool has : {true, false})
                    for (const double number : numbers) {
                        auto mind = machine::freshMind(m);
                        auto &h = mind.held[static_cast<size_t>(m.quick[mode].sensor)];
                        h.has = has;
                        h.number = number;
                        machine::Walk one{static_cast<int>(mode), 0, 0};
                        auto other = one;
                        for (int b = 0; b >= 0;) {
                            b = machine::next(m, mind, one);
                            QCOMPARE(b, machine::next(slow, mind, other));
                            QCOMPARE(one.next, other.next);
                        }
                    }
            }
        }
        QVERIFY(quick > 300);
    }
};

BADGER_TEST(TestStep)
#include "test_step.moc"
