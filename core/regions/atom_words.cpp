// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/regions/atom_words.h"

#include "core/rules/key_words.h"

#include <fmt/format.h>

namespace badger::regions
{

std::string atomWords(const Machine &machine, const Axis &axis, const Atom &atom)
{
    switch (atom.kind) {
    case Atom::Kind::Numbers: {
        const bool isPair = axis.of == Axis::Of::Pair;
        const auto &first = axis.atoms.front();
        const auto &last = axis.atoms.back();
        const auto from = isPair && atom.from == first.from ? "" : units::plain(atom.from, 2);
        const auto to = isPair && atom.to == last.to ? "" : units::plain(atom.to, 2);
        if (atom.from == atom.to)
            return units::plain(atom.from, 2);
        return fmt::format("{}{}..{}{}", atom.openFrom && !from.empty() ? ">" : "", from,
                           atom.openTo && !to.empty() ? "<" : "", to);
    }
    case Atom::Kind::Near:
        return "too near";
    case Atom::Kind::Wild:
        return "wild";
    case Atom::Kind::None:
        return "none";
    case Atom::Kind::Lost:
        return fmt::format("none {} times", atom.word);
    case Atom::Kind::Yes:
        return "1";
    case Atom::Kind::No:
        return "0";
    case Atom::Kind::Key:
        return rules::commandWords[static_cast<size_t>(atom.word)];
    case Atom::Kind::Word:
        return atom.word < 0 ? "other" : machine.words[static_cast<size_t>(atom.word)];
    case Atom::Kind::Angle:
        return atom.from == atom.to
                   ? units::plain(atom.from, 1)
                   : fmt::format("{}..{}", units::plain(atom.from, 1), units::plain(atom.to, 1));
    case Atom::Kind::Since:
        return fmt::format("{} {} ms", atom.word == 1 ? "after" : "before",
                           units::plain(atom.from / 1000.0, 1));
    case Atom::Kind::Any:
        break;
    }
    return "any";
}

std::string axisName(const rules::Program &program, const Axis &axis)
{
    switch (axis.of) {
    case Axis::Of::Sensor:
        return program.readings[static_cast<size_t>(axis.sensor)].name;
    case Axis::Of::Angle:
        return program.readings[static_cast<size_t>(axis.sensor)].name + " angle";
    case Axis::Of::Memo:
        return program.memos[static_cast<size_t>(axis.sensor)].name;
    case Axis::Of::Pair:
        return program.readings[static_cast<size_t>(axis.sensor)].name + " - " +
               program.readings[static_cast<size_t>(axis.other)].name;
    case Axis::Of::Since:
        break;
    }
    return "time";
}

std::string axisUnit(const rules::Program &program, const Axis &axis)
{
    if (axis.of != Axis::Of::Sensor && axis.of != Axis::Of::Pair)
        return {};
    const auto *length = lengthOf(program, program.readings[static_cast<size_t>(axis.sensor)]);
    return length ? std::string(" ") + units::info(length->unit).symbol : std::string();
}

namespace
{

bool isWhole(const Axis &axis, const Atom &atom)
{
    return axis.of == Axis::Of::Pair && atom.from == axis.atoms.front().from &&
           atom.to == axis.atoms.back().to;
}

/// Which of two is greater, by how much at least or at most.
std::string pairWords(const rules::Program &program, const Axis &axis, const Atom &atom,
                      const std::string &unit)
{
    const auto &a = program.readings[static_cast<size_t>(axis.sensor)].name;
    const auto &b = program.readings[static_cast<size_t>(axis.other)].name;
    const bool low = atom.from == axis.atoms.front().from;
    const bool high = atom.to == axis.atoms.back().to;
    const double step = axis.whole ? 1.0 : 0.0;
    if (atom.from == 0.0 && atom.to == 0.0)
        return fmt::format("{} = {}", a, b);
    if (low && atom.to == -step && (axis.whole || atom.openTo))
        return fmt::format("{} < {}", a, b);
    if (high && atom.from == step && (axis.whole || atom.openFrom))
        return fmt::format("{} > {}", a, b);
    const auto difference = fmt::format("{} - {}", a, b);
    if (low)
        return fmt::format("{} {} {}{}", difference,
                           atom.openTo ? "<" : "<=", units::plain(atom.to, 2), unit);
    if (high)
        return fmt::format("{} {} {}{}", difference,
                           atom.openFrom ? ">" : ">=", units::plain(atom.from, 2), unit);
    if (atom.from == atom.to)
        return fmt::format("{} = {}{}", difference, units::plain(atom.from, 2), unit);
    return fmt::format("{} {}{}..{}{}{}", difference, atom.openFrom ? ">" : "",
                       units::plain(atom.from, 2), atom.openTo ? "<" : "", units::plain(atom.to, 2),
                       unit);
}

} // namespace

std::string axisWords(const rules::Program &program, const Machine &machine, const Axis &axis,
                      const Atom &atom, bool withUnits)
{
    if (isWhole(axis, atom))
        return {};
    const auto unit = withUnits ? axisUnit(program, axis) : std::string();
    if (axis.of == Axis::Of::Pair)
        return pairWords(program, axis, atom, unit);
    return axisName(program, axis) + " " + atomWords(machine, axis, atom) +
           (atom.kind == Atom::Kind::Numbers ? unit : "");
}

std::vector<std::string> rowWords(const rules::Program &program, const Machine &machine,
                                  const Regions &regions, const Row &row, bool withUnits)
{
    std::vector<std::string> parts;
    for (size_t k = 0; k < regions.axes.size(); ++k)
        if (auto words = axisWords(program, machine, regions.axes[k], row.atoms[k], withUnits);
            !words.empty())
            parts.push_back(std::move(words));
    return parts;
}

} // namespace badger::regions
