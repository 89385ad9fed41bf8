// SPDX-License-Identifier: GPL-3.0-or-later
// Which car and which station is looked at, and how does every car stand?
#pragma once

#include "app/document/edits.h"
#include "core/judge/judge.h"
#include "core/window/search.h"

#include <QDate>
#include <QObject>
#include <QThreadPool>
#include <QTimer>
#include <atomic>
#include <functional>
#include <map>

namespace badger::app
{

/// Selection and judgements over one document. Views ask here, and never compute.
class Session final : public QObject
{
    Q_OBJECT
public:
    /// With Runs::Later a judgement comes without its simulated runs, which a worker drives; the
    /// newest request wins, and runsDriven() says when. Scripts and most tests want them at once.
    explicit Session(Document &document, judge::Runs runs = judge::Runs::Now,
                     QObject *parent = nullptr);
    ~Session() override;

    Document &document() { return m_document; }
    const workshop::Workshop &workshop() const { return m_document.workshop(); }
    const parts::Catalogue &catalogue() const { return m_document.catalogue(); }

    /// The selected car, its program and the floor it is driven on: the one that was picked for it,
    /// else its mission's, else the first. Null where there is none.
    const kit::Car *car() const;
    const rules::Program *program() const;
    const floor::Floor *floor() const;
    std::shared_ptr<const floor::Floor> floorPiece() const; ///< the same, shared
    /// What stops the selected car ahead; all null where nothing does.
    judge::StopRule stopRule() const;
    /// Judged when first asked after a change.
    const judge::Judgement &judgement(const Id<kit::Car> &car) const;
    /// The newest judgement there is; null before the first. The others of a class are judged one
    /// after the other while nothing else happens, and carJudged() says when.
    const judge::Judgement *judged(const Id<kit::Car> &car) const;
    /// Judges every car now: for pictures, which wait for no idle moment.
    void judgeAll();
    const judge::Judgement *current() const; ///< of the selected car

    /// Of the selected car; empty where there is none.
    const Id<kit::Car> &carId() const { return m_car; }
    QString carName() const;
    void selectCar(const Id<kit::Car> &id);
    void selectCar(const QString &name); ///< as somebody types it
    judge::Station station() const { return m_station; }
    void selectStation(judge::Station station);
    /// For the selected car, from now on.
    void selectFloor(const Id<floor::Floor> &id);
    /// What the selected car's judgement rests on; there is one.
    judge::Grounds grounds() const { return groundsOf(*car()); }

    /// The edits of a station: one named step each (see document/edits.h). Where one is refused
    /// nothing has changed, the reason is said, and false comes back. On no car or no program
    /// nothing is done.
    bool edit(const QString &text, const std::function<void(workshop::Workshop &)> &change,
              int drag = Edit::noDrag);
    bool editCar(const QString &text, const std::function<void(kit::Car &)> &change,
                 int drag = Edit::noDrag); ///< the selected one
    bool editProgram(const QString &text, const std::function<void(rules::Program &)> &change,
                     int drag = Edit::noDrag); ///< of the selected car

    /// Looks for the causes of what is wrong with the selected car's wires and for what mends wires
    /// and kit, in the background; fixesFound() says when, and the judgement has them.
    void wantFixes();
    /// Is it being looked for?
    bool isWantingFixes() const;
    /// A finding of the selected car's kit with its ways out, as far as they have been found.
    const Finding *withFix(const Finding &finding) const;
    /// A fix that is looked at before it is taken; empty: none.
    const std::optional<Fix> &tried() const { return m_tried; }
    void tryFix(const std::optional<Fix> &fix);
    bool takeFix();
    judge::Station shownAt(const Fix &fix) const; ///< the station whose picture shows it

    /// A window that was searched for the selected car, and when; kept until another is.
    struct KeptWindow {
        std::shared_ptr<const window::Window> window;
        judge::Grounds on;
        QDate when;
    };
    void keepWindow(std::shared_ptr<const window::Window> window, const judge::Grounds &on);
    /// Of a value of the selected car's program; null: none was searched.
    const KeptWindow *keptWindow(const std::string &value) const;
    /// Has anything that it rests on changed since, other than the value itself?
    bool isStale(const KeptWindow &kept) const;
    /// What is known of a value's window: of this sitting, else as the car keeps it.
    struct KnownWindow {
        kit::FoundWindow found;
        bool stale = false;
    };
    std::optional<KnownWindow> knownWindow(const std::string &value) const;
    /// The car keeps it, with the file.
    void keepWithCar(const KeptWindow &kept);

    /// Goes to the place a finding names: its station opens and shows it.
    void reveal(const QString &target);

signals:
    void refreshed();                         ///< anything shown may have changed
    void carJudged(const Id<kit::Car> &car);  ///< in the background
    void runsDriven(const Id<kit::Car> &car); ///< its judgement is complete now
    void fixesFound();
    void fixTried();
    void stationChanged();
    void revealed(const QString &target);
    void said(const QString &message, bool isError); ///< for the message bar

private:
    void settle();
    bool settled(const Result<void> &edit);

    Document &m_document;
    Id<kit::Car> m_car;
    std::map<Id<kit::Car>, Id<floor::Floor>> m_floors; ///< that were picked for a car
    judge::Station m_station = judge::Station::Rule;
    judge::Grounds groundsOf(const kit::Car &car) const;
    const floor::Floor *floorOf(const kit::Car &car) const;
    void judgeNext();
    void driveRuns(const Id<kit::Car> &car) const;
    void takeRuns(const Id<kit::Car> &car, const std::shared_ptr<std::atomic<bool>> &overtaken,
                  Result<std::vector<judge::JudgedRun>> runs);

    struct Entry {
        std::optional<judge::Grounds> on; ///< none: never judged
        judge::Judgement judgement;
        bool fresh = false;                           ///< compared since the last change
        std::shared_ptr<std::atomic<bool>> overtaken; ///< of the runs that are being driven
        bool fixesWanted = false;                     ///< for the wires as they stand
        bool diagnosed = false;                       ///< and found
        std::vector<Finding> mended;                  ///< findings of the kit with their ways out
        std::shared_ptr<std::atomic<bool>> fixing;    ///< set where the search is overtaken
    };
    judge::Runs m_runs;
    mutable QThreadPool m_worker;
    QTimer m_idle;
    /// What belongs to a car, by car; sorted anew when the workshop holds others.
    template <class T> struct ByCar {
        std::map<Id<kit::Car>, Pieces<T>> lists;
        Pieces<T> from;
        bool sorted = false;
        const Pieces<T> &of(const Pieces<T> &all, const Id<kit::Car> &car);
    };
    mutable ByCar<logbook::MeasuredTrial> m_trials;
    mutable ByCar<tune::Record> m_records;
    mutable std::map<Id<kit::Car>, Entry> m_judged;
    std::optional<Fix> m_tried;
    std::map<std::pair<Id<kit::Car>, std::string>, KeptWindow> m_windows;
};

} // namespace badger::app
