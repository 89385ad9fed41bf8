// SPDX-License-Identifier: GPL-3.0-or-later
// What is typed into the row, and what follows from it.
#include "app/rule/try_row.h"
#include "app/widgets/marks.h"
#include "app/widgets/text.h"
#include "core/regions/compare.h"
#include <QHBoxLayout>
#include <QHelpEvent>
#include <QLabel>
#include <QLineEdit>
#include <QMouseEvent>
#include <QPainter>
#include <QRegularExpression>
#include <QToolButton>
#include <QToolTip>
#include <algorithm>
#include <cmath>
#include <set>

namespace badger::app
{

/// What is typed, as far as it can be read; what cannot is said.
std::vector<machine::Given> TryRow::typed(double step_s)
{
    const auto columns = machine::columns(m_program, m_machine);
    std::vector<machine::Given> given;
    // A unit may stand apart from its number.
    static const QRegularExpression apart(QStringLiteral("(\\d)\\s+(cm|mm|in|m)\\b"));
    auto text = m_text->text();
    if (columns.size() == 1)
        text.replace(apart, QStringLiteral("\\1\\2"));
    for (const auto &part : text.split(',', Qt::SkipEmptyParts)) {
        const auto words = part.split(' ', Qt::SkipEmptyParts);
        if (words.isEmpty())
            continue;
        if (static_cast<int>(given.size()) == mostEntries) {
            m_problem = tr("The first %1 are tried.").arg(mostEntries);
            break;
        }
        if (static_cast<size_t>(words.size()) != columns.size()) {
            m_problem = tr("'%1' has %2 of %3 readings")
                            .arg(part.trimmed())
                            .arg(words.size())
                            .arg(columns.size());
            break;
        }
        machine::Given g{static_cast<std::uint64_t>(step_s * 1e6) * given.size(), {}};
        for (size_t i = 0; i < columns.size(); ++i) {
            const auto heard =
                machine::heardOf(m_program, columns[i], words[static_cast<int>(i)].toStdString());
            if (!heard) {
                m_problem = str(heard.error().text());
                break;
            }
            g.heard.push_back(*heard);
        }
        if (!m_problem.isEmpty())
            break;
        Entry e;
        e.readings = words.join(' ');
        e.at_s = static_cast<double>(g.time_us) * 1e-6;
        m_entries.push_back(e);
        given.push_back(std::move(g));
    }
    return given;
}

/// What the car does under each entry, and why.
void TryRow::follow(const std::vector<machine::Given> &given)
{
    int mode = -1;
    machine::Orders wheels;
    const auto told = machine::play(m_program, m_machine, given);
    size_t t = 0;
    for (size_t i = 0; i < m_entries.size(); ++i) {
        auto &entry = m_entries[i];
        const auto until = i + 1 < given.size() ? given[i + 1].time_us : ~std::uint64_t{0};
        const int before = mode;
        for (; t < told.size() && told[t].time_us < until; ++t) {
            if (told[t].mode != mode) {
                entry.states << str(m_program.states[static_cast<size_t>(told[t].mode)].name);
                entry.why << str(told[t].why);
                entry.modes.push_back(told[t].mode);
            }
            mode = told[t].mode;
            wheels = told[t].orders;
        }
        if (entry.modes.empty() && mode >= 0)
            entry.modes.push_back(mode);
        // What goes round is said once.
        for (int k = 1; k < entry.states.size(); ++k)
            if (entry.states.mid(0, k).contains(entry.states[k])) {
                entry.states = entry.states.mid(0, k + 1);
                entry.modes.resize(static_cast<size_t>(k) + 1);
                entry.states.last() += QStringLiteral(" …");
            }
        entry.nothing = entry.states.isEmpty() && before == mode;
        if (mode >= 0) {
            const auto &state = m_program.states[static_cast<size_t>(mode)];
            entry.act = rules::actOf(state.motion);
            entry.mode = mode;
            if (entry.nothing)
                entry.states << str(state.name);
            const auto follows = m_machine.modes[static_cast<size_t>(mode)].follows;
            if (follows == rules::Follows::Steer || follows == rules::Follows::Slow) {
                entry.nothing = false;
                entry.states.last() +=
                    tr(": left %1, right %2").arg(wheels.left.counts).arg(wheels.right.counts);
                if (wheels.clamped)
                    entry.states.last() += tr(" (at its end)");
            }
        }
    }
}

} // namespace badger::app
