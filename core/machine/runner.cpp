// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/machine/runner.h"

#include <algorithm>
#include <cassert>

namespace badger::machine
{

namespace
{

using rules::Source;

/// Even a program without pause and without ping takes its own arithmetic's time; without it a
/// pass would take none and a run would never end.
constexpr std::uint64_t leastPass_us = 20;

} // namespace

Runner::Runner(const Machine &machine, Board &board)
    : m_machine(machine), m_board(board), m_fresh(freshMind(machine)), m_mind(m_fresh)
{
    assert(!machine.modes.empty());
    int most = 0;
    for (const auto &s : machine.sensors)
        most = std::max(most, s.angles.count);
    m_looks.resize(static_cast<size_t>(most));
    m_scanned.assign(machine.sensors.size(), 0);
    m_scans.resize(machine.sensors.size());
    for (size_t i = 0; i < machine.sensors.size(); ++i)
        m_scans[i].resize(static_cast<size_t>(machine.sensors[i].angles.count));
    m_servoStands_us.assign(machine.servos.size(), 0);
}

bool Runner::waits() const
{
    return m_acting || m_machine.modes[static_cast<size_t>(m_mind.mode)].hold.is;
}

void Runner::sendServo(int servo, double angle_deg, std::uint64_t dwell_us)
{
    auto &at = m_mind.servos[static_cast<size_t>(servo)];
    if (at == angle_deg)
        return;
    at = angle_deg;
    m_board.servo(servo, angle_deg);
    m_board.wait_us(dwell_us);
}

/// Sends a servo and does not wait: has it stood long enough?
bool Runner::stands(int servo, double angle_deg, std::uint64_t dwell_us)
{
    auto &at = m_mind.servos[static_cast<size_t>(servo)];
    auto &since_us = m_servoStands_us[static_cast<size_t>(servo)];
    if (at != angle_deg) {
        at = angle_deg;
        m_board.servo(servo, angle_deg);
        since_us = m_board.now_us() + dwell_us;
    }
    return m_board.now_us() >= since_us;
}

std::optional<double> Runner::ping(int sensor, double angle_deg)
{
    const auto echo = m_board.ping(sensor, angle_deg);
    if (echo.number)
        return echo.number;
    return numberOf(m_machine, m_machine.sensors[static_cast<size_t>(sensor)], echo.time_us);
}

void Runner::scan(int sensor)
{
    const auto &s = m_machine.sensors[static_cast<size_t>(sensor)];
    for (int i = 0; i < s.angles.count; ++i) {
        const double angle_deg = m_machine.angles_deg[static_cast<size_t>(s.angles.first + i)];
        sendServo(s.servo, angle_deg, s.dwell_us);
        m_looks[static_cast<size_t>(i)] = {ping(sensor, angle_deg), angle_deg};
    }
    hearScan(m_machine, m_mind, sensor, m_looks.data(), s.angles.count);
}

void Runner::look(int sensor)
{
    const auto &s = m_machine.sensors[static_cast<size_t>(sensor)];
    auto &h = m_mind.held[static_cast<size_t>(sensor)];
    switch (s.source) {
    case Source::Scan:
        scan(sensor);
        break;
    case Source::Ranger: {
        double angle_deg = s.servo < 0 ? ahead_deg : m_mind.servos[static_cast<size_t>(s.servo)];
        if (s.servo >= 0 && s.angles.count > 0) {
            angle_deg = m_machine.angles_deg[static_cast<size_t>(s.angles.first + h.next)];
            h.next = (h.next + 1) % s.angles.count;
            sendServo(s.servo, angle_deg, s.dwell_us);
        }
        hear(m_machine, m_mind, sensor, ping(sensor, angle_deg));
        break;
    }
    case Source::Digital:
    case Source::Button:
        hear(m_machine, m_mind, sensor, m_board.level(sensor) == s.seenLevel ? 1.0 : 0.0);
        break;
    case Source::Analogue:
        hear(m_machine, m_mind, sensor, numberOfCount(m_machine, s, m_board.count(sensor)));
        break;
    case Source::Key:
        hear(m_machine, m_mind, sensor, static_cast<double>(m_board.key(sensor)));
        break;
    case Source::Pick:
    case Source::Difference:
        break;
    }
    derive(m_machine, m_mind);
}

/// One look that does not wait for its servo: was it taken?
bool Runner::lookStep(int sensor)
{
    const auto &s = m_machine.sensors[static_cast<size_t>(sensor)];
    if (s.source == Source::Scan)
        return scanStep(sensor);
    if (s.source == Source::Ranger && s.servo >= 0 && s.angles.count > 0) {
        const auto &h = m_mind.held[static_cast<size_t>(sensor)];
        const double angle_deg = m_machine.angles_deg[static_cast<size_t>(s.angles.first + h.next)];
        if (!stands(s.servo, angle_deg, s.dwell_us))
            return false;
    }
    look(sensor);
    return true;
}

bool Runner::scanStep(int sensor)
{
    const auto &s = m_machine.sensors[static_cast<size_t>(sensor)];
    auto &scan = m_scans[static_cast<size_t>(sensor)];
    for (auto &next = m_scanned[static_cast<size_t>(sensor)]; next < s.angles.count; ++next) {
        const double angle_deg = m_machine.angles_deg[static_cast<size_t>(s.angles.first + next)];
        if (!stands(s.servo, angle_deg, s.dwell_us))
            return false;
        scan[static_cast<size_t>(next)] = {ping(sensor, angle_deg), angle_deg};
    }
    m_scanned[static_cast<size_t>(sensor)] = 0;
    hearScan(m_machine, m_mind, sensor, scan.data(), s.angles.count);
    derive(m_machine, m_mind);
    return true;
}

void Runner::noteStop(int sensor)
{
    const auto &h = m_mind.held[static_cast<size_t>(sensor)];
    m_stopAsked |= !h.has && h.policy == rules::NoEcho::Stop;
}

/// Is a doing done, as far as the time allows?
bool Runner::doStep(const Doing &doing)
{
    switch (doing.does) {
    case rules::Does::Look:
        if (!lookStep(doing.what))
            return false;
        noteStop(doing.what);
        return true;
    case rules::Does::Beep:
    case rules::Does::Pause: {
        const bool beeps = doing.does == rules::Does::Beep;
        if (!m_begun) {
            if (beeps)
                m_board.buzz(true);
            m_doingEnd_us = m_board.now_us() + doing.time_us;
            m_begun = true;
        }
        if (m_board.now_us() < m_doingEnd_us)
            return false;
        m_begun = false;
        if (beeps)
            m_board.buzz(false);
        return true;
    }
    case rules::Does::Servo: {
        const auto *from = doing.from < 0 ? nullptr : &m_mind.held[static_cast<size_t>(doing.from)];
        stands(doing.what, from && from->has ? from->angle_deg : doing.angle_deg, 0);
        return true;
    }
    case rules::Does::Print:
    case rules::Does::Remember:
    case rules::Does::Await:
        carryOut({static_cast<int>(&doing - m_machine.doings.data()), 1});
        return true;
    }
    return true;
}

/// Goes on with what the mode does on the way in, one thing after another.
void Runner::act()
{
    for (; m_doing < m_doings.end(); ++m_doing)
        if (!doStep(m_machine.doings[static_cast<size_t>(m_doing)]))
            return;
    m_acting = false;
    beginHold();
}

void Runner::beginHold()
{
    const auto &m = m_machine.modes[static_cast<size_t>(m_mind.mode)];
    if (!m.hold.is)
        return;
    const auto length = length_us(m_machine, m_mind, m.hold);
    m_waitEnd_us = m_board.now_us() + length;
    if (m.hold.kind == rules::WaitKind::Blocking)
        m_board.wait_us(length);
}

void Runner::carryOut(const Range &doings)
{
    for (int i = doings.first; i < doings.end(); ++i) {
        const auto &d = m_machine.doings[static_cast<size_t>(i)];
        switch (d.does) {
        case rules::Does::Look: {
            look(d.what);
            noteStop(d.what);
            break;
        }
        case rules::Does::Servo: {
            const auto *from = d.from < 0 ? nullptr : &m_mind.held[static_cast<size_t>(d.from)];
            sendServo(d.what, from && from->has ? from->angle_deg : d.angle_deg, 0);
            break;
        }
        case rules::Does::Beep:
            m_board.beep(d.time_us);
            break;
        case rules::Does::Print:
            m_board.print(m_machine.words[static_cast<size_t>(d.word)], m_machine.baud);
            break;
        case rules::Does::Pause:
            m_board.wait_us(d.time_us);
            break;
        case rules::Does::Remember:
            m_mind.memos[static_cast<size_t>(d.what)] = d.word;
            break;
        case rules::Does::Await:
            if (!m_board.await(d.what)) {
                m_waitsForEver = true;
                return;
            }
            break;
        }
    }
}

void Runner::enter(int mode, const Cause &cause)
{
    m_mind.mode = mode;
    m_mind.entered_us = m_board.now_us();
    const auto &m = m_machine.modes[static_cast<size_t>(mode)];
    m_driven = orders(m_machine, m_mind, m);
    m_board.entered(m_mind, cause);
    m_board.drive(m_driven);
    if (m_machine.timedDoings) {
        m_doings = m.doings;
        m_doing = m.doings.first;
        m_begun = false;
        // A scan of the way in begins anew; one of every pass goes on where it was.
        for (size_t i = 0; i < m_scanned.size(); ++i)
            if (!m_machine.sensors[i].everyPass)
                m_scanned[i] = 0;
        m_acting = true;
        act();
        return;
    }
    carryOut(m.doings);
    beginHold();
}

void Runner::endWait()
{
    // A ring of blocking waits goes round once a pass at most.
    for (size_t i = 0; i <= m_machine.modes.size(); ++i) {
        const auto &m = m_machine.modes[static_cast<size_t>(m_mind.mode)];
        if (m_acting || !m.hold.is || m_board.now_us() < m_waitEnd_us)
            return;
        enter(m.hold.then, {Cause::Kind::WaitOver, -1, -1});
    }
}

void Runner::start()
{
    m_mind = m_fresh;
    m_driven = {};
    m_waitEnd_us = m_nextPass_us = m_doingEnd_us = 0;
    m_doing = 0;
    m_acting = m_begun = m_waitsForEver = m_stopAsked = false;
    std::fill(m_servoStands_us.begin(), m_servoStands_us.end(), 0);
    std::fill(m_scanned.begin(), m_scanned.end(), 0);
    m_board.drive({{WheelOrder::Kind::Brake, 0}, {WheelOrder::Kind::Brake, 0}, false});
    carryOut(m_machine.start);
    if (m_waitsForEver)
        return;
    enter(0, {});
    endWait();
    m_nextPass_us = m_board.now_us();
}

void Runner::walk()
{
    Walk walk{m_mind.mode, 0, m_board.now_us()};
    count(m_machine, m_mind, walk);
    for (int b = next(m_machine, m_mind, walk); b >= 0; b = next(m_machine, m_mind, walk)) {
        const auto &branch = m_machine.branches[static_cast<size_t>(b)];
        if (branch.go != m_mind.mode || branch.again)
            enter(branch.go, {Cause::Kind::Branch, b, -1});
        if (branch.endsPass)
            return;
        walk.now_us = m_board.now_us(); // its actions may have taken time
    }
}

/// A mode that follows a reading is told its wheels anew in every pass.
void Runner::steer()
{
    const auto &m = m_machine.modes[static_cast<size_t>(m_mind.mode)];
    if (m.follows != rules::Follows::Steer && m.follows != rules::Follows::Slow)
        return;
    const auto now = orders(m_machine, m_mind, m);
    if (now == m_driven)
        return;
    m_driven = now;
    m_board.drive(now);
}

void Runner::pause()
{
    if (m_machine.pauseKind == rules::WaitKind::Blocking) {
        m_board.wait_us(m_machine.pause_us);
        return;
    }
    m_nextPass_us += m_machine.pause_us;
    if (m_nextPass_us > m_board.now_us())
        m_board.wait_us(m_nextPass_us - m_board.now_us());
    else
        m_nextPass_us = m_board.now_us();
}

/// The looks of every pass. False: one of them waits for its servo, and the rules wait for it. A
/// mode that is at its doings has the servos to itself.
bool Runner::lookAll()
{
    bool fresh = true;
    for (size_t i = 0; i < m_machine.sensors.size(); ++i) {
        const auto &s = m_machine.sensors[i];
        if (!s.everyPass)
            continue;
        if (m_machine.timedDoings && s.servo >= 0)
            fresh = !m_acting && lookStep(static_cast<int>(i)) && fresh;
        else
            look(static_cast<int>(i));
    }
    return fresh;
}

void Runner::pass()
{
    const auto begin_us = m_board.now_us();
    if (m_waitsForEver) {
        m_board.wait_us(std::max(leastPass_us, m_machine.pause_us));
        return;
    }
    const bool fresh = lookAll();
    if (m_acting)
        act();
    if (fresh && !waits()) {
        const auto settled = settle(m_machine, m_mind);
        if (settled == Settled::Stop && m_machine.stopMode >= 0) {
            int sensor = 0;
            for (size_t i = 0; i < m_machine.sensors.size(); ++i)
                if (m_machine.sensors[i].everyPass && !m_mind.held[i].has)
                    sensor = static_cast<int>(i);
            if (m_mind.mode != m_machine.stopMode)
                enter(m_machine.stopMode, {Cause::Kind::Stopped, -1, sensor});
        } else if (settled == Settled::Rules) {
            walk();
        }
    }
    if (m_stopAsked && m_machine.stopMode >= 0) {
        m_stopAsked = false;
        enter(m_machine.stopMode, {Cause::Kind::Stopped, -1, -1});
    }
    steer();
    endWait();
    if (m_machine.prints)
        m_board.print("", m_machine.baud);
    pause();
    if (m_board.now_us() == begin_us)
        m_board.wait_us(leastPass_us);
}

} // namespace badger::machine
