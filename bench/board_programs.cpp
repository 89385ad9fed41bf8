// SPDX-License-Identifier: GPL-3.0-or-later
// Written programs against the interpreter, many of them: each template with choices drawn at
// random, in both styles, on an emulated chip, with readings drawn at random.
//
//     badger_board_programs [--programs 6] [--sequences 20] [--looks 60] [--seed 1] [--only fan]
//
// Prints programs, refusals, runs, entries compared and differences for each template; ends with
// status 1 where there is a difference.
#include "board/boards.h"
#include "board/equal.h"
#include "core/judge/program_around.h"

#include <QTemporaryDir>
#include <cstdio>
#include <fmt/format.h>
#include <random>

using namespace badger;
using boardcode::Style;

namespace
{

struct Options {
    int programs = 6;
    int sequences = 20;
    int looks = 60;
    unsigned seed = 1;
    std::string only;
};

class Draw
{
public:
    explicit Draw(unsigned seed) : m_engine(seed) {}
    int upTo(int n) { return std::uniform_int_distribution<int>(0, n - 1)(m_engine); }
    template <class List> const auto &of(const List &list)
    {
        return list[static_cast<size_t>(upTo(static_cast<int>(list.size())))];
    }

private:
    std::mt19937 m_engine;
};

/// Does "key=word" hold among the choices, or by default?
bool holds(const io::Template &t, const std::string &when, const io::Choices &chosen)
{
    const auto at = when.find('=');
    if (when.empty() || at == std::string::npos)
        return when.empty();
    const auto key = when.substr(0, at);
    const auto it = chosen.find(key);
    const auto *choice = t.choice(key);
    return (it != chosen.end() ? it->second
            : choice           ? choice->defaultWord.value_or("")
                               : "") == when.substr(at + 1);
}

/// A quantity for a choice that is no word.
std::string quantity(Draw &draw, const std::string &key, const io::Choices &chosen)
{
    using Words = std::vector<std::string>;
    static const std::map<std::string, Words> all = {
        {"lost-after", {"1", "2", "4"}},
        {"median", {"1", "1", "3", "5"}},
        {"threshold", {"30cm", "17.5cm", "254mm"}},
        {"limit", {"80cm", "55cm"}},
        {"air", {"20C", "-5C", "35C"}},
        {"wait", {"1ms", "3ms"}},
        {"beep", {"4ms"}},
        {"start-delay", {"6ms"}},
        {"tolerance", {"0cm", "3cm"}},
        {"gain", {"0.3", "1", "2.5"}},
        {"speed", {"140", "255", "1"}},
        {"turn-speed", {"120", "254"}},
        {"sweep-angles", {"80,90,100", "60,120"}},
        {"angles", {}},
    };
    const auto source = chosen.count("source") ? chosen.at("source") : "raw";
    if (key == "near" || key == "far") {
        const bool isNear = key == "near";
        if (source == "normalised")
            return isNear ? "0.8" : "0.25";
        if (source == "distance")
            return isNear ? "6cm" : "14cm";
        return {};
    }
    const auto it = all.find(key);
    return it == all.end() || it->second.empty() ? std::string() : draw.of(it->second);
}

io::Choices drawn(Draw &draw, const io::Template &t)
{
    io::Choices all = test::enough(t.name);
    for (const auto &[key, word] : test::brief())
        if (all.count(key) != 0 || (t.choice(key) && t.choice(key)->when.empty()))
            all[key] = word;
    for (const auto &c : t.choices) {
        if (!holds(t, c.when, all)) {
            all.erase(c.key);
            continue;
        }
        if (!c.words.empty()) {
            if (!c.optional || draw.upTo(2) == 0)
                all[c.key] = draw.of(c.words);
            else
                all.erase(c.key);
            continue;
        }
        const auto word = quantity(draw, c.key, all);
        if (!word.empty() && (c.kind != "count" || c.key != "threshold") &&
            (!c.optional || draw.upTo(2) == 0))
            all[c.key] = word;
        if (all.count(c.key) != 0 || c.optional || c.defaultWord)
            continue;
        if (const auto it = test::brief().find(c.key); it != test::brief().end())
            all[c.key] = it->second;
        else if (c.kind == "count")
            all[c.key] = c.key == "dark" ? "240" : "820";
    }
    return all;
}

/// What a reflectance sensor's calibration would give, and gaps in it.
void giveDistances(const rules::Program &program, machine::CarFacts &facts)
{
    for (const auto &r : program.readings)
        if (r.scale == rules::Scale::Distance)
            for (int counts = 0; counts < 1024; ++counts)
                facts.distances[r.name].push_back(counts < 60 ? std::nullopt
                                                              : std::optional(20.0 / counts));
}

/// A buzzer, for programs that beep at the start.
void giveBuzzer(test::Bench &b)
{
    kit::Instance buzzer;
    buzzer.id = "buzzer";
    buzzer.partId = "buzzer";
    b.car.parts.push_back(buzzer);
    b.car.programPins["buzzer.PLUS"] = "D13";
}

struct Tally {
    int programs = 0, runs = 0, differences = 0;
    size_t entries = 0;
    double latest_us = 0.0;
    int mostBytes = 0;
    std::map<std::string, int> refused;
};

void one(const io::Template &t, unsigned seed, const Options &options, Tally &tally)
{
    Draw draw(seed);
    test::Bench b(t.name == "keep-station" ? "Sanderling" : test::carFor(t.name));
    giveBuzzer(b);
    const kit::Assembly car(b.car, b.catalogue);
    auto choices = drawn(draw, t);
    if (t.name == "guarded-drive") { // the car has no sensor for the edge
        choices["edge-sensor"] = "no";
        choices.erase("light-level");
    }
    const auto program =
        io::fromTemplate(t.name, choices, kit::roles(car), Id<rules::Program>{"id"}, t.name);
    if (!program) {
        ++tally.refused[english(program.error().text())];
        return;
    }
    auto writing = judge::writing(b.workshop, car, *program);
    giveDistances(*program, writing.facts);
    if (const int style = draw.upTo(3); style > 0)
        writing.style = style == 1 ? Style::Blocking : Style::Timed;
    QTemporaryDir folder;
    const auto compiled = board::compiled(*program, car, writing, folder.path().toStdString());
    if (!compiled) {
        ++tally.refused[english(compiled.error().text())];
        return;
    }
    ++tally.programs;
    tally.mostBytes = std::max(tally.mostBytes, compiled->bytes);
    const double sums_us = compiled->program.prints.on ? 80'000.0 : 2500.0;
    for (int i = 0; i < options.sequences; ++i) {
        const auto feed = board::feedFor(compiled->program, compiled->machine,
                                         seed * 1000 + static_cast<unsigned>(i), options.looks);
        const auto chip = board::onChip(*compiled, feed);
        const auto model = board::onModel(*compiled, chip, sums_us);
        const auto parts = board::difference(chip, model);
        ++tally.runs;
        tally.entries += chip.told.size();
        if (!compiled->program.prints.on)
            tally.latest_us = std::max(tally.latest_us, model.latest_us);
        if (parts.empty())
            continue;
        if (++tally.differences <= 3) {
            std::string words;
            for (const auto &[key, word] : choices)
                words += fmt::format(" {}={}", key, word);
            std::printf("  %s seed %u run %d: %s\n   %s%s\n", t.name.c_str(), seed, i,
                        parts.c_str(), writing.style ? boardcode::word(*writing.style) : "",
                        words.c_str());
        }
    }
}

} // namespace

