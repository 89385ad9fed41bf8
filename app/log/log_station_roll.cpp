// SPDX-License-Identifier: GPL-3.0-or-later
// What the runs measure: the roll-out, and by which law it grows.
#include "app/document/edits.h"
#include "app/log/log_station.h"
#include "app/widgets/text.h"

#include <QLabel>
#include <QPushButton>
#include <cmath>

namespace badger::app
{

using units::Unit;

namespace
{

QString lawWords(const judge::MeasuredLaw &law)
{
    const auto mm = [](double m) { return str(units::fixed(m, Unit::Millimetre, 1)); };
    const bool friction = law.law == kit::RollLaw::Friction;
    const double better = friction ? law.missesFriction_m : law.missesElectrical_m;
    const double other = friction ? law.missesElectrical_m : law.missesFriction_m;
    const auto words =
        friction ? LogStation::tr("Runs at %1 speeds: rolling grows with v², which misses by %2; "
                                  "with v it misses by %3.")
                 : LogStation::tr("Runs at %1 speeds: rolling grows with v, which misses by %2; "
                                  "with v² it misses by %3.");
    const auto said = words.arg(law.speeds).arg(mm(better), mm(other));
    return law.isPlain ? said : said + " " + LogStation::tr("That is not plain: run it faster.");
}

} // namespace

/// All runs of the car, whatever their speed.
std::optional<judge::MeasuredLaw> LogStation::lawOfRuns() const
{
    const auto *j = session().current();
    Pieces<logbook::MeasuredTrial> all = j->older;
    for (size_t i = 0; i < j->measured.size(); ++i)
        all.share(j->measured, i);
    auto law = judge::measuredLaw({*session().car(), session().catalogue()}, *j->budget, all);
    return law ? std::optional(std::move(*law)) : std::nullopt;
}

/// The runs measure the roll-out, too: what of the threshold the reaction did not take.
void LogStation::refreshRoll()
{
    const auto *j = session().current();
    m_measured.reset();
    m_roll->clear();
    m_useRoll->hide();
    if (j == nullptr || !j->budget || j->measured.empty())
        return;
    const auto law = lawOfRuns();
    auto roll = judge::measuredRoll(*j->budget, j->measured);
    if (!roll)
        return m_roll->setText(tr("Its roll-out from these runs: %1; %2.")
                                   .arg(str(roll.error().what), str(roll.error().mend)));
    auto &r = roll->roll;
    QString how;
    if (law) {
        r.law = law->law;
        how = "\n" + lawWords(*law);
    }
    // The mean of a few runs is no surer than this; within it there is nothing new.
    const double error_m = std::max(0.001, roll->spread_m / std::sqrt(double(r.trials)));
    if (j->budget->roll.measured && std::abs(j->budget->setup.rollOut_m - r.distance_m) < error_m &&
        (!law || !law->isPlain || j->budget->roll.curve.law == law->law))
        return m_roll->setText(how.trimmed());
    QStringList parts;
    for (const auto &step : roll->why.steps)
        if (&step != &roll->why.steps.back() || j->budget->setup.setBack_m != 0.0)
            parts << str(step.name) + " " + str(step.value);
    m_roll->setText(tr("Roll-out, %1: %2 = %3 ± %4.")
                        .arg(r.brake ? tr("braked") : tr("coasting"),
                             parts.join(QStringLiteral(" ")), cm(r.distance_m, 2), cm(error_m, 2)) +
                    how);
    m_useRoll->setText(tr("Use %1 in the budget").arg(cm(r.distance_m, 1)));
    m_useRoll->show();
    m_measured = std::move(*roll);
}

void LogStation::useRoll()
{
    if (!m_measured)
        return;
    session().editCar(tr("Use the measured roll-out"), [roll = m_measured->roll](kit::Car &car) {
        auto &all = car.calibrations.rollOuts;
        std::erase_if(all, [&](const kit::RollOut &r) { return r.brake == roll.brake; });
        all.push_back(roll);
    });
}

} // namespace badger::app
