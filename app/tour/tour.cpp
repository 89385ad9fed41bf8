// SPDX-License-Identifier: GPL-3.0-or-later
#include "app/tour/tour.h"

#include "app/document/edits.h"
#include "app/floor/floor_station.h"
#include "app/kit/kit_station.h"
#include "app/widgets/text.h"
#include "app/wire/wire_station.h"

#include "core/nets/drive_map.h"

#include <QApplication>
#include <QDate>
#include <QDir>
#include <QElapsedTimer>
#include <QPushButton>
#include <QTextStream>

namespace badger::app
{

namespace
{

QElapsedTimer startedNow()
{
    QElapsedTimer timer;
    timer.start();
    return timer;
}

bool picture(QWidget &window, const Session &session, const QString &folder, const QString &name)
{
    if (auto *focus = QApplication::focusWidget())
        focus->clearFocus();
    // What mends a finding comes a moment after it.
    for (QElapsedTimer since = startedNow(); session.isWantingFixes() && since.elapsed() < 20'000;)
        QApplication::processEvents(QEventLoop::WaitForMoreEvents, 20);
    // So does a run that a worker drives.
    for (auto *floor : window.findChildren<FloorStation *>())
        if (floor->isVisible())
            floor->shownRun();
    // Twice: the first turn lets layouts settle that follow from the new content.
    for (int i = 0; i < 2; ++i)
        QApplication::processEvents();
    const auto path = QDir(folder).filePath(name + ".png");
    if (QDir().mkpath(folder) && window.grab().save(path))
        return true;
    QTextStream(stderr) << "The picture " << path << " cannot be stored.\n";
    return false;
}

QString fileName(judge::Station station)
{
    return QString::fromLatin1(judge::name(station)).toLower();
}

/// The meter on, with the levels that make both wheels go forward; and off again.
void setAhead(WireStation &wire, const Session &session, bool on)
{
    wire.meter().button()->setChecked(on);
    if (session.car() == nullptr)
        return;
    const auto &car = *session.car();
    const kit::Assembly fitted(car, session.catalogue());
    const auto *board = fitted.first(parts::Kind::Board);
    for (const auto side : {kit::Side::Left, kit::Side::Right}) {
        const auto drive = nets::wheelDrive(fitted, side);
        for (const auto &input : drive &&board &&on ? std::vector{drive->enable, drive->forward}
                                                    : std::vector<std::string>{})
            if (const auto pin = nets::wiredPin(fitted, input); !pin.empty())
                wire.meter().toggle(board->id + "." + pin);
    }
}

} // namespace

bool takePictures(MainWindow &window, Session &session, const QString &folder,
                  const QString &suffix)
{
    bool all = true;
    session.judgeAll();
    // Its window stands on the ruler at Rule, too.
    auto *floorStation = qobject_cast<FloorStation *>(window.station(judge::Station::Floor));
    floorStation->window()->finished();
    for (const auto station : judge::stations) {
        session.selectStation(station);
        all &= picture(window, session, folder, fileName(station) + suffix);
        if (station == judge::Station::Wire) {
            auto *wire = qobject_cast<WireStation *>(window.station(station));
            const std::array<std::pair<WireStation::Page, const char *>, 3> pages = {
                {{WireStation::Page::Motion, "wire-motion"},
                 {WireStation::Page::Changes, "wire-changes"},
                 {WireStation::Page::Bench, "wire-bench"}}};
            for (const auto &[page, name] : pages) {
                wire->showPage(page);
                all &= picture(window, session, folder, name + suffix);
            }
            wire->showPage(WireStation::Page::Harness);
            setAhead(*wire, session, true);
            all &= picture(window, session, folder, "wire-meter" + suffix);
            setAhead(*wire, session, false);
        }
        if (station == judge::Station::Tune) {
            const auto car = session.carId();
            session.selectCar(QString("Godwit"));
            session.selectStation(station);
            all &= picture(window, session, folder, "tune-surfaces" + suffix);
            session.selectCar(car);
        }
        if (station == judge::Station::Floor) {
            auto *floor = qobject_cast<FloorStation *>(window.station(station));
            floor->showPageAt(FloorStation::Page::Window);
            floor->window()->finished();
            all &= picture(window, session, folder, "floor-window" + suffix);
            floor->showPageAt(FloorStation::Page::Plan);
            floor->shownRun();
            auto *plan = floor->plan()->view();
            if (plan->floor() && !plan->floor()->walls.empty()) // the last thing that was drawn
                plan->pick(floor::Handle{floor::Kind::Wall, plan->floor()->walls.size() - 1, {}});
            all &= picture(window, session, folder, "floor-plan" + suffix);
            plan->pick({});
            floor->showPageAt(FloorStation::Page::Drive);
        }
        if (station != judge::Station::Kit)
            continue;
        auto *kit = qobject_cast<KitStation *>(window.station(station));
        const std::array<std::pair<KitStation::Page, const char *>, 3> pages = {
            {{KitStation::Page::Make, "kit-make"},
             {KitStation::Page::Parts, "kit-parts"},
             {KitStation::Page::Compare, "kit-compare"}}};
        for (const auto &[page, name] : pages) {
            kit->showPage(page);
            all &= picture(window, session, folder, name + suffix);
        }
        kit->showPage(KitStation::Page::Car);
    }
    return all;
}

namespace
{

/// The simulated floor stands in for the real one: its gap, as a ruler would read it.
logbook::MeasuredTrial measured(double gap_m, Document &document, const Session &session)
{
    logbook::MeasuredTrial t;
    const auto &b = *session.current()->budget;
    t.id = newId<logbook::MeasuredTrial>(document.ids());
    t.car = session.car()->id;
    t.date = QDate::currentDate().toString(Qt::ISODate).toStdString();
    t.floor = session.floor()->id;
    t.floorName = session.floor()->name;
    t.program = session.program()->id;
    t.programName = session.program()->name;
    t.programVersion = session.program()->version;
    t.threshold_m = b.setup.threshold_m;
    t.pwm_counts = b.pwm_counts;
    const auto &earlier = session.current()->measured;
    t.battery_V =
        earlier.empty()
            ? *kit::Assembly(*session.car(), session.catalogue()).packVolts_V(kit::Charge::Nominal)
            : earlier.back().battery_V;
    constexpr double rulerStep_m = 0.005;
    t.gap_m = std::round(gap_m / rulerStep_m) * rulerStep_m;
    t.predictedWorst_m = b.budget.worstGap_m;
    t.predictedTypical_m = b.budget.typicalGap_m;
    t.note = "simulated run";
    t.sample = true;
    return t;
}

} // namespace

bool playDemo(MainWindow &window, Document &document, Session &session, const QString &folder)
{
    QTextStream out(stdout);
    const auto *car = session.car();
    const auto *program = session.program();
    if (car == nullptr || program == nullptr || !session.current()->budget) {
        QTextStream(stderr) << "There is no car that can be driven.\n";
        return false;
    }
    bool all = true;
    const auto say = [&](judge::Station station, const QString &name) {
        session.selectStation(station);
        const auto h = judge::headline(station, session.workshop(),
                                       {*session.car(), session.catalogue()}, *session.current());
        out << judge::name(station) << ": " << str(h.sentence) << '\n';
        all &= picture(window, session, folder, name);
    };
    say(judge::Station::Kit, "0-kit");
    say(judge::Station::Wire, "1-wire");
    say(judge::Station::Tune, "1-tune");
    // Two steps of the job: another threshold, and back to the one that was measured.
    const auto id = program->id;
    const auto stop = session.stopRule().value->name;
    const auto set = [&](double m) {
        return changeProgram(document, QObject::tr("Move the threshold"), id,
                             [&](rules::Program &p) {
                                 for (auto &v : p.values)
                                     if (v.name == stop)
                                         v.si = m;
                             });
    };
    const double before = *session.stopRule().value->si;
    all &= set(*session.current()->budget->leastThreshold_m).has_value();
    say(judge::Station::Rule, "2-rule-least-threshold");
    document.undoStack().undo();
    Q_ASSERT(*session.stopRule().value->si == before);
    (void)before;
    say(judge::Station::Rule, "3-rule");
    say(judge::Station::Floor, "4-floor");
    auto *floorStation = qobject_cast<FloorStation *>(window.station(judge::Station::Floor));
    const auto run = floorStation->shownRun();
    if (!run || !run.run->score.gap_m) {
        QTextStream(stderr) << "The run did not come to rest before anything.\n";
        return false;
    }
    const auto verdict = str(task::verdict(run.plan(), run.trace(), run.run->score));
    out << "  run with seed " << run.trace().seed << ": " << verdict << '\n';
    all &= change(document, QObject::tr("Enter a run"), [&](workshop::Workshop &w) {
               w.trials.push_back(measured(*run.run->score.gap_m, document, session));
           }).has_value();
    say(judge::Station::Log, "5-log");
    out << "Verdict: " << verdict << '\n';
    out << "Pictures: " << QDir(folder).absolutePath() << '\n';
    return all;
}

} // namespace badger::app
