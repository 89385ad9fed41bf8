// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/judge/tune_judgement.h"

#include "core/tune/fits_of.h"

namespace badger::judge
{

Say placeOf(const BenchItem &i)
{
    return i.instance.empty() ? tune::words(i.what)
                              : say("{}: {}", i.instance, tune::words(i.what));
}

Spot targetOf(const BenchItem &i)
{
    return at::bench(std::string(tune::key(i.what)) + ":" + i.instance);
}

namespace
{

using parts::Kind;
using tune::What;

bool carries(const kit::Assembly &car, const std::string &servo)
{
    return std::any_of(car->parts.begin(), car->parts.end(),
                       [&](const kit::Instance &p) { return p.carriedBy == servo; });
}

std::vector<BenchItem> itemsOf(const kit::Assembly &car)
{
    std::vector<BenchItem> first; // what turns them
    std::vector<BenchItem> still; // before sensors that look at something
    std::vector<BenchItem> over;  // over surfaces
    bool drives = false;
    const auto looksDown = [](const BenchItem &i) {
        return i.what == What::Trimmer || i.what == What::Surfaces;
    };
    for (const auto &fitted : car->parts) {
        const auto *part = car.part(fitted);
        if (part == nullptr)
            continue;
        switch (part->kind) {
        case Kind::Ranger:
            still.push_back({What::Ruler, fitted.id, true, {}, {}, {}});
            still.push_back({What::NoEcho, fitted.id, false, {}, {}, {}});
            still.push_back({What::Air, fitted.id, false, {}, {}, {}});
            break;
        case Kind::Servo:
            if (carries(car, fitted.id))
                first.push_back({What::Horn, fitted.id, false, {}, {}, {}});
            break;
        case Kind::Infrared:
            over.push_back({What::Trimmer, fitted.id, true, {}, {}, {}});
            break;
        case Kind::Reflectance:
            still.push_back({What::Reflectance, fitted.id, false, {}, {}, {}});
            [[fallthrough]];
        case Kind::Strip:
            over.push_back({What::Surfaces, fitted.id, true, {}, {}, {}});
            break;
        case Kind::Light:
            over.push_back({What::Lamp, fitted.id, false, {}, {}, {}});
            break;
        case Kind::DriveServo:
            still.push_back({What::Neutral, fitted.id, true, {}, {}, {}});
            drives = true;
            break;
        case Kind::Motor:
            drives = true;
            break;
        default:
            break;
        }
    }
    if (std::any_of(over.begin(), over.end(), looksDown))
        over.push_back({What::Line, {}, false, {}, {}, {}});
    still.insert(still.begin(), first.begin(), first.end());
    still.insert(still.end(), over.begin(), over.end());
    if (drives) {
        still.push_back({What::Speed, {}, false, {}, {}, {}});
        still.push_back({What::Straightness, {}, false, {}, {}, {}});
        still.push_back({What::Turn, {}, false, {}, {}, {}});
    }
    return still;
}

struct TuneLook {
    const kit::Assembly &car;
    const std::vector<BenchItem> &items;
};

std::vector<Finding> stale(const TuneLook &look, const char *code)
{
    std::vector<Finding> found;
    for (const auto &i : look.items)
        if (i.record && !i.stale.empty())
            found.push_back(
                {.code = code,
                 .severity = Severity::Warning,
                 .where = placeOf(i),
                 .what = say("It was measured {}.", joined(i.stale, ", ")),
                 .why = say("What rests on it, thresholds and times, may no longer hold."),
                 .mend = say("Measure it again."),
                 .places = targetOf(i)});
    return found;
}

std::vector<Finding> unusable(const TuneLook &look, const char *code)
{
    std::vector<Finding> found;
    for (const auto &i : look.items)
        if (i.record && i.stale.empty() && !i.verdict.good)
            found.push_back({.code = code,
                             .severity = Severity::Warning,
                             .where = placeOf(i),
                             .what = i.verdict.sentence,
                             .why = say("No threshold that rests on it would hold."),
                             .mend = i.verdict.toDo,
                             .places = targetOf(i)});
    return found;
}

/// Does a part that gives 1 over light say so? Empty: it says nothing.
std::optional<bool> lightIsHigh(const parts::Part &part)
{
    if (part.sense.empty())
        return std::nullopt;
    return part.sense == "light-high";
}

std::vector<Finding> otherSense(const TuneLook &look, const char *code)
{
    std::vector<Finding> found;
    for (const auto &i : look.items) {
        const auto *fitted = look.car->instance(i.instance);
        const auto *part = fitted ? look.car.part(*fitted) : nullptr;
        if (i.what != What::Trimmer || !i.record || !i.verdict.good || part == nullptr)
            continue;
        const auto measured = tune::trimmerOf(*i.record);
        const auto stated = lightIsHigh(*part);
        if (!measured || !stated || measured->lightLevel == *stated)
            continue;
        found.push_back(
            {.code = code,
             .severity = Severity::Warning,
             .where = placeOf(i),
             .what = measured->lightLevel
                         ? say("It was measured to give 1 over light; its part says 0.")
                         : say("It was measured to give 0 over light; its part says 1."),
             .why = say("A program that trusts the part does the opposite of what is meant."),
             .mend =
                 say("Look at its selector and at the part that was chosen, and measure again."),
             .places = targetOf(i)});
    }
    return found;
}

/// Two modules of one car whose measured senses differ: each is right by itself.
std::vector<Finding> mixedSenses(const TuneLook &look, const char *code)
{
    const BenchItem *high = nullptr;
    const BenchItem *low = nullptr;
    for (const auto &i : look.items)
        if (i.what == What::Trimmer && i.record && i.verdict.good)
            if (const auto measured = tune::trimmerOf(*i.record))
                (measured->lightLevel ? high : low) = &i;
    if (high == nullptr || low == nullptr)
        return {};
    return {{.code = code,
             .severity = Severity::Advice,
             .where = say("{} and {}", high->instance, low->instance),
             .what = say("Over light {} gives 1 and {} gives 0: one is the inverse of the other.",
                         high->instance, low->instance),
             .why = say("A program that asks both alike leaves the line both ways."),
             .mend = say("Let the program turn one of them round, or set its selector, and measure "
                         "again."),
             .places = targetOf(*low)}};
}

bool anyRecord(const TuneLook &look)
{
    return std::any_of(look.items.begin(), look.items.end(),
                       [](const BenchItem &i) { return i.record != nullptr; });
}

bool anyTrimmer(const TuneLook &look)
{
    return std::any_of(look.items.begin(), look.items.end(), [](const BenchItem &i) {
        return i.what == What::Trimmer && i.record && i.verdict.good;
    });
}

constexpr Check<TuneLook> tuneChecks[] = {
    {"measurement-stale", "Everything that was measured still rests on what is there.", stale,
     "warning", "something under a measurement has changed since", anyRecord},
    {"measurement-unusable", "Every measurement can be used.", unusable, "warning",
     "a measurement gives no threshold that holds: too few readings, clouds that overlap, a "
     "trimmer "
     "past its range",
     anyRecord},
    {"sense-differs", "Each module's measured sense is the one that its part states.", otherSense,
     "warning", "a digital module was measured to give the opposite of what its part states",
     anyTrimmer},
    {"senses-mixed", noPraise, mixedSenses, "advice",
     "two digital modules of one car give opposite levels over the same surface", anyTrimmer},
};

/// Speed, turns and straightness drift with the charge. Empty: it is the same, or nobody knows.
Say otherCharge(const tune::Record &record, std::optional<double> now_V)
{
    constexpr double sameCharge_V = 0.3; // as the log takes it
    const auto then_V = record.basis.battery_V;
    if (!tune::isOfDrive(record.what) || !then_V || !now_V ||
        std::abs(*then_V - *now_V) <= sameCharge_V)
        return {};
    return say("with the pack at {}, {} before the last run",
               units::quantity(*then_V, units::Unit::Volt, 2),
               units::quantity(*now_V, units::Unit::Volt, 2));
}

} // namespace

TuneJudgement judgeTune(const kit::Assembly &car, const Pieces<tune::Record> &records,
                        const std::string &floorName, std::optional<double> charge_V,
                        const TuneJudgement &before)
{
    TuneJudgement j{itemsOf(car), {}};
    for (size_t i = 0; i < records.size(); ++i) {
        const auto &r = records[i];
        const auto has = [&](const BenchItem &item) {
            return item.what == r.what && item.instance == r.instance;
        };
        auto item = std::find_if(j.items.begin(), j.items.end(), has);
        // What was measured besides, or on a part that has gone, is still shown.
        if (item == j.items.end())
            item = j.items.insert(j.items.end(), {r.what, r.instance, false, {}, {}, {}});
        if (item->record)
            item->earlier.insert(item->earlier.begin(), item->record);
        item->record = records.piece(i);
    }
    for (auto &item : j.items) {
        if (!item.record)
            continue;
        const auto known =
            std::find_if(before.items.begin(), before.items.end(),
                         [&](const BenchItem &b) { return b.record == item.record; });
        item.verdict = known != before.items.end() ? known->verdict : tune::verdictOf(*item.record);
        item.stale = tune::changedSince(*item.record, car, floorName);
        if (auto charge = otherCharge(*item.record, charge_V); !charge.empty())
            item.stale.push_back(std::move(charge));
    }
    run(std::span<const Check<TuneLook>>(tuneChecks), {car, j.items}, j.findings);
    for (const auto &item : j.items)
        if (item.isDone())
            j.findings.fine.push_back(
                say("{}. {}", capitalised(placeOf(item)), item.verdict.sentence));
    return j;
}

std::vector<CheckLine> tuneLines()
{
    std::vector<CheckLine> lines;
    addLines(std::span<const Check<TuneLook>>(tuneChecks), lines);
    return lines;
}

} // namespace badger::judge
