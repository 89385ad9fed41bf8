// SPDX-License-Identifier: GPL-3.0-or-later
#include "support/fixture.h"

#include "core/judge/program_around.h"

#include <algorithm>
#include <cmath>

namespace badger::test
{

namespace
{

kit::Car &carNamed(workshop::Workshop &w, const std::string &name)
{
    for (auto &c : w.cars)
        if (c.name == name)
            return c;
    qFatal("no car %s", name.c_str());
}

} // namespace

workshop::Workshop demo()
{
    auto w = io::readWorkshop(io::demoWorkshop());
    if (!w)
        qFatal("the demo workshop does not load: %s", english(w.error().text()).c_str());
    return std::move(*w);
}

Bench::Bench() : Bench(demo().cars.front().name) {}

Bench::Bench(const std::string &name)
    : workshop(demo()), catalogue(io::catalogueOf(workshop)), car(carNamed(workshop, name)),
      program(workshop.programs.front()), floor(workshop.floors.front())
{
}

Bench::~Bench() = default;

kit::Wire &Bench::wire(const std::string &from)
{
    for (auto &w : car.wires)
        if (w.from == from || w.to == from)
            return w;
    qFatal("no wire at %s", from.c_str());
}

void Bench::unwire(const std::string &terminal)
{
    std::erase_if(car.wires,
                  [&](const kit::Wire &w) { return w.from == terminal || w.to == terminal; });
}

void Bench::turn(const std::string &a, const std::string &b)
{
    for (auto &w : car.wires)
        for (auto *end : {&w.from, &w.to})
            *end = *end == a ? b : *end == b ? a : *end;
}

kit::Instance &Bench::instance(const std::string &id)
{
    for (auto &i : car.parts)
        if (i.id == id)
            return i;
    qFatal("no part %s", id.c_str());
}

void Bench::addPack(const std::string &id, int cells)
{
    kit::Instance pack;
    pack.id = id;
    pack.partId = "cell-nimh";
    pack.cellsInSeries = cells;
    pack.cellsInParallel = 1;
    car.parts.push_back(pack);
}

rules::Value &Bench::value(const std::string &name)
{
    for (auto &v : program.values)
        if (v.name == name)
            return v;
    qFatal("no value %s", name.c_str());
}

judge::Judgement Bench::judge()
{
    return judge::judge(workshop, {car, catalogue});
}

std::vector<std::string> codes(const std::vector<Finding> &findings)
{
    std::vector<std::string> all;
    for (const auto &f : findings)
        all.push_back(f.code);
    std::sort(all.begin(), all.end());
    return all;
}

const Finding *find(const std::vector<Finding> &findings, const std::string &code)
{
    const auto it = std::find_if(findings.begin(), findings.end(),
                                 [&](const Finding &f) { return f.code == code; });
    return it == findings.end() ? nullptr : &*it;
}

bool compareNear(double actual, double expected, double tolerance, const char *file, int line)
{
    return QTest::qVerify(std::abs(actual - expected) <= tolerance, "",
                          qPrintable(QStringLiteral("%1 is not %2 within %3")
                                         .arg(actual, 0, 'g', 12)
                                         .arg(expected, 0, 'g', 12)
                                         .arg(tolerance)),
                          file, line);
}

rules::Program &programOf(Bench &b)
{
    for (size_t i = 0; i < b.workshop.programs.size(); ++i)
        if (std::as_const(b.workshop.programs)[i].id == b.car.program)
            return b.workshop.programs[i];
    return b.program;
}

judge::Course courseOf(const Bench &b)
{
    const auto *own = b.workshop.program(b.car.program);
    return {
        std::make_shared<kit::Car>(b.car), std::make_shared<rules::Program>(own ? *own : b.program),
        std::make_shared<floor::Floor>(b.floor), judge::recordsOf(b.workshop, b.car), b.catalogue};
}

judge::Grounds groundsOf(const Bench &b)
{
    const auto course = courseOf(b);
    return {course.car, course.program, course.floor, {}, {}, course.records, {}};
}

} // namespace badger::test
