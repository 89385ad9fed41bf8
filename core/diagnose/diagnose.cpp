// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/diagnose/diagnose.h"

#include "core/diagnose/causes.h"
#include "core/diagnose/safe.h"
#include "core/diagnose/telling.h"
#include "core/edit/fixed_car.h"
#include "core/wiring/grouped.h"
#include "core/wiring/unfinished.h"

#include <algorithm>
#include <set>
#include <string>

namespace badger::diagnose
{

using parts::Kind;
using parts::Role;

namespace
{

/// What a hand sees of a slip: its code where it has one of its own, its sentence, its places.
struct Seen {
    std::string code;
    Say what;
    Say where;
    Spots places;
};

class Teller
{
public:
    explicit Teller(const kit::Assembly &car) : m_car(car) {}

    Finding tell(const Cause &cause) const
    {
        const auto &head = headOf(cause);
        Finding f = head;
        for (const auto &v : cause.vanished)
            f.severity = std::min(f.severity, v.severity);
        const auto seen = see(cause.slips.front(), head);
        if (!seen.code.empty())
            f.code = seen.code;
        if (!seen.what.empty()) {
            f.what = cause.slips.size() == 1
                         ? seen.what
                         : say("{} {}", seen.what, see(cause.slips[1], head).what);
            f.where = seen.where;
            f.places = seen.places;
            f.places.insert(f.places.end(), head.places.begin(), head.places.end());
            f.then.insert(f.then.begin(), head.what);
        }
        for (const auto &v : cause.vanished) {
            if (v.severity == Severity::Advice || &v == &head)
                continue;
            f.then.push_back(v.what);
            f.then.insert(f.then.end(), v.then.begin(), v.then.end());
        }
        return f;
    }

private:
    /// The first of what vanished at a place that the hand touches; else the first.
    static const Finding &headOf(const Cause &cause)
    {
        std::set<std::string> touched;
        const auto fix = fixOf(cause);
        for (const auto *wires : {&fix.out, &fix.in})
            for (const auto &w : *wires)
                touched.insert({w.from, w.to});
        for (const auto &r : fix.resistors)
            touched.insert(r.light);
        const auto isTouched = [&](const std::string &place) {
            return touched.count(place) != 0 ||
                   touched.count(kit::splitTerminal(place).instance) != 0;
        };
        for (const auto &v : cause.vanished)
            if (v.severity != Severity::Advice && !v.places.empty() &&
                isTouched(v.places.front().name))
                return v;
        return cause.vanished.front();
    }

    const parts::Terminal &terminal(const std::string &name) const { return *m_car.terminal(name); }
    Say labelOf(const std::string &name) const
    {
        return kit::labelOf(*m_car->instance(kit::splitTerminal(name).instance));
    }

    Seen see(const Slip &slip, const Finding &head) const
    {
        const auto &fix = slip.fix;
        switch (slip.kind) {
        case Slip::Kind::Turned:
            return turned(fix.exchanged[0], fix.exchanged[1], head);
        case Slip::Kind::Exchanged:
            return {isPlug(fix.exchanged[0], fix.exchanged[1]) ? "plug-backwards" : "",
                    say("What is wired to {} and to {} is exchanged.", fix.exchanged[0],
                        fix.exchanged[1]),
                    fix.exchanged[0] + " and " + fix.exchanged[1],
                    {at::terminal(fix.exchanged[0]), at::terminal(fix.exchanged[1])}};
        case Slip::Kind::Shifted: {
            const auto &out = fix.out.front();
            const auto &was = out.from == fix.in.front().from ? out.to : out.from;
            return {{}, say("The plug at {} sits one hole off.", was), was, {at::terminal(was)}};
        }
        case Slip::Kind::TooMany:
            return {{},
                    say("The wire from {} to {} does not belong there.", fix.out.front().from,
                        fix.out.front().to),
                    fix.out.front().from + " to " + fix.out.front().to,
                    {at::terminal(fix.out.front().from), at::terminal(fix.out.front().to)}};
        case Slip::Kind::Misplaced: {
            const auto &out = fix.out.front();
            const bool from = out.from == fix.in.front().from;
            const auto &stays = from ? out.from : out.to;
            const auto &was = from ? out.to : out.from;
            const auto &is = from ? fix.in.front().to : fix.in.front().from;
            return {{},
                    say("The wire from {} ends on {}; it belongs on {}.", stays, was, is),
                    stays + " to " + was,
                    {at::terminal(was), at::terminal(stays), at::terminal(is)}};
        }
        default:
            return {};
        }
    }

    /// One carries a supply, the other ground.
    bool isPlug(const std::string &a, const std::string &b) const
    {
        const auto is = [&](const std::string &t, std::initializer_list<Role> roles) {
            return std::find(roles.begin(), roles.end(), terminal(t).role) != roles.end();
        };
        const auto pair = [&](const std::string &x, const std::string &y) {
            return is(x, {Role::SupplyIn, Role::SupplyOut, Role::Plus}) &&
                   is(y, {Role::Ground, Role::Minus});
        };
        return pair(a, b) || pair(b, a);
    }

