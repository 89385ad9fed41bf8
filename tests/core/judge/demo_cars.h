// SPDX-License-Identifier: GPL-3.0-or-later
// The demo's workshop to change and to judge, a car by its name.
#pragma once

#include "core/judge/program_motion.h"
#include "core/judge/stale.h"
#include "core/tune/fits_of.h"
#include "support/fixture.h"

namespace badger::test
{

struct DemoCars {
    workshop::Workshop w = test::demo();

    kit::Car &car(const std::string &name)
    {
        for (size_t i = 0; i < w.cars.size(); ++i)
            if (std::as_const(w.cars)[i].name == name)
                return w.cars[i];
        qFatal("no such car");
    }
    kit::Assembly assembly(const std::string &name) const
    {
        return {*w.car(name), io::catalogueOf(w)};
    }
    rules::Program &programOf(const std::string &name)
    {
        const auto id = std::as_const(w).car(name)->program;
        for (size_t i = 0; i < w.programs.size(); ++i)
            if (std::as_const(w.programs)[i].id == id)
                return w.programs[i];
        qFatal("no such program");
    }
    judge::Judgement judged(const std::string &name) const
    {
        return judge::judge(w, assembly(name), nullptr, judge::Runs::Later);
    }
    std::vector<judge::StaleThing> stale(const std::string &name) const
    {
        return judge::staleThings(judged(name), assembly(name),
                                  workshop::missionFloorName(w, *w.car(name)));
    }
    tune::Record &record(const std::string &name, tune::What what, const std::string &instance = {})
    {
        const auto id = std::as_const(w).car(name)->id;
        for (size_t i = 0; i < w.records.size(); ++i) {
            const auto &r = std::as_const(w.records)[i];
            if (r.car == id && r.what == what && (instance.empty() || r.instance == instance))
                return w.records[i];
        }
        qFatal("no such record");
    }
    tune::Record &add(const std::string &name, tune::What what, const std::string &instance)
    {
        tune::Record r;
        r.id = {"added-" + std::string(tune::key(what)) + instance};
        r.car = std::as_const(w).car(name)->id;
        r.what = what;
        r.instance = instance;
        r.basis = tune::basisOf(assembly(name), what, instance);
        r.basis.date = "2026-11-20";
        w.records.push_back(std::move(r));
        return w.records[w.records.size() - 1];
    }
};

inline std::vector<Finding> found(const std::vector<Finding> &among, const std::string &code)
{
    std::vector<Finding> all;
    for (const auto &f : among)
        if (f.code == code)
            all.push_back(f);
    return all;
}

/// What the wires do for each action of a bench's program.
inline std::vector<judge::ProgramAction> actions(const Bench &b)
{
    return judge::actionsOn({b.car, b.catalogue}, b.program, motion::motion({b.car, b.catalogue}));
}

} // namespace badger::test
