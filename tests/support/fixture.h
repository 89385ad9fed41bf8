// SPDX-License-Identifier: GPL-3.0-or-later
// What do most tests begin with? The demo workshop, and small ways to bend it.
#pragma once

#include "core/io/shipped.h"
#include "core/io/workshop_file.h"
#include "core/judge/judge.h"
#include "support/suite.h"

#include <QTest>
#include <cmath>
#include <string>
#include <vector>

namespace badger::test
{

workshop::Workshop demo();

/// The ids of the demo's things, which were derived from their names.
inline Id<kit::Car> carCalled(const std::string &name)
{
    return {derivedIdText("car", name)};
}
inline Id<rules::Program> programCalled(const std::string &name)
{
    return {derivedIdText("program", name)};
}
inline Id<floor::Floor> floorCalled(const std::string &name)
{
    return {derivedIdText("floor", name)};
}

/// The demo with its one car, program and floor at hand.
struct Bench {
    workshop::Workshop workshop;
    parts::Catalogue catalogue;
    kit::Car &car;
    rules::Program &program;
    floor::Floor &floor;

    Bench();
    /// The same with another car of the demo at hand.
    explicit Bench(const std::string &name);
    ~Bench();
    Bench(const Bench &) = delete;
    Bench &operator=(const Bench &) = delete;

    kit::Wire &wire(const std::string &from);
    void unwire(const std::string &terminal);
    /// Every wire of one terminal ends at the other, and the other way round.
    void turn(const std::string &a, const std::string &b);
    kit::Instance &instance(const std::string &id);
    void addPack(const std::string &id, int cells);
    rules::Value &value(const std::string &name);
    rules::Reading &reading() { return program.readings.front(); }
    judge::Judgement judge();
};

/// The program that the bench's car runs, wherever it stands in the workshop.
rules::Program &programOf(Bench &bench);
/// What the bench's car is driven on, as it stands, with its own program: copies.
judge::Course courseOf(const Bench &bench);
judge::Grounds groundsOf(const Bench &bench);

std::vector<std::string> codes(const std::vector<Finding> &findings);
const Finding *find(const std::vector<Finding> &findings, const std::string &code);

inline bool near(double a, double b, double by)
{
    return std::abs(a - b) <= by;
}

/// Fails the test that runs, with both numbers, where they are not that near.
bool compareNear(double actual, double expected, double tolerance, const char *file, int line);

} // namespace badger::test

Q_DECLARE_METATYPE(std::string)

/// Compares with a tolerance and shows both numbers.
#define COMPARE_NEAR(actual, expected, tolerance)                                                  \
    do {                                                                                           \
        if (!badger::test::compareNear((actual), (expected), (tolerance), __FILE__, __LINE__))     \
            return;                                                                                \
    } while (false)

/// Fails with the error's text when a Result has none.
#define VERIFY_OK(result)                                                                          \
    do {                                                                                           \
        const auto &badgerResult = (result);                                                       \
        QVERIFY2(badgerResult.has_value(),                                                         \
                 badgerResult ? "" : english(badgerResult.error().text()).c_str());                \
    } while (false)
