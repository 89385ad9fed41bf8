// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/oncar/make_wheels.h"

#include "core/drive/speed.h"
#include "core/nets/drive_map.h"

#include <algorithm>

namespace badger::oncar
{

using parts::Kind;
using parts::Role;

namespace
{

/// A car without a third support stands on four wheels, which scrub sideways in a turn: it turns as
/// if its track were so much wider. A choice of ours for hard floors; a turn that was measured
/// replaces it.
constexpr double scrubs = 1.5;
/// A servo that nobody measured stands at some pulse about its maker's: deviation. A choice of
/// ours.
constexpr double neutralSpread_us = 8.0;

size_t sideOf(const kit::Instance &fitted)
{
    return fitted.side == kit::Side::Left ? 0 : 1;
}

/// A port is driven by way of its first end.
int portPin(const kit::Assembly &car, const motion::MotionInput &in, const kit::TerminalName &t,
            const CarModel &known)
{
    if (!in.port)
        return known.pin(t.terminal);
    const auto *board = car.find(t.instance);
    for (const auto &terminal : board->part->terminals)
        if (terminal.role == Role::MotorOut && terminal.channel == t.terminal)
            return known.pin(terminal.name);
    return none;
}

/// Which wheels' turn an input changes in any row.
void findMoves(Wheels &w)
{
    std::vector<size_t> each(w.inputs.size());
    size_t step = 1;
    for (size_t k = w.inputs.size(); k-- > 0; step *= w.inputs[k].threeWay ? 3 : 2)
        each[k] = step;
    for (size_t k = 0; k < w.inputs.size(); ++k)
        for (size_t row = 0; row + each[k] < w.rows.size(); ++row)
            if (const size_t base = w.inputs[k].threeWay ? 3 : 2; row / each[k] % base + 1 < base)
                for (const size_t side : {size_t(0), size_t(1)})
                    if (w.rows[row].turn[side] != w.rows[row + each[k]].turn[side])
                        w.inputs[k].moves[side] = true;
}

void takeInputs(const kit::Assembly &car, const motion::MotionTable &motion, const CarModel &known,
                Wheels &w)
{
    for (const auto &row : motion.rows)
        w.rows.push_back({{row.left, row.right}});
    for (const auto &in : motion.inputs) {
        Input i;
        i.threeWay = in.threeWay();
        i.port = in.port;
        const auto t = kit::splitTerminal(in.terminal);
        for (size_t e = 0; e < known.eyes.size(); ++e)
            if (known.eyes[e].instance == t.instance && known.eyes[e].terminal == t.terminal) {
                i.by = Input::By::Eye;
                i.of = static_cast<int>(e);
            }
        if (i.by == Input::By::Floating && !in.floating)
            if (const int p = portPin(car, in, t, known); p != none) {
                i.by = Input::By::Pin;
                i.of = p;
            }
        w.inputs.push_back(i);
    }
    findMoves(w);
}

void takeServos(const kit::Assembly &car, const machine::CarFacts &facts, Wheels &w)
{
    w.servos = car.first(Kind::Motor) == nullptr && car.first(Kind::DriveServo) != nullptr;
    for (const auto &f : car.fitted()) {
        if (f.part->kind != Kind::DriveServo || f.instance->side == kit::Side::None)
            continue;
        const size_t n = sideOf(*f.instance);
        const auto measured = facts.neutral_us.find(f.instance->id);
        const bool known = measured != facts.neutral_us.end();
        w.neutral_us[n] = known ? measured->second : typical(*f.part, "neutral_s", 0.0015) * 1e6;
        w.neutralSpread_us[n] = known ? 0.0 : neutralSpread_us;
    }
}

} // namespace

Result<Wheels> wheelsOf(const nets::Nets &nets, const motion::MotionTable &motion,
                        const machine::CarFacts &facts, const CarModel &known)
{
    const auto &car = nets.car();
    Wheels w;
    takeInputs(car, motion, known, w);
    const auto speeds = drive::speedTable_mps(car);
    const auto brake = drive::rollOutOf(car, true);
    const auto coast = drive::rollOutOf(car, false);
    if (!speeds || !brake || !coast)
        return tl::unexpected(!speeds ? speeds.error() : brake ? coast.error() : brake.error());
    w.speed_mps = {*speeds, *speeds};
    w.brakeRoll = brake->curve;
    w.coastRoll = coast->curve;
    if (const auto *motor = car.first(Kind::Motor))
        w.rise_s = typical(*car.part(*motor), "rise_s", 0.15);
    w.track_m = car->geometry.track_m;
    const auto motors =
        std::count_if(car.fitted().begin(), car.fitted().end(),
                      [](const kit::Fitted &f) { return f.part->kind == Kind::Motor; });
    if (motors > 2 && car.first(Kind::Support) == nullptr)
        w.track_m *= scrubs;
    for (const auto side : {kit::Side::Left, kit::Side::Right})
        if (const auto drive = nets::wheelDrive(nets, side);
            drive && !drive->enable.empty() && !drive->held)
            w.enable[side == kit::Side::Left ? 0 : 1] =
                known.pin(nets::wiredPin(nets, drive->enable));
    takeServos(car, facts, w);
    return w;
}

Charge chargeOf(const kit::Assembly &car, const circuit::CarNetwork &network,
                const circuit::Answer &rest)
{
    Charge c;
    const auto *cells = car.first(Kind::Cell);
    const auto *part = cells ? car.part(*cells) : nullptr;
    const auto *capacity = part ? part->figure("capacity_Ah") : nullptr;
    if (!capacity)
        return c;
    const int parallel = std::max(1, cells->cellsInParallel);
    c.usable_C = 3600.0 * capacity->typical * parallel * typical(*part, "usable_share", 1.0);
    c.emptyShare = drive::emptyShare(car);
    const auto &elements = network.elements();
    for (size_t i = 0; rest.solved && i < elements.size(); ++i)
        if (elements[i].what == circuit::What::Source)
            c.rest_A = std::max(c.rest_A, std::abs(rest.solution.amps_A[i]));
    for (const auto &f : car.fitted())
        if (f.instance->side != kit::Side::None &&
            (f.part->kind == Kind::Motor || f.part->kind == Kind::DriveServo))
            c.motors_A[sideOf(*f.instance)] += typical(*f.part, "running_A", 0.0);
    return c;
}

} // namespace badger::oncar
