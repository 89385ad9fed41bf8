// SPDX-License-Identifier: GPL-3.0-or-later
// What there is to do at the bench, in order, and how far it is.
#include "app/widgets/text.h"
#include "app/wire/bench_page.h"

namespace badger::app
{

using firstpower::Verdict;
using parts::Role;

namespace
{

QString cautionFor(const revisions::HandStep &step, const nets::Nets &nets)
{
    const auto *at = nets.member(step.at);
    const auto *stays = nets.member(step.stays);
    const auto either = [&](Role role) {
        return (at && at->terminal->role == role) || (stays && stays->terminal->role == role);
    };
    const int net = nets.of(step.at);
    if (either(Role::Minus))
        return QObject::tr("The last ground. Switch open, cells still out.");
    if (nets.isGround(net))
        return QObject::tr("Black to ground. Grounds are joined after all signals.");
    if (either(Role::Plus))
        return QObject::tr("Switch open, cells out. Red to plus: look at the print on both ends.");
    if (nets.isSupply(net))
        return QObject::tr("Polarity before the wire: plus to plus. A module the wrong way round "
                           "burns at once.");
    if (nets.has(net, Role::MotorOut))
        return QObject::tr("Screw it tight and pull on it: a loose motor lead sparks.");
    return QObject::tr("Power off and cells out while wires are moved.");
}

} // namespace

std::vector<BenchItem> benchItems(const kit::Assembly &car, const std::vector<Finding> &findings)
{
    std::vector<BenchItem> items;
    const nets::Nets nets(car);
    for (auto &step : revisions::handOrder(revisions::between({}, revisions::buildOf(car)), nets)) {
        BenchItem item;
        item.key = str(step.key());
        item.caution = cautionFor(step, nets);
        for (const auto &f : findings)
            if (f.severity != Severity::Advice &&
                (f.places.front() == at::terminal(step.wire.from) ||
                 f.places.front() == at::terminal(step.wire.to)))
                item.trouble = str(f.what + " " + f.mend);
        const auto ticked = std::find(car->ticks.begin(), car->ticks.end(), item.key.toStdString());
        item.state = ticked == car->ticks.end() ? Verdict::Open : Verdict::Right;
        item.hand = std::move(step);
        items.push_back(std::move(item));
    }
    for (auto &step : firstpower::walk(car)) {
        BenchItem item;
        item.key = str(step.key);
        item.caution = str(step.caution);
        item.state = firstpower::judge(step, firstpower::entryOf(car, step.key));
        item.step = std::move(step);
        items.push_back(std::move(item));
    }
    return items;
}

} // namespace badger::app
