// SPDX-License-Identifier: GPL-3.0-or-later
// The ruler of a program that only halts, with the car before the board.
#include "app/rule/program_page.h"

#include "app/widgets/text.h"
#include "core/judge/program_around.h"
#include "core/units/quantity.h"

#include <QDate>
#include <QLabel>
#include <algorithm>

namespace badger::app
{

/// Drives and stands by one distance: the ruler with its car says all of it.
bool ProgramPage::halts(const rules::Program &program)
{
    return regions::hasNumberLine(program) && program.states.size() <= 2 &&
           std::all_of(program.states.begin(), program.states.end(), [](const rules::State &s) {
               const auto act = rules::actOf(s.motion);
               return act == rules::Act::Go || act == rules::Act::Stand;
           });
}

/// The reading that the ruler and the table of every number are about.
const rules::Reading *ProgramPage::rulerReading() const
{
    const auto *program = m_session.program();
    if (program == nullptr || program->readings.empty())
        return nullptr;
    const auto *stopping = m_session.stopRule().reading;
    return stopping ? stopping : &program->readings.front();
}

/// What the Floor station's search came to, with its day.
std::optional<RulerContent::Window> ProgramPage::windowOf(const std::string &value) const
{
    const auto known = m_session.knownWindow(value);
    if (!known || !known->found.low)
        return std::nullopt;
    const auto &w = known->found;
    const auto cm = [](double si) { return str(units::quantity(si, units::Unit::Centimetre, 3)); };
    const auto range =
        w.high ? tr("%1 to %2").arg(cm(*w.low), cm(*w.high)) : tr("from %1 up").arg(cm(*w.low));
    RulerContent::Window shown;
    shown.low_m = *w.low;
    shown.high_m = w.high.value_or(1e9);
    shown.stale = known->stale;
    const auto date = QDate::fromString(str(w.date), Qt::ISODate);
    const auto day = date == QDate::currentDate() ? tr("today") : QLocale().toString(date, "d MMM");
    shown.words =
        shown.stale
            ? tr("window on %1 was %2 (%3); something changed since").arg(str(w.floor), range, day)
            : tr("window on %1: %2 (%3)").arg(str(w.floor), range, day);
    return shown;
}

void ProgramPage::refreshRuler()
{
    RulerContent c;
    const auto *car = m_session.car();
    const auto *program = m_session.program();
    const auto *j = m_session.current();
    const auto *shown = rulerReading();
    if (car == nullptr || shown == nullptr) {
        m_ruler->show({});
        return;
    }
    const auto &r = *shown;
    c.program = *program;
    c.unit = units::shownIn(r.unit, listener().display);
    c.step_m = units::info(r.unit).inSi * (r.unit == units::Unit::Millimetre ? 10.0 : 1.0);
    c.limit_m = r.limit_m.value_or(1.2);
    if (const auto stop = m_session.stopRule(); stop.value) {
        m_threshold = str(stop.value->name);
        c.threshold_m = stop.value->si;
        c.inclusive = stop.inclusive;
    }
    if (const auto machine = machine::lower(*program); machine && regions::hasNumberLine(*program))
        if (const auto line = regions::numberLine(*program, *machine))
            c.bands = regions::bands(*line);
    if (const auto ranger = judge::rangerOf({*car, m_session.catalogue()}, r)) {
        c.deadZone_m = (*ranger)->figure("dead_zone_m")->typical;
        c.halfAngle_rad = (*ranger)->figure("half_angle_rad")->typical;
        c.setBack_m = kit::mountOf(*car, *car->instance(r.instance))->setBack_m;
    }
    c.car = car->geometry;
    if (j)
        c.budget = j->budget;
    if (c.threshold_m)
        c.window = windowOf(m_threshold.toStdString());
    if (const auto tried = m_try->lastNumber())
        c.reading_m = units::toSi(*tried, r.unit);
    m_ruler->show(std::move(c));
}

/// Of one ranger each number has a cell of its own; of more a line for each row.
void ProgramPage::refreshTable(const machine::CarFacts &facts)
{
    const auto &program = *m_session.program();
    const bool everyNumber = regions::hasNumberLine(program) && rules::complete(program);
    m_grid->setVisible(everyNumber);
    m_rows->setVisible(!everyNumber);
    if (everyNumber)
        m_grid->show(program, facts);
    else
        m_rows->show(program, facts, shownMode());
}

} // namespace badger::app
