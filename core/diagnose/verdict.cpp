// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/diagnose/verdict.h"

#include "core/judge/kit_judgement.h"

#include <algorithm>
#include <cmath>

namespace badger::diagnose
{

size_t Verdict::count(Severity severity) const
{
    return static_cast<size_t>(
        std::count_if(complaints.begin(), complaints.end(),
                      [&](const auto &f) { return f.severity == severity; }));
}

size_t Verdict::count(const Finding &like) const
{
    return static_cast<size_t>(
        std::count_if(complaints.begin(), complaints.end(), [&](const Finding &f) {
            return f.code == like.code && f.severity <= like.severity;
        }));
}

bool isSame(const Finding &a, const Finding &b)
{
    const auto shows = [](const Finding &f, const Finding &in) {
        return f.places.empty() ||
               std::find(in.places.begin(), in.places.end(), f.places.front()) != in.places.end();
    };
    return a.code == b.code && (shows(a, b) || shows(b, a)) &&
           (a.code != "mission-gap" || a.what == b.what);
}

const Finding *Verdict::find(const Finding &complaint) const
{
    for (const auto &f : complaints)
        if ((isSame(f, complaint) && f.severity <= complaint.severity) ||
            std::find(f.then.begin(), f.then.end(), complaint.what) != f.then.end())
            return &f;
    return nullptr;
}

Verdict verdictOf(const kit::Assembly &car, Of of)
{
    Verdict v;
    if (of != Of::Kit && !car->wires.empty()) {
        auto judged = wiring::complained(nets::Nets(car));
        v.complaints = std::move(judged.complaints);
        v.ahead = motion::rowFor(judged.motion, motion::Path::Ahead) != nullptr;
    }
    if (of == Of::Wires)
        return v;
    v.complaints = judge::withWires(judge::judgeKit(car, std::nullopt).findings.findings,
                                    std::move(v.complaints));
    return v;
}

bool isWorse(const Verdict &before, const Verdict &after, Severity severity, Revealed revealed)
{
    if (before.ahead && !after.ahead)
        return true;
    constexpr double tenth = 1.1;
    const bool isLess = after.count(Severity::Error) < before.count(Severity::Error);
    return std::any_of(after.complaints.begin(), after.complaints.end(), [&](const Finding &f) {
        const bool goesRound = f.code == "link-bypassed" || f.code == "fuse-idle" ||
                               f.code == "fed-past-fuse" || f.code == "live-past-switch";
        if (f.severity > severity && !goesRound)
            return false;
        const auto *was = before.find(f);
        if (was == nullptr)
            return revealed == Revealed::Codes  ? after.count(f) > before.count(f)
                   : revealed == Revealed::Pins ? !isLess || !wiring::isOfPins(f)
                                                : true;
        return was->evidence && f.evidence &&
               std::abs(f.evidence->value) > tenth * std::abs(was->evidence->value);
    });
}

} // namespace badger::diagnose
