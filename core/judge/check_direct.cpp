// SPDX-License-Identifier: GPL-3.0-or-later
// A car without a board: each sensor drives a wheel, and the program only says what is meant.
#include "core/judge/check_way.h"

#include <algorithm>

namespace badger::judge
{

namespace
{

using motion::Turn;

/// The input that a reading's sensor drives. Null: none.
const motion::MotionInput *inputOf(const motion::MotionTable &table, const rules::Reading &reading)
{
    for (const auto &input : table.inputs) {
        const auto at = kit::splitTerminal(input.terminal);
        if (!input.floating &&
            (at.instance == reading.instance || input.terminal == reading.instance))
            return &input;
    }
    return nullptr;
}

/// Whether a wheel that does not turn is held or free is the driver's affair here.
motion::Path moveOf(Turn left, Turn right)
{
    const auto stands = [](Turn t) { return t == Turn::Coast ? Turn::Brake : t; };
    return motion::pathOf(stands(left), stands(right));
}

/// What the program decides where its sensors see this; its rules hold in every state alike.
std::optional<int> decided(const regions::Regions &regions, const std::vector<bool> &seen)
{
    for (const auto &cell : regions.cells) {
        bool here = true;
        for (size_t k = 0; k < regions.axes.size(); ++k) {
            const auto &axis = regions.axes[k];
            const auto kind = axis.atoms[static_cast<size_t>(cell.atoms[k])].kind;
            here &= (kind == regions::Atom::Kind::Yes) == seen[static_cast<size_t>(axis.sensor)];
        }
        if (here && cell.outcome == regions::Outcome::Rule)
            return cell.to;
    }
    return std::nullopt;
}

} // namespace

bool wiresAreTheProgram(const ProgramLook &look)
{
    const auto &p = look.program;
    return look.motion && !look.motion->rows.empty() && !look.car.first(parts::Kind::Board) &&
           rules::complete(p).has_value() && !p.readings.empty() && !p.everywhere.empty() &&
           std::all_of(p.states.begin(), p.states.end(),
                       [](const rules::State &s) { return s.rules.empty() && !s.wait; }) &&
           std::all_of(p.readings.begin(), p.readings.end(), [&](const rules::Reading &r) {
               return r.source == rules::Source::Digital && inputOf(*look.motion, r);
           });
}

std::vector<Finding> wiresDoOtherwise(const ProgramLook &look, const char *code)
{
    const auto &program = look.program;
    const auto &regions = look.exact.cells(0);
    if (!regions)
        return {};
    std::vector<Finding> found;
    for (const auto &row : look.motion->rows) {
        std::vector<bool> seen;
        std::vector<Say> where;
        for (const auto &r : program.readings) {
            const auto *input = inputOf(*look.motion, r);
            const auto index = static_cast<size_t>(input - look.motion->inputs.data());
            const auto level = input->levelName(row.levels[index]);
            seen.push_back((level == "dark") == (r.seeks == rules::Shade::Dark));
            where.push_back(say("{} {}", r.name, level));
        }
        const auto mode = decided(*regions, seen);
        if (!mode)
            continue;
        const auto &motion = program.states[static_cast<size_t>(*mode)].motion;
        const auto wanted =
            moveOf(wantedTurn(motion, motion.left), wantedTurn(motion, motion.right));
        const auto made = moveOf(row.left, row.right);
        if (made == wanted || made == motion::Path::Unsure)
            continue;
        const auto &state = program.states[static_cast<size_t>(*mode)].name;
        Finding f{code,
                  Severity::Error,
                  say("program '{}', '{}'", program.name, state),
                  say("At {}: '{}' means: {}. The wires make of it: {}.", joined(where, ", "),
                      state, motion::words(wanted), motion::words(made)),
                  say("There is no board: what the wires do is what the car does."),
                  say("The motion page of Wire shows which sensor drives which wheel."),
                  at::state(state)};
        found.push_back(std::move(f));
    }
    return found;
}

} // namespace badger::judge
