// SPDX-License-Identifier: GPL-3.0-or-later
// What a written program knows: a variable for each reading, servo and word.
#include "core/boardcode/look_writer.h"

#include "core/rules/pass_time.h"

#include <algorithm>
#include <cmath>
#include <fmt/format.h>

namespace badger::boardcode
{

using rules::NoEcho;

void Looks::variables()
{
    Item heading;
    heading.kind = Item::Kind::Heading;
    heading.comment = "what the car knows";
    m_items.push_back(heading);
    for (int i = 0; i < count(); ++i)
        if (!rules::isOfTheStartAlone(m.program, m.reading(i)))
            variablesOf(i);
    for (const auto &[servo, pin] : m.wires.servos)
        add(variableItem(servoType(servo), m.small("servo", servo, {}, "_at"), whole(90),
                         "degrees; 90 looks ahead"));
    if (timed())
        for (const auto &[servo, pin] : m.wires.servos) {
            add(variableItem(Type::Truth, m.small("moves", servo, {}, "_moves"), truth(false),
                             "it may not stand yet"));
            add(variableItem(Type::Time, m.small("servoend", servo, {}, "_end"), whole(0)));
        }
    for (size_t k = 0; k < m.program.memos.size(); ++k)
        add(variableItem(Type::Small, m.memo(m.program.memos[k].name),
                         name(m.word(m.machine.memos[k])), "what is remembered"));
    if (asksStop(m))
        add(variableItem(Type::Truth, "stop_asked", truth(false),
                         "a look had no echo, and that stops the car"));
    m_items.push_back(gap());
}

Type Looks::servoType(const std::string &servo) const
{
    for (int i = 0; i < count(); ++i)
        if (m.reading(i).swivel && m.reading(i).swivel->servo == servo && !m.anglesAreWhole(i))
            return Type::Real;
    for (const auto &v : m.program.values)
        if (v.kind == rules::ValueKind::Angle && v.si && *v.si != std::trunc(*v.si))
            return Type::Real;
    return Type::Whole;
}

std::string Looks::unit(int i) const
{
    const auto &r = m.reading(i);
    if (const auto *length = machine::lengthOf(m.program, r))
        return units::info(length->unit).symbol;
    return r.source == RuleSource::Analogue && r.scale == rules::Scale::Raw ? "counts" : "";
}

void Looks::variablesOf(int i)
{
    const auto &r = m.reading(i);
    const auto &s = m.sensor(i);
    const bool echo = r.source == RuleSource::Ranger || r.source == RuleSource::Scan;
    if (r.source != RuleSource::Difference)
        add(variableItem(m.type(i), m.variable(i),
                         echo || hears(i)           ? m.none(i)
                         : m.type(i) == Type::Truth ? truth(false)
                         : m.type(i) == Type::Real  ? real(0.0)
                                                    : whole(0),
                         unit(i)));
    if (m.needsFound(i))
        add(variableItem(Type::Truth, m.found(i), truth(false), "there is such a reading"));
    if (r.source == RuleSource::Scan)
        add(variableItem(m.anglesAreWhole(i) ? Type::Whole : Type::Real, m.angle(i), whole(90),
                         "degrees, of the servo"));
    if (r.source == RuleSource::Scan && mayWait(m, i))
        add(variableItem(Type::Small, next(i), whole(0), "the look that is taken next"));
    if (r.source == RuleSource::Scan && mayWait(m, i) && m.lostMost.count(i) != 0)
        add(variableItem(Type::Truth, heardName(i), truth(false)));
    if (r.source == RuleSource::Ranger && s.angles.count > 1)
        add(variableItem(Type::Small, next(i), whole(0), "the angle that is looked at next"));
    if (usesWhich(i))
        add(variableItem(Type::Small, m.which(i), whole(0), "which of them it is"));
    if (m.lostMost.count(i) != 0)
        add(variableItem(Type::Whole, m.lost(i), whole(0),
                         "looks in succession that heard nothing"));
    if (holdsLast(i))
        add(variableItem(m.type(i), last(i), m.none(i), "the last one that was heard"));
    if (const auto stops = m.stops(i); echo && !isTrue(stops) && !isFalse(stops))
        add(variableItem(Type::Truth, m.stopsName(i), truth(false),
                         "what it heard last stops the car"));
    if (r.source == RuleSource::Key)
        add(variableItem(Type::Time, keyTime(i), whole(0), "when the last key came"));
    if (printsRaw(i))
        add(variableItem(m.type(i), m.small("raw", r.name, "raw_"), name("NO_ECHO"),
                         "as it was heard"));
    if (r.medianOf > 1) {
        Item recent =
            variableItem(m.type(i), this->recent(i), m.none(i), "the newest, newest last");
        recent.of.resize(static_cast<size_t>(r.medianOf), m.none(i));
        add(recent);
        add(variableItem(Type::Small, kept(i), whole(0), "how many of them there are yet"));
    }
}

bool Looks::holdsLast(int i) const
{
    const auto &s = m.sensor(i);
    return hears(i) &&
           (s.policy == NoEcho::HoldLast || (s.nearest && s.tooNear == NoEcho::HoldLast) ||
            (s.farthest && s.wild == NoEcho::HoldLast));
}

bool Looks::usesWhich(int i) const
{
    const auto in = [&](const std::vector<rules::Rule> &all) {
        for (const auto &rule : all)
            for (const auto &c : rule.when)
                if (c.test == rules::Test::Which && c.reading == m.reading(i).name)
                    return true;
        return false;
    };
    return in(m.program.everywhere) ||
           std::any_of(m.program.states.begin(), m.program.states.end(),
                       [&](const rules::State &s) { return in(s.rules); });
}

} // namespace badger::boardcode
