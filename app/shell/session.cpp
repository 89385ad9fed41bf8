// SPDX-License-Identifier: GPL-3.0-or-later
#include "app/shell/session.h"

#include "app/widgets/text.h"
#include "core/io/fingerprint.h"
#include "core/window/ground.h"

namespace badger::app
{

Session::Session(Document &document, judge::Runs runs, QObject *parent)
    : QObject(parent), m_document(document), m_runs(runs)
{
    m_worker.setMaxThreadCount(1);
    connect(&document, &Document::changed, this, [this] {
        for (auto &[id, entry] : m_judged)
            entry.fresh = false;
        settle();
        m_tried.reset();
        emit refreshed();
        m_idle.start();
    });
    connect(&document, &Document::reset, this, [this] { m_judged.clear(); });
    connect(&m_idle, &QTimer::timeout, this, &Session::judgeNext);
    m_idle.start(); // no interval: whenever no event waits
    settle();
}

Session::~Session()
{
    for (auto &[id, entry] : m_judged)
        for (const auto &flag : {entry.overtaken, entry.fixing})
            if (flag)
                *flag = true;
    m_worker.waitForDone();
}

void Session::driveRuns(const Id<kit::Car> &id) const
{
    auto &entry = m_judged[id];
    const auto overtaken = std::make_shared<std::atomic<bool>>(false);
    entry.overtaken = overtaken;
    auto *self = const_cast<Session *>(this); // only to come back to the interface thread
    m_worker.start([self, id, on = *entry.on, overtaken, catalogue = m_document.catalogue()] {
        if (*overtaken)
            return;
        auto runs = judge::driven(on, catalogue);
        if (*overtaken)
            return;
        QMetaObject::invokeMethod(
            self,
            [self, id, overtaken, runs = std::move(runs)]() mutable {
                self->takeRuns(id, overtaken, std::move(runs));
            },
            Qt::QueuedConnection);
    });
}

void Session::takeRuns(const Id<kit::Car> &id, const std::shared_ptr<std::atomic<bool>> &overtaken,
                       Result<std::vector<judge::JudgedRun>> runs)
{
    const auto it = m_judged.find(id);
    if (it == m_judged.end() || it->second.overtaken != overtaken || *overtaken)
        return;
    judge::takeRuns(it->second.judgement, std::move(runs), {*it->second.on->car, catalogue()});
    emit runsDriven(id);
}

void Session::judgeAll()
{
    while (m_idle.isActive())
        judgeNext();
}

void Session::judgeNext()
{
    for (const auto &car : workshop().cars) {
        const auto it = m_judged.find(car.id);
        if (it != m_judged.end() && it->second.fresh)
            continue;
        judgement(car.id);
        emit carJudged(car.id);
        return;
    }
    m_idle.stop();
}

void Session::settle()
{
    const auto &w = workshop();
    if (w.car(m_car) == nullptr)
        m_car = w.cars.empty() ? Id<kit::Car>() : w.cars.front().id;
}

const kit::Car *Session::car() const
{
    return workshop().car(m_car);
}

const rules::Program *Session::program() const
{
    const auto *c = car();
    return c ? workshop().program(c->program) : nullptr;
}

const floor::Floor *Session::floor() const
{
    const auto *c = car();
    return c ? floorOf(*c) : workshop().floors.empty() ? nullptr : &workshop().floors.front();
}

const floor::Floor *Session::floorOf(const kit::Car &car) const
{
    const auto picked = m_floors.find(car.id);
    if (picked != m_floors.end())
        if (const auto *f = workshop().floor(picked->second))
            return f;
    return workshop::floorOf(workshop(), car);
}

judge::StopRule Session::stopRule() const
{
    const auto *c = car();
    const auto *p = program();
    return c && p ? judge::stopRule(*p, *c) : judge::StopRule{};
}

namespace
{

template <class T> std::shared_ptr<const T> pieceOf(const Pieces<T> &all, const Id<T> &id)
{
    for (size_t i = 0; i < all.size(); ++i)
        if (all[i].id == id)
            return all.piece(i);
    return nullptr;
}

} // namespace

template <class T>
const Pieces<T> &Session::ByCar<T>::of(const Pieces<T> &all, const Id<kit::Car> &car)
{
    if (!sorted || !from.shares(all)) {
        lists.clear();
        for (size_t i = 0; i < all.size(); ++i)
            lists[all[i].car].share(all, i);
        from = all;
        sorted = true;
    }
    return lists[car];
}

std::shared_ptr<const floor::Floor> Session::floorPiece() const
{
    const auto *f = floor();
    return f ? pieceOf(workshop().floors, f->id) : nullptr;
}

void Session::keepWindow(std::shared_ptr<const window::Window> window, const judge::Grounds &on)
{
    const auto value = window->handle.value;
    m_windows[{on.car->id, value}] = {std::move(window), on, QDate::currentDate()};
}

const Session::KeptWindow *Session::keptWindow(const std::string &value) const
{
    const auto it = m_windows.find({m_car, value});
    return it == m_windows.end() ? nullptr : &it->second;
}

bool Session::isStale(const KeptWindow &kept) const
{
    const auto on = grounds();
    return !window::sameGround(on, kept.on, kept.window->handle.value) ||
           on.car->conditions != kept.on.car->conditions;
}

std::optional<Session::KnownWindow> Session::knownWindow(const std::string &value) const
{
    if (const auto *kept = keptWindow(value))
        return KnownWindow{
            window::found(*kept->window, kept->when.toString(Qt::ISODate).toStdString()),
            isStale(*kept)};
    const auto on = grounds();
    const auto &all = on.car->windows;
    const auto it = std::find_if(all.begin(), all.end(),
                                 [&](const kit::FoundWindow &f) { return f.value == value; });
    if (it == all.end())
        return std::nullopt;
    return KnownWindow{*it, !on.floor || !on.program || it->ground != io::fingerprintOf(on, value)};
}

void Session::keepWithCar(const KeptWindow &kept)
{
    auto found = window::found(*kept.window, kept.when.toString(Qt::ISODate).toStdString());
    found.ground = io::fingerprintOf(kept.on, found.value);
    editCar(tr("Keep the window of '%1'").arg(str(found.value)), [&](kit::Car &car) {
        std::erase_if(car.windows,
                      [&](const kit::FoundWindow &f) { return f.value == found.value; });
        car.windows.push_back(found);
    });
}

judge::Grounds Session::groundsOf(const kit::Car &car) const
{
    const auto *f = floorOf(car);
    return {pieceOf(workshop().cars, car.id),
            pieceOf(workshop().programs, car.program),
            f ? pieceOf(workshop().floors, f->id) : nullptr,
            m_trials.of(workshop().trials, car.id),
            workshop().parts,
            m_records.of(workshop().records, car.id),
            workshop::missionFloorName(workshop(), car),
            car.mission ? pieceOf(workshop().floors, car.mission->floor) : nullptr};
}

const judge::Judgement &Session::judgement(const Id<kit::Car> &id) const
{
    auto &entry = m_judged[id];
    if (entry.fresh)
        return entry.judgement;
    const auto &car = *workshop().car(id);
    auto on = groundsOf(car);
    const auto asked = judge::renew(entry.judgement, entry.on, on, catalogue(), m_runs);
    entry.on = std::move(on);
    if (asked.wire) {
        entry.fixesWanted = false;
        entry.diagnosed = false;
        entry.mended.clear();
        if (entry.fixing)
            *entry.fixing = true;
    }
    if (asked.program) {
        if (entry.overtaken)
            *entry.overtaken = true;
        if (entry.judgement.runsPending)
            driveRuns(id);
    }
    entry.fresh = true;
    return entry.judgement;
}

const judge::Judgement *Session::judged(const Id<kit::Car> &car) const
{
    const auto it = m_judged.find(car);
    return it != m_judged.end() && it->second.on ? &it->second.judgement : nullptr;
}

const judge::Judgement *Session::current() const
{
    const auto *c = car();
    return c ? &judgement(c->id) : nullptr;
}

QString Session::carName() const
{
    const auto *c = car();
    return c ? str(c->name) : QString();
}

void Session::selectCar(const Id<kit::Car> &id)
{
    if (id == m_car || workshop().car(id) == nullptr)
        return;
    m_car = id;
    m_tried.reset();
    emit refreshed();
}

void Session::selectCar(const QString &name)
{
    if (const auto *c = workshop().car(name.toStdString()))
        selectCar(c->id);
}

bool Session::settled(const Result<void> &edit)
{
    if (!edit)
        emit said(str(edit.error().text()), true);
    return edit.has_value();
}

bool Session::edit(const QString &text, const std::function<void(workshop::Workshop &)> &change,
                   int drag)
{
    return settled(app::change(m_document, text, change, drag));
}

bool Session::editCar(const QString &text, const std::function<void(kit::Car &)> &change, int drag)
{
    return settled(changeCar(m_document, text, m_car, change, drag));
}

bool Session::editProgram(const QString &text, const std::function<void(rules::Program &)> &change,
                          int drag)
{
    const auto *p = program();
    return !p || settled(changeProgram(m_document, text, p->id, change, drag));
}

void Session::selectStation(judge::Station station)
{
    if (station == m_station)
        return;
    m_station = station;
    emit stationChanged();
    emit refreshed();
}

void Session::selectFloor(const Id<floor::Floor> &id)
{
    if (workshop().floor(id) == nullptr || (floor() != nullptr && floor()->id == id))
        return;
    m_floors[m_car] = id;
    m_judged[m_car].fresh = false;
    m_idle.start();
    emit refreshed();
}

void Session::reveal(const QString &target)
{
    if (const auto station = judge::stationOf(target.toStdString()))
        selectStation(*station);
    emit revealed(target);
}

} // namespace badger::app
