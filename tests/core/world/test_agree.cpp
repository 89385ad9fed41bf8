// SPDX-License-Identifier: GPL-3.0-or-later
// Whole runs by events against whole runs by steps of 0.05 ms: one of the nineteen families on a
// drawn floor, with and without noise. `badger_steps_agree` does the same for thousands.
#include "support/agree.h"

using namespace badger;

class TestAgree final : public QObject
{
    Q_OBJECT
private slots:
    void drawnRunsEndTheSame()
    {
        std::mt19937 random(1);
        int driven = 0, touched = 0, free = 0, grazes = 0;
        while (driven < 400) {
            const auto drawn = test::drawRun(random);
            if (!drawn.drive)
                continue; // the car would stand in something
            ++driven;
            const auto a = test::compare(drawn);
            QVERIFY2(a.same || a.graze, qPrintable(QString::fromStdString(
                                            drawn.what + "\n" + a.difference + "\n" + a.parting)));
            QVERIFY2(a.apart_m < 0.001, qPrintable(QString("%1: %2 m apart, %3")
                                                       .arg(drawn.what.c_str())
                                                       .arg(a.apart_m)
                                                       .arg(a.parting.c_str())));
            touched += a.touched;
            free += a.free;
            grazes += a.graze;
        }
        QVERIFY2(touched > 30 && free > 200 && grazes < 4,
                 qPrintable(QString("%1 %2 %3").arg(touched).arg(free).arg(grazes)));
    }

    /// The run of another seed is another run, and that is seen.
    void theComparisonSees()
    {
        std::mt19937 random(5);
        int seen = 0;
        for (int tried = 0; tried < 60;) {
            const auto drawn = test::drawRun(random);
            if (!drawn.drive || !drawn.drive->plan().conditions.noise)
                continue;
            ++tried;
            const auto a = test::compare(drawn, drawn.seed + 1);
            seen += !a.same || a.apart_m > 0.001;
        }
        QVERIFY2(seen > 50, qPrintable(QString::number(seen)));
    }
};

BADGER_TEST(TestAgree)
#include "test_agree.moc"