int main(int argc, char **argv)
{
    Options options;
    for (int i = 1; i + 1 < argc; i += 2) {
        const std::string key = argv[i];
        if (key == "--only")
            options.only = argv[i + 1];
        else
            (key == "--programs"    ? options.programs
             : key == "--sequences" ? options.sequences
             : key == "--looks"     ? options.looks
                                : reinterpret_cast<int &>(options.seed)) = std::atoi(argv[i + 1]);
    }
    int differences = 0;
    std::printf("%-18s %8s %8s %8s %12s %10s %10s\n", "template", "programs", "runs", "entries",
                "differences", "sums us", "bytes");
    for (const auto &t : io::templates()) {
        if (!options.only.empty() && t.name != options.only)
            continue;
        Tally tally;
        for (int i = 0; i < options.programs; ++i)
            one(t, options.seed * 100 + static_cast<unsigned>(i), options, tally);
        std::printf("%-18s %8d %8d %8zu %12d %10.0f %10d\n", t.name.c_str(), tally.programs,
                    tally.runs, tally.entries, tally.differences, tally.latest_us, tally.mostBytes);
        for (const auto &[reason, count] : tally.refused)
            std::printf("    %d refused: %s\n", count, reason.c_str());
        std::fflush(stdout);
        differences += tally.differences;
    }
    return differences == 0 ? 0 : 1;
}
