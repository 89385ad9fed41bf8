// SPDX-License-Identifier: GPL-3.0-or-later
// Runs that are only scored: the same as traced ones, and without a single allocation.
#include "core/task/outcome.h"
#include "support/drive.h"

#include <atomic>
#include <cstdlib>
#include <new>

namespace
{
std::atomic<long> allocations{0};
}

// Counted for the whole of this program.
void *operator new(std::size_t size)
{
    ++allocations;
    if (void *p = std::malloc(size == 0 ? 1 : size))
        return p;
    throw std::bad_alloc();
}
void operator delete(void *p) noexcept
{
    std::free(p);
}
void operator delete(void *p, std::size_t) noexcept
{
    std::free(p);
}

using namespace badger;
using test::Bench;

namespace
{

std::shared_ptr<const judge::Drive> driveOf(const std::string &car, const floor::Floor &floor,
                                            double lasts_s)
{
    Bench b(car);
    auto course = test::courseOf(b);
    course.floor = std::make_shared<floor::Floor>(floor);
    world::Conditions how;
    how.lasts_s = lasts_s;
    using rules::Command;
    how.keys = {{0, Command::Ahead}, {3000000, Command::Left}, {3600000, Command::Ahead}};
    auto drive = judge::Drive::make(course, how);
    if (!drive)
        qFatal("%s", english(drive.error().text()).c_str());
    return *drive;
}

const std::vector<std::string> &cars()
{
    static const std::vector<std::string> all = {"Avocet", "Curlew", "Sanderling", "Dunlin",
                                                 "Godwit", "Ruff",   "Plover",     "Whimbrel"};
    return all;
}

} // namespace

class TestOutcome final : public QObject
{
    Q_OBJECT
private slots:
    /// Every task kind, cars of every build, floors of every kind, and each figure to the bit.
    void theSameAsTraced()
    {
        const std::vector<floor::Floor> floors = {
            test::floorOf("room"), test::floorOf("loop"), test::floorOf("table"),
            test::floorOf("straight", {{"angle", "30deg"}}), test::floorOf("corridor")};
        int compared = 0, touched = 0, rested = 0, lost = 0;
        for (const auto &car : cars())
            for (const auto &f : floors) {
                const auto drive = driveOf(car, f, 8.0);
                for (int k = 0; k < task::kindCount; ++k) {
                    const auto kind = task::Kind(k);
                    task::Outcomes outcomes(drive->plan(), kind);
                    for (const std::uint64_t seed : {3, 4}) {
                        const auto run = drive->run(seed, kind);
                        const auto o = outcomes.of(seed);
                        const auto where = qPrintable(QString("%1, %2, task %3, seed %4")
                                                          .arg(car.c_str(), f.name.c_str())
                                                          .arg(task::word(kind))
                                                          .arg(seed));
                        QVERIFY2(o.good == run.score.good, where);
                        QVERIFY2(o.moved == run.score.moved, where);
                        QVERIFY2(o.end == run.trace.end && o.end_us == run.trace.end_us, where);
                        QVERIFY2(o.touches == static_cast<int>(run.trace.touches.size()), where);
                        QVERIFY2(o.rest_s == run.score.rest_s, where);
                        QVERIFY2(o.gap_m == run.score.gap_m, where);
                        if (o.touches > 0) {
                            QVERIFY2(o.first->time_us == run.trace.touches[0].time_us, where);
                            QVERIFY2(o.first->onFloor == run.trace.touches[0].onFloor, where);
                        }
                        if (kind == task::Kind::FollowsLine) {
                            QVERIFY2(o.laps == run.score.laps, where);
                            QVERIFY2(o.swing_m == run.score.swing_m, where);
                            QVERIFY2(o.losses == static_cast<int>(run.score.losses.size()), where);
                            lost += o.losses;
                        }
                        if (kind == task::Kind::Holds)
                            QVERIFY2(o.held_m == run.score.held_m &&
                                         o.spread_m == run.score.spread_m,
                                     where);
                        if (kind == task::Kind::StaysOnTable)
                            QVERIFY2(o.toEdge_m == run.score.toEdge_m, where);
                        ++compared;
                        touched += o.touches > 0;
                        rested += o.rest_s.has_value();
                    }
                }
            }
        QCOMPARE(compared, 400);
        QVERIFY2(touched > 20 && rested > 20 && lost > 0,
                 qPrintable(QString("%1 %2 %3").arg(touched).arg(rested).arg(lost)));
    }

    void nothingIsAllocated()
    {
        for (const auto &car : cars()) {
            const auto drive = driveOf(car, test::floorOf("room"), 6.0);
            task::Outcomes outcomes(drive->plan());
            outcomes.of(1);
            const long before = allocations;
            for (std::uint64_t seed = 2; seed < 12; ++seed)
                outcomes.of(seed);
            QVERIFY2(allocations == before,
                     qPrintable(QString("%1: %2").arg(car.c_str()).arg(allocations - before)));
        }
    }

    /// The count counts.
    void anAllocationIsSeen()
    {
        const long before = allocations;
        const auto p = std::make_unique<std::vector<int>>(5);
        QCOMPARE(allocations - before, 2L);
        QCOMPARE(p->size(), size_t(5));
    }

    void theSameSeedIsTheSameRunWhateverWasBefore()
    {
        const auto drive = driveOf("Curlew", test::floorOf("room"), 10.0);
        task::Outcomes one(drive->plan());
        const auto first = one.of(5);
        for (std::uint64_t seed = 6; seed < 10; ++seed)
            one.of(seed);
        const auto again = one.of(5);
        QCOMPARE(first.end_us, again.end_us);
        QCOMPARE(first.nearest_m, again.nearest_m);
        QCOMPARE(first.touches, again.touches);
    }
};

BADGER_TEST(TestOutcome)
#include "test_outcome.moc"
