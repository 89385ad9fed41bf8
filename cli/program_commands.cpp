// SPDX-License-Identifier: GPL-3.0-or-later
#include "cli/program_commands.h"

#include "cli/workshop_pick.h"
#include "core/base/medium.h"
#include "core/io/storage.h"
#include "core/io/templates.h"
#include "core/io/workshop_file.h"
#include "core/judge/budget.h"
#include "core/judge/program_around.h"
#include "core/judge/proposed.h"
#include "core/kit/roles.h"
#include "core/machine/play.h"
#include "core/regions/compare.h"
#include "core/tune/csv_rows.h"

#include <algorithm>
#include <charconv>
#include <cmath>

namespace badger::cli
{

namespace
{

std::vector<std::string> readingsOf(const io::Template &t)
{
    std::vector<std::string> names;
    io::Choices shape; // whichever: a side or a tie reads the same
    for (const auto &c : t.choices)
        if (c.shapes)
            shape[c.key] = c.words.front();
    const auto program =
        io::fromTemplate(t.name, shape, {}, Id<rules::Program>{"template"}, t.name);
    if (!program)
        return names;
    const auto machine = machine::lowerAnyway(*program);
    for (const auto &c : machine::columns(*program, machine))
        names.push_back(c.name);
    for (const auto &r : program->readings)
        if (r.source == rules::Source::Scan)
            names.emplace_back("at-ANGLE");
    return names;
}

} // namespace

Result<Answer> templates()
{
    Answer a;
    a.json = {{"templates", Json::array()}};
    for (const auto &t : io::templates()) {
        a.text += fmt::format("{}: {}\n", t.name, t.what);
        Json choices = Json::array();
        std::vector<std::vector<Say>> rows;
        for (const auto &c : t.choices) {
            choices.push_back({{"key", c.key},
                               {"kind", c.kind},
                               {"unit", c.unit.empty() ? Json(nullptr) : Json(c.unit)},
                               {"words", c.words.empty() ? Json(nullptr) : Json(c.words)},
                               {"default", c.defaultWord ? Json(*c.defaultWord) : Json(nullptr)},
                               {"optional", c.optional},
                               {"when", c.when.empty() ? Json(nullptr) : Json(c.when)},
                               {"meaning", c.meaning}});
            rows.push_back({"  " + c.key,
                            c.words.empty() ? c.kind + (c.unit.empty() ? "" : ", " + c.unit)
                                            : fmt::format("{}", fmt::join(c.words, " | ")),
                            c.defaultWord ? *c.defaultWord
                            : c.optional  ? "may be left out"
                                          : "",
                            c.meaning});
        }
        a.text += aligned(rows) + "\n";
        a.why += fmt::format("{}: {}\n", t.name, t.why);
        a.json["templates"].push_back({{"name", t.name},
                                       {"what", t.what},
                                       {"why", t.why},
                                       {"readings", readingsOf(t)},
                                       {"choices", choices}});
    }
    return a;
}

namespace
{

Result<io::Choices> choicesOf(const std::vector<std::string> &set)
{
    io::Choices choices;
    for (const auto &one : set) {
        const auto equals = one.find('=');
        if (equals == std::string::npos || equals == 0)
            return fail(Error::Kind::Malformed, "--set " + one, say("it is no KEY=VALUE"),
                        say("write it as near=18cm"));
        if (!choices.emplace(one.substr(0, equals), one.substr(equals + 1)).second)
            return fail(Error::Kind::Conflict, "--set " + one.substr(0, equals),
                        say("it is set twice"), say("set it once"));
    }
    return choices;
}

Result<rules::Program> made(const Opened &o, const kit::Car &car, const Making &making,
                            const io::Choices &choices)
{
    const auto roles = kit::roles({car, o.catalogue});
    if (!making.from.empty())
        return io::fromTemplate(
            making.from, choices, roles, newId<rules::Program>(randomBits),
            workshop::freeProgramName(o.workshop, making.from + " " + car.name));
    const auto *program = o.workshop.program(car.program);
    if (program == nullptr)
        return fail(Error::Kind::Missing, "car '" + car.name + "'", say("it runs no program"),
                    say("make one with --from TEMPLATE"));
    auto changed = io::withChoices(*program, choices, roles);
    if (changed && !(*changed == *program) && changed->version == changed->writtenVersion)
        ++changed->version;
    return changed;
}

} // namespace

Result<Answer> program(const std::string &file, const std::string &carName, const Making &making,
                       const Output &out)
{
    const auto o = open(file);
    if (!o)
        return tl::unexpected(o.error());
    const auto car = carNamed(*o, carName);
    if (!car)
        return tl::unexpected(car.error());
    const auto choices = choicesOf(making.set);
    if (!choices)
        return tl::unexpected(choices.error());
    if (making.from.empty() && choices->empty() && !making.propose)
        return fail(Error::Kind::Missing, "program", say("nothing is asked for"),
                    say("name a template with --from, or a choice with --set"));
    auto program = made(*o, **car, making, *choices);
    if (!program)
        return tl::unexpected(program.error());
    std::vector<judge::ProposedValue> proposed;
    if (making.propose) {
        proposed = judge::proposedValues({**car, o->catalogue}, *program);
        if (!proposed.empty() && making.from.empty() && choices->empty() &&
            program->version == program->writtenVersion)
            ++program->version;
        program = judge::withProposed(std::move(*program), proposed);
    }

    auto w = o->workshop;
    if (making.from.empty()) {
        for (auto &p : w.programs)
            if (p.id == program->id)
                p = *program;
    } else {
        w.programs.push_back(*program);
        for (auto &c : w.cars)
            if (c.id == (*car)->id)
                c.program = program->id;
    }
    if (auto ok = io::takesBack(w, o->workshop, o->catalogue); !ok)
        return tl::unexpected(ok.error());
    if (const auto saved = io::saveOutput(out.path, io::writeWorkshop(w), out.replace, file);
        !saved)
        return tl::unexpected(saved.error());
    Answer a;
    const auto missing = rules::unset(*program);
    a.text = fmt::format("{} runs '{}'\n", (*car)->name, program->name);
    a.json = {{"car", (*car)->name},
              {"program", program->name},
              {"template", program->from ? Json(program->from->name) : Json(nullptr)},
              {"version", program->version},
              {"out", out.path},
              {"proposed", Json::array()},
              {"unset", Json::array()}};
    for (const auto &p : proposed) {
        using What = judge::ProposedValue::What;
        const auto what = p.what == What::Value   ? say("'{}'", p.name)
                          : p.what == What::Limit ? say("the farthest reading of '{}'", p.name)
                                                  : say("the air of '{}'", p.name);
        a.text += fmt::format("proposed, not measured: {} is {}; {}\n", what, p.how, p.why);
        a.json["proposed"].push_back({{"name", p.name},
                                      {"what", p.what == What::Value   ? "value"
                                               : p.what == What::Limit ? "limit"
                                                                       : "air"},
                                      {"value", p.how},
                                      {"si", p.si},
                                      {"why", p.why}});
    }
    for (const auto &m : missing) {
        a.text += fmt::format("not chosen yet: {}\n", m);
        a.json["unset"].push_back(m);
    }
    return a;
}

namespace
{

/// A template made with the choices that it has; what belongs to the other one alone is left out.
Result<rules::Program> madeFor(const kit::Assembly &car, const std::string &name,
                               const io::Choices &choices)
{
    io::Choices own;
    if (const auto *t = io::templateNamed(name))
        for (const auto &[key, word] : choices)
            if (t->choice(key))
                own.emplace(key, word);
    return io::fromTemplate(name, own, kit::roles(car), Id<rules::Program>{name}, name);
}

using Two = std::pair<rules::Program, rules::Program>;

Result<Two> comparedOf(const PickedCar &p, const Comparing &comparing)
{
    const auto &w = p.opened.workshop;
    if (comparing.templates.empty()) {
        const auto *own = w.program(p.car.program);
        const rules::Program *other = nullptr;
        for (const auto &program : w.programs)
            if (program.name == comparing.with)
                other = &program;
        for (const auto &car : w.cars)
            if (!other && car.name == comparing.with)
                other = w.program(car.program);
        if (own == nullptr)
            return fail(Error::Kind::Missing, "car '" + p.car.name + "'", say("it runs no program"),
                        say("make one with 'program --from'"));
        if (other == nullptr)
            return fail(Error::Kind::Missing, "--with",
                        say("there is no program or running car '{}'", comparing.with),
                        say("use one of: {}", names(w.programs)));
        return Two{*own, *other};
    }
    const auto choices = choicesOf(comparing.set);
    if (!choices)
        return tl::unexpected(choices.error());
    const kit::Assembly car(p.car, p.opened.catalogue);
    for (const auto &[key, word] : *choices) {
        bool known = false;
        for (const auto &name : comparing.templates)
            if (const auto *t = io::templateNamed(name))
                known |= t->choice(key) != nullptr;
        if (!known)
            return fail(Error::Kind::Missing, "--set " + key,
                        say("neither template has such a choice"), say("see 'templates'"));
    }
    auto a = madeFor(car, comparing.templates.front(), *choices);
    auto b = madeFor(car, comparing.templates.back(), *choices);
    if (!a || !b)
        return tl::unexpected(a ? b.error() : a.error());
    return Two{std::move(*a), std::move(*b)};
}

/// What is left at worst before what stops it; empty where no distance does.
std::optional<double> gapOf(const kit::Assembly &car, const rules::Program &program)
{
    const auto b = judge::budgetOf(car, program);
    return b ? std::optional(b->budget.worstGap_m) : std::nullopt;
}

Json costsJson(const regions::Costs &c, const std::optional<double> &gap_m)
{
    return {{"longest_pass_ms", c.longestPass_s * 1000.0},
            {"gap_cm", orNull(gap_m, 100.0)},
            {"look_round_ms", c.lookRound_s * 1000.0},
            {"blind_ms", c.blind_s * 1000.0},
            {"blind_cm", orNull(c.blind_m, 100.0)},
            {"states", c.states},
            {"rules", c.rules}};
}

} // namespace

Result<Answer> compare(const std::string &file, const std::string &carName,
                       const Comparing &comparing)
{
    if (comparing.with.empty() == comparing.templates.empty() ||
        (!comparing.templates.empty() && comparing.templates.size() != 2))
        return fail(Error::Kind::Malformed, "compare", say("it is not said what with"),
                    say("name a program with --with, or two templates with --template"));
    const auto p = pickCar(file, carName);
    if (!p)
        return tl::unexpected(p.error());
    const auto two = comparedOf(*p, comparing);
    if (!two)
        return tl::unexpected(two.error());
    const auto &[a, b] = *two;
    const kit::Assembly car(p->car, p->opened.catalogue);
    const auto around = judge::around(car, a, judge::recordsOf(p->opened.workshop, p->car));
    const auto c = regions::compare(a, b, around);
    if (!c)
        return tl::unexpected(c.error());
    Answer answer;
    answer.json = {
        {"a", a.name},
        {"b", b.name},
        {"differences", Json::array()},
        {"costs", {{"a", costsJson(c->a, gapOf(car, a))}, {"b", costsJson(c->b, gapOf(car, b))}}},
        {"only_a_reads", c->onlyA},
        {"only_b_reads", c->onlyB}};
    std::vector<std::vector<Say>> rows = {{"", a.name, b.name}};
    for (const auto &d : c->differences) {
        answer.json["differences"].push_back({{"where", d.where}, {"a", d.a}, {"b", d.b}});
        rows.push_back({d.where, d.a, d.b});
    }
    const auto time = [](double s) { return Say(units::fixed(s, units::Unit::Millisecond, 0)); };
    const auto way = [](const std::optional<double> &m) {
        return m ? Say(units::fixed(*m, units::Unit::Centimetre, 0)) : Say("");
    };
    rows.push_back({"a pass at its longest", time(c->a.longestPass_s), time(c->b.longestPass_s)});
    rows.push_back({"a look round", time(c->a.lookRound_s), time(c->b.lookRound_s)});
    rows.push_back({"decides nothing for", time(c->a.blind_s), time(c->b.blind_s)});
    rows.push_back({"driven meanwhile", way(c->a.blind_m), way(c->b.blind_m)});
    rows.push_back({"left at worst", way(gapOf(car, a)), way(gapOf(car, b))});
    answer.text = aligned(rows);
    for (const auto &[list, who] : {std::pair{&c->onlyA, &a.name}, {&c->onlyB, &b.name}})
        if (!list->empty())
            answer.text += fmt::format("only '{}' reads: {}\n", *who, fmt::join(*list, ", "));
    return answer;
}

} // namespace badger::cli
