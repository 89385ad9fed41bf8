// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/base/noise.h"
#include "core/window/schools.h"
#include "support/fixture.h"

using namespace badger;
using namespace badger::window;

class TestSchools final : public QObject
{
    Q_OBJECT
private slots:
    /// The published example of the method: 50 pairs.
    void intervalOfPairs()
    {
        // a = 36, b = 12, c = 2, d = 0 of 50: difference 0.20, interval 0.0569 to 0.3404 of the
        // first less the second.
        const auto p = paired(36, 12, 2, 0);
        QVERIFY(test::near(p.difference(), -0.20, 1e-9));
        QVERIFY2(test::near(p.low, -0.3404, 5e-4) && test::near(p.high, -0.0569, 5e-4),
                 qPrintable(QString("%1 %2").arg(p.low).arg(p.high)));
        QVERIFY(p.isShown());
        // The two exchanged are the same turned about.
        const auto q = paired(36, 2, 12, 0);
        QVERIFY(test::near(q.low, -p.high, 1e-12) && test::near(q.high, -p.low, 1e-12));
        QVERIFY(!paired(0, 0, 0, 100).isShown());
        QVERIFY(!paired(5, 0, 0, 95).isShown());
        QCOMPARE(paired(0, 0, 0, 0).runs, 0);
    }

    /// How often it leaves out the true difference, of drawn pairs that go together.
    void itHoldsAsOftenAsItSays()
    {
        Noise noise(3);
        int out = 0;
        constexpr int times = 2000, n = 120;
        for (int t = 0; t < times; ++t) {
            int counts[2][2] = {};
            for (int i = 0; i < n; ++i) {
                const double common = noise.uniform();
                const bool a = common < 0.10;
                const bool b = noise.uniform() < 0.5 ? common < 0.20 : noise.uniform() < 0.10;
                ++counts[a][b];
            }
            const auto p = paired(counts[1][1], counts[1][0], counts[0][1], counts[0][0]);
            out += p.low > 0.05 || p.high < 0.05; // 0.5 * 0.2 + 0.5 * 0.1 - 0.1
        }
        QVERIFY2(out < times * 0.065, qPrintable(QString::number(out)));
    }

    void schoolsDifferFromTheProgram()
    {
        test::Bench b;
        const auto all = schoolsOf(b.program);
        QCOMPARE(all.size(), size_t(5)); // it brakes, takes one reading, and no echo is clear
        for (const auto &s : all)
            QVERIFY(!(s.program == b.program));
    }

    /// On the same runs a program against itself under another name differs in nothing; coasting
    /// fails oftener and rests later.
    void onTheSameRuns()
    {
        test::Bench b;
        b.floor = *b.workshop.floor("Slipway");
        for (auto &v : b.program.values)
            if (v.name == "halt")
                v.si = 0.05;
        Question q;
        q.course = test::courseOf(b);
        q.rows = {*rowOf("straight:distance=90cm")};
        q.limit = 0.2;
        const auto w = search(q);
        QVERIFY(w && w->done);
        const auto all = compareSchools(*w, 200);
        QCOMPARE(all.size(), size_t(5));
        const auto &coasting = all.front();
        QCOMPARE(english(coasting.what), std::string("coasting in place of braking"));
        QCOMPARE(coasting.pairs.runs, 200);
        QVERIFY2(coasting.pairs.isShown() && coasting.pairs.low > 0.0,
                 english(wordsOf(coasting)).c_str());
        QVERIFY(english(wordsOf(coasting)).find("% more") != std::string::npos);
        for (const auto &c : all)
            if (english(c.what).starts_with("no echo"))
                QVERIFY2(!c.pairs.isShown(), english(wordsOf(c)).c_str()); // a square board answers
        // Each count by runs of one's own.
        int calls = 0;
        QVERIFY(compareSchools(*w, 200, [&] { return ++calls < 10; }).empty());
        QCOMPARE(calls, 10);
    }
};

BADGER_TEST(TestSchools)
#include "test_schools.moc"
