// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/machine/atom_words.h"

#include "core/rules/key_words.h"

#include <fmt/format.h>

namespace badger::machine
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

} // namespace badger::machine
