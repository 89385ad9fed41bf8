// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/machine/made.h"

namespace badger::test
{

io::Choices enough(const std::string &name)
{
    static const std::map<std::string, std::string> usual = {
        {"threshold", "30cm"},
        {"near", "18cm"},
        {"far", "45cm"},
        {"speed", "140"},
        {"turn-speed", "120"},
        {"no-echo", "clear"},
        {"limit", "400cm"},
        {"air", "20C"},
        {"back-time", "500ms"},
        {"turn-time", "400ms"},
        {"turn-time-left", "400ms"},
        {"turn-time-right", "400ms"},
        {"turn-side", "left"},
        {"turn-least", "200ms"},
        {"turn-most", "900ms"},
        {"turn-around", "800ms"},
        {"tolerance", "3cm"},
        {"tie", "right"},
        {"free", "50cm"},
        {"dwell", "300ms"},
        {"per-degree", "9ms"},
        {"lost-signal", "500ms"},
        {"dark", "240"},
        {"light", "820"},
        {"gain", "0.8"},
        {"edge", "left"},
        {"light-level", "1"},
        {"both-dark", "stop"},
        {"crossed", "no"},
    };
    io::Choices all;
    const auto *t = io::templateNamed(name);
    for (const auto &c : t->choices) {
        if (c.optional || c.defaultWord || !c.when.empty())
            continue;
        if (c.key == "angles")
            all[c.key] = name == "fan"               ? "40,50,60,70,80,90,100,110,120,130,140"
                         : name == "first-free-side" ? "150,30"
                                                     : "30,150";
        else if (c.kind == "count" || c.kind == "by-source")
            all[c.key] = c.key == "near"    ? "700"
                         : c.key == "far"   ? "300"
                         : c.key == "dark"  ? "240"
                         : c.key == "light" ? "820"
                                            : "530";
        else
            all[c.key] = usual.at(c.key);
    }
    return all;
}

rules::Program made(const std::string &name, const io::Choices &more)
{
    auto choices = enough(name);
    for (const auto &[key, word] : more)
        choices[key] = word;
    auto program = io::fromTemplate(name, choices, {}, Id<rules::Program>{"id"}, name);
    if (!program)
        qFatal("%s: %s", name.c_str(), english(program.error().text()).c_str());
    return *program;
}

std::vector<machine::Told> played(const rules::Program &program,
                                  const std::vector<std::vector<std::string>> &rows)
{
    const auto machine = machine::lower(program);
    if (!machine)
        qFatal("%s", english(machine.error().text()).c_str());
    const auto columns = machine::columns(program, *machine);
    std::vector<machine::Given> given;
    for (const auto &row : rows) {
        machine::Given g{std::stoull(row.at(0)) * 1000, {}};
        for (size_t i = 0; i < columns.size(); ++i) {
            const auto heard = machine::heardOf(program, columns[i], row.at(i + 1));
            if (!heard)
                qFatal("%s", english(heard.error().text()).c_str());
            g.heard.push_back(*heard);
        }
        given.push_back(std::move(g));
    }
    return machine::play(program, *machine, given);
}

QStringList states(const rules::Program &program, const std::vector<machine::Told> &told)
{
    QStringList all;
    for (const auto &t : told) {
        const auto name = QString::fromStdString(program.states[static_cast<size_t>(t.mode)].name);
        if (all.isEmpty() || all.back() != name)
            all.push_back(name);
    }
    return all;
}

double entered_ms(const rules::Program &program, const std::vector<machine::Told> &told,
                  const std::string &state)
{
    for (const auto &t : told)
        if (program.states[static_cast<size_t>(t.mode)].name == state)
            return static_cast<double>(t.time_us) / 1000.0;
    return -1.0;
}

} // namespace badger::test
