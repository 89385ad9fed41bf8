// SPDX-License-Identifier: GPL-3.0-or-later
// Two slips on one car, and half-drawn harnesses: drawn by seed, read off the network in code of
// the campaign's own.
#include "bench/campaign/slips.h"
#include "support/fixture.h"

using namespace badger;

namespace
{

std::string line(const campaign::SlipCounts &c)
{
    return "of " + std::to_string(c.all) + " named " + std::to_string(c.named) + ", silent " +
           std::to_string(c.silent) + ", unsafe " + std::to_string(c.unsafe) + "; of " +
           std::to_string(c.unfinished) + " blamed " + std::to_string(c.blamed) + ", offered " +
           std::to_string(c.offered);
}

} // namespace

class TestSlips final : public QObject
{
    Q_OBJECT
private slots:
    /// Nearly always both are named, and no mend passes a limit or leaves more that is wrong.
    void twoSlips()
    {
        const auto w = test::demo();
        const std::vector<kit::Car> cars(w.cars.begin(), w.cars.end());
        const auto c = campaign::pairsOn(cars, io::catalogueOf(w), 20, 3, 5);
        QCOMPARE(c.all, 20);
        QVERIFY2(c.named >= 16 && c.silent <= 1 && c.unsafe == 0, line(c).c_str());
    }

    /// What is merely not there yet is no error, and no wire is moved for it; a slip in what is
    /// drawn is nearly always named.
    void halfDrawn()
    {
        const auto w = test::demo();
        const std::vector<kit::Car> cars(w.cars.begin(), w.cars.end());
        const auto c = campaign::prefixesOf(cars, io::catalogueOf(w), 7, 3, 5);
        QVERIFY(c.unfinished > 20 && c.all > 10);
        QVERIFY2(c.blamed == 0 && c.offered == 0 && c.silent * 5 <= c.all, line(c).c_str());
    }
};

BADGER_TEST(TestSlips)
#include "test_slips.moc"
