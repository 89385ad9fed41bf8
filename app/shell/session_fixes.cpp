// SPDX-License-Identifier: GPL-3.0-or-later
// What is wrong by its causes, and what mends it: looked for by a worker, seen before it is taken.
#include "app/shell/session.h"
#include "core/diagnose/diagnose.h"
#include "core/edit/fixed_car.h"

namespace badger::app
{

void Session::wantFixes()
{
    const auto *j = current(); // brings the entry up to date
    if (j == nullptr)
        return;
    auto &entry = m_judged[m_car];
    if (entry.fixesWanted || (j->wire.findings.empty() && j->kit.findings.findings.empty()))
        return;
    entry.fixesWanted = true;
    const auto stop = std::make_shared<std::atomic<bool>>(false);
    entry.fixing = stop;
    m_worker.start([this, id = m_car, stop, on = *entry.on, kit = j->kit.findings.findings,
                    catalogue = m_document.catalogue()] {
        if (*stop)
            return;
        const kit::Assembly car(*on.car, catalogue);
        const auto isOver = [stop] { return bool(*stop); };
        auto wires = diagnose::withWaysOut(car, diagnose::wires(car, isOver), isOver);
        auto mended = diagnose::withWaysOut(car, kit, isOver);
        QMetaObject::invokeMethod(
            this,
            [this, id, stop, wires = std::move(wires), mended = std::move(mended)]() mutable {
                const auto at = m_judged.find(id);
                if (*stop || at == m_judged.end() || !at->second.on)
                    return;
                auto &of = at->second;
                of.mended = std::move(mended);
                of.diagnosed = true;
                judge::takeWires(of.judgement, std::move(wires),
                                 {*of.on->car, m_document.catalogue()});
                emit fixesFound();
                emit refreshed();
            },
            Qt::QueuedConnection);
    });
}

bool Session::isWantingFixes() const
{
    const auto it = m_judged.find(m_car);
    return it != m_judged.end() && it->second.fixesWanted && !it->second.diagnosed;
}

const Finding *Session::withFix(const Finding &finding) const
{
    const auto it = m_judged.find(m_car);
    if (it == m_judged.end())
        return nullptr;
    for (const auto &f : it->second.mended)
        if ((f.fix || f.mend != finding.mend) && f.code == finding.code &&
            f.places == finding.places && f.what == finding.what)
            return &f;
    return nullptr;
}

void Session::tryFix(const std::optional<Fix> &fix)
{
    if (m_tried == fix)
        return;
    m_tried = fix;
    if (fix)
        selectStation(shownAt(*fix));
    emit fixTried();
}

/// Where it can be seen what a fix changes.
judge::Station Session::shownAt(const Fix &fix) const
{
    const auto hasWires = [&](const Fix::Part &p) {
        return !p.instance.empty() &&
               std::any_of(car()->wires.begin(), car()->wires.end(), [&](const kit::Wire &w) {
                   return w.from.starts_with(p.instance + ".") ||
                          w.to.starts_with(p.instance + ".");
               });
    };
    const bool notes = !fix.resistors.empty() || (!fix.feeds.empty() && fix.in.empty()) ||
                       std::any_of(fix.cells.begin(), fix.cells.end(),
                                   [](const Fix::Cells &c) { return !c.kind.empty(); });
    const bool wires = !notes && ((fix.parts.empty() && fix.moves.empty()) || !fix.in.empty());
    return car() && (wires || std::any_of(fix.parts.begin(), fix.parts.end(), hasWires))
               ? judge::Station::Wire
               : judge::Station::Kit;
}

bool Session::takeFix()
{
    if (!m_tried)
        return false;
    const auto fix = *m_tried;
    return editCar(tr("Mend the car"), [&](kit::Car &car) {
        car = edit::applied({car, catalogue()}, fix);
    });
}

} // namespace badger::app
