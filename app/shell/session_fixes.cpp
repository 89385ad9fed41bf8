// SPDX-License-Identifier: GPL-3.0-or-later
// What mends the wires: looked for by a worker, seen before it is taken.
#include "app/shell/session.h"
#include "core/edit/fixed_car.h"
#include "core/edit/ways_out.h"
#include "core/repair/repair.h"

namespace badger::app
{

void Session::wantFixes()
{
    const auto *j = current(); // brings the entry up to date
    if (j == nullptr)
        return;
    auto &entry = m_judged[m_car];
    auto findings = j->wire.findings;
    std::vector<Finding> advice;
    for (const auto &f : j->kit.findings.findings)
        (f.severity == Severity::Advice ? advice : findings).push_back(f);
    if (entry.fixesWanted || (findings.empty() && advice.empty()))
        return;
    entry.fixesWanted = true;
    const auto stop = std::make_shared<std::atomic<bool>>(false);
    entry.fixing = stop;
    m_worker.start([this, id = m_car, stop, on = *entry.on, findings = std::move(findings),
                    advice = std::move(advice), catalogue = m_document.catalogue()] {
        if (*stop)
            return;
        auto mended =
            repair::withFixes({*on.car, catalogue}, findings, [stop] { return bool(*stop); });
        mended.insert(mended.end(), advice.begin(), advice.end());
        mended = edit::withWaysOut({*on.car, catalogue}, std::move(mended),
                                   [stop] { return bool(*stop); });
        QMetaObject::invokeMethod(
            this,
            [this, id, stop, mended = std::move(mended)]() mutable {
                if (*stop)
                    return;
                m_judged[id].mended = std::move(mended);
                emit fixesFound();
            },
            Qt::QueuedConnection);
    });
}

bool Session::isWantingFixes() const
{
    const auto it = m_judged.find(m_car);
    return it != m_judged.end() && it->second.fixesWanted && it->second.mended.empty();
}

const Finding *Session::withFix(const Finding &finding) const
{
    const auto it = m_judged.find(m_car);
    if (it == m_judged.end())
        return nullptr;
    for (const auto &f : it->second.mended)
        if ((f.fix || f.mend != finding.mend) && f.code == finding.code && f.where == finding.where)
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
