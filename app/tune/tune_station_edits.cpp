// SPDX-License-Identifier: GPL-3.0-or-later
// What a hand changes at the Tune station.
#include "app/document/edits.h"
#include "app/tune/tune_station.h"
#include "app/widgets/text.h"
#include "core/base/angle.h"
#include "core/judge/budget.h"
#include "core/sense/ultrasonic.h"

#include <QDate>
#include <QPushButton>

namespace badger::app
{

using tune::What;
using units::Dimension;

namespace
{

/// Null where it is gone.
tune::Record *recordIn(workshop::Workshop &w, const Id<tune::Record> &id)
{
    const auto &all = std::as_const(w.records);
    for (size_t i = 0; i < all.size(); ++i)
        if (all[i].id == id)
            return &w.records[i];
    return nullptr;
}

} // namespace

tune::Basis TuneStation::basisNow() const
{
    const auto *i = item();
    auto basis = tune::basisOf({*session().car(), session().catalogue()}, i->what, i->instance);
    basis.date = QDate::currentDate().toString(Qt::ISODate).toStdString();
    basis.floor = workshop::missionFloorName(session().workshop(), *session().car());
    basis.air_degC = m_air_degC;
    basis.battery_V = m_battery_V ? m_battery_V : m_live->battery_V();
    return basis;
}

void TuneStation::record()
{
    const auto *i = item();
    if (i == nullptr || m_pending || !m_table.stretches.empty() || !m_record->isVisibleTo(this) ||
        !m_record->isEnabled())
        return;
    if (!m_live->isRecording())
        return m_live->startRecording();
    auto stretch = m_live->stopRecording();
    if (stretch.readings.empty())
        return emit session().said(tr("Nothing came while it was recording."), true);
    if (m_live->channelUnit() == link::ChannelUnit::Millimetres && i->what == What::Ruler)
        for (auto &r : stretch.readings)
            if (r != tune::nothingCame)
                r = sense::echoTime_us(
                    r / 1000.0, *sense::speedOfSound_mps(m_air_degC.value_or(tune::usualAir_degC)));
    if (const auto *s = step()) {
        stretch.label = s->label;
        stretch.truth = s->truth;
    }
    m_pending = std::move(stretch);
    refreshPicture();
    refreshHand();
    m_keep->setFocus();
}

void TuneStation::discard()
{
    m_pending.reset();
    m_table = {};
    refreshPicture();
    refreshHand();
}

void TuneStation::keep()
{
    if (!m_table.stretches.empty())
        return keepTable();
    if (m_pending && keepStretch(*m_pending, false, true)) {
        m_pending.reset();
        refresh();
    }
}

bool TuneStation::keepStretch(tune::Stretch stretch, bool chosen, bool fromBoard)
{
    const auto *i = item();
    const auto basis = basisNow();
    const bool madeUp = fromBoard && m_live->isMadeUp();
    // A record goes on while nothing under it has changed; otherwise another one begins.
    const bool goesOn = i->record && i->stale.empty() && !m_anew && i->record->sample == madeUp &&
                        i->record->basis.date == basis.date;
    const auto id = goesOn ? i->record->id : newId<tune::Record>(session().document().ids());
    const bool done = session().edit(
        tr("Keep readings"), [&, what = i->what, part = i->instance](workshop::Workshop &w) {
            auto *record = recordIn(w, id);
            if (record == nullptr) {
                tune::Record fresh;
                fresh.id = id;
                fresh.car = session().car()->id;
                fresh.what = what;
                fresh.instance = part;
                w.records.push_back(std::move(fresh));
                record = &w.records.back();
            }
            record->basis = basis;
            record->sample = madeUp;
            if (chosen) {
                record->chosen = stretch.readings.front();
                return;
            }
            // A place that is measured again is replaced; turns are taken together, and so is
            // the room's light at several times.
            if (what != What::Turn && what != What::Speed && stretch.label != "room")
                std::erase_if(record->stretches, [&](const tune::Stretch &s) {
                    return s.label == stretch.label && s.truth == stretch.truth;
                });
            record->stretches.push_back(std::move(stretch));
        });
    if (!done)
        return false;
    m_anew = false;
    if (m_step + 1 < static_cast<int>(m_protocol.size()))
        ++m_step;
    refresh();
    emit sumChanged();
    return true;
}

void TuneStation::typed()
{
    const auto *i = item();
    const auto text = m_typed->text().trimmed();
    if (i == nullptr || text.isEmpty())
        return;
    tune::Stretch stretch;
    const auto *s = step();
    if (s == nullptr)
        return;
    stretch.label = s->label;
    stretch.truth = s->truth;
    auto readings = tune::typedReadings(text.toStdString(), i->what, s->entry);
    if (!readings)
        return emit session().said(str(readings.error().text()), true);
    stretch.readings = std::move(*readings);
    if (i->what == What::Ruler) {
        const double sound = *sense::speedOfSound_mps(m_air_degC.value_or(tune::usualAir_degC));
        for (auto &r : stretch.readings)
            if (r != tune::nothingCame)
                r = sense::echoTime_us(r, sound);
    }
    if (i->what == What::Speed) {
        const auto *program = session().program();
        const auto *goes = program ? judge::goState(*program) : nullptr;
        const auto *speed = goes ? program->value(goes->motion.left.speed) : nullptr;
        if (speed == nullptr || !speed->si)
            return emit session().said(
                tr("No program says at which count it drives: choose one at Rule first."), true);
        stretch.label = std::to_string(std::lround(*speed->si));
    }
    if (keepStretch(std::move(stretch), s->isChosen, false))
        m_typed->clear();
}

/// What was timed stands in for the parts' data, count by count.
void TuneStation::useSpeeds(const tune::Record &record)
{
    const kit::Circumstances under = {
        record.basis.date, record.basis.floor, record.basis.battery_V.value_or(0.0), {}};
    const auto all = tune::speedsOf(record);
    const bool done = session().editCar(tr("Use the measured speed"), [&](kit::Car &car) {
        for (const auto &s : all) {
            auto &speeds = car.calibrations.speeds;
            std::erase_if(speeds,
                          [&](const kit::SpeedReading &r) { return r.pwm_counts == s.counts; });
            speeds.push_back({s.counts, s.mean_mps, under});
        }
    });
    if (done)
        emit session().said(
            tr("The budget now reckons with %1 at %2 of 255.")
                .arg(str(units::quantity(all.front().mean_mps, units::Unit::MetrePerSecond)))
                .arg(all.front().counts),
            false);
}

void TuneStation::removeStretch(int index)
{
    const auto *i = item();
    if (i == nullptr || !i->record)
        return;
    session().edit(tr("Remove readings"), [&, id = i->record->id](workshop::Workshop &w) {
        auto *record = recordIn(w, id);
        record->stretches.erase(record->stretches.begin() + index);
    });
    refresh();
}

void TuneStation::startAnew()
{
    m_anew = true;
    m_step = 0;
    m_pending.reset();
    emit session().said(tr("The next readings begin a new record; the old one is kept."), false);
    refresh();
}

void TuneStation::setThreshold(double counts, bool done)
{
    const auto *i = item();
    if (i == nullptr || !i->record)
        return;
    if (!done) // the picture follows by itself; the edit comes when it is let go
        return;
    session().edit(tr("Move the line"), [&, id = i->record->id](workshop::Workshop &w) {
        recordIn(w, id)->chosen = counts;
    });
}

void TuneStation::use()
{
    const auto *i = item();
    if (i == nullptr || !i->record || !m_use->isVisibleTo(this))
        return;
    switch (i->what) {
    case What::Speed:
        return useSpeeds(*i->record);
    case What::Horn:
        return useHorn(*i);
    case What::Ruler:
        return useRuler(*i->record);
    default:
        return useInProgram();
    }
}

void TuneStation::useRuler(const tune::Record &record)
{
    const auto fit = tune::rulerFitOf(record);
    if (!fit)
        return;
    double error_m = 0.0;
    for (const auto &pair : fit->used)
        error_m = std::max(error_m, std::abs(pair.true_m - pair.read_m));
    kit::RulerCheck check;
    check.error_m = error_m;
    check.pairs = static_cast<int>(fit->used.size());
    check.under = {record.basis.date, record.basis.floor, record.basis.battery_V.value_or(0.0), {}};
    if (session().editCar(tr("Use the ruler check"),
                          [&](kit::Car &car) { car.calibrations.ruler = check; }))
        emit session().said(tr("The budget now reckons with %1 of sensor error.").arg(cm(error_m)),
                            false);
}

std::optional<double> TuneStation::lacksNow(const judge::BenchItem &i) const
{
    const auto *fitted = session().car()->instance(i.instance);
    if (fitted == nullptr || !fitted->hornError_rad)
        return std::nullopt;
    return std::round(*fitted->hornError_rad / degree * 1e6) / 1e6;
}

void TuneStation::useHorn(const judge::BenchItem &i)
{
    const double degrees = *i.record->chosen;
    if (session().editCar(tr("Use what the horn lacks"), [&, id = i.instance](kit::Car &car) {
            for (auto &p : car.parts)
                if (p.id == id)
                    p.hornError_rad = degrees * degree;
        }))
        emit session().said(tr("Kit now says which tooth the horn belongs on, and its trim."),
                            false);
}

judge::TakenOver TuneStation::takenOver() const
{
    const auto *i = item();
    const auto *program = session().program();
    if (i == nullptr || !i->record || program == nullptr)
        return {};
    return judge::takenOver(*i->record, *program);
}

void TuneStation::useInProgram()
{
    auto taken = takenOver();
    if (taken.changes.empty())
        return useComputedLine();
    if (session().editProgram(tr("Use what was measured"),
                              [&](rules::Program &program) { program = std::move(taken.program); }))
        emit session().said(tr("In the program now: %1.").arg(str(joined(taken.changes, "; "))),
                            false);
}

/// The line goes back to where the readings put it.
void TuneStation::useComputedLine()
{
    const auto *i = item();
    if (i == nullptr || !i->record || !i->record->chosen ||
        (i->what != What::Surfaces && i->what != What::Lamp))
        return;
    session().edit(tr("Use the computed line"), [&, id = i->record->id](workshop::Workshop &w) {
        recordIn(w, id)->chosen.reset();
    });
}

} // namespace badger::app