    Seen turned(const std::string &a, const std::string &b, const Finding &head) const
    {
        const auto &part = *m_car.find(kit::splitTerminal(a).instance)->part;
        const auto roles = {terminal(a).role, terminal(b).role};
        const auto is = [&](Role role) {
            return std::find(roles.begin(), roles.end(), role) != roles.end();
        };
        const auto label = labelOf(a);
        Seen seen;
        seen.where = a + " and " + b;
        seen.places = {at::terminal(a), at::terminal(b)};
        if (is(Role::Plus) && is(Role::Minus)) {
            seen.code = "pack-backwards";
            seen.what = say("{} is connected backwards.", label);
            seen.where = label;
        } else if (part.kind == Kind::Link && part.figure("drop_V")) {
            seen.code = "diode-backwards";
            seen.what = say("The diode {} is the wrong way round.", label);
            seen.where = label;
        } else if (part.kind == Kind::Regulator && is(Role::SupplyIn) && is(Role::SupplyOut)) {
            seen.code = "plug-backwards";
            seen.what = say("Input and output of {} are exchanged.", label);
        } else if (isPlug(a, b)) {
            seen.code = "plug-backwards";
            seen.what = say("{} is plugged in backwards: {} and {} are exchanged.", label, a, b);
        } else if (part.kind == Kind::Driver && terminal(a).role == Role::SupplyIn &&
                   terminal(b).role == Role::SupplyIn) {
            seen.code = "supplies-swapped";
            seen.what = say("Logic and motor supply of {} are swapped.", label);
        } else if (is(Role::Trigger) && is(Role::Echo)) {
            seen.code = head.code == "trig-echo-crossed" ? head.code : std::string();
            seen.what = say("{} and {} are exchanged.", a, b);
        } else
            seen.what = say("What is wired to {} and to {} is exchanged.", a, b);
        return seen;
    }

    const kit::Assembly &m_car;
};

/// Gives a finding its mend: alone where that may be offered, else with what stands before it.
class Mender
{
public:
    Mender(const kit::Assembly &car, const Verdict &before) : m_car(car), m_before(before) {}

    void mend(Finding &f, const Cause &cause)
    {
        const auto own = fixOf(cause);
        m_all = m_all ? both(std::move(*m_all), own) : own;
        for (const auto &fix : {own, *m_all})
            if (!cause.behind || fix == *m_all)
                if (mayOffer(fix, f, cause)) {
                    f.fix = fix;
                    f.mend = edit::words(m_car, fix);
                    break;
                }
        if (!f.fix || cause.slips.size() != 1)
            return;
        // A wire that is only put elsewhere on one conductor is no other way.
        const nets::Nets nets(m_car);
        const auto conductors = [&](const Fix &fix) {
            std::set<int> all;
            for (const auto *wires : {&fix.out, &fix.in})
                for (const auto &w : *wires)
                    all.insert({nets.of(w.from), nets.of(w.to)});
            return all;
        };
        for (const auto &other : cause.others)
            if (other.kind == cause.slips.front().kind && other.kind != Slip::Kind::Lacking &&
                conductors(other.fix) != conductors(*f.fix) && mayOffer(other.fix, f, cause)) {
                const auto mended = edit::applied(m_car, *f.fix);
                const auto mendedToo = edit::applied(m_car, other.fix);
                f.mend =
                    say("{} Or: {} {}", f.mend, edit::words(m_car, other.fix),
                        toldApartBy({mended, m_car.catalogue()}, {mendedToo, m_car.catalogue()}));
                break;
            }
    }

    /// What may not be mended alone, because something behind it would burn, is mended with the
    /// others.
    void mendWithAll(Finding &f, const Cause &cause) const
    {
        if (f.fix || !m_all || !mayOffer(*m_all, f, cause))
            return;
        f.fix = m_all;
        f.mend = edit::words(m_car, *m_all);
    }

private:
    bool mayOffer(const Fix &fix, const Finding &f, const Cause &cause) const
    {
        const auto car = edit::applied(m_car, fix);
        const kit::Assembly copy(car, m_car.catalogue());
        const auto after = verdictOf(copy, Of::Wires);
        const bool gone = std::none_of(cause.vanished.begin(), cause.vanished.end(),
                                       [&](const Finding &v) { return after.find(v) != nullptr; });
        return gone && !isWorse(m_before, after, f.severity, Revealed::Pins) &&
               isSafe(m_car, fix, copy);
    }

    const kit::Assembly &m_car;
    const Verdict &m_before;
    std::optional<Fix> m_all;
};

} // namespace

std::vector<Finding> wires(const kit::Assembly &car, const std::function<bool()> &stop)
{
    if (car->wires.empty() || car->parts.empty())
        return {};
    const nets::Nets nets(car);
    const auto judged = wiring::judged(nets);
    const auto whole = wiring::finished(car, judged.missing);
    const kit::Assembly finished(judged.missing.empty() ? car.car() : whole, car.catalogue());
    const auto found = causesOf(finished, car->wires, stop);
    std::vector<Finding> all;
    if (!judged.missing.empty())
        all.push_back(judged.complaints.front());
    const auto before = verdictOf(finished, Of::Wires);
    const Teller teller(finished);
    Mender mender(finished, before);
    // Where no wire is drawn yet nothing is wrong with one.
    const auto isDrawn = [&](const Finding &f) {
        return std::any_of(f.places.begin(), f.places.end(),
                           [&](const Spot &place) { return nets.wired(place.name); });
    };
    std::vector<const Cause *> told;
    for (const auto &cause : found.causes) {
        if (!judged.missing.empty() &&
            std::none_of(cause.vanished.begin(), cause.vanished.end(), isDrawn))
            continue;
        auto f = teller.tell(cause);
        mender.mend(f, cause);
        told.push_back(&cause);
        all.push_back(std::move(f));
    }
    for (size_t i = 0; i < told.size(); ++i)
        mender.mendWithAll(all[all.size() - told.size() + i], *told[i]);
    auto unexplained = found.unexplained;
    if (!judged.missing.empty())
        std::erase_if(unexplained, [&](const Finding &f) { return !isDrawn(f); });
    for (auto &f : wiring::grouped(std::move(unexplained), nets))
        all.push_back(std::move(f));
    return all;
}

} // namespace badger::diagnose
