// SPDX-License-Identifier: GPL-3.0-or-later
// What a hand changes at the Tune station.
#include "app/document/edits.h"
#include "app/tune/tune_station.h"
#include "app/widgets/text.h"
#include "core/judge/budget.h"
#include "core/sense/ultrasonic.h"
#include "core/tune/csv.h"

#include <QDate>
#include <QFile>
#include <QFileDialog>
#include <QPushButton>
#include <QRegularExpression>

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
    if (i == nullptr || m_pending || !m_record->isVisibleTo(this) || !m_record->isEnabled())
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
    refreshPicture();
    refreshHand();
}

void TuneStation::keep()
{
    if (!m_pending)
        return;
    auto stretch = *std::exchange(m_pending, std::nullopt);
    keepStretch(std::move(stretch));
}

void TuneStation::keepStretch(tune::Stretch stretch)
{
    const auto *i = item();
    const auto basis = basisNow();
    // A record goes on while nothing under it has changed; otherwise another one begins.
    const bool goesOn = i->record && i->stale.empty() && !m_anew && !i->record->sample &&
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
            if (what == What::Neutral) {
                record->chosen = stretch.readings.front();
                return;
            }
            // A place that is measured again is replaced; turns are taken together.
            if (what != What::Turn && what != What::Speed)
                std::erase_if(record->stretches, [&](const tune::Stretch &s) {
                    return s.label == stretch.label && s.truth == stretch.truth;
                });
            record->stretches.push_back(std::move(stretch));
        });
    if (!done)
        return;
    m_anew = false;
    if (m_step + 1 < static_cast<int>(m_protocol.size()))
        ++m_step;
    refresh();
    emit sumChanged();
}

void TuneStation::typed()
{
    const auto *i = item();
    const auto text = m_typed->text().trimmed();
    if (i == nullptr || text.isEmpty())
        return;
    const bool lengths = i->what == What::Ruler || i->what == What::Straightness;
    tune::Stretch stretch;
    if (const auto *s = step()) {
        stretch.label = s->label;
        stretch.truth = s->truth;
    }
    // "5.8 cm 6 cm": a unit belongs to the number before it.
    static const QRegularExpression gap("[;\\s]+");
    QStringList words;
    for (const auto &word : text.split(gap, Qt::SkipEmptyParts)) {
        const bool unit = !word.isEmpty() && word[0].isLetter() && word != "none";
        if (unit && !words.isEmpty())
            words.back() += word;
        else
            words << word;
    }
    const double sound = *sense::speedOfSound_mps(m_air_degC.value_or(tune::usualAir_degC));
    for (const auto &word : words) {
        if (word == "none" && (i->what == What::Ruler || i->what == What::NoEcho)) {
            stretch.readings.push_back(tune::nothingCame);
            continue;
        }
        if (lengths) {
            const auto m = units::parse(word.toStdString(), Dimension::Length, "readings");
            if (!m)
                return emit session().said(str(m.error().text()), true);
            stretch.readings.push_back(
                i->what == What::Ruler ? sense::echoTime_us(std::max(0.0, *m), sound) : *m);
            continue;
        }
        bool ok = false;
        const double value = QString(word).replace(',', '.').toDouble(&ok);
        if (!ok || value < 0.0)
            return emit session().said(
                tr("'%1' is no reading: write numbers with spaces between them.").arg(word), true);
        if (i->what == What::Trimmer && value != 0.0 && value != 1.0)
            return emit session().said(tr("A digital module gives 1 or 0."), true);
        stretch.readings.push_back(value);
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
    m_typed->clear();
    keepStretch(std::move(stretch));
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
    if (i->what == What::Surfaces) {
        session().edit(tr("Use the computed line"), [&, id = i->record->id](workshop::Workshop &w) {
            recordIn(w, id)->chosen.reset();
        });
        return;
    }
    if (i->what == What::Speed)
        return useSpeeds(*i->record);
    const auto fit = tune::rulerFitOf(*i->record);
    if (!fit)
        return;
    double error_m = 0.0;
    for (const auto &pair : fit->used)
        error_m = std::max(error_m, std::abs(pair.true_m - pair.read_m));
    kit::RulerCheck check;
    check.error_m = error_m;
    check.pairs = static_cast<int>(fit->used.size());
    check.under = {i->record->basis.date,
                   i->record->basis.floor,
                   i->record->basis.battery_V.value_or(0.0),
                   {}};
    if (session().editCar(tr("Use the ruler check"),
                          [&](kit::Car &car) { car.calibrations.ruler = check; }))
        emit session().said(tr("The budget now reckons with %1 of sensor error.")
                                .arg(str(units::fixed(error_m, units::Unit::Centimetre, 1))),
                            false);
}

void TuneStation::fromFile()
{
    const auto *i = item();
    if (i == nullptr)
        return;
    const auto path = QFileDialog::getOpenFileName(this, tr("Readings from a file"), {},
                                                   tr("Columns (*.csv *.tsv *.txt)"));
    if (path.isEmpty())
        return;
    QFile file(path);
    if (!file.open(QIODevice::ReadOnly))
        return emit session().said(tr("%1 cannot be read: %2.").arg(path, file.errorString()),
                                   true);
    using Column = tune::WantedColumn;
    std::vector<Column> wanted;
    if (i->what == What::Ruler)
        wanted = {{"true", Column::Kind::Length, {}, false},
                  {"reading", Column::Kind::Length, {}, true}};
    else if (i->what == What::Reflectance)
        wanted = {{"distance", Column::Kind::Length, {}, false},
                  {"reading", Column::Kind::Number, {}, false}};
    else if (i->what == What::Surfaces || i->what == What::Trimmer)
        wanted = {{"surface", Column::Kind::Word, {"light", "dark"}, false},
                  {"reading", Column::Kind::Number, {}, false}};
    else
        wanted = {{"reading", Column::Kind::Number, {}, true}};
    tune::CsvReader reader(path.toStdString(), wanted);
    while (!file.atEnd()) {
        const auto part = file.read(1 << 16);
        reader.take({part.constData(), static_cast<size_t>(part.size())});
    }
    const auto got = reader.finish();
    if (!got)
        return emit session().said(str(got.error().text()), true);
    const double sound = *sense::speedOfSound_mps(m_air_degC.value_or(tune::usualAir_degC));
    std::vector<tune::Stretch> stretches;
    for (size_t row = 0; row < got->rows.size(); ++row) {
        const auto &last = got->columns.back()[row];
        double value = last.value_or(tune::nothingCame);
        if (i->what == What::Ruler && last)
            value = sense::echoTime_us(*last, sound);
        tune::Stretch key;
        if (i->what == What::Ruler || i->what == What::Reflectance)
            key.truth = *got->columns[0][row];
        else if (wanted.size() == 2)
            key.label = *got->columns[0][row] == 0.0 ? "light" : "dark";
        auto same = std::find_if(stretches.begin(), stretches.end(), [&](const tune::Stretch &s) {
            return s.label == key.label && s.truth == key.truth;
        });
        if (same == stretches.end())
            same = stretches.insert(stretches.end(), key);
        same->readings.push_back(value);
    }
    m_anew = true;
    for (auto &s : stretches)
        keepStretch(std::move(s));
    if (got->badCount > 0)
        emit session().said(tr("%1 rows were left out; the first is row %2: %3.")
                                .arg(got->badCount)
                                .arg(got->bad.front().row)
                                .arg(str(got->bad.front().what)),
                            true);
}

} // namespace badger::app
