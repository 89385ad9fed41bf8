// SPDX-License-Identifier: GPL-3.0-or-later
// What do most tests begin with? The demo workshop, and small ways to bend it.
#pragma once

#include "core/io/shipped.h"
#include "core/io/workshop_file.h"
#include "core/judge/judge.h"
#include "support/suite.h"

#include <QTest>
#include <algorithm>
#include <cmath>

namespace badger::test
{

inline workshop::Workshop demo()
{
    auto w = io::readWorkshop(io::demoWorkshop());
    if (!w)
        qFatal("the demo workshop does not load: %s", english(w.error().text()).c_str());
    return std::move(*w);
}

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
    workshop::Workshop workshop = demo();
    parts::Catalogue catalogue = io::catalogueOf(workshop);
    kit::Car &car = workshop.cars.front();
    rules::Program &program = workshop.programs.front();
    floor::Floor &floor = workshop.floors.front();

    Bench() = default;
    /// The same with another car of the demo at hand.
    explicit Bench(const std::string &name) : car(named(workshop, name)) {}
    Bench(const Bench &) = delete;
    Bench &operator=(const Bench &) = delete;

    static kit::Car &named(workshop::Workshop &w, const std::string &name)
    {
        for (auto &c : w.cars)
            if (c.name == name)
                return c;
        qFatal("no car %s", name.c_str());
    }
    kit::Wire &wire(const std::string &from)
    {
        for (auto &w : car.wires)
            if (w.from == from || w.to == from)
                return w;
        qFatal("no wire at %s", from.c_str());
    }
    void unwire(const std::string &terminal)
    {
        std::erase_if(car.wires,
                      [&](const kit::Wire &w) { return w.from == terminal || w.to == terminal; });
    }
    /// Every wire of one terminal ends at the other, and the other way round.
    void turn(const std::string &a, const std::string &b)
    {
        for (auto &w : car.wires)
            for (auto *end : {&w.from, &w.to})
                *end = *end == a ? b : *end == b ? a : *end;
    }
    kit::Instance &instance(const std::string &id)
    {
        for (auto &i : car.parts)
            if (i.id == id)
                return i;
        qFatal("no part %s", id.c_str());
    }
    void addPack(const std::string &id, int cells)
    {
        kit::Instance pack;
        pack.id = id;
        pack.partId = "cell-nimh";
        pack.cellsInSeries = cells;
        pack.cellsInParallel = 1;
        car.parts.push_back(pack);
    }
    rules::Value &value(const std::string &name)
    {
        for (auto &v : program.values)
            if (v.name == name)
                return v;
        qFatal("no value %s", name.c_str());
    }
    rules::Reading &reading() { return program.readings.front(); }
    judge::Judgement judge() { return judge::judge(workshop, {car, catalogue}); }
};

inline std::vector<std::string> codes(const std::vector<Finding> &findings)
{
    std::vector<std::string> all;
    for (const auto &f : findings)
        all.push_back(f.code);
    std::sort(all.begin(), all.end());
    return all;
}

inline const Finding *find(const std::vector<Finding> &findings, const std::string &code)
{
    const auto it = std::find_if(findings.begin(), findings.end(),
                                 [&](const Finding &f) { return f.code == code; });
    return it == findings.end() ? nullptr : &*it;
}

inline bool near(double a, double b, double tolerance)
{
    return std::abs(a - b) <= tolerance;
}

} // namespace badger::test

Q_DECLARE_METATYPE(std::string)

/// Compares with a tolerance and shows both numbers.
#define COMPARE_NEAR(actual, expected, tolerance)                                                  \
    do {                                                                                           \
        const double badgerActual = (actual);                                                      \
        const double badgerExpected = (expected);                                                  \
        QVERIFY2(badger::test::near(badgerActual, badgerExpected, tolerance),                      \
                 qPrintable(QStringLiteral("%1 is not %2 within %3")                               \
                                .arg(badgerActual, 0, 'g', 12)                                     \
                                .arg(badgerExpected, 0, 'g', 12)                                   \
                                .arg(double(tolerance))));                                         \
    } while (false)

/// Fails with the error's text when a Result has none.
#define VERIFY_OK(result)                                                                          \
    do {                                                                                           \
        const auto &badgerResult = (result);                                                       \
        QVERIFY2(badgerResult.has_value(),                                                         \
                 badgerResult ? "" : english(badgerResult.error().text()).c_str());                \
    } while (false)
